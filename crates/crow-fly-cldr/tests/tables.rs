//! The tables are in the order that searching them takes, and hold what CLDR says of a few well-known languages.

#![allow(clippy::unwrap_used, reason = "a test fails by panicking")]

use std::path::Path;

use crow_fly_cldr::formats::LISTS;
use crow_fly_cldr::plurals::{Category, Operand};
use crow_fly_cldr::{Code, aliases, code, likely, matching, names, numbers, parents, plurals, scripts};

/// A code as the text it packs.
fn text(code: Code) -> String {
    code.to_be_bytes().into_iter().filter(|byte| *byte != 0).map(char::from).collect()
}

#[test]
fn codes_pack_up_to_four_letters_and_sort_as_their_texts() {
    assert_eq!(code(b"en"), 0x656e_0000);
    assert_eq!(code(b"Latn"), 0x4c61_746e);
    assert_eq!(code(b""), 0);
    assert_eq!(code(b"toolong"), code(b"tool"));
    let mut codes: Vec<Code> =
        ["zh", "aa", "haw", "en", "ha"].iter().map(|text| code(text.as_bytes())).collect();
    codes.sort_unstable();
    assert_eq!(codes.iter().map(|code| text(*code)).collect::<Vec<_>>(), ["aa", "en", "ha", "haw", "zh"]);
}

/// The first columns of the rows of a generated table, as their bytes: what a search compares.
fn keys(file: &str, table: &str) -> Vec<String> {
    let path = Path::new(env!("CARGO_MANIFEST_DIR")).join("src/generated").join(file);
    let source = std::fs::read_to_string(path).unwrap();
    let (_, rows) = source.split_once(&format!(" {table}: [")).unwrap();
    let (_, rows) = rows.split_once("= [\n").unwrap();
    let (rows, _) = rows.split_once("\n];").unwrap();
    rows.lines().map(|row| row.trim().replace("\\0", "\0")).collect()
}

#[test]
fn every_searched_table_is_sorted_and_has_no_row_twice() {
    for (file, table) in [
        ("likely.rs", "THREE_LETTERS"),
        ("likely.rs", "BY_PARTS"),
        ("parents.rs", "PARENTS"),
        ("plurals.rs", "CARDINAL_LOCALES"),
        ("plurals.rs", "ORDINAL_LOCALES"),
        ("numbers.rs", "LOCALES"),
        ("aliases.rs", "TWO_LETTERS"),
        ("aliases.rs", "THREE_LETTERS"),
        ("aliases.rs", "TWO_LETTER_REGIONS"),
        ("aliases.rs", "OTHER_REGIONS"),
        ("aliases.rs", "SUBDIVISIONS"),
        ("aliases.rs", "VALUES"),
        ("matching.rs", "REGION_CLASSES"),
        ("scripts.rs", "RIGHT_TO_LEFT"),
    ] {
        let keys = keys(file, table);
        assert!(!keys.is_empty(), "{table}");
        for pair in keys.windows(2) {
            assert!(pair[0] < pair[1], "{file}, {table}: {:?} stands before {:?}", pair[0], pair[1]);
        }
    }
}

#[test]
fn rows_of_one_desired_language_stand_together() {
    let desired: Vec<Code> = matching::desired_languages().collect();
    assert!(desired.is_sorted());
    assert!(desired.windows(2).all(|pair| pair[0] != pair[1]));
    assert!(desired.len() > 200);
}

#[test]
fn likely_subtags_are_found_for_two_and_three_letters() {
    let likely = |language: &[u8]| {
        likely::language(code(language)).map(|(script, region)| format!("{}-{}", text(script), text(region)))
    };
    assert_eq!(likely(b"en").as_deref(), Some("Latn-US"));
    assert_eq!(likely(b"haw").as_deref(), Some("Latn-US"));
    assert_eq!(likely(b"zh").as_deref(), Some("Hans-CN"));
    assert_eq!(likely(b"qqq"), None);
    assert_eq!(likely(b"xx"), None);
    assert_eq!(likely(b"Latn"), None);
    let parts = likely::parts(code(b"zh"), 0, code(b"TW")).unwrap();
    assert_eq!((text(parts.1), text(parts.2)), ("Hant".to_owned(), "TW".to_owned()));
}

#[test]
fn aliases_have_one_replacement_or_several() {
    assert_eq!(aliases::language(code(b"iw")), Some("he"));
    assert_eq!(aliases::language(code(b"cmn")), Some("zh"));
    assert_eq!(aliases::language(code(b"en")), None);
    assert_eq!(aliases::script(code(b"Qaai")), Some(*b"Zinh"));
    assert_eq!(aliases::region(code(b"DD")).unwrap(), [*b"DE\0"]);
    assert!(aliases::region(code(b"SU")).unwrap().len() > 10);
    assert_eq!(aliases::variant("heploc"), Some("alalc97"));
    assert_eq!(aliases::subdivision("no23"), Some("no50"));
    assert_eq!(aliases::value(b'u', *b"ca", "islamicc"), Some("islamic-civil"));
    assert_eq!(aliases::value(b't', *b"ca", "islamicc"), None);
    assert_eq!(aliases::grandfathered().len(), 26);
    let sign = aliases::compound().iter().find(|rule| rule.to == "bzs").unwrap();
    assert_eq!((text(sign.language()), text(sign.region())), ("sgn".to_owned(), "BR".to_owned()));
}

#[test]
fn matching_rows_go_one_way_or_both() {
    let distance = |desired: &[u8], supported: &[u8]| {
        matching::languages(code(desired))
            .find(|(near, _)| *near == code(supported))
            .map(|(_, distance)| distance)
    };
    assert_eq!(distance(b"nb", b"no"), Some(1));
    assert_eq!(distance(b"no", b"nb"), Some(1));
    assert_eq!(distance(b"gsw", b"de"), Some(4));
    assert_eq!(distance(b"de", b"gsw"), None);
    assert_eq!((matching::LANGUAGE_DEFAULT, matching::SCRIPT_DEFAULT), (80, 50));
    let class = |region: &[u8]| matching::region_class(code(region));
    assert_eq!(class(b"MX"), class(b"419"));
    assert_ne!(class(b"MX"), class(b"ES"));
    assert_eq!(class(b"001"), class(b"DE"));
    assert!(usize::from(class(b"GB")) < matching::REGION_CLASSES);
    assert_eq!(matching::paradigms().count(), 6);
}

#[test]
fn parents_scripts_and_numbers_are_found() {
    let parent = |language: &[u8], script: &[u8], region: &[u8]| {
        parents::parent(code(language), code(script), code(region))
    };
    assert_eq!(parent(b"en", b"", b"AU"), Some((code(b"en"), 0, code(b"001"))));
    assert_eq!(parent(b"zh", b"Hant", b""), Some((0, 0, 0)));
    assert_eq!(parent(b"cy", b"", b""), None);
    assert!(scripts::is_right_to_left(code(b"Arab")) && scripts::is_right_to_left(code(b"Aran")));
    assert!(!scripts::is_right_to_left(code(b"Latn")) && !scripts::is_right_to_left(0));
    let polish = numbers::shapes(code(b"pl"), 0, 0).unwrap().first().unwrap();
    assert_eq!((polish.system(), polish.symbols().decimal, polish.grouping.minimum), ("latn", ",", 2));
    assert_eq!(numbers::digits("arab").unwrap()[3], '٣');
    assert_eq!(numbers::system_of(numbers::digits("deva").unwrap()), "deva");
    assert_eq!(numbers::digits("nosuch"), None);
}

#[test]
fn plural_rules_are_data() {
    let (rules, samples) = plurals::cardinal(code(b"en"), 0, 0).unwrap();
    assert_eq!(rules.len(), 1);
    assert_eq!(rules[0].category, Category::One);
    // i = 1 and v = 0
    let relations = rules[0].any_of[0];
    assert_eq!(
        relations.iter().map(|relation| relation.operand).collect::<Vec<_>>(),
        [Operand::I, Operand::V]
    );
    assert!(relations.iter().all(|relation| relation.equal && relation.modulus == 0));
    assert_eq!(samples.last().unwrap().0, Category::Other);
    assert!(plurals::ordinal(code(b"cy"), 0, 0).unwrap().0.len() >= 5);
    assert!(plurals::cardinal(code(b"qqq"), 0, 0).is_none());
    assert!(plurals::cardinal_locales().count() > 200 && plurals::ordinal_locales().count() > 90);
}

#[test]
fn names_are_inherited_and_damaged_questions_have_no_answer() {
    assert_eq!(names::OWN.get("cy", "cy"), Some("Cymraeg"));
    assert_eq!(names::OWN.get("en-GB", "en-GB"), Some("British English"));
    assert_eq!(names::OWN.get("en-AU", "{pattern}"), Some("{0} ({1})"));
    for (locale, key) in [("", ""), ("nosuch", "en"), ("en", "nosuch"), ("en", ""), ("\u{ffff}", "\u{ffff}")]
    {
        assert_eq!(names::OWN.get(locale, key), None, "{locale} {key}");
    }
    let locales: Vec<_> = names::OWN.locales().collect();
    assert!(locales.is_sorted() && locales.len() > 700);
    assert!(names::OWN.has("zh-Hant-HK") && !names::OWN.has("zh-TW"));
    #[cfg(feature = "names")]
    assert_eq!(names::ALL.get("pl", "cy"), Some("walijski"));
}

#[test]
fn a_key_is_the_same_where_code_is_compiled_and_where_it_runs() {
    use crow_fly_cldr::formats::{CURRENCIES, DATES, LISTS, NUMBERS, UNITS};
    for texts in [CURRENCIES, DATES, LISTS, NUMBERS, UNITS] {
        assert!(texts.keys().all(|key| texts.key(key) == Some(texts.constant(key))));
    }
}

#[test]
fn list_patterns_have_their_two_items_in_order() {
    let mut patterns = 0;
    for locale in LISTS.locales() {
        let texts = LISTS.of(locale).unwrap();
        for key in LISTS.keys() {
            let Some(pattern) = texts.get(key) else { continue };
            let (first, second) = (pattern.find("{0}"), pattern.find("{1}"));
            assert!(first.is_some() && first < second, "{locale} {key}: {pattern}");
            assert_eq!(pattern.matches('{').count(), 2, "{locale} {key}: {pattern}");
            patterns += 1;
        }
    }
    assert!(patterns > 1000, "{patterns}");
}
