//! Commands that are carried out in tests, on a disk of the test.

use std::path::Path;

use clap::FromArgMatches as _;

use crate::arguments::Arguments;
use crate::commands::{Call, Outcome, run};
use crate::output::Output;
use crate::writing::Disk;

/// Carries out what is typed, in the project of a folder; `FOLDER` in it is the folder.
pub(crate) fn carry_out(folder: &Path, disk: &dyn Disk, typed: &str) -> anyhow::Result<Outcome> {
    let config = format!("--config={}", folder.join("crow-fly.toml").display());
    let words =
        shlex::split(&typed.replace("FOLDER", folder.to_str().unwrap_or_default())).unwrap_or_default();
    let typed: Vec<String> =
        ["crow-fly".to_owned()].into_iter().chain(words).chain(std::iter::once(config)).collect();
    let arguments = Arguments::from_arg_matches(&Arguments::grouped().try_get_matches_from(&typed)?)?;
    let mut text = Vec::new();
    let call = Call {
        arguments: &arguments,
        typed: typed.get(1..).unwrap_or_default().join(" "),
        is_json: false,
        disk,
    };
    let outcome = run(&call, &mut Output::new(&mut text))?;
    match outcome {
        Outcome::Well => Ok(outcome),
        Outcome::Found => anyhow::bail!("{typed:?}: {}", String::from_utf8_lossy(&text)),
    }
}
