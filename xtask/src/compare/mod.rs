//! Formats beside an independent implementation of ECMA-402: the one that the machine's Node has, of version 23 or later for
//! durations.
//!
//! Both are asked the same in a hundred locales; what differs is listed. Where the two stand on different releases of
//! CLDR, some of it may.

use std::collections::BTreeMap;
use std::io::Write as _;
use std::path::Path;
use std::process::{Command, Stdio};

use anyhow::{Context, Result, ensure};
use crow_fly_core::message::{FormatContext, Isolation, Message, Program};
use crow_fly_core::value::{Args, Value};
use serde_json::json;

mod calendars;
mod moments;
mod questions;

use questions::questions;

/// Locales: languages of many families and scripts, regions that differ from them, and those with another calendar.
const LOCALES: [&str; 112] = [
    "af", "am", "ar", "ar-EG", "as", "az", "be", "bg", "bn", "bs", "ca", "cs", "cy", "da", "de", "de-AT",
    "de-CH", "el", "en", "en-AU", "en-CA", "en-GB", "en-IN", "ps", "es", "es-419", "es-AR", "es-MX", "et",
    "eu", "fa", "fi", "fil", "fr", "fr-CA", "fr-CH", "ga", "gl", "gu", "he", "hi", "hr", "hu", "hy", "id",
    "is", "it", "it-CH", "ja", "ka", "kk", "km", "kn", "ko", "ky", "lo", "lt", "lv", "mk", "ml", "mn", "mr",
    "ms", "my", "nb", "ne", "nl", "nl-BE", "nn", "or", "pa", "pl", "pt", "pt-PT", "ro", "ru", "si", "sk",
    "sl", "sq", "sr", "sr-Latn", "sv", "sw", "ta", "te", "th", "tr", "uk", "ur", "uz", "vi", "yue", "zh",
    "zh-HK", "zh-TW", "zu", "gd", "lb", "mt", "fa-AF", "en-TH", "uz-Arab", "ckb-IR", "lrc", "mzn", "ar-SA",
    "am-ET", "hi-Latn", "es-US", "fr-MA", "ti",
];

pub(crate) fn run(show: usize, write: Option<&Path>) -> Result<()> {
    let asked = ours()?;
    let theirs = theirs(&asked)?;
    tally(&asked, &theirs, show)?;
    if let Some(path) = write {
        write_agreed(&asked, &theirs, path)?;
    }
    Ok(())
}

/// Every question, with our answer.
fn ours() -> Result<Vec<serde_json::Value>> {
    let mut asked = Vec::new();
    for locale in LOCALES {
        let context = FormatContext::of(&locale.parse()?).with_isolation(Isolation::None);
        for question in questions() {
            let message = question.message.replace("LOCALE", locale);
            let program = Program::compile(&Message::parse(&message)?);
            let args: Args<'_> = [("x", question.value.clone())].into_iter().collect();
            asked.push(json!({
                "about": question.about, "locale": locale, "message": message,
                "ours": program.format(&context, &args).with_now(&question.now).text(), "node": question.node, "value": plain(&question.value),
            }));
        }
    }
    Ok(asked)
}

/// The answers of Node.
fn theirs(asked: &[serde_json::Value]) -> Result<Vec<String>> {
    let mut node = Command::new("node")
        .args(["-e", &format!("{HELPERS}{}{SCRIPT}", moments::SCRIPT)])
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .spawn()
        .context("starting node")?;
    node.stdin.take().context("node takes no input")?.write_all(serde_json::to_string(asked)?.as_bytes())?;
    let output = node.wait_with_output()?;
    ensure!(output.status.success(), "node failed");
    Ok(serde_json::from_slice(&output.stdout)?)
}

/// Prints the first differences of each kind, and how many answers are the same.
fn tally(asked: &[serde_json::Value], theirs: &[String], show: usize) -> Result<()> {
    let why = |about: &str| EXPLAINED.iter().find(|(of, _)| *of == about).map(|(_, why)| *why);
    let mut tally: BTreeMap<&str, (usize, usize)> = BTreeMap::new();
    let mut shown: BTreeMap<&str, usize> = BTreeMap::new();
    let mut reasons: BTreeMap<&str, usize> = BTreeMap::new();
    for (question, theirs) in asked.iter().zip(theirs) {
        let (about, ours) =
            (question["about"].as_str().unwrap_or(""), question["ours"].as_str().unwrap_or(""));
        let (same, all) = tally.entry(about).or_default();
        *all += 1;
        // Node writes narrow no-break spaces of dates as plain ones, for the sake of old programs.
        if moments::has_zone(about, ours, theirs)
            || ours == theirs
            || ours.replace('\u{202f}', " ") == theirs.replace('\u{202f}', " ")
        {
            *same += 1;
            continue;
        }
        let is_of_calendar = about.starts_with("calendar");
        if is_of_calendar || moments::has_reasons(about) {
            let difference = if is_of_calendar { calendars::difference } else { moments::difference };
            let why = difference(about, question["locale"].as_str().unwrap_or(""), ours, theirs);
            *reasons.entry(why.unwrap_or(NOT_EXPLAINED)).or_default() += 1;
        }
        let count = shown.entry(about).or_default();
        *count += 1;
        if *count <= show {
            let (locale, message) = (&question["locale"], &question["message"]);
            println!("{about} {locale}: {message} gives {ours:?}, not {theirs:?}");
        }
    }
    println!("\n| what | same | of |\n|---|--:|--:|");
    let (mut same_all, mut all_all) = (0, 0);
    for (about, (same, all)) in tally {
        if let Some(why) = why(about) {
            println!("| {about} (not counted: {why}) | {same} | {all} |");
            continue;
        }
        println!("| {about} | {same} | {all} |");
        same_all += same;
        all_all += all;
    }
    #[allow(clippy::cast_precision_loss, reason = "a figure for people")]
    let share = 100.0 * same_all as f64 / all_all as f64;
    println!("| all | {same_all} | {all_all} |\n\n{share:.2} %");
    println!("\n| why dates in calendars, durations, moments and zones differ | answers |\n|---|--:|");
    for (why, count) in &reasons {
        println!("| {why} | {count} |");
    }
    ensure!(!reasons.contains_key(NOT_EXPLAINED), "some of these differences are not explained");
    Ok(())
}

/// The reason of what has none.
const NOT_EXPLAINED: &str = "not explained";

/// Writes some of the answers that are the same: the cases of tests, ranges in a file of their own.
fn write_agreed(asked: &[serde_json::Value], theirs: &[String], folder: &Path) -> Result<()> {
    // One in so many: enough of each kind, and a file that a person can read.
    for (name, ranges, step) in [("formats.txt", false, 149), ("ranges.txt", true, 61)] {
        let of_file = asked.iter().zip(theirs).filter(|(question, _)| {
            question["about"].as_str().is_some_and(|about| about.starts_with("range")) == ranges
        });
        let agreed = of_file
            .step_by(step)
            .filter(|(question, theirs)| question["ours"].as_str() == Some(theirs.as_str()));
        let line = |(question, theirs): (&serde_json::Value, &String)| {
            let text = |name: &str| question[name].as_str().unwrap_or_default().to_owned();
            format!("{}\t{}\t{}\t{theirs}", text("locale"), text("message"), question["value"])
        };
        let lines: Vec<String> = agreed.map(line).collect();
        std::fs::write(folder.join(name), format!("{HEAD}{}\n", lines.join("\n")))?;
        println!("{name}: {} cases written", lines.len());
    }
    Ok(())
}

const HEAD: &str = "# Formats on which an independent implementation of ECMA-402 agrees: locale, message, the value of $x, text.\n\
    # Written by `cargo run --release -p xtask -- compare --write`.\n";

/// What we write otherwise than ECMA-402 on purpose, and why.
const EXPLAINED: [(&str, &str); 2] = [
    ("range, equal ends", "one number, not about one"),
    ("range, two signs", "each end has its own, or `-5–3 %` would read as from -5 to 3"),
];

/// A value as JSON.
fn plain(value: &Value<'_>) -> serde_json::Value {
    match value {
        Value::Integer(number) => json!(number),
        Value::Number(number) => json!(number.to_string().parse::<f64>().unwrap_or_default()),
        Value::Text(text) => json!(text),
        Value::List(values) => values.iter().map(plain).collect(),
        _ => serde_json::Value::Null,
    }
}

const HELPERS: &str = "
const kept = new Map();
const once = (kind, l, o) => { const k = kind.name + l + JSON.stringify(o); if (!kept.has(k)) kept.set(k, new kind(l, o)); return kept.get(k); };
const N = (l, o) => once(Intl.NumberFormat, l, o), D = (l, o) => once(Intl.DateTimeFormat, l, o);
";

const SCRIPT: &str = "
const asked = JSON.parse(require('fs').readFileSync(0, 'utf8'));
const compiled = new Map();
const answer = ({ locale, node }) => {
  if (!compiled.has(node)) compiled.set(node, new Function('l', 'N', 'D', 'R', 'return ' + node));
  return String(compiled.get(node)(locale, N, D, R));
};
process.stdout.write(JSON.stringify(asked.map(answer)));
";
