//! What pages hand to scripts, and texts by address.

use axum::Router;
use axum::body::{Body, to_bytes};
use crow_fly::source::Memory;
use crow_fly::{Config, CrowFly, args};
use http::{Request, Response};
use serde_json::{Value, json};
use tower::ServiceExt as _;

const ENGLISH: &str = r#"
title = "Book"
left = ".input {$seats :integer} .match $seats one {{One seat left}} * {{{$seats} seats left}}"
help = "Help"
leaves = "Leaves at {$time :time}"
hostile = "</script><script>alert(1)</script><!-- \u2028 & \" end"
broken = "{$"
"#;

const POLISH: &str = r#"
title = "Rezerwacja"
left = ".input {$seats :integer} .match $seats one {{Jedno miejsce}} few {{{$seats} miejsca}} * {{{$seats} miejsc}}"
# untranslated
help = "Help"
"#;

fn crow() -> CrowFly {
    let config = Config::parse(
        "default = 'en'\nlocales = ['en', 'pl', 'ar']\n[catalogs]\ninherits = ['ar']\n[browser]\nsections = ['booking']",
    );
    CrowFly::new(
        config.unwrap(),
        Memory::new([
            ("en", "booking", ENGLISH),
            ("pl", "booking", POLISH),
            ("en", "secret", "plan = 'Not for visitors'"),
        ]),
    )
}

async fn ask(crow: &CrowFly, address: &str, headers: &[(&str, &str)]) -> (Response<()>, String) {
    let app = Router::new().merge(crow.texts_router()).merge(crow.router(Router::new()));
    let mut request = Request::get(address);
    for (name, value) in headers {
        request = request.header(*name, *value);
    }
    let (parts, body) = app.oneshot(request.body(Body::empty()).unwrap()).await.unwrap().into_parts();
    let body = to_bytes(body, 1 << 20).await.unwrap();
    (Response::from_parts(parts, ()), String::from_utf8(body.to_vec()).unwrap())
}

fn header<'r>(response: &'r Response<()>, name: &str) -> &'r str {
    response.headers().get(name).map_or("", |value| value.to_str().unwrap())
}

fn parsed(text: &str) -> Value {
    serde_json::from_str(text).unwrap_or_else(|error| panic!("{text}: {error}"))
}

#[tokio::test]
async fn a_page_hands_over_its_locale_texts_and_sections() {
    let crow = crow();
    let t = crow.translator_for("pl").await;
    let hand_off = t.hand_off().text("booking.title").text(("booking.left", args! { seats: 3 }));
    let hand_off = hand_off.text("booking.help").section("booking").await.unwrap();
    insta::assert_snapshot!(hand_off.to_json().replace("},", "},\n"));
    // The same each time.
    assert_eq!(hand_off.to_json(), hand_off.clone().to_json());
    let again = crow.translator_for("pl").await;
    let again = again.hand_off().text("booking.help").text(("booking.left", args! { seats: 3 }));
    let again = again.text("booking.title").section("booking").await.unwrap();
    assert_eq!(again.to_json(), hand_off.to_json());
    // A language that has nothing of its own hands over the texts of the chain, which say so.
    let arabic = crow.translator_for("ar").await;
    let arabic = parsed(&arabic.hand_off().section("booking").await.unwrap().to_json());
    assert_eq!(arabic["direction"], "rtl");
    assert_eq!(
        arabic["sections"]["booking"]["messages"]["title"],
        json!({ "locale": "en", "direction": "ltr", "message": "Book" })
    );
}

#[tokio::test]
async fn nothing_in_a_text_ends_the_block() {
    let crow = crow();
    let t = crow.translator_for("en").await;
    let name = "</script><img src=x onerror=alert(1)>";
    let hand_off = t.hand_off().text("booking.hostile").section("booking").await.unwrap();
    let html = hand_off.id(name).to_html();
    let html = html.as_str();
    let inner = html.split_once('>').unwrap().1.strip_suffix("</script>").unwrap();
    assert!(!inner.contains(['<', '>', '&', '\u{2028}']), "{inner}");
    assert_eq!(html.matches('<').count(), 2, "{html}");
    // What is escaped is the same text.
    let value = parsed(inner);
    assert!(value["texts"]["booking.hostile"].as_str().unwrap().starts_with("</script><script>"));
}

#[tokio::test]
async fn a_section_has_an_address_for_each_version_of_it() {
    let crow = crow();
    let t = crow.translator_for("pl").await;
    let hand_off = parsed(&t.hand_off().section_address("booking").await.unwrap().to_json());
    assert_eq!(hand_off["textsAddress"], "/texts/pl");
    let address = hand_off["addresses"]["booking"].as_str().unwrap().to_owned();
    let (reply, body) = ask(&crow, &address, &[]).await;
    assert_eq!(reply.status(), 200);
    assert_eq!(header(&reply, "cache-control"), "public, max-age=31536000, immutable");
    assert_eq!(parsed(&body)["messages"]["title"], "Rezerwacja");

    // Without a hash: the version of now, asked for again by its tag.
    let (reply, same) = ask(&crow, "/texts/pl/booking.json", &[]).await;
    assert_eq!((same, header(&reply, "cache-control")), (body, "no-cache"));
    let tag = header(&reply, "etag").to_owned();
    let (reply, body) =
        ask(&crow, "/texts/pl/booking.json", &[("if-none-match", &format!("\"x\", W/{tag}"))]).await;
    assert_eq!((reply.status().as_u16(), body.as_str()), (304, ""));

    // What is not known is not kept, and neither is what is not public.
    for unknown in [
        "/texts/pl/booking.0123456789abcdef.json",
        "/texts/pl/secret.json",
        "/texts/pl/secret.0123456789abcdef.json",
        "/texts/pl/nothing.json",
        "/texts/de/booking.json",
        "/texts/pl/booking",
        "/texts/pl/../secret.json",
        "/texts/pl?key=secret.plan",
        "/texts/pl?key=booking.none",
        "/texts/pl?key=booking",
        "/texts/pl",
    ] {
        let (reply, body) = ask(&crow, unknown, &[]).await;
        assert_eq!(
            (reply.status().as_u16(), header(&reply, "cache-control")),
            (404, "no-store"),
            "{unknown}"
        );
        assert!(!body.contains("Not for visitors"));
    }
}

#[tokio::test]
async fn the_version_before_keeps_its_address_for_a_while() {
    let folder = tempfile::tempdir().unwrap();
    let write = |text: &str| {
        std::fs::create_dir_all(folder.path().join("en")).unwrap();
        std::fs::write(folder.path().join("en/booking.toml"), text).unwrap();
    };
    write("title = 'One'");
    let config = Config::parse(
        "development = false\ndefault = 'en'\nlocales = ['en']\n[browser]\nsections = ['booking']",
    );
    let crow = CrowFly::new(config.unwrap(), crow_fly::source::Directory::new(folder.path()));
    let address = async || {
        let t = crow.translator_for("en").await;
        let hand_off = parsed(&t.hand_off().section_address("booking").await.unwrap().to_json());
        hand_off["addresses"]["booking"].as_str().unwrap().to_owned()
    };
    let first = address().await;
    for version in ["two words", "three words", "four words more"] {
        write(&format!("title = '{version}'"));
        crow.reload().await.unwrap();
        assert_ne!(address().await, first);
        let (reply, body) = ask(&crow, &first, &[]).await;
        // Three versions have their addresses.
        let is_kept = version != "four words more";
        assert_eq!(reply.status() == 200 && body.contains("One"), is_kept, "{version}: {body}");
    }
}

#[tokio::test]
async fn a_text_is_formatted_by_the_one_formatter() {
    let crow = crow();
    let (reply, body) = ask(&crow, "/texts/pl?key=booking.left&seats=1204", &[]).await;
    assert_eq!(header(&reply, "cache-control"), "public, max-age=60");
    assert_eq!(header(&reply, "content-language"), "pl");
    let value = parsed(&body);
    let t = crow.translator_for("pl").await;
    assert_eq!(value["text"], t.text(("booking.left", args! { seats: 1204 })));
    assert_eq!((&value["locale"], &value["direction"]), (&json!("pl"), &json!("ltr")));
    let tag = header(&reply, "etag").to_owned();
    let (reply, _) = ask(&crow, "/texts/pl?key=booking.left&seats=1204", &[("if-none-match", &tag)]).await;
    assert_eq!(reply.status(), 304);
    // A text of another language says which; HTML is escaped.
    let (reply, body) = ask(&crow, "/texts/ar?key=booking.hostile", &[]).await;
    let value = parsed(&body);
    assert_eq!((&value["locale"], &value["direction"]), (&json!("en"), &json!("ltr")));
    assert_eq!(header(&reply, "content-language"), "en");
    assert!(value["html"].as_str().unwrap().contains("&lt;/script&gt;"), "{value}");
    // Moments are shown where the reader is.
    let (_, body) =
        ask(&crow, "/texts/en?key=booking.leaves&time=2026-05-01T07:30:00Z&time-zone=Europe%2FWarsaw", &[])
            .await;
    assert!(body.contains("9:30"), "{body}");
    assert_eq!(ask(&crow, "/texts/en?key=booking.title&time-zone=Atlantis", &[]).await.0.status(), 404);
    // What cannot be formatted is not kept.
    let (reply, body) = ask(&crow, "/texts/pl?key=booking.left&seats=many", &[]).await;
    assert_eq!((reply.status().as_u16(), header(&reply, "cache-control")), (422, "no-store"));
    assert!(body.contains("needs a number"), "{body}");
    // Bounds.
    let long = format!("/texts/pl?key=booking.left&seats={}", "1".repeat(5000));
    assert_eq!(ask(&crow, &long, &[]).await.0.status(), 414);
    let many = format!("/texts/pl?key=booking.left{}", "&a=1".repeat(17));
    assert_eq!(ask(&crow, &many, &[]).await.0.status(), 404);
    let app = Router::new().merge(crow.texts_router());
    let post = Request::post("/texts/pl?key=booking.title").body(Body::empty()).unwrap();
    assert_eq!(app.oneshot(post).await.unwrap().status(), 405);
}

fn many(locale: &str, texts: &Value) -> String {
    let query: String = form_urlencoded::byte_serialize(texts.to_string().as_bytes()).collect();
    format!("/texts/{locale}?texts={query}")
}

#[tokio::test]
async fn many_texts_come_in_one_answer() {
    let crow = crow();
    let questions = json!([
        ["booking.left", { "seats": 3 }],
        ["booking.title"],
        ["booking.leaves", { "time": { "date": "2026-05-01T07:30:00Z" } }],
    ]);
    let address = many("pl", &questions);
    let (reply, body) = ask(&crow, &format!("{address}&time-zone=Europe/Warsaw"), &[]).await;
    assert_eq!((reply.status().as_u16(), header(&reply, "cache-control")), (200, "public, max-age=60"));
    assert_eq!(header(&reply, "content-language"), "pl");
    let texts = parsed(&body)["texts"].clone();
    let said = |at: usize| (texts[at]["text"].as_str().unwrap(), texts[at]["locale"].as_str().unwrap());
    assert_eq!(
        [said(0), said(1), said(2)],
        [("3 miejsca", "pl"), ("Rezerwacja", "pl"), ("Leaves at 9:30\u{202f}AM", "en")]
    );
    let tag = header(&reply, "etag").to_owned();
    let again = ask(&crow, &format!("{address}&time-zone=Europe/Warsaw"), &[("if-none-match", &tag)]).await;
    assert_eq!((again.0.status().as_u16(), again.1.as_str()), (304, ""));
    // A reader's own formats, of the same language.
    let of = async |formats: &str| {
        let address = many("en", &json!([["booking.left", { "seats": 120_400 }]]));
        let (reply, body) = ask(&crow, &format!("{address}&formats={formats}"), &[]).await;
        (reply.status().as_u16(), body.contains("1,20,400"), body.contains("120,400"))
    };
    assert_eq!([of("en-IN").await, of("en-GB").await], [(200, true, false), (200, false, true)]);
    assert_eq!([of("hi-IN").await.0, of("x").await.0], [404, 404]);
    // One that is not there, not public, or wrong, does not take the others with it; caches keep none of them.
    let mixed = json!([
        ["booking.title"],
        ["booking.none"],
        ["secret.plan"],
        ["title"],
        ["booking.left", { "seats": "many" }],
        ["booking.left", { "seats": { "amount": 3 } }],
        ["booking.left", { "seats": { "text": "secret.plan" } }],
        ["booking.left", { "seats": { "text": "booking.title", "arguments": { "x": { "text": "booking.title" } } } }],
    ]);
    let (reply, body) = ask(&crow, &many("pl", &mixed), &[]).await;
    assert_eq!((reply.status().as_u16(), header(&reply, "cache-control")), (200, "no-store"));
    assert!(!body.contains("Not for visitors"), "{body}");
    insta::assert_snapshot!(body.replace("},{", "},\n{"));
    // Bounds, and what cannot be read.
    let thirty_three = Value::Array(vec![json!(["booking.title"]); 33]);
    for (texts, status) in [
        (thirty_three, 400),
        (json!("booking.title"), 400),
        (json!(["booking.title"]), 400),
        (json!([[]]), 400),
        (json!([["booking.title", []]]), 400),
        (json!([["booking.title", {}, {}]]), 400),
        (json!([[1]]), 400),
        (json!([["booking.left", { "seats": "1".repeat(4000) }]]), 414),
        (json!([]), 200),
    ] {
        let (reply, body) = ask(&crow, &many("pl", &texts), &[]).await;
        assert_eq!(reply.status(), status, "{texts} {body}");
    }
    let deep = format!("/texts/pl?texts={}", "[".repeat(3000));
    assert_eq!(ask(&crow, &deep, &[]).await.0.status(), 400);
    let seventeen: serde_json::Map<_, _> = (0..17).map(|at| (format!("a{at}"), json!(at))).collect();
    let (_, body) = ask(&crow, &many("pl", &json!([["booking.title", seventeen]])), &[]).await;
    assert_eq!(body, r#"{"texts":[{"errors":[]}]}"#);
}

#[tokio::test]
async fn the_module_is_served_with_a_hash_and_is_small() {
    let crow = crow();
    let address = crow.translator_for("pl").await.module_address().unwrap();
    let (reply, module) = ask(&crow, &address, &[]).await;
    assert_eq!(header(&reply, "content-type"), "text/javascript; charset=utf-8");
    assert_eq!(header(&reply, "cache-control"), "public, max-age=31536000, immutable");
    assert!(module.contains("export function texts("));
    let mut small = flate2::write::GzEncoder::new(Vec::new(), flate2::Compression::best());
    std::io::Write::write_all(&mut small, module.as_bytes()).unwrap();
    let small = small.finish().unwrap().len();
    assert!(small <= 4_000, "{small} bytes");
    // Without its hash it leads there; with the hash of another program it is this program's, and is asked for again.
    let (reply, lead) = ask(&crow, "/texts/crow-fly.js", &[]).await;
    assert_eq!(lead, format!("export * from \"./{}\";\n", address.strip_prefix("/texts/").unwrap()));
    assert_eq!(header(&reply, "cache-control"), "no-cache");
    let (reply, other) = ask(&crow, "/texts/crow-fly.0123456789abcdef.js", &[]).await;
    assert_eq!((other, header(&reply, "cache-control")), (module, "no-cache"));
    for unknown in ["/texts/crow-fly.0123.js", "/texts/crow-fly.0123456789abcdeg.js", "/texts/other.js"] {
        assert_eq!(ask(&crow, unknown, &[]).await.0.status(), 404, "{unknown}");
    }
    // Where no section is public there is none. Below a base that is taken off, the address has it.
    let at = async |config: &str| {
        let crow = CrowFly::new(Config::parse(config).unwrap(), Memory::default());
        crow.translator_for("en")
            .await
            .module_address()
            .map(|address| address.split('.').next().unwrap().to_owned())
    };
    let own = "default = 'en'\nlocales = ['en', 'pl']\n";
    let public = "\n[browser]\nsections = ['booking']";
    assert_eq!(at(own).await, None);
    for (policy, address) in [
        ("", "/texts/crow-fly"),
        ("[policy]\nbase = '/shop'", "/shop/texts/crow-fly"),
        ("[policy]\nbase = '/shop'\nbase-stripped = true", "/shop/texts/crow-fly"),
    ] {
        assert_eq!(at(&format!("{own}{policy}{public}")).await.as_deref(), Some(address), "{policy}");
    }
}

#[tokio::test]
async fn a_mark_says_the_same_text_again() {
    use crow_fly::{Currency, Decimal, Html, Money, Value as Argument};
    let one = "one = 'a {$value} b'\nnumber = '{$value :number}'\nday = '{$value :datetime}'\nlength = '{$value :crow:duration}'\nlist = '{$value :crow:list}'\nwithin = '<{$value}>'";
    let config =
        Config::parse("default = 'en'\nlocales = ['en', 'ar']\n[browser]\nsections = ['all']").unwrap();
    let crow = CrowFly::new(
        config,
        Memory::new([("en", "all", one), ("ar", "all", one), ("en", "own", "title = 'x'")]),
    );
    let moment: jiff::Timestamp = "2026-05-01T07:30:00Z".parse().unwrap();
    let values: Vec<(&str, Argument<'static>)> = vec![
        ("one", "<b> & \"'\u{2028} 007".into()),
        ("one", "12".into()),
        ("one", 12.into()),
        ("one", i64::MAX.into()),
        ("number", i64::MIN.into()),
        ("one", 0.1.into()),
        ("one", 1e21.into()),
        ("number", 1e-7.into()),
        ("one", Decimal::parse("12.50").unwrap().into()),
        ("number", Decimal::parse("12345678901234567890.123456789").unwrap().into()),
        ("one", Money::new(Decimal::parse("12.50").unwrap(), Currency::parse("EUR").unwrap()).into()),
        ("one", true.into()),
        ("one", moment.into()),
        ("day", moment.into()),
        ("day", moment.to_zoned(jiff::tz::TimeZone::get("Asia/Tokyo").unwrap()).into()),
        ("one", jiff::civil::date(2026, 5, 1).into()),
        ("one", jiff::civil::time(9, 30, 0, 0).into()),
        ("day", jiff::civil::date(2026, 5, 1).at(9, 30, 0, 0).into()),
        ("one", jiff::Span::new().hours(1).minutes(30).into()),
        ("length", jiff::Span::new().hours(-1).into()),
        ("list", vec!["Holm", "Ness"].into()),
        ("list", vec![1, 2].into()),
    ];
    for locale in ["en", "ar"] {
        let t = crow.translator_for(locale).await;
        for (name, value) in &values {
            let key = format!("all.{name}");
            let message = || (key.clone(), args! { value: value.clone() });
            let marked = t.marked(message());
            let given = marked.arguments().unwrap_or_else(|| panic!("{key} {value:?} is not marked"));
            // As a script hands it on: numbers as it has them.
            let question = json!([[marked.key().unwrap(), parsed(given)]]);
            let (_, body) = ask(&crow, &many(locale, &question), &[]).await;
            let said = &parsed(&body)["texts"][0];
            assert_eq!(said["text"], t.text(message()), "{given}: {body}");
            assert_eq!(said["html"], t.html(message()).as_str(), "{given}");
        }
    }
    // What a script could not have is not marked, and is shown all the same.
    let t = crow.translator_for("en").await;
    let html = Html::escape("x");
    for marked in [t.marked("own.title"), t.marked(("all.one", args! { value: html }))] {
        assert_eq!((marked.key(), marked.arguments(), marked.attributes().as_str()), (None, None, ""));
        assert_eq!(marked.to_string(), marked.html().to_string());
    }
    // A text within a text; not one within that.
    let inner = || t.marked(("all.one", args! { value: 3 }));
    let within = t.marked(("all.within", args! { value: inner() }));
    let given = json!({ "value": { "text": "all.one", "arguments": { "value": 3 } } });
    assert_eq!(parsed(within.arguments().unwrap()), given);
    let (_, body) =
        ask(&crow, &many("en", &json!([["all.within", parsed(within.arguments().unwrap())]])), &[]).await;
    assert_eq!(parsed(&body)["texts"][0]["html"], within.html().as_str());
    assert_eq!(t.marked(("all.within", args! { value: within })).key(), None);
}

#[tokio::test]
async fn an_answer_of_many_texts_has_a_limit() {
    let long = format!("long = '{}'", "x".repeat(20_000));
    let config = Config::parse("default = 'en'\nlocales = ['en']\n[browser]\nsections = ['home']").unwrap();
    let crow = CrowFly::new(config, Memory::new([("en", "home", long.as_str())]));
    let (reply, body) = ask(&crow, &many("en", &Value::Array(vec![json!(["home.long"]); 32])), &[]).await;
    let texts = parsed(&body)["texts"].as_array().unwrap().clone();
    let there = texts.iter().filter(|text| text["text"].is_string()).count();
    assert_eq!((texts.len(), there, header(&reply, "cache-control")), (32, 6, "no-store"));
    assert_eq!(texts[31], json!({ "errors": ["the texts of one answer are too long"] }));
    assert!(body.len() < 300_000);
}
