//! The bench table: each hot path beside a hand-written baseline, timed in turns in one run.
//!
//! What counts is the ratio: machines differ, and so do moments on one machine. Both sides are timed in short
//! batches, one after the other, and the medians are compared.

mod catalogs;
mod messages;
mod requests;

use std::time::Instant;

const ROUNDS: usize = 401;

/// The table, printed row by row as it is measured.
struct Table {
    /// Only rows whose name has this in it are measured.
    only: String,
}

pub(crate) fn run(only: String) {
    if cfg!(debug_assertions) {
        println!("note: build with --release; these figures mean nothing\n");
    }
    println!("| path | ours | baseline | ratio | at most | allocations |");
    println!("|---|--:|--:|--:|--:|--:|");
    let table = Table { only };
    requests::headers(&table);
    requests::tags(&table);
    requests::decisions(&table);
    requests::layer(&table);
    messages::messages(&table);
    catalogs::catalogs(&table);
    catalogs::store(&table);
    catalogs::growth(&table);
}

impl Table {
    fn has(&self, name: &str) -> bool {
        name.contains(&self.only)
    }

    /// The medians of two functions timed in turns, and how often ours allocates in one call. `limit` is the largest
    /// ratio that is good enough.
    fn row(&self, name: &str, limit: f64, mut ours: impl FnMut(), mut baseline: impl FnMut()) {
        if !self.has(name) {
            return;
        }
        ours();
        let allocations = allocation_counter::measure(&mut ours).count_total;
        let (ours, baseline) = medians(&mut ours, &mut baseline);
        line(
            name,
            &Figures { ours: nanoseconds(ours), baseline: nanoseconds(baseline) },
            ours / baseline,
            limit,
            &allocations.to_string(),
        );
    }
}

/// What one function adds to another: time and allocations, with the most that is good enough.
struct Added {
    nanoseconds: f64,
    allocations: u64,
}

impl Table {
    /// What ours adds to the baseline, in place of a ratio.
    fn added(&self, name: &str, limit: &Added, mut ours: impl FnMut(), mut baseline: impl FnMut()) {
        if !self.has(name) {
            return;
        }
        // The first call loads what all others find.
        ours();
        let our_allocations = allocation_counter::measure(&mut ours).count_total;
        let allocations = our_allocations - allocation_counter::measure(&mut baseline).count_total;
        let (our_time, baseline_time) = medians(&mut ours, &mut baseline);
        let added = our_time - baseline_time;
        let good = added <= limit.nanoseconds && allocations <= limit.allocations;
        let Added { nanoseconds: most, allocations: most_allocations } = limit;
        println!(
            "| {name} | {} | {} | +{} | +{most:.0} ns, +{most_allocations}{} | +{allocations} |",
            nanoseconds(our_time),
            nanoseconds(baseline_time),
            nanoseconds(added),
            if good { "" } else { " (over)" },
        );
    }
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

/// A row of any two figures and their ratio.
fn line(name: &str, figures: &Figures, ratio: f64, limit: f64, allocations: &str) {
    let Figures { ours, baseline } = figures;
    let mark = if ratio <= limit { "" } else { " (over)" };
    let limit = if limit.is_finite() { format!("{limit:.1}{mark}") } else { "–".to_owned() };
    println!("| {name} | {ours} | {baseline} | {ratio:.2} | {limit} | {allocations} |");
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
