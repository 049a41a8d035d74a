//! Patterns, and what stands in them in braces.

use alloc::string::String;
use alloc::vec::Vec;

use super::characters::{is_bidi, is_name_char, is_name_start};
use super::tree::{Listen, SyntaxKind};
use super::{Broken, Kind, Parsed, Parser};
use crate::message::model::{
    Attribute, Element, Expression, Function, Markup, MarkupKind, Operand, Pattern, Setting, Span,
};

impl<L: Listen> Parser<'_, L> {
    /// `{{…}}`, of which the beginning is known to be there.
    pub(super) fn quoted_pattern(&mut self) -> Pattern {
        let start = self.at;
        self.node(SyntaxKind::QuotedPattern, |parser| {
            parser.eat("{{");
            let pattern = parser.node(SyntaxKind::Pattern, |parser| parser.pattern(true));
            if !parser.eat("}}") {
                parser.report(Kind::UnclosedPattern, start..parser.at);
            }
            pattern
        })
    }

    pub(super) fn pattern(&mut self, quoted: bool) -> Pattern {
        let mut elements = Vec::new();
        let mut text = String::new();
        while let Some(next) = self.byte() {
            match next {
                b'{' => {
                    if !text.is_empty() {
                        push(&mut elements, Element::Text(core::mem::take(&mut text).into()));
                    }
                    let start = self.at;
                    match self.placeholder() {
                        Ok(element) => push(&mut elements, element),
                        Err(Broken) => self.skip_placeholder(start, quoted),
                    }
                }
                b'}' if quoted && self.next_is("}}") => break,
                b'}' => {
                    self.report(Kind::LoneBrace, self.at..self.at + 1);
                    self.at += 1;
                }
                b'\\' => self.escape(&mut text),
                b'\0' => {
                    self.report(Kind::NullCharacter, self.at..self.at + 1);
                    self.at += 1;
                }
                _ => {
                    let stretch = self.stretch([b'{', b'}', b'\\']);
                    let stretch = self.take(SyntaxKind::Text, stretch);
                    let at_end = self.at_end() || quoted && self.next_is("}}");
                    if !text.is_empty() || !at_end && self.byte() != Some(b'{') {
                        text.push_str(stretch);
                    } else if at_end && elements.is_empty() {
                        // Most texts of a site are one piece.
                        return Vec::from([Element::Text(stretch.into())]);
                    } else {
                        push(&mut elements, Element::Text(stretch.into()));
                    }
                }
            }
        }
        if !text.is_empty() {
            push(&mut elements, Element::Text(text.into()));
        }
        elements
    }

    /// How many bytes there are before one of three, or NUL; all of those are ASCII.
    pub(super) fn stretch(&self, ends: [u8; 3]) -> usize {
        let rest = self.source.as_bytes().get(self.at..).unwrap_or_default();
        let end = memchr::memchr3(ends[0], ends[1], ends[2], rest).unwrap_or(rest.len());
        if !self.has_null {
            return end;
        }
        memchr::memchr(0, rest.get(..end).unwrap_or_default()).unwrap_or(end)
    }

    /// Goes on behind the brace that closes a broken placeholder; in a quoted pattern, two braces close that.
    fn skip_placeholder(&mut self, start: usize, quoted_pattern: bool) {
        let mut at = start + 1;
        let mut quoted = false;
        let mut escaped = false;
        let bytes = self.source.as_bytes();
        while let Some(byte) = bytes.get(at) {
            let closes_pattern =
                quoted_pattern && bytes.get(at + 1) == Some(&b'}') && bytes.get(at + 2) != Some(&b'}');
            if *byte == b'}' && !quoted && !escaped && closes_pattern {
                break;
            }
            at += 1;
            match byte {
                _ if escaped => escaped = false,
                b'\\' => escaped = true,
                b'|' => quoted = !quoted,
                b'}' if !quoted => break,
                _ => {}
            }
        }
        self.at = at;
    }

    fn placeholder(&mut self) -> Parsed<Element> {
        let start = self.at;
        let inside = self.source.get(start + 1..).unwrap_or_default();
        let (space, _) = super::space_length(inside);
        let kind = match inside.as_bytes().get(space) {
            Some(b'#') => MarkupKind::Open,
            Some(b'/') => MarkupKind::Close,
            _ => return self.expression().map(Element::Expression),
        };
        self.node(SyntaxKind::Markup, |parser| {
            parser.eat("{");
            parser.space();
            parser.take(SyntaxKind::Sign, 1);
            parser.markup(start, kind).map(Element::Markup)
        })
    }

    /// The expression behind `=` or `.input`.
    pub(super) fn declared_expression(&mut self) -> Parsed<Expression> {
        if !self.next_is("{") {
            return self.broken(Kind::ExpectedExpression);
        }
        self.expression()
    }

    /// An expression, of which the brace is known to be there.
    fn expression(&mut self) -> Parsed<Expression> {
        self.node(SyntaxKind::Expression, |parser| {
            let start = parser.at;
            parser.eat("{");
            parser.expression_behind(start)
        })
    }

    /// What stands behind the brace at `start`.
    fn expression_behind(&mut self, start: usize) -> Parsed<Expression> {
        self.space();
        let mut operand = None;
        let mut spaced = true;
        match self.peek() {
            Some('$') => operand = Some(Operand::Variable(self.variable()?)),
            Some(':') => {}
            Some('}') => {
                self.report(Kind::EmptyPlaceholder, start..self.at + 1);
                return Err(Broken);
            }
            Some(next) if next == '|' || is_name_char(next) => {
                operand = Some(Operand::Literal(self.literal(Kind::ExpectedValue)?));
            }
            Some(_) => return self.broken(Kind::UnexpectedCharacter),
            None => return self.unclosed(start),
        }
        if operand.is_some() {
            spaced = self.space();
        }
        let mut function = None;
        if self.next_is(":") {
            if !spaced {
                return self.broken(Kind::MissingSpace);
            }
            function = Some(self.node(SyntaxKind::Function, |parser| parser.function(start, &mut spaced))?);
        }
        let attributes = self.attributes(start, &mut spaced)?;
        let stray = if function.is_some() || !attributes.is_empty() {
            Kind::MisplacedOption
        } else {
            Kind::OptionWithoutFunction
        };
        self.close(start, stray)?;
        Ok(Expression { operand, function, attributes, span: Span::new(start..self.at) })
    }

    fn function(&mut self, start: usize, spaced: &mut bool) -> Parsed<Function> {
        let name_start = self.at;
        self.eat(":");
        let name = self.identifier()?;
        let span = Span::new(name_start..self.at);
        *spaced = self.space();
        let options = self.options(start, spaced)?;
        Ok(Function { name, options, span })
    }

    fn markup(&mut self, start: usize, mut kind: MarkupKind) -> Parsed<Markup> {
        let name = self.identifier()?;
        let mut spaced = self.space();
        let options = self.options(start, &mut spaced)?;
        let attributes = self.attributes(start, &mut spaced)?;
        if kind == MarkupKind::Open && self.eat("/") {
            kind = MarkupKind::Standalone;
        }
        self.close(start, Kind::MisplacedOption)?;
        Ok(Markup { kind, name, options, attributes, span: Span::new(start..self.at) })
    }

    /// Reads the closing brace; `stray` is the error of an option that stands where none may.
    fn close(&mut self, start: usize, stray: Kind) -> Parsed<()> {
        match self.peek() {
            Some('}') => {
                self.eat("}");
                Ok(())
            }
            None => self.unclosed(start),
            Some(':') => self.broken(Kind::MisplacedFunction),
            Some(next) if is_name_char(next) => {
                // A further word: where a `=` follows it is an option, otherwise text: a brace was forgotten before it.
                let word = self.at;
                let _ = self.identifier();
                let end = self.at;
                self.space();
                if self.next_is("=") {
                    self.report(stray, word..end);
                } else {
                    self.report(Kind::UnclosedPlaceholder, start..word);
                }
                Err(Broken)
            }
            Some(_) => self.broken(Kind::UnexpectedCharacter),
        }
    }

    fn unclosed<T>(&mut self, start: usize) -> Parsed<T> {
        self.report(Kind::UnclosedPlaceholder, start..self.source.len());
        Err(Broken)
    }

    /// `name=value` any number of times; `spaced` tells whether white space stands before the next thing.
    fn options(&mut self, start: usize, spaced: &mut bool) -> Parsed<Vec<Setting>> {
        let mut options = Vec::new();
        while self.byte() != Some(b'}')
            && self.peek().is_some_and(|next| is_name_start(next) || is_bidi(next))
        {
            if !*spaced {
                return self.broken(Kind::MissingSpace);
            }
            if options.capacity() == 0 {
                // Mostly there is one.
                options = Vec::with_capacity(1);
            }
            options.push(self.node(SyntaxKind::Option, |parser| parser.option(start))?);
            *spaced = self.space();
        }
        Ok(options)
    }

    fn option(&mut self, start: usize) -> Parsed<Setting> {
        let name_start = self.at;
        let name = self.identifier()?;
        let span = Span::new(name_start..self.at);
        self.space();
        if !self.eat("=") {
            if self.rest().contains('}') {
                return self.broken(Kind::ExpectedEquals);
            }
            return self.unclosed(start);
        }
        self.space();
        let value = if self.next_is("$") {
            Operand::Variable(self.variable()?)
        } else {
            Operand::Literal(self.literal(Kind::ExpectedValue)?)
        };
        Ok(Setting { name, value, span })
    }

    fn attributes(&mut self, start: usize, spaced: &mut bool) -> Parsed<Vec<Attribute>> {
        let mut attributes = Vec::new();
        while self.next_is("@") {
            if !*spaced {
                return self.broken(Kind::MissingSpace);
            }
            let attribute = self.node(SyntaxKind::Attribute, |parser| parser.attribute(spaced))?;
            if self.at_end() {
                return self.unclosed(start);
            }
            attributes.push(attribute);
        }
        Ok(attributes)
    }

    fn attribute(&mut self, spaced: &mut bool) -> Parsed<Attribute> {
        self.eat("@");
        let name = self.identifier()?;
        *spaced = self.space();
        let mut value = None;
        if self.eat("=") {
            self.space();
            value = Some(self.literal(Kind::ExpectedValue)?);
            *spaced = self.space();
        }
        Ok(Attribute { name, value })
    }
}

/// Adds an element. A pattern mostly has a link and a value with the texts around them: room is cheaper than growth.
fn push(elements: &mut Pattern, element: Element) {
    if elements.capacity() == 0 {
        *elements = Vec::with_capacity(6);
    }
    elements.push(element);
}
