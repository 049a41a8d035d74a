//! Why a command could not be carried out, for people and for programs.

use std::ffi::OsString;
use std::fmt;

use crow_fly::ConfigError;
use serde::Serialize;

use crate::place::Misplaced;

/// A failure: what is wrong, and where it has a place in a file. As JSON it is
/// `{ "error": { "text", "help", "file", "line", "column" } }`; what is not known is left out.
#[derive(Serialize)]
pub(crate) struct Failure {
    error: Described,
    /// What people read.
    #[serde(skip)]
    shown: String,
}

#[derive(Default, Serialize)]
struct Described {
    text: String,
    #[serde(skip_serializing_if = "Option::is_none")]
    help: Option<String>,
    #[serde(skip_serializing_if = "Option::is_none")]
    file: Option<String>,
    #[serde(skip_serializing_if = "Option::is_none")]
    line: Option<u32>,
    #[serde(skip_serializing_if = "Option::is_none")]
    column: Option<u32>,
}

impl Failure {
    pub(crate) fn of(error: &anyhow::Error) -> Self {
        let shown = format!("{error:#}");
        let described = match error.downcast_ref::<ConfigError>() {
            Some(config) => Described {
                text: config.text().to_owned(),
                help: config.help().map(str::to_owned),
                file: config.file().map(|file| file.display().to_string()),
                line: config.place().map(|place| place.line),
                column: config.place().map(|place| place.column),
            },
            None => match error.downcast_ref::<Misplaced>() {
                Some(Misplaced { place, text }) => Described {
                    text: text.clone(),
                    file: Some(place.file.clone()),
                    line: Some(place.line),
                    column: Some(place.column),
                    ..Described::default()
                },
                None => Described { text: shown.clone(), ..Described::default() },
            },
        };
        Self { error: described, shown }
    }

    /// A mistake in what was typed.
    pub(crate) fn typed(error: &clap::Error) -> Self {
        let shown = error.to_string();
        let text = first_paragraph(&shown);
        let help = Some("`crow-fly --help` lists what can be typed".to_owned());
        Self { error: Described { text, help, ..Described::default() }, shown }
    }
}

impl fmt::Display for Failure {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.shown)
    }
}

/// What a mistake in what was typed is, in one line.
pub(crate) fn first_paragraph(shown: &str) -> String {
    let lines = shown.lines().map(str::trim).take_while(|line| !line.is_empty());
    lines.collect::<Vec<_>>().join(" ").trim_start_matches("error: ").to_owned()
}

/// Whether JSON is asked for: also where the rest of what was typed is not understood.
pub(crate) fn wants_json(typed: &[OsString]) -> bool {
    let is = |word: &OsString, text: &str| word.to_str() == Some(text);
    typed.iter().any(|word| is(word, "--format=json"))
        || typed
            .iter()
            .zip(typed.iter().skip(1))
            .any(|(option, value)| is(option, "--format") && is(value, "json"))
}
