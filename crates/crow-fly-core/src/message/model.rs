//! The data model of a message: UTS #35 part 9, "Data Model", with the place of each part in the source.
//!
//! Names, keys and option names are in NFC; text is as it was written, escapes resolved.

use alloc::string::String;
use alloc::vec::Vec;
use core::fmt;
use core::ops::{Deref, Range};

use serde::{Deserialize, Serialize};
use smol_str::SmolStr;

/// A name, a key, a literal value or a text between placeholders. Nearly all are short, and kept in place.
#[derive(Clone, Default, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(transparent)]
pub struct Name(SmolStr);

impl Name {
    /// The text of the name.
    pub fn as_str(&self) -> &str {
        self.0.as_str()
    }
}

impl Deref for Name {
    type Target = str;

    fn deref(&self) -> &str {
        self.as_str()
    }
}

impl From<&str> for Name {
    fn from(text: &str) -> Self {
        Self(SmolStr::new(text))
    }
}

impl From<String> for Name {
    fn from(text: String) -> Self {
        Self(SmolStr::from(text))
    }
}

impl PartialEq<str> for Name {
    fn eq(&self, other: &str) -> bool {
        self.as_str() == other
    }
}

impl PartialEq<&str> for Name {
    fn eq(&self, other: &&str) -> bool {
        self.as_str() == *other
    }
}

impl fmt::Display for Name {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.pad(self.as_str())
    }
}

impl fmt::Debug for Name {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        fmt::Debug::fmt(self.as_str(), f)
    }
}

/// Bytes of a message's source.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub struct Span {
    /// The first byte.
    pub start: u32,
    /// The byte after the last.
    pub end: u32,
}

impl Span {
    pub(crate) fn new(range: Range<usize>) -> Self {
        // Sources are bounded by `Message::MAX_LENGTH`, far below the bound of the type.
        let place = |at: usize| u32::try_from(at).unwrap_or(u32::MAX);
        Self { start: place(range.start), end: place(range.end) }
    }

    /// The span as a range of indices.
    pub fn range(self) -> Range<usize> {
        self.start as usize..self.end as usize
    }
}

/// A message, parsed.
#[derive(Clone, Debug, PartialEq)]
pub struct Message {
    /// `.input` and `.local`, in order.
    pub declarations: Vec<Declaration>,
    /// One pattern, or several to select from.
    pub body: Body,
}

/// The content of a message.
#[derive(Clone, Debug, PartialEq)]
pub enum Body {
    /// One pattern.
    Pattern(Pattern),
    /// `.match`: the variant whose keys suit the selectors best.
    Match {
        /// The variables selected by.
        selectors: Vec<Selector>,
        /// The variants, in order.
        variants: Vec<Variant>,
    },
}

/// A variable that `.match` selects by.
#[derive(Clone, Debug, PartialEq)]
pub struct Selector {
    /// Its name, without `$`.
    pub name: Name,
    /// Its place.
    pub span: Span,
}

/// A declaration.
#[derive(Clone, Debug, PartialEq)]
pub struct Declaration {
    /// The variable declared, without `$`.
    pub name: Name,
    /// `.input`, which annotates a parameter, or `.local`, which makes a new variable.
    pub kind: DeclarationKind,
    /// What the variable stands for.
    pub value: Expression,
    /// The place of the variable's name.
    pub span: Span,
}

/// The two declarations.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum DeclarationKind {
    /// `.input {$x :number}`
    Input,
    /// `.local $y = {$x :number}`
    Local,
}

/// One variant of the message.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Variant {
    /// A key for each selector.
    pub keys: Vec<Key>,
    /// Its text and placeholders.
    pub pattern: Pattern,
    /// The place of the keys.
    pub span: Span,
}

/// A key of a variant.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Key {
    /// `one`, `1`, `|a b|`
    Literal(Name),
    /// `*`
    Any,
}

/// Text with placeholders.
pub type Pattern = Vec<Element>;

/// A part of a pattern.
#[derive(Clone, Debug, PartialEq)]
pub enum Element {
    /// Text, as it is.
    Text(Name),
    /// A value to be formatted.
    Expression(Expression),
    /// The beginning or the end of a stretch of markup.
    Markup(Markup),
}

/// `{$x :function option=value @attribute}`
#[derive(Clone, Debug, PartialEq)]
pub struct Expression {
    /// What is formatted; none for a function alone.
    pub operand: Option<Operand>,
    /// What formats it.
    pub function: Option<Function>,
    /// Notes to tools, which formatting leaves aside.
    pub attributes: Vec<Attribute>,
    /// Its place, braces included.
    pub span: Span,
}

/// A literal or a variable.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Operand {
    /// `|text|`, `42`
    Literal(Name),
    /// `$name`
    Variable(Name),
}

/// `:function option=value`
#[derive(Clone, Debug, PartialEq)]
pub struct Function {
    /// Its name, with its namespace: `number`, `crow:list`.
    pub name: Name,
    /// Its options, in order.
    pub options: Vec<Setting>,
    /// The place of its name.
    pub span: Span,
}

/// `option=value`
#[derive(Clone, Debug, PartialEq)]
pub struct Setting {
    /// Its name, with its namespace.
    pub name: Name,
    /// Its value.
    pub value: Operand,
    /// The place of its name.
    pub span: Span,
}

/// `@attribute` or `@attribute=value`
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Attribute {
    /// Its name, with its namespace.
    pub name: Name,
    /// Its value, a literal.
    pub value: Option<Name>,
}

/// `{#b}`, `{/b}`, `{#br /}`
#[derive(Clone, Debug, PartialEq)]
pub struct Markup {
    /// Which of the three.
    pub kind: MarkupKind,
    /// Its name, with its namespace.
    pub name: Name,
    /// Its options, in order.
    pub options: Vec<Setting>,
    /// Notes to tools.
    pub attributes: Vec<Attribute>,
    /// Its place, braces included.
    pub span: Span,
}

/// The three forms of markup.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum MarkupKind {
    /// `{#b}`
    Open,
    /// `{/b}`
    Close,
    /// `{#br /}`
    Standalone,
}

impl Message {
    /// Every pattern of the message, in order.
    pub fn patterns(&self) -> impl Iterator<Item = &Pattern> {
        let (one, several) = match &self.body {
            Body::Pattern(pattern) => (Some(pattern), &[][..]),
            Body::Match { variants, .. } => (None, variants.as_slice()),
        };
        one.into_iter().chain(several.iter().map(|variant| &variant.pattern))
    }

    /// Every expression of the message: those of declarations, then those of patterns.
    pub fn expressions(&self) -> impl Iterator<Item = &Expression> {
        let declared = self.declarations.iter().map(|declaration| &declaration.value);
        let placed = self.patterns().flatten().filter_map(|element| match element {
            Element::Expression(expression) => Some(expression),
            _ => None,
        });
        declared.chain(placed)
    }

    /// Every piece of markup, in order.
    pub fn markup(&self) -> impl Iterator<Item = &Markup> {
        self.patterns().flatten().filter_map(|element| match element {
            Element::Markup(markup) => Some(markup),
            _ => None,
        })
    }
}
