//! What the compiler says of what does not compile. It is given the libraries that this test was built with.

#![allow(
    clippy::unwrap_used,
    clippy::print_stderr,
    reason = "a test fails by panicking, and says why it does not run"
)]

use std::fs;
use std::path::{Path, PathBuf};
use std::process::{Command, Output};

use crow_fly_codegen::{SourceFile, generate};
use proptest::prelude::*;

/// The compiler whose messages are committed; another one words them in its own way.
const COMPILER: &str = "rustc 1.95";

const WRONG: &str = "tests/compile/wrong";

#[test]
fn what_is_wrong_does_not_compile_and_the_compiler_says_why() {
    let version =
        Command::new("rustc").arg("--version").output().map(|output| output.stdout).unwrap_or_default();
    if !String::from_utf8_lossy(&version).starts_with(COMPILER) {
        eprintln!("skipped: the messages are those of {COMPILER}");
        return;
    }
    let mut files: Vec<PathBuf> = fs::read_dir(WRONG).unwrap().map(|entry| entry.unwrap().path()).collect();
    files.sort();
    assert!(files.len() > 10, "{files:?}");
    let output = tempfile::tempdir().unwrap();
    for file in files {
        let compiled = compile(&file, output.path(), &[]);
        let said = String::from_utf8(compiled.stderr).unwrap();
        assert!(!compiled.status.success(), "{} compiles", file.display());
        let name = file.file_stem().unwrap().to_str().unwrap();
        insta::assert_snapshot!(name, lasting(&said));
    }
}

/// Compiles a file with the libraries that this test was built with.
fn compile(file: &Path, output: &Path, more: &[&str]) -> Output {
    let libraries = std::env::current_exe().unwrap().parent().unwrap().to_owned();
    let crow_fly = newest(&libraries, "libcrow_fly-");
    Command::new("rustc")
        .args(["--edition", "2024", "--emit", "metadata", "--color", "never", "-A", "warnings"])
        .args(["--diagnostic-width", "100"])
        .args(more)
        .arg("-L")
        .arg(format!("dependency={}", libraries.display()))
        .arg("--extern")
        .arg(format!("crow_fly={}", crow_fly.display()))
        .arg("--out-dir")
        .arg(output)
        .arg(file)
        .output()
        .unwrap()
}

/// Characters that break a comment, or turn it around: controls, marks of direction, separators.
fn hostile() -> Vec<char> {
    let codes = (1..0x20).chain(0x7f..0xa0).chain([0xad, 0x61c, 0xfeff, 0x2028, 0x2029]);
    let codes =
        codes.chain(0x200b..=0x200f).chain(0x202a..=0x202e).chain(0x2066..=0x2069).chain(0xfff9..=0xfffb);
    codes.filter_map(char::from_u32).collect()
}

/// Makes code of texts, and compiles it.
fn compiles(texts: impl IntoIterator<Item = String>) {
    let members = texts.into_iter().enumerate().map(|(at, text)| (format!("key{at}"), text.into()));
    let file = serde_json::Value::Object(members.collect()).to_string();
    let code = match generate("en", &[SourceFile::section("catalogs/en/home.json", "home", file)]) {
        Ok(code) => code,
        Err(problems) => panic!("{problems}"),
    };
    let output = tempfile::tempdir().unwrap();
    let path = output.path().join("hostile.rs");
    fs::write(&path, &code).unwrap();
    let compiled = compile(&path, output.path(), &["--crate-type", "lib"]);
    assert!(compiled.status.success(), "{}", String::from_utf8_lossy(&compiled.stderr));
}

#[test]
fn every_hostile_character_makes_code_that_compiles() {
    let around = |letter: char| format!("a{letter}b {{$x}} */ ``` // {letter}{letter}\r");
    compiles(hostile().into_iter().map(around).chain(["\r\n\r".to_owned()]));
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 6, ..ProptestConfig::default() })]

    /// Sixty texts of hostile and of other pieces are one module.
    #[test]
    fn hostile_texts_make_code_that_compiles(
        texts in prop::collection::vec(
            prop::collection::vec(
                prop_oneof![
                    prop::sample::select(hostile()).prop_map(String::from),
                    prop::sample::select(vec!["*/", "/*", "`", "```", "///", "\"#", "\r", "\n", " ", "#", "{$x}", "א", "a"])
                        .prop_map(str::to_owned),
                ],
                0..12,
            ).prop_map(|pieces| pieces.concat()),
            60,
        ),
    ) {
        compiles(texts);
    }
}

/// The newest file of a name: other builds may have left theirs.
fn newest(folder: &Path, start: &str) -> PathBuf {
    let files = fs::read_dir(folder).unwrap().map(|entry| entry.unwrap().path());
    let named = files.filter(|path| {
        let name = path.file_name().and_then(|name| name.to_str()).unwrap_or_default();
        name.starts_with(start) && path.extension().is_some_and(|extension| extension == "rlib")
    });
    named.max_by_key(|path| fs::metadata(path).and_then(|file| file.modified()).unwrap()).unwrap()
}

/// What stays the same of a message when other code changes: no line numbers of it, nor how wide those are, nor which other
/// types there are.
fn lasting(said: &str) -> String {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("../..").canonicalize().unwrap();
    let said = said.replace(&*root.to_string_lossy(), "$WORKSPACE");
    let mut lasting = Vec::new();
    let (mut elsewhere, mut in_list) = (false, false);
    for line in said.lines() {
        // Which types there are depends on features.
        in_list =
            line.contains("the following other types implement") || in_list && line.starts_with("         ");
        if in_list {
            continue;
        }
        // A long type is written to a file, whose name is another each time.
        let passing = [
            "error: aborting",
            "For more information",
            "= note: the full name for the type",
            "= note: consider using `--verbose`",
        ];
        if passing.iter().any(|start| line.trim_start().starts_with(start)) {
            continue;
        }
        let rest = line.trim_start();
        let digits: String = rest.chars().take_while(char::is_ascii_digit).collect();
        let after = rest.get(digits.len()..).unwrap_or_default().trim_start();
        if rest.starts_with("--> ") || rest.starts_with("::: ") {
            elsewhere = !rest.contains(&format!("{WRONG}/")) || rest.contains("..");
            let place = if elsewhere {
                rest.split(".rs:").next().unwrap_or(rest).to_owned() + ".rs"
            } else {
                rest.to_owned()
            };
            lasting.push(format!(" {}", place.trim_end_matches(".rs.rs")));
        } else if after.starts_with(['|', '-', '+', '~']) && (after.starts_with('|') || !digits.is_empty()) {
            lasting.push(if elsewhere || digits.is_empty() {
                format!("  {after}")
            } else {
                format!("{digits} {after}")
            });
        } else if rest.starts_with("= ") {
            lasting.push(format!("  {rest}"));
        } else {
            lasting.push(line.to_owned());
        }
    }
    lasting.join("\n").trim().to_owned()
}
