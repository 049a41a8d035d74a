//! Localized paths, in and out.

use crow_fly_core::locale_set::{LocaleId, LocaleSet};
use crow_fly_core::route::{
    PathMatch, PathPattern, PathsError, Routes, RoutesBuilder, RoutesError, is_local, local,
};

use proptest::prelude::*;

use crate::tag;

fn set() -> LocaleSet {
    LocaleSet::parse(["en", "en-GB", "cy", "he", "pt-BR"]).unwrap()
}

fn locale(set: &LocaleSet, text: &str) -> LocaleId {
    set.exact(&tag(text)).unwrap()
}

/// `page cy /sailings`, `moved /cy` or `skipped`.
fn read(routes: &Routes, path: &str) -> String {
    let set = set();
    match routes.read(path) {
        PathMatch::Skipped => "skipped".to_owned(),
        PathMatch::Moved { address, .. } => format!("moved {address}"),
        PathMatch::Page { locale, path } => format!("page {} {path}", locale.map_or("-", |id| set.text(id))),
    }
}

#[test]
fn the_first_segment_names_the_locale() {
    let routes = Routes::builder(&set()).with_skip(["/assets", "/api/"]).build().unwrap();
    for (path, expected) in [
        ("/", "page - /"),
        ("/sailings", "page - /sailings"),
        ("/cy", "page cy /"),
        ("/cy/sailings/", "page cy /sailings/"),
        ("/en-GB/a%2Fb/%C5%82", "page en-GB /a%2Fb/%C5%82"),
        // One address for one page.
        ("/CY/sailings", "moved /cy/sailings"),
        ("/en-gb", "moved /en-GB"),
        ("/cy/", "moved /cy"),
        ("/CY/", "moved /cy"),
        ("/en/x", "moved /x"),
        ("/en", "moved /"),
        // It has no address of the default's: the application has it as it is.
        ("/en/en", "page - /en/en"),
        ("/en/cy/x", "page - /en/cy/x"),
        ("/en//evil.example", "moved /.//evil.example"),
        // What is not a prefix is a page of the application's, whatever languages there are.
        ("/de/sailings", "page - /de/sailings"),
        ("/is", "page - /is"),
        ("/my/plots", "page - /my/plots"),
        ("/pt_BR/x", "page - /pt_BR/x"),
        ("/iw/x", "page - /iw/x"),
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
}

#[test]
fn the_default_may_have_a_prefix_too() {
    let routes = Routes::builder(&set()).with_prefixed_default(true).build().unwrap();
    assert_eq!(read(&routes, "/en/x"), "page en /x");
    assert_eq!(read(&routes, "/x"), "page - /x");
    let set = set();
    assert_eq!(routes.path(set.default_locale(), "/x"), "/en/x");
}

#[test]
fn an_application_may_be_mounted_below_a_path() {
    let routes = Routes::builder(&set()).with_base("/shop/").build().unwrap();
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
    assert_eq!(routes.path(locale(&set, "cy"), "/shop/x?a=b"), "/shop/cy/x?a=b");
    assert_eq!(routes.path(locale(&set, "cy"), "/elsewhere"), "/elsewhere");
    assert_eq!(routes.path(set.default_locale(), "/shop"), "/shop/");
    assert_eq!((routes.base(), Routes::new(&set).base()), ("/shop", ""));
    assert!(routes.is_root("/shop") && routes.is_root("/shop/"));
    assert!(!routes.is_root("/shop/x") && !routes.is_root("/") && !routes.is_root("/shopping"));
}

#[test]
fn others_may_take_the_base_off() {
    let set = set();
    let routes = Routes::builder(&set)
        .with_base("/shop")
        .with_stripped_base(true)
        .with_skip(["/assets"])
        .build()
        .unwrap();
    for (path, expected) in [
        ("/", "page - /"),
        ("/cy", "page cy /"),
        ("/cy/x", "page cy /x"),
        ("/shop/x", "page - /shop/x"),
        ("/CY/x", "moved /shop/cy/x"),
        ("/assets/x", "skipped"),
    ] {
        assert_eq!(read(&routes, path), expected, "{path}");
    }
    for (path, english, welsh) in [
        ("/x?a=b", "/shop/x?a=b", "/shop/cy/x?a=b"),
        ("/", "/shop/", "/shop/cy"),
        ("/cy/x", "/shop/cy/x", "/shop/cy/x"),
        ("/assets/x", "/shop/assets/x", "/shop/assets/x"),
        ("//evil", "/shop//evil", "/shop/cy//evil"),
    ] {
        assert_eq!(routes.path(set.default_locale(), path), english, "{path}");
        assert_eq!(routes.path(locale(&set, "cy"), path), welsh, "{path}");
    }
    assert_eq!(routes.unlocalized("/assets/x"), "/shop/assets/x");
    // What arrives when a browser follows an address; an address of another application stays as it is.
    for (address, path) in [
        ("/shop", "/"),
        ("/shop/", "/"),
        ("/shop?a=b", "?a=b"),
        ("/shop#top", "#top"),
        ("/shop/cy/x", "/cy/x"),
        ("/shopping", "/shopping"),
        ("/cy/x", "/cy/x"),
    ] {
        assert_eq!(routes.asked_for(address), path, "{address}");
        assert_eq!(Routes::builder(&set).with_base("/shop").build().unwrap().asked_for(address), address);
    }
    let nobody = Routes::builder(&set).with_stripped_base(true).build().unwrap();
    assert_eq!(nobody.unlocalized("/assets/x"), "/assets/x");
}

#[test]
fn addresses_are_safe_to_redirect_to() {
    let set = set();
    let routes = Routes::new(&set);
    for (path, english, welsh) in [
        ("/", "/", "/cy"),
        ("", "/", "/cy"),
        ("/sailings/?a=1#top", "/sailings/?a=1#top", "/cy/sailings/?a=1#top"),
        ("/?a=/x", "/?a=/x", "/cy?a=/x"),
        ("//evil.example", "/.//evil.example", "/cy//evil.example"),
        ("/\\evil.example", "/%5Cevil.example", "/cy/%5Cevil.example"),
        ("sailings", "/sailings", "/cy/sailings"),
    ] {
        assert_eq!(routes.path(set.default_locale(), path), english, "{path}");
        assert_eq!(routes.path(locale(&set, "cy"), path), welsh, "{path}");
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
        "/\u{7f}evil",
    ] {
        assert!(!is_local(forged), "{forged:?}");
    }
    assert!(!is_local(&format!("/{}", "a".repeat(5000))));
    assert!(is_local("/caf%C3%A9/?a=//b&c=\u{7e}"));
}

fn pattern(text: &str) -> PathPattern {
    PathPattern::parse(text).unwrap()
}

/// A page: bare pattern, and the patterns of locales.
type Page = (&'static str, &'static [(&'static str, &'static [&'static str])]);

/// Routes with pages.
fn with_pages(routes: RoutesBuilder, pages: &[Page]) -> Result<Routes, PathsError> {
    let set = set();
    let routes = pages.iter().fold(routes, |routes, (bare, localized)| {
        let localized = localized
            .iter()
            .map(|(tag, patterns)| (locale(&set, tag), patterns.iter().map(|text| pattern(text)).collect()));
        routes.with_page(&pattern(bare), localized)
    });
    routes.build().map_err(|error| match error {
        RoutesError::Page { error, .. } => error,
        error => panic!("{error}"),
    })
}

fn harbour() -> Routes {
    with_pages(
        Routes::builder(&set()),
        &[
            ("/sailings/{id}", &[("cy", &["/teithiau/{id}", "/hwyliadau/{id}"]), ("he", &["/הפלגות/{id}"])]),
            ("/sailings/map", &[("cy", &["/map-teithiau"])]),
            ("/plots/{name}", &[("cy", &["/lleiniau/{name}"])]),
            ("/account", &[("cy", &["/cyfrif"])]),
            ("/help/{*rest}", &[("cy", &["/cymorth/{*rest}"])]),
            ("/from/{a}/to/{b}", &[("cy", &["/i/{b}/o/{a}"])]),
            ("/offers", &[("en", &["/special-offers"])]),
        ],
    )
    .unwrap()
}

#[test]
fn a_pattern_matches_whole_paths() {
    for (written, matching, others) in [
        ("/", &["/", ""][..], &["/x", "//"][..]),
        (
            "/sailings",
            &["/sailings", "/%73ailings"],
            &["/", "/sailing", "/sailings/", "/sailings/7", "/Sailings"],
        ),
        (
            "/sailings/{id}",
            &["/sailings/7", "/sailings/%2F"],
            &["/sailings", "/sailings/", "/sailings/7/", "/x/7"],
        ),
        ("/{id}/seats", &["/7/seats"], &["//seats", "/7", "/7/seat"]),
        (
            "/help/{*page}",
            &["/help/boats", "/help/boats/bicycles", "/help/boats/"],
            &["/help", "/help/", "/x/boats"],
        ),
        ("/caf\u{e9}", &["/caf%C3%A9", "/caf%c3%a9", "/caf\u{e9}"], &["/cafe"]),
        ("/a b", &["/a%20b"], &["/a+b", "/ab"]),
        ("/a%2Fb", &["/a%2Fb", "/a%2fb"], &["/a/b"]),
    ] {
        for path in matching {
            assert!(pattern(written).matches(path), "{written} {path}");
        }
        for path in others {
            assert!(!pattern(written).matches(path), "{written} {path}");
        }
    }
    for wrong in [
        "", "x", "/x/", "/a//b", "/..", "/{", "/{}", "/{a b}", "/{*}", "/{*a b}", "/{*a}/b", "/{a}/{a}",
        "/a{b}", "/a?b", "/a\tb",
    ] {
        assert!(PathPattern::parse(wrong).is_err(), "{wrong}");
    }
}

#[test]
fn whole_paths_are_translated_in_both_directions() {
    let (set, routes) = (set(), harbour());
    for (tag, bare, address) in [
        ("cy", "/sailings/7?a=sailings#top", "/cy/teithiau/7?a=sailings#top"),
        ("cy", "/sailings/map", "/cy/map-teithiau"),
        ("he", "/sailings/7", "/he/%D7%94%D7%A4%D7%9C%D7%92%D7%95%D7%AA/7"),
        ("he", "/sailings/map", "/he/sailings/map"),
        // What differs from page to page is data.
        ("cy", "/plots/account", "/cy/lleiniau/account"),
        ("cy", "/plots/cyfrif", "/cy/lleiniau/cyfrif"),
        ("cy", "/help/a/account/b/", "/cy/cymorth/a/account/b/"),
        ("cy", "/from/x/to/y", "/cy/i/y/o/x"),
        ("cy", "/sailings/a%2Fb", "/cy/teithiau/a%2Fb"),
        ("cy", "/s%61ilings/7", "/cy/teithiau/7"),
        ("en", "/offers", "/special-offers"),
        // What is an address already stays as it is.
        ("cy", "/cy/teithiau/7?a", "/cy/teithiau/7?a"),
        ("he", "/cy", "/cy"),
        ("cy", "/en-GB?a=b", "/en-GB?a=b"),
        ("cy", "/teithiau/7", "/cy/teithiau/7"),
        // Nothing but a whole path is a page of the table.
        ("cy", "/sailings", "/cy/sailings"),
        ("cy", "/sailings/", "/cy/sailings/"),
        ("cy", "/sailings/7/seats", "/cy/sailings/7/seats"),
        ("cy", "/help", "/cy/help"),
        ("cy", "/account/account", "/cy/account/account"),
    ] {
        assert_eq!(routes.path(locale(&set, tag), bare), address, "{tag} {bare}");
    }
    for (path, expected) in [
        ("/cy/teithiau/7", "page cy /sailings/7"),
        ("/cy/t%65ithiau/7", "page cy /sailings/7"),
        ("/cy/map-teithiau", "page cy /sailings/map"),
        ("/he/%d7%94%D7%A4%D7%9C%D7%92%D7%95%D7%AA/7", "page he /sailings/7"),
        ("/cy/lleiniau/cyfrif", "page cy /plots/cyfrif"),
        ("/cy/i/y/o/x", "page cy /from/x/to/y"),
        ("/special-offers", "page - /offers"),
        // The bare form, and former ones, are redirected.
        ("/cy/sailings/7", "moved /cy/teithiau/7"),
        ("/cy/hwyliadau/7", "moved /cy/teithiau/7"),
        ("/CY/sailings/7", "moved /cy/teithiau/7"),
        ("/CY/hwyliadau/7", "moved /cy/teithiau/7"),
        ("/CY/teithiau/7", "moved /cy/teithiau/7"),
        ("/offers", "moved /special-offers"),
        ("/en/offers", "moved /special-offers"),
        ("/CY/caff\u{e8}", "moved /cy/caff%C3%A8"),
        // In other locales it is a page like any other.
        ("/teithiau/7", "page - /teithiau/7"),
        ("/pt-BR/sailings/7", "page pt-BR /sailings/7"),
        ("/cy/teithiau", "page cy /teithiau"),
        ("/cy/teithiau//7", "page cy /teithiau//7"),
        ("/cy/cymorth", "page cy /cymorth"),
    ] {
        assert_eq!(read(&routes, path), expected, "{path}");
    }
}

#[test]
fn prefixes_are_chosen_and_former_ones_are_redirected() {
    let set = set();
    let chosen = [(locale(&set, "pt-BR"), "br".to_owned()), (locale(&set, "cy"), "Cymru".to_owned())];
    let brazil = locale(&set, "pt-BR");
    // In any order: the former prefix is the present one until another is chosen.
    let one = Routes::builder(&set).with_prefixes(chosen.clone()).with_former_prefix(brazil, "pt-BR");
    let other = Routes::builder(&set).with_former_prefix(brazil, "pt-BR").with_prefixes(chosen);
    let [routes, other] = [one, other].map(|routes| routes.build().unwrap());
    assert_eq!(format!("{routes:?}"), format!("{other:?}"));
    assert_eq!(routes.path(locale(&set, "pt-BR"), "/x"), "/br/x");
    for (path, expected) in [
        ("/br/x", "page pt-BR /x"),
        ("/BR/x", "moved /br/x"),
        ("/pt-BR/x", "moved /br/x"),
        ("/pt-br", "moved /br"),
        ("/Cymru", "page cy /"),
        ("/cymru", "moved /Cymru"),
        ("/cy/x", "page - /cy/x"),
        ("/he", "page he /"),
    ] {
        assert_eq!(read(&routes, path), expected, "{path}");
    }
    let taken =
        Routes::builder(&set).with_prefixes([(locale(&set, "cy"), "HE".to_owned())]).build().unwrap_err();
    insta::assert_snapshot!(taken, @"the prefix `he` is that of `cy` already; choose another one");
    let former = Routes::builder(&set).with_former_prefix(locale(&set, "cy"), "en-gb").build().unwrap_err();
    insta::assert_snapshot!(former, @"the prefix `en-gb` is that of `en-GB` already; choose another one");
    let slash =
        Routes::builder(&set).with_prefixes([(locale(&set, "cy"), "a/b".to_owned())]).build().unwrap_err();
    insta::assert_snapshot!(slash, @"`a/b` is not a prefix; use ASCII letters, digits, `-`, `_`, `.` and `~`");
}

#[test]
fn what_is_skipped_is_skipped_behind_a_prefix_and_however_it_is_spelled() {
    let set = set();
    let routes = Routes::builder(&set).with_skip(["/assets", "/adm%69n/"]).build().unwrap();
    for path in [
        "/assets/x",
        "/cy/assets/x",
        "/CY/assets",
        "/en/assets",
        "/cy//assets",
        "/cy/%61ssets/x",
        "/cy/./assets",
        "//assets",
        "/./assets",
        "/a/../assets",
        "/cy/x/%2e%2E/assets/y",
        "/cy/admin",
        "/cy/%61dmin/x",
        "/admin",
    ] {
        assert_eq!(read(&routes, path), "skipped", "{path}");
    }
    for path in ["/cy/assetsx", "/cy/x/assets", "/cy/assets%2Fx"] {
        assert!(read(&routes, path).starts_with("page cy"), "{path}");
    }
    let welsh = locale(&set, "cy");
    assert_eq!(routes.path(welsh, "/assets/x.css?v=1"), "/assets/x.css?v=1");
    assert_eq!(routes.path(welsh, "/%61ssets/x.css"), "/%61ssets/x.css");
    assert_eq!(routes.path(welsh, "/assetsx"), "/cy/assetsx");
}

#[test]
fn patterns_that_can_never_match_and_addresses_of_two_pages_are_refused() {
    for text in [
        "sailings",
        "",
        "/a//b",
        "/a/",
        "/a/./b",
        "/{id",
        "/a{id}",
        "/{}",
        "/{*rest}/x",
        "/{a}/{a}",
        "/a?b",
        "/{a b}",
    ] {
        assert!(PathPattern::parse(text).is_err(), "{text}");
    }
    insta::assert_snapshot!(PathPattern::parse("/a//b").unwrap_err(), @"a path pattern has no empty segment, `.` or `..`; no path could match it");
    insta::assert_snapshot!(PathPattern::parse("/{id").unwrap_err(), @"a segment of a path pattern is text, `{name}`, or `{*name}` at the end; `?` and `#` do not belong to a path");
    insta::assert_snapshot!(PathPattern::parse("/{*a}/b").unwrap_err(), @"`{*…}` takes all that is left; write nothing after it");
    insta::assert_snapshot!(PathPattern::parse("/{a}/{a}").unwrap_err(), @"two parameters have the name `a`; rename one of them");
    let refused = |pages: &[Page]| {
        let routes = Routes::builder(&set()).with_skip(["/assets"]);
        with_pages(routes, pages).unwrap_err().to_string()
    };
    insta::assert_snapshot!(refused(&[("/a", &[("cy", &["/x"])]), ("/b", &[("cy", &["/x"])])]), @"in `cy` `/x` would be an address of the page `/a`, too; translate one of them in another way");
    insta::assert_snapshot!(refused(&[("/a/{x}", &[]), ("/a/{y}", &[])]), @"`/a/{y}` would be an address of the page `/a/{x}`, too; translate one of them in another way");
    insta::assert_snapshot!(refused(&[("/a", &[("cy", &["/b"])]), ("/b", &[])]), @"in `cy` `/b` would be an address of the page `/a`, too; translate one of them in another way");
    insta::assert_snapshot!(refused(&[("/b", &[]), ("/a", &[("cy", &["/b"])])]), @"in `cy` `/b` would be an address of the page `/b`, too; translate one of them in another way");
    insta::assert_snapshot!(refused(&[("/a", &[("cy", &["/x", "/x"])])]), @"in `cy` `/x` would be an address of the page `/a`, too; translate one of them in another way");
    insta::assert_snapshot!(refused(&[("/a/{id}", &[("cy", &["/x/{name}"])])]), @"`/x/{name}` has other parameters than `/a/{id}`; both need the same ones");
    insta::assert_snapshot!(refused(&[("/a/{id}", &[("cy", &["/x/{*id}"])])]), @"`/x/{*id}` has other parameters than `/a/{id}`; both need the same ones");
    insta::assert_snapshot!(refused(&[("/cy/{id}", &[("he", &["/x/{id}"])])]), @"`/cy/{id}` can never match, because its first segment is read as the prefix `cy`; begin it with another word");
    insta::assert_snapshot!(refused(&[("/assets/{id}", &[("cy", &["/x/{id}"])])]), @"`/assets/{id}` can never match, because it is skipped or outside of the base; delete it, or change `skip` or `base`");
    // A page may have another one's bare path, where that one is translated.
    let swapped =
        with_pages(Routes::builder(&set()), &[("/a", &[("cy", &["/b"])]), ("/b", &[("cy", &["/a"])])])
            .unwrap();
    assert_eq!(
        (read(&swapped, "/cy/a").as_str(), read(&swapped, "/cy/b").as_str()),
        ("page cy /b", "page cy /a")
    );
}

#[test]
fn a_page_may_begin_with_a_prefix_only_where_every_locale_has_one() {
    let page: &[Page] = &[("/cy/{id}", &[("pt-BR", &["/gales/{id}"])])];
    let error = with_pages(Routes::builder(&set()), page).unwrap_err();
    assert!(matches!(&error, PathsError::Prefix { prefix, .. } if prefix == "cy"), "{error}");
    // The default's own pattern counts, where it has one.
    let own: &[Page] = &[("/wales/{id}", &[("en", &["/cy/{id}"])])];
    assert!(matches!(with_pages(Routes::builder(&set()), own), Err(PathsError::Prefix { .. })));
    let prefixed = with_pages(Routes::builder(&set()).with_prefixed_default(true), page).unwrap();
    assert_eq!(read(&prefixed, "/pt-BR/gales/7"), "page pt-BR /cy/7");
}

#[test]
fn translated_paths_stand_below_the_base() {
    let shop = with_pages(
        Routes::builder(&set()).with_base("/shop"),
        &[("/shop/cart", &[("cy", &["/shop/basged"])])],
    )
    .unwrap();
    assert_eq!(read(&shop, "/shop/cy/basged"), "page cy /shop/cart");
    assert_eq!(read(&shop, "/shop/cy/cart"), "moved /shop/cy/basged");
    assert_eq!(shop.path(locale(&set(), "cy"), "/shop/cart"), "/shop/cy/basged");
    let outside =
        with_pages(Routes::builder(&set()).with_base("/shop"), &[("/cart", &[("cy", &["/basged"])])]);
    insta::assert_snapshot!(outside.unwrap_err(), @"`/cart` can never match, because it is skipped or outside of the base; delete it, or change `skip` or `base`");
}

proptest! {
    /// Whatever the table: an address that a page is given reads as that page, and no page is moved twice.
    #[test]
    fn localizing_and_back_is_the_identity(
        words in prop::collection::vec(("[a-d]", "[e-h]", any::<bool>(), any::<bool>()), 1..6),
        path in prop::collection::vec("([a-d]|x|é|%2F|%61|\\.\\.|cy)", 0..4),
    ) {
        let set = set();
        let welsh = locale(&set, "cy");
        let mut builder = Routes::builder(&set);
        for (bare, localized, parameter, rest) in &words {
            let tail = match (parameter, rest) {
                (true, true) => "/{id}/{*rest}",
                (true, false) => "/{id}",
                _ => "",
            };
            let page = (pattern(&format!("/{bare}{tail}")), pattern(&format!("/{localized}{tail}")));
            // What is ambiguous is refused, and the table stays as it was.
            let more = builder.clone().with_page(&page.0, [(welsh, vec![page.1])]);
            if more.clone().build().is_ok() {
                builder = more;
            }
        }
        let routes = builder.build().unwrap();
        prop_assume!(path.first().is_none_or(|first| first != "cy"));
        let path = format!("/{}", path.join("/"));
        let address = routes.path(welsh, &path);
        match routes.read(&address) {
            PathMatch::Page { locale, path: read } => {
                prop_assert_eq!(locale, Some(welsh));
                // Literals come back as the pattern writes them.
                prop_assert_eq!(read.replace("%61", "a"), local(&path).replace("%61", "a"), "{}", address);
            }
            // Only a path that is not bare is moved: it is the address of another page.
            PathMatch::Moved { address: moved, .. } => {
                prop_assert!(matches!(routes.read(&moved), PathMatch::Page { .. }), "{} {} {}", path, address, moved);
            }
            PathMatch::Skipped => prop_assert!(false, "nothing is skipped"),
        }
    }
}

fn segment() -> impl Strategy<Value = &'static str> {
    prop_oneof![
        Just("a"),
        Just("b"),
        Just("caf\u{e9}"),
        Just("{one}"),
        Just("{two}"),
        Just("a%20b"),
        Just("caf%C3%A9"),
        Just("%61"),
        Just("")
    ]
}

proptest! {
    #[test]
    fn a_pattern_matches_what_a_translated_path_is_found_by(
        pattern in proptest::collection::vec(segment(), 0..4),
        rest in any::<bool>(),
        path in proptest::collection::vec(segment(), 0..5),
    ) {
        let mut text = format!("/{}", pattern.join("/"));
        if rest {
            text = format!("{}/{{*rest}}", text.trim_end_matches('/'));
        }
        let Ok(bare) = PathPattern::parse(&text) else { return Ok(()) };
        let Ok(welsh) = PathPattern::parse(&format!("/zz{}", text.trim_end_matches('/'))) else { return Ok(()) };
        let set = set();
        let cy = locale(&set, "cy");
        let routes = Routes::builder(&set).with_page(&bare, [(cy, vec![welsh])]).build().unwrap();
        let path = format!("/{}", path.join("/"));
        let is_translated = routes.path(cy, &path).starts_with("/cy/zz");
        prop_assert_eq!(bare.matches(&path), is_translated, "{} {}", text, path);
    }
}
