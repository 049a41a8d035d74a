//! The `crow-fly` command. Exit status: 0 all is well, 1 something was found, 2 the command could not be carried
//! out.

use std::borrow::Cow;
use std::ffi::OsString;
use std::io::{self, Write as _};
use std::path::Path;
use std::process::ExitCode;

use clap::FromArgMatches as _;
use clap::error::ErrorKind;

mod accepted;
mod arguments;
#[cfg(feature = "buckets")]
mod bucket;
mod catalog_file;
mod code;
mod commands;
mod edits;
mod exchange;
mod failure;
mod located;
mod output;
#[cfg(test)]
#[allow(clippy::unwrap_used, reason = "a test fails by panicking")]
mod page;
mod place;
mod progress;
mod project;
mod reading;
mod render;
mod text_file;
#[cfg(test)]
mod trial;
mod writing;

use arguments::Arguments;
use commands::{Call, Outcome};
use failure::Failure;
use output::Output;
use writing::RealDisk;

#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

fn main() -> ExitCode {
    let typed: Vec<OsString> = std::env::args_os().collect();
    let is_json = failure::wants_json(&typed);
    let matches = Arguments::grouped().try_get_matches_from(&typed);
    let arguments = match matches.and_then(|matches| Arguments::from_arg_matches(&matches)) {
        Ok(arguments) => arguments,
        Err(error) => return not_understood(&error, is_json),
    };
    // Colours on a terminal, and where the environment asks for them: `NO_COLOR`, `CLICOLOR_FORCE`.
    let mut stdout = anstream::stdout().lock();
    let mut output = Output::new(&mut stdout);
    let call = Call { arguments: &arguments, typed: as_typed(&typed), is_json, disk: &RealDisk };
    match commands::run(&call, &mut output).and_then(|outcome| {
        output.flush()?;
        Ok(outcome)
    }) {
        Ok(Outcome::Well) => ExitCode::SUCCESS,
        Ok(Outcome::Found) => ExitCode::from(1),
        // Whoever reads the output has seen enough.
        Err(error) if is_closed_pipe(&error) => ExitCode::SUCCESS,
        Err(error) => failed(&Failure::of(&error), is_json),
    }
}

/// What was typed after the program's name, as one line.
fn as_typed(typed: &[OsString]) -> String {
    let words: Vec<Cow<'_, str>> = typed.iter().skip(1).map(|word| word.to_string_lossy()).collect();
    shlex::try_join(words.iter().map(|word| &**word)).unwrap_or_default()
}

/// Help that was asked for, or a mistake in what was typed.
fn not_understood(error: &clap::Error, is_json: bool) -> ExitCode {
    match error.kind() {
        ErrorKind::DisplayHelp | ErrorKind::DisplayVersion => {
            let _ = error.print();
            ExitCode::SUCCESS
        }
        ErrorKind::DisplayHelpOnMissingArgumentOrSubcommand => {
            let _ = error.print();
            if !Path::new(project::CONFIG).exists() {
                let _ = writeln!(
                    anstream::stderr(),
                    "\nThis folder has no `{}`. To start here: crow-fly init",
                    project::CONFIG
                );
            }
            ExitCode::from(2)
        }
        _ if is_json => failed(&Failure::typed(error), true),
        _ => {
            // What was typed is a part of it: a name of a file, mostly.
            let plain = error.render().to_string();
            let _ =
                if plain.contains(output::acts) { render::beside(plain.trim_end()) } else { error.print() };
            ExitCode::from(2)
        }
    }
}

fn failed(failure: &Failure, is_json: bool) -> ExitCode {
    let _ = if is_json {
        render::json(&mut Output::new(&mut io::stdout()), &failure).map_err(io::Error::other)
    } else {
        render::beside(format_args!("error: {failure}"))
    };
    ExitCode::from(2)
}

fn is_closed_pipe(error: &anyhow::Error) -> bool {
    error.downcast_ref::<io::Error>().is_some_and(|error| error.kind() == io::ErrorKind::BrokenPipe)
}
