//! The instructions of a request, with the layer and without it, counted by valgrind: a figure that does not depend on
//! what else the machine does.
//!
//! A server runs under valgrind, and this process asks it over loopback. What starting and stopping cost is taken
//! out: each server runs twice, with a few requests and with many.

use std::io::{BufRead, BufReader, Read};
use std::process::{Command, Stdio};

use anyhow::{Context, Result};
use axum::Extension;
use tokio::net::TcpStream;
use tokio::runtime::Builder;
use tower_layer::Layer as _;

use crate::load;

/// How the application is served.
#[derive(Clone, Copy, Debug, clap::ValueEnum)]
pub(crate) enum How {
    Without,
    Layer,
    Router,
}

/// The requests of the two runs; the second one has this many more.
const FEW: u64 = 200;
const MORE: u64 = 2_000;
/// Connections that are kept open and asked in turns.
const CONNECTIONS: usize = 16;

pub(crate) fn run() -> Result<()> {
    println!("| served | instructions a request | beside those without the layer |\n|---|--:|--:|");
    let without = count(How::Without)?;
    println!("| without the layer | {without} | |");
    for (name, how) in [("with the layer", How::Layer), ("with the layer in a router", How::Router)] {
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

fn count(how: How) -> Result<u64> {
    Ok((counted(how, FEW + MORE)? - counted(how, FEW)?) / MORE)
}

/// All instructions of a server that answers so many requests.
fn counted(how: How, requests: u64) -> Result<u64> {
    let program = std::env::current_exe()?;
    let name = format!("{how:?}").to_lowercase();
    let mut child = Command::new("valgrind")
        .args(["--tool=cachegrind", "--cache-sim=no", "--cachegrind-out-file=/dev/null"])
        .arg(program)
        .args(["serve", &name])
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .context("install Debian's package `valgrind`")?;
    let mut port = String::new();
    BufReader::new(child.stdout.take().context("an output")?).read_line(&mut port)?;
    let port = port.trim().parse().with_context(|| format!("`{port}` is not a port"))?;
    Builder::new_current_thread().enable_all().build()?.block_on(ask(port, requests))?;
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

async fn ask(port: u16, requests: u64) -> Result<()> {
    let mut connections = Vec::new();
    for _ in 0..CONNECTIONS {
        connections.push(TcpStream::connect(("127.0.0.1", port)).await?);
    }
    let request = load::request(load::PAGE);
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

/// Serves until the input ends.
pub(crate) fn serve(how: How) -> Result<()> {
    let runtime = Builder::new_multi_thread().worker_threads(1).enable_all().build()?;
    let crow = load::crow()?;
    let port = runtime.block_on(async {
        match how {
            How::Without => {
                let translator = load::translator_of_a_request(&crow).await?;
                load::serve(load::pages().layer(Extension(translator))).await
            }
            How::Layer => load::serve(crow.layer().layer(load::pages())).await,
            How::Router => load::serve(crow.router(load::pages())).await,
        }
    })?;
    println!("{port}");
    std::io::stdin().read_to_end(&mut Vec::new())?;
    Ok(())
}
