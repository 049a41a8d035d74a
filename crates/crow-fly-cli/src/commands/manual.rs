//! `crow-fly completions` and `crow-fly manual`: what can be typed, for shells and for readers.

use std::fs;
use std::io::Write;

use anyhow::{Context, Result};
use clap::CommandFactory;
use serde_json::json;

use super::Outcome;
use crate::arguments::{Arguments, CompletionsArguments, ManualArguments};
use crate::render;

pub(crate) fn completions(what: &CompletionsArguments, output: &mut dyn Write) -> Result<Outcome> {
    // Made as a whole first: a reader that has seen enough is no mistake.
    let mut script = Vec::new();
    clap_complete::generate(what.shell, &mut Arguments::command(), "crow-fly", &mut script);
    output.write_all(&script)?;
    Ok(Outcome::Well)
}

pub(crate) fn pages(what: &ManualArguments, json: bool, output: &mut dyn Write) -> Result<Outcome> {
    let folder = &what.folder;
    let wrong = || format!("{} cannot be written", folder.display());
    fs::create_dir_all(folder).with_context(wrong)?;
    clap_mangen::generate_to(Arguments::command(), folder).with_context(wrong)?;
    let mut files = Vec::new();
    for entry in fs::read_dir(folder).with_context(wrong)? {
        let name = entry?.file_name().to_string_lossy().into_owned();
        if name.starts_with("crow-fly") && name.ends_with(".1") {
            files.push(name);
        }
    }
    files.sort_unstable();
    if json {
        render::json(output, &json!({ "folder": folder, "files": files }))?;
    } else {
        writeln!(output, "{}: {}", folder.display(), render::count(files.len(), "page"))?;
    }
    Ok(Outcome::Well)
}

#[cfg(test)]
#[allow(clippy::unwrap_used, reason = "a test fails by panicking")]
mod tests {
    use std::fmt::Write as _;

    use clap::{Arg, Command};

    use super::*;

    /// The page of the command: made from what can be typed.
    fn page() -> String {
        let mut command = Arguments::command();
        command.build();
        let mut text = String::from(
            "# The command\n\nThis page is made from the program: `crow-fly --help` shows the same at the terminal.\n\n",
        );
        let about = command.get_about().map(ToString::to_string).unwrap_or_default();
        writeln!(text, "{about}.\n").unwrap();
        writeln!(text, "{}\n", command.get_after_help().map(ToString::to_string).unwrap_or_default())
            .unwrap();
        text.push_str("Colours are shown on a terminal; `NO_COLOR=1` turns them off. Long work shows its progress on a terminal.\n\n");
        text.push_str("| command | what it does |\n|---|---|\n");
        for one in shown(&command) {
            let about = one.get_about().map(ToString::to_string).unwrap_or_default();
            writeln!(text, "| [`{0}`](#crow-fly-{0}) | {about} |", one.get_name()).unwrap();
        }
        text.push_str("\nEach command takes `--config FILE`, `--json` and `--help`.\n");
        for one in shown(&command) {
            of_command(one, "crow-fly", &mut text);
        }
        text
    }

    fn shown(command: &Command) -> impl Iterator<Item = &Command> {
        command.get_subcommands().filter(|one| one.get_name() != "help")
    }

    fn of_command(command: &Command, before: &str, text: &mut String) {
        let name = format!("{before} {}", command.get_name());
        let level = "#".repeat(name.split(' ').count());
        let about =
            command.get_long_about().or(command.get_about()).map(ToString::to_string).unwrap_or_default();
        writeln!(text, "\n{level} {name}\n\n{about}.\n").unwrap();
        let is_own = |arg: &&Arg| !matches!(arg.get_id().as_str(), "help" | "version" | "config" | "json");
        let rows: Vec<String> = command.get_arguments().filter(is_own).map(row).collect();
        if !rows.is_empty() {
            writeln!(text, "| argument | meaning |\n|---|---|\n{}", rows.join("\n")).unwrap();
        }
        if let Some(examples) = command.get_after_help() {
            let examples = examples.to_string();
            let lines = examples.lines().skip(1).map(str::trim).collect::<Vec<_>>();
            writeln!(text, "\n```sh\n{}\n```", lines.join("\n")).unwrap();
        }
        for one in shown(command) {
            of_command(one, &name, text);
        }
    }

    fn row(arg: &Arg) -> String {
        let values: Vec<String> =
            arg.get_value_names().unwrap_or_default().iter().map(ToString::to_string).collect();
        let takes = arg.get_action().takes_values();
        let value = if takes { values.join(" ") } else { String::new() };
        let many = if arg.get_num_args().is_some_and(|count| count.max_values() > 1) { "…" } else { "" };
        let long = arg.get_long().map(|long| format!("--{long} {value}").trim_end().to_owned());
        let form = match (long, arg.get_short()) {
            (Some(long), Some(short)) => format!("`-{short}`, `{long}`"),
            (Some(long), None) => format!("`{long}`"),
            (None, _) => format!("`{value}{many}`"),
        };
        let mut help = arg.get_help().map(ToString::to_string).unwrap_or_default().replace('\n', " ");
        let possible: Vec<String> = arg
            .get_possible_values()
            .iter()
            .filter(|_| takes)
            .map(|value| format!("`{}`", value.get_name()))
            .collect();
        if !possible.is_empty() {
            write!(help, ": {}", possible.join(", ")).unwrap();
        }
        let defaults: Vec<String> =
            arg.get_default_values().iter().map(|value| format!("`{}`", value.to_string_lossy())).collect();
        if !defaults.is_empty() && takes {
            write!(help, "; {} unless given", defaults.join(", ")).unwrap();
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
        assert!(
            written == page(),
            "write it anew: WRITE_DOCS=1 cargo test -p crow-fly-cli page_of_the_command"
        );
    }

    /// Every command says what it does, with an example on the demo.
    #[test]
    fn every_command_has_an_example() {
        let command = Arguments::command();
        for one in shown(&command) {
            let example = one.get_after_help().map(ToString::to_string).unwrap_or_default();
            assert!(example.contains(&format!("\n  crow-fly {}", one.get_name())), "{}", one.get_name());
            assert!(one.get_about().is_some(), "{}", one.get_name());
        }
    }
}
