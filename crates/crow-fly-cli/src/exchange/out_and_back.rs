//! Texts that go out and come back: what was edited changes, and nothing else.

#![allow(clippy::unwrap_used, reason = "a test fails by panicking")]

use std::collections::{BTreeMap, BTreeSet};
use std::fmt::Write as _;
use std::fs;
use std::path::Path;

use crow_fly_core::catalog::SectionSource;
use crow_fly_core::tag::LanguageTag;
use crow_fly_core::translation::{CodeKind, Piece, Units};
use proptest::prelude::*;

use super::Format;
use crate::project::Project;
use crate::trial::carry_out;
use crate::writing::RealDisk;

/// A message of the default locale and its translation, as they may be written.
const MESSAGES: [(&str, &str); 9] = [
    ("Ferries", "Promy"),
    ("Ferries to {$town}", "Promy do {$town}"),
    ("  A \\{brace\\} and a \\\\ \"quote\" ", "Nawias \\{a\\} i \\\\ \"cudzysłów\" "),
    ("{#a href=|/help|}Help{/a} for {$who :string}", "{#a href=|/help|}Pomoc{/a} dla { $who  :string }"),
    (
        ".input {$n :integer}\n.match $n\none {{One seat}}\n* {{{$n} seats}}",
        ".input  {$n :integer}\n.match  $n\n  one  {{Jedno miejsce}}\n  few  {{{$n} miejsca}}\n  many {{{$n} miejsc}}\n  *    {{{$n} miejsca}}",
    ),
    (
        ".input {$n :integer}\n.match $n\n0 {{None}}\none {{One}}\n* {{{$n} of them}}",
        ".input {$n :integer} .match $n 0 {{Zero}} few {{{$n} few}} * {{{$n} sztuk}} many {{{$n} wiele}} one {{Jeden}}",
    ),
    (".input {$d :date length=long}\n{{Until {$d}}}", ".input { $d :date length=long }\n\n{{Do {$d}}}"),
    (
        ".input {$w :string}\n.match $w\na {{A}}\n* {{Any}}",
        ".input {$w :string}\n.match $w\n*  {{Każdy}}\na  {{To A}}",
    ),
    ("One\nline\nafter another", "Jedna\nlinia\npo drugiej"),
];

/// How a translation is kept.
#[derive(Clone, Copy, Debug)]
enum Kept {
    Translated,
    Marked,
    Missing,
}

#[derive(Clone, Debug)]
struct Case {
    /// Which messages, how the translation of each is kept, and whether it has a note.
    messages: Vec<(usize, Kept, bool)>,
    /// Whether the translations are JSON, end lines in CR LF, and begin with a byte-order mark.
    form: (bool, bool, bool),
    format: Format,
    /// Which units are edited, and what is written behind their words.
    edits: Vec<(prop::sample::Index, String)>,
}

fn case() -> impl Strategy<Value = Case> {
    let kept = prop_oneof![4 => Just(Kept::Translated), 1 => Just(Kept::Marked), 1 => Just(Kept::Missing)];
    let messages = prop::collection::vec((0..MESSAGES.len(), kept, any::<bool>()), 2..9);
    let words = "[ a-zą-ż=@'\",;{}\\\\<>&#\u{5d0}-\u{5da}]{0,9}[a-z]";
    let edits = prop::collection::vec((any::<prop::sample::Index>(), words), 4..9);
    let format = prop::sample::select(vec![Format::Csv, Format::Xliff]);
    let form = (prop::bool::weighted(0.2), prop::bool::weighted(0.2), prop::bool::weighted(0.2));
    (messages, form, format, edits).prop_map(|(messages, form, format, edits)| Case {
        messages,
        form,
        format,
        edits,
    })
}

/// The catalogs of a case: the default locale's, and the translation's.
fn catalogs(case: &Case) -> (String, String) {
    let (mut reference, mut own) = (String::from("# Ours.\n\n"), String::from("# Nasze.\n\n"));
    let mut json = serde_json::Map::new();
    for (at, (message, kept, has_note)) in case.messages.iter().enumerate() {
        let (source, target) = MESSAGES.get(*message).unwrap();
        let toml = |text: &str| {
            if at % 2 == 0 { format!("'''{text}'''") } else { serde_json::to_string(text).unwrap() }
        };
        let note = if *has_note { format!("# Note {at}.\n") } else { String::new() };
        let _ = writeln!(reference, "{note}k{at} = {} # {at}", toml(source));
        match kept {
            Kept::Missing => {}
            Kept::Marked if !case.form.0 => {
                let _ = writeln!(own, "{note}# untranslated\nk{at} = {}\n", toml(source));
            }
            _ => {
                let _ = writeln!(own, "{note}k{at}   = {} # {at}", toml(target));
            }
        }
        if !matches!(kept, Kept::Missing) {
            json.insert(format!("k{at}"), (*target).into());
        }
    }
    if case.form.0 {
        own = serde_json::to_string_pretty(&json).unwrap() + "\n";
    }
    if case.form.1 {
        own = own.replace('\n', "\r\n");
    }
    if case.form.2 {
        own.insert(0, '\u{feff}');
    }
    (reference, own)
}

/// The texts of a locale, with their notes, in order.
fn texts(folder: &Path, locale: &str) -> Vec<(String, String, Option<String>)> {
    let project = Project::open(&folder.join("crow-fly.toml")).unwrap();
    let id = project.locale(locale).unwrap();
    let catalogs = project.read(&project.list().unwrap(), id);
    let note = |note: Option<&str>| {
        let lines = note?.lines().filter(|line| line.trim() != "untranslated").collect::<Vec<_>>().join("\n");
        (!lines.is_empty()).then_some(lines)
    };
    let entries = catalogs.sections.values().flat_map(SectionSource::entries);
    entries.map(|entry| (entry.key().to_owned(), entry.text().to_owned(), note(entry.note()))).collect()
}

/// Writes behind the words of a text; whether it has any.
fn edit(pieces: &mut Vec<Piece>, words: &str) -> bool {
    let is_frame = |piece: &Piece| matches!(piece, Piece::Code(code) if code.kind() == CodeKind::Frame);
    let has_frame = pieces.iter().any(is_frame);
    for piece in pieces.iter_mut() {
        if let Piece::Text(text) = piece {
            text.push_str(words);
            return true;
        }
    }
    if !has_frame {
        pieces.push(Piece::Text(words.to_owned()));
    }
    !has_frame
}

fn holds(case: &Case) -> Result<(), TestCaseError> {
    let folder = tempfile::tempdir().unwrap();
    let folder = folder.path();
    let (reference, own) = catalogs(case);
    let file = if case.form.0 { "catalogs/pl/home.json" } else { "catalogs/pl/home.toml" };
    for (path, text) in [
        ("crow-fly.toml", "default = 'en'\nlocales = ['en', 'pl']\n"),
        ("catalogs/en/home.toml", &reference),
        (file, &own),
    ] {
        fs::create_dir_all(folder.join(path).parent().unwrap()).unwrap();
        fs::write(folder.join(path), text).unwrap();
    }
    let table = if case.format == Format::Csv { "pl.csv" } else { "pl.xlf" };
    carry_out(folder, &RealDisk, &format!("export FOLDER/{table} --locale pl")).unwrap();
    let before = texts(folder, "pl");
    let mut document = case.format.read(&fs::read_to_string(folder.join(table)).unwrap()).unwrap();
    let places: Vec<(usize, usize)> = document
        .messages
        .iter()
        .enumerate()
        .flat_map(|(at, message)| (0..message.units.len()).map(move |unit| (at, unit)))
        .collect();
    let mut edited: BTreeMap<String, BTreeMap<String, String>> = BTreeMap::new();
    for (index, words) in &case.edits {
        let (at, unit) = *index.get(&places);
        let message = document.messages.get_mut(at).unwrap();
        // A message without a translation is translated as a whole.
        let is_new = message.units.iter().all(|unit| unit.target.is_none());
        for (number, one) in message.units.iter_mut().enumerate() {
            if number == unit || is_new {
                let mut target = one.target.clone().unwrap_or_else(|| one.source.clone());
                if edit(&mut target, words) {
                    edited
                        .entry(message.key.clone())
                        .or_default()
                        .insert(one.form.clone(), Piece::join(&target));
                    one.target = Some(target);
                }
            }
        }
    }
    fs::write(folder.join(table), case.format.write(&document).unwrap()).unwrap();
    carry_out(folder, &RealDisk, &format!("import FOLDER/{table} --write")).unwrap();
    let after = texts(folder, "pl");
    let written = fs::read_to_string(folder.join(file)).unwrap();
    prop_assert_eq!(written.starts_with('\u{feff}'), case.form.2);
    prop_assert_eq!(
        written.matches("\r\n").count(),
        if case.form.1 { written.matches('\n').count() } else { 0 }
    );
    // Everything else is as it was, where it was.
    let is_edited = |key: &str| edited.contains_key(&format!("home.{key}"));
    let kept: BTreeSet<&str> = before.iter().map(|(key, ..)| key.as_str()).collect();
    let rest = |all: &[(String, String, Option<String>)]| {
        let all = all.iter().filter(|(key, ..)| kept.contains(key.as_str()));
        all.map(|(key, text, note)| (key.clone(), (!is_edited(key)).then(|| text.clone()), note.clone()))
            .collect::<Vec<_>>()
    };
    prop_assert_eq!(rest(&before), rest(&after));
    let known: BTreeMap<String, String> =
        texts(folder, "en").into_iter().map(|(key, text, _)| (key, text)).collect();
    let tag = LanguageTag::parse("pl").unwrap();
    for (key, forms) in &edited {
        let name = key.strip_prefix("home.").unwrap();
        let (_, text, _) = after.iter().find(|(known, ..)| known == name).unwrap();
        let units = Units::of(known.get(name).unwrap(), Some(text), &tag).unwrap();
        for (form, wanted) in forms {
            let unit = units.units().iter().find(|unit| unit.form() == form).unwrap();
            prop_assert_eq!(Piece::join(unit.target().unwrap()), wanted.clone(), "{}", key);
        }
        // Of a message in variants the lines of the others stay.
        let old = before.iter().find(|(known, ..)| known == name).map(|(_, text, _)| text.as_str());
        if let Some(old) = old.filter(|old| old.starts_with('.') && forms.len() < old.matches("{{").count()) {
            let lines = old.lines().filter(|line| !text.lines().any(|new| new == *line)).count();
            prop_assert!(lines <= forms.len(), "{}\n{}", old, text);
        }
    }
    Ok(())
}

proptest! {
    #[test]
    fn what_was_edited_changes_and_nothing_else(case in case()) {
        holds(&case)?;
    }
}
