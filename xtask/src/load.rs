//! The layer under load: one application served with the layer, and without it, always with the translator of one
//! request; and the demo, whose page the layer is held against.
//!
//! One client asks all of them in turns, so that what else the machine does falls on all alike. The time that threads
//! have been running is read from Linux's `/proc`.

use std::io::{BufRead, BufReader};
use std::path::{Path, PathBuf};
use std::process::{Child, ChildStdout, Command, Stdio};
use std::time::{Duration, Instant};

use anyhow::{Context, Result};
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::net::TcpStream;
use tokio::runtime::{Builder, Runtime};

/// Connections that are kept open, each with one request at a time.
const CONNECTIONS: usize = 64;
/// How often the applications are started anew: where a process has its memory makes a difference of a microsecond.
const STARTS: usize = 9;
/// Turns after each start, of which the medians are compared.
const ROUNDS: usize = 18;
const ROUND: Duration = Duration::from_millis(150);

/// A request as a browser sends it, its cookies and all, for a page.
pub(super) fn request(page: &str) -> Vec<u8> {
    format!(
        "GET {page} HTTP/1.1\r\nHost: ferries.example\r\nUser-Agent: Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36\r\n\
         Accept: text/html,application/xhtml+xml\r\nAccept-Language: cy,en-GB;q=0.8,en;q=0.5\r\n\
         Accept-Encoding: gzip, deflate, br\r\n\
         Cookie: session=0123456789abcdef; theme=dark; locale=cy; consent=all\r\n\r\n"
    )
    .into_bytes()
}

/// A server that is asked for a page.
struct Site {
    /// They stay open, so that no round pays for those of another one.
    connections: Vec<TcpStream>,
    request: Vec<u8>,
    /// Where the system keeps what it knows of its threads.
    threads: PathBuf,
}

impl Site {
    async fn new(port: u16, page: &str, process: &Running) -> Result<Self> {
        let mut connections = Vec::new();
        for _ in 0..CONNECTIONS {
            connections.push(TcpStream::connect(("127.0.0.1", port)).await?);
        }
        let threads = Path::new("/proc").join(process.0.id().to_string()).join("task");
        anyhow::ensure!(threads.is_dir(), "the times of threads are read from /proc: run this on Linux");
        Ok(Self { connections, request: request(page), threads })
    }
}

pub(crate) fn run(root: &Path) -> Result<()> {
    let client = Builder::new_current_thread().enable_all().build()?;
    let (running, demo) = client.block_on(demo(root))?;
    let [demo] = rounds(&client, [demo])?;
    drop(running);
    println!(
        "the demo's home page: {:.0} requests/s, {:.1} µs of CPU each",
        of(&demo, Round::speed),
        of(&demo, Round::cpu)
    );
    let program = site(root)?;
    let start = |how| client.block_on(served(&program, how));
    let (mut without, mut layer, mut router) = (Vec::new(), Vec::new(), Vec::new());
    for _ in 0..STARTS {
        // The processes end where these go out of scope.
        let [(_first, first), (_second, second), (_third, third)] =
            [start("without")?, start("layer")?, start("router")?];
        let [of_first, of_second, of_third] = rounds(&client, [first, second, third])?;
        without.extend(of_first);
        layer.extend(of_second);
        router.extend(of_third);
    }
    println!(
        "without the layer: {:.0} requests/s, {:.1} µs of CPU each",
        of(&without, Round::speed),
        of(&without, Round::cpu)
    );
    for (name, with) in [("the layer", layer), ("the layer in a router", router)] {
        // Neighbours are compared: the machine's pace changes from minute to minute.
        let beside = |figure: fn(&Round) -> f64| {
            median(with.iter().zip(&without).map(|(with, without)| figure(with) / figure(without)).collect())
        };
        let added = median(with.iter().zip(&without).map(|(with, without)| with.cpu - without.cpu).collect());
        println!(
            "with {name}: {:.3} of the requests/s, {:.3} of the CPU, {added:.1} µs more: {:.1} % of the demo's page",
            beside(Round::speed),
            beside(Round::cpu),
            added * 100.0 / of(&demo, Round::cpu),
        );
    }
    Ok(())
}

/// Builds a program for release, and finds it.
fn built(root: &Path, package: &str, name: &str) -> Result<PathBuf> {
    let built = Command::new("cargo")
        .args(["build", "--release", "--quiet", "-p", package, "--bin", name])
        .current_dir(root)
        .status()?;
    anyhow::ensure!(built.success(), "`{name}` was not built");
    Ok(root.join("target/release").join(name))
}

/// The program that serves one application with the layer and without it.
pub(super) fn site(root: &Path) -> Result<PathBuf> {
    built(root, "xtask", "site")
}

/// Reads the port and the page that the program tells.
pub(super) fn told(output: ChildStdout) -> Result<(u16, String)> {
    let mut line = String::new();
    BufReader::new(output).read_line(&mut line)?;
    let (port, page) = line.trim().split_once(' ').with_context(|| format!("no port in `{line}`"))?;
    Ok((port.parse()?, page.to_owned()))
}

/// Starts the application, served with the layer or without it.
async fn served(program: &Path, how: &str) -> Result<(Running, Site)> {
    let process = Command::new(program).arg(how).stdin(Stdio::piped()).stdout(Stdio::piped()).spawn()?;
    let mut running = Running(process);
    let (port, page) = told(running.0.stdout.take().context("an output")?)?;
    let site = Site::new(port, &page, &running).await?;
    Ok((running, site))
}

/// Asks all sites in turns. Each begins as often as the others; every second turn goes backwards, so that each comes
/// after each other one.
fn rounds<const COUNT: usize>(client: &Runtime, mut sites: [Site; COUNT]) -> Result<[Vec<Round>; COUNT]> {
    let mut rounds = [const { Vec::new() }; COUNT];
    for turn in 0..ROUNDS {
        for step in 0..COUNT {
            let place = (turn / 2 + if turn % 2 == 0 { step } else { COUNT - step }) % COUNT;
            if let (Some(site), Some(rounds)) = (sites.get_mut(place), rounds.get_mut(place)) {
                rounds.push(client.block_on(round(site))?);
            }
        }
    }
    Ok(rounds)
}

/// What the requests of a round have shown.
struct Round {
    per_second: f64,
    /// For how many microseconds the server's threads were running, for each request.
    cpu: f64,
}

impl Round {
    fn speed(&self) -> f64 {
        self.per_second
    }

    fn cpu(&self) -> f64 {
        self.cpu
    }
}

/// The median of a figure.
fn of(rounds: &[Round], figure: fn(&Round) -> f64) -> f64 {
    median(rounds.iter().map(figure).collect())
}

/// A process that ends with this.
struct Running(Child);

impl Drop for Running {
    fn drop(&mut self) {
        // One that has ended by itself is over, too.
        let _ = self.0.kill();
        let _ = self.0.wait();
    }
}

/// Starts the demo, as it is built for release, on a free port.
async fn demo(root: &Path) -> Result<(Running, Site)> {
    let process = Command::new(built(root, "ferry", "ferry")?)
        .args(["--port", "0"])
        .envs([("RUST_LOG", "warn"), ("TOKIO_WORKER_THREADS", "1")])
        .stdout(Stdio::piped())
        .spawn()?;
    let mut running = Running(process);
    let output = BufReader::new(running.0.stdout.take().context("an output")?);
    // The last line that it prints: before that it needs somebody who reads.
    let line = output.lines().map_while(Result::ok).find(|line| line.ends_with("/tour"));
    let address = line.context("the demo did not start")?;
    let port =
        address.rsplit(':').next().and_then(|end| end.split('/').next()).and_then(|port| port.parse().ok());
    let port = port.with_context(|| format!("no port in `{address}`"))?;
    let site = Site::new(port, "/cy", &running).await?;
    Ok((running, site))
}

/// Asks on all connections for the time of a round.
#[allow(clippy::cast_precision_loss, reason = "figures for people")]
async fn round(site: &mut Site) -> Result<Round> {
    let cpu = micros(&site.threads);
    let start = Instant::now();
    let visits = site
        .connections
        .drain(..)
        .map(|connection| tokio::spawn(visit(connection, site.request.clone(), start + ROUND)));
    let mut answers = 0;
    for visit in visits.collect::<Vec<_>>() {
        let (connection, of_visit) = visit.await??;
        site.connections.push(connection);
        answers += of_visit;
    }
    let (answers, seconds) = (answers as f64, start.elapsed().as_secs_f64());
    Ok(Round { per_second: answers / seconds, cpu: (micros(&site.threads) - cpu) / answers })
}

/// For how many microseconds all threads in a folder have been running.
fn micros(threads: &Path) -> f64 {
    let of_thread = |thread: &Path| {
        let line = std::fs::read_to_string(thread.join("schedstat")).ok()?;
        line.split(' ').next()?.parse::<f64>().ok()
    };
    let threads = std::fs::read_dir(threads).into_iter().flatten().flatten();
    threads.filter_map(|thread| of_thread(&thread.path())).sum::<f64>() / 1000.0
}

/// Asks on a connection, reads the whole answer, asks again.
async fn visit(mut connection: TcpStream, request: Vec<u8>, end: Instant) -> Result<(TcpStream, u64)> {
    let mut buffer = vec![0; 1 << 16];
    let mut answers = 0;
    while Instant::now() < end {
        ask(&mut connection, &request, &mut buffer).await?;
        answers += 1;
    }
    Ok((connection, answers))
}

/// One request, and its whole answer.
pub(super) async fn ask(connection: &mut TcpStream, request: &[u8], buffer: &mut [u8]) -> Result<()> {
    connection.write_all(request).await?;
    let mut read = 0;
    loop {
        read += connection.read(buffer.get_mut(read..).context("the answer is too long")?).await?;
        if is_whole(buffer.get(..read).unwrap_or_default())? {
            return Ok(());
        }
    }
}

/// Whether all of an answer is there; one that is not a page is an error.
fn is_whole(answer: &[u8]) -> Result<bool> {
    let Some(end) = answer.windows(4).position(|bytes| bytes == b"\r\n\r\n") else { return Ok(false) };
    let head = std::str::from_utf8(answer.get(..end).unwrap_or_default())?;
    anyhow::ensure!(head.starts_with("HTTP/1.1 200"), "an answer that is not a page: {head}");
    let length = head.lines().find_map(|line| line.strip_prefix("content-length: "));
    let length: usize = length.context("an answer without length")?.parse()?;
    Ok(answer.len() >= end + 4 + length)
}

fn median(mut figures: Vec<f64>) -> f64 {
    figures.sort_by(f64::total_cmp);
    figures.get(figures.len() / 2).copied().unwrap_or_default()
}
