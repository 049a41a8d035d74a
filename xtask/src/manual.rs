//! The manual pages of the command `crow-fly`, made from what can be typed.

use std::path::Path;

use anyhow::{Context, Result};
use clap::CommandFactory as _;

use self::arguments::{Arguments, STATUS};

#[allow(dead_code, reason = "only what can be typed is of interest here")]
#[path = "../../crates/crow-fly-cli/src/arguments.rs"]
mod arguments;

/// Writes a page for the command and for each one below it.
pub(crate) fn run(folder: &Path) -> Result<()> {
    let wrong = || format!("{} cannot be written", folder.display());
    std::fs::create_dir_all(folder).with_context(wrong)?;
    let command = Arguments::command().after_help(STATUS).mut_arg("config", |config| config.hide(false));
    clap_mangen::generate_to(command, folder).with_context(wrong)?;
    let pages = std::fs::read_dir(folder).with_context(wrong)?;
    println!("{}: {} pages", folder.display(), pages.count());
    Ok(())
}
