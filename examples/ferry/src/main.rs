//! The booking site of the made-up *Saltmarsh Ferries*, in five languages.
//!
//! What a team writes to get them: the configuration (`crow-fly.toml`), the texts (`catalogs/`), one call of
//! [`CrowFly::router`] (in `site`), and `t.text(…)` where a text is used (in `pages` and `templates`).

#![allow(clippy::print_stdout, reason = "a demo says where it can be seen")]

use std::io::ErrorKind;
use std::net::Ipv4Addr;
use std::path::{Path, PathBuf};

use anyhow::{Context, Result};
use clap::Parser;
use crow_fly::{Config, CrowFly};
use tokio::net::TcpListener;
use tracing_subscriber::filter::{LevelFilter, Targets};
use tracing_subscriber::prelude::*;

mod pages;
#[cfg(feature = "releases")]
mod releases;
mod site;
mod templates;
mod timetable;
mod tour;

/// The booking site of Saltmarsh Ferries, in five languages.
#[derive(Parser)]
struct Arguments {
    /// The port to listen on; if it is in use, a free one is taken and printed
    #[arg(long, default_value_t = 4080)]
    port: u16,

    /// What time it is at Saltmarsh
    #[arg(long, default_value = "09:00")]
    time: jiff::civil::Time,

    /// Write the pages that are the same for every visitor into a folder, for a web server, and end
    #[arg(long, value_name = "FOLDER")]
    write_pages: Option<PathBuf>,

    /// The folder of a store of releases: the catalogs are those of its active release
    #[cfg(feature = "releases")]
    #[arg(long, value_name = "FOLDER")]
    releases: Option<PathBuf>,

    /// The folder where fetched releases are kept, so that a restart needs no store
    #[cfg(feature = "releases")]
    #[arg(long, value_name = "FOLDER", requires = "releases")]
    cache: Option<PathBuf>,
}

#[tokio::main]
async fn main() -> Result<()> {
    let arguments = Arguments::parse();
    tracing_subscriber::registry().with(tracing_subscriber::fmt::layer()).with(wanted_events()).init();
    let crow = open(&arguments)?;
    if let Some(folder) = arguments.write_pages {
        print!("{}", crow.write_pages(site::site(&crow), site::pages_of_all(), folder).await?);
        return Ok(());
    }
    reload_on_signal(crow.clone())?;
    let listener = listen(arguments.port).await?;
    let address = format!("http://{}", listener.local_addr()?);
    println!("Saltmarsh Ferries is open:");
    for (locale, tag) in crow.policy().set().iter() {
        println!("  {tag:6} {address}{}", crow.policy().path(locale, "/"));
    }
    println!("What can be tried: {address}/tour");
    axum::serve(listener, site::site(&crow)).with_graceful_shutdown(stopped()).await?;
    Ok(())
}

/// The events that `RUST_LOG` wants; a value that cannot be read is reported, and is as none.
fn wanted_events() -> Targets {
    let usual = Targets::new().with_default(LevelFilter::INFO);
    let Some(wanted) = std::env::var_os("RUST_LOG") else { return usual };
    let wanted = wanted.to_string_lossy();
    wanted.parse().unwrap_or_else(|error| {
        println!("RUST_LOG is `{wanted}`, which cannot be read ({error}); write it as `info,crow_fly=debug`");
        usual
    })
}

/// The languages of the site. Its catalogs lie in the folder that the configuration names, or are released.
fn open(arguments: &Arguments) -> Result<CrowFly> {
    let config = Config::from_file(Path::new(env!("CARGO_MANIFEST_DIR")).join("crow-fly.toml"))?;
    let now = timetable::at(arguments.time);
    let builder = CrowFly::builder(config).clock(move || now);
    #[cfg(feature = "releases")]
    if let Some(folder) = &arguments.releases {
        // A release that lacks a message of this program, or needs a parameter that it does not give, is refused.
        let builder = builder.requiring(ferry_messages::MESSAGES.iter().copied());
        return Ok(builder.catalogs(releases::of(folder, arguments.cache.as_deref())?).build());
    }
    Ok(builder.build())
}

/// The port asked for, or a free one where another program has it.
async fn listen(port: u16) -> Result<TcpListener> {
    match TcpListener::bind((Ipv4Addr::LOCALHOST, port)).await {
        Err(error) if error.kind() == ErrorKind::AddrInUse => {
            println!("Port {port} is in use; taking a free one.");
            TcpListener::bind((Ipv4Addr::LOCALHOST, 0)).await.context("no port is free")
        }
        bound => bound.with_context(|| format!("port {port} cannot be listened on")),
    }
}

/// Takes changed catalogs when the process is told to (`kill -HUP`), as a deployment does it.
#[cfg(unix)]
fn reload_on_signal(crow: CrowFly) -> Result<()> {
    use tokio::signal::unix::{SignalKind, signal};

    let mut signals = signal(SignalKind::hangup())?;
    tokio::spawn(async move {
        while signals.recv().await.is_some() {
            match crow.reload().await {
                Ok(()) => println!("The catalogs are as they lie on disk."),
                Err(error) => println!("The catalogs stay as they were: {error}"),
            }
        }
    });
    Ok(())
}

#[cfg(not(unix))]
fn reload_on_signal(_: CrowFly) -> Result<()> {
    Ok(())
}

/// Ends when the process is told to stop, from the keyboard or by `kill`: requests that have begun are answered.
async fn stopped() {
    let interrupted = async {
        if tokio::signal::ctrl_c().await.is_err() {
            // Without the signal the site runs until it is killed.
            std::future::pending::<()>().await;
        }
    };
    tokio::select! {
        () = interrupted => {}
        () = terminated() => {}
    }
}

#[cfg(unix)]
async fn terminated() {
    use tokio::signal::unix::{SignalKind, signal};

    match signal(SignalKind::terminate()) {
        Ok(mut signals) => _ = signals.recv().await,
        Err(_) => std::future::pending().await,
    }
}

#[cfg(not(unix))]
async fn terminated() {
    std::future::pending().await
}
