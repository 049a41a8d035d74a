//! Localized paths, in and out.

use crow_fly_core::locale_set::{LocaleId, LocaleSet};
use crow_fly_core::route::{PathMatch, Routes, Unsupported, is_local};

use crate::tag;

fn set() -> LocaleSet {
    LocaleSet::parse(["en", "en-GB", "cy", "he", "pt-BR"]).unwrap()
}

fn locale(set: &LocaleSet, text: &str) -> LocaleId {
    set.exact(&tag(text)).unwrap()
}

/// `page cy /sailings`, `moved /cy`, `skipped` or `unsupported`.
fn read(routes: &Routes, path: &str) -> String {
    let set = set();
    match routes.read(&set, path) {
        PathMatch::Skipped => "skipped".to_owned(),
        PathMatch::Unsupported => "unsupported".to_owned(),
        PathMatch::Moved { address, .. } => format!("moved {address}"),
        PathMatch::Page { locale, path } => format!("page {} {path}", locale.map_or("-", |id| set.text(id))),
    }
}

#[test]
fn the_first_segment_names_the_locale() {
    let routes = Routes::new().with_skip(["/assets", "/api/"]);
    for (path, expected) in [
        ("/", "page - /"),
        ("/sailings", "page - /sailings"),
        ("/cy", "page cy /"),
        ("/cy/", "page cy /"),
        ("/cy/sailings/", "page cy /sailings/"),
        ("/en-GB/a%2Fb/%C5%82", "page en-GB /a%2Fb/%C5%82"),
        // One address for one page.
        ("/CY/sailings", "moved /cy/sailings"),
        ("/en-gb", "moved /en-GB"),
        ("/pt_BR/x", "moved /pt-BR/x"),
        ("/iw/x", "moved /he/x"),
        ("/en/x", "moved /x"),
        ("/en", "moved /"),
        ("/en/en", "unsupported"),
        ("/en/cy/x", "unsupported"),
        ("/en//evil.example", "moved /.//evil.example"),
        // Real languages that are not there, and words that are none.
        ("/de/sailings", "unsupported"),
        ("/is", "unsupported"),
        ("/de-CH", "unsupported"),
        ("/about", "page - /about"),
        ("/cyx", "page - /cyx"),
        ("/api-docs", "page - /api-docs"),
        // Nothing but a whole segment is a prefix.
        ("/cy%2Fx", "page - /cy%2Fx"),
        ("/%63y/x", "page - /%63y/x"),
        ("/./cy", "page - /./cy"),
        ("/../cy", "page - /../cy"),
        ("//cy/x", "page - //cy/x"),
        ("/cy\\x", "page - /cy\\x"),
        ("/assets/cy.css", "skipped"),
        ("/assets", "skipped"),
        ("/assetsx", "page - /assetsx"),
        ("/api/cy", "skipped"),
    ] {
        assert_eq!(read(&routes, path), expected, "{path}");
    }
    assert_eq!(read(&Routes::new().with_unsupported(Unsupported::Page), "/is"), "page - /is");
}

#[test]
fn the_default_may_have_a_prefix_too() {
    let routes = Routes::new().with_prefixed_default(true);
    assert_eq!(read(&routes, "/en/x"), "page en /x");
    assert_eq!(read(&routes, "/x"), "page - /x");
    let set = set();
    assert_eq!(routes.path(&set, set.default_locale(), "/x"), "/en/x");
}

#[test]
fn an_application_may_be_mounted_below_a_path() {
    let routes = Routes::new().with_base("/shop/");
    for (path, expected) in [
        ("/shop/cy/x", "page cy /shop/x"),
        ("/shop/x", "page - /shop/x"),
        ("/shop", "page - /shop"),
        ("/cy/x", "skipped"),
        ("/shopping", "skipped"),
        ("/shop/CY", "moved /shop/cy"),
    ] {
        assert_eq!(read(&routes, path), expected, "{path}");
    }
    let set = set();
    assert_eq!(routes.path(&set, locale(&set, "cy"), "/shop/x?a=b"), "/shop/cy/x?a=b");
    assert_eq!(routes.path(&set, locale(&set, "cy"), "/elsewhere"), "/elsewhere");
    assert_eq!(routes.path(&set, set.default_locale(), "/shop"), "/shop/");
}

#[test]
fn addresses_are_safe_to_redirect_to() {
    let (set, routes) = (set(), Routes::new());
    for (path, english, welsh) in [
        ("/", "/", "/cy"),
        ("", "/", "/cy"),
        ("/sailings/?a=1#top", "/sailings/?a=1#top", "/cy/sailings/?a=1#top"),
        ("/?a=/x", "/?a=/x", "/cy?a=/x"),
        ("//evil.example", "/.//evil.example", "/cy//evil.example"),
        ("/\\evil.example", "/%5Cevil.example", "/cy/%5Cevil.example"),
        ("sailings", "/sailings", "/cy/sailings"),
    ] {
        assert_eq!(routes.path(&set, set.default_locale(), path), english, "{path}");
        assert_eq!(routes.path(&set, locale(&set, "cy"), path), welsh, "{path}");
    }
    for forged in [
        "",
        "x",
        "//evil",
        "///evil",
        "/\\evil",
        "\\\\evil",
        "/\tevil",
        "/a\r\nSet-Cookie: x",
        "/a b",
        "/caf\u{e9}",
        "http:/x",
        "javascript:alert(1)",
    ] {
        assert!(!is_local(forged), "{forged:?}");
    }
    assert!(!is_local(&format!("/{}", "a".repeat(5000))));
    assert!(is_local("/caf%C3%A9/?a=//b&c=\u{7e}"));
}

#[test]
fn segments_are_translated_in_both_directions() {
    let set = set();
    let (welsh, hebrew) = (locale(&set, "cy"), locale(&set, "he"));
    let routes = Routes::new()
        .with_segment(&set, welsh, "sailings", "teithiau")
        .unwrap()
        .with_segment(&set, hebrew, "sailings", "הפלגות")
        .unwrap();
    assert_eq!(routes.path(&set, welsh, "/sailings/7?a=sailings"), "/cy/teithiau/7?a=sailings");
    assert_eq!(routes.path(&set, hebrew, "/sailings"), "/he/%D7%94%D7%A4%D7%9C%D7%92%D7%95%D7%AA");
    for (path, expected) in [
        ("/cy/teithiau/7", "page cy /sailings/7"),
        ("/he/%D7%94%D7%A4%D7%9C%D7%92%D7%95%D7%AA/7", "page he /sailings/7"),
        ("/cy/sailings/7", "moved /cy/teithiau/7"),
        ("/sailings/7", "page - /sailings/7"),
        ("/teithiau", "page - /teithiau"),
    ] {
        assert_eq!(read(&routes, path), expected, "{path}");
    }
    let error = routes.with_segment(&set, welsh, "trips", "teithiau").unwrap_err();
    insta::assert_snapshot!(error, @"in `cy` the path segment `teithiau` would stand for both `sailings` and `trips`: translate one of them otherwise");
}
