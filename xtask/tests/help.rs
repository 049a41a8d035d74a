//! The program is built with the tests, and says what it does.

#![allow(clippy::unwrap_used, reason = "a test fails by panicking")]

use std::process::Command;

#[test]
fn it_says_its_chores() {
    let output = Command::new(env!("CARGO_BIN_EXE_xtask")).arg("help").output().unwrap();
    let said = String::from_utf8(output.stdout).unwrap();
    for chore in ["data", "bench", "compare", "load", "instructions", "sizes", "proof"] {
        assert!(said.lines().any(|line| line.trim_start().starts_with(chore)), "{chore} is not in\n{said}");
    }
}
