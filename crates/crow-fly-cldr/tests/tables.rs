//! The tables are in the order that searching them takes, and hold what CLDR says of a few well-known languages.

#![allow(clippy::unwrap_used, reason = "a test fails by panicking")]

use std::collections::BTreeSet;
use std::path::Path;

use crow_fly_cldr::formats::{CURRENCIES, DATES, LISTS, NUMBERS, UNITS};
use crow_fly_cldr::keys::{self, CATEGORIES, OTHER, key};
use crow_fly_cldr::names::OWN;
use crow_fly_cldr::plurals::{Category, Operand};
use crow_fly_cldr::texts::Texts;
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
    let plurals::RuleSet { rules, samples, whole_numbers, .. } =
        plurals::cardinal(code(b"en"), 0, 0).unwrap();
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
    let category = |number| whole_numbers.category(number);
    assert_eq!(
        [category(1), category(2), category(101), category(100)],
        [Some(Category::One), Some(Category::Other), Some(Category::Other), None]
    );
    assert!(plurals::ordinal(code(b"cy"), 0, 0).unwrap().rules.len() >= 5);
    assert!(plurals::cardinal(code(b"qqq"), 0, 0).is_none());
    assert!(plurals::cardinal_locales().count() > 200 && plurals::ordinal_locales().count() > 90);
}

#[test]
fn names_are_inherited_and_damaged_questions_have_no_answer() {
    assert_eq!(OWN.get("cy", "cy"), Some("Cymraeg"));
    assert_eq!(OWN.get("en-GB", "en-GB"), Some("British English"));
    assert_eq!(OWN.get("en-AU", "{pattern}"), Some("{0} ({1})"));
    for (locale, key) in [("", ""), ("nosuch", "en"), ("en", "nosuch"), ("en", ""), ("\u{ffff}", "\u{ffff}")]
    {
        assert_eq!(OWN.get(locale, key), None, "{locale} {key}");
    }
    let locales: Vec<_> = OWN.locales().collect();
    assert!(locales.is_sorted() && locales.len() > 700);
    assert!(OWN.has("zh-Hant-HK") && !OWN.has("zh-TW"));
    #[cfg(feature = "names")]
    assert_eq!(names::ALL.get("pl", "cy"), Some("walijski"));
}

#[test]
fn a_key_is_the_same_where_code_is_compiled_and_where_it_runs() {
    use crow_fly_cldr::formats::{CURRENCIES, DATES, LISTS, NUMBERS, UNITS};
    for texts in [CURRENCIES, DATES, LISTS, NUMBERS, UNITS] {
        assert!(texts.keys().all(|key| {
            let parts: Vec<&str> = key.split('/').collect();
            texts.key(&key) == Some(texts.constant(&parts))
        }));
    }
}

/// Keys are written as what they have more than the one before: each is found, what stands between two is not, and those
/// of a part are those that a search through all of them finds.
#[test]
fn every_key_is_found_and_nothing_else() {
    let mut found = 0;
    for texts in [CURRENCIES, DATES, LISTS, NUMBERS, UNITS, OWN] {
        let all: BTreeSet<String> = texts.keys().collect();
        assert!(texts.keys().eq(all.iter().cloned()), "keys are sorted, and each is there once");
        for name in &all {
            let key = texts.key(name).unwrap_or_else(|| panic!("{name} is not found"));
            assert_eq!(texts.key_text(key).as_ref(), Some(name));
            found += 1;
            for end in 0..name.len() {
                let letter = char::from(name.as_bytes()[end]);
                let beside = [char::from(letter as u8 - 1), char::from(letter as u8 + 1)];
                let others =
                    [format!("{}{}", &name[..end], beside[0]), format!("{}{}", &name[..end], beside[1])];
                for other in others.iter().map(String::as_str).chain([&name[..end]]) {
                    assert_eq!(texts.key(other).is_some(), all.contains(other), "{other}");
                }
            }
            for other in [format!("{name}/"), format!("{name}\u{ff}"), format!("{name}a")] {
                assert_eq!(texts.key(&other).is_some(), all.contains(&other), "{other}");
            }
        }
        let parts: BTreeSet<&str> = all.iter().filter_map(|key| Some(key.split_once('/')?.0)).collect();
        for part in parts.into_iter().chain(["", "a", "relativ", "zzz", "\u{ff}"]) {
            let of = all.iter().filter_map(|key| key.strip_prefix(part)?.strip_prefix('/'));
            assert!(texts.keys_of(part).eq(of), "{part}");
        }
    }
    assert!(found > 8_000, "{found}");
}

#[test]
fn list_patterns_have_their_two_items_in_order() {
    let mut patterns = 0;
    for locale in LISTS.locales() {
        let texts = LISTS.of(locale).unwrap();
        for key in LISTS.keys() {
            let Some(pattern) = texts.get(&key) else { continue };
            let (first, second) = (pattern.find("{0}"), pattern.find("{1}"));
            assert!(first.is_some() && first < second, "{locale} {key}: {pattern}");
            assert_eq!(pattern.matches('{').count(), 2, "{locale} {key}: {pattern}");
            patterns += 1;
        }
    }
    assert!(patterns > 1000, "{patterns}");
}

/// Every key of `keys`, but for the open ones: of units, currencies, skeletons and names.
#[test]
fn every_key_that_readers_ask_for_is_in_its_file() {
    let with_all = |before: &[&str], last: &[&str]| -> Vec<String> {
        last.iter().map(|last| key(&[before, &[last]].concat())).collect()
    };
    let mut expected: Vec<(Texts, String)> = Vec::new();
    let mut expect =
        |texts: Texts, keys: Vec<String>| expected.extend(keys.into_iter().map(|key| (texts, key)));
    for name in keys::numbers::BY_SYSTEM {
        expect(NUMBERS, with_all(&[name], &[keys::numbers::LATIN]));
    }
    expect(NUMBERS, with_all(&[keys::numbers::MONEY_UNIT], &CATEGORIES));
    for name in [keys::numbers::COMPACT_SHORT, keys::numbers::COMPACT_LONG, keys::numbers::COMPACT_MONEY] {
        for zeros in keys::numbers::MAGNITUDES {
            expect(NUMBERS, with_all(&[name, &zeros.to_string()], &[OTHER]));
        }
    }
    expect(CURRENCIES, with_all(&["USD"], &[keys::currencies::NARROW, keys::currencies::NAME, OTHER]));
    for width in keys::units::WIDTHS {
        expect(UNITS, with_all(&["kilometer", width], &[keys::units::PER, OTHER]));
        expect(UNITS, with_all(&[keys::units::PER], &[width]));
    }
    for kind in keys::lists::KINDS {
        for width in keys::lists::WIDTHS {
            expect(LISTS, with_all(&[&format!("{kind}{width}")], &keys::lists::PARTS));
        }
    }
    for width in [keys::dates::WIDE, keys::dates::ABBREVIATED, keys::dates::NARROW] {
        for kind in [keys::dates::MONTH, keys::dates::MONTH_ALONE] {
            expect(DATES, with_all(&[kind, width], &keys::dates::MONTHS));
        }
        for kind in [keys::dates::DAY, keys::dates::DAY_ALONE] {
            expect(DATES, with_all(&[kind, width], &keys::dates::DAYS));
        }
        for kind in [keys::dates::QUARTER, keys::dates::QUARTER_ALONE] {
            expect(DATES, with_all(&[kind, width], &keys::dates::QUARTERS));
        }
        for kind in [keys::dates::PERIOD, keys::dates::PERIOD_ALONE] {
            expect(DATES, with_all(&[kind, width], &["am", "pm"]));
        }
        expect(DATES, with_all(&[keys::dates::ERA, width], &["0", "1"]));
    }
    for kind in [keys::dates::DAY, keys::dates::DAY_ALONE] {
        expect(DATES, with_all(&[kind, keys::dates::SHORT_NAME], &keys::dates::DAYS));
    }
    for kind in [keys::dates::DATE, keys::dates::TIME, keys::dates::JOIN, keys::dates::AT] {
        expect(DATES, with_all(&[kind], &keys::dates::LENGTHS));
    }
    expect(DATES, with_all(&[keys::dates::SKELETON], &["yMMMd", "Hm", "hm", "MMMd"]));
    expect(DATES, with_all(&[keys::dates::INTERVAL, "yMMMd"], &["d", "M", "y"]));
    expect(DATES, with_all(&[keys::dates::APPEND], &[keys::dates::ZONE]));
    let alone = [keys::dates::INTERVAL, keys::dates::GMT, keys::dates::GMT_ZERO, keys::dates::GMT_HOURS];
    expect(DATES, with_all(&[], &alone));
    for direction in keys::dates::DIRECTIONS {
        expect(DATES, with_all(&[keys::dates::RELATIVE, "day-short", direction], &[OTHER]));
    }
    expect(OWN, with_all(&[], &[keys::names::PATTERN, keys::names::SEPARATOR, keys::names::MENU, "en"]));
    expect(OWN, vec![format!("{}valencia", keys::names::VARIANT)]);
    let missing: Vec<_> =
        expected.iter().filter(|(texts, key)| texts.key(key).is_none()).map(|(_, key)| key).collect();
    assert!(missing.is_empty(), "{missing:?}");
    assert!(expected.len() > 250, "{}", expected.len());
}

/// The other way: what the generator wrote is of a kind that `keys` names.
#[test]
fn every_key_of_a_file_is_of_a_kind_that_is_named() {
    let dates = [
        keys::dates::MONTH,
        keys::dates::MONTH_ALONE,
        keys::dates::DAY,
        keys::dates::DAY_ALONE,
        keys::dates::PERIOD,
        keys::dates::PERIOD_ALONE,
        keys::dates::ERA,
        keys::dates::QUARTER,
        keys::dates::QUARTER_ALONE,
        keys::dates::DATE,
        keys::dates::TIME,
        keys::dates::JOIN,
        keys::dates::AT,
        keys::dates::SKELETON,
        keys::dates::INTERVAL,
        keys::dates::APPEND,
        keys::dates::DATE_SKELETON,
        keys::dates::GMT,
        keys::dates::GMT_ZERO,
        keys::dates::GMT_HOURS,
        keys::dates::RELATIVE,
    ];
    let numbers: Vec<&str> = keys::numbers::BY_SYSTEM
        .into_iter()
        .chain([
            keys::numbers::MONEY_UNIT,
            keys::numbers::COMPACT_SHORT,
            keys::numbers::COMPACT_LONG,
            keys::numbers::COMPACT_MONEY,
        ])
        .collect();
    let lists: Vec<String> = keys::lists::KINDS
        .iter()
        .flat_map(|kind| keys::lists::WIDTHS.map(|width| format!("{kind}{width}")))
        .collect();
    let lists: Vec<&str> = lists.iter().map(String::as_str).collect();
    for (texts, kinds) in [(DATES, &dates[..]), (NUMBERS, &numbers), (LISTS, &lists)] {
        for known in texts.keys() {
            let kind = known.split('/').next().unwrap();
            assert!(kinds.contains(&kind), "{known}");
        }
    }
    for known in UNITS.keys() {
        let parts: Vec<&str> = known.split('/').collect();
        let widths = keys::units::WIDTHS;
        if parts[0] == keys::units::CLOCK {
            assert!(keys::units::CLOCKS.contains(&parts[1]), "{known}");
            continue;
        }
        let last = |part: &&str| *part == keys::units::PER || CATEGORIES.contains(part);
        assert!(widths.contains(&parts[1]) && parts.get(2).is_none_or(last), "{known}");
    }
    for known in CURRENCIES.keys() {
        let (code, form) = known.split_once('/').unwrap_or((&known, OTHER));
        let forms = [keys::currencies::NARROW, keys::currencies::NAME];
        assert!(code.len() == 3 && (forms.contains(&form) || CATEGORIES.contains(&form)), "{known}");
    }
}
