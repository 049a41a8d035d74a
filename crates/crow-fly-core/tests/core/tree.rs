//! The syntax tree: every byte of every source, each in its place.

use crow_fly_core::args;
use crow_fly_core::catalog::{Catalog, Entry, SectionSource};
use crow_fly_core::message::{FormatContext, Message, Program, SyntaxKind, SyntaxNode, SyntaxTree};
use insta::assert_snapshot;
use proptest::prelude::*;

use crate::message_laws::source;
use crate::tag;

#[test]
fn a_tree_shows_how_a_message_is_made() {
    let source = ".input {$n :integer select=|a\\||}\n.match $n\none {{{#b}One{/b} \\{}}\n* {{{$n @note=x}}}";
    assert_snapshot!(SyntaxTree::parse(source));
}

#[test]
fn a_tree_is_there_for_a_broken_message() {
    let tree = SyntaxTree::parse(".input {$n :integer select} .match $n one {{Seats {$}} junk * {{}}");
    assert_snapshot!(tree);
    let kinds: Vec<_> = tree.errors().iter().map(|error| error.kind().id()).collect();
    assert_eq!(kinds, ["expected-equals", "expected-name"]);
}

#[test]
fn what_stands_at_a_byte_is_found_from_the_whole_to_the_token() {
    let tree = SyntaxTree::parse("Ferry {$name :string u:dir=ltr}!");
    let path = |byte| tree.at(byte).map(|node| format!("{:?}", node.kind())).collect::<Vec<_>>().join(" ");
    assert_eq!(path(2), "Message Pattern Text");
    assert_eq!(path(9), "Message Pattern Expression Variable Name");
    assert_eq!(path(24), "Message Pattern Expression Function Option Identifier Name");
    assert!(path(400).is_empty());
}

#[test]
fn the_longest_sources_are_read_to_their_end() {
    // Each would take very long where the rest were searched again for every part.
    for part in
        [".input ", ".x ", "{{", "{", "{a b", "{$x :f a=", ".local $a={$a}", "{|", "\\a", ".match $a "]
    {
        let source = part.repeat(Message::MAX_LENGTH / part.len());
        assert!(Message::parse(&source).is_err(), "{part}");
        let tree = SyntaxTree::parse(&source);
        assert_eq!(tree.root().span().range(), 0..source.len(), "{part}");
    }
}

fn holds_every_byte(node: SyntaxNode<'_>) {
    let range = node.span().range();
    let mut at = range.start;
    for child in node.children() {
        assert_eq!(child.span().range().start, at, "{node:?}");
        at = child.span().range().end;
    }
    assert!(at == range.end || node.kind().is_token(), "{node:?}");
}

proptest! {
    #[test]
    fn the_tokens_of_any_source_are_the_source(source in source(), cut in any::<prop::sample::Index>()) {
        // Half a message is what an editor shows most of the time.
        let cut = (0..=cut.index(source.len() + 1)).rev().find(|at| source.is_char_boundary(*at)).unwrap_or(0);
        for source in [source.as_str(), &source[..cut]] {
            let tree = SyntaxTree::parse(source);
            let text: String = tree.root().tokens().map(SyntaxNode::text).collect();
            prop_assert_eq!(&text, source);
            tree.root().descendants().for_each(holds_every_byte);
            let skipped = tree.root().tokens().any(|token| token.kind() == SyntaxKind::Skipped);
            prop_assert!(!skipped || !tree.errors().is_empty(), "{}", tree);
            if let Ok(message) = Message::parse(source) {
                let placed = message.patterns().flatten().count();
                let kinds = [SyntaxKind::Expression, SyntaxKind::Markup, SyntaxKind::Text, SyntaxKind::Escape];
                let seen = tree.root().descendants().filter(|node| kinds.contains(&node.kind())).count();
                prop_assert!(seen >= placed, "{}", tree);
            }
        }
    }
}

proptest! {
    /// The messages of a catalog share their texts, functions and tags.
    #[test]
    fn a_catalog_says_what_each_message_alone_says(sources in prop::collection::vec(source(), 1..5)) {
        let line = |(at, source)| format!("text-{at} = {}\n", serde_json::to_string(source).unwrap());
        let section = SectionSource::from_toml(&sources.iter().enumerate().map(line).collect::<String>());
        // JSON lets a few characters stand that TOML does not.
        prop_assume!(section.entries().len() == sources.len());
        let (catalog, findings) = Catalog::compile("en", "home", &section);
        let (context, args) = (FormatContext::of(&tag("en")), args! { x: "X", n: 3, d: "2026-03-01" });
        let mut errors = 0;
        for (at, source) in sources.iter().enumerate() {
            match (Message::parse(source), catalog.get(&format!("text-{at}"))) {
                (Ok(message), Entry::Message(program)) => {
                    let alone = Program::compile(&message);
                    let parts = program.format(&context, &args).parts();
                    prop_assert_eq!(parts, alone.format(&context, &args).parts());
                    let text = program.format(&context, &args).text();
                    prop_assert_eq!(text, alone.format(&context, &args).text());
                }
                (Err(found), Entry::Broken) => errors += found.len(),
                (parsed, entry) => prop_assert!(false, "{parsed:?} {entry:?}"),
            }
        }
        prop_assert_eq!(findings.len(), errors.min(100) + usize::from(errors > 100));
    }
}
