//! What each command does: functions from arguments to output.

use std::io::Write;

use anyhow::Result;

use crate::arguments::{Arguments, Command};
use crate::project::Project;

mod accept;
mod add_locale;
mod check;
mod coverage;
mod explain;
mod export;
mod gather;
mod header;
mod import;
mod init;
mod manual;
mod pseudo_locale;
mod release;
mod rename;
mod say;
mod tag;
mod types;

/// How a command ended.
pub(crate) enum Outcome {
    /// Nothing to complain about.
    Well,
    /// Something was found that a person should see to.
    Found,
}

pub(crate) fn run(arguments: &Arguments, output: &mut dyn Write) -> Result<Outcome> {
    let open = || Project::open(&arguments.config);
    let json = arguments.json;
    match &arguments.command {
        Command::Say(what) => say::run(&open()?, what, json, output),
        Command::Explain(what) => explain::run(&open()?, what, json, output),
        Command::Check(what) => match &what.about {
            Some(rule) => check::about(rule, json, output),
            None => check::run(open(), what, json, output),
        },
        Command::Init(what) => init::run(&arguments.config, what, json, output),
        Command::AddLocale(what) => add_locale::run(&arguments.config, &open()?, what, json, output),
        Command::Gather(what) => gather::run(&open()?, what, json, output),
        Command::Rename(what) => rename::run(&open()?, what, json, output),
        Command::Coverage(what) => coverage::run(&open()?, what, json, output),
        Command::Export(what) => export::run(&open()?, what, json, output),
        Command::Import(what) => import::run(&open()?, what, json, output),
        Command::PseudoLocale(what) => pseudo_locale::run(&open()?, what, json, output),
        Command::Types(what) => types::run(&arguments.config, &open()?, what, json, output),
        Command::Completions(what) => manual::completions(what, output),
        Command::Manual(what) => manual::pages(what, json, output),
        // A tag can be looked at anywhere; its chain only where there is an application.
        Command::Tag(what) => {
            tag::run(arguments.config.exists().then(open).transpose()?.as_ref(), what, json, output)
        }
        Command::Accept(what) => accept::run(&open()?, what, json, output),
        Command::Release(what) => release::run(open, what, json, output),
        Command::Header(what) => header::run(&open()?, what, json, output),
    }
}
