//! What all commands have in common: help, tables, places, JSON, and how they end.

use assert_cmd::Command;
use serde_json::Value;

use crate::project::Project;
use crate::{FERRY, run};

const CONFIG: &str = "default = 'en'\nlocales = ['en', 'pl']\n";

fn project() -> Project {
    Project::new(
        CONFIG,
        &[
            ("en/home.toml", "title = 'Ferries'\nleft = '{$n :integer} left'\n"),
            ("pl/home.toml", "title = 'Promy'\nleft = '👋 {$m :integer} zostało'\n"),
        ],
    )
}

/// What the command prints in a terminal of some columns.
fn printed(folder: &str, columns: &str, arguments: &[&str]) -> String {
    let mut command = Command::cargo_bin("crow-fly").unwrap();
    let command = command.current_dir(folder).env("COLUMNS", columns).env("NO_COLOR", "1").args(arguments);
    String::from_utf8(command.output().unwrap().stdout).unwrap()
}

#[test]
fn nothing_is_wider_than_the_terminal() {
    let calls: [&[&str]; 8] = [
        &["--help"],
        &["check"],
        &["coverage", "--sections"],
        &["explain", "--accept-language", "en-AU, pl;q=0.8, fr, it, es, *;q=0.1", "--detail"],
        &["explain", "/", "--session", "{\"old\":1}", "--cookie", "../../x"],
        &["tag", "pl"],
        &["say", "sailing.departs", "--all", "time=2026-06-01T07:30:00Z", "boat=Curlew"],
        &["release", "show"],
    ];
    for (columns, most) in [("80", 80), ("120", 120)] {
        for call in calls {
            for line in printed(FERRY, columns, call).lines() {
                // A sentence or a value may be longer; a table may not.
                let is_row = line.contains("  ");
                assert!(!is_row || line.chars().count() <= most, "{call:?} at {columns}: {line}");
            }
        }
    }
}

#[test]
fn a_table_has_its_numbers_at_the_right() {
    let shown = printed(project().folder(), "100", &["coverage"]);
    let head = shown.lines().next().unwrap();
    let row = shown.lines().nth(1).unwrap();
    for name in ["covered", "translated", "words"] {
        let end = head
            .find(&format!("{name}  "))
            .or(head.ends_with(name).then(|| head.len() - name.len()))
            .unwrap();
        let end = end + name.len();
        let cell: String = row.chars().take(end).collect();
        assert!(
            cell.ends_with(|last: char| last.is_ascii_digit() || last == '%' || last == '–'),
            "{name}: {row}"
        );
    }
}

/// A line of `--format lines` has the place that `--format json` has, and the column of SARIF counts as editors do.
#[test]
fn every_form_of_a_finding_has_one_place() {
    let project = project();
    let lines = project.run(&["check", "--format", "lines"]);
    let line = lines.lines().find(|line| line.contains("[surplus-parameter]")).unwrap();
    let json = project.json(&["check"]);
    let found = json["findings"].as_array().unwrap();
    let found = found.iter().find(|finding| finding["rule"] == "surplus-parameter").unwrap();
    let (place, file) = (&found["place"], found["file"].as_str().unwrap());
    let expected = format!("{file}:{}:{}: ", place["line"], place["column"]);
    assert!(line.starts_with(&expected), "{line}");
    assert!(line.contains(": error: ") || line.contains(": warning: "), "{line}");
    let sarif = project.run(&["check", "--format", "sarif"]);
    let sarif: Value = serde_json::from_str(sarif.split_once("status 1\n").unwrap().1).unwrap();
    let results = sarif["runs"][0]["results"].as_array().unwrap();
    let result = results.iter().find(|result| result["ruleId"] == "surplus-parameter").unwrap();
    let region = &result["locations"][0]["physicalLocation"]["region"];
    // The hand before it is one character, and two units of UTF-16.
    assert_eq!(region["startColumn"].as_u64(), place["column"].as_u64().map(|column| column + 1));
}

/// Whatever happens: one value of JSON on the output, and nothing beside it.
#[test]
fn json_is_json_whatever_happens() {
    let project = project();
    let nowhere = tempfile::tempdir().unwrap();
    let nowhere = nowhere.path().to_str().unwrap();
    let failing: [(&str, &[&str]); 12] = [
        (nowhere, &["check"]),
        (nowhere, &["explain"]),
        (nowhere, &["say", "home.title"]),
        (project.folder(), &["say"]),
        (project.folder(), &["say", "home.title", "--nope"]),
        (project.folder(), &["say", "home"]),
        (project.folder(), &["tag", "!"]),
        (project.folder(), &["import", "nothing.csv"]),
        (project.folder(), &["export", "x.txt", "--locale", "pl"]),
        (project.folder(), &["release", "list", "--store", "nowhere"]),
        (project.folder(), &["check", "--about", "nope"]),
        (project.folder(), &["gather"]),
    ];
    for (folder, call) in failing {
        let call = [call, &["--format", "json"]].concat();
        let shown = run(folder, &call);
        let (_, rest) = shown.split_once("\nstatus 2\n").unwrap_or_else(|| panic!("{shown}"));
        let value: Value = serde_json::from_str(rest).unwrap_or_else(|error| panic!("{error}: {shown}"));
        let error = value["error"].as_object().unwrap();
        assert!(!error["text"].as_str().unwrap().is_empty(), "{shown}");
        let known = ["text", "help", "file", "line", "column"];
        assert!(error.keys().all(|key| known.contains(&key.as_str())), "{shown}");
    }
    let broken = Project::new("default = 'en'\nlocales = ['en'\n", &[]);
    let error = broken.json(&["say", "home.title"])["error"].take();
    assert_eq!(
        (&error["file"], error["line"].as_u64().is_some()),
        (&Value::from("crow-fly.toml"), true),
        "{error}"
    );
    // What is done is JSON, too.
    for call in [
        &["check", "--fix"][..],
        &["check", "--write-baseline", "old.txt"],
        &["rename", "home.title", "home.heading"],
        &["accept"],
        &["export", "pl.csv", "--locale", "pl"],
        &["import", "pl.csv"],
        &["add-locale", "de"],
        &["coverage"],
        &["tag", "pl"],
        &["release", "show"],
        &["check", "--about", "all"],
    ] {
        assert!(project.json(call).get("error").is_none(), "{call:?}");
    }
}

#[test]
fn a_folder_without_a_configuration_says_what_to_do() {
    let nowhere = tempfile::tempdir().unwrap();
    let folder = nowhere.path().to_str().unwrap();
    assert!(run(folder, &[]).ends_with("This folder has no `crow-fly.toml`. To start here: crow-fly init\n"));
    assert!(run(folder, &["coverage"]).contains("to start here: crow-fly init"));
    assert!(!run(FERRY, &[]).contains("To start here"));
}

#[test]
fn each_request_of_a_file_is_one_line() {
    let project = project();
    project.write(
        "requests.txt",
        "# Whoever comes first.\n/\n\n/ --cookie pl\n/ --accept-language 'pl, en;q=0.5'\n/pl/x --cookie en\n/locale --method POST --form to=pl\n",
    );
    let text = project.run(&["explain", "--requests", "requests.txt"]);
    insta::assert_snapshot!(text);
    let json = project.json(&["explain", "--requests", "requests.txt"]);
    assert_eq!(json.as_array().unwrap().len(), 5);
    assert_eq!(json[3]["request"], "/pl/x --cookie en");
    assert_eq!(json[3]["decision"]["locale"], "pl");
    for (wrong, said) in [
        ("/\n/ 'x", "requests.txt:2:1: a quote is not closed"),
        ("/ --nope", "requests.txt:1:1: unexpected argument '--nope' found"),
        ("nope", "requests.txt:1:1: `nope` is not an address"),
        ("/ --form to=pl", "requests.txt:1:1: no form is read here"),
    ] {
        project.write("requests.txt", wrong);
        let shown = project.run(&["explain", "--requests", "requests.txt"]);
        assert!(shown.contains("status 2") && shown.contains(said), "{shown}");
    }
    let error = project.json(&["explain", "--requests", "requests.txt"])["error"].take();
    assert_eq!((&error["file"], &error["line"]), (&Value::from("requests.txt"), &Value::from(1)), "{error}");
    assert!(project.run(&["explain", "/", "--requests", "requests.txt"]).contains("cannot be used with"));
    assert!(project.run(&["explain", "--requests", "nothing.txt"]).contains("nothing.txt cannot be read"));
}

/// A project that begins is right from the first moment, whatever its languages are.
#[test]
fn a_project_that_begins_has_no_findings() {
    for (options, locales) in [
        (&[][..], ["en", "de"]),
        (&["--default", "de"], ["de", "en"]),
        (&["--default", "fr", "--locale", "es"], ["fr", "es"]),
        (&["--default", "en_GB", "--locale", "pl"], ["en-GB", "pl"]),
        (&["--default", "sw"], ["sw", "de"]),
    ] {
        let folder = tempfile::tempdir().unwrap();
        let folder = folder.path().to_str().unwrap();
        let begun = run(folder, &[&["init"], options].concat());
        assert!(begun.contains("status 0"), "{begun}");
        let checked = run(folder, &["check", "--fail-on", "note"]);
        let is_left = locales[0] == "sw";
        assert!(checked.contains("status 0") || is_left, "{options:?}: {checked}");
        let said = run(folder, &["say", "home.messages", "--all", "count=2"]);
        assert!(locales.iter().all(|locale| said.contains(&format!("\n{locale} "))), "{said}");
    }
    // A language without texts of ours has those of the default, to be translated.
    let folder = tempfile::tempdir().unwrap();
    let folder = folder.path().to_str().unwrap();
    assert!(run(folder, &["init", "--locale", "cy"]).contains("catalogs/cy/home.toml written"));
    assert!(run(folder, &["check"]).contains("status 0"), "what is left is a note");
    assert!(run(folder, &["coverage"]).contains("\ncy           0%"));
    assert!(run(folder, &["init", "--locale", "en"]).contains("exists already"));
    // Catalogs that exist stay, and are its languages from the first moment.
    std::fs::remove_file(std::path::Path::new(folder).join("crow-fly.toml")).unwrap();
    let again = run(folder, &["init", "--locale", "cy"]);
    assert!(again.contains("status 0") && !again.contains("home.toml written"), "{again}");
    assert!(run(folder, &["coverage"]).contains("\ncy           0%"));
}

#[test]
fn the_first_page_is_made_with_the_framework_of_the_manifest() {
    for (manifest, word) in [
        ("[dependencies]\nactix-web = '4'\n", "actix_web::main"),
        ("[dependencies]\naxum = '0.8'\nactix-web = '4'\n", "tokio::main"),
        ("not a manifest", "tokio::main"),
    ] {
        let folder = tempfile::tempdir().unwrap();
        std::fs::write(folder.path().join("Cargo.toml"), manifest).unwrap();
        let shown = run(folder.path().to_str().unwrap(), &["init"]);
        assert!(shown.contains(word), "{shown}");
    }
}

/// A reader that has seen enough ends JSON in silence, too.
#[test]
fn a_closed_pipe_is_no_failure() {
    use std::io::Read as _;
    use std::process::{Command, Stdio};

    for call in [
        &["check", "--format", "sarif"][..],
        &["check", "--about", "all"],
        &["tag", "pl", "--format", "json"],
    ] {
        let mut program = Command::new(assert_cmd::cargo::cargo_bin!("crow-fly"))
            .current_dir(FERRY)
            .args(call)
            .stdout(Stdio::piped())
            .stderr(Stdio::piped())
            .spawn()
            .unwrap();
        drop(program.stdout.take());
        let mut errors = String::new();
        program.stderr.take().unwrap().read_to_string(&mut errors).unwrap();
        assert!(program.wait().unwrap().success(), "{call:?}: {errors}");
        assert_eq!(errors, "", "{call:?}");
    }
}
