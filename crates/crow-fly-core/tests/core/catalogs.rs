//! Catalog files, and checks across them.

use std::collections::BTreeMap;

use crow_fly_core::catalog::{Catalog, Entry, FileFormat, SectionSource, SourceEntry};
use crow_fly_core::chain::Chains;
use crow_fly_core::check::{Project, check};
use crow_fly_core::finding::{Finding, Position};
use crow_fly_core::locale_set::LocaleSet;
use crow_fly_core::message::FormatContext;
use crow_fly_core::value::Args;
use proptest::prelude::*;

use crate::tag;

fn shown(findings: &[Finding]) -> String {
    let place = |finding: &Finding| finding.place.map_or_else(|| "-".to_owned(), |place| place.to_string());
    let line = |finding: &Finding| {
        let Finding { severity, rule, locale, section, key, text, help, .. } = finding;
        format!(
            "{locale}/{section}:{} {severity}[{rule}] {}: {text}; {help}",
            place(finding),
            key.as_deref().unwrap_or("-")
        )
    };
    findings.iter().map(line).collect::<Vec<_>>().join("\n")
}

#[test]
fn a_section_has_dotted_keys_and_notes() {
    let source = SectionSource::from_toml(
        "# The whole site's name.\n# Never translated.\ntitle = 'Ferries'\n\n# Loose.\n\nother = 'x'\n[seats]\nleft.few = \"a\"\n",
    );
    let entries: Vec<_> =
        source.entries().iter().map(|entry| (entry.key(), entry.text(), entry.note())).collect();
    assert_eq!(
        entries,
        [
            ("title", "Ferries", Some("The whole site's name.\nNever translated.")),
            ("other", "x", None),
            ("seats.left.few", "a", None)
        ]
    );
    let (catalog, _) = Catalog::compile("en", "common", &source);
    assert!(matches!(catalog.get("seats.left"), Entry::Group));
    assert!(matches!(catalog.get("seats.left.few"), Entry::Message(_)));
    assert!(matches!(catalog.get(""), Entry::Missing));
}

#[test]
fn what_cannot_be_read_is_found_with_its_place_and_the_rest_works() {
    let text = "good = 'Good'\nnumber = 3\n'bad key' = 'x'\nbroken = 'Only {$seats left'\nlist = ['a']\nlater = \"tab\\t{\\u0024x :nope} and {\"\nlines = '''\nfirst\n  {second'''\n";
    let (catalog, findings) = Catalog::compile("en", "common", &SectionSource::from_toml(text));
    assert!(matches!(catalog.get("good"), Entry::Message(_)));
    assert!(matches!(catalog.get("broken"), Entry::Broken));
    insta::assert_snapshot!(shown(&findings), @r"
    en/common:2:10 error[not-text] number: the value is a number, not a text; put the message in quotes
    en/common:3:1 error[key-name] bad key: `bad key` is not a name for a message or a group; use ASCII letters, digits, `-` and `_`, and a table for a group
    en/common:5:8 error[not-text] list: the value is a list, not a text; put the message in quotes
    en/common:4:16 error[unclosed-placeholder] broken: a placeholder is not closed; close the placeholder with `}`; a brace that is text is written `\{`
    en/common:6:35 error[unclosed-placeholder] later: a placeholder is not closed; close the placeholder with `}`; a brace that is text is written `\{`
    en/common:9:3 error[unclosed-placeholder] lines: a placeholder is not closed; close the placeholder with `}`; a brace that is text is written `\{`
    ");
    let (_, findings) =
        Catalog::compile("en", "common", &SectionSource::from_toml("a = 'x'\nb = \na = 'y'\n"));
    assert!(
        !findings.is_empty()
            && findings.iter().all(|finding| matches!(finding.rule.id(), "file-syntax" | "duplicate-key")),
        "{}",
        shown(&findings)
    );
}

fn checked(locales: &[&str], catalogs: &[(&str, &str, &str)]) -> String {
    let set = LocaleSet::parse(locales).unwrap();
    let chains = Chains::new(&set, [], []).unwrap();
    let mut sources = Project::new();
    for (locale, section, text) in catalogs {
        let id = set.exact(&tag(locale)).unwrap();
        let sections: &mut BTreeMap<_, _> = sources.entry(id).or_default();
        sections.insert((*section).to_owned(), SectionSource::from_toml(text));
    }
    shown(&check(&set, &chains, &sources))
}

#[test]
fn locales_are_held_against_the_default() {
    let english = "title = 'Ferries'\nhello = 'Hello, {$name}, you have {$count :integer} new trips'\nbye = 'Goodbye'\n";
    let welsh =
        "titel = 'Fferïau'\nhello = 'Helo, {$nmae}, {$count :string}'\nextra = 'x'\nbye = 'Goodbye'\n";
    insta::assert_snapshot!(checked(&["en", "en-GB", "cy"], &[("en", "common", english), ("en", "trips", "a = 'A'"), ("cy", "common", welsh), ("cy", "trip", "a = 'A'"), ("en-GB", "common", "bye = 'Cheerio'")]), @"
    cy/common:- warning[missing-key] title: the message is not there; there is `titel`: is its name misspelled? The default locale has: Ferries
    cy/common:1:10 warning[surplus-key] titel: the default locale has no such message; did you mean `title`?
    cy/common:2:16 error[surplus-parameter] hello: the default locale has no parameter `$nmae`; did you mean `$name`?
    cy/common:2:25 warning[parameter-kind] hello: `$count` is taken as a text here, as a number in the default locale; use the same function in both
    cy/common:3:10 warning[surplus-key] extra: the default locale has no such message; delete it, or add it to the default locale
    cy/trip:- warning[surplus-section] -: the default locale has no such section; did you mean `trips`?
    cy/trips:- warning[missing-section] -: the section, of one message, is not there; there is `trip`: is its name misspelled?
    ");
}

#[test]
fn plural_forms_a_language_needs_are_asked_for() {
    let english = "seats = '.input {$n :integer} .match $n one {{a}} few {{b}} * {{c}}'\nplace = '.input {$n :integer select=ordinal} .match $n one {{a}} * {{c}}'\nexact = '.input {$n :integer select=exact} .match $n 1 {{a}} * {{c}}'\nfunction = '{$n :integr}'";
    let welsh = "seats = '.input {$n :number} .local $m = {$n} .match $m 0 {{-}} one {{a}} * {{c}}'\nplace = '{$n :integer}'\nexact = '.input {$n :integer select=exact} .match $n * {{c}}'\nfunction = '{$n}'";
    let spanish = "seats = '.input {$n :integer} .match $n one {{a}} * {{c}}'\nplace = '{$n :integer}'\nexact = '{$n :integer}'\nfunction = '{$n}'";
    insta::assert_snapshot!(checked(&["en", "cy", "es"], &[("en", "x", english), ("cy", "x", welsh), ("es", "x", spanish)]), @"
    cy/x:1:17 warning[other-function] seats: `$n` is formatted by `:number`, in the default locale by `:integer`; use `:integer`
    cy/x:1:54 warning[missing-plural-form] seats: `cy` has a form `two` for $m, and the text has no such variant; add a variant `two`, for numbers like 2
    cy/x:1:54 warning[missing-plural-form] seats: `cy` has a form `few` for $m, and the text has no such variant; add a variant `few`, for numbers like 3
    cy/x:1:54 warning[missing-plural-form] seats: `cy` has a form `many` for $m, and the text has no such variant; add a variant `many`, for numbers like 6
    en/x:1:51 warning[unused-plural-form] seats: `en` has no form `few`: this variant is never selected; its forms are one, other
    en/x:2:53 warning[missing-plural-form] place: `en` has a form `two` for $n, and the text has no such variant; add a variant `two`, for numbers like 2, 22, 32, 42, 52
    en/x:2:53 warning[missing-plural-form] place: `en` has a form `few` for $n, and the text has no such variant; add a variant `few`, for numbers like 3, 23, 33, 43, 53
    en/x:4:17 error[unknown-function] function: there is no function `:integr`; did you mean `:integer`?
    ");
}

#[test]
fn every_function_that_selects_is_asked_for_its_forms() {
    let polish = r"
percent = '.input {$n :percent} .match $n one {{a}} * {{b}}'
compact = '.input {$n :crow:compact} .match $n one {{a}} * {{b}}'
offset = '.input {$n :number} .local $m = {$n :offset subtract=1} .match $m one {{a}} * {{b}}'
range = '.input {$n :number} .local $r = {$n :crow:range to=$m} .match $r one {{a}} * {{b}}'
ordinal = '.input {$n :number select=ordinal} .local $m = {$n :integer} .match $m one {{a}} * {{b}}'
money = '.input {$n :currency currency=PLN} .match $n one {{a}} * {{b}}'
text = '.input {$n :string} .match $n one {{a}} * {{b}}'
other-locale = '.input {$n :number u:locale=en} .match $n one {{a}} * {{b}}'
own = '.input {$n :harbour:berth} .match $n one {{a}} * {{b}}'
compared = '.input {$n :integer} .match $n 0 {{none}} 1 {{one}} * {{many boats}}'
compared-shown = '.input {$n :integer} .match $n 0 {{none}} * {{{$n} boats}}'
compared-otherwise-shown = '.input {$n :integer} .local $m = {$n :offset subtract=1} .match $n 0 {{none}} * {{{$m} boats}}'
compared-another-shown = '.input {$n :integer} .match $n 0 {{none}} * {{boats of {$name}}}'
range-of-one = '.input {$n :number} .local $r = {$n :crow:range to=$m} .match $r other {{a}} * {{b}}'
";
    let english = polish.replace("PLN", "GBP");
    let shown = checked(&["en", "pl"], &[("en", "x", &english), ("pl", "x", polish)]);
    let polish: Vec<_> = shown.lines().filter(|line| line.starts_with("pl")).collect();
    insta::assert_snapshot!(polish.join("\n"), @"
    pl/x:2:40 warning[missing-plural-form] percent: `pl` has a form `few` for $n, and the text has no such variant; add a variant `few`, for numbers like 2–4, 22–24, 32–34, 42–44, 52–54
    pl/x:2:40 warning[missing-plural-form] percent: `pl` has a form `many` for $n, and the text has no such variant; add a variant `many`, for numbers like 0, 5–19, 100, 1000, 10000
    pl/x:3:45 warning[missing-plural-form] compact: `pl` has a form `few` for $n, and the text has no such variant; add a variant `few`, for numbers like 2–4, 22–24, 32–34, 42–44, 52–54
    pl/x:3:45 warning[missing-plural-form] compact: `pl` has a form `many` for $n, and the text has no such variant; add a variant `many`, for numbers like 0, 5–19, 100, 1000, 10000
    pl/x:4:74 warning[missing-plural-form] offset: `pl` has a form `few` for $m, and the text has no such variant; add a variant `few`, for numbers like 2–4, 22–24, 32–34, 42–44, 52–54
    pl/x:4:74 warning[missing-plural-form] offset: `pl` has a form `many` for $m, and the text has no such variant; add a variant `many`, for numbers like 0, 5–19, 100, 1000, 10000
    pl/x:5:72 warning[missing-plural-form] range: `pl` has a form `few` for $r, and the text has no such variant; add a variant `few`, for numbers like 2–4, 22–24, 32–34, 42–44, 52–54
    pl/x:5:72 warning[missing-plural-form] range: `pl` has a form `many` for $r, and the text has no such variant; add a variant `many`, for numbers like 0, 5–19, 100, 1000, 10000
    pl/x:6:83 warning[unused-plural-form] ordinal: `pl` has no form `one`: this variant is never selected; its only form is `other`
    pl/x:7:17 warning[other-option] money: `$n` has `currency=PLN`, in the default locale `currency=GBP`; use the same: it says what is meant
    pl/x:11:13 note[untranslated] compared: the text is the same as in the default locale; translate it, or leave it out: the chain supplies it
    pl/x:12:19 note[untranslated] compared-shown: the text is the same as in the default locale; translate it, or leave it out: the chain supplies it
    pl/x:12:47 warning[missing-plural-form] compared-shown: `pl` has a form `one` for $n, and the text has no such variant; add a variant `one`, for numbers like 1
    pl/x:12:47 warning[missing-plural-form] compared-shown: `pl` has a form `few` for $n, and the text has no such variant; add a variant `few`, for numbers like 2–4, 22–24, 32–34, 42–44, 52–54
    pl/x:12:47 warning[missing-plural-form] compared-shown: `pl` has a form `many` for $n, and the text has no such variant; add a variant `many`, for numbers like 0, 5–19, 100, 1000, 10000
    pl/x:13:29 note[untranslated] compared-otherwise-shown: the text is the same as in the default locale; translate it, or leave it out: the chain supplies it
    pl/x:13:93 warning[missing-plural-form] compared-otherwise-shown: `pl` has a form `one` for $n, and the text has no such variant; add a variant `one`, for numbers like 1
    pl/x:13:93 warning[missing-plural-form] compared-otherwise-shown: `pl` has a form `few` for $n, and the text has no such variant; add a variant `few`, for numbers like 2–4, 22–24, 32–34, 42–44, 52–54
    pl/x:13:93 warning[missing-plural-form] compared-otherwise-shown: `pl` has a form `many` for $n, and the text has no such variant; add a variant `many`, for numbers like 0, 5–19, 100, 1000, 10000
    pl/x:14:27 note[untranslated] compared-another-shown: the text is the same as in the default locale; translate it, or leave it out: the chain supplies it
    pl/x:15:79 warning[missing-plural-form] range-of-one: `pl` has a form `one` for $r, and the text has no such variant; add a variant `one`, for numbers like 1
    pl/x:15:79 warning[missing-plural-form] range-of-one: `pl` has a form `few` for $r, and the text has no such variant; add a variant `few`, for numbers like 2–4, 22–24, 32–34, 42–44, 52–54
    pl/x:15:79 warning[missing-plural-form] range-of-one: `pl` has a form `many` for $r, and the text has no such variant; add a variant `many`, for numbers like 0, 5–19, 100, 1000, 10000
    ");
    let english: Vec<_> = shown.lines().filter(|line| line.starts_with("en")).collect();
    // English has four ordinals, and one form for ranges.
    insta::assert_snapshot!(english.join("\n"), @"
    en/x:6:80 warning[missing-plural-form] ordinal: `en` has a form `two` for $m, and the text has no such variant; add a variant `two`, for numbers like 2, 22, 32, 42, 52
    en/x:6:80 warning[missing-plural-form] ordinal: `en` has a form `few` for $m, and the text has no such variant; add a variant `few`, for numbers like 3, 23, 33, 43, 53
    en/x:12:47 warning[missing-plural-form] compared-shown: `en` has a form `one` for $n, and the text has no such variant; add a variant `one`, for numbers like 1
    en/x:13:93 warning[missing-plural-form] compared-otherwise-shown: `en` has a form `one` for $n, and the text has no such variant; add a variant `one`, for numbers like 1
    ");
}

#[test]
fn keys_and_unicode_options_that_cannot_be_are_found() {
    let english = r"
horse = '.input {$n :number} .match $n horse {{a}} |1,000| {{b}} on {{c}} 1 {{d}} 1.0 {{e}} one {{f}} * {{{$n}}}'
exact = '.input {$n :number select=exact} .match $n horse {{a}} 1 {{b}} * {{c}}'
range = '.local $r = {1 :crow:range to=2} .match $r 1 {{a}} horse {{b}} one {{c}} * {{d}}'
text = '.input {$n :string} .match $n horse {{a}} * {{c}}'
two = '.input {$n :number} .input {$t :string} .match $t $n horse horse {{a}} * * {{{$n}}}'
direction = '{$n :number u:dir=sideways u:color=red u:id=|a b|} {$n :number u:locale=|?|} {$n :harbour:berth u:dir=up}'
markup = '{#b u:dir=rtl u:id=x}a{/b}'
";
    insta::assert_snapshot!(checked(&["en"], &[("en", "x", english)]), @"
    en/x:2:40 error[bad-variant-key] horse: the key `horse` is not a number or a plural category: it never matches; use a number such as `1`, a plural category such as `one`, or `*`
    en/x:2:52 error[bad-variant-key] horse: the key `1,000` is not a number or a plural category: it never matches; use a number such as `1`, a plural category such as `one`, or `*`
    en/x:2:66 error[bad-variant-key] horse: the key `on` is not a number or a plural category: it never matches; did you mean `one`?
    en/x:3:53 error[bad-variant-key] exact: the key `horse` is not a number or a plural category: it never matches; use a number such as `1`, a plural category such as `one`, or `*`
    en/x:4:53 error[bad-variant-key] range: a range has no single value: it never matches the key `1`; use a plural category such as `one`, or `*`
    en/x:4:61 error[bad-variant-key] range: the key `horse` is not a number or a plural category: it never matches; use a plural category such as `one`, or `*`
    en/x:6:58 warning[missing-plural-form] two: `en` has a form `one` for $n, and the text has no such variant; add a variant `one`, for numbers like 1
    en/x:6:61 error[bad-variant-key] two: the key `horse` is not a number or a plural category: it never matches; use a number such as `1`, a plural category such as `one`, or `*`
    en/x:7:26 error[wrong-option] direction: the option `u:dir` cannot be `sideways`; see what the function takes in the page on messages (docs/messages.md)
    en/x:7:41 error[wrong-option] direction: there is no option `u:color` here; it takes `u:dir`, `u:id`, `u:locale`
    en/x:7:77 error[wrong-option] direction: the option `u:locale` cannot be `|?|`; see what the function takes in the page on messages (docs/messages.md)
    en/x:7:110 error[wrong-option] direction: the option `u:dir` cannot be `up`; see what the function takes in the page on messages (docs/messages.md)
    en/x:8:15 error[wrong-option] markup: there is no option `u:dir` here; delete it: markup has no direction and no locale, only `u:id`
    ");
}

#[test]
fn kinds_that_one_value_can_be_of_agree() {
    let english = "days = 'In {$n :number} days'\nday = 'On {$day :date}'\ntime = 'It takes {$n :number} seconds'\nwrong = 'It takes {$n :crow:duration}'\n";
    let welsh = "days = 'Hwylio {$n :crow:relative unit=day}'\nday = 'Hwylio {$day :crow:relative}'\ntime = 'Mae hi yn cymryd {$n :crow:duration}'\nwrong = 'Ar {$n :date}'\n";
    insta::assert_snapshot!(checked(&["en", "cy"], &[("en", "x", english), ("cy", "x", welsh)]), @"cy/x:4:13 warning[parameter-kind] wrong: `$n` is taken as a date here, as a duration in the default locale; use the same function in both");
}

#[test]
fn kinds_of_parameters_have_names_and_placeholders_are_not_words() {
    let english = "date = '{$x :date}'\nlist = '{$x :crow:list}'\nsame = '{$fare :currency currency=GBP currencyDisplay=narrowSymbol minimumFractionDigits=2} {$from} {$to} {$ship}'\nname = 'Saltmarsh Ferries'\nwords = 'Where would you like to go?'\nforms = '.input {$n :number} .match $n one {{one sailing leaves here today}} * {{{$n} sailings leave here today}}'\n";
    let welsh = english.replace("x :date", "x :number").replace("x :crow:list", "x :date");
    let welsh = welsh.lines().filter(|line| !line.starts_with("forms")).collect::<Vec<_>>().join("\n");
    insta::assert_snapshot!(checked(&["en", "cy"], &[("en", "x", english), ("cy", "x", &welsh)]), @"
    cy/x:- warning[missing-key] forms: the message is not there; the default locale has: .input {$n :number} .match $n one {{one sailing leaves here …
    cy/x:1:9 warning[parameter-kind] date: `$x` is taken as a number here, as a date in the default locale; use the same function in both
    cy/x:2:9 warning[parameter-kind] list: `$x` is taken as a date here, as a list in the default locale; use the same function in both
    cy/x:5:10 note[untranslated] words: the text is the same as in the default locale; translate it, or leave it out: the chain supplies it
    ");
}

#[test]
fn a_file_has_a_hundred_findings_and_a_count_of_the_rest() {
    let lines = |count: usize, text: &str| {
        (0..count).map(|n| format!("key-{n} = '{text}'")).collect::<Vec<_>>().join("\n")
    };
    let (missing, bad) = (lines(150, "Text"), lines(30_000, "a }"));
    let shown = checked(
        &["en", "cy"],
        &[("en", "good", &missing), ("cy", "good", "other = 'x'"), ("en", "bad", &bad)],
    );
    let lines: Vec<&str> = shown.lines().collect();
    let more: Vec<&str> = lines.iter().copied().filter(|line| line.contains("more-findings")).collect();
    insta::assert_snapshot!(more.join("\n"), @"
    cy/good:- warning[more-findings] -: 51 more findings in this file are not shown; correct those that are shown, then check again
    en/bad:- error[more-findings] -: 29900 more findings in this file are not shown; correct those that are shown, then check again
    ");
    let of = |file: &str| lines.iter().filter(|line| line.starts_with(file)).count();
    assert_eq!((of("cy/good"), of("en/bad"), of("en/good")), (101, 101, 0));
    // Problems of the file itself, too.
    let (_, findings) = Catalog::compile(
        "en",
        "x",
        &SectionSource::from_toml(&"number = 3\n'bad key' = 1\n= \n".repeat(30_000)),
    );
    assert_eq!(findings.len(), 101);
    assert!(findings.last().unwrap().text.ends_with(" more findings in this file are not shown"));
}

#[test]
fn a_note_belongs_to_the_first_message_of_its_line() {
    let source = SectionSource::from_toml(
        "# About seats.\nseats = { left = 'a', taken = 'b' }\n# About trips.\ntrips.new = 'c'\n",
    );
    let notes: Vec<_> = source.entries().iter().map(|entry| (entry.key(), entry.note())).collect();
    assert_eq!(
        notes,
        [("seats.left", Some("About seats.")), ("seats.taken", None), ("trips.new", Some("About trips."))]
    );
}

proptest! {
    /// A position is where counting lines and columns from the beginning leads.
    #[test]
    fn positions_are_counted_in_lines_and_characters(text in "[a-zé\n\r 🚢]{0,60}", from in 0usize..80, length in 0usize..20) {
        let inside = |at: usize| (0..=at.min(text.len())).rev().find(|at| text.is_char_boundary(*at)).unwrap_or(0);
        let (start, end) = (inside(from), inside(from + length));
        let position = Position::of(&text, start..end);
        let before = &text[..start];
        let line = before.rsplit('\n').next().unwrap();
        prop_assert_eq!(position.line as usize, before.matches('\n').count() + 1);
        prop_assert_eq!(position.column as usize, line.chars().count() + 1);
        let meant = text[start..end].split('\n').next().unwrap().chars().count();
        prop_assert_eq!(position.length as usize, meant.max(1));
    }
}

#[test]
fn json_may_be_nested_or_flat_and_has_the_places_of_toml() {
    let text = "\u{feff}{\n  \"title\": \"Ferries\",\n  \"seats\": { \"left\": \"caf\\u00e9 \\ud83d\\ude80 {$n left\" },\n  \"seats.none\": \"Full\",\n  \"count\": 3,\n  \"bad key\": \"x\",\n  \"seats\": { \"none\": \"None\" },\n  \"title.long\": \"Saltmarsh Ferries\"\n}\n";
    let source = SectionSource::from_json(text);
    let (catalog, findings) = Catalog::compile("en", "common", &source);
    assert!(matches!(catalog.get("title"), Entry::Message(_)));
    assert!(matches!(catalog.get("title.long"), Entry::Message(_)));
    assert_eq!((catalog.line("seats.none"), catalog.line("title")), (Some(7), Some(2)));
    insta::assert_snapshot!(shown(&findings), @r"
    en/common:5:12 error[not-text] count: the value is a number, not a text; put the message in quotes
    en/common:6:14 error[key-name] bad key: `bad key` is not a name for a message or a group; use ASCII letters, digits, `-` and `_`, and a table for a group
    en/common:7:22 error[duplicate-key] seats.none: the key `seats.none` is there twice, first in line 4; delete one of the two
    en/common:8:17 error[key-and-group] title: `title` is a group here, and a message in line 2; rename one of the two: a message is not a group
    en/common:3:46 error[unclosed-placeholder] seats.left: a placeholder is not closed; close the placeholder with `}`; a brace that is text is written `\{`
    ");
}

#[test]
fn a_broken_json_file_keeps_what_stands_before_the_mistake() {
    for (text, place, keys) in [
        ("{ \"a\": \"A\",\n  \"b\" \"B\" }", "2:7", &["a"][..]),
        ("{ \"a\": { \"b\": \"B\" },\n", "2:1", &["a.b"]),
        ("{ \"a\": \"A\" } x", "1:14", &["a"]),
        ("", "1:1", &[]),
        ("[]", "1:1", &[]),
        ("{ \"a\": [[\"A\"] }", "1:15", &[]),
    ] {
        let source = SectionSource::from_json(text);
        assert!(source.is_broken(), "{text}");
        let problem = source.problems().first().unwrap().finding("en", "x");
        assert_eq!(
            (problem.rule.id(), problem.place.unwrap().to_string().as_str()),
            ("file-syntax", place),
            "{text}"
        );
        assert_eq!(source.entries().iter().map(SourceEntry::key).collect::<Vec<_>>(), keys, "{text}");
    }
}

/// A key as both formats can write it: in groups, and with dots.
fn files_of(names: &[&str]) -> [SectionSource; 4] {
    let (message, groups) = names.split_last().unwrap();
    let nested = groups.iter().map(|name| format!("{{\"{name}\":")).collect::<Vec<_>>().concat();
    let dotted = names.join(".");
    let header = if groups.is_empty() { String::new() } else { format!("[{}]\n", groups.join(".")) };
    [
        SectionSource::from_json(&format!("{nested}{{\"{message}\":\"x\"}}{}", "}".repeat(groups.len()))),
        SectionSource::from_json(&format!("{{\"{dotted}\":\"x\"}}")),
        SectionSource::from_toml(&format!("{header}{message} = 'x'")),
        SectionSource::from_toml(&format!("{dotted} = 'x'")),
    ]
}

#[test]
fn a_key_has_32_names_and_256_bytes_at_most() {
    let long = "x".repeat(64);
    let bytes = |last: usize| vec![long.as_str(), &long, &long, &long[..last]];
    for (names, is_read) in [
        (vec!["a"; 32], true),
        (vec!["a"; 33], false),
        (vec!["a"; 79], false),
        // Three of 64 bytes, three dots, and the last.
        (bytes(61), true),
        (bytes(62), false),
    ] {
        for source in files_of(&names) {
            let keys: Vec<&str> = source.entries().iter().map(SourceEntry::key).collect();
            let rules: Vec<&str> =
                source.problems().iter().map(|problem| problem.finding("en", "x").rule.id()).collect();
            if is_read {
                assert_eq!((keys, rules), (vec![names.join(".").as_str()], vec![]), "{}", source.text());
            } else {
                assert_eq!((keys, rules), (vec![], vec!["too-deep"]), "{}", source.text());
            }
        }
    }
    // A table whose members would have too many names is found without any.
    let table = |names| format!("[{}]", vec!["a"; names].join("."));
    assert!(SectionSource::from_toml(&table(31)).problems().is_empty());
    assert_eq!(SectionSource::from_toml(&table(32)).problems().len(), 1);
}

#[test]
fn a_key_that_is_not_read_is_shown_by_its_beginning() {
    let told = |source: &SectionSource| {
        source.problems().iter().map(|problem| problem.finding("en", "x")).collect::<Vec<_>>()
    };
    let deep = SectionSource::from_json(&format!("{{\"{}a\": \"x\"}}", "a.".repeat(100_000)));
    let long = SectionSource::from_toml(&format!(
        "[{0}.{0}.{0}]\n{0} = 'x'\n\"é {1}\" = 'x'",
        "x".repeat(64),
        "é".repeat(10_000)
    ));
    insta::assert_snapshot!(shown(&told(&deep)), @"en/x:1:200007 error[too-deep] a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.…: `a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.a.…` stands more than 32 levels deep; use fewer levels of groups");
    insta::assert_snapshot!(shown(&told(&long)), @r"
    en/x:2:1 error[too-deep] xxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxx…: the key `xxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxx…` has 259 bytes; 256 are read at most; use fewer levels of groups
    en/x:3:1 error[key-name] xxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxx…: `é éééééééééééééééééééééééééééééééééééééééééééééééééééééééééééééé…` is not a name for a message or a group; use ASCII letters, digits, `-` and `_`, and a table for a group
    ");
}

/// What a small file takes does not grow with the square of its length, whatever its groups are called.
#[test]
fn the_names_of_groups_are_not_repeated_without_a_bound() {
    let groups = vec!["x".repeat(64); 79].join(".");
    let messages = (0..1_000).map(|at| format!("k{at} = ''\n")).collect::<Vec<_>>().concat();
    let members: Vec<String> = (0..1_000).map(|at| format!("\"k{at}\": \"\"")).collect();
    for source in [
        SectionSource::from_toml(&format!("[{groups}]\n{messages}")),
        SectionSource::from_json(&format!("{{\"{}a\": {{ {} }} }}", "a.".repeat(1_000), members.join(", "))),
    ] {
        assert_eq!((source.entries().len(), source.problems().len()), (0, 1), "told once, with the group");
    }
}

#[test]
fn a_byte_order_mark_is_skipped_and_other_encodings_are_found() {
    let marked = SectionSource::read("\u{feff}a = 'A'".as_bytes(), FileFormat::Toml);
    assert_eq!((marked.entries().len(), marked.problems().len()), (1, 0));
    for (bytes, place, text) in [
        (&b"a = 'A'\nb = '\xe9'"[..], "2:6", "the file is not UTF-8: byte 14 does not belong to a character"),
        (b"\xff\xfea\0", "1:1", "the file is UTF-16, not UTF-8"),
    ] {
        let source = SectionSource::read(bytes, FileFormat::Toml);
        let finding = source.problems().first().unwrap().finding("en", "x");
        assert_eq!((finding.rule.id(), finding.place.unwrap().to_string().as_str()), ("encoding", place));
        assert_eq!((finding.text.as_str(), finding.help.as_str()), (text, "save the file as UTF-8"));
    }
}

#[test]
fn in_a_file_of_all_sections_a_message_stands_in_one() {
    let source = SectionSource::from_toml("title = 'x'\n[home]\ntitle = 'y'\n").with_all_sections();
    let (catalog, findings) = Catalog::compile("en", "", &source);
    assert!(matches!(catalog.get("home.title"), Entry::Message(_)));
    insta::assert_snapshot!(shown(&findings), @"en/:1:9 error[no-section] title: the message `title` stands outside of a section; put it into a table whose name is that of the section");
}

proptest! {
    #[test]
    fn a_json_file_of_any_texts_reads_as_it_was_written(
        entries in proptest::collection::btree_map("[a-z]{1,6}(\\.[a-z]{1,3}){0,2}", any::<String>(), 0..8),
    ) {
        let text = serde_json::to_string(&entries).unwrap();
        let source = SectionSource::from_json(&text);
        let read: BTreeMap<_, _> =
            source.entries().iter().map(|entry| (entry.key().to_owned(), entry.text().to_owned())).collect();
        prop_assert_eq!(read, entries);
        for entry in source.entries() {
            // The first place behind any prefix of the text is inside the value.
            for (at, _) in entry.text().char_indices() {
                let place = entry.position(&source, at..at);
                prop_assert!(place.line >= 1 && place.column >= 2);
            }
        }
    }

    /// Few messages are looked through, many are found in a table: both find all there are, and their groups.
    #[test]
    fn every_message_is_found_however_many_there_are(
        keys in proptest::collection::btree_set("[a-c]{1,2}(\\.[a-c]{1,2}){0,2}", 0..60), other in "[a-c.]{1,6}",
    ) {
        let is_group = |key: &str| keys.iter().any(|other| other.strip_prefix(key).is_some_and(|rest| rest.starts_with('.')));
        let keys: Vec<&str> = keys.iter().map(String::as_str).filter(|key| !is_group(key)).collect();
        let lines: Vec<String> = keys.iter().map(|key| format!("{key} = '{key}'")).collect();
        let text = lines.join("\n");
        let (catalog, findings) = Catalog::compile("en", "home", &SectionSource::from_toml(&text));
        prop_assert!(findings.is_empty() && catalog.keys().eq(keys.iter().copied()));
        let context = FormatContext::of(&tag("en"));
        for (key, line) in keys.iter().zip(1..) {
            let Entry::Message(message) = catalog.get(key) else { panic!("{key} is not found in {keys:?}") };
            prop_assert_eq!(message.format(&context, &Args::new()).text(), *key);
            prop_assert_eq!(catalog.line(key), Some(line));
            for (dot, _) in key.match_indices('.') {
                prop_assert!(matches!(catalog.get(&key[..dot]), Entry::Group), "{}", &key[..dot]);
            }
        }
        if !keys.contains(&other.as_str()) && !is_group(&other) {
            prop_assert!(matches!(catalog.get(&other), Entry::Missing), "{}", other);
        }
    }

    #[test]
    fn reading_any_bytes_never_panics(bytes in proptest::collection::vec(any::<u8>(), 0..80)) {
        for &format in FileFormat::ALL {
            Catalog::compile("en", "x", &SectionSource::read(&bytes, format));
        }
    }
}
