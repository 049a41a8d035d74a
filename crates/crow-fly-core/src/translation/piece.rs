//! A text in pieces: words that are translated, and code that is not.

use alloc::borrow::ToOwned;
use alloc::string::{String, ToString};
use alloc::vec::Vec;

use crate::message::model::{Body, Element, MarkupKind, Pattern};
use crate::message::{Message, MessageErrors, SyntaxKind, SyntaxNode, SyntaxTree};

/// A piece of a text.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Piece {
    /// Words, as readers see them.
    Text(String),
    /// Something that stays as it is.
    Code(Code),
}

/// A placeholder, markup, or the frame of a message: it stays as it is.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Code {
    source: String,
    kind: CodeKind,
}

/// The kinds of code.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum CodeKind {
    /// `{$name}`, `{#br /}`
    Placeholder,
    /// `{#b}`
    Open,
    /// `{/b}`
    Close,
    /// Declarations, selectors, keys: what is around the patterns of a whole message. It cannot be moved.
    Frame,
}

impl Piece {
    /// The source that pieces make: text is escaped.
    ///
    /// ```
    /// use crow_fly_core::translation::Piece;
    ///
    /// let pieces = Piece::split("Only {$seats} left \\{today\\}")?;
    /// assert_eq!(pieces.len(), 3);
    /// assert_eq!(pieces[2], Piece::Text(" left {today}".into()));
    /// assert_eq!(Piece::join(&pieces), "Only {$seats} left \\{today\\}");
    /// # Ok::<(), crow_fly_core::message::MessageErrors>(())
    /// ```
    pub fn join(pieces: &[Self]) -> String {
        source(pieces)
    }

    /// The pieces of a pattern's source.
    ///
    /// # Errors
    /// Where it has errors.
    pub fn split(source: &str) -> Result<Vec<Self>, MessageErrors> {
        Ok(pieces(&read(source)?))
    }
}

impl Code {
    /// Its source: `{$name}`.
    pub fn source(&self) -> &str {
        &self.source
    }

    /// What it is.
    pub const fn kind(&self) -> CodeKind {
        self.kind
    }

    /// The code that a source is by itself: a placeholder, or markup. None where it is not one.
    pub fn parse(source: &str) -> Option<Self> {
        let pattern = read(source).ok()?;
        match pattern.as_slice() {
            [Element::Text(_)] | [] => None,
            [_] => pieces(&pattern).pop().and_then(|piece| match piece {
                Piece::Code(code) => Some(code),
                Piece::Text(_) => None,
            }),
            _ => None,
        }
    }

    /// A part of the frame of a message.
    pub const fn frame(source: String) -> Self {
        Self { source, kind: CodeKind::Frame }
    }
}

/// The pieces of a pattern.
pub(super) fn pieces(pattern: &Pattern) -> Vec<Piece> {
    let piece = |element: &Element| match element {
        Element::Text(text) => Piece::Text(text.as_str().to_owned()),
        Element::Expression(expression) => {
            Piece::Code(Code { source: expression.to_string(), kind: CodeKind::Placeholder })
        }
        Element::Markup(markup) => {
            let kind = match markup.kind {
                MarkupKind::Open => CodeKind::Open,
                MarkupKind::Close => CodeKind::Close,
                MarkupKind::Standalone => CodeKind::Placeholder,
            };
            Piece::Code(Code { source: markup.to_string(), kind })
        }
    };
    pattern.iter().map(piece).collect()
}

/// The pattern that pieces make.
pub(super) fn pattern(pieces: &[Piece]) -> Result<Pattern, MessageErrors> {
    read(&source(pieces))
}

fn read(source: &str) -> Result<Pattern, MessageErrors> {
    match Message::parse(&["{{", source, "}}"].concat())?.body {
        Body::Pattern(pattern) => Ok(pattern),
        Body::Match { .. } => Ok(Pattern::new()),
    }
}

/// The source that pieces make: text is escaped.
pub(super) fn source(pieces: &[Piece]) -> String {
    let mut source = String::new();
    for piece in pieces {
        match piece {
            Piece::Text(text) => {
                for letter in text.chars() {
                    if matches!(letter, '\\' | '{' | '}') {
                        source.push('\\');
                    }
                    source.push(letter);
                }
            }
            Piece::Code(code) => source.push_str(&code.source),
        }
    }
    source
}

/// The pieces of a whole message, frame included.
pub(super) fn whole(source: &str) -> Vec<Piece> {
    let mut pieces = Vec::new();
    collect(SyntaxTree::parse(source).root(), &mut pieces);
    pieces
}

fn collect(node: SyntaxNode<'_>, pieces: &mut Vec<Piece>) {
    if node.kind() == SyntaxKind::Pattern {
        for child in node.children() {
            match child.kind() {
                SyntaxKind::Text => put_text(pieces, child.text()),
                SyntaxKind::Escape => {
                    put_text(pieces, child.text().trim_start_matches('\\').get(..1).unwrap_or("\\"));
                }
                _ => pieces.push(Piece::Code(
                    Code::parse(child.text()).unwrap_or_else(|| Code::frame(child.text().to_owned())),
                )),
            }
        }
    } else if node.kind().is_token() {
        put_frame(pieces, node.text());
    } else {
        for child in node.children() {
            collect(child, pieces);
        }
    }
}

fn put_text(pieces: &mut Vec<Piece>, text: &str) {
    match pieces.last_mut() {
        Some(Piece::Text(last)) => last.push_str(text),
        _ => pieces.push(Piece::Text(text.to_owned())),
    }
}

fn put_frame(pieces: &mut Vec<Piece>, text: &str) {
    match pieces.last_mut() {
        Some(Piece::Code(Code { source, kind: CodeKind::Frame })) => source.push_str(text),
        _ => pieces.push(Piece::Code(Code::frame(text.to_owned()))),
    }
}
