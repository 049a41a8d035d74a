//! Decisions and their traces.

use crow_fly_core::locale_set::LocaleSet;
use crow_fly_core::policy::{
    Asked, Decision, ExplainedStep, Facts, FormatsRule, LocaleSource, Matching, Outcome, Policy,
    RedirectRule, SessionValue, TimeZoneFacts, TimeZoneRule, ToAsk, Verdict,
};
use crow_fly_core::route::Routes;
use crow_fly_core::time_zone::TimeZoneName;
use proptest::prelude::*;

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
    // As the web half names them.
    let header = |source: &LocaleSource| match source {
        LocaleSource::Visitor | LocaleSource::Session | LocaleSource::Cookie => "Cookie",
        LocaleSource::AcceptLanguage => "Accept-Language",
        source => source.as_str(),
    };
    let mut headers: Vec<&str> = explanation.depends_on.iter().map(header).collect();
    headers.dedup();
    let vary = headers.join(" ");
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
        (
            Facts { accept_lines: polish, cookie: Some("en"), ..GET },
            "en by cookie: serve /; vary Cookie Accept-Language",
        ),
        (
            Facts { accept_lines: polish, session: SessionValue::Text("en"), ..GET },
            "en by session: serve /; vary Cookie Accept-Language",
        ),
        // Who prefers nothing stays, too.
        (GET, "en by default: serve /; vary Cookie Accept-Language"),
        (Facts { accept_lines: &[b"ja"], ..GET }, "en by default: serve /; vary Cookie Accept-Language"),
        // Only pages are redirected.
        (
            Facts { accept_lines: polish, is_page: false, ..GET },
            "en by path: serve /; vary Cookie Accept-Language",
        ),
        (Facts { path: "/de/x", accept_lines: polish, ..GET }, "en by path: serve /de/x; vary"),
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

    let prefixed =
        policy().with_routes(Routes::builder(policy().set()).with_prefixed_default(true).build().unwrap());
    assert_eq!(decided(&prefixed, &GET), "en by default: 302 /en; vary Cookie Accept-Language");
    assert_eq!(decided(&prefixed, &Facts { path: "/en/x", ..GET }), "en by path: serve /x; vary");
    assert_eq!(
        decided(&prefixed, &Facts { path: "/x", accept_lines: welsh, ..GET }),
        "en by path: serve /x; vary"
    );
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
        (
            Facts { header_value: Some("ar"), cookie: Some("cy"), ..GET },
            "ar by header: serve /; vary header Cookie Accept-Language",
        ),
        (
            Facts { visitor: Some("en-AU"), cookie: Some("cy"), ..GET },
            "en-GB by visitor: serve /; vary header Cookie Accept-Language",
        ),
        (Facts { cookie: Some("cy"), ..GET }, "cy by cookie: serve /; vary header Cookie Accept-Language"),
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
fn formats_may_follow_the_visitor() {
    let policy = policy().with_formats(FormatsRule::Visitor);
    let formats = |path, header: &[u8]| {
        let facts = Facts { path, accept_lines: &[header], ..GET };
        let decision = policy.decide(&facts);
        (decision.formats(&policy).to_string(), decision.depends_on().contains(LocaleSource::AcceptLanguage))
    };
    assert_eq!(formats("/x", b"pl, en-GB-u-hc-h23;q=0.5"), ("en-GB-u-hc-h23".to_owned(), true));
    assert_eq!(formats("/cy/x", b"pl, en-GB;q=0.5"), ("cy".to_owned(), true));
    assert_eq!(formats("/en-GB/x", b"en-AU"), ("en-AU".to_owned(), true));
    assert_eq!(formats("/ar/x", b"ar-EG"), ("ar-EG".to_owned(), true));
    assert_eq!(formats("/x", b"en-TH-u-ca-persian"), ("en-TH-u-ca-persian".to_owned(), true));
    assert_eq!(formats("/x", b"en-TH-u-ca-chinese"), ("en-TH-u-ca-buddhist".to_owned(), true));
    let words = self::policy();
    let facts = Facts { path: "/x", accept_lines: &[b"en-GB"], ..GET };
    assert_eq!(words.decide(&facts).formats(&words).to_string(), "en");
    assert_eq!(words.decide(&facts).visitor_formats(), None);
    let visitor = policy.decide(&Facts { path: "/x", accept_lines: &[b"en-GB-u-hc-h23"], ..GET });
    assert_eq!(visitor.visitor_formats(), Some(&tag("en-GB-u-hc-h23")));
}

/// The policy of a case of the laws: sources in some order, prefixes or none, rules on or off.
fn any_policy() -> impl Strategy<Value = Policy> {
    let sources = Just(LocaleSource::ALL.to_vec()).prop_shuffle().prop_flat_map(|all| {
        let length = all.len();
        prop::sample::subsequence(all, 0..=length)
    });
    let rule = prop::sample::select(vec![RedirectRule::Never, RedirectRule::Root, RedirectRule::Everywhere]);
    (sources, rule, any::<bool>(), any::<bool>(), any::<bool>()).prop_map(
        |(sources, rule, prefixed, formats, zone)| {
            let mut policy = policy().with_sources(sources).with_redirect(rule).with_routes(
                Routes::builder(policy().set())
                    .with_prefixed_default(prefixed)
                    .with_skip(["/assets"])
                    .build()
                    .unwrap(),
            );
            if formats {
                policy = policy.with_formats(FormatsRule::Visitor);
            }
            if zone {
                policy = policy.with_time_zone(
                    TimeZoneRule::new(TimeZoneName::UTC).with_sources(TimeZoneRule::SOURCES.iter().copied()),
                );
            }
            policy
        },
    )
}

/// What is not in an address: what a visitor sends, and what is known of them elsewhere.
#[derive(Clone, Debug)]
struct Sent {
    header: Option<&'static str>,
    visitor: Option<&'static str>,
    session: SessionValue<'static>,
    cookie: Option<&'static str>,
    accept: &'static str,
    zones: TimeZoneFacts<'static>,
}

fn any_sent() -> impl Strategy<Value = Sent> {
    let value = || prop::option::of(prop::sample::select(vec!["cy", "pl", "en", "de", "no tag!", ""]));
    let zone = || prop::option::of(prop::sample::select(vec!["Asia/Tokyo", "Europe/Warsaw", "nowhere"]));
    let session = |value: Option<&'static str>| value.map_or(SessionValue::None, SessionValue::Text);
    let accept = prop::sample::select(vec!["cy, en", "de, pl;q=0.5", "en-GB", "ja", ""]);
    (value(), value(), value(), value(), accept, zone(), zone(), zone()).prop_map(
        move |(header, visitor, in_session, cookie, accept, zone, other, third)| Sent {
            header,
            visitor,
            session: session(in_session),
            cookie,
            accept,
            zones: TimeZoneFacts { visitor: zone, session: session(other), cookie: third },
        },
    )
}

fn any_address() -> impl Strategy<Value = (&'static str, Option<&'static str>, Option<&'static str>)> {
    let path = prop::sample::select(vec!["/", "/cy", "/cy/x", "/x", "/de/x", "/EN", "/en/x", "/assets/x"]);
    let query = prop::option::of(prop::sample::select(vec!["pl", "de", ""]));
    let host = prop::option::of(prop::sample::select(vec!["cy.ferries.example", "ferries.example"]));
    (path, query, host)
}

/// Has a policy decide with the facts of an address and what was sent.
fn decide(
    policy: &Policy,
    (path, query_value, host): (&str, Option<&str>, Option<&str>),
    sent: &Sent,
    is_page: bool,
) -> Decision {
    let lines = [sent.accept.as_bytes()];
    policy.decide(&Facts {
        path,
        query: None,
        is_page,
        host,
        query_value,
        header_value: sent.header,
        visitor: sent.visitor,
        session: sent.session,
        cookie: sent.cookie,
        accept_lines: &lines,
        time_zone: sent.zones,
    })
}

proptest! {
    /// A cache learns from one answer what all answers under the address depend on.
    #[test]
    fn vary_is_the_same_for_everybody_at_an_address(
        policy in any_policy(), address in any_address(), one in any_sent(), other in any_sent(),
        is_page in any::<bool>(),
    ) {
        let depends_on = |sent, is_page| decide(&policy, address, sent, is_page).depends_on();
        prop_assert_eq!(depends_on(&one, true), depends_on(&other, is_page));
    }

    /// A source that the answer does not depend on changes nothing.
    #[test]
    fn a_source_that_is_not_named_changes_nothing(
        policy in any_policy(), address in any_address(), sent in any_sent(), other in any_sent(),
    ) {
        let decision = decide(&policy, address, &sent, true);
        let depends_on = decision.depends_on();
        let mut changed = sent.clone();
        for source in LocaleSource::ALL.iter().filter(|source| !depends_on.contains(**source)) {
            match source {
                LocaleSource::Path | LocaleSource::Host | LocaleSource::Query | LocaleSource::Default => {}
                LocaleSource::Header => changed.header = other.header,
                LocaleSource::AcceptLanguage => changed.accept.clone_from(&other.accept),
                LocaleSource::Visitor => {
                    (changed.visitor, changed.zones.visitor) = (other.visitor, other.zones.visitor);
                }
                LocaleSource::Session => {
                    (changed.session, changed.zones.session) = (other.session, other.zones.session);
                }
                LocaleSource::Cookie => {
                    (changed.cookie, changed.zones.cookie) = (other.cookie, other.zones.cookie);
                }
            }
        }
        let again = decide(&policy, address, &changed, true);
        prop_assert_eq!(told(&policy, &again), told(&policy, &decision));
    }

    /// Where nobody is to be asked, the answers of session and settings change nothing.
    #[test]
    fn only_answers_that_can_matter_are_asked_for(
        policy in any_policy(), address in any_address(), sent in any_sent(), other in any_sent(),
    ) {
        let (path, query_value, host) = address;
        let lines = [sent.accept.as_bytes()];
        let mut known = Facts {
            path, query_value, host, header_value: sent.header, cookie: sent.cookie, accept_lines: &lines,
            time_zone: TimeZoneFacts { cookie: sent.zones.cookie, ..TimeZoneFacts::default() }, ..GET
        };
        let mut asked = Asked::default();
        while let Some(what) = policy.next_to_ask(&known, &policy.read(path), asked) {
            if what == ToAsk::Session {
                prop_assert!(!asked.session);
                asked.session = true;
                known.session = sent.session;
                known.time_zone.session = sent.zones.session;
            } else {
                prop_assert!(!asked.visitor);
                asked.visitor = true;
                known.visitor = sent.visitor;
                known.time_zone.visitor = sent.zones.visitor;
            }
        }
        let mut changed = sent.clone();
        if !asked.session {
            (changed.session, changed.zones.session) = (other.session, other.zones.session);
        }
        if !asked.visitor {
            (changed.visitor, changed.zones.visitor) = (other.visitor, other.zones.visitor);
        }
        let decision = decide(&policy, address, &changed, true);
        prop_assert_eq!(told(&policy, &policy.decide(&known)), told(&policy, &decision));
    }
}

/// All of a decision that an answer is made from.
fn told(policy: &Policy, decision: &Decision) -> String {
    let locale = policy.set().text(decision.locale);
    format!("{locale} {:?} {} {:?}", decision.outcome, decision.formats(policy), decision.time_zone)
}

#[test]
fn a_policy_makes_addresses() {
    let with = policy();
    let without = policy().with_sources([LocaleSource::Cookie]);
    let cy = with.set().exact(&tag("cy")).unwrap();
    assert_eq!(with.path(cy, "/sailings?day=2"), "/cy/sailings?day=2");
    assert_eq!(without.path(cy, "/sailings?day=2"), "/sailings?day=2");
    assert_eq!(without.path(cy, "//elsewhere.example"), "/.//elsewhere.example");
    assert!(with.time_zone().is_none());
    let london: TimeZoneName = "Europe/London".parse().unwrap();
    let zoned = policy().with_time_zone(TimeZoneRule::new(london));
    assert_eq!(zoned.time_zone().map(TimeZoneRule::default_zone), Some(london));
}

#[test]
fn nobody_is_asked_about_a_path_that_is_skipped() {
    let policy = policy();
    let skipping = Routes::builder(policy.set()).with_skip(["/assets"]).build().unwrap();
    for policy in [policy.clone().with_routes(skipping.clone()), {
        policy.with_sources([LocaleSource::Path, LocaleSource::Cookie]).with_routes(skipping)
    }] {
        let facts = Facts { path: "/assets/x.css", cookie: Some("cy"), accept_lines: &[b"pl"], ..GET };
        let decision = policy.decide(&facts);
        let explanation = policy.explain(&facts, &decision);
        assert_eq!((decision.outcome, decision.source), (Outcome::Skip, LocaleSource::Default));
        assert_eq!((explanation.locale.as_str(), explanation.depends_on.len()), ("en", 0));
        let verdicts: Vec<_> = decision.trace.iter().map(|step| step.verdict).collect();
        assert_eq!(verdicts[0], Verdict::Absent);
        assert!(verdicts[1..].iter().all(|verdict| *verdict == Verdict::NotReached), "{verdicts:?}");
    }
}

#[test]
fn another_form_of_an_address_leads_in_one_step_to_where_a_preference_leads() {
    let policy = policy().with_redirect(RedirectRule::Everywhere);
    let facts = Facts { path: "/EN/x", accept_lines: &[b"pl"], ..GET };
    assert_eq!(decided(&policy, &facts), "pl by accept-language: 302 /pl/x; vary Cookie Accept-Language");
    let english = Facts { accept_lines: &[b"en"], ..facts };
    assert_eq!(policy.decide(&english).outcome, Outcome::Redirect { status: 308, location: "/x".to_owned() });
}

#[test]
fn an_address_is_enough_behind_a_prefix_and_where_nothing_redirects() {
    let needs = |policy: &Policy, path: &str| policy.needs_only_address(&policy.read(path));
    let usual = policy();
    for (path, expected) in [("/cy/x", true), ("/x", true), ("/", false), ("/CY/x", true), ("/en", false)] {
        assert_eq!(needs(&usual, path), expected, "{path}");
    }
    let everywhere = policy().with_redirect(RedirectRule::Everywhere);
    assert!(!needs(&everywhere, "/x") && needs(&everywhere, "/cy/x"));
    let visitor = policy().with_formats(FormatsRule::Visitor);
    assert!(!needs(&visitor, "/cy/x"));
    let zone = |rule| policy().with_time_zone(rule);
    assert!(needs(&zone(TimeZoneRule::new(TimeZoneName::UTC)), "/cy/x"));
    let following = TimeZoneRule::new(TimeZoneName::UTC).with_sources([LocaleSource::Cookie]);
    assert!(!needs(&zone(following), "/cy/x"));
    assert!(!needs(&policy().with_sources([LocaleSource::Cookie]), "/cy/x"));
}

#[test]
fn behind_a_prefix_the_visitor_is_asked_only_where_formats_follow_them() {
    let sources = [LocaleSource::Path, LocaleSource::Visitor, LocaleSource::Session];
    let policy = policy().with_sources(sources);
    let next = |policy: &Policy, path: &str, asked| {
        policy.next_to_ask(&Facts { path, ..GET }, &policy.read(path), asked)
    };
    let mut asked = Asked::default();
    assert_eq!(next(&policy, "/cy/x", asked), None);
    assert_eq!(next(&policy, "/", asked), Some(ToAsk::VisitorSettings));
    let following = policy.clone().with_formats(FormatsRule::Visitor);
    assert_eq!(next(&following, "/cy/x", asked), Some(ToAsk::VisitorSettings));
    asked.visitor = true;
    assert_eq!(next(&following, "/cy/x", asked), None);
    assert_eq!(next(&policy, "/", asked), Some(ToAsk::Session));
    asked.session = true;
    assert_eq!(next(&policy, "/", asked), None);
}

#[test]
fn a_preference_is_asked_for_without_the_path() {
    let policy = policy();
    let polish: &[&[u8]] = &[b"pl"];
    let preferred = |facts: &Facts<'_>| policy.set().tag(policy.preferred(facts)).to_string();
    assert_eq!(preferred(&Facts { accept_lines: polish, ..Facts::at("/cy/x") }), "pl");
    assert_eq!(preferred(&Facts { cookie: Some("ar"), accept_lines: polish, ..Facts::at("/cy/x") }), "ar");
    assert_eq!(preferred(&Facts::at("/cy/x")), "en");
}

#[test]
fn a_value_names_a_locale_as_it_is_written_or_in_its_canonical_form() {
    let policy = policy();
    let named = |value| policy.locale_named(value).map(|locale| policy.set().tag(locale).to_string());
    assert_eq!(named("en-GB").as_deref(), Some("en-GB"));
    assert_eq!(named("en-gb").as_deref(), Some("en-GB"));
    for value in ["en-AU", "", "de", "x"] {
        assert_eq!(named(value), None, "{value}");
    }
}

#[test]
fn values_of_a_header_are_matched_as_the_policy_sets() {
    let exact = policy().with_sources([LocaleSource::Header, LocaleSource::Default]);
    let closest = exact.clone().with_matching(Matching::Closest);
    let asked = |policy: &Policy, value| {
        let facts = Facts { header_value: Some(value), ..GET };
        decided(policy, &facts).split(':').next().unwrap_or_default().to_owned()
    };
    assert_eq!(asked(&exact, "pl-PL"), "en by default");
    assert_eq!(asked(&closest, "pl-PL"), "pl by header");
    assert_eq!(asked(&exact, "pl"), "pl by header");
    // An empty value is none.
    assert_eq!(asked(&closest, ""), "en by default");
    let facts = Facts { header_value: Some(""), ..GET };
    let decision = closest.decide(&facts);
    assert_eq!(closest.explain(&facts, &decision).trace[0].verdict, "absent");
}

/// `source: verdict value (why)`, line by line.
fn lines(steps: &[ExplainedStep]) -> String {
    let line = |step: &ExplainedStep| {
        let value = step.value.as_deref().unwrap_or("-");
        format!("{}: {} {value} ({})", step.source, step.verdict, step.why)
    };
    steps.iter().map(line).collect::<Vec<_>>().join("\n")
}

/// The first line of an explanation.
fn first_line(policy: &Policy, facts: &Facts<'_>) -> String {
    let decision = policy.decide(facts);
    let step = &policy.explain(facts, &decision).trace[..1];
    // A trace shows its steps and nothing else.
    assert_eq!(format!("{:?}", decision.trace), format!("{:?}", &*decision.trace));
    lines(step)
}

#[test]
fn a_policy_tells_what_it_was_given() {
    for formats in [FormatsRule::Words, FormatsRule::Visitor] {
        assert_eq!(policy().with_formats(formats).formats(), formats);
    }
    assert!(policy().time_zone().is_none());
    let zone = TimeZoneRule::new(TimeZoneName::UTC);
    assert_eq!(zone.default_zone(), TimeZoneName::UTC);
    assert!(policy().with_time_zone(zone).time_zone().is_some());
}

#[test]
fn a_path_is_explained_by_its_prefix_or_by_having_none() {
    let policy = policy();
    let told = ["/cy/x", "/CY/x", "/x", "/", "/en"].map(|path| first_line(&policy, &Facts::at(path)));
    insta::assert_snapshot!(told.join("\n"), @"
    path: chosen /cy/x (it names `cy`)
    path: chosen /CY/x (it names `cy`)
    path: chosen /x (an address without prefix is `en`)
    path: absent / (the address names no locale)
    path: chosen /en (it names `en`)
    ");
    let skipping =
        policy.clone().with_routes(Routes::builder(policy.set()).with_skip(["/assets"]).build().unwrap());
    insta::assert_snapshot!(first_line(&skipping, &Facts::at("/assets/x")), @"path: absent /assets/x (the address names no locale)");
}

#[test]
fn a_match_is_explained_by_its_range() {
    let told = |source, facts: Facts<'_>| {
        first_line(&policy().with_sources([source]).with_matching(Matching::Closest), &facts)
    };
    let accepting = |lines| told(LocaleSource::AcceptLanguage, Facts { accept_lines: lines, ..GET });
    let told = [
        told(LocaleSource::Query, Facts { query_value: Some("en-GB"), header_value: Some("pl"), ..GET }),
        told(LocaleSource::Query, Facts { query_value: Some("en-gb"), ..GET }),
        told(LocaleSource::Header, Facts { header_value: Some("pl-PL"), query_value: Some("cy"), ..GET }),
        told(LocaleSource::Visitor, Facts { visitor: Some("en-AU"), query_value: Some("cy"), ..GET }),
        accepting(&[b"pl"]),
        accepting(&[b"ja", b"pl-PL;q=0.5"]),
        accepting(&[b"de", b"*;q=0.5"]),
        accepting(&[b"*;q=0"]),
        accepting(&[]),
        told(LocaleSource::Host, Facts { host: Some("example.org"), query_value: Some("cy"), ..GET }),
    ];
    insta::assert_snapshot!(told.join("\n"), @"
    query: chosen en-GB (`en-GB` is among the ranges)
    query: chosen en-gb (the range `en-gb` is another form of `en-GB`)
    header: chosen pl-PL (the range `pl-PL` is nearest to `pl`, at distance 0)
    visitor: chosen en-AU (the range `en-AU` is nearest to `en-GB`, at distance 3)
    accept-language: chosen pl (`pl` is among the ranges)
    accept-language: chosen ja, pl-PL;q=0.5 (the range `pl-PL` is nearest to `pl`, at distance 0)
    accept-language: chosen de, *;q=0.5 (no named range is near, and `*` takes any: `en`)
    accept-language: unusable *;q=0 (nothing the application has is near)
    accept-language: absent - (nothing was sent)
    host: absent example.org (the host names no locale)
    ");
}

#[test]
fn a_time_zone_is_explained_source_by_source() {
    let rule = |sources: &[LocaleSource]| {
        let zone = "Europe/London".parse().unwrap();
        TimeZoneRule::new(zone).with_sources(sources.iter().copied())
    };
    assert!(!rule(&[]).follows_visitor());
    // What cannot name a time zone is left out.
    let every =
        rule(&[LocaleSource::Path, LocaleSource::Visitor, LocaleSource::Session, LocaleSource::Cookie]);
    assert!(every.follows_visitor());
    assert_eq!(every.sources(), [LocaleSource::Visitor, LocaleSource::Session, LocaleSource::Cookie]);

    let policy = policy().with_time_zone(every);
    let told = |time_zone: TimeZoneFacts<'_>| {
        let facts = Facts { time_zone, ..GET };
        let explanation = policy.explain(&facts, &policy.decide(&facts));
        format!("{}\n{}", explanation.time_zone.unwrap(), lines(&explanation.time_zone_trace))
    };
    let nobody = TimeZoneFacts::default();
    let told = [
        told(nobody),
        told(TimeZoneFacts { visitor: Some("Asia/Tokyo"), cookie: Some("Europe/Warsaw"), ..nobody }),
        told(TimeZoneFacts { session: SessionValue::Text("Europe/Warsaw"), ..nobody }),
        told(TimeZoneFacts {
            visitor: Some("Mars/Base"),
            session: SessionValue::OtherShape,
            cookie: Some("UTC"),
        }),
        told(TimeZoneFacts { session: SessionValue::Empty, cookie: Some("Europe/London"), ..nobody }),
    ];
    insta::assert_snapshot!(told.join("\n"), @"
    Europe/London
    visitor: absent - (nothing was sent)
    session: absent - (there is no session)
    cookie: absent - (nothing was sent)
    default: chosen Europe/London (no other source decided)
    Asia/Tokyo
    visitor: chosen Asia/Tokyo (it names `Asia/Tokyo`)
    session: not-reached - (not asked)
    cookie: not-reached Europe/Warsaw (not asked)
    default: not-reached Europe/London (not asked)
    Europe/Warsaw
    visitor: absent - (nothing was sent)
    session: chosen Europe/Warsaw (it names `Europe/Warsaw`)
    cookie: not-reached - (not asked)
    default: not-reached Europe/London (not asked)
    UTC
    visitor: unusable Mars/Base (`Mars/Base` is not a time zone of the IANA database; write a name such as `Europe/London`)
    session: unusable - (not of the shape a session value has)
    cookie: chosen UTC (it names `UTC`)
    default: not-reached Europe/London (not asked)
    Europe/London
    visitor: absent - (nothing was sent)
    session: absent - (the session remembers nothing)
    cookie: chosen Europe/London (it names `Europe/London`)
    default: not-reached Europe/London (not asked)
    ");
    let without = self::policy();
    let explanation = without.explain(&GET, &without.decide(&GET));
    assert_eq!((explanation.time_zone, explanation.time_zone_trace), (None, Vec::new()));
}
