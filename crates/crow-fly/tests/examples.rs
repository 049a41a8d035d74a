//! The small examples run, and say what they are there to say.

#![allow(clippy::unwrap_used, reason = "a test fails by panicking")]

use std::process::Command;

#[test]
fn examples_say_what_they_show() {
    let folder = std::env::current_exe().unwrap().parent().unwrap().with_file_name("examples");
    let mut said = String::new();
    for example in ["errors_outside", "form_errors", "fragment", "streaming"] {
        let output = Command::new(folder.join(example)).output();
        let output =
            output.unwrap_or_else(|error| panic!("{example}: {error}; run `cargo test`, which builds it"));
        assert!(output.status.success(), "{example}: {output:?}");
        said.extend(["== ", example, "\n", &String::from_utf8(output.stdout).unwrap()]);
    }
    insta::assert_snapshot!(said);
}
