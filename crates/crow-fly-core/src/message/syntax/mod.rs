//! From source to data model: the grammar of UTS #35 part 9, "Syntax".
//!
//! One pass, no recursion. After an error the parser goes on behind the next place that is surely a beginning, so
//! that one reading reports every error. Whoever wants the syntax tree listens to what is read.

use alloc::vec::Vec;

mod characters;
mod interchange;
pub(super) mod names;
mod placeholder;
mod print;
mod tree;
pub(super) mod validate;
mod word;

pub(super) use characters::normalized;
use characters::{is_space, space_length};
use tree::Listen;
pub use tree::{SyntaxKind, SyntaxNode, SyntaxTree};

use super::error::{MessageError, MessageErrorKind as Kind, MessageErrors};
use super::model::{
    Body, Declaration, DeclarationKind, Key, Message, Name, Operand, Selector, Span, Variant,
};

/// Errors beyond these tell nobody anything new.
const MAX_ERRORS: usize = 64;

impl Message {
    /// The longest source that is read, in bytes: a hundred times a long paragraph.
    pub const MAX_LENGTH: usize = 64 * 1024;

    /// Parses a message and checks it against the data model.
    ///
    /// # Errors
    /// Every syntax and data-model error of the source, in order; never none.
    pub fn parse(source: &str) -> Result<Self, MessageErrors> {
        let (message, mut errors) = parse(source, &mut ());
        // A half-read message would add errors that only follow from others.
        if errors.is_empty() {
            validate::validate(&message, &mut errors);
        }
        if errors.is_empty() { Ok(message) } else { Err(MessageErrors(errors)) }
    }
}

/// Reads a message; `listener` hears of everything that is read.
fn parse(source: &str, listener: &mut impl Listen) -> (Message, Vec<MessageError>) {
    let has_null = memchr::memchr(0, source.as_bytes()).is_some();
    let mut parser = Parser { source, at: 0, has_null, errors: Vec::new(), listener };
    if source.len() > Message::MAX_LENGTH {
        parser.report(Kind::TooLong, Message::MAX_LENGTH..source.len());
        return (Message { declarations: Vec::new(), body: Body::Pattern(Vec::new()) }, parser.errors);
    }
    let message = parser.message();
    (message, parser.errors)
}

/// Whether a source is one piece of text, which stands for itself.
pub(super) fn is_only_text(source: &str) -> bool {
    let (space, _) = space_length(source);
    let bytes = source.as_bytes();
    !source.is_empty()
        && source.len() <= Message::MAX_LENGTH
        && bytes.get(space) != Some(&b'.')
        && memchr::memchr3(b'{', b'}', b'\\', bytes).is_none()
        && memchr::memchr(0, bytes).is_none()
}

struct Parser<'a, L> {
    source: &'a str,
    at: usize,
    /// Whether there is a NUL anywhere, so that it is not looked for in every text.
    has_null: bool,
    errors: Vec<MessageError>,
    listener: &'a mut L,
}

/// A part could not be read; the error is reported, and the caller goes on behind it.
struct Broken;

type Parsed<T> = Result<T, Broken>;

impl<'a, L: Listen> Parser<'a, L> {
    fn rest(&self) -> &'a str {
        self.source.get(self.at..).unwrap_or_default()
    }

    #[inline]
    fn peek(&self) -> Option<char> {
        match self.byte()? {
            next if next.is_ascii() => Some(char::from(next)),
            _ => self.rest().chars().next(),
        }
    }

    /// The next byte: of what is ASCII, the next character.
    fn byte(&self) -> Option<u8> {
        self.source.as_bytes().get(self.at).copied()
    }

    fn at_end(&self) -> bool {
        self.at >= self.source.len()
    }

    #[inline]
    fn next_is(&self, text: &str) -> bool {
        self.source.as_bytes().get(self.at..).is_some_and(|rest| rest.starts_with(text.as_bytes()))
    }

    /// Reads a sign, where it is next.
    #[inline]
    fn eat(&mut self, sign: &str) -> bool {
        self.eat_as(SyntaxKind::Sign, sign)
    }

    #[inline]
    fn eat_as(&mut self, kind: SyntaxKind, text: &str) -> bool {
        let found = self.next_is(text);
        if found {
            self.take(kind, text.len());
        }
        found
    }

    /// Reads so many bytes as one token.
    #[inline]
    fn take(&mut self, kind: SyntaxKind, length: usize) -> &'a str {
        let start = self.at;
        self.at += length;
        self.listener.token(kind, start..self.at);
        self.source.get(start..self.at).unwrap_or_default()
    }

    /// Reads a part that has a node of its own.
    #[inline]
    fn node<T>(&mut self, kind: SyntaxKind, read: impl FnOnce(&mut Self) -> T) -> T {
        let depth = self.listener.open(kind, self.at);
        let part = read(self);
        self.listener.close(depth, self.at);
        part
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
    #[inline]
    fn space(&mut self) -> bool {
        let (length, real) = space_length(self.rest());
        if length > 0 {
            self.take(SyntaxKind::Space, length);
        }
        real
    }

    fn message(&mut self) -> Message {
        let (space, _) = space_length(self.source);
        let behind = self.source.get(space..).unwrap_or_default();
        if !behind.starts_with('.') && !behind.starts_with("{{") {
            let pattern = self.node(SyntaxKind::Pattern, |parser| parser.pattern(false));
            return Message { declarations: Vec::new(), body: Body::Pattern(pattern) };
        }
        // Room for what is usual, here and below: it is cheaper than growth.
        let mut declarations = Vec::with_capacity(2);
        let body = loop {
            self.space();
            let found = if self.next_is(".input") {
                self.node(SyntaxKind::InputDeclaration, Self::input)
                    .map(|declaration| declarations.push(declaration))
            } else if self.next_is(".local") {
                self.node(SyntaxKind::LocalDeclaration, Self::local)
                    .map(|declaration| declarations.push(declaration))
            } else if self.next_is(".match") {
                match self.node(SyntaxKind::Matcher, Self::matcher) {
                    Ok(body) => break body,
                    Err(Broken) => Err(Broken),
                }
            } else if self.next_is("{{") {
                break Body::Pattern(self.quoted_pattern());
            } else if self.at_end() {
                self.report(Kind::MissingBody, self.at..self.at);
                break Body::Pattern(Vec::new());
            } else if self.next_is(".") {
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
        if !self.at_end() {
            self.report(Kind::TrailingContent, self.at..self.source.len());
        }
        Message { declarations, body }
    }

    /// Goes on to the next keyword or pattern; false where there is none.
    fn skip_to_statement(&mut self) -> bool {
        let from = self.at + self.peek().map_or(0, char::len_utf8);
        let rest = self.source.get(from..).unwrap_or_default();
        // One way through: what begins with neither a full stop nor a brace is no statement.
        let starts = |(at, _): &(usize, &str)| {
            let behind = rest.get(*at..).unwrap_or_default();
            [".input", ".local", ".match", "{{"].iter().any(|word| behind.starts_with(word))
        };
        let next = rest.match_indices(['.', '{']).find(starts).map(|(at, _)| at);
        self.at = next.map_or(self.source.len(), |next| from + next);
        next.is_some()
    }

    fn input(&mut self) -> Parsed<Declaration> {
        self.eat_as(SyntaxKind::Keyword, ".input");
        self.space();
        let start = self.at;
        let expression = self.declared_expression()?;
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
        self.eat_as(SyntaxKind::Keyword, ".local");
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
        let value = self.declared_expression()?;
        Ok(Declaration { name, kind: DeclarationKind::Local, value, span })
    }

    fn matcher(&mut self) -> Parsed<Body> {
        self.eat_as(SyntaxKind::Keyword, ".match");
        let mut selectors = Vec::with_capacity(2);
        let mut spaced = self.space();
        while self.next_is("$") {
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
        if !spaced && !self.at_end() {
            return self.broken(Kind::MissingSpace);
        }
        let mut variants = Vec::with_capacity(6);
        loop {
            self.space();
            if self.at_end() {
                break;
            }
            match self.node(SyntaxKind::Variant, Self::variant) {
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
        let mut keys = Vec::with_capacity(2);
        let mut end = self.at;
        let mut spaced = true;
        while !self.next_is("{") {
            if self.at_end() {
                return self.broken(Kind::ExpectedPattern);
            }
            if !spaced {
                return self.broken(Kind::MissingSpace);
            }
            keys.push(self.node(SyntaxKind::Key, Self::key)?);
            end = self.at;
            spaced = self.space();
        }
        if keys.is_empty() {
            return self.broken(Kind::ExpectedKey);
        }
        if !self.next_is("{{") {
            return self.broken(Kind::ExpectedPattern);
        }
        Ok(Variant { keys, span: Span::new(start..end), pattern: self.quoted_pattern() })
    }

    fn key(&mut self) -> Parsed<Key> {
        if self.eat("*") {
            return Ok(Key::Any);
        }
        let literal = self.literal(Kind::ExpectedKey)?;
        Ok(Key::Literal(if literal.is_ascii() { literal } else { Name::from(&*normalized(&literal)) }))
    }
}
