//! What is done with any bytes: once by each fuzz target, and by `cargo run -p xtask -- mutate`.

use crow_fly_core::accept::AcceptLanguage;
use crow_fly_core::args;
use crow_fly_core::catalog::{Catalog, FileFormat, SectionSource};
use crow_fly_core::locale_set::LocaleSet;
use crow_fly_core::message::{FormatContext, Message, Program, SyntaxTree};
use crow_fly_core::policy::{Facts, Outcome, Policy, SessionValue};
use crow_fly_core::route::is_local;
use crow_fly_core::tag::LanguageTag;

/// A target: its name, which is that of its folder of examples, and what it does.
pub(crate) type Target = (&'static str, fn(&[u8]));

/// All targets.
pub(crate) const TARGETS: [Target; 4] =
    [("message", message), ("catalog", catalog), ("header", header), ("path", path)];

/// Any text as a message: parsed, printed, compiled, and formatted in every form.
pub(crate) fn message(data: &[u8]) {
    let Ok(source) = std::str::from_utf8(data) else { return };
    let tree = SyntaxTree::parse(source);
    let text: String = tree.root().tokens().map(|token| token.text()).collect();
    assert_eq!(text, source);
    let Ok(message) = Message::parse(source) else { return };
    let printed = message.to_string();
    let again = Message::parse(&printed).expect("what is printed is read again");
    assert_eq!(again.to_string(), printed);
    let program = Program::compile(&message);
    let args = args! { x: source, n: 3, d: "2026-03-01T09:30:00Z", list: [source, "b", "c"] };
    for tag in ["en", "pl", "ar-EG"] {
        let context = FormatContext::of(&tag.parse().expect("a well-formed tag"));
        let text = program.format(&context, &args).text();
        assert_eq!(text, program.format(&context, &args).to_string());
        let _ = program.format(&context, &args).html();
        let _ = program.format(&context, &args).parts();
    }
}

/// Any bytes as a catalog's file: what is found lies in the file, and every message that is there has a key.
pub(crate) fn catalog(data: &[u8]) {
    for format in [FileFormat::Toml, FileFormat::Json] {
        let source = SectionSource::read(data, format);
        let (catalog, findings) = Catalog::compile("en", "home", &source);
        for (_, key) in catalog.messages() {
            assert!(source.entries().iter().any(|entry| entry.key() == key), "{key}");
        }
        let lines = source.text().lines().count() as u64 + 1;
        for place in findings.iter().filter_map(|finding| finding.place) {
            assert!(u64::from(place.line) <= lines, "{place:?}");
        }
    }
}

/// Any bytes as a header, and as a tag.
pub(crate) fn header(data: &[u8]) {
    let set = LocaleSet::parse(["en", "en-GB", "cy", "pl", "ar", "zh-Hant"]).expect("they are tags");
    assert_eq!(set.closest_in(data), set.closest(&AcceptLanguage::parse_lines([data])));
    let Ok(text) = std::str::from_utf8(data) else { return };
    let Ok(tag) = LanguageTag::parse(text) else { return };
    let canonical = tag.canonicalized();
    assert_eq!(canonical.canonicalized(), canonical);
    assert_eq!(canonical.to_string().parse::<LanguageTag>().as_ref(), Ok(&canonical));
    let _ = (canonical.maximized(), set.closest_to(&tag));
}

/// Any text as a path: wherever a visitor is sent is a path of this site.
pub(crate) fn path(data: &[u8]) {
    let Ok(path) = std::str::from_utf8(data) else { return };
    let policy = Policy::new(LocaleSet::parse(["en", "cy", "pl"]).expect("they are tags"));
    let facts = Facts {
        path,
        query: Some(path),
        session: SessionValue::Text(path),
        cookie: Some(path),
        ..Facts::default()
    };
    if let Outcome::Redirect { location, .. } = policy.decide(&facts).outcome {
        assert!(is_local(location.split(['?', '#']).next().unwrap_or_default()), "{location:?}");
    }
    for (locale, _) in policy.set().iter() {
        let address = policy.path(locale, path);
        assert!(address.len() > 4096 || is_local(&address), "{address:?}");
    }
}
