//! The small example runs, and says what it is there to say.

#![allow(clippy::unwrap_used, reason = "a test fails by panicking")]

use std::process::Command;

#[test]
fn the_example_of_types_says_its_messages() {
    let folder = std::env::current_exe().unwrap().parent().unwrap().with_file_name("examples");
    let output = Command::new(folder.join("typed")).output().unwrap();
    assert!(output.status.success(), "{output:?}");
    let said = String::from_utf8(output.stdout).unwrap();
    let lines: Vec<&str> = said.lines().collect();
    assert_eq!(lines[0], "3 seats left");
    assert!(lines[1].contains("Mair &amp; Siôn"), "{said}");
    assert_eq!(lines[2], "Book");
}
