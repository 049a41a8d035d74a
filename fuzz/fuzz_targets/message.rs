//! Any text as a message: parsed, printed, compiled, and formatted in every form.

#![no_main]

use crow_fly_core::args;
use crow_fly_core::message::{Message, Program, FormatContext, SyntaxTree};
use libfuzzer_sys::fuzz_target;

fuzz_target!(|source: &str| {
    let tree = SyntaxTree::parse(source);
    let text: String = tree.root().tokens().map(|token| token.text()).collect();
    assert_eq!(text, source);
    let Ok(message) = Message::parse(source) else { return };
    let printed = message.to_string();
    let again = Message::parse(&printed).expect("what is printed is read again");
    assert_eq!(again.to_string(), printed);
    let program = Program::compile(&message);
    let args = args! { x: source, n: 3, d: "2026-03-01T09:30:00Z", list: [source, "b", "c"] };
    for tag in ["en", "pl", "ar-EG"] {
        let context = FormatContext::of(&tag.parse().expect("a well-formed tag"));
        let text = program.format(&context, &args).text();
        assert_eq!(text, program.format(&context, &args).to_string());
        let _ = program.format(&context, &args).html();
        let _ = program.format(&context, &args).parts();
    }
});
