//! Mistakes in the configuration: what, where, and what to do.

use crow_fly::Config;
use crow_fly::config::ConfigBuilder;
use crow_fly_core::policy::{LocaleSource, Matching, RedirectRule};
use proptest::prelude::*;

use crate::web::app;
use crate::web::visitor::Visitor;

fn said(text: &str) -> String {
    Config::parse(text).unwrap_err().to_string()
}

const HEAD: &str = "default = 'en'\nlocales = ['en', 'cy', 'pt-BR']\n";

#[test]
fn mistakes_are_named_with_line_and_column() {
    let with = |rest: &str| said(&format!("{HEAD}{rest}"));
    insta::assert_snapshot!(said("default = 'en'"), @"configuration, line 1, column 1: missing field `locales`");
    insta::assert_snapshot!(said("default = 'de'\nlocales = ['en']"), @"configuration, line 1, column 11: the default `de` is not one of the locales; add it to them");
    insta::assert_snapshot!(said("default = 'en'\nlocales = ['en', 'e!']"), @"configuration, line 2, column 18: `e!` has a character other than ASCII letters, digits and hyphens");
    insta::assert_snapshot!(said("default = 'en'\nlocales = ['en', 'he', 'iw']"), @"configuration, line 2, column 24: the locale `he` is listed twice; keep one of the two");
    insta::assert_snapshot!(said("default = 'en'\nlocales = []"), @"configuration, line 2, column 11: an application needs at least one locale; list them in `locales`");
    insta::assert_snapshot!(with("[policy]\nsources = ['path', 'cokie']"), @"configuration, line 4, column 20: `cokie` is not a source of locales; did you mean `cookie`?");
    insta::assert_snapshot!(with("[policy]\nredirekt = 'root'"), @"configuration, line 4, column 1: `redirekt` is not a key of this table; did you mean `redirect`?");
    insta::assert_snapshot!(with("[policy]\nredirect = 'always'"), @"configuration, line 4, column 12: `always` cannot be written here; write one of `never`, `root`, `everywhere`");
    insta::assert_snapshot!(with("[policy]\nskip = ['assets']"), @"configuration, line 4, column 9: `assets` is not a path; begin it with one slash: `/assets`");
    insta::assert_snapshot!(with("[policy]\nheader = 'a b'"), @"configuration, line 4, column 10: `a b` is not a name for a header");
    insta::assert_snapshot!(with("[policy]\nheader = 'Cookie'"), @"configuration, line 4, column 10: the header `cookie` has another meaning in HTTP; name a header that your front end sets: `x-site-language`");
    insta::assert_snapshot!(with("[policy]\nsources = ['path', 'header']"), @r#"configuration, line 4, column 20: no header is named for the source `header`; add `header = "x-site-language"`, or whatever your front end sets"#);
    insta::assert_snapshot!(with("[policy]\nskip = ['/assets', '/']"), @"configuration, line 4, column 20: `/` skips every page of the application; name the folder that is to be left alone: `/assets`");
    insta::assert_snapshot!(with("[policy.hosts]\n'a.example:8080' = 'cy'"), @"configuration, line 4, column 1: `a.example:8080` is not a host; write it without scheme, port and path: `promy.example`");
    insta::assert_snapshot!(with("[policy.hosts]\n'https://a.example' = 'cy'"), @"configuration, line 4, column 1: `https://a.example` is not a host; write it without scheme, port and path: `promy.example`");
    insta::assert_snapshot!(with("[policy.hosts]\n'a.example' = 'de'"), @"configuration, line 4, column 15: `de` is not one of the locales; add it to `locales`, or correct it");
    insta::assert_snapshot!(with("[chains]\npt-BR = ['pt-PT']"), @"configuration, line 4, column 10: a chain names `pt-PT`, which has no catalogs; did you mean `pt-BR`?");
    insta::assert_snapshot!(with("[chains]\ncy = ['pt-BR']\npt-BR = ['cy']"), @"configuration, line 4, column 1: chains lead in a circle: `cy` → `pt-BR` → `cy`; leave one of these out");
    insta::assert_snapshot!(said("default = 'en'\nlocales = ['en']\ndrafts = ['cy']"), @"configuration, line 3, column 11: the draft `cy` is not one of the locales; add it to them");
    insta::assert_snapshot!(said("default = 'en'\nlocales = ['en', 'cy']\ndrafts = ['en']"), @"configuration, line 3, column 11: the default `en` cannot be a draft; make another locale the default");
    for origin in [
        "ferries.example",
        "ftp://ferries.example",
        "https://ferries.example/shop",
        "https://me@ferries.example",
        "",
    ] {
        let error = said(&format!("origin = '{origin}'\n{HEAD}"));
        assert!(error.contains("is not an origin; write scheme and host"), "{error}");
    }
    insta::assert_snapshot!(with("[policy]\nbase-stripped = true"), @r#"configuration, line 4, column 17: there is no base to take off; name it: `base = "/shop"`"#);
    insta::assert_snapshot!(with("[policy]\nforwarded-host = 'a b'"), @"configuration, line 4, column 18: `a b` is not a name for a header");
    insta::assert_snapshot!(with("[areas.'/api']"), @r#"configuration, line 3, column 8: an area names its sources; add `sources = ["header", "accept-language"]`, or whatever decides there"#);
    insta::assert_snapshot!(with("[areas.'/']\nsources = ['cookie']"), @"configuration, line 3, column 8: `/` is the whole site, not an area of it; its policy is `[policy]`");
    insta::assert_snapshot!(with("[areas.'api']\nsources = ['cookie']"), @"configuration, line 3, column 8: `api` is not a path; begin it with one slash: `/assets`");
    insta::assert_snapshot!(with("[areas.'/api']\nsources = ['cookie', 'path']"), @"configuration, line 4, column 22: an area has no prefixes; leave `path` out: prefixes are those of the whole site");
    insta::assert_snapshot!(with("[areas.'/api']\nsources = ['header']"), @r#"configuration, line 4, column 12: no header is named for the source `header`; add `header = "x-site-language"`, or whatever your front end sets"#);
    insta::assert_snapshot!(with("[areas.'/api']\nsources = ['cookie']\nredirect = 'root'"), @"configuration, line 5, column 1: `redirect` is not a key of this table; its keys are `sources`, `formats`, `matching`, `time-zone`, `query`, `header`");
    insta::assert_snapshot!(with("[paths]\n'/api/{id}'.cy = '/x/{id}'\n[areas.'/api']\nsources = ['cookie']"), @"configuration, line 4, column 1: `/api/{id}` can never match, because it is skipped or outside of the base; delete it, or change `skip` or `base`");
    insta::assert_snapshot!(with("[paths]\n'/a'.cy = '/x'\n'/b'.cy = '/x'"), @"configuration, line 5, column 11: in `cy` `/x` would be an address of the page `/a`, too; translate one of them in another way");
    insta::assert_snapshot!(with("[paths]\n'/a'.cy = ['/x', '/y']\n'/b'.cy = '/y'"), @"configuration, line 5, column 11: in `cy` `/y` would be an address of the page `/a`, too; translate one of them in another way");
    insta::assert_snapshot!(with("[paths]\n'/a/{id}'.cy = 'x'"), @"configuration, line 4, column 16: `x`: a path pattern begins with one slash; write `/sailings/{id}`");
    insta::assert_snapshot!(with("[paths]\n'/a//b'.cy = '/x'"), @"configuration, line 4, column 1: `/a//b`: a path pattern has no empty segment, `.` or `..`; no path could match it");
    insta::assert_snapshot!(with("[paths]\n'/cy/b'.cy = '/x'"), @"configuration, line 4, column 1: `/cy/b` can never match, because its first segment is read as the prefix `cy`; begin it with another word");
    insta::assert_snapshot!(with("[paths]\n'/a'.de = '/x'"), @"configuration, line 4, column 6: `de` is not one of the locales; add it to `locales`, or correct it");
    insta::assert_snapshot!(with("[policy]\nprefixes = { cy = 'pt-br' }"), @"configuration, line 4, column 19: the prefix `pt-BR` is that of `cy` already; choose another one");
    insta::assert_snapshot!(with("[policy]\nprefixes = { cy = 'a/b' }"), @"configuration, line 4, column 19: `a/b` is not a prefix; use ASCII letters, digits, `-`, `_`, `.` and `~`");
    insta::assert_snapshot!(with("[policy]\nformer-prefixes = { cy = ['welsh', 'EN'] }"), @"configuration, line 4, column 36: the prefix `EN` is that of `en` already; choose another one");
    insta::assert_snapshot!(with("[browser]\nsections = ['../home']"), @"configuration, line 4, column 13: `../home` is not the name of a section; use ASCII letters, digits, `-` and `_`, as the file's name does");
    insta::assert_snapshot!(with("[browser]\npath = 'texts'"), @"configuration, line 4, column 8: `texts` is not a path; begin it with one slash: `/assets`");
    for path in ["/", "//", "/a{b}", "/a b", "/a//b"] {
        let said = with(&format!("[browser]\npath = '{path}'"));
        assert!(said.contains("cannot be the path of texts") || said.contains("is not a path"), "{said}");
    }
    insta::assert_snapshot!(with("[remember]\ncookie = 'a;b'"), @"configuration, line 4, column 10: `a;b` is not a name for a cookie; use ASCII letters, digits, `-` and `_`");
    insta::assert_snapshot!(with("[remember]\nsame-site = 'none'"), @r#"configuration, line 4, column 13: browsers refuse a cookie with `same-site = "none"` that is not secure; add `secure = true`"#);
    insta::assert_snapshot!(with("[time-zone]\ndefault = 'Atlantis/Quay'"), @"configuration, line 4, column 11: `Atlantis/Quay` is not a time zone of the IANA database; write a name such as `Europe/London`");
    insta::assert_snapshot!(with("[time-zone]\ndefault = 'US/Pacific-New'"), @"configuration, line 4, column 11: the zone database of this program does not have `US/Pacific-New`; name another time zone, or update the database");
    insta::assert_snapshot!(with("[time-zone]\nsources = ['cookie']"), @r#"configuration, line 4, column 11: `sources` has no effect where the visitor's time zone is not followed; add `time-zone = "visitor"` to `[policy]`, or leave it out"#);
    insta::assert_snapshot!(with("[policy]\ntime-zone = 'visitor'\n[time-zone]\nsources = ['cookie', 'path']"), @"configuration, line 6, column 22: `path` names no time zone; time zones come from `visitor`, `session` and `cookie`; the default is `default`");
    insta::assert_snapshot!(with("[policy]\ntime-zone = 'visitor'\n[time-zone]\nsources = []"), @"configuration, line 6, column 11: no source is named for the visitor's time zone; name `visitor`, `session` or `cookie`, or leave `time-zone` out of `[policy]`");
    insta::assert_snapshot!(with("[policy]\ntime-zone = 'visitor'\n[time-zone]\ncookie = 'locale'"), @"configuration, line 6, column 10: locale and time zone are both remembered in the cookie `locale`; take two names");
    insta::assert_snapshot!(with("[remember]\nsession-key = 'time-zone'\n[policy]\ntime-zone = 'visitor'"), @"configuration, line 4, column 15: locale and time zone are both remembered in the session key `time-zone`; take two names");
    insta::assert_snapshot!(with("[remember]\npath = '/;Domain=evil.example'"), @"configuration, line 4, column 8: `/;Domain=evil.example` is not a path for a cookie; begin it with a slash, and use no `;`: `/shop`");
    insta::assert_snapshot!(with("[remember]\npath = 'shop'"), @"configuration, line 4, column 8: `shop` is not a path for a cookie; begin it with a slash, and use no `;`: `/shop`");
    insta::assert_snapshot!(with("[remember]\ndomain = 'a b'"), @"configuration, line 4, column 10: `a b` is not a domain for a cookie; name a host, without port: `ferries.example`");
    insta::assert_snapshot!(with("[remember]\ncookie = '__Host-locale'\ndomain = 'ferries.example'"), @"configuration, line 5, column 10: browsers refuse the cookie `__Host-locale` with this domain; a cookie named `__Host-…` has the path `/` and no domain: leave `path` and `domain` out");
    insta::assert_snapshot!(with("[remember]\ncookie = '__Host-locale'\npath = '/shop'"), @"configuration, line 5, column 8: browsers refuse the cookie `__Host-locale` with this path; a cookie named `__Host-…` has the path `/` and no domain: leave `path` and `domain` out");
    insta::assert_snapshot!(with("[remember]\ncookie = '__Secure-locale'\nsecure = false"), @"configuration, line 5, column 10: browsers refuse the cookie `__Secure-locale` where it is not secure; leave `secure` out, or take another name for the cookie");
    insta::assert_snapshot!(with("[switch]\npath = '/'"), @"configuration, line 4, column 8: the home page cannot be the switch address; name a path that no page has: `/locale`");
    insta::assert_snapshot!(with("[switch]\npath = '//evil'"), @"configuration, line 4, column 8: `//evil` is not a path; begin it with one slash: `/assets`");
}

#[test]
fn the_same_can_be_said_in_code_and_goes_through_the_same_checks() {
    let said = Config::builder(["en", "cy", "pl"])
        .sources([LocaleSource::Path, LocaleSource::Header, LocaleSource::Cookie])
        .header("x-site-language")
        .redirect(RedirectRule::Everywhere)
        .skip(["/assets"])
        .drafts(["pl"])
        .origin("https://ferries.example:8443/")
        .area("/api", |area| {
            area.sources([LocaleSource::Header, LocaleSource::AcceptLanguage])
                .header("x-language")
                .matching(Matching::Closest)
        })
        .path("/sailings/{id}", "cy", ["/teithiau/{id}", "/hwyliadau/{id}"])
        .path("/sailings/{id}", "pl", ["/rejsy/{id}"])
        .prefix("pl", "polski")
        .former_prefix("pl", "pl")
        .chain("pl", ["cy"])
        .cookie("__Host-locale")
        .follow_time_zone([LocaleSource::Cookie])
        .time_zone("Europe/London")
        .development(false)
        .inspector(true)
        .browser_sections(["home"])
        .browser_path("/words/")
        .build()
        .unwrap();
    let written = Config::parse(
        "default = 'en'
locales = ['en', 'cy', 'pl']
development = false
inspector = true
drafts = ['pl']
origin = 'https://ferries.example:8443'
[policy]
sources = ['path', 'header', 'cookie']
header = 'x-site-language'
redirect = 'everywhere'
skip = ['/assets']
time-zone = 'visitor'
prefixes = { pl = 'polski' }
former-prefixes = { pl = ['pl'] }
[areas.'/api']
sources = ['header', 'accept-language']
header = 'x-language'
matching = 'closest'
[paths]
'/sailings/{id}' = { cy = ['/teithiau/{id}', '/hwyliadau/{id}'], pl = '/rejsy/{id}' }
[chains]
pl = ['cy']
[remember]
cookie = '__Host-locale'
[time-zone]
default = 'Europe/London'
sources = ['cookie']
[browser]
sections = ['home']
path = '/words'
",
    )
    .unwrap();
    assert_eq!(format!("{said:?}"), format!("{written:?}"));
    let error = |builder: ConfigBuilder| builder.build().unwrap_err().to_string();
    insta::assert_snapshot!(error(Config::builder(Vec::<String>::new())), @"configuration: an application needs at least one locale; list them in `locales`");
    insta::assert_snapshot!(error(Config::builder(["en"]).sources([LocaleSource::Header])), @r#"configuration: no header is named for the source `header`; add `header = "x-site-language"`, or whatever your front end sets"#);
    insta::assert_snapshot!(error(Config::builder(["en"]).host("a.example:80", "en")), @"configuration: `a.example:80` is not a host; write it without scheme, port and path: `promy.example`");
    insta::assert_snapshot!(error(Config::builder(["en"]).chain("en", ["cy"])), @"configuration: a chain names `cy`, which has no catalogs; add it to `locales`, or to `catalog-only` where visitors cannot choose it");
}

#[tokio::test]
async fn a_cookie_is_secure_outside_of_development_and_where_its_name_says_so() {
    for (remember, development, secure) in [
        ("", "false", true),
        ("", "true", false),
        ("secure = false", "false", false),
        ("secure = true", "true", true),
        ("cookie = '__Host-locale'", "true", true),
        ("cookie = '__Secure-locale'\npath = '/shop'", "true", true),
    ] {
        let config = format!("development = {development}\n{HEAD}[remember]\n{remember}\n");
        let answer = Visitor::of(&app(&config)).get("/locale?to=cy").await;
        assert_eq!(answer.header("set-cookie").contains("; Secure;"), secure, "{config}");
    }
}

#[test]
fn a_file_that_is_not_there_is_named() {
    let error = Config::from_file("/nosuch/crow-fly.toml").unwrap_err();
    insta::assert_snapshot!(error, @"/nosuch/crow-fly.toml: the configuration cannot be read; name the file, or work in the folder it lies in");
}

proptest! {
    /// Whatever a configuration holds, it is read or refused.
    #[test]
    fn no_text_upsets_the_configuration(
        key in "(default|locales|areas|areas.x|policy|policy.hosts|paths|policy.prefixes|chains|remember|time-zone|switch|catalogs|messages|catalog-only)",
        name in "[a-zA-Z-]{0,12}",
        value in prop_oneof![Just("1e-9223372036854775808".to_owned()), Just("9223372036854775807".to_owned()), "'[ -&(-~]{0,40}'", "\\[('[ -&(-~]{0,9}',?){0,4}\\]", ".{0,40}"],
        days in any::<i64>(),
    ) {
        let _ = Config::parse(&value);
        let _ = Config::parse(&format!("{HEAD}[{key}]\n{name} = {value}"));
        let _ = Config::parse(&format!("{key} = {value}\nlocales = [{value}]"));
        let _ = Config::parse(&format!("{HEAD}[remember]\ndays = {days}"));
    }
}
