//! The instructions of a call, counted by valgrind: a figure that is the same whatever else the machine does.
//!
//! The program runs itself under valgrind. There each row calls its two functions through [`counted`] in place of timing
//! them, and valgrind writes a file each time it leaves it.

use std::collections::BTreeMap;
use std::path::Path;
use std::process::{Command, Stdio};
use std::time::{Duration, Instant};

use anyhow::{Context, Result, bail, ensure};

/// The instructions of one call, on our side and on the other.
pub(super) type Counts = BTreeMap<String, (f64, f64)>;

/// Counts the rows whose name has a text in it. Without valgrind there are none.
pub(super) fn run(only: &str) -> Result<Counts> {
    if Command::new("valgrind").arg("--version").stdout(Stdio::null()).status().is_err() {
        return Ok(Counts::new());
    }
    let folder = std::env::temp_dir().join(format!("instructions-{}", std::process::id()));
    std::fs::create_dir_all(&folder)?;
    let counts = run_in(&folder, only);
    let _ = std::fs::remove_dir_all(&folder);
    counts
}

/// The instructions of one call on our side, as the table in docs/performance.md has them.
pub(super) fn recorded(page: &str) -> BTreeMap<&str, f64> {
    let row = |line| -> Option<(&str, f64)> {
        let cells: Vec<&str> = str::strip_prefix(line, "| ")?.split(" | ").collect();
        let [name, _, _, _, _, instructions, _] = cells[..] else { return None };
        Some((name, instructions.split_once(" / ")?.0.parse().ok()?))
    };
    page.lines().filter_map(row).collect()
}

fn run_in(folder: &Path, only: &str) -> Result<Counts> {
    let output = Command::new("valgrind")
        .args(["--tool=callgrind", "--zero-before=xtask::bench::count::counted"])
        .arg("--dump-after=xtask::bench::count::counted")
        .arg(format!("--callgrind-out-file={}", folder.join("out").display()))
        .arg(std::env::current_exe()?)
        .args(["bench", "--count", "--only", only])
        .stderr(Stdio::null())
        .output()?;
    ensure!(output.status.success(), "valgrind ended with {}", output.status);
    let rows = String::from_utf8(output.stdout)?;
    let mut counts = Counts::new();
    for (at, row) in rows.lines().enumerate() {
        let [name, ours, baseline] = row.split('\t').collect::<Vec<_>>()[..] else {
            bail!("not a row: {row}")
        };
        // Files are numbered from one.
        let count = |file: usize, calls: &str| -> Result<f64> {
            let path = folder.join(format!("out.{file}"));
            let text =
                std::fs::read_to_string(&path).with_context(|| format!("reading {}", path.display()))?;
            // The summary at the top has what other threads have done before as well.
            let line = |name| text.lines().find_map(|line| line.strip_prefix(name));
            let total = line("totals: ").or_else(|| line("summary: "));
            Ok(total.context("no total")?.trim().parse::<f64>()? / calls.parse::<f64>()?)
        };
        counts.insert(name.to_owned(), (count(at * 2 + 1, ours)?, count(at * 2 + 2, baseline)?));
    }
    Ok(counts)
}

/// Counts both sides of a row, and says how often each was called.
pub(super) fn row(name: &str, ours: &mut dyn FnMut(), baseline: &mut dyn FnMut()) {
    let (ours, baseline) = (side(ours), side(baseline));
    println!("{name}\t{ours}\t{baseline}");
}

fn side(run: &mut dyn FnMut()) -> u32 {
    // The first call reads what all others find, some of it in threads of its own.
    run();
    std::thread::sleep(Duration::from_millis(400));
    let start = Instant::now();
    run();
    // Valgrind makes a call about fifty times slower.
    let calls = if start.elapsed().as_millis() < 5 { 200 } else { 2 };
    counted(calls, run);
    calls
}

#[inline(never)]
fn counted(calls: u32, run: &mut dyn FnMut()) {
    for _ in 0..calls {
        run();
    }
}

#[test]
fn instructions_are_read_from_the_page() {
    let page = "| path | ours | baseline | ratio | at most | instructions | allocations |\n|---|--:|--:|--:|--:|--:|--:|\n\
        | a name; by hand | 33 ns | 27 ns | 1.24 | 1.25 | 382 / 263 | 0 |\n| heap | 35 kB | 13 kB | 2.66 | 2.80 | – | – |\n";
    assert_eq!(recorded(page), BTreeMap::from([("a name; by hand", 382.0)]));
}
