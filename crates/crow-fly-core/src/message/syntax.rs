//! From source to data model: the grammar of UTS #35 part 9, "Syntax".
//!
//! One pass, no recursion. After an error the parser goes on behind the next place that is surely a beginning, so
//! that one reading reports every error.

use alloc::borrow::{Cow, ToOwned};
use alloc::string::String;
use alloc::vec::Vec;

use unicode_normalization::{IsNormalized, UnicodeNormalization, is_nfc_quick};

use super::error::{MessageError, MessageErrorKind as Kind};
use super::model::{
    Attribute, Body, Declaration, DeclarationKind, Element, Expression, Function, Key, Markup, MarkupKind,
    Message, Operand, Pattern, Selector, Setting, Span, Variant,
};

/// Errors beyond these tell nobody anything new.
const MAX_ERRORS: usize = 64;

pub(super) fn parse(source: &str) -> (Message, Vec<MessageError>) {
    let mut parser = Parser { source, at: 0, errors: Vec::new() };
    if source.len() > Message::MAX_LENGTH {
        parser.report(Kind::TooLong, Message::MAX_LENGTH..source.len());
        return (Message { declarations: Vec::new(), body: Body::Pattern(Vec::new()) }, parser.errors);
    }
    let message = parser.message();
    (message, parser.errors)
}

/// NFC, which nearly all names are in already.
pub(crate) fn normalized(name: &str) -> Cow<'_, str> {
    // What is ASCII needs no table.
    if name.is_ascii() || is_nfc_quick(name.chars()) == IsNormalized::Yes {
        return Cow::Borrowed(name);
    }
    Cow::Owned(name.nfc().collect())
}

struct Parser<'a> {
    source: &'a str,
    at: usize,
    errors: Vec<MessageError>,
}

/// A part could not be read; the error is reported, and the caller goes on behind it.
struct Broken;

type Parsed<T> = Result<T, Broken>;

impl Parser<'_> {
    fn rest(&self) -> &str {
        self.source.get(self.at..).unwrap_or_default()
    }

    fn peek(&self) -> Option<char> {
        self.rest().chars().next()
    }

    fn eat(&mut self, text: &str) -> bool {
        let found = self.rest().starts_with(text);
        if found {
            self.at += text.len();
        }
        found
    }

    fn report(&mut self, kind: Kind, range: core::ops::Range<usize>) {
        if self.errors.len() < MAX_ERRORS {
            self.errors.push(MessageError::new(kind, Span::new(range)));
        }
    }

    /// Reports what stands at the next character, or at the end.
    fn broken<T>(&mut self, kind: Kind) -> Parsed<T> {
        let length = self.peek().map_or(0, char::len_utf8);
        self.report(kind, self.at..self.at + length);
        Err(Broken)
    }

    /// Skips optional white space; returns whether there was real white space, marks of direction aside.
    fn space(&mut self) -> bool {
        let mut real = false;
        while let Some(next) = self.peek().filter(|next| is_space(*next) || is_bidi(*next)) {
            real |= is_space(next);
            self.at += next.len_utf8();
        }
        real
    }

    fn message(&mut self) -> Message {
        let start = self.at;
        self.space();
        if !self.rest().starts_with(['.']) && !self.rest().starts_with("{{") {
            self.at = start;
            return Message { declarations: Vec::new(), body: Body::Pattern(self.pattern(false)) };
        }
        let mut declarations = Vec::new();
        let body = loop {
            self.space();
            let found = if self.eat(".input") {
                self.input().map(|declaration| declarations.push(declaration))
            } else if self.eat(".local") {
                self.local().map(|declaration| declarations.push(declaration))
            } else if self.eat(".match") {
                match self.matcher() {
                    Ok(body) => break body,
                    Err(Broken) => Err(Broken),
                }
            } else if self.eat("{{") {
                break Body::Pattern(self.quoted_pattern());
            } else if self.at == self.source.len() {
                self.report(Kind::MissingBody, self.at..self.at);
                break Body::Pattern(Vec::new());
            } else if self.rest().starts_with('.') {
                let length =
                    self.rest().find(|next: char| is_space(next) || next == '{').unwrap_or(self.rest().len());
                self.report(Kind::UnknownKeyword, self.at..self.at + length);
                Err(Broken)
            } else {
                self.broken(Kind::MissingBody)
            };
            if found.is_err() && !self.skip_to_statement() {
                break Body::Pattern(Vec::new());
            }
        };
        self.space();
        if self.at < self.source.len() {
            self.report(Kind::TrailingContent, self.at..self.source.len());
        }
        Message { declarations, body }
    }

    /// Goes on to the next keyword or pattern; false where there is none.
    fn skip_to_statement(&mut self) -> bool {
        let from = self.at + self.peek().map_or(0, char::len_utf8);
        let rest = self.source.get(from..).unwrap_or_default();
        let next = [".input", ".local", ".match", "{{"].iter().filter_map(|word| rest.find(word)).min();
        self.at = next.map_or(self.source.len(), |next| from + next);
        next.is_some()
    }

    fn input(&mut self) -> Parsed<Declaration> {
        self.space();
        let start = self.at;
        if !self.eat("{") {
            return self.broken(Kind::ExpectedExpression);
        }
        let expression = self.expression(start)?;
        let Some(Operand::Variable(name)) = &expression.operand else {
            self.report(Kind::ExpectedVariable, start..self.at);
            return Err(Broken);
        };
        Ok(Declaration {
            name: name.clone(),
            kind: DeclarationKind::Input,
            span: expression.span,
            value: expression,
        })
    }

    fn local(&mut self) -> Parsed<Declaration> {
        if !self.space() {
            return self.broken(Kind::MissingSpace);
        }
        let start = self.at;
        let name = self.variable()?;
        let span = Span::new(start..self.at);
        self.space();
        if !self.eat("=") {
            return self.broken(Kind::ExpectedEquals);
        }
        self.space();
        let start = self.at;
        if !self.eat("{") {
            return self.broken(Kind::ExpectedExpression);
        }
        let value = self.expression(start)?;
        Ok(Declaration { name, kind: DeclarationKind::Local, value, span })
    }

    fn matcher(&mut self) -> Parsed<Body> {
        let mut selectors = Vec::new();
        let mut spaced = self.space();
        while self.rest().starts_with('$') {
            if !spaced {
                return self.broken(Kind::MissingSpace);
            }
            let start = self.at;
            let name = self.variable()?;
            selectors.push(Selector { name, span: Span::new(start..self.at) });
            spaced = self.space();
        }
        if selectors.is_empty() {
            return self.broken(Kind::ExpectedVariable);
        }
        if !spaced && self.at < self.source.len() {
            return self.broken(Kind::MissingSpace);
        }
        let mut variants = Vec::new();
        loop {
            self.space();
            if self.at == self.source.len() {
                break;
            }
            match self.variant() {
                Ok(variant) => variants.push(variant),
                Err(Broken) => self.skip_pattern(),
            }
        }
        if variants.is_empty() && self.errors.is_empty() {
            self.report(Kind::ExpectedVariant, self.at..self.at);
        }
        Ok(Body::Match { selectors, variants })
    }

    /// Goes on behind the next `}}`.
    fn skip_pattern(&mut self) {
        let next = self.rest().find("}}").map(|next| self.at + next + 2);
        self.at = next.unwrap_or(self.source.len());
    }

    fn variant(&mut self) -> Parsed<Variant> {
        let start = self.at;
        let mut keys = Vec::new();
        let mut end = self.at;
        let mut spaced = true;
        while !self.rest().starts_with('{') {
            if self.at == self.source.len() {
                return self.broken(Kind::ExpectedPattern);
            }
            if !spaced {
                return self.broken(Kind::MissingSpace);
            }
            keys.push(if self.eat("*") {
                Key::Any
            } else {
                Key::Literal(normalized(&self.literal(Kind::ExpectedKey)?).into_owned())
            });
            end = self.at;
            spaced = self.space();
        }
        if keys.is_empty() {
            return self.broken(Kind::ExpectedKey);
        }
        if !self.eat("{{") {
            return self.broken(Kind::ExpectedPattern);
        }
        Ok(Variant { keys, span: Span::new(start..end), pattern: self.quoted_pattern() })
    }

    /// The pattern behind `{{`, up to and with its `}}`.
    fn quoted_pattern(&mut self) -> Pattern {
        let start = self.at - 2;
        let pattern = self.pattern(true);
        if !self.eat("}}") {
            self.report(Kind::UnclosedPattern, start..self.at);
        }
        pattern
    }

    fn pattern(&mut self, quoted: bool) -> Pattern {
        let mut elements = Vec::new();
        let mut text = String::new();
        while let Some(next) = self.peek() {
            match next {
                '{' => {
                    if !text.is_empty() {
                        elements.push(Element::Text(core::mem::take(&mut text)));
                    }
                    let start = self.at;
                    match self.placeholder() {
                        Ok(element) => elements.push(element),
                        Err(Broken) => self.skip_placeholder(start, quoted),
                    }
                }
                '}' if quoted && self.rest().starts_with("}}") => break,
                '}' => {
                    self.report(Kind::LoneBrace, self.at..self.at + 1);
                    self.at += 1;
                }
                '\\' => self.escape(&mut text),
                '\0' => {
                    self.report(Kind::NullCharacter, self.at..self.at + 1);
                    self.at += 1;
                }
                _ => {
                    let end = self.rest().find(['{', '}', '\\', '\0']).unwrap_or(self.rest().len());
                    text.push_str(self.source.get(self.at..self.at + end).unwrap_or_default());
                    self.at += end;
                }
            }
        }
        if !text.is_empty() {
            elements.push(Element::Text(text));
        }
        elements
    }

    fn escape(&mut self, text: &mut String) {
        let escaped = self.rest().chars().nth(1);
        if let Some(escaped) = escaped.filter(|escaped| matches!(escaped, '\\' | '{' | '|' | '}')) {
            text.push(escaped);
            self.at += 2;
        } else {
            self.report(Kind::BadEscape, self.at..self.at + 1 + escaped.map_or(0, char::len_utf8));
            self.at += 1;
        }
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
        self.at += 1;
        let before = self.at;
        self.space();
        if self.eat("#") {
            return self.markup(start, MarkupKind::Open).map(Element::Markup);
        }
        if self.eat("/") {
            return self.markup(start, MarkupKind::Close).map(Element::Markup);
        }
        self.at = before;
        self.expression(start).map(Element::Expression)
    }

    /// The expression whose brace, at `start`, is eaten.
    fn expression(&mut self, start: usize) -> Parsed<Expression> {
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
        if self.rest().starts_with(':') {
            if !spaced {
                return self.broken(Kind::MissingSpace);
            }
            let name_start = self.at;
            self.at += 1;
            let name = self.identifier()?;
            let span = Span::new(name_start..self.at);
            spaced = self.space();
            let options = self.options(start, &mut spaced)?;
            function = Some(Function { name, options, span });
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

    /// Eats the closing brace; `stray` is the error of an option that stands where none may.
    fn close(&mut self, start: usize, stray: Kind) -> Parsed<()> {
        match self.peek() {
            Some('}') => {
                self.at += 1;
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
                if self.rest().starts_with('=') {
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
        while self.peek().is_some_and(|next| is_name_start(next) || is_bidi(next)) {
            if !*spaced {
                return self.broken(Kind::MissingSpace);
            }
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
            let value = if self.rest().starts_with('$') {
                Operand::Variable(self.variable()?)
            } else {
                Operand::Literal(self.literal(Kind::ExpectedValue)?)
            };
            options.push(Setting { name, value, span });
            *spaced = self.space();
        }
        Ok(options)
    }

    fn attributes(&mut self, start: usize, spaced: &mut bool) -> Parsed<Vec<Attribute>> {
        let mut attributes = Vec::new();
        while self.rest().starts_with('@') {
            if !*spaced {
                return self.broken(Kind::MissingSpace);
            }
            self.at += 1;
            let name = self.identifier()?;
            *spaced = self.space();
            let mut value = None;
            if self.eat("=") {
                self.space();
                value = Some(self.literal(Kind::ExpectedValue)?);
                *spaced = self.space();
            }
            if self.at == self.source.len() {
                return self.unclosed(start);
            }
            attributes.push(Attribute { name, value });
        }
        Ok(attributes)
    }

    fn variable(&mut self) -> Parsed<String> {
        if !self.eat("$") {
            return self.broken(Kind::ExpectedVariable);
        }
        self.name()
    }

    /// `[namespace:]name`
    fn identifier(&mut self) -> Parsed<String> {
        let first = self.name()?;
        if !self.eat(":") {
            return Ok(first);
        }
        let second = self.name()?;
        Ok(alloc::format!("{first}:{second}"))
    }

    /// A name in NFC, without the mark of direction that may stand on each side of it.
    fn name(&mut self) -> Parsed<String> {
        if let Some(mark) = self.peek().filter(|next| is_bidi(*next)) {
            self.at += mark.len_utf8();
        }
        let start = self.at;
        if !self.peek().is_some_and(is_name_start) {
            return self.broken(Kind::ExpectedName);
        }
        self.skip_name_chars();
        let name = normalized(self.source.get(start..self.at).unwrap_or_default()).into_owned();
        if let Some(mark) = self.peek().filter(|next| is_bidi(*next)) {
            self.at += mark.len_utf8();
        }
        Ok(name)
    }

    fn skip_name_chars(&mut self) {
        let length = self.rest().find(|next| !is_name_char(next)).unwrap_or(self.rest().len());
        self.at += length;
    }

    /// A quoted or unquoted literal; where there is none, the given error.
    fn literal(&mut self, missing: Kind) -> Parsed<String> {
        let start = self.at;
        if !self.eat("|") {
            self.skip_name_chars();
            if self.at == start {
                return self.broken(missing);
            }
            return Ok(self.source.get(start..self.at).unwrap_or_default().to_owned());
        }
        let mut text = String::new();
        loop {
            match self.peek() {
                None => {
                    self.report(Kind::UnclosedLiteral, start..self.at);
                    return Err(Broken);
                }
                Some('|') => {
                    self.at += 1;
                    return Ok(text);
                }
                Some('\\') => self.escape(&mut text),
                Some('\0') => {
                    self.report(Kind::NullCharacter, self.at..self.at + 1);
                    self.at += 1;
                }
                Some(_) => {
                    let end = self.rest().find(['|', '\\', '\0']).unwrap_or(self.rest().len());
                    text.push_str(self.source.get(self.at..self.at + end).unwrap_or_default());
                    self.at += end;
                }
            }
        }
    }
}

pub(super) fn is_space(next: char) -> bool {
    matches!(next, ' ' | '\t' | '\r' | '\n' | '\u{3000}')
}

pub(super) fn is_bidi(next: char) -> bool {
    matches!(next, '\u{61c}' | '\u{200e}' | '\u{200f}' | '\u{2066}'..='\u{2069}')
}

/// Letters, `+`, `_`, and most of Unicode: white space, controls, marks of direction and noncharacters are out.
fn is_name_start(next: char) -> bool {
    match next {
        'a'..='z' | 'A'..='Z' | '+' | '_' => true,
        '\0'..='\u{a0}'
        | '\u{1680}'
        | '\u{2000}'..='\u{200a}'
        | '\u{2028}'..='\u{202f}'
        | '\u{205f}'
        | '\u{3000}'
        | '\u{fdd0}'..='\u{fdef}' => false,
        _ => !is_bidi(next) && (next as u32) & 0xfffe != 0xfffe,
    }
}

/// Whether a text can stand as it is where a literal is wanted.
pub(super) fn is_name(text: &str) -> bool {
    !text.is_empty() && text.chars().all(is_name_char)
}

/// Whether a text is a name, or one in a namespace.
pub(super) fn is_identifier(text: &str) -> bool {
    let is_whole = |name: &str| name.starts_with(is_name_start) && is_name(name);
    text.split_once(':').map_or(is_whole(text), |(namespace, name)| is_whole(namespace) && is_whole(name))
}

fn is_name_char(next: char) -> bool {
    is_name_start(next) || matches!(next, '0'..='9' | '-' | '.')
}
