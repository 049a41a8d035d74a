//! Plain TOML: headers, keys and texts, without mistakes. Nearly every file is plain.
//!
//! Such a file is read from the events of the parser. A tree of tables would be made of the same events, and takes twice as
//! long. Whatever is not plain (a mistake, another kind of value, a table that is defined in two places) is left to the tree:
//! this reader gives up and has read nothing. A file that it reads has the same messages in the tree; a test holds the two equal.

use alloc::borrow::Cow;
use alloc::string::String;
use alloc::sync::Arc;
use alloc::vec::Vec;

use hashbrown::HashMap;
use smol_str::SmolStr;
use toml_parser::decoder::Encoding;
use toml_parser::parser::{EventReceiver, parse_document};
use toml_parser::{ErrorSink, ParseError, Raw, Source, Span};

use super::super::is_name;
use super::text::FileText;
use super::{SectionSource, SourceEntry};

/// The messages of a plain file, without their notes, in the order of the file. `None` where it is not plain.
pub(super) fn read(file: &Arc<str>) -> Option<Vec<SourceEntry>> {
    let source = Source::new(file);
    let tokens = source.lex().into_vec();
    // Most messages are a line of six tokens: the key, `=`, the text, two spaces and the line break.
    let room = tokens.len() / 6;
    let mut reader = Reader {
        file,
        entries: Vec::with_capacity(room),
        known: HashMap::with_capacity(room),
        key: String::new(),
        names: 0,
        table: (0, 0),
        is_header: false,
        is_plain: true,
    };
    let mut is_correct = true;
    parse_document(&tokens, &mut reader, &mut |_: ParseError| is_correct = false);
    (is_correct && reader.is_plain).then_some(reader.entries)
}

struct Reader<'f> {
    file: &'f Arc<str>,
    entries: Vec<SourceEntry>,
    /// What each key is that has been read.
    known: HashMap<SmolStr, Known>,
    /// The key that is being read, behind that of its table.
    key: String,
    /// How many names it has.
    names: usize,
    /// The length of the key of the table, and how many names that has.
    table: (usize, usize),
    /// Whether it is read in a header.
    is_header: bool,
    is_plain: bool,
}

#[derive(Clone, Copy, PartialEq, Eq)]
enum Known {
    Message,
    /// A table with a header of its own.
    Table,
    /// A table that is named by the headers of tables inside only: it may have its own later.
    Outer,
    /// A table that is named by dotted keys only.
    Dotted,
}

impl<'f> Reader<'f> {
    fn raw(&self, span: Span, encoding: Option<Encoding>) -> Option<Raw<'f>> {
        Some(Raw::new_unchecked(self.file.get(span.start()..span.end())?, encoding, span))
    }

    /// Puts a name behind the key. `None` where the tree has something to say about it, as in the steps below.
    fn name(&mut self, span: Span, encoding: Option<Encoding>, errors: &mut dyn ErrorSink) -> Option<()> {
        let raw = self.raw(span, encoding)?;
        let mut name = Cow::Borrowed(raw.as_str());
        if encoding.is_some() {
            raw.decode_key(&mut name, errors);
        }
        if !self.key.is_empty() {
            self.key.push('.');
        }
        self.key.push_str(&name);
        self.names += 1;
        // A table has members with one name more.
        let names = self.names + usize::from(self.is_header);
        let is_read = names <= SectionSource::MAX_DEPTH && self.key.len() <= SectionSource::MAX_KEY_LENGTH;
        (is_read && is_name(&name)).then_some(())
    }

    /// The key so far is that of a table which the rest of it stands in.
    fn outer_table(&mut self) -> Option<()> {
        let new = if self.is_header { Known::Outer } else { Known::Dotted };
        let known = *self.known.entry(self.key.as_str().into()).or_insert(new);
        (known == new || self.is_header && known == Known::Table).then_some(())
    }

    /// The key is that of a table with a header.
    fn header(&mut self) -> Option<()> {
        let before = self.known.insert(self.key.as_str().into(), Known::Table);
        self.table = (self.key.len(), self.names);
        self.is_header = false;
        before.is_none_or(|before| before == Known::Outer).then_some(())
    }

    /// The key is that of a message. What has no quotes is a number, a date, or true or false.
    fn message(&mut self, span: Span, encoding: Option<Encoding>, errors: &mut dyn ErrorSink) -> Option<()> {
        let mut text = Cow::Borrowed("");
        let _ = self.raw(span, Some(encoding?))?.decode_scalar(&mut text, errors);
        let (key, text) = (SmolStr::from(self.key.as_str()), FileText::of(self.file, text));
        let before = self.known.insert(key.clone(), Known::Message);
        self.entries.push(SourceEntry { note: None, key, text, span: span.start()..span.end() });
        let (length, names) = self.table;
        self.key.truncate(length);
        self.names = names;
        before.is_none().then_some(())
    }

    /// Takes a step, as long as the file is plain.
    fn step(&mut self, step: impl FnOnce(&mut Self) -> Option<()>) {
        self.is_plain = self.is_plain && step(self).is_some();
    }
}

impl EventReceiver for Reader<'_> {
    fn std_table_open(&mut self, _: Span, _: &mut dyn ErrorSink) {
        self.key.clear();
        self.names = 0;
        self.is_header = true;
    }

    fn std_table_close(&mut self, _: Span, _: &mut dyn ErrorSink) {
        self.step(Self::header);
    }

    fn array_table_open(&mut self, _: Span, _: &mut dyn ErrorSink) {
        self.is_plain = false;
    }

    fn inline_table_open(&mut self, _: Span, _: &mut dyn ErrorSink) -> bool {
        self.is_plain = false;
        false
    }

    fn array_open(&mut self, _: Span, _: &mut dyn ErrorSink) -> bool {
        self.is_plain = false;
        false
    }

    fn simple_key(&mut self, span: Span, encoding: Option<Encoding>, errors: &mut dyn ErrorSink) {
        self.step(|reader| reader.name(span, encoding, errors));
    }

    fn key_sep(&mut self, _: Span, _: &mut dyn ErrorSink) {
        self.step(Self::outer_table);
    }

    fn scalar(&mut self, span: Span, encoding: Option<Encoding>, errors: &mut dyn ErrorSink) {
        self.step(|reader| reader.message(span, encoding, errors));
    }

    fn comment(&mut self, span: Span, errors: &mut dyn ErrorSink) {
        self.step(|reader| reader.raw(span, None).map(|raw| raw.decode_comment(errors)));
    }

    fn newline(&mut self, span: Span, errors: &mut dyn ErrorSink) {
        self.step(|reader| reader.raw(span, None).map(|raw| raw.decode_newline(errors)));
    }

    fn error(&mut self, _: Span, _: &mut dyn ErrorSink) {
        self.is_plain = false;
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn files_of_headers_keys_and_texts_are_plain() {
        let many = (0..100).fold(String::new(), |file, at| alloc::format!("{file}a.b{at} = 'x'\n"));
        for file in [
            "",
            "# A note.\n\na = 'x'\nb.c = \"\"\"\nx\n\"\"\"\n[d.e]\na = \"x\\u00e9\"\n[d]\na = '''x'''\r\n",
            &many,
        ] {
            assert!(read(&file.into()).is_some(), "{file}");
        }
        for file in
            ["a = 3", "a = []", "a = { b = 'x' }", "[[a]]", "'a.b' = 'x'", "a = 'x", "a = 'x'\na = 'x'"]
        {
            assert!(read(&file.into()).is_none(), "{file}");
        }
    }
}
