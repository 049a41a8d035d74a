//! The syntax tree of a message: every byte of the source, in its place.

use alloc::vec::Vec;
use core::fmt;
use core::ops::Range;

use crate::message::error::MessageError;
use crate::message::model::Span;

/// What a part of the source is: the productions of the standard's grammar (UTS #35 part 9, "message.abnf").
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[non_exhaustive]
pub enum SyntaxKind {
    /// The whole source.
    Message,
    /// `.input {…}`
    InputDeclaration,
    /// `.local $name = {…}`
    LocalDeclaration,
    /// `.match` with its selectors and variants.
    Matcher,
    /// Keys and a pattern.
    Variant,
    /// A literal, or `*`.
    Key,
    /// A pattern with its braces.
    QuotedPattern,
    /// Text and placeholders.
    Pattern,
    /// `{$x :function}`
    Expression,
    /// `{#b}`, `{/b}`, `{#br /}`
    Markup,
    /// `:function`, with its options.
    Function,
    /// `name=value`
    Option,
    /// `@name` or `@name=value`
    Attribute,
    /// `$name`
    Variable,
    /// `name` or `namespace:name`
    Identifier,
    /// A literal in bars.
    QuotedLiteral,
    /// A token: a literal without bars.
    UnquotedLiteral,
    /// A token: a name.
    Name,
    /// A token: text of a pattern or a quoted literal.
    Text,
    /// A token: a backslash and what it keeps from having a meaning.
    Escape,
    /// A token: `.input`, `.local` or `.match`.
    Keyword,
    /// A token: a brace, `$`, `:`, `=` and the like.
    Sign,
    /// A token: white space and marks of direction.
    Space,
    /// A token: what no rule of the grammar takes; an error tells why.
    Skipped,
}

impl SyntaxKind {
    /// Whether it has no parts.
    pub const fn is_token(self) -> bool {
        matches!(
            self,
            Self::UnquotedLiteral
                | Self::Name
                | Self::Text
                | Self::Escape
                | Self::Keyword
                | Self::Sign
                | Self::Space
                | Self::Skipped
        )
    }
}

/// What hears of everything the parser reads.
pub(in crate::message) trait Listen {
    /// A part begins; what comes back closes it.
    fn open(&mut self, kind: SyntaxKind, at: usize) -> usize;

    /// Closes a part, and all that was opened within it.
    fn close(&mut self, depth: usize, at: usize);

    fn token(&mut self, kind: SyntaxKind, range: Range<usize>);
}

/// Nobody listens.
impl Listen for () {
    fn open(&mut self, _: SyntaxKind, _: usize) -> usize {
        0
    }

    fn close(&mut self, _: usize, _: usize) {}

    fn token(&mut self, _: SyntaxKind, _: Range<usize>) {}
}

/// A message's source as a tree, for editors, formatters and other tools. It is there for every source, whatever its
/// errors, and holds every byte: the tokens, one behind the other, are the source.
///
/// ```
/// use crow_fly_core::message::{SyntaxKind, SyntaxTree};
///
/// let tree = SyntaxTree::parse("Only {$seats :integer} left");
/// let variables = tree.root().descendants().filter(|node| node.kind() == SyntaxKind::Variable);
/// assert_eq!(variables.map(|node| node.text()).collect::<Vec<_>>(), ["$seats"]);
///
/// // What stands where a person points.
/// let path: Vec<_> = tree.at(8).map(|node| node.kind()).collect();
/// assert!(path.starts_with(&[SyntaxKind::Message, SyntaxKind::Pattern, SyntaxKind::Expression]));
/// ```
#[derive(Clone, Debug)]
pub struct SyntaxTree<'s> {
    source: &'s str,
    /// Each part before its own parts.
    nodes: Vec<Node>,
    errors: Vec<MessageError>,
}

#[derive(Clone, Copy, Debug)]
struct Node {
    kind: SyntaxKind,
    span: Span,
    /// The place behind its last part.
    next: u32,
}

impl<'s> SyntaxTree<'s> {
    /// Reads a source.
    pub fn parse(source: &'s str) -> Self {
        let mut builder = Builder::default();
        let root = builder.open(SyntaxKind::Message, 0);
        let (_, errors) = super::parse(source, &mut builder);
        builder.close(root, source.len());
        Self { source, nodes: builder.nodes, errors }
    }

    /// The whole message.
    pub fn root(&self) -> SyntaxNode<'_> {
        SyntaxNode { tree: self, at: 0 }
    }

    /// The errors of the grammar; [`Message::parse`](crate::message::Message::parse) finds those of the data model too.
    pub fn errors(&self) -> &[MessageError] {
        &self.errors
    }

    /// What stands at a byte, from the whole message down to a token. Behind the last byte nothing does.
    pub fn at(&self, byte: usize) -> impl Iterator<Item = SyntaxNode<'_>> {
        let holds = move |node: &SyntaxNode<'_>| node.span().range().contains(&byte);
        let root = Some(self.root()).filter(holds);
        core::iter::successors(root, move |node| node.children().find(holds))
    }
}

/// Prints the tree, one part a line: for tests, and for looking at it.
impl fmt::Display for SyntaxTree<'_> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let mut ends: Vec<u32> = Vec::new();
        for (at, node) in self.root().descendants().enumerate() {
            ends.retain(|end| (*end as usize) > at);
            write!(f, "{:indent$}{:?}", "", node.kind(), indent = ends.len() * 2)?;
            if node.kind().is_token() {
                write!(f, " {:?}", node.text())?;
            }
            writeln!(f)?;
            ends.extend(self.nodes.get(at).map(|node| node.next));
        }
        Ok(())
    }
}

/// A part of a syntax tree.
#[derive(Clone, Copy)]
pub struct SyntaxNode<'t> {
    tree: &'t SyntaxTree<'t>,
    at: u32,
}

impl<'t> SyntaxNode<'t> {
    fn node(self) -> Node {
        let nothing = Node { kind: SyntaxKind::Skipped, span: Span::default(), next: self.at + 1 };
        self.tree.nodes.get(self.at as usize).copied().unwrap_or(nothing)
    }

    /// What it is.
    pub fn kind(self) -> SyntaxKind {
        self.node().kind
    }

    /// Its place.
    pub fn span(self) -> Span {
        self.node().span
    }

    /// Its source.
    pub fn text(self) -> &'t str {
        self.tree.source.get(self.span().range()).unwrap_or_default()
    }

    /// Its parts, in order.
    pub fn children(self) -> impl Iterator<Item = SyntaxNode<'t>> {
        let (tree, end) = (self.tree, self.node().next);
        let first = Some(self.at + 1).filter(|at| *at < end);
        let next = move |at: &u32| Some(SyntaxNode { tree, at: *at }.node().next).filter(|at| *at < end);
        core::iter::successors(first, next).map(move |at| SyntaxNode { tree, at })
    }

    /// Itself, its parts, and theirs: each before its own.
    pub fn descendants(self) -> impl Iterator<Item = SyntaxNode<'t>> {
        (self.at..self.node().next).map(move |at| SyntaxNode { tree: self.tree, at })
    }

    /// Its tokens: one behind the other they are its source.
    pub fn tokens(self) -> impl Iterator<Item = SyntaxNode<'t>> {
        self.descendants().filter(|node| node.kind().is_token())
    }
}

impl fmt::Debug for SyntaxNode<'_> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{:?} {:?}", self.kind(), self.text())
    }
}

/// Puts a tree together.
#[derive(Default)]
struct Builder {
    nodes: Vec<Node>,
    /// The parts that are open, from the outermost in.
    open: Vec<u32>,
    /// How far the source is in the tree.
    end: usize,
}

impl Builder {
    fn push(&mut self, kind: SyntaxKind, range: Range<usize>) {
        let next = u32::try_from(self.nodes.len() + 1).unwrap_or(u32::MAX);
        self.nodes.push(Node { kind, span: Span::new(range), next });
    }

    /// Adds what was passed over on the way to a place.
    fn fill(&mut self, at: usize) {
        if self.end < at {
            self.push(SyntaxKind::Skipped, self.end..at);
            self.end = at;
        }
    }
}

impl Listen for Builder {
    fn open(&mut self, kind: SyntaxKind, at: usize) -> usize {
        self.fill(at);
        let depth = self.open.len();
        self.open.push(u32::try_from(self.nodes.len()).unwrap_or(u32::MAX));
        self.push(kind, self.end..self.end);
        depth
    }

    fn close(&mut self, depth: usize, at: usize) {
        self.fill(at);
        let next = u32::try_from(self.nodes.len()).unwrap_or(u32::MAX);
        let end = Span::new(self.end..self.end).end;
        for open in self.open.drain(depth.min(self.open.len())..) {
            if let Some(node) = self.nodes.get_mut(open as usize) {
                node.next = next;
                node.span.end = end;
            }
        }
    }

    fn token(&mut self, kind: SyntaxKind, range: Range<usize>) {
        // After an error the parser may go back a little: what is in the tree already stays as it is.
        let start = range.start.max(self.end);
        self.fill(range.start);
        if start < range.end {
            self.push(kind, start..range.end);
            self.end = range.end;
        }
    }
}
