//! The bench table: each hot path beside a hand-written baseline, timed in turns in one run.
//!
//! What counts is the ratio: machines differ, and so do moments on one machine. Both sides are timed in short
//! batches, one after the other, and the medians are compared.

use std::collections::HashMap;
use std::fmt::Write as _;
use std::hint::black_box;
use std::time::Instant;

use crow_fly::source::Memory;
use crow_fly::{Config, CrowFly};
use crow_fly_core::args;
use crow_fly_core::locale_set::LocaleSet;
use crow_fly_core::message::{Message, Program, Speech};
use crow_fly_core::names;
use crow_fly_core::number::Decimal;
use crow_fly_core::policy::{Facts, Policy, SessionValue};
use crow_fly_core::tag::LanguageTag;
use http::{Request, Response};
use http_body_util::Empty;
use tower_layer::Layer;
use tower_service::Service;

const ROUNDS: usize = 401;

/// One line of the table.
struct Row {
    name: &'static str,
    ours: f64,
    baseline: f64,
    allocations: u64,
    /// The largest ratio that is good enough.
    limit: f64,
}

pub(crate) fn run() {
    if cfg!(debug_assertions) {
        println!("note: build with --release; these figures mean nothing\n");
    }
    println!("| path | ours | baseline | ratio | at most | allocations |");
    println!("|---|--:|--:|--:|--:|--:|");
    for row in headers().into_iter().chain(tags()).chain(requests()).chain(layer()).chain(messages()) {
        let ratio = row.ours / row.baseline;
        let mark = if ratio <= row.limit { "" } else { " (over)" };
        let limit = if row.limit.is_finite() { format!("{:.1}{mark}", row.limit) } else { "–".to_owned() };
        println!(
            "| {} | {:.0} ns | {:.0} ns | {ratio:.2} | {limit} | {} |",
            row.name, row.ours, row.baseline, row.allocations
        );
    }
}

/// The medians, in nanoseconds a call, of two functions timed in turns.
fn compare(name: &'static str, limit: f64, mut ours: impl FnMut(), mut baseline: impl FnMut()) -> Row {
    let allocations = allocation_counter::measure(&mut ours).count_total;
    let calls = |run: &mut dyn FnMut()| {
        // Batches of about a tenth of a millisecond: long for the clock, short for the machine's other work.
        let start = Instant::now();
        (0..100).for_each(|_| run());
        (10_000_000 / start.elapsed().as_nanos().max(1)).clamp(1, 1_000_000)
    };
    let (our_calls, baseline_calls) = (calls(&mut ours), calls(&mut baseline));
    let (mut our_times, mut baseline_times) = (Vec::with_capacity(ROUNDS), Vec::with_capacity(ROUNDS));
    for _ in 0..ROUNDS {
        our_times.push(time(our_calls, &mut ours));
        baseline_times.push(time(baseline_calls, &mut baseline));
    }
    Row { name, ours: median(our_times), baseline: median(baseline_times), allocations, limit }
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

/// Forty locales as a large site may have them.
const FORTY: [&str; 40] = [
    "en", "en-GB", "cy", "de", "de-AT", "fr-FR", "fr-CA", "es-ES", "es-419", "pt-PT", "pt-BR", "it", "nl",
    "nb", "da", "sv", "fi", "pl", "cs", "sk", "hu", "ro", "bg", "el", "tr", "ru", "uk-UA", "he", "ar", "fa",
    "hi", "th", "vi", "id", "ja", "ko", "zh-Hans", "zh-Hant", "sr-Latn", "et",
];

/// What a browser sends, with an exact hit at its first wish.
const EXACT: &str = "en-GB,en;q=0.9,cy;q=0.8,de;q=0.7";

/// Four wishes of which none is there as written, nor its bare language.
const NEAR: &str = "es-CL,pt-AO;q=0.9,zh-HK;q=0.8,sr-ME;q=0.7";

/// The hand-written way: split, cut, lower-case, look up, then the primary subtag.
fn by_hand(header: &str, known: &HashMap<String, usize>) -> Option<usize> {
    header.split(',').find_map(|member| {
        let range = member.split(';').next()?.trim().to_ascii_lowercase();
        known.get(&range).or_else(|| known.get(range.split('-').next()?)).copied()
    })
}

#[allow(clippy::naive_bytecount, reason = "the baseline is the naive way")]
fn headers() -> Vec<Row> {
    let forty = LocaleSet::parse(FORTY).expect("the list is well-formed");
    let thousand = names::locales().filter(|tag| *tag != "und").map(str::to_owned);
    // CLDR has some 760 locales; private ones fill the thousand. The exact wishes are left out, so that they are near.
    let near = ["es-CL", "es", "pt-AO", "pt", "zh-Hant-HK", "zh", "sr-Latn-ME", "sr"];
    let thousand = thousand
        .filter(|tag| !near.contains(&tag.as_str()))
        .chain((0..250).map(|at| format!("x-private-{at}")));
    let thousand = LocaleSet::parse(thousand.collect::<Vec<_>>()).expect("the list is well-formed");
    let known: HashMap<String, usize> =
        FORTY.iter().enumerate().map(|(at, tag)| (tag.to_ascii_lowercase(), at)).collect();
    let closest = |set: &LocaleSet, header: &str| {
        black_box(set.closest_in(black_box(header.as_bytes())));
    };
    let hostile = "a;q=0.1,zz-QQ-x;q=9,*,".repeat(3_000).chars().take(64 * 1024).collect::<String>();
    vec![
        compare(
            "header → locale, 40 locales, exact hit; by hand",
            1.0,
            || closest(&forty, EXACT),
            || {
                black_box(by_hand(black_box(EXACT), &known));
            },
        ),
        compare(
            "header → locale, 40 locales, by distance; by hand",
            3.0,
            || closest(&forty, NEAR),
            || {
                black_box(by_hand(black_box(NEAR), &known));
            },
        ),
        compare(
            "header → locale, 1,000 locales; 40 locales",
            2.0,
            || closest(&thousand, NEAR),
            || closest(&forty, NEAR),
        ),
        compare(
            "64 kB hostile header → locale; counting its commas",
            20.0,
            || closest(&forty, &hostile),
            || {
                black_box(black_box(hostile.as_bytes()).iter().filter(|byte| **byte == b',').count());
            },
        ),
    ]
}

fn tags() -> Vec<Row> {
    let row = |name, tag: &'static str| {
        compare(
            name,
            2.0,
            move || {
                let mut tag = LanguageTag::parse(black_box(tag));
                if let Ok(tag) = &mut tag {
                    tag.canonicalize();
                }
                black_box(tag).ok();
            },
            move || {
                black_box(black_box(tag).to_ascii_lowercase());
            },
        )
    };
    vec![
        row("parse and canonicalize `en-GB`; lower-casing it", "en-GB"),
        row("parse and canonicalize `zh-Hant-HK`; lower-casing it", "zh-Hant-HK"),
    ]
}

fn requests() -> Vec<Row> {
    let set = LocaleSet::parse(FORTY).expect("the list is well-formed");
    let policy = Policy::new(set);
    let cookies = "theme=dark; id=q8Hn2kVgTz4fWcXb; locale=cy; seen=1";
    let lines: [&[u8]; 1] = [EXACT.as_bytes()];
    let facts = |path| Facts {
        path,
        session: SessionValue::Text("cy"),
        cookie: Some("cy"),
        accept_lines: &lines,
        ..Facts::default()
    };
    let parse_cookies = || {
        black_box(cookie::Cookie::split_parse(black_box(cookies)).filter_map(Result::ok).count());
    };
    vec![
        compare(
            "decide a page behind a prefix; parsing the cookie header",
            3.0,
            || {
                black_box(policy.decide(&facts(black_box("/cy/sailings/12"))));
            },
            parse_cookies,
        ),
        compare(
            "decide a first visit to the root; parsing the cookie header",
            3.0,
            || {
                black_box(policy.decide(&facts(black_box("/"))));
            },
            parse_cookies,
        ),
    ]
}

/// What the layer adds to a service that answers at once, by calling both in process.
fn layer() -> Vec<Row> {
    let config = Config::parse("default = 'en'\nlocales = ['en', 'en-GB', 'cy', 'pl', 'ar']")
        .expect("it is well-formed");
    let crow = CrowFly::new(config, Memory::new([("cy", "home", "title = 'Hwyliadau'")]));
    let inner = tower::service_fn(|_: Request<Empty<&'static [u8]>>| async {
        Ok::<_, std::convert::Infallible>(Response::new(Empty::<&'static [u8]>::new()))
    });
    let mut bare = inner;
    let mut layered = crow.layer().layer(inner);
    let runtime = tokio::runtime::Builder::new_current_thread().build().expect("a runtime");
    let request = || {
        let request =
            Request::builder().uri(black_box("/cy/sailings/12?day=2")).header("accept-language", EXACT);
        request.header("cookie", "theme=dark; locale=cy").body(Empty::new()).expect("a request")
    };
    let row = compare(
        "a request through the layer; the same without it",
        f64::INFINITY,
        || {
            black_box(runtime.block_on(layered.call(request()))).ok();
        },
        || {
            black_box(runtime.block_on(bare.call(request()))).ok();
        },
    );
    vec![row]
}

fn program(source: &str) -> Program {
    Program::compile(&Message::parse(source).expect("the source is well-formed"))
}

#[allow(clippy::too_many_lines, reason = "a list of rows")]
fn messages() -> Vec<Row> {
    let speech = |tag: &str| Speech::of(&LanguageTag::parse(tag).expect("the tag is well-formed"));
    let english = speech("en").with_isolation(crow_fly_core::message::Isolation::None);
    let polish = speech("pl");
    let plain = program("Be at the quay fifteen minutes before.");
    let named = program("Thank you, {$name}. Your trip is booked.");
    let seats = ".input {$seats :integer} .match $seats one {{One seat left}} * {{{$seats} seats left}}";
    let miejsca = ".input {$seats :integer} .match $seats one {{Zostało {$seats} miejsce}} few {{Zostały {$seats} miejsca}} * {{Zostało {$seats} miejsc}}";
    let (seats, miejsca) = (program(seats), program(miejsca));
    let texts = HashMap::from([("trip.early", "Be at the quay fifteen minutes before.")]);
    let mut ours = String::with_capacity(256);
    let mut other = String::with_capacity(256);
    let mut say = |program: &Program, speech: &Speech, args: &crow_fly_core::value::Args<'_>| {
        ours.clear();
        // Writing to a `String` does not fail.
        let _ = program.write_text(speech, args, &mut ours, &mut |_| ());
        black_box(&ours);
    };
    let none = args! {};
    let mut rows = vec![compare(
        "a plain text; a `HashMap` lookup and `push_str`",
        1.5,
        || say(black_box(&plain), &english, &none),
        || {
            other.clear();
            other.push_str(texts.get(black_box("trip.early")).copied().unwrap_or_default());
            black_box(&other);
        },
    )];
    rows.push(compare(
        "a text with a name; `write!`",
        1.5,
        || say(black_box(&named), &english, &args! { name: black_box("Mair") }),
        || {
            other.clear();
            let _ = write!(other, "Thank you, {}. Your trip is booked.", black_box("Mair"));
            black_box(&other);
        },
    ));
    rows.push(compare(
        "a plural in English; `match` and `write!` with separators",
        2.0,
        || say(black_box(&seats), &english, &args! { seats: black_box(1250) }),
        || {
            other.clear();
            match black_box(1250_u32) {
                1 => other.push_str("One seat left"),
                seats => {
                    separated(&mut other, seats, ",");
                    other.push_str(" seats left");
                }
            }
            black_box(&other);
        },
    ));
    rows.push(compare(
        "a plural in Polish; `match` and `write!` with separators",
        2.0,
        || say(black_box(&miejsca), &polish, &args! { seats: black_box(12_503) }),
        || {
            other.clear();
            let seats = black_box(12_503_u32);
            let (verb, noun) = match (seats % 10, seats % 100) {
                _ if seats == 1 => ("Zostało ", " miejsce"),
                (2..=4, rest) if !(12..=14).contains(&rest) => ("Zostały ", " miejsca"),
                _ => ("Zostało ", " miejsc"),
            };
            other.push_str(verb);
            separated(&mut other, seats, "\u{a0}");
            other.push_str(noun);
            black_box(&other);
        },
    ));
    let arabic = speech("ar-EG").with_isolation(crow_fly_core::message::Isolation::None);
    let maqaid = ".input {$seats :integer} .match $seats zero {{لا مقاعد}} one {{مقعد واحد}} two {{مقعدان}} few {{{$seats} مقاعد}} many {{{$seats} مقعدًا}} * {{{$seats} مقعد}}";
    let (maqaid, fare, day) =
        (program(maqaid), program("{$fare :currency currency=USD}"), program("{$day :date}"));
    rows.push(compare(
        "a plural in Arabic, Arabic digits; `match` and `write!` with separators",
        3.0,
        || say(black_box(&maqaid), &arabic, &args! { seats: black_box(12_503) }),
        || {
            other.clear();
            let seats = black_box(12_503_u32);
            let noun = match (seats, seats % 100) {
                (0..=2, _) => "",
                (_, 3..=10) => " مقاعد",
                (_, 11..=99) => " مقعدًا",
                _ => " مقعد",
            };
            separated(&mut other, seats, "٬");
            other.push_str(noun);
            black_box(&other);
        },
    ));
    let amount = Decimal::parse("1234.5").expect("a number");
    rows.push(compare(
        "an amount of money; `write!` with two digits",
        4.0,
        || say(black_box(&fare), &english, &args! { fare: amount.clone() }),
        || {
            other.clear();
            let _ = write!(other, "{:.2}", black_box(1234.5_f64));
            black_box(&other);
        },
    ));
    let date = jiff::civil::date(2026, 3, 1);
    rows.push(compare(
        "a medium date; `strftime` of the same fields",
        2.0,
        || say(black_box(&day), &english, &args! { day: black_box(date) }),
        || {
            other.clear();
            let _ = write!(other, "{}", black_box(date).strftime("%b %-d, %Y"));
            black_box(&other);
        },
    ));
    rows
}

fn separated(output: &mut String, number: u32, separator: &str) {
    if number >= 1000 {
        separated(output, number / 1000, separator);
        let _ = write!(output, "{separator}{:03}", number % 1000);
    } else {
        let _ = write!(output, "{number}");
    }
}
