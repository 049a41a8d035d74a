//! The instructions of a request, with the layer and without it, counted by valgrind: a figure that does not depend on
//! what else the machine does.
//!
//! A server runs under valgrind, and this process asks it over loopback. What starting and stopping cost is taken
//! out: each server runs twice, with a few requests and with many.

use std::io::Read;
use std::path::Path;
use std::process::{Command, Stdio};

use anyhow::{Context, Result};
use tokio::net::TcpStream;
use tokio::runtime::Builder;

use crate::load;

/// The requests of the two runs; the second one has this many more.
const FEW: u64 = 200;
const MORE: u64 = 2_000;
/// Connections that are kept open and asked in turns.
const CONNECTIONS: usize = 16;

pub(crate) fn run(root: &Path) -> Result<()> {
    let program = load::site(root)?;
    let count = |how| count(&program, how);
    println!("| served | instructions a request | beside those without the layer |\n|---|--:|--:|");
    let without = count("without")?;
    println!("| without the layer | {without} | |");
    for (name, how) in [("with the layer", "layer"), ("with the layer in a router", "router")] {
        let with = count(how)?;
        let added = with.saturating_sub(without);
        println!("| {name} | {with} | +{added} ({:.1} %) |", percent(added, without));
    }
    Ok(())
}

#[allow(clippy::cast_precision_loss, reason = "a figure for people")]
fn percent(part: u64, whole: u64) -> f64 {
    part as f64 * 100.0 / whole as f64
}

fn count(program: &Path, how: &str) -> Result<u64> {
    Ok((counted(program, how, FEW + MORE)? - counted(program, how, FEW)?) / MORE)
}

/// All instructions of a server that answers so many requests.
fn counted(program: &Path, how: &str, requests: u64) -> Result<u64> {
    let mut child = Command::new("valgrind")
        .args(["--tool=cachegrind", "--cache-sim=no", "--cachegrind-out-file=/dev/null"])
        .arg(program)
        .arg(how)
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .context("install Debian's package `valgrind`")?;
    let (port, page) = load::told(child.stdout.take().context("an output")?)?;
    Builder::new_current_thread().enable_all().build()?.block_on(ask(port, &page, requests))?;
    // Without input the server stops.
    drop(child.stdin.take());
    let mut report = String::new();
    child.stderr.take().context("a report")?.read_to_string(&mut report)?;
    child.wait()?;
    let figure = report.lines().find_map(|line| line.split_once("refs:").map(|(_, figure)| figure.trim()));
    figure
        .and_then(|figure| figure.replace(',', "").parse().ok())
        .with_context(|| format!("no figure in {report}"))
}

async fn ask(port: u16, page: &str, requests: u64) -> Result<()> {
    let mut connections = Vec::new();
    for _ in 0..CONNECTIONS {
        connections.push(TcpStream::connect(("127.0.0.1", port)).await?);
    }
    let request = load::request(page);
    let mut buffer = vec![0; 1 << 16];
    let mut turns = 0;
    while turns < requests {
        for connection in &mut connections {
            load::ask(connection, &request, &mut buffer).await?;
            turns += 1;
        }
    }
    Ok(())
}
