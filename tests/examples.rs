//! The small examples run, and say what they are there to say.

#![allow(clippy::unwrap_used, reason = "a test fails by panicking")]

use std::path::Path;
use std::process::Command;

const EXAMPLES: [&str; 19] = [
    "actix",
    "actix_sessions",
    "api_area",
    "calendars",
    "custom_function",
    "custom_source",
    "dates_and_zones",
    "embedded",
    "errors_outside",
    "form_errors",
    "fragment",
    "hello",
    "hyper",
    "mail",
    "minijinja",
    "other_framework",
    "overlay",
    "plurals",
    "streaming",
];

#[test]
fn examples_say_what_they_show() {
    let folder = std::env::current_exe().unwrap().parent().unwrap().with_file_name("examples");
    let mut said = String::new();
    for example in EXAMPLES {
        let output = Command::new(folder.join(example)).output();
        let output = output.unwrap_or_else(|error| {
            panic!("{example}: {error}; run `cargo test --workspace`, which builds it")
        });
        assert!(output.status.success(), "{example}: {output:?}");
        said.extend(["== ", example, "\n", &String::from_utf8(output.stdout).unwrap()]);
    }
    insta::assert_snapshot!(said);
}

#[test]
fn every_example_is_run_and_is_short() {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("..");
    let mut names = Vec::new();
    for folder in ["crates/crow-fly/examples", "crates/crow-fly/cookbook", "examples/neighbours/examples"] {
        for entry in std::fs::read_dir(root.join(folder)).unwrap() {
            let path = entry.unwrap().path();
            let lines = std::fs::read_to_string(&path).unwrap().lines().count();
            assert!(lines <= 60, "{} has {lines} lines", path.display());
            names.push(path.file_stem().unwrap().to_str().unwrap().to_owned());
        }
    }
    names.sort();
    assert_eq!(names, EXAMPLES);
}
