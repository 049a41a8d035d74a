//! Large sites: how start, first page, memory, reload and check grow with what there is and with what is used.
//!
//! Each site is measured in a process of its own, so that its memory is its own.

use std::collections::BTreeMap;
use std::fmt::Write as _;
use std::path::Path;
use std::process::Command;
use std::time::{Duration, Instant};

use anyhow::{Context, Result, ensure};
use crow_fly::source::Directory;
use crow_fly::{Config, CrowFly};
use crow_fly_core::catalog::SectionSource;
use crow_fly_core::chain::Chains;
use crow_fly_core::check::{Project, check};
use crow_fly_core::locale_set::LocaleSet;
use crow_fly_core::names;

/// Locales, sections of each, and messages of a section.
const SITES: [(usize, usize, usize); 4] = [(10, 40, 200), (100, 40, 20), (1_000, 40, 20), (200, 40, 200)];

pub(crate) fn run() -> Result<()> {
    println!(
        "| locales × messages | start | first page | memory then | ten locales used | all sections of them | reload | check |"
    );
    println!("|---|--:|--:|--:|--:|--:|--:|--:|");
    for (locales, sections, messages) in SITES {
        let output = Command::new(std::env::current_exe()?)
            .args(["proof", "scale", "--site"])
            .args([locales, sections, messages].map(|count| count.to_string()))
            .output()?;
        ensure!(output.status.success(), "{}", String::from_utf8_lossy(&output.stderr));
        print!("{}", String::from_utf8(output.stdout)?);
    }
    Ok(())
}

/// Measures one site, and prints a row.
pub(crate) fn site(locales: usize, sections: usize, messages: usize) -> Result<()> {
    let folder = std::env::temp_dir().join(format!("scale-{}", std::process::id()));
    let row = measure(&folder, locales, sections, messages);
    let _ = std::fs::remove_dir_all(&folder);
    println!("| {locales} × {} | {} |", sections * messages, row?.join(" | "));
    Ok(())
}

fn measure(folder: &Path, locales: usize, sections: usize, messages: usize) -> Result<Vec<String>> {
    let mut tags = vec!["en".to_owned()];
    tags.extend(names::locales().filter(|tag| !matches!(*tag, "und" | "en")).map(str::to_owned));
    tags.extend((0..locales).map(|at| format!("qaa-x-a{at}")));
    tags.truncate(locales);
    for tag in &tags {
        std::fs::create_dir_all(folder.join(tag))?;
        for section in 0..sections {
            std::fs::write(folder.join(tag).join(format!("part-{section}.toml")), texts(tag, messages))?;
        }
    }
    let runtime = tokio::runtime::Builder::new_current_thread().enable_all().build()?;
    let config = Config::parse(&format!("development = false\ndefault = 'en'\nlocales = {tags:?}"))?;
    let before = memory()?;
    let mut row = Vec::new();

    let start = Instant::now();
    let crow = CrowFly::new(config, Directory::new(folder));
    row.push(milliseconds(start.elapsed()));
    let page = |tag: &str, section: usize| {
        runtime.block_on(async {
            let t = crow.translator_for(tag).await;
            t.load([format!("part-{section}").as_str()]).await.context("it is there")?;
            let text = t.text(&*format!("part-{section}.message-7"));
            ensure!(text.contains(tag), "{text}");
            Ok(())
        })
    };
    let start = Instant::now();
    page("en", 0)?;
    row.push(milliseconds(start.elapsed()));
    row.push(megabytes(memory()?, before));
    for tag in tags.iter().take(10) {
        page(tag, 0)?;
    }
    row.push(megabytes(memory()?, before));
    for tag in tags.iter().take(10) {
        (0..sections).try_for_each(|section| page(tag, section))?;
    }
    row.push(megabytes(memory()?, before));
    std::fs::write(folder.join("en").join("part-0.toml"), texts("en", messages + 1))?;
    let start = Instant::now();
    runtime.block_on(crow.reload())?;
    row.push(milliseconds(start.elapsed()));
    drop(crow);

    let set = LocaleSet::parse(tags.iter().map(String::as_str))?;
    let chains = Chains::new(&set, [], [])?;
    let start = Instant::now();
    let project: Project = set
        .iter()
        .map(|(id, tag)| {
            let files = (0..sections).map(|section| {
                let path = folder.join(tag.to_string()).join(format!("part-{section}.toml"));
                Ok((format!("part-{section}"), SectionSource::from_toml(&std::fs::read_to_string(path)?)))
            });
            Ok((id, files.collect::<Result<BTreeMap<_, _>>>()?))
        })
        .collect::<Result<_>>()?;
    drop(check(&set, &chains, &project));
    row.push(milliseconds(start.elapsed()));
    Ok(row)
}

fn texts(tag: &str, messages: usize) -> String {
    (0..messages).fold(String::new(), |mut text, at| {
        // Writing to a `String` does not fail.
        let _ = writeln!(text, "message-{at} = 'The ferry number {at} leaves in the morning ({tag})'");
        text
    })
}

/// The memory of this process, in bytes.
pub(crate) fn memory() -> Result<u64> {
    let status = std::fs::read_to_string("/proc/self/status").context("only Linux tells")?;
    let line = status.lines().find_map(|line| line.strip_prefix("VmRSS:")).context("no figure")?;
    let kilobytes = line.trim().trim_end_matches(" kB").parse::<u64>()?;
    Ok(kilobytes * 1024)
}

#[allow(clippy::cast_precision_loss, reason = "a figure for people")]
fn megabytes(now: u64, before: u64) -> String {
    format!("{:.1} MB", now.saturating_sub(before) as f64 / 1e6)
}

fn milliseconds(time: Duration) -> String {
    format!("{:.1} ms", time.as_secs_f64() * 1e3)
}
