//! Texts to translators and back.

use crate::project::Project;

fn project() -> Project {
    Project::new(
        "default = 'en'\nlocales = ['en', 'pl', 'ja']\n",
        &[
            (
                "en/home.toml",
                "# A heading.\ntitle = 'Ferries to {$town}'\nhelp = '{#a href=|/help|}Help{/a}'\n\n[seats]\nleft = '''\n.input {$n :integer}\n.match $n\none {{One seat}}\n* {{{$n} seats}}'''\nnew = 'New'\n",
            ),
            (
                "pl/home.toml",
                "# Nagłówek.\ntitle = 'Promy do {$town}' # krótko\nhelp = '{#a href=|/help|}Pomoc{/a}'\n\n[seats]\n# untranslated\nleft = 'x'\n",
            ),
            ("ja/home.json", "{ \"title\": \"{$town}行き\", \"seats\": { \"left\": \"{$n :integer}席\" } }"),
        ],
    )
}

impl Project {
    fn read(&self, path: &str) -> String {
        std::fs::read_to_string(format!("{}/{path}", self.folder())).unwrap()
    }

    /// Changes a file: each of some texts once.
    fn edit(&self, path: &str, changes: &[(&str, &str)]) {
        let mut text = self.read(path);
        for (old, new) in changes {
            assert!(text.contains(old), "{old} is not in {text}");
            text = text.replacen(old, new, 1);
        }
        self.write(path, &text);
    }
}

#[test]
fn what_comes_back_without_a_change_changes_nothing() {
    let project = project();
    for locale in ["pl", "ja"] {
        let catalogs = || [project.read("catalogs/pl/home.toml"), project.read("catalogs/ja/home.json")];
        let before = catalogs();
        for file in ["out.xlf", "out.csv"] {
            project.run(&["export", file, "--locale", locale, "--overwrite"]);
            assert!(project.run(&["import", file, "--write"]).ends_with("status 0\nnothing to change\n"));
            assert_eq!(catalogs(), before);
            // Nothing is accepted that nobody has looked at.
            assert!(!std::path::Path::new(&format!("{}/crow-fly.accepted", project.folder())).exists());
        }
    }
}

#[test]
fn translations_come_back_from_xliff() {
    let project = project();
    let out = project.run(&["export", "pl.xlf", "--locale", "pl"]);
    let written = project.read("pl.xlf");
    project.edit(
        "pl.xlf",
        &[
            ("<target>Promy do ", "<target>Rejsy do "),
            ("<source>One seat</source>", "<source>One seat</source><target>Jedno miejsce</target>"),
            ("<source>New</source>", "<source>New</source><target>Nowe</target>"),
        ],
    );
    let mut shown = vec![out, project.run(&["import", "pl.xlf"])];
    // The forms with numbers, as a tool writes them.
    let seats = "<source><ph id=\"1\" equiv=\"{$n}\" dataRef=\"d1\"/> seats</source>";
    for text in ["miejsca", "miejsc", "miejsca"] {
        let target = format!(
            "{}<target><ph id=\"1\" dataRef=\"d1\"/> {text}</target>",
            seats.replace("> seats", ">  seats")
        );
        project.edit(
            "pl.xlf",
            &[(seats, &target.replace(">  seats", "> seats").replacen("<source>", "<source >", 1))],
        );
    }
    shown.push(project.run(&["import", "pl.xlf", "--write"]));
    shown.push(project.read("catalogs/pl/home.toml"));
    shown.push(project.run(&["import", "pl.xlf", "--write"]));
    shown.push(project.run(&["check", "--locale", "pl"]));
    insta::assert_snapshot!(shown.join("\n"));
    insta::assert_snapshot!(written);
}

#[test]
fn what_would_lose_something_is_refused() {
    let project = project();
    project.run(&["export", "pl.csv", "--locale", "pl"]);
    project.edit(
        "pl.csv",
        &[
            ("Promy do {$town}", "Promy"),
            ("{#a href=|/help|}Pomoc{/a}", "Pomoc"),
            ("home.seats.new,,New,", "home.seats.new,,New,Nowe"),
        ],
    );
    let mut shown = vec![
        project.run(&["import", "pl.csv", "--write"]),
        project.run(&["import", "pl.csv", "--write", "--skip-refused"]),
        project.run(&["import", "pl.csv", "--only", "stale"]),
    ];
    // An empty translation, an unknown key, a text with a mistake, another text of the default locale.
    shown.push(project.run(&["export", "pl.csv", "--locale", "pl"]));
    project.run(&["export", "pl.csv", "--locale", "pl", "--overwrite"]);
    project.edit(
        "pl.csv",
        &[
            ("Promy do {$town}", ""),
            (",Nowe,", ",Nowe {$,"),
            ("home.help", "home.hlep"),
            ("One seat,", "A seat,jedno"),
        ],
    );
    shown.push(project.run(&["import", "pl.csv"]));
    // The catalog has been worked on meanwhile.
    project.run(&["export", "pl.csv", "--locale", "pl", "--overwrite"]);
    project.edit("pl.csv", &[("Promy do {$town}", "Rejsy do {$town}")]);
    project.edit("catalogs/pl/home.toml", &[("Promy do", "Prom do")]);
    shown.push(project.run(&["import", "pl.csv"]));
    for (file, text) in [("a.csv", "key,form\nx,y\n"), ("b.xlf", "<xliff/>"), ("c.xlf", "<a"), ("d.txt", "x")]
    {
        project.write(file, text);
        shown.push(project.run(&["import", file]));
    }
    shown.push(project.run(&["export", "en.csv", "--locale", "en"]));
    insta::assert_snapshot!(shown.join("\n"));
}

#[test]
fn a_translation_is_confirmed_by_its_state() {
    let project = project();
    project.run(&["accept", "--all", "--write"]);
    project.edit("catalogs/en/home.toml", &[("Ferries to", "All ferries to")]);
    let stale =
        |project: &Project| project.json(&["coverage", "--locale", "pl"])[0]["stale"].as_u64().unwrap();
    assert_eq!(stale(&project), 1);
    project.run(&["export", "pl.xlf", "--locale", "pl", "--only", "stale"]);
    assert!(project.read("pl.xlf").contains("<segment state=\"initial\" subState=\"crow-fly:stale\">"));
    assert!(project.run(&["import", "pl.xlf", "--write"]).contains("nothing to change"));
    assert_eq!(stale(&project), 1);
    project.edit("pl.xlf", &[("state=\"initial\" subState=\"crow-fly:stale\"", "state=\"final\"")]);
    project.run(&["import", "pl.xlf", "--write"]);
    assert_eq!(stale(&project), 0);
}

/// Of a file only a hundred findings are told: each text is checked all the same.
#[test]
fn many_bad_texts_are_all_refused() {
    let texts = |text: &str| -> String {
        let lines: Vec<String> = (0..300).map(|at| format!("k{at} = 'Hello, {{$name}}{text}'\n")).collect();
        lines.concat()
    };
    let project = Project::new(
        "default = 'en'\nlocales = ['en', 'pl']\n",
        &[("en/home.toml", &texts("")), ("pl/home.toml", &texts("!"))],
    );
    project.run(&["export", "pl.csv", "--locale", "pl"]);
    let bad = project.read("pl.csv").replace("Hello, {$name}!", "Witaj?");
    project.write("pl.csv", &bad);
    let plan = project.json(&["import", "pl.csv", "--skip-refused", "--write"]);
    assert_eq!(
        (plan["refused"].as_array().unwrap().len(), plan["changed"].as_array().unwrap().len()),
        (300, 0)
    );
}

/// What a note allows is allowed here, too.
#[test]
fn a_note_allows_what_would_be_refused() {
    let project = Project::new(
        "default = 'en'\nlocales = ['en', 'pl']\n",
        &[
            ("en/home.toml", "# allow: missing-parameter (a greeting)\nhello = 'Hello, {$name}'\n"),
            ("pl/home.toml", "hello = 'Witaj, {$name}'\n"),
        ],
    );
    project.run(&["export", "pl.csv", "--locale", "pl"]);
    project.edit("pl.csv", &[("Witaj, {$name}", "Witaj")]);
    assert!(project.run(&["import", "pl.csv", "--write"]).contains("1 text written"));
}
