//! Matching: RFC 4647, and the closest locale of UTS #35.

use crow_fly_core::accept::AcceptLanguage;
use crow_fly_core::locale_set::{LocaleSet, LocaleSetError, MatchKind, distance};
use crow_fly_core::tag::LanguageRange;

use crate::tag;

#[test]
fn the_table_of_ranges_and_locales_holds() {
    let data = include_str!("data/matching.txt");
    let (mut tried, mut wrong) = (0, Vec::new());
    for line in data.lines().filter(|line| !line.is_empty() && !line.starts_with('#')) {
        let [ranges, supported, expected] = line.split(" -> ").collect::<Vec<_>>()[..] else {
            panic!("{line}")
        };
        let set = LocaleSet::parse(supported.split(", ")).unwrap();
        let found = set.closest(&AcceptLanguage::parse(ranges));
        let found = found.map_or("-", |found| set.text(found.locale));
        tried += 1;
        if found != expected {
            wrong.push(format!("{line}: {found}"));
        }
    }
    assert!(tried >= 150, "{tried}");
    assert!(wrong.is_empty(), "{} of {tried}:\n{}", wrong.len(), wrong.join("\n"));
}

#[test]
fn distances_are_those_of_the_data_and_not_symmetric() {
    for (desired, supported, expected) in [
        ("en", "en", 0),
        ("en", "en-US", 0),
        ("en-AU", "en-GB", 3),
        ("en-AU", "en-NZ", 4),
        ("en-AU", "en", 5),
        ("fr-CA", "fr", 4),
        ("id", "ms", 14),
        ("ms", "id", 34),
        ("sr-Latn", "sr", 5),
        ("zh", "zh-Hant", 54),
        ("hi-Latn", "hi", 20),
    ] {
        assert_eq!(distance(&tag(desired), &tag(supported)), expected, "{desired} to {supported}");
    }
}

#[test]
fn the_answer_says_which_range_won_and_how() {
    let set = LocaleSet::parse(["en", "es", "de"]).unwrap();
    let closest = |header| {
        let found = set.closest(&AcceptLanguage::parse(header)).unwrap();
        (set.text(found.locale).to_owned(), found.range, found.distance, found.kind)
    };
    assert_eq!(closest("ja, de"), ("de".to_owned(), 1, 0, MatchKind::Exact));
    assert_eq!(closest("gsw;q=0.9, ja"), ("de".to_owned(), 1, 8, MatchKind::Near));
    assert_eq!(closest("ja, *"), ("en".to_owned(), 1, 0, MatchKind::Any));
}

#[test]
fn the_largest_distance_is_configurable() {
    let closest = |limit, desired| {
        let set = LocaleSet::parse(["en", "es", "ms"]).unwrap().with_largest_distance(limit);
        set.closest_to(&tag(desired)).map(|found| set.text(found.locale).to_owned())
    };
    assert_eq!(closest(50, "ca").as_deref(), Some("es"));
    assert_eq!(closest(20, "ca"), None);
    assert_eq!(closest(1, "es-MX"), None);
    assert_eq!(closest(1, "es").as_deref(), Some("es"));
    assert_eq!(closest(255, "ja").as_deref(), Some("en"));
}

#[test]
fn filtering_follows_rfc_4647() {
    let set = LocaleSet::parse([
        "de-DE",
        "de-Latn-DE",
        "de-Latn-DE-1996",
        "de-DE-x-goethe",
        "de-Deva-DE",
        "de",
        "de-x-DE",
        "zhx",
        "zh-Hant",
    ])
    .unwrap();
    let basic = |range: &str| {
        set.filter_basic(&LanguageRange::parse(range).unwrap()).map(|id| set.text(id)).collect::<Vec<_>>()
    };
    let extended = |range: &str| {
        set.filter_extended(&LanguageRange::parse(range).unwrap()).map(|id| set.text(id)).collect::<Vec<_>>()
    };
    assert_eq!(basic("de-de"), ["de-DE", "de-DE-x-goethe"]);
    assert_eq!(basic("zh"), ["zh-Hant"]);
    assert_eq!(basic("*").len(), set.len());
    // The examples of §3.3.2: `de-x-DE` and `de-Deva` alone do not match.
    let matching = ["de-DE", "de-Latn-DE", "de-Latn-DE-1996", "de-DE-x-goethe", "de-Deva-DE"];
    assert_eq!(extended("de-DE"), matching);
    assert_eq!(extended("de-*-DE"), matching);
    assert_eq!(extended("*-DE"), matching);
    assert_eq!(extended("de-*-x"), ["de-DE-x-goethe", "de-x-de"]);
}

#[test]
fn lookup_truncates_one_range_after_the_other() {
    let range = |text: &str| LanguageRange::parse(text).unwrap();
    let truncations = range("zh-Hant-CN-x-private1-private2").truncations().collect::<Vec<_>>();
    assert_eq!(
        truncations,
        ["zh-hant-cn-x-private1-private2", "zh-hant-cn-x-private1", "zh-hant-cn", "zh-hant", "zh"]
    );

    let set = LocaleSet::parse(["en", "de", "zh-Hant", "fr-FR"]).unwrap();
    let lookup = |ranges: &[&str]| {
        let ranges: Vec<_> = ranges.iter().map(|text| range(text)).collect();
        set.lookup(&ranges).map(|id| set.text(id))
    };
    assert_eq!(lookup(&["zh-Hant-TW", "de"]), Some("zh-Hant"));
    assert_eq!(lookup(&["fr", "de-CH"]), Some("de"));
    assert_eq!(lookup(&["fr"]), None);
    assert_eq!(lookup(&["*", "de"]), Some("de"));
    assert_eq!(lookup(&["*-CH", "de-*-1996"]), Some("de"));

    // What is cut off is what stands last as it was written; canonical forms, with variants in order, are compared.
    let set = LocaleSet::parse(["sl", "sl-rozaj", "sl-rozaj-biske", "he", "zh-Hans", "ca-valencia"]).unwrap();
    for (text, found) in [
        ("sl-rozaj-biske-1994", Some("sl-biske-rozaj")),
        ("sl-rozaj-1994", Some("sl-rozaj")),
        ("sl-1994-rozaj", Some("sl")),
        ("sl-nedis", Some("sl")),
        ("iw-IL", Some("he")),
        ("zh-cmn-Hans-CN", Some("zh-Hans")),
        ("ca-ES-valencia", None),
    ] {
        let range = range(text);
        assert_eq!(
            set.lookup([&range]).map(|id| set.tag(id).canonicalized().to_string()).as_deref(),
            found,
            "{text}"
        );
    }
    for wrong in ["", "de-", "1de", "de_DE", "toolongtoolong", "de-*x"] {
        assert!(LanguageRange::parse(wrong).is_err(), "{wrong}");
    }
}

#[test]
fn a_set_has_each_locale_once_and_a_default_of_its_own() {
    let wrong = |texts: &[&str]| LocaleSet::parse(texts).unwrap_err();
    assert_eq!(wrong(&[]), LocaleSetError::Empty);
    assert_eq!(wrong(&["en", "he", "iw"]), LocaleSetError::Duplicate(tag("he")));
    assert!(matches!(wrong(&["en", "e!"]), LocaleSetError::Tag(_)));
    let set = LocaleSet::parse(["en", "cy"]).unwrap();
    assert!(matches!(set.clone().with_default(&tag("pl")), Err(LocaleSetError::DefaultNotInSet(_))));
    let set = set.with_default(&tag("cy")).unwrap();
    assert_eq!(set.text(set.default_locale()), "cy");
}

#[test]
fn a_thousand_locales_are_no_harder_than_forty() {
    let texts: Vec<String> =
        crow_fly_core::names::locales().filter(|text| *text != "und").map(str::to_owned).collect();
    let regions = (0..400).map(|at| format!("en-{at:03}-x-{at}"));
    let set = LocaleSet::parse(texts.into_iter().chain(regions)).unwrap();
    assert!(set.len() > 1000);
    let found = set.closest(&AcceptLanguage::parse("qqq, es-CW;q=0.9, gsw-DE;q=0.8")).unwrap();
    assert_eq!(set.text(found.locale), "es-419");
}
