//! What the compiler says of what does not compile.

#![allow(clippy::print_stderr, reason = "a test says why it does not run")]

use std::process::Command;

/// The compiler whose messages are committed; another one words them in its own way.
const COMPILER: &str = "rustc 1.95";

#[test]
fn what_is_wrong_does_not_compile_and_the_compiler_says_why() {
    let version =
        Command::new("rustc").arg("--version").output().map(|output| output.stdout).unwrap_or_default();
    if !String::from_utf8_lossy(&version).starts_with(COMPILER) {
        eprintln!("skipped: the messages are those of {COMPILER}");
        return;
    }
    trybuild::TestCases::new().compile_fail("tests/compile/wrong/*.rs");
}
