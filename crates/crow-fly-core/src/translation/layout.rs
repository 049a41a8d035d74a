//! A message that changes keeps the layout of its source: white space, alignment, the order of what does not change.

use alloc::borrow::ToOwned;
use alloc::format;
use alloc::string::{String, ToString};
use alloc::vec::Vec;
use core::ops::Range;

use super::piece;
use crate::message::model::{Body, Key, Variant};
use crate::message::{Message, SyntaxKind, SyntaxNode, SyntaxTree};

/// The source of a message, laid out as an earlier source of it. None where it has another frame: other declarations, other
/// selectors.
pub(super) fn laid_out_as(source: &str, message: &Message) -> Option<String> {
    let old = Message::parse(source).ok()?;
    let tree = SyntaxTree::parse(source);
    let edits = match (&old.body, &message.body) {
        (Body::Pattern(old), Body::Pattern(new)) => {
            let pattern = tree.root().descendants().find(|node| node.kind() == SyntaxKind::Pattern)?;
            let is_same = text(old) == text(new);
            if is_same { Vec::new() } else { [(pattern.span().range(), text(new))].into() }
        }
        (Body::Match { variants: old, .. }, Body::Match { variants: new, .. }) => {
            of_variants(source, &tree, old, new)?
        }
        _ => return None,
    };
    let mut changed = source.to_owned();
    for (range, text) in edits.into_iter().rev() {
        changed.get(range.clone())?;
        changed.replace_range(range, &text);
    }
    let is_it = |again: Message| again.to_string() == message.to_string();
    Message::parse(&changed).is_ok_and(is_it).then_some(changed)
}

/// What changes in the source of the variants, in the order of their places.
fn of_variants(
    source: &str,
    tree: &SyntaxTree<'_>,
    old: &[Variant],
    new: &[Variant],
) -> Option<Vec<(Range<usize>, String)>> {
    let nodes: Vec<SyntaxNode<'_>> =
        tree.root().descendants().filter(|node| node.kind() == SyntaxKind::Variant).collect();
    if nodes.len() != old.len() {
        return None;
    }
    let mut edits = Vec::new();
    for (variant, node) in old.iter().zip(&nodes) {
        let span = node.span().range();
        let before = source.get(..span.start)?;
        let space = before.trim_end().len()..span.start;
        if is_fallback(variant) {
            // New forms come before it, as far from each other, their patterns below each other.
            let separator = source.get(space.clone())?;
            let quoted = node.children().find(|part| part.kind() == SyntaxKind::QuotedPattern)?;
            let width = source.get(span.start..quoted.span().range().start)?.chars().count();
            let is_new = |row: &&Variant| old.iter().all(|known| known.keys != row.keys);
            for row in new.iter().filter(is_new) {
                let keys = keys(&row.keys);
                let width = width.max(keys.chars().count() + 1);
                let text = format!("{keys:width$}{{{{{}}}}}{separator}", text(&row.pattern));
                edits.push((span.start..span.start, text));
            }
        }
        match new.iter().find(|row| row.keys == variant.keys) {
            Some(row) if text(&row.pattern) == text(&variant.pattern) => {}
            Some(row) => {
                let pattern = node.descendants().find(|part| part.kind() == SyntaxKind::Pattern)?;
                edits.push((pattern.span().range(), text(&row.pattern)));
            }
            None => edits.push((space.start..span.end, String::new())),
        }
    }
    Some(edits)
}

/// Whether a variant is the one for everything else.
pub(super) fn is_fallback(variant: &Variant) -> bool {
    variant.keys.iter().all(|key| *key == Key::Any)
}

fn text(pattern: &crate::message::model::Pattern) -> String {
    piece::source(&piece::pieces(pattern))
}

fn keys(keys: &[Key]) -> String {
    keys.iter().map(ToString::to_string).collect::<Vec<_>>().join(" ")
}
