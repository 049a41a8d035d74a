//! Declarations for scripts: what they say, and what the TypeScript compiler makes of them.

#![allow(
    clippy::unwrap_used,
    clippy::print_stderr,
    reason = "a test fails by panicking, and says why it does not run"
)]

use std::path::Path;
use std::process::Command;

use crow_fly_codegen::{SourceFile, declarations};

const SAILING: &str = r#"
# A note, that would end a comment: */ alert(1)
title = "{$from} to {$to}"
seats-left = "{$seats :integer} left"
fare = "{$fare :currency}"
leaves = "{$leaves :time}, {$leaves :crow:relative}"
takes = "{$takes :crow:duration}"
boats = "{$boats :crow:list}"
kind = ".input {$kind :string} .match $kind car {{A car}} bicycle {{A bicycle}} * {{{$kind}}}"
late = ".input {$late :string} .match $late true {{Late}} * {{In time}}"
named = "{$name :string}"
none = "No sailing"
"#;

fn written() -> String {
    let files = [
        SourceFile::section("en/sailing.toml", "sailing", SAILING),
        SourceFile::section("en/secret.toml", "secret", "plan = 'Not for visitors'"),
    ];
    declarations(&files, &["sailing".to_owned()]).unwrap()
}

#[test]
fn the_messages_of_public_sections_are_declared() {
    let code = written();
    let messages = code.split("    }\n").next().unwrap();
    insta::assert_snapshot!(messages);
    assert!(!code.contains("Not for visitors"));
}

#[test]
fn a_section_that_is_not_there_is_named() {
    let file = SourceFile::section("en/home.toml", "home", "title = 'Ferries'");
    let problems = declarations(&[file], &["home".to_owned(), "sailings".to_owned()]).unwrap_err();
    insta::assert_snapshot!(problems, @"en/home.toml: there is no section `sailings` that scripts could ask for; name the sections that have a file in the catalogs of the default locale");
}

/// What the TypeScript compiler says of a script; none where it is not installed.
fn compiled(script: &str) -> Option<String> {
    let compiler =
        Path::new(env!("CARGO_MANIFEST_DIR")).join("../../target/npm/node_modules/typescript/bin/tsc");
    if !compiler.exists() {
        let required = std::env::var_os("REQUIRE_NPM").is_some_and(|value| value == "1");
        assert!(!required, "{} is not there, and REQUIRE_NPM=1 is set", compiler.display());
        eprintln!("skipped: npm install --prefix target/npm typescript@5.9.3");
        return None;
    }
    let folder = tempfile::tempdir().unwrap();
    std::fs::write(folder.path().join("messages.d.ts"), written()).unwrap();
    std::fs::write(
        folder.path().join("page.ts"),
        format!("import {{ texts }} from \"/texts/crow-fly.js\";\nconst t = texts();\n{script}"),
    )
    .unwrap();
    let options = [
        "--noEmit",
        "--strict",
        "--target",
        "es2022",
        "--module",
        "es2022",
        "--lib",
        "es2022,dom",
        "--pretty",
        "false",
        "page.ts",
        "messages.d.ts",
    ];
    let output =
        Command::new("node").arg(compiler).args(options).current_dir(folder.path()).output().unwrap();
    Some(String::from_utf8(output.stdout).unwrap())
}

#[test]
fn what_is_right_compiles() {
    let Some(said) = compiled(
        r#"
        const element = document.querySelector("p")!;
        await t.text("sailing.seats-left", { seats: 3 });
        await t.text("sailing.seats-left", { seats: 12345678901234567890n });
        await t.text("sailing.title", { from: "A", to: { text: "sailing.seats-left", arguments: { seats: 3 } } });
        await t.text("sailing.fare", { fare: { amount: "12.50", currency: "EUR" } });
        await t.text("sailing.leaves", { leaves: new Date() });
        await t.text("sailing.takes", { takes: "PT1H30M" });
        await t.text("sailing.boats", { boats: ["Curlew", "Avocet"] });
        await t.text("sailing.kind", { kind: "car" });
        await t.text("sailing.kind", { kind: "tractor" });
        await t.text("sailing.late", { late: true });
        const shown: boolean = await t.show(element, "sailing.none");
        await t.show(element, "sailing.named", { name: "Mair" });
        await t.change("pl");
        for (const { locale, name, page } of t.languages) element.append(locale, name, page ?? t.path("/"));
        document.addEventListener("localechange", (event) => event.detail.locale.length);
        export {};
        "#,
    ) else {
        return;
    };
    assert_eq!(said, "");
}

#[test]
fn what_is_wrong_does_not() {
    let Some(said) = compiled(
        r#"
t.text("sailing.seats-lef", { seats: 3 });
t.text("secret.plan");
t.text("sailing.seats-left");
t.text("sailing.seats-left", { seat: 3 });
t.text("sailing.seats-left", { seats: "3" });
t.text("sailing.seats-left", { seats: 3, boats: 1 });
t.text("sailing.none", { seats: 3 });
t.text("sailing.fare", { fare: 12.5 });
t.text("sailing.boats", { boats: "Curlew" });
t.text("sailing.late", { late: "true" });
t.show("p", "sailing.none");
t.changes("pl");
"#,
    ) else {
        return;
    };
    let lines: Vec<&str> = said.lines().filter(|line| line.starts_with("page.ts")).collect();
    // Each line is one error.
    for line in 4..=15 {
        let start = format!("page.ts({line},");
        assert_eq!(lines.iter().filter(|said| said.starts_with(&start)).count(), 1, "line {line}\n{said}");
    }
}
