//! The command as a process: what it prints, and how it ends.

#![allow(clippy::unwrap_used, reason = "a test fails by panicking")]

mod begin;
#[cfg(feature = "buckets")]
mod bucket;
mod checks;
mod coverage;
mod exchange;
mod faults;
#[cfg(feature = "buckets")]
#[allow(clippy::print_stderr, reason = "a skipped test says so")]
#[path = "../../../../tests/neighbours/program.rs"]
mod program;
mod project;
mod release;
mod server;
mod shape;
mod terminal;
mod types;
mod writing;

use std::path::Path;

use assert_cmd::Command;

const FERRY: &str = concat!(env!("CARGO_MANIFEST_DIR"), "/../../examples/ferry");
const BROKEN: &str = concat!(env!("CARGO_MANIFEST_DIR"), "/tests/command/broken");

/// Runs the command in a folder: status, output and errors as one text.
fn run(folder: &str, arguments: &[&str]) -> String {
    let output = Command::cargo_bin("crow-fly")
        .unwrap()
        .current_dir(folder)
        .env("COLUMNS", "100")
        .env("NO_COLOR", "1")
        .args(arguments)
        .output()
        .unwrap();
    let text = |bytes: Vec<u8>| String::from_utf8(bytes).unwrap();
    let (out, err) = (text(output.stdout), text(output.stderr));
    let errors = if err.is_empty() { String::new() } else { format!("--- errors ---\n{err}") };
    format!("$ crow-fly {}\nstatus {}\n{out}{errors}", arguments.join(" "), output.status.code().unwrap())
}

/// One snapshot for several calls in the demo's folder.
fn ferry(calls: &[&[&str]]) -> String {
    calls.iter().map(|arguments| run(FERRY, arguments)).collect::<Vec<_>>().join("\n")
}

#[test]
fn says_a_message() {
    insta::assert_snapshot!(ferry(&[
        &["say", "sailing.seats-left", "seats=3"],
        &["say", "sailing.seats-left", "--locale", "pl", "seats=1234"],
        &["say", "sailing.ordinal", "-l", "cy", "place=5"],
        &["say", "home.summary", "-l", "ar", "count=2", "--format", "html"],
        &["say", "common.company", "-l", "en-GB"],
        &["say", "basics.form.too-long", "-l", "pl", "limit=3"],
        &["say", "trip.thanks", "name=<Mair>", "--format", "html"],
        &["say", "trip.thanks", "--format", "json"],
        &["say", "trip.thanks", "nam=x"],
        &["say", "trip.nothing"],
        &["say", "trip"],
        &["say", "trip.title", "-l", "de"],
        &["say", "trip.title", "x"],
    ]));
}

#[test]
fn explains_a_decision() {
    insta::assert_snapshot!(ferry(&[
        &["explain", "/cy/sailings/2?x=1", "--cookie", "pl"],
        &["explain", "--accept-language", "de, pl;q=0.8", "--session", ""],
        &[
            "explain",
            "/",
            "--session",
            "{\"old\":1}",
            "--cookie",
            "../../x",
            "--accept-language",
            "en-AU,en;q=0.5"
        ],
        &["explain", "/", "--method", "POST", "--cookie", "cy"],
        &["explain", "/CY/x?a=b"],
        &["explain", "/de/x"],
        &["explain", "/assets/ferry.css"],
        &["explain", "/locale?to=cy&return=/sailings/2", "--session", "cy"],
        &["explain", "/locale?to=cy", "--header", "Sec-Purpose: prefetch"],
        &["explain", "/locale", "--method", "POST", "--form", "to=de"],
        &["explain", "https://ferries.example/pl", "--format", "json"],
        // What cannot be used is refused, not left out.
        &["explain", "sailings"],
        &["explain", "//ferries.example/cy"],
        &["explain", "https://ferries.example?x=1"],
        &["explain", "ftp://ferries.example/cy"],
        &["explain", ""],
        &["explain", "/cy", "--form", "to=pl"],
        &["explain", "/locale?to=cy", "--form", "to=pl"],
        &["explain", "/cy", "--method", "G T"],
    ]));
}

#[test]
fn finds_nothing_wrong_with_the_demo() {
    insta::assert_snapshot!(ferry(&[&["check"], &["check", "--locale", "en-GB", "--format", "json"]]));
}

#[test]
fn checks_catalogs_that_have_mistakes() {
    let calls: [&[&str]; 3] = [
        &["check"],
        &["check", "-l", "pl", "--format", "json"],
        &["check", "-l", "pl", "--fail-on", "error"],
    ];
    insta::assert_snapshot!(calls.map(|arguments| run(BROKEN, arguments)).join("\n"));
}

#[test]
fn shows_tags_and_headers() {
    insta::assert_snapshot!(ferry(&[
        &["tag", "zh-HK"],
        &["tag", "en_GB.UTF-8"],
        &["tag", "cy", "--format", "json"],
        &["tag", "fa-AF"],
        &["tag", "zh-u-ca-chinese"],
        &["tag", "en-GBX1-"],
        &["explain", "--detail", "--accept-language", "en-AU, pl;q=0.8, de;q=0, *;q=0.1, ;;"],
        &["explain", "--detail", "--accept-language", "ja", "--accept-language", "fr,de,es,it,nl,se"],
        &["explain", "--detail"],
    ]));
    // A tag can be looked at where there is no application.
    let nowhere = tempfile::tempdir().unwrap();
    assert!(run(nowhere.path().to_str().unwrap(), &["tag", "cy"]).contains("Cymraeg"));
}

#[test]
fn helps() {
    insta::assert_snapshot!(ferry(&[
        &["--help"],
        &["say", "--help"],
        &["release", "--help"],
        &["explain", "--help"],
        &["check", "--help"]
    ]));
}

#[test]
fn what_cannot_be_carried_out_is_said_with_status_two() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().to_str().unwrap();
    insta::assert_snapshot!(run(path, &["check"]), @"
    $ crow-fly check
    status 2
    --- errors ---
    error: there is no crow-fly.toml; to start here: crow-fly init; to use another file: --config FILE
    ");
    std::fs::write(
        Path::new(path).join("crow-fly.toml"),
        "default = 'en'\nlocales = ['en']\n[policy]\nsource = []",
    )
    .unwrap();
    insta::assert_snapshot!(run(path, &["check"]), @"
    $ crow-fly check
    status 1
    error[configuration]: `source` is not a key of this table
     --> crow-fly.toml:4:1
      |
    4 | source = []
      | ^^^^^^
      |
      = note: The application does not start with it, and nothing else can be checked.
      = help: did you mean `sources`?

    1 error, 0 warnings, 0 notes
    ");
    assert!(run(path, &["nosuch"]).contains("status 2"));
}
