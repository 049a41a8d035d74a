//! The fuzz targets without a fuzzer: the committed examples first, then changes of them, for a while. The changes come from a
//! seed that is printed, so that a failure is found again.

use std::fs;
use std::path::Path;
use std::time::{Duration, Instant};

use anyhow::{Context, Result};

#[path = "../../fuzz/targets.rs"]
#[allow(clippy::pedantic, clippy::expect_used, reason = "a failure is a panic")]
mod targets;

/// Longer ones find nothing that shorter ones do not.
const LONGEST: usize = 2_000;

pub(crate) fn run(root: &Path, seconds: u64, seed: Option<u64>) -> Result<()> {
    let seed = seed.unwrap_or_else(|| u64::from(std::process::id()));
    println!("seed {seed}");
    // Where a target panics, this is what it was given.
    let each = Duration::from_secs(seconds) / 4;
    for (name, target) in targets::TARGETS {
        let folder = root.join("fuzz/corpus").join(name);
        let mut examples = Vec::new();
        let mut paths: Vec<_> =
            fs::read_dir(&folder).with_context(|| format!("reading {}", folder.display()))?.collect();
        paths.sort_by_key(|path| path.as_ref().map(fs::DirEntry::path).ok());
        for path in paths {
            examples.push(fs::read(path?.path())?);
        }
        for example in &examples {
            target(example);
        }
        let mut random = fastrand::Rng::with_seed(seed);
        let (end, mut tried) = (Instant::now() + each, 0_u64);
        while Instant::now() < end {
            let data = changed(&mut random, &examples);
            let outcome = std::panic::catch_unwind(|| target(&data));
            if outcome.is_err() {
                let path = folder.join(format!("found-{seed}-{tried}"));
                fs::write(&path, &data)?;
                anyhow::bail!("{name} fails on {}: `{}`", path.display(), String::from_utf8_lossy(&data));
            }
            tried += 1;
        }
        println!("{name}: {} examples, {tried} changes of them", examples.len());
    }
    Ok(())
}

/// An example with a few changes: bytes flipped, taken out, doubled, and stretches of other examples put in.
fn changed(random: &mut fastrand::Rng, examples: &[Vec<u8>]) -> Vec<u8> {
    let pick = |random: &mut fastrand::Rng| examples[random.usize(..examples.len())].clone();
    let mut data = pick(random);
    for _ in 0..random.usize(1..6) {
        let at = random.usize(..=data.len());
        match random.u8(..6) {
            0 if at < data.len() => data[at] = random.u8(..),
            1 if at < data.len() => drop(data.remove(at)),
            2 => data.insert(at, random.u8(0x20..0x7f)),
            3 => {
                let end = (at + random.usize(..20)).min(data.len());
                let stretch = data[at..end].to_vec();
                data.splice(at..at, stretch);
            }
            4 => {
                let other = pick(random);
                let from = random.usize(..=other.len());
                let to = (from + random.usize(..30)).min(other.len());
                data.splice(at..at, other[from..to].iter().copied());
            }
            _ => data.truncate(data.len().max(at)),
        }
    }
    data.truncate(LONGEST);
    data
}
