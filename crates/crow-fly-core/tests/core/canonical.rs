//! Canonical form, against CLDR's own test data and the places where it is easy to get wrong.

use crow_fly_core::accept::AcceptLanguage;
use crow_fly_core::args;
use crow_fly_core::datetime::DateValue;
use crow_fly_core::direction::Direction;
use crow_fly_core::locale_set::LocaleSet;
use crow_fly_core::message::{FormatContext, Isolation, Message, Program};
use crow_fly_core::names::{Casing, name};
use crow_fly_core::tag::{LanguageRange, LanguageTag};
use proptest::prelude::*;

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
        ("en-und-cyr-Latn", "und-Latn"),
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
        let canonical = tag(source).canonicalized();
        assert_eq!(canonical.to_string(), expected, "{source}");
        assert_eq!(canonical, tag(expected), "{source}");
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

/// Formats, direction, plural rules and likely subtags of a tag, as one text.
fn behaviour(tag: &LanguageTag) -> String {
    let context = FormatContext::of(tag).with_isolation(Isolation::None);
    let source = "\
        .input {$n :number} .local $o = {$n :number select=ordinal} .match $n $o \
        one two {{one two}} one * {{one}} two * {{two}} few * {{few}} many * {{many}} * few {{few}} * * {{other}}";
    let plural = Program::compile(&Message::parse(source).unwrap());
    let source = "{1234567.5} {$d :datetime dateLength=long} {$list :crow:list type=or} {12 :currency currency=PLN} {7 :unit unit=kilometer unitDisplay=long} {-1 :crow:relative unit=day} {de :crow:name}";
    let formats = Program::compile(&Message::parse(source).unwrap());
    let args = args! { d: DateValue::parse("2026-03-01T17:45").unwrap(), list: ["Curlew", "Iris", "Avocet"] };
    let forms: Vec<String> = (0..25).map(|n| plural.format(&context, &args! { n: n }).text()).collect();
    format!(
        "{} {} {} {:?} {:?} {} {}",
        formats.format(&context, &args).text(),
        forms.join(","),
        Direction::of(tag),
        tag.maximized().to_string(),
        tag.minimized().to_string(),
        tag.parent().map_or(String::new(), |parent| parent.to_string()),
        name(tag, tag, Casing::Menu).unwrap_or_default(),
    )
}

#[test]
fn an_alias_behaves_as_its_canonical_tag() {
    for (alias, canonical) in [
        ("iw", "he"),
        ("iw-IL", "he-IL"),
        ("heb", "he"),
        ("sh", "sr-Latn"),
        ("mo", "ro"),
        ("mo-MD", "ro-MD"),
        ("in", "id"),
        ("deu", "de"),
        ("por-BR", "pt-BR"),
        ("cmn-TW", "zh-TW"),
        ("zh-cmn-Hans-CN", "zh-Hans-CN"),
        ("ar-eg-u-nu-arabext", "ar-EG-u-nu-arabext"),
        ("i-klingon", "tlh"),
        ("ji", "yi"),
        ("hy-SU", "hy-AM"),
    ] {
        assert_eq!(behaviour(&tag(alias)), behaviour(&tag(canonical)), "{alias}");
    }
    assert_eq!(Direction::of(&tag("iw")), Direction::RightToLeft);
    assert_eq!(tag("sh").maximized().to_string(), "sr-Latn-RS");
    let context = FormatContext::of(&tag("por-BR"));
    assert_eq!(context.tag().to_string(), "pt-BR");
    let program = Program::compile(&Message::parse("{1234.5 :number u:locale=deu}").unwrap());
    assert_eq!(program.format(&context, &args! {}).text(), "1.234,5");
}

#[test]
fn every_alias_of_the_data_behaves_as_its_canonical_tag() {
    let data = include_str!("data/locale-canonicalization.txt");
    let sources =
        data.lines().filter(|line| !line.starts_with('#')).filter_map(|line| line.split(';').next());
    let tags = sources.filter_map(|source| LanguageTag::parse_lenient(source.trim()).ok());
    let mut tried = 0;
    for alias in tags.filter(|tag| tag.canonicalized() != *tag) {
        assert_eq!(behaviour(&alias), behaviour(&alias.canonicalized()), "{alias}");
        tried += 1;
    }
    assert!(tried > 1000, "{tried}");
}

#[test]
fn ranges_find_what_their_canonical_forms_find() {
    let set =
        LocaleSet::parse(["en", "iw", "sh", "pt_BR", "deu", "mo", "zh-cmn-Hans-CN", "sr-Cyrl", "hy-SU"])
            .unwrap();
    let range = |text: &str| LanguageRange::parse(text).unwrap();
    let shown = |id| set.text(id).to_owned();
    for (text, lookup, basic, extended) in [
        ("iw", "he", "he", "he"),
        ("he", "he", "he", "he"),
        ("heb", "he", "he", "he"),
        ("iw-IL", "he", "", ""),
        ("sh", "sr-Latn", "sr-Latn", "sr-Latn"),
        ("sr", "", "sr-Latn sr-Cyrl", "sr-Latn sr-Cyrl"),
        ("por-BR", "pt-BR", "pt-BR", "pt-BR"),
        ("por", "", "pt-BR", "pt-BR"),
        ("por-*-BR", "pt-BR", "", "pt-BR"),
        ("deu", "de", "de", "de"),
        ("deu-CH", "de", "", ""),
        ("mo", "ro", "ro", "ro"),
        ("zh-cmn-Hans-CN", "zh-Hans-CN", "zh-Hans-CN", "zh-Hans-CN"),
        ("hy-SU", "hy-AM", "hy-AM", "hy-AM"),
        ("*-CN", "", "", "zh-Hans-CN"),
    ] {
        let range = range(text);
        let join = |ids: Vec<_>| ids.into_iter().map(shown).collect::<Vec<_>>().join(" ");
        assert_eq!(set.lookup([&range]).map(shown).unwrap_or_default(), lookup, "lookup {text}");
        assert_eq!(join(set.filter_basic(&range).collect()), basic, "basic {text}");
        assert_eq!(join(set.filter_extended(&range).collect()), extended, "extended {text}");
    }
    // Excluded ranges, too.
    let header = AcceptLanguage::parse("iw;q=0, *");
    let set = LocaleSet::parse(["he", "en"]).unwrap();
    assert_eq!(set.closest(&header).map(|found| set.text(found.locale).to_owned()).as_deref(), Some("en"));
}

proptest! {
    /// A range equal to a supported tag, as the application wrote it, finds it.
    #[test]
    fn a_supported_tag_as_it_was_written_is_found(text in "(iw|sh|mo|in|deu|por|cmn|zh|sr|hi|en|x)(-(latn|Cyrl|hant))?(-(SU|BR|840|YU|TW))?(-(posix|heploc|arevmda))?(-u-(nu-thai|co-phonebk|kn-true))?(-x-a)?") {
        let Ok(set) = LocaleSet::parse([text.as_str()]) else { return Ok(()) };
        let range = LanguageRange::parse(&text).unwrap();
        let expected = Some(set.default_locale());
        prop_assert_eq!(set.lookup([&range]), expected);
        prop_assert_eq!(set.filter_basic(&range).next(), expected);
        prop_assert_eq!(set.filter_extended(&range).next(), expected);
    }
}
