//! The bench table: each hot path beside a hand-written baseline, timed in turns in one run.
//!
//! What counts is the ratio: machines differ, and so do moments on one machine. Both sides are timed in short batches, one after
//! the other, and the medians are compared. Beside the times stand instructions, where valgrind can count them.

mod catalogs;
mod count;
mod formats;
mod messages;
mod requests;
mod translators;

use std::cell::RefCell;
use std::collections::BTreeMap;
use std::time::Instant;

use anyhow::{Result, bail};

use count::Counts;

const ROUNDS: usize = 401;

/// How much more than its limit a row may take before it is over: two runs of one program differ by as much.
const NOISE: f64 = 1.1;

/// How many more instructions than the page of figures has are still as many: counts differ a little between builds.
const AS_MANY: f64 = 1.02;

/// How much more than its limit a row may take whatever it counts: waiting, for a lock or for memory, takes time and no
/// instructions.
const FAR: f64 = 1.5;

/// The page that has the table.
const PAGE: &str = concat!(env!("CARGO_MANIFEST_DIR"), "/../docs/performance.md");

/// How often a row that is over its limit is measured again.
const TRIALS: usize = 3;

/// The table, printed row by row as it is measured.
struct Table<'p> {
    /// Only rows whose name has this in it are measured.
    only: String,
    mode: Mode<'p>,
    /// The rows that are over their limits by more than noise, and need more instructions than the page has.
    over: RefCell<Vec<String>>,
}

enum Mode<'p> {
    /// Times are measured, beside instructions that were counted before, and those that the page has.
    Time { counts: Counts, recorded: BTreeMap<&'p str, f64> },
    /// Instructions are counted.
    Count,
}

/// Measures and prints the table. With `check`, fails where a row is over its limit by half, or by more than noise and with more
/// instructions than the page of figures has: without them the moment, or the place of the code in memory, has made it slower.
pub(crate) fn run(only: String, check: bool) -> Result<()> {
    if cfg!(debug_assertions) {
        println!("note: build with --release; these figures mean nothing\n");
    }
    let counts = count::run(&only)?;
    if counts.is_empty() {
        println!("note: instructions are not counted; install Debian's package `valgrind`\n");
    }
    println!("| path | ours | baseline | ratio | at most | instructions | allocations |");
    println!("|---|--:|--:|--:|--:|--:|--:|");
    let page = std::fs::read_to_string(PAGE).unwrap_or_default();
    let mode = Mode::Time { counts, recorded: count::recorded(&page) };
    let table = Table { only, mode, over: RefCell::default() };
    rows(&table);
    catalogs::growth(&table);
    let over = table.over.into_inner();
    if check && !over.is_empty() {
        bail!("over their limits: {}", over.join("; "));
    }
    Ok(())
}

/// What [`run`] runs under valgrind.
pub(crate) fn count(only: String) {
    rows(&Table { only, mode: Mode::Count, over: RefCell::default() });
}

fn rows(table: &Table<'_>) {
    requests::headers(table);
    requests::tags(table);
    requests::decisions(table);
    requests::layer(table);
    messages::messages(table);
    formats::formats(table);
    catalogs::catalogs(table);
    translators::translators(table);
}

impl Table<'_> {
    fn has(&self, name: &str) -> bool {
        name.contains(&self.only)
    }

    /// Whether times are measured: what takes seconds is not counted.
    fn is_timed(&self) -> bool {
        matches!(self.mode, Mode::Time { .. })
    }

    /// The instructions of a row, as they are printed.
    fn instructions(&self, name: &str) -> String {
        let Mode::Time { counts, .. } = &self.mode else { return String::new() };
        counts
            .get(name)
            .map_or_else(|| "–".to_owned(), |(ours, baseline)| format!("{ours:.0} / {baseline:.0}"))
    }

    /// Notes a row that takes `excess` times its limit, unless it is near it and needs as many instructions as ever.
    fn note_over(&self, name: &str, figure: &str, excess: f64) {
        let Mode::Time { counts, recorded } = &self.mode else { return };
        let as_ever = counts.get(name).zip(recorded.get(name));
        if excess > FAR || as_ever.is_none_or(|((now, _), before)| *now > before * AS_MANY) {
            self.over.borrow_mut().push(format!("{name} ({figure})"));
        }
    }

    /// The medians of two functions timed in turns, and how often ours allocates in one call. `limit` is the largest
    /// ratio that is good enough.
    fn row(&self, name: &str, limit: f64, mut ours: impl FnMut(), mut baseline: impl FnMut()) {
        if !self.has(name) {
            return;
        }
        if !self.is_timed() {
            return count::row(name, &mut ours, &mut baseline);
        }
        ours();
        let allocations = allocation_counter::measure(&mut ours).count_total;
        let mut measured = medians(&mut ours, &mut baseline);
        for _ in 1..TRIALS {
            if measured.0 / measured.1 <= limit {
                break;
            }
            let again = medians(&mut ours, &mut baseline);
            if again.0 / again.1 < measured.0 / measured.1 {
                measured = again;
            }
        }
        let figures = Figures { ours: nanoseconds(measured.0), baseline: nanoseconds(measured.1) };
        self.line(name, &figures, measured.0 / measured.1, limit, &allocations.to_string());
    }

    /// A row of any two figures and their ratio.
    fn line(&self, name: &str, figures: &Figures, ratio: f64, limit: f64, allocations: &str) {
        let Figures { ours, baseline } = figures;
        let mark = if ratio <= limit { "" } else { " (over)" };
        if ratio > limit * NOISE {
            self.note_over(name, &format!("{ratio:.2}, at most {limit}"), ratio / limit);
        }
        let limit = if limit.is_finite() { format!("{limit:.2}{mark}") } else { "–".to_owned() };
        let instructions = self.instructions(name);
        println!("| {name} | {ours} | {baseline} | {ratio:.2} | {limit} | {instructions} | {allocations} |");
    }

    /// What ours adds to the baseline, in place of a ratio.
    fn added(&self, name: &str, limit: &Added, mut ours: impl FnMut(), mut baseline: impl FnMut()) {
        if !self.has(name) {
            return;
        }
        if !self.is_timed() {
            return count::row(name, &mut ours, &mut baseline);
        }
        // The first call loads what all others find.
        ours();
        let our_allocations = allocation_counter::measure(&mut ours).count_total;
        let allocations = our_allocations - allocation_counter::measure(&mut baseline).count_total;
        let (our_time, baseline_time) = (0..TRIALS)
            .map(|_| medians(&mut ours, &mut baseline))
            .min_by(|one, other| (one.0 - one.1).total_cmp(&(other.0 - other.1)))
            .unwrap_or_default();
        let added = our_time - baseline_time;
        let Added { nanoseconds, allocations: most_allocations, baseline: usual } = limit;
        // A machine, or a moment, at half the pace has twice the time.
        let most = &(nanoseconds * (baseline_time / usual).max(1.0));
        let figure = format!("+{added:.0} ns, +{allocations}");
        if allocations > *most_allocations {
            self.over.borrow_mut().push(format!("{name} ({figure})"));
        } else if added > most * NOISE {
            self.note_over(name, &figure, added / most);
        }
        let good = added <= *most && allocations <= *most_allocations;
        println!(
            "| {name} | {} | {} | +{} | +{most:.0} ns, +{most_allocations}{} | {} | +{allocations} |",
            self::nanoseconds(our_time),
            self::nanoseconds(baseline_time),
            self::nanoseconds(added),
            if good { "" } else { " (over)" },
            self.instructions(name),
        );
    }
}

/// What one function adds to another: time and allocations, with the most that is good enough.
struct Added {
    nanoseconds: f64,
    allocations: u64,
    /// How many nanoseconds the other one takes on the machine that the limit is for.
    baseline: f64,
}

/// The medians of two functions timed in turns.
fn medians(ours: &mut dyn FnMut(), baseline: &mut dyn FnMut()) -> (f64, f64) {
    let (our_calls, baseline_calls) = (calls(ours), calls(baseline));
    // What takes long need not be asked as often.
    let rounds = if our_calls.min(baseline_calls) > 1 { ROUNDS } else { 21 };
    let (mut our_times, mut baseline_times) = (Vec::with_capacity(rounds), Vec::with_capacity(rounds));
    for _ in 0..rounds {
        our_times.push(time(our_calls, ours));
        baseline_times.push(time(baseline_calls, baseline));
    }
    (median(our_times), median(baseline_times))
}

/// Two figures that are compared, as they are printed.
struct Figures {
    ours: String,
    baseline: String,
}

fn nanoseconds(time: f64) -> String {
    if time < 1e6 { format!("{time:.0} ns") } else { format!("{:.1} ms", time / 1e6) }
}

/// How many calls fill about a tenth of a millisecond: long for the clock, short for the machine's other work.
fn calls(run: &mut dyn FnMut()) -> u128 {
    let start = Instant::now();
    run();
    if start.elapsed().as_micros() > 1_000 {
        return 1;
    }
    let start = Instant::now();
    (0..100).for_each(|_| run());
    (10_000_000 / start.elapsed().as_nanos().max(1)).clamp(1, 1_000_000)
}

#[allow(clippy::cast_precision_loss, reason = "figures for people")]
fn time(calls: u128, run: &mut dyn FnMut()) -> f64 {
    let start = Instant::now();
    for _ in 0..calls {
        run();
    }
    start.elapsed().as_nanos() as f64 / calls as f64
}

fn median(mut times: Vec<f64>) -> f64 {
    times.sort_by(f64::total_cmp);
    times.get(times.len() / 2).copied().unwrap_or_default()
}
