//! How long each command takes on the demo, and on a large project: the table in docs/command.md.

use std::fmt::Write as _;
use std::path::Path;
use std::process::Command;
use std::time::{Duration, Instant};

use anyhow::{Context, Result, ensure};
use crow_fly_core::names;

/// Locales and messages of the large project.
const LARGE: (usize, usize) = (135, 500);

/// Sections of the large project.
const SECTIONS: usize = 10;

/// What is run: a name, and what is typed. `KEY` is a message of each project.
const CALLS: [(&str, &[&str]); 13] = [
    ("say", &["say", "KEY"]),
    ("say --all", &["say", "KEY", "--all"]),
    ("explain", &["explain", "/", "--accept-language", "pl, en;q=0.5"]),
    ("tag", &["tag", "pl"]),
    ("add-locale", &["add-locale", "gsw-LI"]),
    ("gather", &["gather"]),
    ("rename", &["rename", "KEY", "home.another-name"]),
    ("check", &["check", "--fail-on", "error"]),
    ("coverage", &["coverage"]),
    ("accept", &["accept", "--all", "--write"]),
    ("export", &["export", "texts.xlf", "--locale", "cy", "--overwrite"]),
    ("import", &["import", "texts.xlf"]),
    ("release show", &["release", "show"]),
];

pub(crate) fn run(root: &Path) -> Result<()> {
    let status = Command::new("cargo")
        .args(["build", "--quiet", "--release", "-p", "crow-fly-cli"])
        .current_dir(root)
        .status()
        .context("starting cargo")?;
    ensure!(status.success(), "the command cannot be built");
    let program = root.join("target/release/crow-fly");
    let folder = std::env::temp_dir().join(format!("commands-{}", std::process::id()));
    let shown = table(root, &program, &folder);
    let _ = std::fs::remove_dir_all(&folder);
    let (locales, messages) = LARGE;
    let page = root.join("crates/crow-fly-cli/src/page_times.md");
    let text = format!(
        "## How long they take\n\nThe whole command, from start to end, in a release build: the median of five runs, on the demo (5 locales, 39 messages) and on\na project of {locales} locales with {messages} messages each, all of them translated. `cargo run -p xtask -- proof commands` measures\nanew, and writes this table.\n\n{}",
        shown?
    );
    std::fs::write(&page, &text)?;
    print!("{text}");
    Ok(())
}

fn table(root: &Path, program: &Path, folder: &Path) -> Result<String> {
    let (demo, large) = (folder.join("demo"), folder.join("large"));
    copy(&root.join("examples/ferry"), &demo)?;
    write_large(&large)?;
    let mut text = String::from("| command | the demo | the large project |\n|---|--:|--:|\n");
    for (name, call) in CALLS {
        let on_demo = time(program, &demo, call, "home.title")?;
        let on_large = time(program, &large, call, "part-0.message-7")?;
        writeln!(text, "| `{name}` | {} | {} |", milliseconds(on_demo), milliseconds(on_large))?;
    }
    Ok(text)
}

/// The median of five runs.
fn time(program: &Path, folder: &Path, call: &[&str], key: &str) -> Result<Duration> {
    let mut times = Vec::new();
    for _ in 0..5 {
        // What a run has written is not there for the next one.
        let configuration = std::fs::read(folder.join("crow-fly.toml"))?;
        let arguments = call.iter().map(|word| if *word == "KEY" { key } else { word });
        let start = Instant::now();
        let output = Command::new(program).args(arguments).current_dir(folder).output()?;
        times.push(start.elapsed());
        ensure!(
            output.status.code().is_some_and(|code| code < 2),
            "{call:?}: {}",
            String::from_utf8_lossy(&output.stderr)
        );
        std::fs::write(folder.join("crow-fly.toml"), configuration)?;
        let _ = std::fs::remove_dir_all(folder.join("catalogs/gsw-LI"));
    }
    times.sort_unstable();
    times.get(times.len() / 2).copied().context("there are five")
}

fn milliseconds(time: Duration) -> String {
    format!("{} ms", time.as_millis())
}

fn copy(from: &Path, to: &Path) -> Result<()> {
    std::fs::create_dir_all(to)?;
    for entry in std::fs::read_dir(from)? {
        let entry = entry?;
        let target = to.join(entry.file_name());
        if entry.file_type()?.is_dir() {
            copy(&entry.path(), &target)?;
        } else {
            std::fs::copy(entry.path(), target)?;
        }
    }
    Ok(())
}

fn write_large(folder: &Path) -> Result<()> {
    let (locales, messages) = LARGE;
    let mut tags: Vec<&str> = ["en", "cy", "pl"].to_vec();
    tags.extend(
        names::locales().filter(|tag| !tag.contains('-') && !matches!(*tag, "und" | "en" | "cy" | "pl")),
    );
    tags.truncate(locales);
    ensure!(tags.len() == locales, "CLDR has {} languages", tags.len());
    for tag in &tags {
        let own = folder.join("catalogs").join(tag);
        std::fs::create_dir_all(&own)?;
        for section in 0..SECTIONS {
            let mut text = String::new();
            for number in 0..messages / SECTIONS {
                // Most messages of an application are plain texts.
                let line = match number % 10 {
                    0 => format!("'{tag} {{$count :integer}} words of {number}'"),
                    1 => format!("'{tag} {{#link}}of {{$name}}{{/link}}'"),
                    _ => format!("'{tag} has the text of number {number}'"),
                };
                writeln!(text, "message-{number} = {line}")?;
            }
            std::fs::write(own.join(format!("part-{section}.toml")), text)?;
        }
    }
    std::fs::create_dir_all(folder.join("src"))?;
    let mut code = String::new();
    for at in 0..messages {
        let (section, number) = (at / (messages / SECTIONS), at % (messages / SECTIONS));
        writeln!(code, "fn f{at}(t: &T) {{ t.text(\"part-{section}.message-{number}\"); }}")?;
    }
    std::fs::write(folder.join("src/pages.rs"), code)?;
    let config = format!("default = 'en'\nlocales = {tags:?}\n\n[check]\ncode = ['src']\n");
    std::fs::write(folder.join("crow-fly.toml"), config)?;
    Ok(())
}
