//! What goes with checks: rules told, turned down, allowed; a baseline; output for other tools.

use boon::{Compiler, Schemas};
use serde_json::Value;

use crate::project::Project;
use crate::run;

const CONFIG: &str = "default = 'en'\nlocales = ['en', 'pl']\n";

fn project(check: &str) -> Project {
    Project::new(
        &format!("{CONFIG}{check}"),
        &[
            ("en/home.toml", "title = 'Ferries?'\nhelp = 'Ask {$who}'\n"),
            ("pl/home.toml", "title = 'Promy'\nhelp = 'Pytaj '\n"),
        ],
    )
}

#[test]
fn a_rule_is_told_with_an_example() {
    let shown = [
        run(".", &["check", "--about", "missing-plural-form"]),
        run(".", &["check", "--about", "encoding"]),
        run(".", &["check", "--about", "encoding", "--format", "json"]),
        run(".", &["check", "--about", "missing-plural"]),
        run(".", &["check", "--about", "x"]),
    ];
    insta::assert_snapshot!(shown.join("\n"));
}

#[test]
fn rules_are_turned_down_with_a_reason() {
    let rules = |check: &str| -> Vec<String> {
        let report = project(check).json(&["check"]);
        let told = |finding: &Value| {
            format!("{} {}", finding["severity"].as_str().unwrap(), finding["rule"].as_str().unwrap())
        };
        report["findings"].as_array().unwrap().iter().map(told).collect()
    };
    assert_eq!(rules(""), ["note end-mark", "warning missing-parameter", "warning white-space"]);
    let turned = "[check.rules]\nend-mark = { level = 'off', reason = 'our headlines have none' }\nwhite-space = { level = 'error', reason = 'texts stand in tables' }\n";
    assert_eq!(rules(turned), ["warning missing-parameter", "error white-space"]);
    let shown = [
        "[check.rules]\nend-mrak = { level = 'off', reason = 'x' }\n",
        "[check.rules]\nend-mark = { level = 'off', reason = ' ' }\n",
        "[check.rules]\nend-mark = { level = 'silent', reason = 'x' }\n",
        "[check.rules]\nend-mark = { level = 'off' }\n",
    ]
    .map(|check| project(check).run(&["check"]));
    insta::assert_snapshot!(shown.join("\n"));
}

#[test]
fn an_old_project_starts_clean_and_what_is_new_is_found() {
    let project = project("");
    assert!(
        project
            .run(&["check", "--write-baseline", "baseline.txt"])
            .ends_with("status 0\nbaseline.txt: 3 findings to start from\n")
    );
    assert!(
        project.run(&["check", "--baseline", "baseline.txt", "--fail-on", "note"]).contains("status 0\n")
    );
    // A line moves, and another mistake comes.
    project.write("catalogs/pl/home.toml", "# A note.\ntitle = 'Promy '\nhelp = 'Pytaj '\n");
    let shown = project.run(&["check", "--baseline", "baseline.txt"]);
    assert!(shown.contains("status 1\n") && shown.contains("warning[white-space]: home.title"), "{shown}");
    assert!(shown.ends_with("3 findings of the baseline not shown\n"), "{shown}");
    let configured = self::project("[check]\nbaseline = 'old.txt'\n");
    assert!(configured.run(&["check"]).contains("the baseline"), "it is missing");
    configured.run(&["check", "--write-baseline", "old.txt"]);
    assert!(configured.run(&["check"]).contains("status 0\n"));
}

#[test]
fn other_tools_get_sarif() {
    let shown = project("").run(&["check", "--format", "sarif"]);
    let (_, json) = shown.split_once("status 1\n").unwrap();
    let mut log: Value = serde_json::from_str(json).unwrap();
    hold_against_schema(&log);
    let rules = log["runs"][0]["tool"]["driver"]["rules"].take();
    assert!(rules.as_array().unwrap().len() > 100);
    for result in log["runs"][0]["results"].as_array().unwrap() {
        let rule = &rules[usize::try_from(result["ruleIndex"].as_u64().unwrap()).unwrap()];
        assert_eq!(rule["id"], result["ruleId"]);
    }
    insta::assert_snapshot!(
        log["runs"][0]["results"]
            .as_array()
            .unwrap()
            .iter()
            .map(|result| {
                let place = &result["locations"][0]["physicalLocation"];
                let region = &place["region"];
                format!(
                    "{} {} {}:{}:{}-{}: {}",
                    result["level"],
                    result["ruleId"],
                    place["artifactLocation"]["uri"],
                    region["startLine"],
                    region["startColumn"],
                    region["endColumn"],
                    result["message"]["text"]
                )
            })
            .collect::<Vec<_>>()
            .join("\n")
    );
}

/// The log of a project with mistakes of every kind has places, lines and files that are not there.
#[test]
fn the_log_of_a_broken_project_is_valid() {
    let broken = concat!(env!("CARGO_MANIFEST_DIR"), "/tests/command/broken");
    let shown = run(broken, &["check", "--format", "sarif"]);
    let (_, json) = shown.split_once("status 1\n").unwrap();
    let log: Value = serde_json::from_str(json).unwrap();
    assert!(log["runs"][0]["results"].as_array().unwrap().len() > 5);
    hold_against_schema(&log);
}

/// The standard's own schema, as OASIS publishes it.
fn hold_against_schema(log: &Value) {
    let schema = include_str!("../data/sarif-2.1.0.schema.json");
    // Its pattern of a language has a bracket too many, which not every engine takes.
    let schema: Value = serde_json::from_str(&schema.replace("{2}]?$", "{2}$")).unwrap();
    let (mut schemas, mut compiler) = (Schemas::new(), Compiler::new());
    compiler.add_resource("sarif.json", schema).unwrap();
    let schema = compiler.compile("sarif.json", &mut schemas).unwrap();
    let errors = schemas.validate(log, schema).map_err(|error| error.to_string());
    assert_eq!(errors, Ok(()));
    // The schema finds what is wrong.
    let mut wrong = log.clone();
    wrong["runs"][0]["results"][0]["level"] = "loud".into();
    assert!(schemas.validate(&wrong, schema).is_err());
}

#[test]
fn a_key_in_code_that_is_longer_than_is_read_is_one_that_no_catalog_has() {
    let project = Project::new(
        "default = 'en'\nlocales = ['en']\n[check]\ncode = ['src']\n",
        &[("en/home.toml", "title = 'T'\n")],
    );
    let key = format!("home{}", ".seats".repeat(50));
    project
        .write("src/pages.rs", &format!("fn page(t: &T) {{ t.text(\"home.title\"); t.text(\"{key}\"); }}"));
    let said = project.run(&["check"]);
    assert!(said.contains("unknown-key") && said.contains(&key), "{said}");
}

/// Code that was made to hurt: brackets without end, unknown keys without end.
#[test]
fn code_is_checked_in_time_and_on_a_small_stack() {
    let project = Project::new(
        "default = 'en'\nlocales = ['en']\n[check]\ncode = ['src']\n",
        &[("en/home.toml", "title = 'T'\n")],
    );
    let deep = 10_000;
    project.write("src/deep.rs", &format!("fn a() {{ {}{} }}", "(".repeat(deep), ")".repeat(deep)));
    let calls = (0..20_000).map(|at| format!("t.text(\"home.key{at}\");\n")).collect::<Vec<_>>().concat();
    project.write("src/many.rs", &format!("fn b(t: &T) {{ t.text(\"home.title\");\n{calls} }}"));
    let begun = std::time::Instant::now();
    let said = project.run(&["check"]);
    // It took 78 seconds where each finding searched its line from the beginning.
    assert!(begun.elapsed() < std::time::Duration::from_secs(20), "{:?}", begun.elapsed());
    assert!(
        said.contains("brackets are nested more than 128 deep: keys that are deeper are not seen"),
        "{said:.2000}"
    );
    assert!(said.contains("19001 findings not shown here; `--format lines` and `--format json` have all"));
    assert!(said.contains("20000 errors, 1 warning, 0 notes"), "{said:.2000}");
    assert_eq!(project.run(&["check", "--format", "lines"]).matches("unknown-key").count(), 20_000);
}

#[test]
fn keys_in_code_are_held_against_the_catalogs() {
    let project = Project::new(
        "default = 'en'\nlocales = ['en']\n[check]\ncode = ['src', 'templates']\nkeys = ['feature.*']\n",
        &[
            ("en/home.toml", "title = 'T'\nold = 'O'\nhelp = 'H'\n[menu]\nopen = 'M'\n"),
            ("en/feature.toml", "boat = 'B'\n"),
        ],
    );
    project.write(
        "src/pages.rs",
        "fn page(t: &T) {\n    t.text(\"home.title\");\n    t.text(\"home.titel\");\n    t.html((\"home.hlep\", args! { n: 1 }));\n    say(\"home.gone\");\n    let page = \"home.html\";\n    let key = \"home.menu.opne\";\n    let group = \"home.menu\";\n    t.text(&format!(\"feature.{name}\"));\n    assert_eq!(t.text(\"home.menu.open\"), \"other.thing\");\n    page!(t.text(\"home.macro\"));\n}\n",
    );
    project.write("src/generated.rs", "const X: &str = \"home.ignored\";\n");
    project.write("src/other.rs", "fn f(r: &R) { r.text(\"1.2\"); r.has(\"image.png\"); r.html(\"application.json\"); r.text(\"hmoe.title\"); }\n");
    project.write("src/.ignore", "generated.rs\n");
    project.write("src/broken.rs", "fn ( \"home.broken\"");
    project.write("templates/page.html", "<a title='{{ t.text(\"home.help\") }}' href=\"{{ t.path('/x') }}\">{{ t.html('home.nothing') }}</a>\n<link href=\"home.css\">\n");
    let report = project.json(&["check"]);
    let told = |finding: &Value| {
        format!(
            "{} {}:{}:{} {}",
            finding["rule"].as_str().unwrap(),
            finding["file"].as_str().unwrap(),
            finding["place"]["line"],
            finding["place"]["column"],
            finding["text"].as_str().unwrap()
        )
    };
    let told: Vec<String> = report["findings"].as_array().unwrap().iter().map(told).collect();
    insta::assert_snapshot!(told.join("\n"));
    let missing = Project::new(
        "default = 'en'\nlocales = ['en']\n[check]\ncode = ['source']\n",
        &[("en/home.toml", "a = 'b'\n")],
    );
    assert!(missing.run(&["check"]).ends_with("error: source is not there; correct `code` in `[check]`\n"));
}

#[test]
fn a_text_whose_reference_has_changed_is_found_until_it_is_accepted() {
    let project = Project::new(
        CONFIG,
        &[
            ("en/home.toml", "title = 'Ferries'\nhelp = 'Help'\n"),
            ("pl/home.toml", "title = 'Promy'\nhelp = 'Pomoc'\n"),
        ],
    );
    let accept = project.run(&["accept", "--all", "--write"]);
    assert!(accept.ends_with("status 0\npl: 2 texts accepted\n"), "{accept}");
    let read =
        || std::fs::read_to_string(std::path::Path::new(project.folder()).join("crow-fly.accepted")).unwrap();
    insta::assert_snapshot!(read());
    assert!(project.run(&["check", "--fail-on", "note"]).contains("status 0"));
    project.write("catalogs/en/home.toml", "title = 'New ferries'\nhelp = 'Get help'\n");
    let shown = project.run(&["check"]);
    insta::assert_snapshot!(shown);
    assert!(project.run(&["accept", "-l", "pl", "home.title", "--write"]).ends_with("pl: 1 text accepted\n"));
    assert_eq!(project.json(&["check"])["findings"].as_array().unwrap().len(), 1);
    project.write("catalogs/pl/home.toml", "title = 'Promy'\n");
    assert_eq!(project.json(&["accept", "home.title", "--write"])["locales"]["pl"], serde_json::json!([]));
    assert_eq!(read().lines().count(), 2, "what is gone is dropped");
    project.write("crow-fly.accepted", "pl home.title\n");
    assert!(project.run(&["check"]).ends_with("error: crow-fly.accepted:1:1: a line is `locale key hash`\n"));
}

#[test]
fn changes_that_need_no_judgement_are_shown_then_written() {
    let reference = "a = 'Hello, {$name}'\nb = 'Two words'\nc = 'Fish & chips'\nd = '{$n :number} seats'\ne = 'Seats'\nf = 'Two words'\n";
    let polish = "\u{feff}a = 'Witaj, {name}'\nb = 'Dwa   słowa '\nc = \"Ryba &amp; \\u0066rytki\"\nd = '{$n :nunber} miejsc'\ne = 'Miejsca {$'\nf = '{{Dwa słowa }}'\n";
    let project = Project::new(CONFIG, &[("en/home.toml", reference), ("pl/home.toml", polish)]);
    let file = std::path::Path::new(project.folder()).join("catalogs/pl/home.toml");
    let read = || std::fs::read_to_string(&file).unwrap();
    let shown = project.run(&["check", "--fix"]);
    assert_eq!(read(), polish, "it is only shown");
    let written = project.run(&["check", "--fix", "--write"]);
    let again = project.run(&["check", "--fix", "--write"]);
    insta::assert_snapshot!(format!("{shown}\n{written}\n{again}\n{}", read()));
    assert!(!read().starts_with('\u{feff}'));
}

#[cfg(unix)]
#[test]
fn a_file_that_is_fixed_keeps_its_permissions_and_a_link_stays_one() {
    use std::os::unix::fs::{PermissionsExt, symlink};

    let project = Project::new(
        CONFIG,
        &[
            ("en/home.toml", "a = 'Two words'\n"),
            ("pl/other.toml", ""),
            ("shared.toml~", "a = 'Dwa  słowa'\n"),
        ],
    );
    let catalogs = std::path::Path::new(project.folder()).join("catalogs");
    let (shared, link) = (catalogs.join("shared.toml~"), catalogs.join("pl/home.toml"));
    std::fs::set_permissions(&shared, std::fs::Permissions::from_mode(0o640)).unwrap();
    symlink(&shared, &link).unwrap();
    assert!(project.run(&["check", "--fix", "--write"]).ends_with("1 change made in 1 file\n"));
    assert_eq!(std::fs::read_to_string(&shared).unwrap(), "a = 'Dwa słowa'\n");
    assert!(link.is_symlink());
    assert_eq!(shared.metadata().unwrap().permissions().mode() & 0o777, 0o640);
}

/// Arguments that can be read in the code are those of the message, in Rust, in templates of three engines, and in scripts.
#[test]
fn arguments_in_code_are_those_of_the_message() {
    let project = Project::new(
        "default = 'en'\nlocales = ['en']\n[check]\ncode = ['src']\nattributes = ['data-text']\n",
        &[(
            "en/trip.toml",
            "thanks = 'Thanks, {$name}'\nplain = 'Plain'\nfare = '{$fare} for {$seats :integer}'\n",
        )],
    );
    let found = |file: &str, code: &str| {
        project.write(&format!("src/{file}"), code);
        let said = project.run(&["check", "--format", "lines"]);
        project.write(&format!("src/{file}"), "");
        let rules = said.lines().filter_map(|line| line.strip_prefix(&format!("src/{file}:")));
        let short = rules.map(|line| {
            let (place, rest) = line.split_once(": ").unwrap();
            format!("{place} {}", rest.rsplit('[').next().unwrap().trim_end_matches(']'))
        });
        short.collect::<Vec<_>>().join(", ")
    };
    let mut wrong = Vec::new();
    for (file, code, expected) in [
        ("a.rs", r#"fn a() { t.text("trip.thanks"); }"#, "1:18 missing-argument"),
        (
            "a.rs",
            r#"fn a() { t.text(("trip.thanks", args! { nmae })); }"#,
            "1:41 surplus-argument, 1:19 missing-argument",
        ),
        ("a.rs", r#"fn a() { t.text(("trip.thanks", args! { name: a, })); }"#, ""),
        ("a.rs", r#"fn a() { t.text(("trip.thanks", args)); t.text(&key); t.has("trip.thanks"); }"#, ""),
        ("a.rs", r#"fn a() { say("trip.fare").with(args! { fare, seats: f::<A, B>(1) }).or("x"); }"#, ""),
        ("a.rs", r#"fn a() { say("trip.fare").with(args! { fare }); }"#, "1:15 missing-argument"),
        (
            "a.rs",
            r#"fn a() { html! { p { (t.html(("trip.plain", args! { a: 1 }))) } } }"#,
            "1:53 surplus-argument",
        ),
        ("a.html", r#"{{ t.html("trip.thanks", name=a|b(1, 2)) }}"#, ""),
        ("a.html", "{{ t.html(\"trip.thanks\",\n  nmae=1) }}", "2:3 surplus-argument, 1:12 missing-argument"),
        ("a.html", r#"{{ t.say("trip.fare", fare=1).or("x") }}"#, "1:11 missing-argument"),
        ("a.html", r#"{{ t.html("trip.thanks", **all) }}{{ t.html("trip.thanks", values) }}"#, ""),
        ("a.html", r#"{{ t.html(("trip.thanks", args!(name: self.name))) }}"#, ""),
        ("a.html", r#"{{ t.html(("trip.plain", args!(a: 1))) }}"#, "1:32 surplus-argument"),
        (
            "a.html",
            r#"<p data-text="trip.palin" data-more="trip.other">"#,
            "1:15 unknown-key, 1:38 key-like-text",
        ),
        ("a.js", r#"text("trip.fare", { fare, seats: 1 }); text("trip.fare"); text("trip.fare", all)"#, ""),
        ("a.js", r#"text("trip.thanks", { nmae: "a, b" })"#, "1:23 surplus-argument, 1:7 missing-argument"),
        ("a.js", r#"text("trip.thnaks", {})"#, "1:7 unknown-key"),
        (
            "a.js",
            r#"t.show(element, "trip.thnaks"); t.show(p, "trip.thanks", { nmae: 1 })"#,
            "1:18 unknown-key, 1:60 surplus-argument, 1:44 missing-argument",
        ),
        (
            "a.js",
            r#"t.show(find("p"), "trip.thnaks"); show(a, "trip.thnaks"); t.show(a); f("trip.thnaks")"#,
            "1:20 key-like-text, 1:44 key-like-text, 1:73 key-like-text",
        ),
        ("a.html", r#"<nav data-text-title="trip.thnaks">"#, "1:23 unknown-key"),
        ("a.html", r#"{{ t.marked("trip.thanks") }}"#, "1:14 missing-argument"),
        ("a.rs", r#"fn a() { t.marked("trip.thanks"); }"#, "1:20 missing-argument"),
        ("a.d.ts", r#"interface Messages { "trip.thnaks": None }"#, ""),
        ("a.html", r#"<p my-data-text="trip.palin">"#, "1:18 key-like-text"),
        (
            "a.html",
            "ż {{ t.html(\"trip.plain\", ż=1,\n ń=2) }}",
            "1:27 surplus-argument, 2:2 surplus-argument",
        ),
    ] {
        let found = found(file, code);
        let (mut one, mut other): (Vec<&str>, Vec<&str>) =
            (found.split(", ").collect(), expected.split(", ").collect());
        one.sort_unstable();
        other.sort_unstable();
        if one != other {
            wrong.push(format!("{code}\n  found:    {found}\n  expected: {expected}"));
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

/// A check of one locale finds what a check of all finds of it, also where other locales must be asked.
#[test]
fn one_locale_is_judged_as_among_all() {
    let project = Project::new(
        "default = 'en'\nlocales = ['en', 'pl', 'fr']\n",
        &[
            ("en/home.toml", "a = 'Basket'\n"),
            ("pl/home.toml", "a = 'Basket'\n"),
            ("fr/home.toml", "a = 'Panier'\n"),
        ],
    );
    let of_pl = |said: String| {
        said.lines().filter(|line| line.contains("/pl/")).map(str::to_owned).collect::<Vec<_>>()
    };
    let all = of_pl(project.run(&["check", "--format", "lines"]));
    assert_eq!(all.len(), 1, "{all:?}");
    assert_eq!(of_pl(project.run(&["check", "--locale", "pl", "--format", "lines"])), all);
    // A section that is misspelled in the configuration, and a locale without any catalogs.
    project.write(
        "crow-fly.toml",
        "default = 'en'\nlocales = ['en', 'pl', 'fr', 'cy']\n[catalogs]\neager = ['hoem']\n",
    );
    let said = project.run(&["check", "--format", "lines", "--fail-on", "error"]);
    assert!(
        said.contains("status 1") && said.contains("[absent-locale]") && said.contains("crow-fly.toml:4:11"),
        "{said}"
    );
}

/// A page that was made small is one line: places in it are counted once.
#[test]
fn a_script_of_one_line_is_checked_in_time() {
    let project = Project::new(
        "default = 'en'\nlocales = ['en']\n[check]\ncode = ['src']\n",
        &[("en/trip.toml", "fare = '{$fare}'\n")],
    );
    project.write("src/a.js", &"text(\"trip.fare\",{fare:1});".repeat(100_000));
    let begun = std::time::Instant::now();
    let said = project.run(&["check", "--format", "lines"]);
    assert!(
        said.contains("status 0") && begun.elapsed() < std::time::Duration::from_secs(10),
        "{:?}",
        begun.elapsed()
    );
}

#[test]
fn a_calendar_that_is_not_there_is_found() {
    let project = Project::new(
        "default = 'en'\nlocales = ['en', 'fa', 'en-u-ca-hebrew', 'th-u-ca-chinese', 'en-u-ca-saltmars']\n",
        &[
            ("en/home.toml", "founded = '{|1785-04-01| :crow:date fields=year}'\n"),
            ("fa/home.toml", "founded = '{|1785-04-01| :crow:date fields=year}'\n"),
        ],
    );
    let report = project.json(&["check"]);
    let told = |finding: &Value| {
        let text = |name: &str| finding[name].as_str().unwrap_or_default().to_owned();
        format!(
            "{}:{}:{} {} {}; {}",
            text("file"),
            finding["place"]["line"],
            finding["place"]["column"],
            text("severity"),
            text("text"),
            text("help")
        )
    };
    let findings = report["findings"].as_array().unwrap().iter();
    let found: Vec<String> = findings.filter(|finding| finding["rule"] == "no-calendar").map(told).collect();
    insta::assert_snapshot!(found.join("\n"));
    insta::assert_snapshot!(project.run(&["say", "home.founded", "--all"]));
}
