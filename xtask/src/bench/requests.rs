//! From header to locale, from request to decision, beside parsing by hand.

use std::collections::HashMap;
use std::hint::black_box;

use crow_fly::source::Memory;
use crow_fly::{Config, CrowFly};
use crow_fly_core::locale_set::LocaleSet;
use crow_fly_core::names;
use crow_fly_core::policy::{Facts, Policy, SessionValue};
use crow_fly_core::tag::LanguageTag;
use http::{Request, Response};
use http_body_util::Empty;
use tower_layer::Layer;
use tower_service::Service;

use super::{Added, Table};

/// Forty locales as a large site may have them.
const FORTY: [&str; 40] = [
    "en", "en-GB", "cy", "de", "de-AT", "fr-FR", "fr-CA", "es-ES", "es-419", "pt-PT", "pt-BR", "it", "nl",
    "nb", "da", "sv", "fi", "pl", "cs", "sk", "hu", "ro", "bg", "el", "tr", "ru", "uk-UA", "he", "ar", "fa",
    "hi", "th", "vi", "id", "ja", "ko", "zh-Hans", "zh-Hant", "sr-Latn", "et",
];

/// What a browser sends, with an exact hit at its first range.
const EXACT: &str = "en-GB,en;q=0.9,cy;q=0.8,de;q=0.7";

/// Four ranges: not one is a locale as written, nor is its bare language.
const NEAR: &str = "es-CL,pt-AO;q=0.9,zh-HK;q=0.8,sr-ME;q=0.7";

/// The hand-written way: split, cut, lower-case, look up, then the primary subtag.
fn by_hand(header: &str, known: &HashMap<String, usize>) -> Option<usize> {
    header.split(',').find_map(|member| {
        let range = member.split(';').next()?.trim().to_ascii_lowercase();
        known.get(&range).or_else(|| known.get(range.split('-').next()?)).copied()
    })
}

#[allow(clippy::naive_bytecount, reason = "the baseline is the naive way")]
pub(super) fn headers(table: &Table<'_>) {
    let forty = LocaleSet::parse(FORTY).expect("the list is well-formed");
    let thousand = names::locales().filter(|tag| *tag != "und").map(str::to_owned);
    // CLDR has some 760 locales; private ones fill the thousand. The exact ranges are left out, so that they are near.
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
    table.row(
        "header → locale, 40 locales, exact hit; by hand",
        0.45,
        || closest(&forty, EXACT),
        || {
            black_box(by_hand(black_box(EXACT), &known));
        },
    );
    table.row(
        "header → locale, 40 locales, by distance; by hand",
        3.0,
        || closest(&forty, NEAR),
        || {
            black_box(by_hand(black_box(NEAR), &known));
        },
    );
    table.row(
        "header → locale, 1,000 locales; 40 locales",
        2.0,
        || closest(&thousand, NEAR),
        || closest(&forty, NEAR),
    );
    table.row(
        "64 kB hostile header → locale; counting its commas",
        20.0,
        || closest(&forty, &hostile),
        || {
            black_box(black_box(hostile.as_bytes()).iter().filter(|byte| **byte == b',').count());
        },
    );
}

pub(super) fn tags(table: &Table<'_>) {
    let row = |name, tag: &'static str| {
        table.row(
            name,
            1.4,
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
        );
    };
    row("parse and canonicalize `en-GB`; lower-casing it", "en-GB");
    row("parse and canonicalize `zh-Hant-HK`; lower-casing it", "zh-Hant-HK");
}

pub(super) fn decisions(table: &Table<'_>) {
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
    table.row(
        "decide a page behind a prefix; parsing the cookie header",
        3.0,
        || {
            black_box(policy.decide(&facts(black_box("/cy/sailings/12"))));
        },
        parse_cookies,
    );
    table.row(
        "decide a first visit to the root; parsing the cookie header",
        1.0,
        || {
            black_box(policy.decide(&facts(black_box("/"))));
        },
        parse_cookies,
    );
}

/// What the layer adds to a service that answers at once, by calling both in process.
pub(super) fn layer(table: &Table<'_>) {
    let config = Config::parse("default = 'en'\nlocales = ['en', 'en-GB', 'cy', 'pl', 'ar']")
        .expect("it is well-formed");
    let crow = CrowFly::new(config, Memory::new([("cy", "home", "title = 'Hwyliadau'")]));
    let inner = tower::service_fn(|_: Request<Empty<&'static [u8]>>| async {
        Ok::<_, std::convert::Infallible>(Response::new(Empty::<&'static [u8]>::new()))
    });
    let mut bare = inner;
    let mut layered = crow.layer().layer(inner);
    let runtime = tokio::runtime::Builder::new_current_thread().enable_time().build().expect("a runtime");
    let request = || {
        let request =
            Request::builder().uri(black_box("/cy/sailings/12?day=2")).header("accept-language", EXACT);
        request.header("cookie", "theme=dark; locale=cy").body(Empty::new()).expect("a request")
    };
    table.added(
        "a request through the layer; the same without it",
        &Added { nanoseconds: 1500.0, allocations: 12, baseline: 700.0 },
        || {
            black_box(runtime.block_on(layered.call(request()))).ok();
        },
        || {
            black_box(runtime.block_on(bare.call(request()))).ok();
        },
    );
}
