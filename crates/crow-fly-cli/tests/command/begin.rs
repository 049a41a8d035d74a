//! To begin with: a configuration, a locale, texts from code, other keys; and pseudo-locales.

use crate::project::Project;

const CONFIG: &str =
    "# Ours.\ndefault = 'en'\nlocales = ['en', 'pl'] # and more\n\n[check]\ncode = ['src']\n";

fn project() -> Project {
    let project = Project::new(
        CONFIG,
        &[
            (
                "en/home.toml",
                "# A heading.\ntitle = 'Ferries'\n\n[seats]\nleft = '''\n.input {$n :integer}\n.match $n\n0 {{Sold out}}\none {{One seat}}\n* {{{$n} seats}}'''\n",
            ),
            ("en/trip.json", "{\n  \"title\": \"Your trip\",\n  \"quay.name\": \"{$name} quay\"\n}\n"),
            ("pl/home.toml", "title = 'Promy' # krótko\n"),
        ],
    );
    project.write(
        "src/page.rs",
        "fn page(t: &T) {\n    t.text(\"home.title\");\n    t.html(say(\"home.news\").with(args! { n: 1 }).or(\"{$n} news\"));\n    say(\"trip.new.key\").or(r#\"A \"new\" text\"#);\n    say(\"home.title\").or(\"Boats\");\n}\n",
    );
    project
}

/// The files of a project, one after another.
fn files(project: &Project, paths: &[&str]) -> String {
    let read = |path: &&str| {
        let text = std::fs::read_to_string(format!("{}/{path}", project.folder()));
        format!("== {path}\n{}", text.unwrap_or_else(|_| "is not there\n".to_owned()))
    };
    paths.iter().map(read).collect::<Vec<_>>().join("\n")
}

#[test]
fn a_project_begins_with_a_configuration_that_works() {
    let folder = tempfile::tempdir().unwrap();
    let run = |arguments: &[&str]| crate::run(folder.path().to_str().unwrap(), arguments);
    insta::assert_snapshot!(
        [
            run(&["init", "--default", "en_GB"]),
            run(&["say", "home.messages", "count=2"]),
            run(&["add-locale", "pl", "--write"]),
            run(&["check", "--fail-on", "warning"]),
            run(&["init"]),
            run(&["init", "--config", "other.toml", "--default", "!"]),
            std::fs::read_to_string(folder.path().join("crow-fly.toml")).unwrap(),
        ]
        .join("\n")
    );
}

#[test]
fn a_locale_is_laid_out_in_the_forms_of_its_language() {
    let project = project();
    let shown = [
        project.run(&["add-locale", "ar"]),
        project.run(&["add-locale", "ar", "--write"]),
        project.run(&["add-locale", "en_au", "--write"]),
        project.run(&["add-locale", "ar-EG", "--write"]),
        project.run(&["add-locale", "pl", "--write"]),
        project.run(&["add-locale", "qq", "--write"]),
        project.run(&["add-locale", "de-DE-1997", "--write"]),
        project.run(&["add-locale", "en-ZY"]),
        project.run(&["add-locale", "?"]),
        files(&project, &["crow-fly.toml", "catalogs/ar/home.toml", "catalogs/ar/trip.toml"]),
        // What is marked is not used, and known to be left.
        project.run(&["say", "home.seats.left", "n=3", "--locale", "ar"]),
        project.run(&["check", "--locale", "ar"]),
    ];
    insta::assert_snapshot!(shown.join("\n"));
    // A text that is translated is used.
    let path = format!("{}/catalogs/ar/trip.toml", project.folder());
    let text = std::fs::read_to_string(&path).unwrap();
    std::fs::write(&path, text.replacen("# untranslated\ntitle = \"Your trip\"", "title = \"رحلتك\"", 1))
        .unwrap();
    assert!(project.run(&["say", "trip.title", "--locale", "ar"]).ends_with("status 0\nرحلتك\n"));
}

#[test]
fn texts_given_in_code_are_gathered() {
    let project = project();
    project.write("src/wrong.rs", "fn f() { say(\"bad\").or(\"x\"); say(\"home.broken\").or(\"{$\"); say(\"trip.new.key\").or(\"Other\"); say(\"home.seats\").or(\"x\"); }\n");
    project.write("src/page.html", "<p>{{ t.text(say(\"home.foot\").with(args!(a: \"x\")).or('At the foot')) }} {{ t.text(\"home.title\") }}</p>\n");
    let shown = [
        project.run(&["gather"]),
        files(&project, &["catalogs/en/trip.json"]),
        project.run(&["gather", "--write"]),
        files(&project, &["catalogs/en/trip.json", "catalogs/en/home.toml"]),
    ];
    insta::assert_snapshot!(shown.join("\n"));
    std::fs::remove_file(format!("{}/src/wrong.rs", project.folder())).unwrap();
    assert!(project.run(&["gather"]).contains("`home.title` has another text in `en`"));
}

#[test]
fn a_key_is_renamed_everywhere() {
    let project = project();
    project.run(&["accept", "--all", "--write"]);
    let all = [
        "catalogs/en/home.toml",
        "catalogs/en/trip.json",
        "catalogs/pl/home.toml",
        "catalogs/pl/trip.toml",
        "src/page.rs",
        "crow-fly.accepted",
    ];
    let before = files(&project, &all);
    let preview = project.run(&["rename", "home.title", "home.heading"]);
    assert_eq!(files(&project, &all), before);
    let shown = [
        preview,
        project.run(&["rename", "home.title", "home.heading", "--write"]),
        project.run(&["rename", "home.heading", "trip.heading", "--write"]),
        project.run(&["rename", "trip.quay.name", "trip.pier", "--write"]),
        project.run(&["rename", "home.seats.left", "home.seats", "--write"]),
        project.run(&["rename", "home.nosuch", "home.x"]),
        project.run(&["rename", "home.seats", "trip.title"]),
        project.run(&["rename", "home.seats", "a b"]),
        files(&project, &all),
    ];
    insta::assert_snapshot!(shown.join("\n"));
}

#[test]
fn pseudo_locales_are_made_as_they_are_read() {
    let project = project();
    let shown = [
        project.run(&["say", "home.seats.left", "--pseudo", "n=3"]),
        project.run(&["say", "trip.title", "--pseudo=ar-XB", "--format", "html"]),
        project.run(&["say", "trip.title", "--pseudo=pl"]),
        project.run(&["say", "trip.title", "--pseudo", "--all"]),
        project.run(&["say", "trip.nothing", "--pseudo"]),
    ];
    insta::assert_snapshot!(shown.join("\n"));
    let on_the_fly = Project::new(
        "default = 'en'\nlocales = ['en', 'en-XA', 'ar-XB']\ndevelopment = true\n[catalogs]\npseudo-locales = true\n",
        &[
            ("en/home.toml", "title = 'Ferries'\n[seats]\nleft = '{$n :integer} left'\n"),
            ("en/trip.json", "{ \"title\": \"Your trip\" }"),
        ],
    );
    let said = |key: &str| on_the_fly.json(&["say", key, "--all", "n=3"]);
    assert_eq!(said("home.title")["said"][1]["text"], "[Ƒéŕŕîéš ~~~~]");
    assert_eq!(said("home.seats.left")["said"][1]["text"], "[3 ļéƒŧ ~~~]");
    assert_eq!(said("trip.title")["said"][2]["text"], "\u{202e}Your\u{202c} \u{202e}trip\u{202c}");
    // There is nothing to check, nor to translate.
    assert!(on_the_fly.run(&["check"]).contains("0 errors, 0 warnings, 0 notes"));
    assert_eq!(on_the_fly.json(&["coverage"]), serde_json::json!([]));
}
