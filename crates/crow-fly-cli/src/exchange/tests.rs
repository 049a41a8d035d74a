//! Out and back, nothing is lost; and what is written is XLIFF 2.1 by the standard's own rules.

#![allow(clippy::unwrap_used, reason = "a test fails by panicking")]

use std::collections::BTreeSet;

use crow_fly_core::translation::{Code, Piece};
use proptest::prelude::*;

use super::xliff::{Element, Node, parse};
use super::{Document, Format, MessageTexts, UnitText};
use crate::arguments::State;

/// Words, signs of XML and CSV, white space at the ends, and characters that XML cannot have.
fn words() -> impl Strategy<Value = String> {
    prop_oneof![
        3 => "[a-zą-ż <>&\"';,]{1,12}",
        1 => "[ \t\r\n]{1,3}",
        1 => "[\u{1}\u{b}\u{1f}\u{fffe}\u{2068}\u{2069}\u{feff}]{1,2}",
        1 => "[=+@{}\\\\|-]{1,4}",
    ]
}

fn code() -> impl Strategy<Value = Piece> {
    let source = prop::sample::select(vec![
        "{$n}",
        "{$d :date length=long}",
        "{#b}",
        "{/b}",
        "{#a href=|/x?a=1&b=<2>|}",
        "{/a}",
        "{#br /}",
        "{|q|}",
    ]);
    source.prop_map(|source| Piece::Code(Code::parse(source).unwrap()))
}

/// Pieces without two texts in a row.
fn pieces() -> impl Strategy<Value = Vec<Piece>> {
    prop::collection::vec((words(), prop::option::of(code())), 1..5).prop_map(|parts| {
        let mut all: Vec<Piece> = Vec::new();
        for (text, code) in parts {
            match all.last_mut() {
                Some(Piece::Text(last)) => last.push_str(&text),
                _ => all.push(Piece::Text(text)),
            }
            all.extend(code);
        }
        all
    })
}

fn document() -> impl Strategy<Value = Document> {
    let unit = (pieces(), pieces()).prop_map(|(source, target)| UnitText {
        source,
        target: Some(target),
        ..UnitText::default()
    });
    let state = prop::sample::select(vec![State::Untranslated, State::Stale, State::Translated]);
    let message =
        (prop::collection::vec(unit, 1..4), state, prop::option::of("[a-z<&]{1,9}"), "[0-9a-f]{0,16}");
    prop::collection::vec(message, 1..6).prop_map(|messages| Document {
        source_locale: "en".to_owned(),
        target_locale: "pl".to_owned(),
        messages: messages
            .into_iter()
            .enumerate()
            .map(|(at, (mut units, state, note, base))| {
                if units.len() > 1 {
                    let forms = ["one", "few *", "*"];
                    units.iter_mut().zip(forms).for_each(|(unit, form)| form.clone_into(&mut unit.form));
                }
                let key = format!("{}.key-{at}", ["home", "trip"][at % 2]);
                MessageTexts { key, note, places: None, state, base, units }
            })
            .collect(),
    })
}

/// A document without what is only for people.
fn bare(mut document: Document) -> Document {
    document.source_locale.clear();
    for message in &mut document.messages {
        message.note = None;
        for unit in &mut message.units {
            unit.line = 0;
            unit.hint = None;
        }
    }
    document
}

/// Key, state, base; then form, source and target of each text.
type Joined = (String, State, String, Vec<(String, String, Option<String>)>);

/// The same, with every text as one source: a table does not tell code from text.
fn joined(document: Document) -> Vec<Joined> {
    let unit =
        |unit: UnitText| (unit.form, Piece::join(&unit.source), unit.target.as_deref().map(Piece::join));
    let message = |message: MessageTexts| {
        (message.key, message.state, message.base, message.units.into_iter().map(unit).collect())
    };
    bare(document).messages.into_iter().map(message).collect()
}

proptest! {
    #[test]
    fn what_is_written_as_xliff_is_read_again(document in document()) {
        let bytes = Format::Xliff.write(&document).unwrap();
        let text = String::from_utf8(bytes).unwrap();
        hold_against_the_standard(&text);
        prop_assert_eq!(bare(Format::Xliff.read(&text).unwrap()), bare(document));
    }

    #[test]
    fn what_is_written_as_csv_is_read_again(document in document()) {
        let text = String::from_utf8(Format::Csv.write(&document).unwrap()).unwrap();
        prop_assert_eq!(joined(Format::Csv.read(&text).unwrap()), joined(document));
    }

    /// Files come from anywhere: what is not XLIFF is refused, never a panic.
    #[test]
    fn hostile_files_are_refused(text in "(<(xliff|file|unit|segment|source|ph|pc|cp)( (id|name|hex|dataRef)='[a-z0-9]{0,3}')? ?/?>|</[a-z]{1,6}>|&[a-z#0-9]{1,4};|[a-z]){0,20}") {
        let _ = Format::Xliff.read(&text);
        let _ = Format::Xliff.read(&format!("<xliff xmlns='urn:oasis:names:tc:xliff:document:2.0'>{text}</xliff>"));
        let _ = Format::Csv.read(&text);
    }
}

#[test]
fn nesting_without_end_is_refused() {
    let text = "<a>".repeat(100_000);
    assert!(Format::Xliff.read(&text).unwrap_err().to_string().contains("nested too deeply"));
}

/// What an element must and may have: OASIS XLIFF 2.1, sections 4.2 and 4.3.
struct Rule {
    required: &'static [&'static str],
    optional: &'static [&'static str],
    /// The kinds of children, in their order; `*` many, `?` one or none, `+` at least one.
    children: &'static [(&'static str, char)],
}

fn rule(name: &str) -> Rule {
    let (required, optional, children): (&[_], &[_], &[_]) = match name {
        "xliff" => {
            (&["version", "srcLang"], &["trgLang", "xmlns", "xmlns:mda", "xml:space"], &[("file", '+')])
        }
        "file" => (
            &["id"],
            &["original", "canResegment", "translate", "srcDir", "trgDir", "xml:space"],
            &[("skeleton", '?'), ("other", '*'), ("notes", '?'), ("unit group", '+')],
        ),
        "group" => (
            &["id"],
            &["name", "canResegment", "translate", "srcDir", "trgDir", "type", "xml:space"],
            &[("other", '*'), ("notes", '?'), ("unit group", '*')],
        ),
        "unit" => (
            &["id"],
            &["name", "canResegment", "translate", "srcDir", "trgDir", "type", "xml:space"],
            &[("other", '*'), ("notes", '?'), ("originalData", '?'), ("segment ignorable", '+')],
        ),
        "notes" => (&[], &[], &[("note", '+')]),
        "note" => (&[], &["id", "appliesTo", "category", "priority"], &[]),
        "originalData" => (&[], &[], &[("data", '+')]),
        "data" => (&["id"], &["dir", "xml:space"], &[("cp", '*')]),
        "segment" => (&[], &["id", "canResegment", "state", "subState"], &[("source", '1'), ("target", '?')]),
        "source" => (&[], &["xml:lang", "xml:space"], &[("ph pc sc ec cp mrk sm em", '*')]),
        "target" => (&[], &["xml:lang", "xml:space", "order"], &[("ph pc sc ec cp mrk sm em", '*')]),
        "ph" => (
            &["id"],
            &[
                "canCopy",
                "canDelete",
                "canReorder",
                "copyOf",
                "disp",
                "equiv",
                "dataRef",
                "subFlows",
                "subType",
                "type",
            ],
            &[],
        ),
        "pc" => (
            &["id"],
            &["canCopy", "canDelete", "canOverlap", "canReorder", "dataRefStart", "dataRefEnd", "type"],
            &[("ph pc sc ec cp mrk sm em", '*')],
        ),
        "sc" => (
            &["id"],
            &["canCopy", "canDelete", "canOverlap", "canReorder", "dataRef", "isolated", "type"],
            &[],
        ),
        "ec" => (
            &[],
            &["id", "startRef", "canCopy", "canDelete", "canReorder", "dataRef", "isolated", "type"],
            &[],
        ),
        "cp" => (&["hex"], &[], &[]),
        other => panic!("`{other}` is not an element of XLIFF 2.1"),
    };
    Rule { required, optional, children }
}

fn hold_against_the_standard(text: &str) {
    let root = parse(text).unwrap();
    assert_eq!((root.name.as_str(), root.attribute("version")), ("xliff", Some("2.1")));
    hold(&root);
    unique(root.elements().filter_map(|file| file.attribute("id")));
    for file in root.elements() {
        let mut all = Vec::new();
        descendants(file, &mut all);
        for kind in ["unit", "group"] {
            unique(all.iter().filter(|one| one.name == kind).filter_map(|one| one.attribute("id")));
        }
        for unit in all.iter().filter(|one| one.name == "unit") {
            hold_unit(unit);
        }
    }
}

fn hold(element: &Element) {
    let name = &element.name;
    let Rule { required, optional, children } = rule(name);
    for attribute in required {
        assert!(element.attribute(attribute).is_some(), "`{name}` has no `{attribute}`");
    }
    for (attribute, value) in &element.attributes {
        let is_known = required.contains(&attribute.as_str()) || optional.contains(&attribute.as_str());
        assert!(is_known, "`{name}` cannot have `{attribute}`");
        if attribute == "id" {
            let is_token = |letter: char| letter.is_ascii_alphanumeric() || "-_.:".contains(letter);
            assert!(!value.is_empty() && value.chars().all(is_token), "`{value}` is not an NMTOKEN");
        }
    }
    if element.attribute("subState").is_some() {
        assert!(element.attribute("state").is_some(), "`subState` without `state`");
        assert!(element.attribute("subState").unwrap().contains(':'), "`subState` has a prefix");
    }
    if matches!(element.attribute("canReorder"), Some("no" | "firstNo")) {
        assert_eq!((element.attribute("canCopy"), element.attribute("canDelete")), (Some("no"), Some("no")));
    }
    if name == "ec" && element.attribute("isolated") == Some("yes") {
        assert!(element.attribute("id").is_some(), "an isolated `ec` has an id");
    }
    // Children in the order of the rule.
    let kind = |child: &Element| if child.is_core { child.name.clone() } else { "other".to_owned() };
    let mut kinds = element.elements().map(kind).peekable();
    for (names, count) in children {
        let mut found = 0;
        while kinds.peek().is_some_and(|kind| names.split(' ').any(|name| name == kind)) {
            kinds.next();
            found += 1;
        }
        let fits = match count {
            '+' => found > 0,
            '?' => found < 2,
            '1' => found == 1,
            _ => true,
        };
        assert!(fits, "`{name}` has {found} of `{names}`");
    }
    assert_eq!(kinds.next(), None, "a child of `{name}` is out of place");
    // Text stands only where it may.
    let has_text = matches!(name.as_str(), "note" | "data" | "source" | "target" | "pc");
    for child in &element.children {
        match child {
            Node::Text(text) => assert!(has_text || text.trim().is_empty(), "text in `{name}`"),
            Node::Element(child) if child.is_core => hold(child),
            Node::Element(_) => {}
        }
    }
}

fn hold_unit(unit: &Element) {
    let mut all = Vec::new();
    descendants(unit, &mut all);
    let data: Vec<&str> =
        all.iter().filter(|one| one.name == "data").filter_map(|one| one.attribute("id")).collect();
    unique(data.iter().copied());
    for one in &all {
        for name in ["dataRef", "dataRefStart", "dataRefEnd"] {
            if let Some(reference) = one.attribute(name) {
                assert!(data.contains(&reference), "there is no data `{reference}`");
            }
        }
    }
    // An inline code of the target is that of the source with the same id.
    let codes = |side: &str| -> Vec<(String, String)> {
        let mut inside = Vec::new();
        for one in all.iter().filter(|one| one.name == side) {
            descendants(one, &mut inside);
        }
        let references = |one: &Element| {
            ["dataRef", "dataRefStart", "dataRefEnd"]
                .map(|name| one.attribute(name).unwrap_or_default())
                .join(" ")
        };
        inside
            .into_iter()
            .filter(|one| matches!(one.name.as_str(), "ph" | "pc" | "sc" | "ec"))
            .filter_map(|one| Some((one.attribute("id")?.to_owned(), references(one))))
            .collect()
    };
    let (source, target) = (codes("source"), codes("target"));
    for side in [&source, &target] {
        unique(side.iter().map(|(id, _)| id.as_str()));
    }
    for (id, references) in &target {
        if let Some((_, same)) = source.iter().find(|(known, _)| known == id) {
            assert_eq!(references, same, "the code {id} differs");
        }
    }
}

fn descendants<'e>(element: &'e Element, all: &mut Vec<&'e Element>) {
    for child in element.elements().filter(|child| child.is_core) {
        all.push(child);
        descendants(child, all);
    }
}

fn unique<'i>(ids: impl Iterator<Item = &'i str>) {
    let mut known = BTreeSet::new();
    for id in ids {
        assert!(known.insert(id), "the id `{id}` is given twice");
    }
}
