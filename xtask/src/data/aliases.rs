//! `aliases.json` and the value aliases of `cldr-bcp47`: what canonicalization replaces.

use std::collections::BTreeMap;

use anyhow::{Context, Result};
use serde_json::Value;

use super::Table;
use super::emit::{Source, padded};
use super::packages::Packages;

/// The grandfathered tags of RFC 5646 §2.2.8 that its grammar alone would refuse or take for something else.
const GRANDFATHERED: [&str; 26] = [
    "art-lojban",
    "cel-gaulish",
    "en-gb-oed",
    "i-ami",
    "i-bnn",
    "i-default",
    "i-enochian",
    "i-hak",
    "i-klingon",
    "i-lux",
    "i-mingo",
    "i-navajo",
    "i-pwn",
    "i-tao",
    "i-tay",
    "i-tsu",
    "no-bok",
    "no-nyn",
    "sgn-be-fr",
    "sgn-be-nl",
    "sgn-ch-de",
    "zh-guoyu",
    "zh-hakka",
    "zh-min",
    "zh-min-nan",
    "zh-xiang",
];

pub(super) fn table(packages: &Packages) -> Result<Table> {
    let json = packages.json("cldr-core/supplemental/aliases.json")?;
    let alias = &json["supplemental"]["metadata"]["alias"];
    let read = |kind: &str| -> Result<BTreeMap<String, String>> {
        alias[kind]
            .as_object()
            .with_context(|| format!("{kind} is not a table"))?
            .iter()
            .map(|(from, to)| {
                Ok((from.clone(), to["_replacement"].as_str().context("no replacement")?.to_owned()))
            })
            .collect()
    };

    let mut source = Source::new("aliases.rs", "aliases.json, cldr-bcp47");
    languages(&mut source, read("languageAlias")?);
    source.array("GRANDFATHERED", "(&str, &str)", grandfathered(&read("languageAlias")?)?);

    source.array(
        "SCRIPTS",
        "([u8; 4], [u8; 4])",
        read("scriptAlias")?.iter().map(|(from, to)| format!("({}, {})", padded(from, 4), padded(to, 4))),
    );
    let regions = read("territoryAlias")?;
    source.line(
        "/// Each region's replacements; where there are several, the likely one of the language is taken.",
    );
    for (name, length) in [("TWO_LETTER_REGIONS", 2), ("OTHER_REGIONS", 3)] {
        let rows = regions.iter().filter(|(from, _)| from.len() == length);
        let rows = rows.map(|(from, to)| {
            let to: Vec<String> = to.split(' ').map(|to| padded(to, 3)).collect();
            format!("({}, &[{}])", padded(from, 3), to.join(", "))
        });
        source.array(name, "([u8; 3], &[[u8; 3]])", rows);
    }
    let pairs = |map: BTreeMap<String, String>| {
        map.into_iter()
            .map(|(from, to)| format!("(\"{from}\", \"{}\")", to.to_ascii_lowercase()))
            .collect::<Vec<_>>()
    };
    source.array("VARIANTS", "(&str, &str)", pairs(read("variantAlias")?));
    source.array("SUBDIVISIONS", "(&str, &str)", pairs(subdivisions(read("subdivisionAlias")?)));
    values(packages, &mut source)?;
    Ok(source.finish())
}

/// Languages alone, and rules with more than a language.
fn languages(source: &mut Source, all: BTreeMap<String, String>) {
    let mut languages = Vec::new();
    let mut compound = Vec::new();
    for (from, to) in all {
        if from.contains('-') {
            compound.extend(compound_rule(&from, &to));
        } else {
            languages.push((from, to));
        }
    }
    source.line("/// The few of two letters apart: nearly every language that is asked for has two.");
    for (name, length) in [("TWO_LETTERS", 2), ("THREE_LETTERS", 3)] {
        let rows = languages.iter().filter(|(from, _)| from.len() == length);
        source.array(
            name,
            "([u8; 3], &str)",
            rows.map(|(from, to)| format!("({}, \"{to}\")", padded(from, 3))),
        );
    }
    source
        .line("/// Rules with more than a language: `sgn-BR`, `hy-arevmda`, `und-aaland` (zeros for `und`).");
    source.array("COMPOUND", "super::Compound", compound);
}

/// The replacements of grandfathered tags.
fn grandfathered(languages: &BTreeMap<String, String>) -> Result<Vec<String>> {
    let row = |tag: &str| {
        let row = languages.iter().find(|(from, _)| from.eq_ignore_ascii_case(tag));
        let (from, to) = row.with_context(|| format!("no replacement for `{tag}`"))?;
        Ok(format!("(\"{from}\", \"{to}\")"))
    };
    GRANDFATHERED.into_iter().map(row).collect()
}

/// Of several subdivisions the first is taken (UTS #35, annex C, processing `rg` and `sd`).
fn subdivisions(all: BTreeMap<String, String>) -> BTreeMap<String, String> {
    let first = |(from, to): (String, String)| {
        let first = to.split(' ').next().unwrap_or_default().to_owned();
        // A replacement that is a plain region is written as its unknown subdivision, `zzzz`.
        (from, if first.len() <= 3 { format!("{first}zzzz") } else { first })
    };
    all.into_iter().map(first).collect()
}

/// The deprecated or long values of `-u-` and `-t-` keys: (key, value, preferred value).
fn values(packages: &Packages, source: &mut Source) -> Result<()> {
    let mut rows = BTreeMap::new();
    for file in [
        "calendar",
        "collation",
        "currency",
        "measure",
        "number",
        "segmentation",
        "timezone",
        "transform",
        "transform-destination",
        "variant",
    ] {
        let json = packages.json(&format!("cldr-bcp47/bcp47/{file}.json"))?;
        for space in ["u", "t"] {
            let Some(keys) = json["keyword"][space].as_object() else { continue };
            for (key, types) in keys {
                for (name, facts) in types.as_object().into_iter().flatten() {
                    collect(space, key, name, facts, &mut rows);
                }
            }
        }
    }
    source.line("/// (`u` or `t`, key, value) and the value that replaces it; sorted.");
    source.array(
        "VALUES",
        "(u8, [u8; 2], &str, &str)",
        rows.iter()
            .map(|((space, key, from), to)| format!("(b'{space}', *b\"{key}\", \"{from}\", \"{to}\")")),
    );
    Ok(())
}

/// Language, region and variants of a rule; none for what is grandfathered only, or an extended language.
fn compound_rule(from: &str, to: &str) -> Option<String> {
    let mut subtags = from.split('-').peekable();
    let language = subtags.next().filter(|language| (2..=3).contains(&language.len()))?;
    let region = subtags.next_if(|subtag| subtag.len() == 2).unwrap_or_default();
    let variants: Vec<&str> = subtags.collect();
    if variants.iter().any(|variant| variant.len() < 5) {
        return None;
    }
    let language = if language == "und" { "" } else { language };
    let (language, region) = (padded(language, 3), padded(region, 3));
    Some(format!(
        "super::Compound {{ language: {language}, region: {region}, variants: &{variants:?}, to: \"{to}\" }}"
    ))
}

type ValueRows = BTreeMap<(String, String, String), String>;

fn collect(space: &str, key: &str, name: &str, facts: &Value, rows: &mut ValueRows) {
    if name.starts_with('_') || !facts.is_object() {
        return;
    }
    let mut add = |from: &str, to: &str| {
        let valid = |value: &str| {
            value.split('-').all(|part| {
                (3..=8).contains(&part.len()) && part.bytes().all(|byte| byte.is_ascii_alphanumeric())
            })
        };
        let from = from.to_ascii_lowercase();
        if valid(&from) && from != to {
            rows.insert((space.to_owned(), key.to_owned(), from), to.to_owned());
        }
    };
    let preferred = facts["_preferred"].as_str().unwrap_or(name);
    if preferred != name {
        add(name, preferred);
    }
    for alias in facts["_alias"].as_str().into_iter().flat_map(|aliases| aliases.split(' ')) {
        add(alias, preferred);
    }
}

#[cfg(test)]
mod tests {
    use std::collections::BTreeMap;

    use serde_json::json;

    use super::{collect, compound_rule};

    #[test]
    fn rules_of_several_subtags_are_taken_apart() {
        let rule = compound_rule("sgn-BR", "bzs").unwrap();
        assert!(rule.contains(r#"language: *b"sgn", region: *b"BR\0", variants: &[], to: "bzs""#), "{rule}");
        let rule = compound_rule("und-hepburn-heploc", "und-alalc97").unwrap();
        assert!(
            rule.contains(r#"language: *b"\0\0\0""#) && rule.contains(r#"["hepburn", "heploc"]"#),
            "{rule}"
        );
        for not_a_rule in ["i-klingon", "zh-cmn-Hans", "en-GB-oed", "sgn-BE-FR"] {
            assert_eq!(compound_rule(not_a_rule, "x"), None, "{not_a_rule}");
        }
    }

    #[test]
    fn values_lead_from_their_old_names_to_the_preferred_one() {
        let mut rows = BTreeMap::new();
        collect("u", "ca", "islamicc", &json!({ "_preferred": "islamic-civil" }), &mut rows);
        collect("u", "kn", "true", &json!({ "_alias": "yes" }), &mut rows);
        collect("u", "ca", "gregory", &json!({ "_alias": "gregorian" }), &mut rows);
        collect("u", "tz", "aolad", &json!({ "_alias": "Africa/Luanda" }), &mut rows);
        collect("u", "ca", "_description", &json!({ "_alias": "x" }), &mut rows);
        let rows: Vec<_> =
            rows.iter().map(|((space, key, from), to)| format!("{space} {key} {from} {to}")).collect();
        // `gregorian` and `Africa/Luanda` are no values a tag can hold.
        assert_eq!(rows, ["u ca islamicc islamic-civil", "u kn yes true"]);
    }
}
