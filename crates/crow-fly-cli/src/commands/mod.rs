//! What each command does: functions from arguments to output.

use std::io::Write;

use anyhow::Result;
use serde_json::json;

use crate::arguments::{Arguments, Command};
use crate::output::Output;
use crate::project::Project;
use crate::writing::{Disk, Writing};
use crate::{render, writing};

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

/// A command that is carried out.
pub(crate) struct Call<'c> {
    pub(crate) arguments: &'c Arguments,
    /// What was typed after the program's name.
    pub(crate) typed: String,
    /// Whether it asks for JSON.
    pub(crate) is_json: bool,
    pub(crate) disk: &'c dyn Disk,
}

pub(crate) fn run(call: &Call<'_>, output: &mut Output<'_>) -> Result<Outcome> {
    if let Command::Release(what) = &call.arguments.command {
        let config = &call.arguments.config;
        let reading = config.exists().then(|| writing::look(config)).transpose()?;
        return release::run(|| Project::open(config), reading, what, output);
    }
    // A reader may take its time over what is printed: by then the project is free for others.
    let mut text = Vec::new();
    let outcome = carry_out(call, &mut Output::new(&mut text));
    output.styled(&String::from_utf8_lossy(&text))?;
    outcome
}

/// Carries out a command that has the project's files for itself, or reads them while nobody is between two of them.
fn carry_out(call: &Call<'_>, output: &mut Output<'_>) -> Result<Outcome> {
    let Call { arguments, typed, is_json, disk } = call;
    let (config, disk) = (&arguments.config, *disk);
    let writes = match &arguments.command {
        Command::Init(_) => true,
        // Without a project there is nothing to write in.
        command => command.writes() && config.exists(),
    };
    let writing = if writes { Some(Writing::begin(disk, config, typed)?) } else { None };
    if writing.as_ref().is_some_and(Writing::has_finished_this) {
        return finished(*is_json, output);
    }
    let writing = writing.as_ref();
    // No command that writes is between two files while this one reads.
    let _reading = if writing.is_none() && config.exists() { Some(writing::look(config)?) } else { None };
    let open = || Project::open(config);
    match &arguments.command {
        Command::Say(what) => say::run(&open()?, what, output),
        Command::Explain(what) => explain::run(&open()?, what, output),
        // A tag can be looked at anywhere; its chain only where there is an application.
        Command::Tag(what) => tag::run(config.exists().then(open).transpose()?.as_ref(), what, output),
        Command::Init(what) => match writing {
            Some(writing) => init::run(config, what, writing, output),
            None => Ok(Outcome::Well),
        },
        Command::AddLocale(what) => add_locale::run(config, &open()?, what, writing, output),
        Command::Gather(what) => gather::run(&open()?, what, writing, output),
        Command::Rename(what) => rename::run(&open()?, what, writing, output),
        Command::Check(what) => match &what.about {
            Some(rule) => check::about(rule, what, output),
            None => check::run(open(), what, (writing, disk), output),
        },
        Command::Coverage(what) => coverage::run(&open()?, what, output),
        Command::Accept(what) => accept::run(&open()?, what, writing, output),
        Command::Export(what) => export::run(&open()?, what, disk, output),
        Command::Import(what) => import::run(&open()?, what, writing, output),
        // It talks to a network, and locks nothing meanwhile.
        Command::Release(_) => Ok(Outcome::Well),
        Command::Completions(what) => completions::run(what, output),
    }
}

/// A command that had been stopped between two files, and was finished before it began again.
fn finished(is_json: bool, output: &mut Output<'_>) -> Result<Outcome> {
    if is_json {
        render::json(output, &json!({ "finished": true }))?;
    } else {
        writeln!(output, "what was stopped is finished: all files are written")?;
    }
    Ok(Outcome::Well)
}
