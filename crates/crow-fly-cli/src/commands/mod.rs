//! What each command does: functions from arguments to output.

use std::io::Write;

use anyhow::Result;

use crate::arguments::{Arguments, Command};
use crate::project::Project;

mod accept;
mod add_locale;
mod check;
mod completions;
mod coverage;
mod explain;
mod export;
mod gather;
mod import;
mod init;
mod release;
mod rename;
mod say;
mod tag;

/// How a command ended.
pub(crate) enum Outcome {
    /// Nothing to complain about.
    Well,
    /// Something was found that a person should see to.
    Found,
}

pub(crate) fn run(arguments: &Arguments, output: &mut dyn Write) -> Result<Outcome> {
    let config = &arguments.config;
    let open = || Project::open(config);
    match &arguments.command {
        Command::Say(what) => say::run(&open()?, what, output),
        Command::Explain(what) => explain::run(&open()?, what, output),
        // A tag can be looked at anywhere; its chain only where there is an application.
        Command::Tag(what) => tag::run(config.exists().then(open).transpose()?.as_ref(), what, output),
        Command::Init(what) => init::run(config, what, output),
        Command::AddLocale(what) => add_locale::run(config, &open()?, what, output),
        Command::Gather(what) => gather::run(&open()?, what, output),
        Command::Rename(what) => rename::run(&open()?, what, output),
        Command::Check(what) => match &what.about {
            Some(rule) => check::about(rule, what, output),
            None => check::run(open(), what, output),
        },
        Command::Coverage(what) => coverage::run(&open()?, what, output),
        Command::Accept(what) => accept::run(&open()?, what, output),
        Command::Export(what) => export::run(&open()?, what, output),
        Command::Import(what) => import::run(&open()?, what, output),
        Command::Release(what) => release::run(open, what, output),
        Command::Completions(what) => completions::run(what, output),
    }
}
