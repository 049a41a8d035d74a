//! `crow-fly completions`: what can be typed, for a shell.

use std::io::Write;

use anyhow::Result;

use super::Outcome;
use crate::arguments::{Arguments, CompletionsArguments};
use crate::output::Output;

pub(crate) fn run(what: &CompletionsArguments, output: &mut Output<'_>) -> Result<Outcome> {
    // Made as a whole first: a reader that has seen enough is no mistake.
    let mut script = Vec::new();
    clap_complete::generate(what.shell, &mut Arguments::grouped(), "crow-fly", &mut script);
    output.write_all(&script)?;
    Ok(Outcome::Well)
}
