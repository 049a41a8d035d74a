//! Variables, identifiers, names and literals.

use alloc::string::String;

use super::characters::{is_bidi, is_name_char, is_name_start, name_length, normalized};
use super::tree::{Listen, SyntaxKind};
use super::{Broken, Kind, Parsed, Parser};
use crate::message::model::Name;

impl<L: Listen> Parser<'_, L> {
    pub(super) fn variable(&mut self) -> Parsed<Name> {
        if !self.next_is("$") {
            return self.broken(Kind::ExpectedVariable);
        }
        self.node(SyntaxKind::Variable, |parser| {
            parser.eat("$");
            parser.name()
        })
    }

    /// `[namespace:]name`
    pub(super) fn identifier(&mut self) -> Parsed<Name> {
        self.node(SyntaxKind::Identifier, |parser| {
            let name = parser.name()?;
            if !parser.eat(":") {
                return Ok(name);
            }
            Ok(Name::from([&name, ":", &parser.name()?].concat()))
        })
    }

    /// A name in NFC, without the mark of direction that may stand on each side of it.
    fn name(&mut self) -> Parsed<Name> {
        self.mark();
        if !self.peek().is_some_and(is_name_start) {
            return self.broken(Kind::ExpectedName);
        }
        let (length, is_ascii) = name_length(self.rest());
        let name = self.take(SyntaxKind::Name, length);
        let name = if is_ascii { Name::from(name) } else { Name::from(&*normalized(name)) };
        self.mark();
        Ok(name)
    }

    /// Reads one mark of direction, where there is one.
    fn mark(&mut self) {
        if self.byte().is_some_and(|byte| !byte.is_ascii())
            && let Some(mark) = self.peek().filter(|next| is_bidi(*next))
        {
            self.take(SyntaxKind::Space, mark.len_utf8());
        }
    }

    /// A quoted or unquoted literal; where there is none, the given error.
    pub(super) fn literal(&mut self, missing: Kind) -> Parsed<Name> {
        if !self.next_is("|") {
            if !self.peek().is_some_and(is_name_char) {
                return self.broken(missing);
            }
            let (length, _) = name_length(self.rest());
            return Ok(Name::from(self.take(SyntaxKind::UnquotedLiteral, length)));
        }
        self.node(SyntaxKind::QuotedLiteral, Self::quoted_literal)
    }

    fn quoted_literal(&mut self) -> Parsed<Name> {
        let start = self.at;
        self.eat("|");
        let mut text = String::new();
        loop {
            match self.byte() {
                None => {
                    self.report(Kind::UnclosedLiteral, start..self.at);
                    return Err(Broken);
                }
                Some(b'|') => {
                    self.eat("|");
                    return Ok(Name::from(text));
                }
                Some(b'\\') => self.escape(&mut text),
                Some(b'\0') => {
                    self.report(Kind::NullCharacter, self.at..self.at + 1);
                    self.at += 1;
                }
                Some(_) => {
                    let stretch = self.stretch([b'|', b'|', b'\\']);
                    text.push_str(self.take(SyntaxKind::Text, stretch));
                }
            }
        }
    }

    pub(super) fn escape(&mut self, text: &mut String) {
        let escaped = self.rest().chars().nth(1);
        if let Some(escaped) = escaped.filter(|escaped| matches!(escaped, '\\' | '{' | '|' | '}')) {
            text.push(escaped);
            self.take(SyntaxKind::Escape, 2);
        } else {
            self.report(Kind::BadEscape, self.at..self.at + 1 + escaped.map_or(0, char::len_utf8));
            self.at += 1;
        }
    }
}
