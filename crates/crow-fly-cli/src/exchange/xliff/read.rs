//! From XLIFF to a document.

use std::collections::BTreeMap;

use anyhow::{Context, Result, anyhow, bail};
use crow_fly_core::translation::{Code, Piece};
use quick_xml::events::{BytesStart, Event};
use quick_xml::name::ResolveResult;
use quick_xml::{NsReader, XmlVersion};

use super::{CORE, OURS};
use crate::arguments::State;
use crate::exchange::{AtLine, Document, MessageTexts, UnitText};

/// How deeply elements are read.
const MAX_DEPTH: usize = 64;

/// An element of XLIFF, or of another vocabulary.
#[derive(Debug, Default)]
pub(in crate::exchange) struct Element {
    /// Its local name.
    pub(in crate::exchange) name: String,
    pub(in crate::exchange) is_core: bool,
    pub(in crate::exchange) attributes: Vec<(String, String)>,
    pub(in crate::exchange) children: Vec<Node>,
    /// The line it begins in, from 1.
    line: u32,
}

#[derive(Debug)]
pub(in crate::exchange) enum Node {
    Text(String),
    Element(Element),
}

impl Element {
    pub(in crate::exchange) fn attribute(&self, name: &str) -> Option<&str> {
        self.attributes.iter().find(|(known, _)| known == name).map(|(_, value)| value.as_str())
    }

    pub(in crate::exchange) fn elements(&self) -> impl Iterator<Item = &Self> {
        self.children.iter().filter_map(|child| match child {
            Node::Element(element) => Some(element),
            Node::Text(_) => None,
        })
    }

    /// Children of XLIFF of a name.
    fn named<'e>(&'e self, name: &'static str) -> impl Iterator<Item = &'e Self> {
        self.elements().filter(move |element| element.is_core && element.name == name)
    }

    /// All text in it; `cp` is a character.
    fn text(&self) -> Result<String> {
        let mut text = String::new();
        for child in &self.children {
            match child {
                Node::Text(part) => text.push_str(part),
                Node::Element(element) if element.name == "cp" => text.push(element.code_point()?),
                Node::Element(_) => {}
            }
        }
        Ok(text)
    }

    fn code_point(&self) -> Result<char> {
        let hex = self.attribute("hex").unwrap_or_default();
        let letter = u32::from_str_radix(hex, 16).ok().and_then(char::from_u32);
        letter.with_context(|| AtLine::new(self.line, format!("`{hex}` is not a character")))
    }
}

pub(in crate::exchange) fn read(text: &str) -> Result<Document> {
    let root = parse(text)?;
    if root.name != "xliff" || !root.is_core {
        bail!("the file is not XLIFF 2: its first element is not `xliff` of `{CORE}`");
    }
    let mut document = Document {
        source_locale: root.attribute("srcLang").unwrap_or_default().to_owned(),
        target_locale: root.attribute("trgLang").unwrap_or_default().to_owned(),
        messages: Vec::new(),
    };
    for file in root.named("file") {
        let section = file.attribute("original").unwrap_or_default();
        for element in file.elements().filter(|element| element.is_core) {
            match element.name.as_str() {
                "unit" => {
                    let name = named(element)?;
                    document.messages.push(read_message(section, name, element, &[element])?);
                }
                "group" => {
                    let units: Vec<&Element> = element.named("unit").collect();
                    document.messages.push(read_message(section, named(element)?, element, &units)?);
                }
                _ => {}
            }
        }
    }
    Ok(document)
}

fn named(element: &Element) -> Result<&str> {
    element
        .attribute("name")
        .with_context(|| AtLine::new(element.line, format!("a {} has no name", element.name)))
}

fn read_message(section: &str, name: &str, whole: &Element, units: &[&Element]) -> Result<MessageTexts> {
    let is_group = whole.name == "group";
    let mut message = MessageTexts {
        key: format!("{section}.{name}"),
        base: base_of(whole)?,
        state: State::Translated,
        ..MessageTexts::default()
    };
    for unit in units {
        let mut codes = BTreeMap::new();
        for data in unit.named("originalData").flat_map(|all| all.named("data")) {
            codes.insert(data.attribute("id").unwrap_or_default().to_owned(), data.text()?);
        }
        let mut text = UnitText { line: unit.line, ..UnitText::default() };
        if is_group {
            named(unit)?.clone_into(&mut text.form);
        }
        let mut target: Option<Vec<Piece>> = None;
        // Tools may split a unit into several segments, with white space between them.
        for part in unit
            .elements()
            .filter(|part| part.is_core && matches!(part.name.as_str(), "segment" | "ignorable"))
        {
            if part.name == "segment" {
                let state = match (part.attribute("state"), part.attribute("subState")) {
                    (None | Some("initial"), Some(sub)) if sub == format!("{OURS}:stale") => State::Stale,
                    (None | Some("initial"), _) => State::Untranslated,
                    _ => State::Translated,
                };
                if message.state == State::Translated {
                    message.state = state;
                }
            }
            let mut source = Vec::new();
            for element in part.named("source") {
                collect(element, &codes, &mut source)?;
            }
            for element in part.named("target") {
                collect(element, &codes, target.get_or_insert_default())?;
            }
            if part.name == "ignorable" && part.named("target").next().is_none() && target.is_some() {
                target.get_or_insert_default().extend(source.iter().cloned());
            }
            text.source.extend(source);
        }
        text.source = joined(text.source);
        text.target = target.map(joined).filter(|target| !target.is_empty());
        message.units.push(text);
    }
    Ok(message)
}

fn base_of(element: &Element) -> Result<String> {
    let groups = element.elements().filter(|child| child.name == "metadata").flat_map(Element::elements);
    let ours = groups.filter(|group| group.attribute("category") == Some(OURS)).flat_map(Element::elements);
    let base = ours.filter(|meta| meta.attribute("type") == Some("base")).map(Element::text).next();
    base.unwrap_or(Ok(String::new()))
}

/// Texts that follow one another are one.
fn joined(pieces: Vec<Piece>) -> Vec<Piece> {
    let mut all: Vec<Piece> = Vec::with_capacity(pieces.len());
    for piece in pieces {
        match (all.last_mut(), piece) {
            (_, Piece::Text(text)) if text.is_empty() => {}
            (Some(Piece::Text(last)), Piece::Text(text)) => last.push_str(&text),
            (_, piece) => all.push(piece),
        }
    }
    all
}

fn collect(element: &Element, codes: &BTreeMap<String, String>, pieces: &mut Vec<Piece>) -> Result<()> {
    let code = |from: &Element, name: &str| -> Result<Piece> {
        let id = from.attribute(name).unwrap_or_default();
        let source = codes.get(id).with_context(|| {
            AtLine::new(
                from.line,
                format!("`{}` refers to data `{id}`, which the unit does not have", from.name),
            )
        })?;
        Ok(Piece::Code(Code::parse(source).unwrap_or_else(|| Code::frame(source.clone()))))
    };
    for child in &element.children {
        let child = match child {
            Node::Text(text) => {
                pieces.push(Piece::Text(text.clone()));
                continue;
            }
            Node::Element(child) => child,
        };
        match child.name.as_str() {
            "cp" => pieces.push(Piece::Text(child.code_point()?.to_string())),
            "ph" | "sc" | "ec" => pieces.push(code(child, "dataRef")?),
            "pc" => {
                pieces.push(code(child, "dataRefStart")?);
                collect(child, codes, pieces)?;
                pieces.push(code(child, "dataRefEnd")?);
            }
            // Marks of tools: what they are around is text.
            "mrk" => collect(child, codes, pieces)?,
            "sm" | "em" => {}
            other => bail!(AtLine::new(child.line, format!("`{other}` cannot stand in a text"))),
        }
    }
    Ok(())
}

/// Reads XML into elements.
pub(in crate::exchange) fn parse(text: &str) -> Result<Element> {
    let text = text.strip_prefix('\u{feff}').unwrap_or(text);
    let mut reader = NsReader::from_str(text);
    let mut stack = vec![Element::default()];
    let (mut line, mut counted) = (1_u32, 0_usize);
    loop {
        let at = usize::try_from(reader.buffer_position()).unwrap_or(usize::MAX);
        let between = text.as_bytes().get(counted..at).unwrap_or_default();
        line = line
            .saturating_add(u32::try_from(between.split(|byte| *byte == b'\n').skip(1).count()).unwrap_or(0));
        counted = at;
        let (namespace, event) = reader
            .read_resolved_event()
            .map_err(|error| anyhow!(AtLine::new(line, format!("the file is not well-formed: {error}"))))?;
        let is_core = matches!(namespace, ResolveResult::Bound(name) if name.as_ref() == CORE.as_bytes());
        match event {
            Event::Start(start) => {
                if stack.len() > MAX_DEPTH {
                    bail!(AtLine::new(line, "elements are nested too deeply"));
                }
                stack.push(begin(&start, is_core, line)?);
            }
            Event::Empty(start) => {
                let element = begin(&start, is_core, line)?;
                put(&mut stack, Node::Element(element));
            }
            Event::End(_) => {
                if let Some(element) = stack.pop() {
                    put(&mut stack, Node::Element(element));
                }
            }
            Event::Text(part) => put_text(&mut stack, &part.xml10_content()?),
            Event::CData(part) => put_text(&mut stack, &part.xml10_content()?),
            Event::GeneralRef(reference) => {
                let name = reference.xml10_content()?;
                let letter = match reference.resolve_char_ref()? {
                    Some(letter) => letter.to_string(),
                    None => quick_xml::escape::resolve_predefined_entity(&name)
                        .with_context(|| AtLine::new(line, format!("there is no `&{name};` in XML")))?
                        .to_owned(),
                };
                put_text(&mut stack, &letter);
            }
            Event::DocType(_) => bail!(AtLine::new(line, "a document type is not read")),
            Event::Eof => break,
            Event::Comment(_) | Event::Decl(_) | Event::PI(_) => {}
        }
    }
    if stack.len() != 1 {
        bail!(AtLine::new(line, "the file ends before its elements do"));
    }
    let root = stack.pop().unwrap_or_default();
    let mut elements = root.children.into_iter().filter_map(|child| match child {
        Node::Element(element) => Some(element),
        Node::Text(_) => None,
    });
    elements.next().context("the file is empty")
}

fn begin(start: &BytesStart<'_>, is_core: bool, line: u32) -> Result<Element> {
    let mut attributes = Vec::new();
    for attribute in start.attributes() {
        let attribute = attribute.with_context(|| AtLine::new(line, "an attribute is not well-formed"))?;
        let value = attribute.normalized_value(XmlVersion::Implicit1_0)?.into_owned();
        attributes.push((String::from_utf8_lossy(attribute.key.as_ref()).into_owned(), value));
    }
    let name = String::from_utf8_lossy(start.local_name().as_ref()).into_owned();
    Ok(Element { name, is_core, attributes, children: Vec::new(), line })
}

fn put(stack: &mut [Element], node: Node) {
    if let Some(parent) = stack.last_mut() {
        parent.children.push(node);
    }
}

fn put_text(stack: &mut [Element], text: &str) {
    let Some(parent) = stack.last_mut() else { return };
    match parent.children.last_mut() {
        Some(Node::Text(last)) => last.push_str(text),
        _ => parent.children.push(Node::Text(text.to_owned())),
    }
}
