//! Catalog files, and checks across them.

use std::collections::BTreeMap;

use crow_fly_core::catalog::{Catalog, Entry, SectionSource};
use crow_fly_core::chain::Chains;
use crow_fly_core::check::{Sources, check};
use crow_fly_core::finding::Finding;
use crow_fly_core::locale_set::LocaleSet;

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
    en/common:3:1 error[key-name] bad key: `bad key` is no name for a message or a group; use ASCII letters, digits, `-` and `_`, and a table for a group
    en/common:5:8 error[not-text] list: the value is a list, not a text; put the message in quotes
    en/common:4:16 error[unclosed-placeholder] broken: a placeholder is not closed; close the placeholder with `}`; a brace that is text is written `\{`
    en/common:6:35 error[unclosed-placeholder] later: a placeholder is not closed; close the placeholder with `}`; a brace that is text is written `\{`
    en/common:9:3 error[unclosed-placeholder] lines: a placeholder is not closed; close the placeholder with `}`; a brace that is text is written `\{`
    ");
    let (_, findings) =
        Catalog::compile("en", "common", &SectionSource::from_toml("a = 'x'\nb = \na = 'y'\n"));
    assert!(
        !findings.is_empty() && findings.iter().all(|finding| finding.rule == "file-syntax"),
        "{}",
        shown(&findings)
    );
}

fn checked(locales: &[&str], catalogs: &[(&str, &str, &str)]) -> String {
    let set = LocaleSet::parse(locales).unwrap();
    let chains = Chains::new(&set, [], []).unwrap();
    let mut sources = Sources::new();
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
    insta::assert_snapshot!(checked(&["en", "en-GB", "cy"], &[("en", "common", english), ("en", "trips", "a = 'A'"), ("cy", "common", welsh), ("cy", "trip", "a = 'A'"), ("en-GB", "common", "bye = 'Cheerio'")]), @r"
    cy/common:- warning[missing-key] title: the message is not there; there is `titel`: is its name misspelled? The default locale says: Ferries
    cy/common:1:10 warning[surplus-key] titel: the default locale has no such message; did you mean `title`?
    cy/common:2:16 error[surplus-parameter] hello: `$nmae` is no parameter of this message in the default locale; did you mean `$name`?
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
    insta::assert_snapshot!(checked(&["en", "cy", "es"], &[("en", "x", english), ("cy", "x", welsh), ("es", "x", spanish)]), @r"
    cy/x:1:54 warning[missing-plural-form] seats: `cy` has a form `two` for $m, and the text has none; add a variant `two`: it is said of 2
    cy/x:1:54 warning[missing-plural-form] seats: `cy` has a form `few` for $m, and the text has none; add a variant `few`: it is said of 3
    cy/x:1:54 warning[missing-plural-form] seats: `cy` has a form `many` for $m, and the text has none; add a variant `many`: it is said of 6
    en/x:1:51 warning[unused-plural-form] seats: `en` has no form `few`: this variant is never said; its forms are one, other
    en/x:2:53 warning[missing-plural-form] place: `en` has a form `two` for $n, and the text has none; add a variant `two`: it is said of 2, 22, 32, 42, 52
    en/x:2:53 warning[missing-plural-form] place: `en` has a form `few` for $n, and the text has none; add a variant `few`: it is said of 3, 23, 33, 43, 53
    en/x:4:17 error[unknown-function] function: there is no function `:integr`; did you mean `:integer`?
    es/x:1:38 note[missing-plural-form] seats: `es` has a form `many` for $n, and the text has none; add a variant `many`: it is said of 1000000, 1c6, 2c6, 3c6, 4c6
    ");
}
