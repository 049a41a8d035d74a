//! What holds for every tag, header, address and policy.

use crow_fly_core::accept::AcceptLanguage;
use crow_fly_core::locale_set::{LocaleId, LocaleSet, distance};
use crow_fly_core::policy::{Facts, FormatsRule, LocaleSource, Outcome, Policy, RedirectRule, SessionValue};
use crow_fly_core::route::{PathMatch, PathPattern, Routes, RoutesBuilder, is_local};
use crow_fly_core::tag::{LanguageRange, LanguageTag};
use proptest::prelude::*;

use crate::tag;

/// Well-formed tags, from plain ones to those with everything.
fn any_tag() -> impl Strategy<Value = String> {
    let plain = "(en|de|zh|sr|iw|sh|cmn|es|pt|nb|hi|und|[a-z]{2,3})(-(Latn|Cyrl|Hant|Hans|Arab|[A-Z][a-z]{3}))?(-(US|GB|TW|HK|SU|419|172|[A-Z]{2}|[0-9]{3}))?";
    let full = "[a-zA-Z]{2,8}(-[a-z]{4})?(-([a-z]{2}|[0-9]{3}))?(-[a-z]{5,8})?(-[0-9][a-z0-9]{3})?(-a-[a-z0-9]{2,8})?(-t-(iw|en-us)(-m0-(true|din))?)?(-u(-[a-z]{3,8})?(-(ca|kn|nu|rg)(-[a-z0-9]{3,8}){0,2})?(-(co|hc)(-[a-z]{3,8})?)?-vt-true)?(-x(-[a-z0-9]{1,8}){1,2})?";
    let extended =
        "(zh|sgn|und|[a-z]{2,3})(-(yue|cmn|und|[a-z]{3})){1,3}(-(Latn|[a-z]{4}))?(-[A-Z]{2})?(-t-und-cyrl)?";
    prop_oneof![3 => plain, 2 => full, 1 => extended, 1 => "x(-[a-z0-9]{1,8}){1,3}"]
}

/// Headers from well-meant to hostile.
fn any_header() -> impl Strategy<Value = Vec<u8>> {
    let member =
        "(\\*|[a-zA-Z]{1,9}(-[a-zA-Z0-9]{1,9}){0,2})?( ?; ?[qQ]=(0|1|0\\.[0-9]{0,4}|1\\.0{0,3}|2|\\.5))?";
    let decent = prop::collection::vec(member, 0..40).prop_map(|members| members.join(",").into_bytes());
    prop_oneof![3 => decent, 1 => prop::collection::vec(any::<u8>(), 0..200)]
}

fn any_set() -> impl Strategy<Value = Vec<String>> {
    let locale = "(en|de|zh|sr|es|pt|nb|nn|hr|ar|ca|gsw)(-(Latn|Cyrl|Hant|Hans))?(-(US|GB|AU|TW|HK|MX|419|BR|PT|MA|SA))?";
    prop::collection::btree_set(locale, 1..12).prop_map(|set| set.into_iter().collect())
}

fn any_path() -> impl Strategy<Value = String> {
    let segment = "(cy|CY|en|en-GB|pl|de|is|xx|sailings|teithiau|assets|\\.|\\.\\.|%2[Ff]|caf%C3%A9|[a-z0-9~!$&'()*+,;=:@._-]{0,6}|\\\\)";
    prop::collection::vec(segment, 0..5).prop_map(|segments| format!("/{}", segments.join("/")))
}

/// A site with a page that has a Welsh address.
fn welsh_pages(routes: RoutesBuilder, welsh: LocaleId) -> Routes {
    let pattern = |text| PathPattern::parse(text).unwrap();
    routes
        .with_page(&pattern("/sailings/{*rest}"), [(welsh, vec![pattern("/teithiau/{*rest}")])])
        .build()
        .unwrap()
}

proptest! {
    #![proptest_config(crate::cases(96))]

    #[test]
    fn what_is_shown_reads_as_the_same_tag(text in any_tag()) {
        if let Ok(parsed) = LanguageTag::parse(&text) {
            let shown = parsed.to_string();
            prop_assert!(shown.eq_ignore_ascii_case(&text));
            prop_assert_eq!(LanguageTag::parse(&shown), Ok(parsed));
        }
    }

    #[test]
    fn no_text_upsets_the_tag_parser(text in ".{0,60}") {
        if let Err(error) = LanguageTag::parse(&text) {
            prop_assert!(text.get(error.range()).is_some());
        }
        let _ = LanguageTag::parse_lenient(&text);
        let _ = LanguageRange::parse(&text);
    }

    #[test]
    fn canonical_form_is_reached_at_once(text in any_tag()) {
        if let Ok(parsed) = LanguageTag::parse(&text) {
            let canonical = parsed.canonicalized();
            prop_assert_eq!(canonical.canonicalized(), canonical.clone());
            let again = LanguageTag::parse(&canonical.to_string());
            prop_assert_eq!(again, Ok(canonical));
        }
    }

    #[test]
    fn maximizing_undoes_minimizing(text in any_tag()) {
        if let Ok(parsed) = LanguageTag::parse(&text) {
            let maximal = parsed.maximized();
            prop_assert_eq!(maximal.minimized().maximized(), maximal.clone());
            prop_assert_eq!(maximal.maximized(), maximal);
        }
    }

    #[test]
    fn parents_come_to_an_end(text in any_tag()) {
        if let Ok(parsed) = LanguageTag::parse(&text) {
            prop_assert!(std::iter::successors(parsed.parent(), LanguageTag::parent).take(20).count() < 20);
        }
    }

    #[test]
    fn reading_a_header_is_bounded_and_ordered(header in any_header()) {
        let parsed = AcceptLanguage::parse(&header);
        prop_assert!(parsed.ranges().len() + parsed.excluded().len() <= AcceptLanguage::MAX_RANGES);
        prop_assert!(parsed.ranges().is_sorted_by(|one, next| one.weight() >= next.weight()));
        prop_assert!(parsed.ranges().iter().all(|range| range.weight() > 0 && !range.as_str().is_empty()));
        prop_assert!(parsed.excluded().iter().all(|range| range.weight() == 0));
    }

    #[test]
    fn the_closest_locale_is_what_a_slow_search_finds(set in any_set(), desired in any_tag()) {
        let set = LocaleSet::parse(&set).unwrap();
        let Ok(desired) = LanguageTag::parse(&desired) else { return Ok(()) };
        prop_assume!(!desired.is_und() && !desired.canonicalized().is_und());
        let slow = set.iter().map(|(_, tag)| distance(&desired, tag)).min().filter(|distance| *distance < LocaleSet::LARGEST_DISTANCE);
        let found = set.closest_to(&desired);
        prop_assert_eq!(found.map(|found| found.distance), slow, "{} in {:?}", desired, set);
        if let Some(found) = found {
            prop_assert_eq!(distance(&desired, set.tag(found.locale)), found.distance);
        }
    }

    #[test]
    fn the_order_of_the_set_only_breaks_ties(set in any_set(), header in any_header()) {
        let forward = LocaleSet::parse(&set).unwrap().with_default(&tag(&set[0])).unwrap();
        let backward = LocaleSet::parse(set.iter().rev()).unwrap().with_default(&tag(&set[0])).unwrap();
        let header = AcceptLanguage::parse(&header);
        let distance = |set: &LocaleSet| set.closest(&header).map(|found| (found.distance, found.range));
        prop_assert_eq!(distance(&forward), distance(&backward));
    }

    #[test]
    fn the_short_way_through_a_header_leads_where_the_long_one_does(set in any_set(), header in any_header(), first in "(en|de|zh|es-419|pt-BR)?(;q=1)?,?") {
        let set = LocaleSet::parse(&set).unwrap();
        let header = [first.as_bytes(), &header].concat();
        prop_assert_eq!(set.closest_in(&header), set.closest(&AcceptLanguage::parse(&header)));
    }

    #[test]
    fn matching_with_drafts_is_matching_without_them(set in any_set(), header in any_header(), drafts in any::<u32>()) {
        let whole = LocaleSet::parse(&set).unwrap();
        let is_draft = |at: usize| at > 0 && drafts & (1 << (at % 32)) != 0;
        let tags: Vec<_> = whole.iter().map(|(_, tag)| tag.clone()).collect();
        let hidden: Vec<_> = tags.iter().enumerate().filter(|(at, _)| is_draft(*at)).map(|(_, tag)| tag).collect();
        let offered = tags.iter().enumerate().filter(|(at, _)| !is_draft(*at)).map(|(_, tag)| tag.clone());
        let (with, without) = (whole.clone().with_drafts(hidden).unwrap(), LocaleSet::new(offered).unwrap());
        let told = |set: &LocaleSet| {
            let found = [set.closest(&AcceptLanguage::parse(&header)), set.closest_in(&header)];
            found.map(|found| found.map(|found| (set.text(found.locale).to_owned(), found.distance, found.range, found.kind)))
        };
        prop_assert_eq!(told(&with), told(&without));
        for (locale, tag) in whole.iter() {
            prop_assert_eq!(with.exact(tag), Some(locale));
        }
    }

    #[test]
    fn what_is_excluded_is_never_chosen(set in any_set(), header in any_header(), excluded in "(en|de|zh|es|pt|ar|nb)") {
        let set = LocaleSet::parse(&set).unwrap();
        let mut with_exclusion = format!("{excluded};q=0,").into_bytes();
        with_exclusion.extend(header);
        let header = AcceptLanguage::parse(&with_exclusion);
        let named_again = header.ranges().iter().any(|range| range.as_str().to_ascii_lowercase().starts_with(&excluded));
        if let Some(found) = set.closest(&header).filter(|_| !named_again) {
            let language = set.tag(found.locale).language();
            prop_assert_ne!(language.as_str(), excluded.as_str());
        }
    }

    #[test]
    fn a_localized_address_reads_as_its_page(path in any_path(), at in 0usize..3) {
        let set = LocaleSet::parse(["en", "cy", "pl"]).unwrap();
        let locale = set.iter().nth(at).unwrap().0;
        let routes = welsh_pages(Routes::builder(&set).with_prefixed_default(true), set.iter().nth(1).unwrap().0);
        // `teithiau` is not a page of the application, and a browser resolves dots and backslashes by itself.
        prop_assume!(!path.contains("teithiau") && !path.contains('\\'));
        // What begins with a prefix is an address already, and stays as it is.
        let first = path.split('/').nth(1).unwrap_or_default().to_ascii_lowercase();
        prop_assume!(!["en", "cy", "pl"].contains(&first.as_str()));
        let address = routes.path(locale, &path);
        prop_assert!(is_local(&address), "{}", address);
        prop_assert_eq!(routes.read(&address), PathMatch::Page { locale: Some(locale), path: path.into() });
    }

    #[test]
    fn no_redirect_is_redirected_again_and_all_are_local(
        path in any_path(), header in any_header(), cookie in "(cy|pl|EN|de|\\.\\./x|.{0,12})", session in "(cy|.{0,8})",
        everywhere in any::<bool>(), prefixed in any::<bool>(), formats in any::<bool>(), is_page in any::<bool>(),
        stripped in any::<bool>(),
    ) {
        let set = LocaleSet::parse(["en", "en-GB", "cy", "pl", "ar"]).unwrap();
        let welsh = set.exact(&tag("cy")).unwrap();
        let base = if stripped { "/app" } else { "" };
        let routes = Routes::builder(&set).with_prefixed_default(prefixed).with_skip(["/assets"]);
        let routes = welsh_pages(routes.with_base(base).with_stripped_base(stripped), welsh);
        let policy = Policy::new(set)
            .with_routes(routes)
            .with_sources(LocaleSource::ALL.iter().copied())
            .with_redirect(if everywhere { RedirectRule::Everywhere } else { RedirectRule::Root })
            .with_formats(if formats { FormatsRule::Visitor } else { FormatsRule::Words });
        let lines = [&header[..]];
        let facts = Facts {
            path: &path, is_page, cookie: Some(&cookie), session: SessionValue::Text(&session), visitor: Some(&cookie),
            query_value: Some(&session), header_value: Some(&cookie), accept_lines: &lines, ..Facts::default()
        };
        let decision = policy.decide(&facts);
        prop_assert!(decision.locale.index() < policy.set().len());
        prop_assert_eq!(&policy.decide(&facts).outcome, &decision.outcome);
        let _ = policy.explain(&facts, &decision);
        if let Outcome::Redirect { location, .. } = &decision.outcome {
            prop_assert!(location.starts_with('/') && !location.starts_with("//"), "{}", location);
            let target = location.split('?').next().unwrap();
            prop_assert!(target.starts_with(base) && !target.starts_with("/app/app"), "{}", location);
            let target = policy.routes().asked_for(target);
            let second = policy.decide(&Facts { path: target, ..facts }).outcome;
            prop_assert!(!matches!(second, Outcome::Redirect { .. }), "{} → {} → {:?}", path, location, second);
        }
    }

}
