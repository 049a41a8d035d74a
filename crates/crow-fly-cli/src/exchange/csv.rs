//! A document as CSV (RFC 4180): one line a text, placeholders as they are written in catalogs.
//!
//! | column | holds |
//! |---|---|
//! | `key` | `section.name` |
//! | `form` | the keys of the variant: `one`, `few *`; empty for a message without variants |
//! | `source`, `target` | the text of the default locale, and the translation |
//! | `state` | `untranslated`, `stale` or `translated` |
//! | `note` | the note to translators, what stands in braces, and when the form is used |
//! | `base` | tells whether the catalog has changed meanwhile; leave it as it is |
//! | `locale` | of the translation |
//!
//! A spreadsheet runs cells that begin with `=`, `+`, `-`, `@` or a tab as formulas. Such a cell has an apostrophe before it,
//! which is taken away when the table is read; so has a cell that begins with apostrophes and then such a sign.

use std::borrow::Cow;

use anyhow::{Context, Result, bail};
use crow_fly_core::translation::{Code, Piece};
use csv::{ReaderBuilder, StringRecord, WriterBuilder};

use super::{AtLine, Document, MessageTexts, UnitText};
use crate::arguments::State;

const COLUMNS: [&str; 8] = ["key", "form", "source", "target", "state", "note", "base", "locale"];

pub(super) fn write(document: &Document) -> Result<Vec<u8>> {
    let mut writer = WriterBuilder::new().from_writer(Vec::new());
    writer.write_record(COLUMNS)?;
    for message in &document.messages {
        for unit in &message.units {
            let target = unit.target.as_deref().map(Piece::join).unwrap_or_default();
            let notes = message
                .note
                .iter()
                .chain(&message.places)
                .chain(&unit.hint)
                .map(String::as_str)
                .collect::<Vec<_>>();
            let cells = [
                &message.key,
                &unit.form,
                &Piece::join(&unit.source),
                &target,
                message.state.name(),
                &notes.join("\n"),
                &message.base,
                &document.target_locale,
            ];
            writer.write_record(cells.map(|cell| unarmed(cell)).iter().map(|cell| cell.as_bytes()))?;
        }
    }
    writer.into_inner().context("the table cannot be written")
}

pub(super) fn read(text: &str) -> Result<Document> {
    let text = text.strip_prefix('\u{feff}').unwrap_or(text);
    // Tables of some countries are separated by semicolons.
    let first = text.lines().next().unwrap_or_default();
    let delimiter = if first.contains(';') && !first.contains(',') { b';' } else { b',' };
    let mut reader = ReaderBuilder::new().delimiter(delimiter).from_reader(text.as_bytes());
    let head = reader.headers()?.clone();
    let column = |name: &str| head.iter().position(|column| column.trim().eq_ignore_ascii_case(name));
    let needed = |name: &str| column(name).with_context(|| format!("the table has no column `{name}`"));
    let (key, form, source, target) = (needed("key")?, needed("form")?, needed("source")?, needed("target")?);
    let (state, base, locale) = (needed("state")?, needed("base")?, needed("locale")?);
    let mut document = Document::default();
    for record in reader.records() {
        let record = record?;
        let cell = |at: usize| plain(record.get(at).unwrap_or_default());
        let line = line(&record);
        if document.target_locale.is_empty() {
            cell(locale).clone_into(&mut document.target_locale);
        } else if document.target_locale != cell(locale) {
            bail!(AtLine::new(line, "the table has more than one locale"));
        }
        let state = match cell(state).trim() {
            "stale" => State::Stale,
            "translated" => State::Translated,
            _ => State::Untranslated,
        };
        let target = Some(cell(target)).filter(|target| !target.is_empty());
        let unit = UnitText {
            form: cell(form).to_owned(),
            hint: None,
            source: pieces(cell(source)),
            target: target.map(pieces),
            line,
        };
        match document.messages.last_mut() {
            Some(last) if last.key == cell(key) => last.units.push(unit),
            _ => document.messages.push(MessageTexts {
                key: cell(key).to_owned(),
                note: None,
                places: None,
                state,
                base: cell(base).to_owned(),
                units: vec![unit],
            }),
        }
    }
    Ok(document)
}

/// Whether a spreadsheet takes a cell for a formula, or would once the apostrophes before it are gone.
fn is_formula(cell: &str) -> bool {
    let signs = ['=', '+', '-', '@', '\t', '\r', '＝', '＋', '－', '＠'];
    cell.trim_start_matches('\'').starts_with(signs)
}

/// A cell that no spreadsheet runs.
fn unarmed(cell: &str) -> Cow<'_, str> {
    if is_formula(cell) { Cow::Owned(format!("'{cell}")) } else { Cow::Borrowed(cell) }
}

/// A cell as it was before it was written.
fn plain(cell: &str) -> &str {
    cell.strip_prefix('\'').filter(|rest| is_formula(rest)).unwrap_or(cell)
}

/// The pieces of a cell. What has errors, or is a whole message, is one piece.
fn pieces(cell: &str) -> Vec<Piece> {
    match Piece::split(cell) {
        Ok(pieces) if Piece::join(&pieces) == cell => pieces,
        _ => vec![Piece::Code(Code::frame(cell.to_owned()))],
    }
}

fn line(record: &StringRecord) -> u32 {
    record.position().map_or(0, |position| u32::try_from(position.line()).unwrap_or(u32::MAX))
}
