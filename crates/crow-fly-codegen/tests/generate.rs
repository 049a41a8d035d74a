//! What is made of catalogs: the code, its layout, and what is refused.

#![allow(clippy::unwrap_used, reason = "a test fails by panicking")]

use std::fs;
use std::io::Write as _;
use std::path::Path;
use std::process::{Command, Stdio};

use crow_fly_codegen::{Catalogs, SourceFile, generate};
use proptest::prelude::*;

/// The code in the layout of `rustfmt`.
fn formatted(code: &str) -> String {
    let mut rustfmt = Command::new("rustfmt")
        .args(["--edition", "2024", "--config-path", "/dev/null", "--emit", "stdout", "--quiet"])
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .spawn()
        .unwrap();
    let mut stdin = rustfmt.stdin.take().unwrap();
    stdin.write_all(code.as_bytes()).unwrap();
    drop(stdin);
    let output = rustfmt.wait_with_output().unwrap();
    assert!(output.status.success(), "{code}");
    String::from_utf8(output.stdout).unwrap()
}

fn compile_folder() -> &'static Path {
    Path::new("tests/compile")
}

#[test]
fn the_code_is_as_it_was_read_and_is_formatted() {
    let code = Catalogs::of(compile_folder().join("catalogs"), "en").module().unwrap();
    insta::assert_snapshot!(code);
    assert_eq!(formatted(&code), code);
    // What the tests of the compiler's messages are compiled with.
    let path = compile_folder().join("messages.rs");
    if std::env::var_os("WRITE_MESSAGES").is_some() {
        fs::write(&path, &code).unwrap();
    }
    assert_eq!(fs::read_to_string(&path).unwrap(), code, "write it anew with WRITE_MESSAGES=1");
}

#[test]
fn the_upper_layer_has_its_own_messages() {
    let folder = tempfile::tempdir().unwrap();
    let write = |path: &str, text: &str| {
        let path = folder.path().join(path);
        fs::create_dir_all(path.parent().unwrap()).unwrap();
        fs::write(path, text).unwrap();
    };
    write("site/en/home.toml", "title = 'Ferries'\nhelp = 'Help'");
    write("brand/en.toml", "[home]\ntitle = 'Ferries of {$port}'\n[legal]\nname = 'A company'");
    let catalogs = Catalogs::of(folder.path().join("site"), "en").over(folder.path().join("brand"));
    let code = catalogs.module().unwrap();
    let messages = code.split("pub const MESSAGES: &[(&str, &[&str])] = &[").nth(1).unwrap();
    let messages = messages.split("];").next().unwrap();
    insta::assert_snapshot!(messages, @r#"

    ("home.help", &[]),
    ("home.title", &["port"]),
    ("legal.name", &[]),
    "#);
    assert_eq!(formatted(&code), code);
}

/// What is told of a file.
fn told(text: &str) -> String {
    told_of("home", text)
}

fn told_of(section: &str, text: &str) -> String {
    let file = SourceFile::section(format!("catalogs/en/{section}.toml"), section, text);
    generate("en", &[file]).unwrap_err().to_string()
}

#[test]
fn what_cannot_be_rust_is_refused_with_its_line() {
    insta::assert_snapshot!(
        [
            told("title = 'A'\nseats-left = 'B'\nseats_left = 'C'"),
            told("title = 'A'\n[form]\nname = 'B'\n[Form]\nother = 'C'"),
            told("\nself = 'A'"),
            told("[type]\nname = 'A'\nplace = 'B'"),
            told("title = 'A'\n2nd = 'B'"),
            told("title = '{$type}'"),
            told("title = '{$seats-left} {$seats_left}'"),
            told("notice = '.input {$kind :string} .match $kind a {{A}} * {{B}}'\nnotice-kind = 'C'"),
            told("title = '{$a'"),
            told("title = 7"),
            told("title = "),
            told_of("crate", "title = 'A'"),
            told_of("self", "title = 'A'"),
            told_of("sections", "title = 'A'"),
        ]
        .join("\n")
    );
    let two = [
        SourceFile::section("catalogs/en/a-b.toml", "a-b", "title = 'A'"),
        SourceFile::section("catalogs/en/a_b.toml", "a_b", "\ntitle = 'A'"),
    ];
    insta::assert_snapshot!(generate("en", &two).unwrap_err());
    let error = Catalogs::of("tests/nowhere", "en").module().unwrap_err().to_string();
    insta::assert_snapshot!(error);
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(32))]

    /// Names and texts of any length are laid out as `rustfmt` does it.
    #[test]
    fn any_code_is_formatted(
        keys in proptest::collection::btree_set("[a-z][a-z0-9]{0,9}(-[a-z]{1,12}){0,3}", 1..6),
        names in proptest::collection::btree_set("[a-z][a-z0-9]{0,3}(-[a-z]{1,9}){0,2}q", 0..5),
        note in "[ -~]{0,60}",
    ) {
        let functions = ["", " :integer", " :string", " :date", " :currency", " :crow:list"];
        let uses = names.iter().zip(functions.iter().cycle()).map(|(name, function)| format!("{{${name}{function}}}"));
        let text = format!("``` {}", uses.collect::<Vec<_>>().join(" "));
        let messages = keys.iter().map(|key| format!("# {note}\n{key} = '{text}'\n"));
        let file = SourceFile::section("catalogs/en/home.toml", "home", messages.collect::<String>());
        if let Ok(code) = generate("en", &[file]) {
            prop_assert_eq!(formatted(&code), code);
        }
    }
}

#[test]
fn of_a_section_in_toml_and_in_json_the_toml_counts() {
    let folder = tempfile::tempdir().unwrap();
    let english = folder.path().join("en");
    fs::create_dir(&english).unwrap();
    fs::write(english.join("home.json"), r#"{ "in-json": "one", "seats": "{$old}" }"#).unwrap();
    fs::write(english.join("home.toml"), "seats = '{$seats :integer} seats'\n").unwrap();
    fs::write(english.join("trip.json"), r#"{ "title": "Your trip" }"#).unwrap();
    let code = Catalogs::of(folder.path(), "en").module().unwrap();
    assert!(code.contains("struct Seats") && code.contains("struct Title"), "{code}");
    assert!(!code.contains("InJson") && !code.contains("old"), "{code}");
}
