//! The `crow-fly` command. Exit status: 0 all is well, 1 something was found, 2 the command could not be carried
//! out.

use std::io::{self, Write as _};
use std::process::ExitCode;

use clap::Parser;

mod accepted;
mod arguments;
#[cfg(feature = "buckets")]
mod bucket;
mod catalog_file;
mod code;
mod commands;
mod edits;
mod exchange;
mod located;
mod progress;
mod project;
mod render;

use arguments::Arguments;
use commands::Outcome;

#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

fn main() -> ExitCode {
    let arguments = Arguments::parse();
    // Colours on a terminal, and where the environment asks for them: `NO_COLOR`, `CLICOLOR_FORCE`.
    let mut output = anstream::stdout().lock();
    match commands::run(&arguments, &mut output).and_then(|outcome| {
        output.flush()?;
        Ok(outcome)
    }) {
        Ok(Outcome::Well) => ExitCode::SUCCESS,
        Ok(Outcome::Found) => ExitCode::from(1),
        // Whoever reads the output has seen enough.
        Err(error) if is_closed_pipe(&error) => ExitCode::SUCCESS,
        Err(error) => {
            let _ = writeln!(anstream::stderr(), "error: {error:#}");
            ExitCode::from(2)
        }
    }
}

fn is_closed_pipe(error: &anyhow::Error) -> bool {
    error.downcast_ref::<io::Error>().is_some_and(|error| error.kind() == io::ErrorKind::BrokenPipe)
}
