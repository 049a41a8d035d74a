//! Mistakes in the configuration: what, where, and what to do.

use crow_fly::Config;
use proptest::prelude::*;

fn said(text: &str) -> String {
    Config::parse(text).unwrap_err().to_string()
}

const HEAD: &str = "default = 'en'\nlocales = ['en', 'cy', 'pt-BR']\n";

#[test]
fn mistakes_are_named_with_line_and_column() {
    let with = |rest: &str| said(&format!("{HEAD}{rest}"));
    insta::assert_snapshot!(said("default = 'en'"), @"configuration, line 1, column 1: missing field `locales`");
    insta::assert_snapshot!(said("default = 'de'\nlocales = ['en']"), @"configuration, line 1, column 11: the default `de` is none of the locales: add it to them");
    insta::assert_snapshot!(said("default = 'en'\nlocales = ['en', 'e!']"), @"configuration, line 2, column 18: `e!` has a character other than ASCII letters, digits and hyphens");
    insta::assert_snapshot!(said("default = 'en'\nlocales = ['en', 'he', 'iw']"), @"configuration, line 2, column 24: the locale `he` stands twice");
    insta::assert_snapshot!(said("default = 'en'\nlocales = []"), @"configuration, line 2, column 11: an application needs at least one locale");
    insta::assert_snapshot!(with("[policy]\nsources = ['path', 'cokie']"), @"configuration, line 4, column 20: `cokie` is not a source: known are `path`, `host`, `query`, `header`, `visitor`, `session`, `cookie`, `accept-language`, `default`");
    insta::assert_snapshot!(with("[policy]\nredirekt = 'root'"), @"configuration, line 4, column 1: unknown field `redirekt`, expected one of `sources`, `bare-default`, `redirect`, `formats`, `unsupported-prefix`, `skip`, `base`, `query`, `header`, `hosts`");
    insta::assert_snapshot!(with("[policy]\nredirect = 'always'"), @"configuration, line 4, column 12: unknown variant `always`, expected one of `never`, `root`, `everywhere`");
    insta::assert_snapshot!(with("[policy]\nskip = ['assets']"), @"configuration, line 4, column 9: `assets` is no path; begin it with one slash: `/assets`");
    insta::assert_snapshot!(with("[policy]\nheader = 'a b'"), @"configuration, line 4, column 10: `a b` is no name for a header");
    insta::assert_snapshot!(with("[policy.hosts]\n'a.example' = 'de'"), @"configuration, line 4, column 15: `de` is none of the locales; add it to `locales`, or correct it");
    insta::assert_snapshot!(with("[chains]\npt-BR = ['pt-PT']"), @"configuration, line 4, column 10: a chain names `pt-PT`, which has no catalogs: did you mean `pt-BR`?");
    insta::assert_snapshot!(with("[chains]\ncy = ['pt-BR']\npt-BR = ['cy']"), @"configuration, line 4, column 1: chains lead in a circle: `cy` → `pt-BR` → `cy`");
    insta::assert_snapshot!(with("[segments]\na.cy = 'x'\nb.cy = 'x'"), @"configuration, line 5, column 8: in `cy` the path segment `x` would stand for both `a` and `b`: translate one of them otherwise");
    insta::assert_snapshot!(with("[remember]\ncookie = 'a;b'"), @"configuration, line 4, column 10: `a;b` is no name for a cookie; use ASCII letters, digits, `-` and `_`");
    insta::assert_snapshot!(with("[remember]\nsame-site = 'none'"), @r#"configuration, line 4, column 13: browsers refuse a cookie with `same-site = "none"` that is not secure; add `secure = true`"#);
    insta::assert_snapshot!(with("[time-zone]\ndefault = 'Atlantis/Quay'"), @"configuration, line 4, column 11: `Atlantis/Quay` is not a time zone of the IANA database; names look like `Europe/London`");
    insta::assert_snapshot!(with("[time-zone]\ndefault = 'US/Pacific-New'"), @"configuration, line 4, column 11: the zone database of this program does not have `US/Pacific-New`; name another time zone, or update the database");
    insta::assert_snapshot!(with("[time-zone]\ndefault = 'UTC'\nsources = ['cookie', 'path']"), @"configuration, line 5, column 22: `path` names no time zone; time zones come from `visitor`, `session` and `cookie`; the default is `default`");
    insta::assert_snapshot!(with("[switch]\npath = '//evil'"), @"configuration, line 4, column 8: `//evil` is no path; begin it with one slash: `/assets`");
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
        key in "(default|locales|policy|policy.hosts|segments|segments.x|chains|remember|time-zone|switch|catalogs|messages|catalog-only)",
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
