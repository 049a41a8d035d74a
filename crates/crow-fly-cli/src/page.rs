//! docs/command.md, made from what can be typed.

use std::fmt::Write as _;
use std::fs;

use clap::{Arg, Command};

use crate::arguments::{Arguments, GROUPS, STATUS};

const HEAD: &str = "# The command

This page is made from the program: `crow-fly --help` shows the same at the terminal.

";

/// What is true for all commands.
const ALL: &str = "## All commands

`cargo install --path crates/crow-fly-cli --profile command` builds the command as it is shipped: 9.8 MB, where a release build has 13.6.

`--config FILE` names the application's configuration; it is `crow-fly.toml` in this folder if not given. `--help` shows the
options of a command.

Colours are shown on a terminal; `NO_COLOR=1` turns them off. Long work shows its progress on a terminal. A table is never
wider than the terminal, or than `COLUMNS`.

**Places** are written as editors open them: `catalogs/en/home.toml:23:8` is line 23, column 8. Both count from 1, and columns
count characters. SARIF counts columns in units of UTF-16, as its readers do.

**JSON.** With `--format json` a command prints one JSON value on its output, whatever happens. When it cannot be carried out
(status 2), the value is an error:

```json
{ \"error\": { \"text\": \"what is wrong\", \"help\": \"what to do\", \"file\": \"crow-fly.toml\", \"line\": 3, \"column\": 1 } }
```

`text` is always there, the others where they are known.

";

/// The page.
fn page() -> String {
    let mut command = Arguments::grouped();
    command.build();
    let mut text = String::from(HEAD);
    writeln!(text, "{}.\n\n{STATUS}\n", command.get_about().unwrap_or_default()).unwrap();
    text.push_str("| | command | what it does |\n|---|---|---|\n");
    for (group, names) in shown() {
        for (at, name) in names.iter().enumerate() {
            let about = command.find_subcommand(name).unwrap().get_about().unwrap();
            let group = if at == 0 { group } else { "" };
            writeln!(text, "| {group} | [`{name}`](#crow-fly-{name}) | {about} |").unwrap();
        }
    }
    text.push('\n');
    text.push_str("![The help: the commands by who needs them](screenshots/command-help.png)\n\n");
    text.push_str(ALL);
    for (group, names) in shown() {
        writeln!(text, "## {group}\n").unwrap();
        if let Some(picture) = picture(group) {
            text.push_str(picture);
        }
        for name in names {
            of_command(command.find_subcommand(name).unwrap(), "crow-fly", &mut text);
        }
    }
    text.push_str(TIMES);
    text
}

/// What each group looks like.
fn picture(group: &str) -> Option<&'static str> {
    match group {
        "Look" => Some(
            "![Messages in all locales, and requests that are explained](screenshots/command-look.png)\n\n",
        ),
        "Write" => Some("![A new project, and a third locale](screenshots/command-write.png)\n\n"),
        "Keep right" => {
            Some("![Findings, each with its line and what to do](screenshots/command-check.png)\n\n")
        }
        "Translate" => Some("![Coverage, export and import](screenshots/command-translate.png)\n\n"),
        "Ship" => Some("![Releases, listed and activated](screenshots/command-release.png)\n\n"),
        _ => None,
    }
}

/// How long the commands take.
const TIMES: &str = include_str!("page_times.md");

fn shown() -> impl Iterator<Item = (&'static str, Vec<&'static str>)> {
    GROUPS.into_iter().map(|(group, names)| {
        (group, names.iter().copied().filter(|name| *name != "help").collect::<Vec<_>>())
    })
}

fn of_command(command: &Command, before: &str, text: &mut String) {
    let name = format!("{before} {}", command.get_name());
    let level = "#".repeat(name.split(' ').count() + 1);
    let about = command.get_long_about().or(command.get_about()).map(ToString::to_string).unwrap_or_default();
    writeln!(text, "{level} {name}\n\n{about}.\n").unwrap();
    let is_own = |arg: &&Arg| !matches!(arg.get_id().as_str(), "help" | "version" | "config");
    let rows: Vec<String> = command.get_arguments().filter(is_own).map(row).collect();
    if !rows.is_empty() {
        writeln!(text, "| argument | meaning |\n|---|---|\n{}\n", rows.join("\n")).unwrap();
    }
    if let Some(examples) = command.get_after_help() {
        let examples = examples.to_string();
        let lines = examples.lines().skip(1).map(str::trim).collect::<Vec<_>>();
        writeln!(text, "```sh\n{}\n```\n", lines.join("\n")).unwrap();
    }
    for one in command.get_subcommands().filter(|one| one.get_name() != "help") {
        of_command(one, &name, text);
    }
}

/// A description inside a sentence.
fn lower(text: &str) -> String {
    let mut letters = text.chars();
    let is_name = text.chars().nth(1).is_some_and(char::is_uppercase);
    match letters.next() {
        Some(first) if !is_name => first.to_lowercase().chain(letters).collect(),
        _ => text.to_owned(),
    }
}

fn row(arg: &Arg) -> String {
    let values: Vec<String> =
        arg.get_value_names().unwrap_or_default().iter().map(ToString::to_string).collect();
    let takes = arg.get_action().takes_values();
    let value = if takes { values.join(" ") } else { String::new() };
    let many = if arg.get_num_args().is_some_and(|count| count.max_values() > 1) { "…" } else { "" };
    let value_of_long = if arg.is_require_equals_set() { format!("[={value}]") } else { format!(" {value}") };
    let long = arg.get_long().map(|long| format!("--{long}{value_of_long}").trim_end().to_owned());
    let form = match (long, arg.get_short()) {
        (Some(long), Some(short)) => format!("`-{short}`, `{long}`"),
        (Some(long), None) => format!("`{long}`"),
        (None, _) => format!("`{value}{many}`"),
    };
    let mut help = arg.get_help().map(ToString::to_string).unwrap_or_default().replace('\n', " ");
    let possible = arg.get_possible_values();
    if takes && !possible.is_empty() {
        let described = |value: &clap::builder::PossibleValue| match value.get_help() {
            Some(about) => format!("`{}` ({})", value.get_name(), lower(&about.to_string())),
            None => format!("`{}`", value.get_name()),
        };
        write!(help, ": {}", possible.iter().map(described).collect::<Vec<_>>().join(", ")).unwrap();
    }
    let defaults: Vec<String> =
        arg.get_default_values().iter().map(|value| format!("`{}`", value.to_string_lossy())).collect();
    if !defaults.is_empty() && takes {
        write!(help, "; {} if not given", defaults.join(", ")).unwrap();
    }
    format!("| {} | {} |", form, help.replace('|', "\\|"))
}

#[test]
fn the_page_of_the_command_is_made_from_it() {
    let path = concat!(env!("CARGO_MANIFEST_DIR"), "/../../docs/command.md");
    if std::env::var_os("WRITE_DOCS").is_some() {
        fs::write(path, page()).unwrap();
    }
    let written = fs::read_to_string(path).unwrap_or_default();
    assert!(written == page(), "write it anew: WRITE_DOCS=1 cargo test -p crow-fly-cli page_of_the_command");
}

/// Every command says what it does, with an example on the demo, and stands in one group.
#[test]
fn every_command_has_an_example_and_a_group() {
    let command = Arguments::grouped();
    let mut grouped: Vec<&str> = GROUPS.iter().flat_map(|(_, names)| names.iter().copied()).collect();
    let mut all: Vec<&str> = command.get_subcommands().map(Command::get_name).collect();
    for one in command.get_subcommands() {
        let example = one.get_after_help().map(ToString::to_string).unwrap_or_default();
        assert!(example.contains(&format!("\n  crow-fly {}", one.get_name())), "{}", one.get_name());
        assert!(one.get_about().is_some(), "{}", one.get_name());
    }
    assert!(all.len() <= 14, "thirteen commands and `completions`");
    all.push("help");
    all.sort_unstable();
    grouped.sort_unstable();
    assert_eq!(all, grouped);
}
