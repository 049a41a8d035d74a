//! The command on projects of its own making: other policies, other folders, and output for machines.

use std::io::Read;
use std::path::Path;
use std::process::{Command, Stdio};

use serde_json::Value;

use crate::run;

/// A project in a folder that goes away with it.
pub(crate) struct Project(tempfile::TempDir);

impl Project {
    /// A configuration, and catalogs as path and content.
    pub(crate) fn new(config: &str, catalogs: &[(&str, &str)]) -> Self {
        let project = Self(tempfile::tempdir().unwrap());
        project.write("crow-fly.toml", config);
        for (path, text) in catalogs {
            project.write(&format!("catalogs/{path}"), text);
        }
        project
    }

    pub(crate) fn write(&self, path: &str, text: &str) {
        let path = self.0.path().join(path);
        std::fs::create_dir_all(path.parent().unwrap()).unwrap();
        std::fs::write(path, text).unwrap();
    }

    pub(crate) fn folder(&self) -> &str {
        self.0.path().to_str().unwrap()
    }

    /// Runs the command: status, output and errors as one text.
    pub(crate) fn run(&self, arguments: &[&str]) -> String {
        run(self.folder(), arguments)
    }

    /// Runs the command with `--format json`, and reads what it prints.
    pub(crate) fn json(&self, arguments: &[&str]) -> Value {
        let arguments: Vec<&str> = arguments.iter().copied().chain(["--format", "json"]).collect();
        let shown = self.run(&arguments);
        let (_, json) = shown.split_once("\nstatus ").unwrap();
        let (_, json) = json.split_once('\n').unwrap();
        serde_json::from_str(json.split("--- errors ---").next().unwrap()).unwrap()
    }
}

const NEGOTIATED: &str = "default = 'en'\nlocales = ['en', 'en-GB', 'cy', 'pl']\n\n[policy]\nsources = ['host', 'query', 'header', 'visitor', 'cookie', 'accept-language']\nquery = 'lang'\nheader = 'x-site-language'\nformats = 'visitor'\nhosts = { 'promy.example' = 'pl' }\n";

#[test]
fn explains_every_source_for_machines() {
    let project = Project::new(NEGOTIATED, &[]);
    let all = "x-site-language, Cookie, Accept-Language";
    for (arguments, locale, source, vary) in [
        (&["explain", "https://promy.example/x"][..], "pl", "host", "Cookie, Accept-Language"),
        (&["explain", "/x?lang=cy"], "cy", "query", "Cookie, Accept-Language"),
        (&["explain", "https://promy.example:8080/x"], "pl", "host", "Cookie, Accept-Language"),
        (&["explain", "/x", "--header", "host: promy.example:8080"], "pl", "host", "Cookie, Accept-Language"),
        (&["explain", "/x?lang=de", "--header", "x-site-language: pl"], "pl", "header", all),
        (&["explain", "/x", "--visitor", "en-AU"], "en-GB", "visitor", all),
        (&["explain", "/x", "--cookie", "cy"], "cy", "cookie", all),
        (&["explain", "--accept-language", "de", "--accept-language", "pl"], "pl", "accept-language", all),
        (&["explain"], "en", "default", all),
    ] {
        let explained = project.json(arguments);
        let explanation = &explained["decision"];
        assert_eq!(explained["answer"], "serve", "{arguments:?}");
        assert_eq!(explanation["locale"], locale, "{arguments:?}");
        assert_eq!(explanation["source"], source, "{arguments:?}");
        assert_eq!(explanation["outcome"], "serve", "{arguments:?}");
        let headers = explained["headers"].as_array().unwrap();
        let found = headers.iter().find(|header| header["name"] == "vary");
        let found = found.map_or("", |header| header["value"].as_str().unwrap());
        assert_eq!(found, vary, "{arguments:?}");
        let chosen =
            explanation["trace"].as_array().unwrap().iter().filter(|step| step["verdict"] == "chosen");
        assert_eq!(chosen.count(), 1, "{arguments:?}");
    }
    let formats = &project.json(&["explain", "/x", "--accept-language", "en-AU-u-hc-h23"])["decision"];
    assert_eq!(
        (&formats["locale"], &formats["formats"]),
        (&Value::from("en-GB"), &Value::from("en-AU-u-hc-h23"))
    );
}

#[test]
fn another_configuration_is_named_and_its_catalogs_found_beside_it() {
    let project = Project::new("default = 'en'\nlocales = ['en']\n[catalogs]\ndirectory = 'words'\n", &[]);
    project.write("words/en/home.toml", "title = 'Ferries'\n");
    let config = Path::new(project.folder()).join("crow-fly.toml");
    let elsewhere = tempfile::tempdir().unwrap();
    let shown =
        run(elsewhere.path().to_str().unwrap(), &["--config", config.to_str().unwrap(), "say", "home.title"]);
    assert!(shown.ends_with("status 0\nFerries\n"), "{shown}");
    assert!(project.run(&["say", "home.title", "--config", "nosuch.toml"]).contains("status 2"));
}

#[test]
fn says_along_the_chain_and_refuses_what_has_errors() {
    let config = "default = 'en'\nlocales = ['en', 'es-MX']\ncatalog-only = ['es-419']\n";
    let catalogs = [
        ("en/home.toml", "a = 'English'\nb = 'English'\nbroken = 'fine'\n"),
        ("es-419/home.toml", "a = 'latinoamericano'\n"),
        ("es-MX/home.toml", "broken = '{$'\n"),
    ];
    let project = Project::new(config, &catalogs);
    let said = |key: &str| project.json(&["say", key, "-l", "es-MX"]);
    assert_eq!(
        (&said("home.a")["text"], &said("home.a")["from"]),
        (&Value::from("latinoamericano"), &Value::from("es-419"))
    );
    assert_eq!(said("home.b")["from"], "en");
    assert_eq!(said("home.c"), serde_json::json!({ "key": "home.c", "locale": "es-MX", "from": null }));
    // As on the server, a message with errors is passed over.
    let broken = project.run(&["say", "home.broken", "-l", "es_mx"]);
    insta::assert_snapshot!(broken, @"
    $ crow-fly say home.broken -l es_mx
    status 1
    fine
    --- errors ---
    warning: the message of `es-MX` is not used: a name is missing (byte 2); `crow-fly check` shows where
    note: this one is from `en`
    ");
    // Visitors cannot choose a locale that only has catalogs, and neither can `--locale`.
    assert!(project.run(&["say", "home.a", "-l", "es-419"]).contains("status 2"));
    assert!(project.run(&["check"]).contains("es-419"));
}

#[test]
fn a_check_finds_what_a_translator_may_do_wrong() {
    let english = "one = 'Only {$seats :integer} left'\ntwo = 'x'\n";
    let rules = |welsh: &str| {
        let project = Project::new(
            "default = 'en'\nlocales = ['en', 'cy']\n",
            &[("en/a.toml", english), ("cy/a.toml", welsh)],
        );
        let report = project.json(&["check", "-l", "cy", "--fail-on", "note"]);
        let findings = report["findings"]
            .as_array()
            .unwrap()
            .iter()
            .map(|finding| finding["rule"].as_str().unwrap().to_owned());
        findings.collect::<Vec<_>>().join(" ")
    };
    for (welsh, expected) in [
        ("one = 'Dim ond {$seats :integer}'\ntwo = 'y'\n", ""),
        ("one = 'Dim ond {$seats :integer}'\n", "missing-key"),
        ("one = 'Dim ond {$seats}'\ntwo = 'y'\nthree = 'z'\n", "surplus-key"),
        ("one = 'Dim ond {$seat :integer}'\ntwo = 'y'\n", "surplus-parameter"),
        ("one = 'Dim ond'\ntwo = 'y'\n", "missing-parameter"),
        ("one = 'Dim ond {$seats :string}'\ntwo = 'y'\n", "parameter-kind"),
        ("one = 'Dim ond {$seats :intger}'\ntwo = 'y'\n", "unknown-function"),
        ("one = 'Dim ond {$seats :integer selekt=ordinal}'\ntwo = 'y'\n", "wrong-option"),
        ("one = 'Dim ond {$seats :integer select=sum}'\ntwo = 'y'\n", "wrong-option"),
        ("one = 'Dim ond {$seats'\ntwo = 'y'\n", "unclosed-placeholder"),
        (
            "one = '.input {$seats :integer} .match $seats one {{a}} * {{b}}'\ntwo = 'y'\n",
            "missing-plural-form missing-plural-form missing-plural-form missing-plural-form",
        ),
        ("one = 3\ntwo = 'y'\n", "missing-key not-text"),
        ("one = 'Dim ond {$seats}'\ntwo = 'y'\n'a b' = 'z'\n", "key-name"),
        ("one = 'Dim ond {$seats}'\ntwo = 'y\n", "file-syntax"),
        ("[one]\nmore = 'x'\n", "missing-key group-for-key"),
    ] {
        assert_eq!(rules(welsh), expected, "{welsh}");
    }
}

#[test]
fn a_reader_that_has_seen_enough_is_no_error() {
    let project = Project::new("default = 'en'\nlocales = ['en']\n", &[("en/a.toml", "x = 'y'\n")]);
    let mut command = Command::new(assert_cmd::cargo::cargo_bin!("crow-fly"));
    let mut program = command
        .current_dir(project.folder())
        .args(["tag", "ar"])
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .unwrap();
    drop(program.stdout.take());
    let mut errors = String::new();
    program.stderr.take().unwrap().read_to_string(&mut errors).unwrap();
    assert!(program.wait().unwrap().success(), "{errors}");
    assert_eq!(errors, "");
}

#[test]
fn headers_and_tags_for_machines() {
    let project = Project::new(NEGOTIATED, &[]);
    let detail = ["explain", "--detail", "--accept-language", "en-AU, pl;q=0.5, de;q=0, nonsense!"];
    let header = project.json(&detail)["header"].take();
    assert_eq!(header["closest"]["locale"], "en-GB");
    assert_eq!(header["closest"]["distance"], 3);
    assert_eq!(header["excluded"], serde_json::json!(["de"]));
    assert_eq!(header["malformed"], 1);
    assert_eq!(header["ranges"][1]["weight"], 0.5);
    assert_eq!(header["ranges"][0]["distances"], serde_json::json!([5, 3, 84, 84]));
    let tag = project.json(&["tag", "iw"]);
    assert_eq!(
        (&tag["tag"], &tag["canonical"], &tag["direction"]),
        (&Value::from("iw"), &Value::from("he"), &Value::from("rtl"))
    );
    assert_eq!(tag["chain"], Value::Null);
    let polish = project.json(&["tag", "pl"]);
    let forms = polish["cardinal"].as_array().unwrap().iter().map(|form| form["category"].as_str().unwrap());
    assert_eq!(forms.collect::<Vec<_>>(), ["one", "few", "many", "other"]);
    assert_eq!(polish["chain"], serde_json::json!(["pl", "en"]));
}

#[test]
fn says_links_that_lead_to_the_readers_language() {
    let config = "default = 'en'\nlocales = ['en', 'cy']\n[paths]\n'/trip' = { cy = '/taith' }\n";
    let project = Project::new(config, &[("en/home.toml", "see = '{#a href=|/trip|}Your trip{/a}'\n")]);
    let said = project.json(&["say", "home.see", "-l", "cy"]);
    assert_eq!(said["html"], "<span lang=\"en\" dir=\"ltr\"><a href=\"/cy/taith\">Your trip</a></span>");
}

#[test]
fn says_what_the_server_says_of_isolation_and_time_zones() {
    let catalogs: [(&str, &str); 1] = [("en/home.toml", "hello = 'Hello, {$name}, at {$at :time}'")];
    let said = |config: &str| {
        let project = Project::new(&format!("default = 'en'\nlocales = ['en']\n{config}"), &catalogs);
        let json = project.json(&["say", "home.hello", "name=Mair", "at=2026-06-01T12:00:00Z"]);
        json["text"].as_str().unwrap().replace('\u{202f}', " ")
    };
    assert_eq!(said(""), "Hello, \u{2068}Mair\u{2069}, at 12:00 PM");
    assert_eq!(said("[messages]\nisolation = 'none'"), "Hello, Mair, at 12:00 PM");
    assert_eq!(said("[time-zone]\ndefault = 'Asia/Tokyo'"), "Hello, \u{2068}Mair\u{2069}, at 9:00 PM");
}

#[test]
fn an_extreme_number_is_told_and_not_written() {
    let project = Project::new(
        "default = 'en'\nlocales = ['en']",
        &[(
            "en/home.toml",
            "seats = '.input {$n :integer} .match $n 1e-9223372036854775808 {{none}} * {{{$n} seats}}'",
        )],
    );
    let shown = project.run(&["say", "home.seats", "n=1e-9223372036854775808"]);
    assert!(shown.contains("{$n}\u{2069} seats"), "{shown}");
    let shown = project.run(&["check"]);
    assert!(shown.contains("the key `1e-9223372036854775808` is not a number"), "{shown}");
}

#[test]
fn check_reads_what_the_application_has_missed() {
    let project = Project::new(
        "default = 'en'\nlocales = ['en', 'cy']\n",
        &[
            ("en.json", "{ \"home\": { \"title\": \"Ferries\", \"new\": \"New\" } }"),
            ("cy/home.toml", "title = 'Fferïau'\nnew = 'x'"),
        ],
    );
    project.write(
        "misses.json",
        r#"[
          { "key": "home.titel", "locale": "cy", "kind": "missing", "reason": "not-there", "count": 12 },
          { "key": "home.new", "locale": "cy", "kind": "missing", "reason": "not-there", "count": 3 },
          { "key": "home.title", "locale": "cy", "kind": "fell-back", "count": 1 },
          { "key": "trip.total", "locale": "en", "kind": "missing", "reason": "not-there", "count": 1 },
          { "key": "home.x", "locale": "de", "kind": "missing", "reason": "not-there", "count": 1 }
        ]"#,
    );
    insta::assert_snapshot!(project.run(&["check", "--misses", "misses.json"]), @"
    $ crow-fly check --misses misses.json
    status 1
    warning[missed-key]: home: the application asked for `home.titel` 12 times, and no catalog has it
    --> catalogs/cy/home.toml
     = note: A visitor saw the key, or a text in code.
     = help: did you mean `home.title`?

    warning[missed-key]: trip: the application asked for `trip.total` 1 time, and no catalog has it
    --> catalogs/en/trip.toml
     = note: A visitor saw the key, or a text in code.
     = help: add the message to the default locale

    locale  covered  translated  errors  warnings  notes
    en         100%           2       –         1      –
    cy         100%           2       –         1      –

    0 errors, 2 warnings, 0 notes
    ");
    project.write("misses.json", "[3]");
    let shown = project.run(&["check", "--misses", "misses.json"]);
    assert!(shown.contains("misses.json is not a file of misses: `CrowFly::misses` writes one"), "{shown}");
}

#[test]
fn check_tells_of_files_that_are_not_read() {
    let project = Project::new(
        "default = 'en'\nlocales = ['en', 'cy']\n",
        &[
            ("en/home.toml", "title = 'Ferries'"),
            ("en/home page.toml", ""),
            ("cy/home.json", "{ \"title\": \"Fferïau {$\" }"),
        ],
    );
    insta::assert_snapshot!(project.run(&["check"]), @r#"
    $ crow-fly check
    status 1
    error[expected-name]: home.title: a name is missing
     --> catalogs/cy/home.json:1:23
      |
    1 | { "title": "Fferïau {$" }
      |                       ^
      |
      = note: The message cannot be used: visitors see a fallback.
      = help: write a name: letters, digits, `-`, `_`, `.`, and not a digit, `-` or `.` first

    error[section-name]: `catalogs/en/home page.toml` is not read: its name cannot name a section
    --> catalogs/en/home page.toml
     = note: It is not read. Sections are named by ASCII letters, digits, `-` and `_`.
     = help: rename it: ASCII letters, digits, `-` and `_`

    locale  covered  translated  missing  errors  warnings  notes
    en         100%           1        –       1         –      –
    cy           0%           –        1       1         –      –

    2 errors, 0 warnings, 0 notes
    "#);
}
