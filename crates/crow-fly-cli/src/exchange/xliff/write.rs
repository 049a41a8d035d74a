//! From a document to XLIFF.

use std::collections::{BTreeMap, BTreeSet};
use std::io::Write as _;

use anyhow::Result;
use crow_fly_core::catalog::split_key;
use crow_fly_core::translation::{Code, CodeKind, Piece};
use quick_xml::Writer;
use quick_xml::events::{BytesEnd, BytesStart, BytesText, Event};

use super::{CORE, METADATA, OURS};
use crate::arguments::State;
use crate::exchange::{Document, MessageTexts, UnitText};

pub(in crate::exchange) fn write(document: &Document) -> Result<Vec<u8>> {
    let mut xml = Xml { writer: Writer::new(Vec::new()), depth: 0 };
    xml.writer.get_mut().write_all(b"<?xml version=\"1.0\" encoding=\"UTF-8\"?>")?;
    let (source, target) = (document.source_locale.as_str(), document.target_locale.as_str());
    xml.open(
        "xliff",
        &[
            ("xmlns", CORE),
            ("xmlns:mda", METADATA),
            ("version", "2.1"),
            ("srcLang", source),
            ("trgLang", target),
        ],
    )?;
    let mut sections: Vec<(&str, Vec<&MessageTexts>)> = Vec::new();
    for message in &document.messages {
        let section = split_key(&message.key).map_or("", |(section, _)| section);
        match sections.last_mut() {
            Some((last, messages)) if *last == section => messages.push(message),
            _ => sections.push((section, vec![message])),
        }
    }
    for (number, (section, messages)) in sections.into_iter().enumerate() {
        let id = format!("f{}", number + 1);
        xml.open("file", &[("id", &id), ("original", section)])?;
        for (number, message) in messages.into_iter().enumerate() {
            self::message(&mut xml, message, number + 1)?;
        }
        xml.close("file")?;
    }
    xml.close("xliff")?;
    let mut bytes = xml.writer.into_inner();
    bytes.push(b'\n');
    Ok(bytes)
}

fn message(xml: &mut Xml, message: &MessageTexts, number: usize) -> Result<()> {
    let name = split_key(&message.key).map_or(message.key.as_str(), |(_, name)| name);
    let is_group = message.units.len() > 1 || message.units.iter().any(|unit| !unit.form.is_empty());
    if is_group {
        xml.open("group", &[("id", &format!("g{number}")), ("name", name)])?;
        base(xml, message)?;
        notes(xml, [message.note.as_deref(), message.places.as_deref(), None])?;
    }
    for (at, unit) in message.units.iter().enumerate() {
        let (id, unit_name) = if is_group {
            (format!("u{number}-{}", at + 1), unit.form.as_str())
        } else {
            (format!("u{number}"), name)
        };
        xml.open("unit", &[("id", &id), ("name", unit_name), ("xml:space", "preserve")])?;
        if !is_group {
            base(xml, message)?;
        }
        let of_message = [&message.note, &message.places];
        let [note, places] = of_message.map(|text| text.as_deref().filter(|_| !is_group));
        notes(xml, [note, places, unit.hint.as_deref()])?;
        let codes = Codes::of(unit);
        if !codes.data.is_empty() {
            xml.open("originalData", &[])?;
            for (number, data) in codes.data.iter().enumerate() {
                xml.start("data", &[("id", &format!("d{}", number + 1))])?;
                xml.text(data)?;
                xml.end("data")?;
            }
            xml.close("originalData")?;
        }
        match (message.state, &unit.target) {
            (State::Translated, Some(_)) => xml.open("segment", &[("state", "translated")])?,
            (State::Stale, Some(_)) => {
                xml.open("segment", &[("state", "initial"), ("subState", &format!("{OURS}:stale"))])?;
            }
            _ => xml.open("segment", &[("state", "initial")])?,
        }
        xml.start("source", &[])?;
        codes.write(xml, &unit.source, &codes.source)?;
        xml.end("source")?;
        if let Some(target) = &unit.target {
            xml.start("target", &[])?;
            codes.write(xml, target, &codes.target)?;
            xml.end("target")?;
        }
        xml.close("segment")?;
        xml.close("unit")?;
    }
    if is_group {
        xml.close("group")?;
    }
    Ok(())
}

/// What the translation was as it was written out.
fn base(xml: &mut Xml, message: &MessageTexts) -> Result<()> {
    if message.base.is_empty() {
        return Ok(());
    }
    xml.open("mda:metadata", &[])?;
    xml.open("mda:metaGroup", &[("category", OURS)])?;
    xml.start("mda:meta", &[("type", "base")])?;
    xml.text(&message.base)?;
    xml.end("mda:meta")?;
    xml.close("mda:metaGroup")?;
    xml.close("mda:metadata")
}

/// The note of the developers, what stands in braces, and when the form is used.
fn notes(xml: &mut Xml, [note, places, hint]: [Option<&str>; 3]) -> Result<()> {
    let all = [("note", note), ("places", places), ("form", hint)];
    if all.iter().all(|(_, text)| text.is_none()) {
        return Ok(());
    }
    xml.open("notes", &[])?;
    for (category, text) in all {
        if let Some(text) = text {
            xml.start("note", &[("category", category)])?;
            xml.text(text)?;
            xml.end("note")?;
        }
    }
    xml.close("notes")
}

/// The inline codes of a unit: each has the same id in the source and the target.
struct Codes {
    data: Vec<String>,
    source: Vec<Inline>,
    target: Vec<Inline>,
}

/// How a piece of code is written.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Inline {
    /// Text.
    None,
    Placeholder(usize),
    /// A part of the frame: the first, or one behind it.
    Frame(usize, bool),
    /// Markup, and the place of its end.
    Open(usize, usize),
    End,
    /// Markup whose other end is not in this text.
    LoneOpen(usize),
    LoneClose(usize),
}

impl Codes {
    fn of(unit: &UnitText) -> Self {
        let target = unit.target.as_deref().unwrap_or_default();
        let mut data: Vec<String> = Vec::new();
        for piece in unit.source.iter().chain(target) {
            if let Piece::Code(code) = piece
                && !data.iter().any(|known| known == code.source())
            {
                data.push(code.source().to_owned());
            }
        }
        // The ids of the source's codes, by what they are.
        let mut known: BTreeMap<(String, String), Vec<usize>> = BTreeMap::new();
        let mut next = 1;
        let source = inline(&unit.source, |code, end| {
            let id = next;
            next += 1;
            known.entry((code.to_owned(), end.to_owned())).or_default().push(id);
            id
        });
        for ids in known.values_mut() {
            ids.reverse();
        }
        let target = inline(target, |code, end| {
            let same = known.get_mut(&(code.to_owned(), end.to_owned())).and_then(Vec::pop);
            same.unwrap_or_else(|| {
                let id = next;
                next += 1;
                id
            })
        });
        Self { data, source, target }
    }

    fn reference(&self, code: &Code) -> String {
        let at = self.data.iter().position(|known| known == code.source()).unwrap_or_default();
        format!("d{}", at + 1)
    }

    fn write(&self, xml: &mut Xml, pieces: &[Piece], inline: &[Inline]) -> Result<()> {
        for (piece, inline) in pieces.iter().zip(inline) {
            let code = match piece {
                Piece::Text(text) => {
                    xml.text(text)?;
                    continue;
                }
                Piece::Code(code) => code,
            };
            let data = self.reference(code);
            match *inline {
                Inline::None => {}
                Inline::Placeholder(id) => {
                    xml.empty(
                        "ph",
                        &[("id", &id.to_string()), ("equiv", code.source()), ("dataRef", &data)],
                    )?;
                }
                Inline::Frame(id, is_first) => {
                    let reorder = if is_first { "firstNo" } else { "no" };
                    let id = id.to_string();
                    let fixed = [("canCopy", "no"), ("canDelete", "no"), ("canReorder", reorder)];
                    xml.empty("ph", &[&[("id", id.as_str())][..], &fixed, &[("dataRef", &data)]].concat())?;
                }
                Inline::Open(id, end) => {
                    let end = match pieces.get(end) {
                        Some(Piece::Code(code)) => self.reference(code),
                        _ => String::new(),
                    };
                    let id = id.to_string();
                    xml.start("pc", &[("id", &id), ("dataRefStart", &data), ("dataRefEnd", &end)])?;
                }
                Inline::End => xml.end("pc")?,
                Inline::LoneOpen(id) => {
                    xml.empty("sc", &[("id", &id.to_string()), ("isolated", "yes"), ("dataRef", &data)])?;
                }
                Inline::LoneClose(id) => {
                    xml.empty("ec", &[("id", &id.to_string()), ("isolated", "yes"), ("dataRef", &data)])?;
                }
            }
        }
        Ok(())
    }
}

/// How each piece is written. Ids are given by the code's source, and by that of its end.
fn inline(pieces: &[Piece], mut id: impl FnMut(&str, &str) -> usize) -> Vec<Inline> {
    let mut all = vec![Inline::None; pieces.len()];
    let mut open: Vec<usize> = Vec::new();
    // Ends are found first: what is closed in order is a pair.
    let mut ends: BTreeMap<usize, usize> = BTreeMap::new();
    for (at, piece) in pieces.iter().enumerate() {
        match piece {
            Piece::Code(code) if code.kind() == CodeKind::Open => open.push(at),
            Piece::Code(code) if code.kind() == CodeKind::Close => {
                if let Some(start) = open.pop() {
                    ends.insert(start, at);
                }
            }
            _ => {}
        }
    }
    // Markup that is never closed would let the pairs around it cross: then all stand alone.
    if !open.is_empty() {
        ends.clear();
    }
    let closes: BTreeSet<usize> = ends.values().copied().collect();
    let source = |at: usize| match pieces.get(at) {
        Some(Piece::Code(code)) => code.source(),
        _ => "",
    };
    let mut is_first = true;
    for (at, piece) in pieces.iter().enumerate() {
        let Piece::Code(code) = piece else { continue };
        let is_end = closes.contains(&at);
        let inline = match code.kind() {
            CodeKind::Placeholder => Inline::Placeholder(id(code.source(), "")),
            CodeKind::Frame => Inline::Frame(id(code.source(), ""), std::mem::take(&mut is_first)),
            CodeKind::Close if is_end => Inline::End,
            CodeKind::Close => Inline::LoneClose(id(code.source(), "")),
            CodeKind::Open => match ends.get(&at) {
                Some(end) => Inline::Open(id(code.source(), source(*end)), *end),
                None => Inline::LoneOpen(id(code.source(), "")),
            },
        };
        if let Some(place) = all.get_mut(at) {
            *place = inline;
        }
    }
    all
}

/// Elements, one below the other, and texts in them as they are.
struct Xml {
    writer: Writer<Vec<u8>>,
    depth: usize,
}

impl Xml {
    fn line(&mut self) {
        let out = self.writer.get_mut();
        out.push(b'\n');
        out.extend(std::iter::repeat_n(b' ', self.depth * 2));
    }

    /// Begins an element that has others, on a line of its own.
    fn open(&mut self, name: &str, attributes: &[(&str, &str)]) -> Result<()> {
        self.line();
        self.tag(name, attributes)?;
        self.depth += 1;
        Ok(())
    }

    fn close(&mut self, name: &str) -> Result<()> {
        self.depth = self.depth.saturating_sub(1);
        self.line();
        self.end(name)
    }

    /// Begins an element that has text: on a line of its own, unless it is within text.
    fn start(&mut self, name: &str, attributes: &[(&str, &str)]) -> Result<()> {
        if name != "pc" {
            self.line();
        }
        self.tag(name, attributes)
    }

    fn tag(&mut self, name: &str, attributes: &[(&str, &str)]) -> Result<()> {
        self.writer.write_event(Event::Start(element(name, attributes)))?;
        Ok(())
    }

    fn empty(&mut self, name: &str, attributes: &[(&str, &str)]) -> Result<()> {
        self.writer.write_event(Event::Empty(element(name, attributes)))?;
        Ok(())
    }

    fn end(&mut self, name: &str) -> Result<()> {
        self.writer.write_event(Event::End(BytesEnd::new(name)))?;
        Ok(())
    }

    /// Text; characters that XML cannot have are elements of their own.
    fn text(&mut self, text: &str) -> Result<()> {
        let is_odd = |letter: char| matches!(letter, '\u{0}'..='\u{8}' | '\u{b}' | '\u{c}' | '\u{e}'..='\u{1f}' | '\u{fffe}' | '\u{ffff}');
        let mut rest = text;
        while let Some(at) = rest.find(is_odd) {
            let (plain, odd) = rest.split_at(at);
            self.plain(plain)?;
            let mut letters = odd.chars();
            let code = letters.next().map_or(0, u32::from);
            self.empty("cp", &[("hex", &format!("{code:04X}"))])?;
            rest = letters.as_str();
        }
        self.plain(rest)
    }

    fn plain(&mut self, text: &str) -> Result<()> {
        // A carriage return by itself would be read as a line feed.
        let escaped = quick_xml::escape::escape(text).replace('\r', "&#13;");
        self.writer.write_event(Event::Text(BytesText::from_escaped(escaped)))?;
        Ok(())
    }
}

fn element<'a>(name: &'a str, attributes: &[(&str, &str)]) -> BytesStart<'a> {
    BytesStart::new(name).with_attributes(attributes.iter().copied())
}
