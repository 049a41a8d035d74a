//! Catalogs read and kept: time beside `serde_json` reading the same texts as strings, heap beside their files.

use std::collections::{BTreeMap, HashMap};
use std::fmt::Write as _;
use std::hint::black_box;
use std::path::Path;

use crow_fly_core::args;
use crow_fly_core::catalog::{Catalog, SectionSource};
use crow_fly_core::chain::Chains;
use crow_fly_core::check::{Project, check};
use crow_fly_core::list::{ListKind, ListPatterns};
use crow_fly_core::locale_set::LocaleSet;
use crow_fly_core::message::{FormatContext, Message, Program};
use crow_fly_core::number::Width;
use crow_fly_core::tag::LanguageTag;

use super::{Figures, Table};

/// The files of the demo's catalogs.
fn demo() -> Vec<String> {
    let root = concat!(env!("CARGO_MANIFEST_DIR"), "/../examples/ferry/catalogs");
    let folders = |path: &Path| {
        let entries = std::fs::read_dir(path).expect("the demo has catalogs");
        entries.map(|entry| entry.expect("it can be read").path()).collect::<Vec<_>>()
    };
    let files = folders(Path::new(root)).into_iter().flat_map(|locale| folders(&locale));
    files.map(|file| std::fs::read_to_string(file).expect("it is a text")).collect()
}

/// A file of so many messages: the demo's, again and again, under new keys. The longest are left out, so that the file is
/// not larger than is read.
fn large(texts: &[String], count: usize) -> SectionSource {
    let mut file = String::new();
    for (at, text) in texts.iter().filter(|text| text.len() < 300).cycle().take(count).enumerate() {
        // Writing to a `String` does not fail. JSON strings are TOML strings.
        let _ = writeln!(file, "message-{at} = {}", serde_json::to_string(text).expect("it is a text"));
    }
    let source = SectionSource::from_toml(&file);
    assert_eq!(source.entries().len(), count, "all of them are read");
    source
}

fn compile(sources: &[SectionSource]) -> Vec<Catalog> {
    sources.iter().map(|source| Catalog::compile("en", "demo", source).0).collect()
}

pub(super) fn catalogs(table: &Table<'_>) {
    let files = demo();
    let sources: Vec<SectionSource> = files.iter().map(|file| SectionSource::from_toml(file)).collect();
    let entries = || sources.iter().flat_map(SectionSource::entries);
    let texts: Vec<String> = entries().map(|entry| entry.text().to_owned()).collect();
    let maps: Vec<String> = sources
        .iter()
        .map(|source| {
            source.entries().iter().map(|entry| (entry.key(), entry.text())).collect::<HashMap<_, _>>()
        })
        .map(|map| serde_json::to_string(&map).expect("they are texts"))
        .collect();
    let json = || {
        for map in black_box(&maps) {
            black_box(serde_json::from_str::<HashMap<String, String>>(map)).ok();
        }
    };
    table.row(
        "the demo's messages parsed and compiled; `serde_json` making maps of the same",
        3.5,
        || {
            black_box(compile(black_box(&sources)));
        },
        json,
    );
    table.row(
        "the demo's messages read from TOML, parsed and compiled; the same maps",
        6.0,
        || {
            for file in black_box(&files) {
                black_box(Catalog::compile("en", "demo", &SectionSource::from_toml(file)));
            }
        },
        json,
    );
    let demo_bytes: usize = files.iter().map(String::len).sum();
    heap(table, "heap of the demo's catalogs; their files", 2.2, demo_bytes, &sources);
    let (time, size) = (
        "a catalog of 100,000 messages; one of 10,000 ten times",
        "heap of 100,000 messages; their keys and texts",
    );
    if !table.is_timed() || !table.has(time) && !table.has(size) {
        return;
    }
    let (many, few) = (large(&texts, 100_000), large(&texts, 10_000));
    table.row(
        time,
        1.5,
        || {
            black_box(Catalog::compile("en", "demo", black_box(&many)));
        },
        || {
            for _ in 0..10 {
                black_box(Catalog::compile("en", "demo", black_box(&few)));
            }
        },
    );
    let bytes = many.entries().iter().map(|entry| entry.key().len() + entry.text().len()).sum();
    heap(table, size, 2.0, bytes, &[many]);
}

fn ten_times(mut run: impl FnMut()) -> impl FnMut() {
    move || (0..10).for_each(|_| run())
}

/// The name of a row, how many there are, and a message of so many.
type Construct = (&'static str, usize, fn(usize) -> String);

/// What is done with ten times as much, beside ten times of it: linear where the ratio is about one.
pub(super) fn growth(table: &Table<'_>) {
    let join = |count: usize| {
        let items: Vec<String> = (0..count).map(|at| format!("Curlew {at}")).collect();
        let english = ListPatterns::of(&LanguageTag::UND);
        move || drop(black_box(english.join(&items, ListKind::And, Width::Long)))
    };
    table.row(
        "a list of 100,000 items joined; one of 10,000 ten times",
        1.5,
        join(100_000),
        ten_times(join(10_000)),
    );
    // A message of each construct, read, compiled and formatted.
    let constructs: [Construct; 4] = [
        ("a message of 4,000 arguments; one of 400 ten times", 4_000, |count| "{$x} ".repeat(count)),
        ("400 values declared in another locale and shown; 40 ten times", 400, |count| {
            let declared = (0..count)
                .map(|at| format!(".local $a{at} = {{$x :string u:locale=cy}} "))
                .collect::<Vec<_>>()
                .concat();
            let shown =
                (0..count).map(|at| format!("{{$a{at} :string u:locale=pl}}")).collect::<Vec<_>>().concat();
            format!("{declared}{{{{{shown}}}}}")
        }),
        ("a message of 1,000 variants; one of 100 ten times", 1_000, |count| {
            let variants = (0..count).map(|at| format!("a{at} {{{{b}}}} ")).collect::<Vec<_>>().concat();
            format!(".input {{$x :string}} .match $x {variants}* {{{{c}}}}")
        }),
        ("a message of 4,000 elements; one of 400 ten times", 4_000, |count| "{#b}a{/b}".repeat(count)),
    ];
    for (name, many, source) in constructs {
        let said = |count: usize| {
            let source = source(count);
            move || {
                let message = Message::parse(black_box(&source)).expect("it is a message");
                let context = FormatContext::of(&LanguageTag::UND);
                drop(black_box(Program::compile(&message).format(&context, &args! { x: "words" }).html()));
            }
        };
        table.row(name, 1.5, said(many), ten_times(said(many / 10)));
    }
    // Half of them are findings of the file, half of the messages.
    let bad_file = |count: usize| {
        let lines = (0..count / 2).map(|at| format!("number-{at} = {at}\nbrace-{at} = 'a }} b'"));
        let file = lines.collect::<Vec<_>>().join("\n");
        move || drop(black_box(Catalog::compile("en", "demo", &SectionSource::from_toml(black_box(&file)))))
    };
    table.row(
        "a file of 30,000 bad lines; one of 3,000 ten times",
        1.5,
        bad_file(30_000),
        ten_times(bad_file(3_000)),
    );
    let check_all = |count: usize| {
        let set = LocaleSet::parse(["en", "cy"]).expect("they are tags");
        let chains = Chains::new(&set, [], []).expect("they have no circle");
        let file = |from: usize| {
            let lines: Vec<String> =
                (from..from + count).map(|at| format!("key-{at} = 'Text {at}'")).collect();
            BTreeMap::from([("demo".to_owned(), SectionSource::from_toml(&lines.join("\n")))])
        };
        // Half of the keys are the same in both; the others are missing in one, surplus in the other.
        let files = [file(0), file(count / 2)];
        let sources: Project = set.iter().map(|(id, _)| id).zip(files).collect();
        move || drop(black_box(check(&set, &chains, black_box(&sources))))
    };
    table.row("16,000 keys checked; 1,600 ten times", 1.5, check_all(16_000), ten_times(check_all(1_600)));
}

#[allow(clippy::cast_precision_loss, reason = "figures for people")]
fn heap(table: &Table<'_>, name: &str, limit: f64, source: usize, sources: &[SectionSource]) {
    if !table.has(name) || !table.is_timed() {
        return;
    }
    let mut kept = Vec::new();
    let measured = allocation_counter::measure(|| kept = compile(sources));
    let kilobytes = |bytes: f64| format!("{:.0} kB", bytes / 1e3);
    let (heap, source) = (measured.bytes_current as f64, source as f64);
    let figures = Figures { ours: kilobytes(heap), baseline: kilobytes(source) };
    table.line(name, &figures, heap / source, limit, "–");
    drop(kept);
}
