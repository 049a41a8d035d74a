//! The grammar of tags.

use crow_fly_core::tag::{LanguageTag, TagErrorKind as Kind};

use crate::tag;

#[test]
fn everything_the_grammar_allows_is_read_and_shown_in_its_case() {
    for (source, shown) in [
        ("EN", "en"),
        ("und", "und"),
        ("haw-us", "haw-US"),
        ("ZH-HANT-hk", "zh-Hant-HK"),
        ("es-419", "es-419"),
        ("zh-yue-Hant-HK", "zh-yue-Hant-HK"),
        ("sl-Latn-IT-rozaj-nedis-1994", "sl-Latn-IT-rozaj-nedis-1994"),
        ("de-1901-1996", "de-1901-1996"),
        ("en-GB-oed", "en-GB-oed"),
        ("I-Klingon", "i-klingon"),
        ("x-whatever-1", "x-whatever-1"),
        ("und-x-i-enochian", "und-x-i-enochian"),
        ("en-u-HC-H23", "en-u-hc-h23"),
        ("en-a-bbb-ccc-t-fr-x-y", "en-a-bbb-ccc-t-fr-x-y"),
        ("qaaa", "qaaa"),
        ("abcdefgh", "abcdefgh"),
        ("de-a-value", "de-a-value"),
        ("sl-IT-nedis-x-a", "sl-IT-nedis-x-a"),
    ] {
        assert_eq!(LanguageTag::parse(source).map(|tag| tag.to_string()).as_deref(), Ok(shown), "{source}");
    }
}

#[test]
fn errors_say_which_subtag_and_why() {
    for (source, kind, at) in [
        ("", Kind::Length, 0..0),
        ("e", Kind::Language, 0..1),
        ("123", Kind::Language, 0..3),
        ("en-", Kind::EmptySubtag, 3..3),
        ("en--GB", Kind::EmptySubtag, 3..3),
        ("-en", Kind::EmptySubtag, 0..0),
        ("en_GB", Kind::Character, 0..5),
        ("en-GB\n", Kind::Character, 3..6),
        ("en-\u{212a}E", Kind::Character, 3..7),
        ("en-abcdefghi", Kind::LongSubtag, 3..12),
        ("en-GB-US", Kind::Misplaced, 6..8),
        ("en-GB-Latn", Kind::Misplaced, 6..10),
        ("de-rozaj-1996-rozaj", Kind::DuplicateVariant, 14..19),
        ("de-a-bb-A-cc", Kind::DuplicateSingleton, 8..9),
        ("de-u", Kind::EmptyExtension, 3..4),
        ("de-u-x-a", Kind::EmptyExtension, 3..4),
        ("de-x", Kind::EmptyExtension, 3..4),
        ("x", Kind::EmptyExtension, 0..1),
        ("i-klingon-x-a", Kind::Language, 0..1),
        ("../../etc/passwd", Kind::Character, 0..16),
    ] {
        let error = LanguageTag::parse(source).unwrap_err();
        assert_eq!((error.kind(), error.range()), (kind, at), "{source:?}: {error}");
        assert!(error.range().end <= source.len());
    }
    assert_eq!(LanguageTag::parse(&"a-".repeat(10_000)).unwrap_err().kind(), Kind::Length);
}

#[test]
fn lenient_reading_takes_what_other_systems_write() {
    for (source, shown) in [
        ("pt_BR", "pt-BR"),
        (" en_GB.UTF-8 ", "en-GB"),
        ("sr_RS@latin", "sr-RS"),
        ("root", "und"),
        ("zh_Hant_TW", "zh-Hant-TW"),
    ] {
        assert_eq!(
            LanguageTag::parse_lenient(source).map(|tag| tag.to_string()).as_deref(),
            Ok(shown),
            "{source}"
        );
    }
    for source in ["", "C", "../cy", "cy/../..", "{\"locale\":\"cy\"}", "\0"] {
        assert!(LanguageTag::parse_lenient(source).is_err(), "{source:?}");
    }
}

#[test]
fn keywords_are_read_set_and_removed() {
    let mut tag = tag("en-u-hc-h23-kn-x-me");
    assert_eq!(tag.keywords().collect::<Vec<_>>(), [("hc", "h23"), ("kn", "")]);
    tag.set_keyword("nu", Some("deva")).unwrap();
    tag.set_keyword("CA", Some("islamic-civil")).unwrap();
    assert_eq!(tag.to_string(), "en-u-ca-islamic-civil-hc-h23-kn-nu-deva-x-me");
    for key in ["ca", "hc", "kn", "nu"] {
        tag.set_keyword(key, None).unwrap();
    }
    assert_eq!(tag.to_string(), "en-x-me");
    assert_eq!(tag.set_keyword("toolong", Some("abc")).unwrap_err().kind(), Kind::Keyword);
    assert_eq!(tag.set_keyword("nu", Some("a")).unwrap_err().kind(), Kind::Keyword);
}

#[test]
fn a_tag_is_small_and_travels_as_its_text() {
    assert!(size_of::<LanguageTag>() <= 24);
    let tag = tag("zh-Hant-HK-u-nu-latn");
    let json = serde_json::to_string(&tag).unwrap();
    assert_eq!(json, "\"zh-Hant-HK-u-nu-latn\"");
    assert_eq!(serde_json::from_str::<LanguageTag>(&json).unwrap(), tag);
    assert!(serde_json::from_str::<LanguageTag>("\"en_GB!\"").is_err());
}
