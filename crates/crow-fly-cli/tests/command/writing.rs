//! What is written stays whole: whatever a file is, whoever writes beside, and whenever the command is stopped.

use std::collections::BTreeMap;
use std::fs;
use std::hash::{BuildHasher, RandomState};
use std::path::{Path, PathBuf};
use std::process::{Command, Stdio};
use std::time::{Duration, Instant};

use crate::project::Project;

/// How long commands are killed, in seconds; `xtask -- proof kills` sets it.
const SECONDS: u64 = 30;

const CONFIG: &str = "default = 'en'\nlocales = ['en', 'pl', 'fr']\n[check]\ncode = ['src']\n";

/// A project with many files: a change of all of them takes a while.
fn project() -> Project {
    let sections: Vec<String> = (0..12).map(|at| format!("s{at}")).collect();
    let mut files: Vec<(String, String)> = Vec::new();
    for (locale, text) in [("en", "Ferry"), ("pl", "Prom"), ("fr", "Bac")] {
        for section in &sections {
            let lines: Vec<String> = (0..20).map(|at| format!("k{at} = '{text} {at}'\n")).collect();
            files.push((format!("{locale}/{section}.toml"), lines.concat()));
        }
    }
    let files: Vec<(&str, &str)> = files.iter().map(|(path, text)| (&**path, &**text)).collect();
    let project = Project::new(CONFIG, &files);
    for file in ["a", "b", "c"] {
        project
            .write(&format!("src/{file}.rs"), "fn page(t: &T) { t.text(\"s0.k0\"); t.text(\"s1.k1\"); }\n");
    }
    project.run(&["accept", "--all", "--write"]);
    for locale in ["pl", "fr"] {
        let file = format!("{locale}.csv");
        project.run(&["export", &file, "--locale", locale]);
        let text = fs::read_to_string(project.path(&file)).unwrap();
        project.write(&file, &text.replace("Prom 7", "Statek 7").replace("Bac 7", "Navire 7"));
    }
    project
}

impl Project {
    fn path(&self, path: &str) -> PathBuf {
        Path::new(self.folder()).join(path)
    }

    fn start(&self, arguments: &[&str]) -> std::process::Child {
        Command::new(assert_cmd::cargo::cargo_bin!("crow-fly"))
            .current_dir(self.folder())
            .args(arguments)
            .stdout(Stdio::null())
            .stderr(Stdio::piped())
            .spawn()
            .unwrap()
    }

    /// All files but for the lock, by path.
    fn files(&self) -> BTreeMap<String, String> {
        fn add(folder: &Path, root: &Path, files: &mut BTreeMap<String, String>) {
            for entry in fs::read_dir(folder).unwrap() {
                let path = entry.unwrap().path();
                if path.is_dir() {
                    add(&path, root, files);
                } else {
                    let name = path.strip_prefix(root).unwrap().to_str().unwrap().to_owned();
                    if name != ".crow-fly-lock" {
                        files.insert(name, fs::read_to_string(&path).unwrap());
                    }
                }
            }
        }
        let mut files = BTreeMap::new();
        add(Path::new(self.folder()), Path::new(self.folder()), &mut files);
        files
    }

    fn set_files(&self, files: &BTreeMap<String, String>) {
        for path in self.files().keys().filter(|path| !files.contains_key(*path)) {
            fs::remove_file(self.path(path)).unwrap();
        }
        for (path, text) in files {
            self.write(path, text);
        }
    }
}

/// A number below a limit.
fn random(limit: u64) -> u64 {
    RandomState::new().hash_one(0) % limit
}

#[test]
#[allow(clippy::print_stdout, reason = "a proof says how much it has tried")]
fn a_command_that_is_killed_at_any_moment_loses_nothing() {
    let seconds = std::env::var("KILL_SECONDS").ok().and_then(|text| text.parse().ok()).unwrap_or(SECONDS);
    let project = project();
    let before = project.files();
    let calls: [&[&str]; 5] = [
        &["rename", "s0.k0", "s1.first", "--write"],
        &["rename", "s1.k1", "s1.first", "--write"],
        &["import", "pl.csv", "--write"],
        &["add-locale", "cy", "--write"],
        &["accept", "--all", "--write"],
    ];
    let ended = calls.map(|call| {
        project.set_files(&before);
        let start = Instant::now();
        assert!(project.run(call).contains("status 0"), "{call:?}");
        (project.files(), start.elapsed())
    });
    let (start, mut kills, mut between) = (Instant::now(), 0, 0);
    while start.elapsed() < Duration::from_secs(seconds) {
        for (call, (after, time)) in calls.iter().zip(&ended) {
            project.set_files(&before);
            let mut process = project.start(call);
            let micros = u64::try_from(time.as_micros()).unwrap();
            std::thread::sleep(Duration::from_micros(random(micros + micros / 4)));
            let _ = process.kill();
            process.wait().unwrap();
            kills += 1;
            let now = project.files();
            let is_whole = |path: &&String| {
                let is = |files: &BTreeMap<String, String>| files.get(*path) == now.get(*path);
                is(&before) || is(after) || path.contains(".crow-fly-changes") || path.ends_with(".new~")
            };
            let torn: Vec<&String> = now.keys().chain(before.keys()).filter(|path| !is_whole(path)).collect();
            assert!(torn.is_empty(), "{call:?}: {torn:?}");
            let is_between = now.contains_key(".crow-fly-changes");
            between += u32::from(is_between);
            let again = project.run(call);
            assert!(
                again.contains("status 0") || now == *after && again.contains("already"),
                "{call:?}: {again}"
            );
            assert_eq!(project.files(), *after, "{call:?}");
        }
    }
    println!("{kills} kills, {between} of them between two files");
    assert!(kills >= 5);
}

#[test]
fn ten_processes_at_once_end_as_some_order_of_them() {
    let project = project();
    // Five imports of texts of their own, into the same files.
    let texts = fs::read_to_string(project.path("pl.csv")).unwrap().replace("Statek 7", "Prom 7");
    let is_renamed = |line: &&str| line.starts_with("s2.k10,") || line.starts_with("s2.k11,");
    let texts: String = texts.split_inclusive('\n').filter(|line| !is_renamed(line)).collect();
    for at in 0..5 {
        project.write(&format!("pl{at}.csv"), &texts.replace(&format!("Prom {at},"), &format!("Łódź {at},")));
    }
    let mut expected = project.files();
    for (path, text) in expected.iter_mut().filter(|(path, _)| path.starts_with("catalogs/pl/")) {
        for at in 0..5 {
            *text = text.replace(&format!("'Prom {at}'"), &format!("\"Łódź {at}\""));
        }
        assert!(text.contains("Łódź 3"), "{path}");
    }
    for (path, text) in &mut expected {
        if path.starts_with("catalogs/") && path.ends_with("/s2.toml") {
            *text = text.replace("k10 =", "first =").replace("k11 =", "second =");
        }
        if path == "crow-fly.accepted" {
            let renamed = text.replace("s2.k10 ", "s2.first ").replace("s2.k11 ", "s2.second ");
            let mut lines: Vec<&str> = renamed.lines().collect();
            lines.get_mut(1..).unwrap().sort_unstable();
            *text = lines.join("\n") + "\n";
        }
    }
    let imports: Vec<String> = (0..5).map(|at| format!("pl{at}.csv")).collect();
    let mut calls: Vec<Vec<&str>> = imports.iter().map(|file| vec!["import", file, "--write"]).collect();
    calls.extend([
        vec!["rename", "s2.k10", "s2.first", "--write"],
        vec!["rename", "s2.k11", "s2.second", "--write"],
        vec!["accept", "s3.k3", "--write"],
        vec!["accept", "--all", "--write"],
        vec!["check", "--fail-on", "error"],
    ]);
    let before = project.files();
    for _ in 0..3 {
        project.set_files(&before);
        let all: Vec<_> = calls.iter().map(|call| (call, project.start(call))).collect();
        for (call, process) in all {
            let output = process.wait_with_output().unwrap();
            let said = String::from_utf8_lossy(&output.stderr).into_owned();
            // On a slow machine the last one may have waited long enough: it has written nothing, and is run again.
            let is_run_again = said.contains("nothing is written: run the command again");
            let is_well = output.status.success() || is_run_again && project.run(call).contains("status 0");
            assert!(is_well, "{call:?}: {said}");
        }
        assert_eq!(project.files(), expected);
        assert!(!project.path(".crow-fly-lock").exists());
    }
}

#[cfg(unix)]
mod unix {
    use std::os::unix::fs::{MetadataExt, PermissionsExt, chown, symlink};

    use super::*;

    fn small(catalog: &str) -> Project {
        Project::new("default = 'en'\nlocales = ['en']\n", &[("en/home.toml", catalog)])
    }

    const RENAME: [&str; 4] = ["rename", "home.title", "home.heading", "--write"];

    #[test]
    fn what_a_file_is_stays() {
        let project = small("title = 'Ferries'\nother = 'x'\n");
        let file = project.path("catalogs/en/home.toml");
        fs::set_permissions(&file, fs::Permissions::from_mode(0o640)).unwrap();
        // Only an administrator can give files away; then they stay with whom they are.
        let owner = if chown(&file, Some(1234), Some(1234)).is_ok() {
            1234
        } else {
            fs::metadata(&file).unwrap().uid()
        };
        project.run(&RENAME);
        let about = fs::metadata(&file).unwrap();
        assert_eq!((about.mode() & 0o777, about.uid()), (0o640, owner));
        for (before, after) in [
            ("title = 'a'\r\nother = '''\r\nx'''\r\n", "heading = 'a'\r\nother = '''\r\nx'''\r\n"),
            ("\u{feff}title = 'a'\n", "\u{feff}heading = 'a'\n"),
            ("\u{feff}# Note.\r\ntitle = 'a'", "\u{feff}# Note.\r\nheading = 'a'"),
        ] {
            fs::write(&file, before).unwrap();
            let shown = project.run(&RENAME);
            assert!(shown.contains("status 0"), "{shown}");
            assert_eq!(fs::read_to_string(&file).unwrap().trim_end(), after.trim_end());
        }
        // A link stays a link.
        let elsewhere = project.path("elsewhere.toml");
        fs::write(&elsewhere, "title = 'a'\n").unwrap();
        fs::remove_file(&file).unwrap();
        symlink(&elsewhere, &file).unwrap();
        project.run(&RENAME);
        assert!(fs::symlink_metadata(&file).unwrap().is_symlink());
        assert_eq!(fs::read_to_string(&elsewhere).unwrap(), "heading = 'a'\n");
        let moved = project.run(&["rename", "home.heading", "trip.heading", "--write"]);
        assert!(moved.contains("is a symbolic link whose file would hold nothing any more"), "{moved}");
        assert_eq!(fs::read_to_string(&elsewhere).unwrap(), "heading = 'a'\n");
        assert!(!project.path("catalogs/en/trip.toml").exists());
    }

    #[test]
    fn what_cannot_be_kept_stops_the_command() {
        let project = small("title = 'a'\r\nother = 'b'\n");
        let file = project.path("catalogs/en/home.toml");
        let refused = |said: &str| {
            let (before, shown) = (project.files(), project.run(&RENAME));
            assert!(shown.contains("status 2") && shown.contains(said), "{shown}");
            assert_eq!(project.files(), before);
        };
        refused("catalogs/en/home.toml has lines that end in LF and lines that end in CR LF");
        // Whoever may not write to a file may not replace it.
        fs::write(&file, "title = 'a'\n").unwrap();
        fs::set_permissions(&file, fs::Permissions::from_mode(0o444)).unwrap();
        if fs::OpenOptions::new().write(true).open(&file).is_err() {
            refused("catalogs/en/home.toml cannot be written");
        }
        fs::set_permissions(&file, fs::Permissions::from_mode(0o644)).unwrap();
        symlink("nowhere", project.path("crow-fly.accepted")).unwrap();
        let shown = project.run(&["accept", "--all", "--write"]);
        assert!(shown.contains("crow-fly.accepted is a symbolic link to nothing"), "{shown}");
        symlink("nowhere.csv", project.path("out.csv")).unwrap();
    }

    #[test]
    fn only_regular_files_are_read_and_no_more_than_there_may_be() {
        let project =
            Project::new("default = 'en'\nlocales = ['en', 'pl']\n", &[("en/home.toml", "title = 'a'\n")]);
        symlink("/dev/zero", project.path("endless.csv")).unwrap();
        let pipe = project.path("pipe.csv");
        assert!(Command::new("mkfifo").arg(&pipe).status().unwrap().success());
        for file in ["endless.csv", "pipe.csv"] {
            let shown = project.run(&["import", file]);
            assert!(
                shown.ends_with(&format!("error: {file} cannot be read: it is not a regular file\n")),
                "{shown}"
            );
        }
        fs::File::create(project.path("large.csv")).unwrap().set_len((256 << 20) + 1).unwrap();
        assert!(project.run(&["import", "large.csv"]).contains("large.csv is too large"));
        for (file, call) in [
            ("endless.csv", &["check", "--baseline", "endless.csv"][..]),
            ("pipe.csv", &["check", "--misses", "pipe.csv"]),
            ("pipe.csv", &["explain", "--requests", "pipe.csv"]),
        ] {
            let shown = project.run(call);
            assert!(shown.contains(&format!("{file} cannot be read: it is not a regular file")), "{shown}");
        }
    }
}

#[test]
fn a_lock_is_waited_for_and_its_holder_is_named() {
    let project = Project::new("default = 'en'\nlocales = ['en']\n", &[("en/home.toml", "title = 'a'\n")]);
    let call = ["rename", "home.title", "home.heading", "--write"];
    let path = project.path(".crow-fly-lock");
    // Left by a process that is gone.
    fs::write(&path, "process 1: crow-fly import\n").unwrap();
    assert!(project.run(&call).contains("status 0"));
    assert!(!path.exists());
    fs::write(&path, "process 77: crow-fly import pl.csv --write\n").unwrap();
    let file = fs::File::open(&path).unwrap();
    file.lock().unwrap();
    // Whoever only reads does not wait.
    assert!(project.run(&["rename", "home.heading", "home.title"]).contains("status 0"));
    let shown = project.run(&["rename", "home.heading", "home.title", "--write"]);
    assert!(shown.contains("status 2"), "{shown}");
    assert!(shown.contains("error: process 77 writes here, for 1"), "{shown}");
    assert!(
        shown.contains("s (`crow-fly import pl.csv --write`); nothing is written: run the command again"),
        "{shown}"
    );
    // It goes on once the lock is free.
    let waiting = project.start(&["rename", "home.heading", "home.title", "--write"]);
    drop(file);
    assert!(waiting.wait_with_output().unwrap().status.success());
}

/// What was written down of changes may come with a project that somebody else has made.
#[test]
fn changes_of_files_that_no_command_writes_are_refused() {
    let project = Project::new("default = 'en'\nlocales = ['en']\n", &[("en/home.toml", "title = 'a'\n")]);
    let call = ["rename", "home.title", "home.heading", "--write"];
    for file in ["../outside.txt", "/tmp/outside.txt", "catalogs/../../outside.txt"] {
        let changes = serde_json::json!({
            "process": 1, "command": "x\u{1b}]0;y", "changes": [{ "file": file, "before": null, "after": "x" }],
        });
        project.write(".crow-fly-changes", &changes.to_string());
        let shown = project.run(&call);
        assert!(
            shown.contains("status 2") && shown.contains("which no command writes: delete it"),
            "{shown}"
        );
    }
    // Nor through a link, nor what has another name than catalogs and code.
    #[cfg(unix)]
    {
        let elsewhere = tempfile::tempdir().unwrap();
        std::os::unix::fs::symlink(elsewhere.path(), project.path("catalogs/link")).unwrap();
        for file in ["catalogs/link/new.toml", "catalogs/en/authorized_keys"] {
            let changes = serde_json::json!({ "process": 1, "command": "x", "changes": [
                { "file": "catalogs/en/home.toml", "before": "", "after": "title = 'a'\n" },
                { "file": file, "before": null, "after": "x" },
            ]});
            project.write(".crow-fly-changes", &changes.to_string());
            let shown = project.run(&call);
            assert!(shown.contains("which no command writes: delete it"), "{shown}");
            assert!(!elsewhere.path().join("new.toml").exists());
        }
        fs::remove_file(project.path("catalogs/link")).unwrap();
    }
    project.write(".crow-fly-changes", "{");
    assert!(
        project.run(&call).contains(".crow-fly-changes cannot be read: look at your files, then delete it")
    );
    // Somebody has changed a file since the command was stopped.
    let changes = serde_json::json!({ "process": 1, "command": "rename a b", "changes": [
        { "file": "catalogs/en/home.toml", "before": "title = 'a'\n", "after": "heading = 'a'\n" },
        { "file": "made.txt", "before": null, "after": "made" },
        { "file": "other.txt", "before": "x", "after": "y" },
    ]});
    project.write(".crow-fly-changes", &changes.to_string());
    project.write("made.txt", "made");
    project.write("other.txt", "mine");
    let shown = project.run(&call);
    assert!(shown.contains("`crow-fly rename a b` (process 1) was stopped between two files, and other.txt has changed since then"), "{shown}");
    // Commands that read go on, and say it.
    assert!(project.run(&["say", "home.title"]).contains("was stopped between two files"));
    project.write("other.txt", "x");
    assert!(project.run(&["rename", "home.heading", "home.title", "--write"]).contains("it is finished now"));
    let files = project.files();
    assert_eq!(files.get("catalogs/en/home.toml").unwrap(), "title = 'a'\n");
    assert_eq!(files.get("other.txt").unwrap(), "y");
    assert!(!files.contains_key(".crow-fly-changes"));
}

/// Controls of a terminal in texts, keys, names of files and errors are shown, not carried out.
#[test]
fn nothing_that_a_file_contains_acts_on_a_terminal() {
    let act = "\u{1b}]0;owned\u{7}\u{9b}31m\u{202e}";
    let project = Project::new(
        "default = 'en'\nlocales = ['en', 'pl']\n[check]\ncode = ['src']\n",
        &[
            ("en/home.toml", "title = \"Ferries\"\nother = \"\\u001B]0;owned\\u0007\\u009B31m\\u202E\"\n"),
            ("pl/home.toml", "title = \"Promy\"\nother = \"x\"\n"),
        ],
    );
    project.write("src/page.rs", &format!("fn page(t: &T) {{ t.text(\"home.{act}\"); t.text(\"home.title\"); say(\"home.new{act}\").or(\"x{act}\"); }}"));
    project.run(&["release", "publish", "--store", "store", "--activate"]);
    project.run(&["export", "pl.csv", "--locale", "pl"]);
    let text = fs::read_to_string(project.path("pl.csv")).unwrap();
    project.write(
        "pl.csv",
        &text.replace("Promy", &format!("Promy {act}")).replace("home.other", &format!("home.{act}")),
    );
    project.write("catalogs/pl/home.toml", "title = \"Rejsy \\u001B[31m\\u009B\"\nother = \"x\\u001B[2J\"\n");
    project.write(&format!("catalogs/pl/{}.toml", "a\u{1b}[31m"), "x = 'y'\n");
    project.write("wrong.csv", "key,form,source\n");
    let odd = format!("no{act}");
    for call in [
        &["import", "pl.csv"][..],
        &["say", "home.title", "--all"],
        &["say", "home.other"],
        &["say", &odd],
        &["say", "home.other", "--format", "json"],
        &["release", "compare", "active", "--store", "store"],
        &["release", "compare", &odd, "--store", "store"],
        &["check"],
        &["check", "--format", "lines"],
        &["check", "--format", "json"],
        &["check", "--fix"],
        &["coverage"],
        &["coverage", "--format", "json"],
        &["accept"],
        &["accept", &odd],
        &["gather"],
        &["rename", "home.title", &odd],
        &["rename", &odd, "home.title"],
        &["import", &odd],
        &["export", &odd, "--locale", &odd],
        &["explain", &odd],
        &["tag", &odd],
        &["add-locale", &odd],
        &[&odd],
        &["check", "--about", &odd],
        &["--config", &odd, "check"],
        &["release", "show", &odd, "--store", &odd],
    ] {
        let shown = project.run(call);
        // The first line is what was typed.
        let (_, shown) = shown.split_once("\nstatus ").unwrap();
        let is_control = |letter: &char| {
            letter.is_control() && !matches!(letter, '\n' | '\t') || *letter == '\u{202e}' && call[0] != "say"
        };
        assert_eq!(shown.chars().find(is_control), None, "{call:?}: {shown:?}");
        assert!(!shown.is_empty());
    }
}

/// Cells that a spreadsheet would run go out unarmed, and come back as they were.
#[test]
fn tables_run_nothing() {
    let texts = ["=1+1", "+1", "-1", "@sum", "'=1", "''@x", "'quoted'", "plain"];
    let lines = |end: &str| -> String {
        let line = |(at, text): (usize, &&str)| format!("k{at} = \"{text}{end}\"\n");
        texts.iter().enumerate().map(line).collect()
    };
    let project = Project::new(
        "default = 'en'\nlocales = ['en', 'pl']\n",
        &[("en/home.toml", &lines("")), ("pl/home.toml", &lines("!"))],
    );
    project.run(&["export", "pl.csv", "--locale", "pl"]);
    let table = fs::read_to_string(project.path("pl.csv")).unwrap();
    assert!(
        table.contains(",'=1+1,'=1+1!,")
            && table.contains(",''=1,''=1!,")
            && table.contains(",'quoted','quoted'!,"),
        "{table}"
    );
    let mut reader = csv::Reader::from_reader(table.as_bytes());
    for cell in
        reader.records().flat_map(|record| record.unwrap().iter().map(str::to_owned).collect::<Vec<_>>())
    {
        assert!(!cell.starts_with(['=', '+', '-', '@', '\t']), "{cell}");
    }
    assert!(project.run(&["import", "pl.csv", "--write"]).ends_with("status 0\nnothing to change\n"));
    // Also as a translator writes them, who knows nothing of it.
    project.write("pl.csv", &table.replace("'=1+1!", "=2+2").replace("'@sum!", "'@min"));
    project.run(&["import", "pl.csv", "--write"]);
    let catalog = fs::read_to_string(project.path("catalogs/pl/home.toml")).unwrap();
    assert!(catalog.contains("k0 = \"=2+2\"") && catalog.contains("k3 = \"@min\""), "{catalog}");
}

/// A text of a language that was just begun is checked like every other.
#[test]
fn texts_of_a_new_language_are_checked() {
    let project = Project::new(
        "default = 'en'\nlocales = ['en']\n",
        &[(
            "en/home.toml",
            "title = 'Page {$page} of ferries'\nhelp = '{#a href=|/help|}Help{/a}'\nquay = 'Quay'\n",
        )],
    );
    project.run(&["add-locale", "ga", "--write"]);
    project.run(&["export", "ga.csv", "--locale", "ga"]);
    let table = fs::read_to_string(project.path("ga.csv")).unwrap();
    let with = |target: &str| {
        let line = table.replace(
            "home.title,,Page {$page} of ferries,,",
            &format!("home.title,,Page {{$page}} of ferries,{target},"),
        );
        assert_ne!(line, table);
        project.write("ga.csv", &line.replace("home.quay,,Quay,,", "home.quay,,Quay,Cé,"));
    };
    let before = project.files().remove("catalogs/ga/home.toml").unwrap();
    for (target, rule) in [
        ("{$leathanach :nonsense} {page} – Báid", "unknown-function"),
        ("Leathanach {$leathanach}", "surplus-parameter"),
        ("Leathanach", "missing-parameter"),
        ("Leathanach {$page :integr}", "unknown-function"),
        ("Leathanach {$page", "closing-brace"),
    ] {
        with(target);
        let shown = project.run(&["import", "ga.csv", "--write"]);
        assert!(shown.contains("status 1\n") && shown.contains("nothing is written"), "{target}: {shown}");
        assert!(
            shown.contains("home.title is refused: ")
                && (shown.contains(&format!("[{rule}]")) || rule == "closing-brace"),
            "{target}: {shown}"
        );
        assert!(shown.contains("ga.csv:2:1: "), "{target}: {shown}");
        assert_eq!(project.files().remove("catalogs/ga/home.toml").unwrap(), before);
    }
    assert!(project.run(&["import", "ga.csv", "--write", "--skip-refused"]).contains("1 text written"));
    with("Leathanach {$page}");
    assert!(project.run(&["import", "ga.csv", "--write"]).contains("1 text written"));
    let shown = project.run(&["check", "--fail-on", "warning"]);
    assert!(shown.contains("status 0"), "{shown}");
}

/// What a translator has lined up stays so, and so does the order of variants.
#[test]
fn a_message_that_comes_back_keeps_its_layout() {
    let own = "# Ours.\nseats = '''\n.input   {$n :integer}\n.match   $n\nfew      {{{$n} miejsca}}\n  one    {{Jedno miejsce}}\nmany     {{{$n} miejsc}}\n*        {{{$n} miejsca}}'''\n";
    let project = Project::new(
        "default = 'en'\nlocales = ['en', 'pl']\n",
        &[
            (
                "en/home.toml",
                "seats = '''\n.input {$n :integer}\n.match $n\none {{One seat}}\n* {{{$n} seats}}'''\n",
            ),
            ("pl/home.toml", own),
        ],
    );
    project.run(&["export", "pl.csv", "--locale", "pl"]);
    let table = fs::read_to_string(project.path("pl.csv")).unwrap();
    project.write("pl.csv", &table.replace("Jedno miejsce", "Tylko jedno miejsce"));
    let shown = project.run(&["import", "pl.csv", "--write"]);
    assert!(!shown.contains("laid out anew"), "{shown}");
    let written = fs::read_to_string(project.path("catalogs/pl/home.toml")).unwrap();
    let lines = |text: &str| {
        text.lines().map(|line| line.replace("'''", "").replace("\"\"\"", "")).collect::<Vec<_>>()
    };
    assert_eq!(lines(&written), lines(&own.replace("Jedno", "Tylko jedno")));
}
