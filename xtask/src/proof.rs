//! Proofs that take longer than every change can wait: `.ci/run` has a short form of each, and docs/performance.md the figures of
//! the long one.

use std::path::Path;
use std::process::Command;
use std::time::Instant;

use anyhow::{Context, Result, ensure};
use clap::Subcommand;

use crate::{commands, mutate, scale, soak};

#[derive(Subcommand)]
pub(crate) enum Proof {
    /// Serve pages, switches, reloads, misses and hostile requests, and fail where the memory grows.
    Soak {
        /// How long.
        #[arg(long, default_value_t = 10)]
        minutes: u64,
    },
    /// Measure sites of up to 1,000 locales and of 1.6 million messages: start, first page, memory, reload, check.
    Scale {
        /// What runs for each site: measures one of so many locales, sections, and messages in each.
        #[arg(long, hide = true, num_args = 3)]
        site: Vec<usize>,
    },
    /// Run the laws of the core with many cases, optimized.
    Laws {
        /// How many cases each law has.
        #[arg(long, default_value_t = 10_000)]
        cases: u32,
    },
    /// Run the fuzz targets on changes of their examples for an hour.
    Changes {
        /// How long, for all targets.
        #[arg(long, default_value_t = 3600)]
        seconds: u64,
    },
    /// Send 100,000 edits of texts out and back by both formats, then kill commands that write for an hour.
    Writing {
        /// How many projects are edited; each has about six edits.
        #[arg(long, default_value_t = 17_000)]
        cases: u32,
        /// How long commands are killed.
        #[arg(long, default_value_t = 3600)]
        seconds: u64,
    },
    /// Run the model of releases with many sequences, optimized.
    Releases {
        /// How many sequences.
        #[arg(long, default_value_t = 100_000)]
        cases: u32,
    },
    /// Serve a site with a budget below one chain, hostile messages, files that change and hooks that hang, all at once: no answer is
    /// later than the limits allow, and memory stays as it is.
    Bounds {
        /// How long.
        #[arg(long, default_value_t = 600)]
        seconds: u64,
    },
    /// Plant faults in three right projects, one at a time, at random places: `check` finds each.
    Faults {
        /// How many.
        #[arg(long, default_value_t = 3_000)]
        count: usize,
    },
    /// Check `crow-fly` with each of its features alone.
    Features,
    /// Time each command on the demo and on a large project, and write the table of docs/command.md.
    Commands,
}

pub(crate) fn run(root: &Path, proof: &Proof) -> Result<()> {
    // A child measures one site, and says nothing else.
    if let Proof::Scale { site } = proof
        && let [locales, sections, messages] = **site
    {
        return scale::site(locales, sections, messages);
    }
    let start = Instant::now();
    match proof {
        Proof::Soak { minutes } => soak::run(*minutes)?,
        Proof::Scale { .. } => scale::run()?,
        Proof::Laws { cases } => laws(root, *cases)?,
        Proof::Changes { seconds } => mutate::run(root, *seconds, None)?,
        Proof::Writing { cases, seconds } => writing(root, *cases, *seconds)?,
        Proof::Releases { cases } => {
            let model = ["-p", "crow-fly-tests", "--all-features", "--test", "suite", "releases::model"];
            let cases = [("PROPTEST_CASES", cases.to_string())];
            cargo(root, &[&["test", "--release"][..], &model].concat(), &cases)?;
        }
        Proof::Bounds { seconds } => {
            let test = ["test", "--release", "-p", "crow-fly-tests", "--all-features", "--test", "suite"];
            let only = ["no_answer_is_later", "--", "--nocapture"];
            cargo(root, &[&test[..], &only].concat(), &[("BOUNDS_SECONDS", seconds.to_string())])?;
        }
        Proof::Faults { count } => {
            let test = ["test", "--release", "-p", "crow-fly-cli", "--test", "command", "planted_fault"];
            cargo(root, &test, &[("FAULTS", count.to_string())])?;
        }
        Proof::Features => features(root)?,
        Proof::Commands => commands::run(root)?,
    }
    println!("it holds ({} s)", start.elapsed().as_secs());
    Ok(())
}

fn cargo(root: &Path, arguments: &[&str], variables: &[(&str, String)]) -> Result<()> {
    let mut cargo = Command::new("cargo");
    cargo.args(arguments).current_dir(root).envs(variables.iter().map(|(name, value)| (name, value)));
    let status = cargo.status().context("starting cargo")?;
    ensure!(status.success(), "`cargo {}` failed", arguments.join(" "));
    Ok(())
}

fn laws(root: &Path, cases: u32) -> Result<()> {
    cargo(
        root,
        &["test", "--release", "-p", "crow-fly-core", "--all-features", "--test", "core"],
        &[("PROPTEST_CASES", cases.to_string())],
    )
}

fn writing(root: &Path, cases: u32, seconds: u64) -> Result<()> {
    let test = ["test", "--release", "-p", "crow-fly-cli"];
    let edits = ["--bin", "crow-fly", "out_and_back", "--", "--nocapture"];
    cargo(root, &[&test[..], &edits].concat(), &[("PROPTEST_CASES", cases.to_string())])?;
    let kills = ["--test", "command", "killed", "--", "--nocapture"];
    cargo(root, &[&test[..], &kills].concat(), &[("KILL_SECONDS", seconds.to_string())])
}

/// The features of `crow-fly`, as its manifest has them; `default` and `manifest` are parts of others.
fn features(root: &Path) -> Result<()> {
    let manifest = std::fs::read_to_string(root.join("crates/crow-fly/Cargo.toml"))?;
    let manifest: toml::Table = manifest.parse()?;
    let features =
        manifest.get("features").and_then(toml::Value::as_table).context("there are no features")?;
    let check = ["check", "--quiet", "-p", "crow-fly", "--no-default-features"];
    cargo(root, &check, &[])?;
    for feature in features.keys().filter(|name| !matches!(name.as_str(), "default" | "manifest")) {
        cargo(root, &[&check[..], &["--features", feature]].concat(), &[])?;
        println!("{feature}");
    }
    cargo(root, &["check", "--quiet", "-p", "crow-fly-cli"], &[])
}
