//! Decisions and their traces.

use crow_fly_core::locale_set::LocaleSet;
use crow_fly_core::policy::{Facts, FormatsRule, LocaleSource, Outcome, Policy, RedirectRule, SessionValue};
use crow_fly_core::route::Routes;

use crate::tag;

fn policy() -> Policy {
    Policy::new(LocaleSet::parse(["en", "en-GB", "cy", "pl", "ar"]).unwrap())
}

/// `cy by cookie: serve /x; vary Cookie`, as the explanation has it.
fn decided(policy: &Policy, facts: &Facts<'_>) -> String {
    let decision = policy.decide(facts);
    let explanation = policy.explain(facts, &decision);
    let outcome = match &decision.outcome {
        Outcome::Serve(path) => format!("serve {path}"),
        Outcome::Redirect { status, location } => format!("{status} {location}"),
        other => format!("{other:?}").to_lowercase(),
    };
    let vary = explanation.vary.join(" ");
    format!("{} by {}: {outcome}; vary {vary}", explanation.locale, explanation.source).trim_end().to_owned()
}

const GET: Facts<'_> = Facts::at("/");

#[test]
fn with_prefixes_the_address_decides_and_preferences_only_redirect() {
    let policy = policy();
    let polish: &[&[u8]] = &[b"pl, en;q=0.5"];
    for (facts, expected) in [
        (
            Facts { path: "/cy/x", accept_lines: polish, cookie: Some("ar"), ..GET },
            "cy by path: serve /x; vary",
        ),
        (Facts { path: "/x", accept_lines: polish, cookie: Some("ar"), ..GET }, "en by path: serve /x; vary"),
        (
            Facts { accept_lines: polish, ..GET },
            "pl by accept-language: 302 /pl; vary Cookie Accept-Language",
        ),
        (
            Facts { accept_lines: polish, query: Some("a=1&b"), ..GET },
            "pl by accept-language: 302 /pl?a=1&b; vary Cookie Accept-Language",
        ),
        // Who chose the default stays at the root.
        (Facts { accept_lines: polish, cookie: Some("en"), ..GET }, "en by cookie: serve /; vary Cookie"),
        (
            Facts { accept_lines: polish, session: SessionValue::Text("en"), ..GET },
            "en by session: serve /; vary Cookie",
        ),
        // Who prefers nothing stays, too.
        (GET, "en by default: serve /; vary Cookie Accept-Language"),
        (Facts { accept_lines: &[b"ja"], ..GET }, "en by default: serve /; vary Cookie Accept-Language"),
        // Only pages are redirected.
        (Facts { accept_lines: polish, is_page: false, ..GET }, "en by path: serve /; vary"),
        (Facts { path: "/de/x", ..GET }, "en by default: notfound; vary Cookie Accept-Language"),
        (Facts { path: "/CY/x", query: Some("q"), ..GET }, "cy by path: 308 /cy/x?q; vary"),
    ] {
        assert_eq!(decided(&policy, &facts), expected, "{facts:?}");
    }
}

#[test]
fn redirects_follow_their_rule_and_never_lead_in_a_circle() {
    let welsh: &[&[u8]] = &[b"cy"];
    let target = |rule, path| match policy()
        .with_redirect(rule)
        .decide(&Facts { path, accept_lines: welsh, ..GET })
        .outcome
    {
        Outcome::Redirect { location, .. } => location,
        other => format!("{other:?}"),
    };
    assert_eq!(target(RedirectRule::Never, "/"), "Serve(\"/\")");
    assert_eq!(target(RedirectRule::Root, "/x"), "Serve(\"/x\")");
    assert_eq!(target(RedirectRule::Everywhere, "/x"), "/cy/x");
    assert_eq!(target(RedirectRule::Everywhere, "/cy/x"), "Serve(\"/x\")");

    let prefixed = policy().with_routes(Routes::new().with_prefixed_default(true));
    assert_eq!(decided(&prefixed, &GET), "en by default: 302 /en; vary Cookie Accept-Language");
    assert_eq!(decided(&prefixed, &Facts { path: "/en/x", ..GET }), "en by path: serve /x; vary");
    assert!(decided(&prefixed, &Facts { path: "/x", ..GET }).contains("notfound"));
}

#[test]
fn without_prefixes_the_answer_is_negotiated() {
    let policy = policy().with_sources([
        LocaleSource::Query,
        LocaleSource::Header,
        LocaleSource::Visitor,
        LocaleSource::Session,
        LocaleSource::Cookie,
        LocaleSource::AcceptLanguage,
    ]);
    for (facts, expected) in [
        (Facts { path: "/cy/x", ..GET }, "en by default: serve /cy/x; vary header Cookie Accept-Language"),
        (Facts { query_value: Some("pl"), cookie: Some("cy"), ..GET }, "pl by query: serve /; vary"),
        (Facts { header_value: Some("ar"), cookie: Some("cy"), ..GET }, "ar by header: serve /; vary header"),
        (
            Facts { visitor: Some("en-AU"), cookie: Some("cy"), ..GET },
            "en-GB by visitor: serve /; vary header Cookie",
        ),
        (Facts { cookie: Some("cy"), ..GET }, "cy by cookie: serve /; vary header Cookie"),
    ] {
        assert_eq!(decided(&policy, &facts), expected, "{facts:?}");
    }
}

#[test]
fn an_address_has_one_language_wherever_the_path_is_named() {
    let policy = policy().with_sources([
        LocaleSource::Cookie,
        LocaleSource::Path,
        LocaleSource::AcceptLanguage,
        LocaleSource::Cookie,
    ]);
    assert_eq!(
        policy.sources(),
        [LocaleSource::Path, LocaleSource::Cookie, LocaleSource::AcceptLanguage, LocaleSource::Default]
    );
    let facts = Facts { path: "/cy/x", cookie: Some("pl"), ..GET };
    assert_eq!(decided(&policy, &facts), "cy by path: serve /x; vary");
}

#[test]
fn hosts_name_locales() {
    let labels = policy().with_sources([LocaleSource::Host, LocaleSource::Cookie]);
    let at = |policy: &Policy, host| decided(policy, &Facts { host: Some(host), ..GET });
    assert_eq!(at(&labels, "cy.ferries.example"), "cy by host: serve /; vary");
    assert_eq!(at(&labels, "www.ferries.example"), "en by default: serve /; vary Cookie");
    let polish = labels.set().exact(&tag("pl")).unwrap();
    let table = labels.with_host("Promy.example", polish);
    assert_eq!(at(&table, "promy.EXAMPLE"), "pl by host: serve /; vary");
    assert_eq!(at(&table, "cy.ferries.example"), "en by default: serve /; vary Cookie");
}

#[test]
fn values_that_cannot_be_used_go_to_the_next_source_and_the_trace_says_why() {
    let policy =
        policy().with_sources([LocaleSource::Session, LocaleSource::Cookie, LocaleSource::AcceptLanguage]);
    let explained = |facts: Facts<'_>| {
        let decision = policy.decide(&facts);
        let explanation = policy.explain(&facts, &decision);
        let steps = explanation.trace.iter().map(|step| {
            format!(
                "{}: {} {} ({})",
                step.source,
                step.verdict,
                step.value.as_deref().unwrap_or("-"),
                step.why
            )
        });
        steps.collect::<Vec<_>>().join("\n")
    };
    insta::assert_snapshot!(
        explained(Facts { session: SessionValue::OtherShape, cookie: Some("../../etc/passwd"), accept_lines: &[b"\xff\xfe,, en-AU;q=0.9, x;q=2"], ..GET }),
        @r"
    session: unusable - (not of the shape a session value has)
    cookie: unusable ../../etc/passwd (no language tag)
    accept-language: chosen ��,, en-AU;q=0.9, x;q=2 (the range `en-AU` is nearest to `en-GB`, at distance 3)
    default: not-reached en (not asked)
    "
    );
    insta::assert_snapshot!(
        explained(Facts { session: SessionValue::Text("de"), cookie: Some(""), accept_lines: &[b";;;"], ..GET }),
        @r"
    session: unusable de (not one of the application's locales)
    cookie: absent  (nothing was sent)
    accept-language: unusable ;;; (nothing in it is well-formed)
    default: chosen en (no other source decided)
    "
    );
    insta::assert_snapshot!(
        explained(Facts { session: SessionValue::Empty, cookie: Some("EN_gb"), ..GET }),
        @r"
    session: absent - (the session remembers nothing)
    cookie: chosen EN_gb (it stands for `en-GB`)
    accept-language: not-reached - (not asked)
    default: not-reached en (not asked)
    "
    );
}

#[test]
fn a_header_that_is_longer_than_is_read_says_so() {
    let policy = policy();
    let why = |header: &str| {
        let facts = Facts { accept_lines: &[header.as_bytes()], ..GET };
        let decision = policy.decide(&facts);
        let step = policy
            .explain(&facts, &decision)
            .trace
            .into_iter()
            .find(|step| step.source == LocaleSource::AcceptLanguage);
        step.map(|step| (step.verdict, step.why, step.value.map_or(0, |value| value.chars().count())))
            .unwrap()
    };
    let thousand = vec!["ja"; 1000].join(",");
    let (verdict, reason, shown) = why(&thousand);
    assert_eq!(
        (verdict, reason.as_str()),
        ("unusable", "longer than is read, and nothing near in what was read")
    );
    assert!(shown <= 120, "only the beginning of a hostile value is kept");
    assert_eq!(why(&format!("cy,{thousand}")).0, "chosen");
    assert_eq!(why(&"a".repeat(100_000)).0, "unusable");
}

#[test]
fn a_new_session_learns_what_the_cookie_knows() {
    let policy = policy();
    let remembered = |session, cookie| {
        let decision = policy.decide(&Facts { session, cookie, ..GET });
        decision.remember.session.map(|locale| policy.set().text(locale).to_owned())
    };
    assert_eq!(remembered(SessionValue::Empty, Some("cy")).as_deref(), Some("cy"));
    assert_eq!(remembered(SessionValue::Empty, Some("de")), None);
    assert_eq!(remembered(SessionValue::Text("pl"), Some("cy")), None);
    assert_eq!(remembered(SessionValue::None, Some("cy")), None);
}

#[test]
fn formats_may_follow_the_visitor() {
    let policy = policy().with_formats(FormatsRule::Visitor);
    let formats = |path, header: &[u8]| {
        let facts = Facts { path, accept_lines: &[header], ..GET };
        let decision = policy.decide(&facts);
        (decision.formats(&policy).to_string(), decision.vary().any(|name| name == "Accept-Language"))
    };
    assert_eq!(formats("/x", b"pl, en-GB-u-hc-h23;q=0.5"), ("en-GB-u-hc-h23".to_owned(), true));
    assert_eq!(formats("/cy/x", b"pl, en-GB;q=0.5"), ("cy".to_owned(), true));
    assert_eq!(formats("/en-GB/x", b"en-AU"), ("en-AU".to_owned(), true));
    assert_eq!(formats("/ar/x", b"ar-EG"), ("ar-EG".to_owned(), true));
    let words = self::policy();
    let facts = Facts { path: "/x", accept_lines: &[b"en-GB"], ..GET };
    assert_eq!(words.decide(&facts).formats(&words).to_string(), "en");
}
