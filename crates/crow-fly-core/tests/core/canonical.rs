//! Canonical form, against CLDR's own test data and the places where it is easy to get wrong.

use crow_fly_core::tag::LanguageTag;

use crate::tag;

/// Lines of the data, which is of an older CLDR, that the current aliases answer otherwise.
const CHANGED_SINCE: [&str; 4] = ["knn", "knn_Adlm_AC_fonipa", "mnk", "mnk_Adlm_AC_fonipa"];

#[test]
fn every_current_line_of_the_unicode_test_data_holds() {
    let data = include_str!("data/locale-canonicalization.txt");
    let lines = data.lines().filter(|line| !line.trim().is_empty() && !line.starts_with('#'));
    let (mut tried, mut wrong) = (0, Vec::new());
    for line in lines {
        let (source, expected) = line.split_once(';').unwrap();
        let (source, expected) = (source.trim(), expected.trim().replace('_', "-"));
        if CHANGED_SINCE.contains(&source) {
            continue;
        }
        tried += 1;
        let found = LanguageTag::parse_lenient(source).map(|tag| tag.canonicalized().to_string());
        if found.as_ref() != Ok(&expected) {
            wrong.push(format!("{source}: {found:?}, expected {expected}"));
        }
    }
    assert!(tried > 1600);
    assert!(wrong.is_empty(), "{} of {tried} lines:\n{}", wrong.len(), wrong.join("\n"));
}

#[test]
fn aliases_apply_until_nothing_changes() {
    for (source, expected) in [
        ("iw", "he"),
        ("sh", "sr-Latn"),
        ("sh-Cyrl", "sr-Cyrl"),
        ("cmn", "zh"),
        ("zh-cmn-Hans-CN", "zh-Hans-CN"),
        ("zh-yue", "yue"),
        ("zh-guoyu", "zh"),
        ("zh-min-nan", "nan"),
        ("art-lojban", "jbo"),
        ("i-klingon", "tlh"),
        ("i-default", "en-x-i-default"),
        ("en-GB-oed", "en-GB-oxendict"),
        ("de-DD", "de-DE"),
        ("hy-SU", "hy-AM"),
        ("ru-SU", "ru-RU"),
        ("und-SU", "und-RU"),
        ("hye-arevmda", "hyw"),
        ("sgn-840", "ase"),
        ("sgn-BE-FR", "sfb"),
        ("ja-Latn-hepburn-heploc", "ja-Latn-alalc97"),
        ("en-Qaai", "en-Zinh"),
        ("sl-rozaj-biske-1994", "sl-1994-biske-rozaj"),
        ("en-a-bbb-u-kn-x-ab", "en-a-bbb-u-kn-x-ab"),
        ("en-u-kn-true-co-phonebk", "en-u-co-phonebk-kn"),
        ("en-u-kn-yes", "en-u-kn"),
        ("en-u-kn-no", "en-u-kn-no"),
        ("en-u-ca-islamicc", "en-u-ca-islamic-civil"),
        ("en-u-foo-bar-ca-buddhist", "en-u-bar-foo-ca-buddhist"),
        ("en-u-ca-buddhist-ca-gregory", "en-u-ca-buddhist"),
        ("en-u-rg-no23", "en-u-rg-no50"),
        ("en-u-sd-cn71", "en-u-sd-twzzzz"),
        ("en-u-kb-true-t-iw-m0-true", "en-t-he-m0-true-u-kb"),
        ("EN-T-SH-YU-M0-DIN", "en-t-sr-latn-rs-m0-din"),
    ] {
        assert_eq!(tag(source).canonicalized().to_string(), expected, "{source}");
    }
}

#[test]
fn likely_subtags_come_and_go() {
    for (source, maximal, minimal) in [
        ("en", "en-Latn-US", "en"),
        ("zh-US", "zh-Hant-US", "zh-US"),
        ("zh-AU", "zh-Hant-AU", "zh-AU"),
        ("zh-TW", "zh-Hant-TW", "zh-TW"),
        ("zh-Hant", "zh-Hant-TW", "zh-TW"),
        ("sr-ME", "sr-Latn-ME", "sr-ME"),
        ("und-TW", "zh-Hant-TW", "zh-TW"),
        ("und-Cyrl", "ru-Cyrl-RU", "ru"),
        ("und", "en-Latn-US", "en"),
        ("cy-Latn-GB", "cy-Latn-GB", "cy"),
        ("az-Arab-IR", "az-Arab-IR", "az-IR"),
        ("en-Zzzz-ZZ", "en-Latn-US", "en"),
        ("en-GB-oxendict-u-hc-h23", "en-Latn-GB-oxendict-u-hc-h23", "en-GB-oxendict-u-hc-h23"),
        ("qqq", "qqq", "qqq"),
    ] {
        assert_eq!(tag(source).maximized().to_string(), maximal, "{source} maximized");
        assert_eq!(tag(source).minimized().to_string(), minimal, "{source} minimized");
    }
}
