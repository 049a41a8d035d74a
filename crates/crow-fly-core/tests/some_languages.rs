//! A program with the data of some languages: they write what they write with all of it, and all others what a language
//! that CLDR does not have writes.

#![allow(clippy::unwrap_used, reason = "a test fails by panicking")]

#[path = "core/demo_locales.rs"]
mod demo_locales;

use std::sync::OnceLock;

use crow_fly_core::args;
use crow_fly_core::data::{InstallError, install, is_left_out};
use crow_fly_core::message::{FormatContext, Functions, Lacking, Message, Program, Requirements};
use crow_fly_core::names;
use crow_fly_core::tag::LanguageTag;

/// Installs the data of the demo's languages, and the calendar of English readers in Thailand.
fn some_languages() -> &'static [u8] {
    static DATA: OnceLock<Vec<u8>> = OnceLock::new();
    let data = DATA.get_or_init(|| {
        crow_fly_cldr::data::of_languages(demo_locales::LOCALES.into_iter().chain(["en-TH"]), false)
    });
    install(data).unwrap();
    data
}

fn tag(text: &str) -> LanguageTag {
    text.parse().unwrap()
}

#[test]
fn the_data_of_the_demos_languages_is_small_and_says_the_same() {
    let data = some_languages();
    assert!(data.len() < 300_000, "{}", data.len());
    demo_locales::check();
}

#[test]
fn all_others_write_like_a_language_that_cldr_does_not_have() {
    some_languages();
    for (likely, known) in
        [("de-AT", false), ("sr-Latn", false), ("fa", false), ("en-AU", true), ("zz", true)]
    {
        assert_eq!(is_left_out(&tag(likely)), !known, "{likely}");
    }
    let unknown_languages = [
        ("bg", "qaa"),
        ("de", "qaa"),
        ("de-CH", "qaa-CH"),
        // With the script that the tag does not say, so that it is written in the same direction.
        ("fa-AE", "qaa-Arab-AE"),
        ("hi-u-nu-deva", "qaa-u-nu-deva"),
        ("ja", "qaa"),
        ("pt-PT", "qaa-PT"),
        ("zh-Hant-HK", "qaa-Hant-HK"),
    ];
    for (locale, unknown) in unknown_languages {
        let (known, unknown) = (tag(locale), tag(unknown));
        assert!(is_left_out(&known));
        let written = |tag| {
            let mut texts = demo_locales::written(tag);
            // Each names itself by its tag.
            texts.pop();
            texts
        };
        assert_eq!(written(&known), written(&unknown), "{locale}");
    }
}

#[test]
fn a_release_that_needs_more_lacks_it() {
    some_languages();
    let required: Requirements = serde_json::from_str(r#"{"locales": ["pl", "de", "de-AT"]}"#).unwrap();
    let lacking: Vec<String> =
        required.lacking(&Functions::new(), |_| true).iter().map(ToString::to_string).collect();
    assert_eq!(lacking, ["the data of the locale `de`", "the data of the locale `de-AT`"]);
}

#[test]
fn a_calendar_that_is_left_out_is_missed_aloud() {
    some_languages();
    let said = |locale: &str| {
        let program = Program::compile(&Message::parse("{$d :date}").unwrap());
        let mut errors = Vec::new();
        let context = FormatContext::of(&tag(locale));
        let args = args! { d: "2026-12-02" };
        let text =
            program.format(&context, &args).reporting(&mut |error| errors.push(error.to_string())).text();
        (text, errors)
    };
    assert_eq!(said("en-TH"), ("Dec 2, 2569 BE".into(), vec![]));
    for (locale, text, calendar) in [
        ("pl-TH", "2 gru 2026", "buddhist"),
        ("en-IR", "Dec 2, 2026", "persian"),
        ("en-u-ca-hebrew", "Dec 2, 2026", "hebrew"),
    ] {
        let (said, errors) = said(locale);
        assert_eq!(said, text, "{locale}");
        assert_eq!(
            errors,
            [format!(
                "the date `{{$d}}` is not in its calendar: there is no calendar `{calendar}` here, so the date is \
                 in `gregory`: switch on the feature `calendars`, or make the data of locales with a tag such as \
                 `en-u-ca-{calendar}`"
            )],
            "{locale}"
        );
    }
    let required: Requirements = serde_json::from_str(r#"{"calendars": ["buddhist", "persian"]}"#).unwrap();
    assert!(
        matches!(&*required.lacking(&Functions::new(), |_| true), [Lacking::Calendar(id)] if id == "persian")
    );
}

#[test]
fn names_are_those_of_the_data() {
    some_languages();
    assert!(names::locales().all(|name| !is_left_out(&tag(name))));
    assert_eq!(names::own_name(&tag("de"), names::Casing::Menu), "de");
    #[cfg(feature = "names")]
    assert_eq!(names::name(&tag("de"), &tag("pl"), names::Casing::Sentence).as_deref(), Some("niemiecki"));
}

#[test]
fn other_data_comes_too_late() {
    some_languages();
    let other = Vec::leak(crow_fly_cldr::data::of_languages(["de"], false));
    assert_eq!(install(other), Err(InstallError::TooLate));
}
