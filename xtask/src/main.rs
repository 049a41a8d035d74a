//! The project's own chores. `cargo run -p xtask -- help` lists them.

#![cfg_attr(test, allow(clippy::unwrap_used, reason = "a test fails by panicking"))]
#![allow(clippy::print_stdout, reason = "a command-line tool talks on its output")]

use std::path::{Path, PathBuf};
use std::process::ExitCode;

use clap::{Parser, Subcommand};

mod bench;
mod commands;
mod compare;
mod data;
mod dependencies;
mod instructions;
mod interface;
mod load;
mod manual;
mod mutate;
mod proof;
mod scale;
mod sizes;
mod soak;

#[derive(Parser)]
#[command(name = "xtask", about = "Chores of the Crow Fly repository")]
struct Arguments {
    #[command(subcommand)]
    chore: Chore,
}

#[derive(Subcommand)]
enum Chore {
    /// Write the CLDR tables of `crow-fly-cldr` from the pinned packages.
    Data {
        /// Write nothing; fail where a committed table differs from what would be written.
        #[arg(long)]
        check: bool,
        /// Where the packages are unpacked, one folder each; fetched into it when they are not there.
        #[arg(long, value_name = "DIR")]
        packages: Option<PathBuf>,
        /// First cut the calendars out of the XML files of the release: its folder `common/main`.
        #[arg(long, value_name = "DIR")]
        cut_calendars: Option<PathBuf>,
    },
    /// Time the hot paths beside hand-written baselines and print the table of docs/performance.md.
    Bench {
        /// Only the rows whose name has this in it.
        #[arg(long, value_name = "TEXT", default_value = "")]
        only: String,
        /// Fail where a row is over its limit by more than noise.
        #[arg(long)]
        check: bool,
        /// What is run under valgrind: counts the instructions of the rows.
        #[arg(long, hide = true)]
        count: bool,
    },
    /// Format in a hundred locales beside the machine's Node, and list what differs.
    Compare {
        /// How many differences of each kind are listed.
        #[arg(long, default_value_t = 5)]
        show: usize,
        /// Write some of the answers that both give into files of test cases in this folder.
        #[arg(long, value_name = "FOLDER")]
        write: Option<PathBuf>,
    },
    /// Serve one application with the layer and without it, and compare requests per second and CPU time.
    Load,
    /// Write the public interface of the crates into docs/interface.
    Interface {
        /// Write nothing; fail where it is another than the committed one.
        #[arg(long)]
        check: bool,
    },
    /// Count the instructions of a request on the same two applications, by valgrind.
    Instructions,
    /// Build a small program for each set of data and print what it adds, the table of docs/data.md; then the demo, and the
    /// smallest program that is useful.
    Sizes,
    /// Check the licences of what the crates depend on, and list what is there twice.
    Dependencies,
    /// Write the manual pages of the command, for packages.
    Manual {
        /// The folder, which is made where it is missing.
        #[arg(value_name = "FOLDER")]
        folder: PathBuf,
    },
    /// Run the fuzz targets on the committed examples, and on changes of them.
    Mutate {
        /// How long, for all targets.
        #[arg(long, default_value_t = 60)]
        seconds: u64,
        /// The seed of the changes; another one each time unless given.
        #[arg(long)]
        seed: Option<u64>,
    },
    /// Run a proof that takes too long for every change.
    Proof {
        #[command(subcommand)]
        proof: proof::Proof,
    },
}

fn main() -> ExitCode {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).parent().map_or_else(PathBuf::new, Path::to_path_buf);
    let done = match Arguments::parse().chore {
        Chore::Data { check, packages, cut_calendars } => {
            let packages = packages.unwrap_or_else(|| root.join("target/cldr"));
            let cut = cut_calendars.map_or(Ok(()), |main| data::cut_calendars(&root, &main));
            cut.and_then(|()| data::run(&root, &packages, check))
        }
        Chore::Compare { show, write } => compare::run(show, write.as_deref()),
        Chore::Load => load::run(&root),
        Chore::Interface { check } => interface::run(&root, check),
        Chore::Instructions => instructions::run(&root),
        Chore::Sizes => sizes::run(&root),
        Chore::Proof { proof } => proof::run(&root, &proof),
        Chore::Dependencies => dependencies::run(&root),
        Chore::Manual { folder } => manual::run(&folder),
        Chore::Mutate { seconds, seed } => mutate::run(&root, seconds, seed),
        Chore::Bench { only, count: true, .. } => {
            bench::count(only);
            Ok(())
        }
        Chore::Bench { only, check, .. } => bench::run(only, check),
    };
    match done {
        Ok(()) => ExitCode::SUCCESS,
        Err(error) => {
            println!("error: {error:#}");
            ExitCode::FAILURE
        }
    }
}
