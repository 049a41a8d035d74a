//! `plurals.json` and `ordinals.json`: rules as data, each distinct set once, with the samples.

use std::collections::BTreeMap;

use anyhow::{Context, Result, bail};
use serde_json::Value;

use super::Table;
use super::emit::{Source, parts};
use super::packages::Packages;

const CATEGORIES: [&str; 6] = ["zero", "one", "two", "few", "many", "other"];

pub(super) fn table(packages: &Packages) -> Result<Table> {
    let mut source = Source::new("plurals.rs", "plurals.json, ordinals.json");
    source.line("use super::{Category::*, Operand::*, Relation, Rule};\n");
    for (file, kind, name) in
        [("plurals", "plurals-type-cardinal", "CARDINAL"), ("ordinals", "plurals-type-ordinal", "ORDINAL")]
    {
        let json = packages.json(&format!("cldr-core/supplemental/{file}.json"))?;
        let data = json["supplemental"][kind].as_object().context("no plural table")?;
        let mut sets: BTreeMap<String, usize> = BTreeMap::new();
        let mut rules_of: Vec<String> = Vec::new();
        let mut samples_of: Vec<String> = Vec::new();
        let mut locales = Vec::new();
        for (locale, rules) in data {
            let (rules, samples) = rule_set(rules).with_context(|| format!("{file} of `{locale}`"))?;
            let index = *sets.entry(format!("{rules}{samples}")).or_insert_with(|| {
                rules_of.push(rules);
                samples_of.push(samples);
                rules_of.len() - 1
            });
            locales.push(format!("({}, {index})", parts(locale)));
        }
        source.sorted_array(&format!("{name}_LOCALES"), "(super::Parts, u8)", locales);
        source.array(&format!("{name}_RULES"), "&[Rule]", rules_of);
        source.array(&format!("{name}_SAMPLES"), "&[(super::Category, &str)]", samples_of);
    }
    Ok(source.finish())
}

/// The rules of one locale as two Rust expressions: conditions, and samples.
fn rule_set(rules: &Value) -> Result<(String, String)> {
    let (mut conditions, mut samples) = (Vec::new(), Vec::new());
    for category in CATEGORIES {
        let Some(rule) = rules[format!("pluralRule-count-{category}")].as_str() else { continue };
        let (condition, sample) = rule
            .split_once('@')
            .map_or((rule, String::new()), |(condition, sample)| (condition, format!("@{sample}")));
        let name = variant(category);
        samples.push(format!("({name}, {sample:?})"));
        if category == "other" {
            if !condition.trim().is_empty() {
                bail!("`other` has a condition");
            }
            continue;
        }
        let any_of = condition.split(" or ").map(all_of).collect::<Result<Vec<_>>>()?;
        conditions.push(format!("Rule {{ category: {name}, any_of: &[{}] }}", any_of.join(", ")));
    }
    Ok((format!("&[{}]", conditions.join(", ")), format!("&[{}]", samples.join(", "))))
}

pub(super) fn variant(category: &str) -> String {
    let (first, rest) = category.split_at(1);
    format!("{}{rest}", first.to_ascii_uppercase())
}

fn all_of(text: &str) -> Result<String> {
    Ok(format!("&[{}]", text.split(" and ").map(relation).collect::<Result<Vec<_>>>()?.join(", ")))
}

/// `n % 100 != 11..14,20` (UTS #35 part 3, plural rules syntax).
fn relation(text: &str) -> Result<String> {
    let text = text.trim();
    let (left, right, equal) = match (text.split_once("!="), text.split_once('=')) {
        (Some((left, right)), _) => (left, right, false),
        (None, Some((left, right))) => (left, right, true),
        (None, None) => bail!("no relation in `{text}`"),
    };
    let (operand, modulus) = match left.split_once('%') {
        Some((operand, modulus)) => (operand.trim(), modulus.trim().parse::<u32>()?),
        None => (left.trim(), 0),
    };
    if modulus != 0 && !10_u64.pow(18).is_multiple_of(u64::from(modulus)) {
        bail!("the reader keeps the last eighteen digits, which do not tell the rest by {modulus}");
    }
    if !["n", "i", "v", "w", "f", "t", "c", "e"].contains(&operand) {
        bail!("unknown operand `{operand}`");
    }
    let ranges = right
        .split(',')
        .map(|range| {
            let (low, high) = range.trim().split_once("..").unwrap_or((range.trim(), range.trim()));
            Ok(format!("({}, {})", low.parse::<u32>()?, high.parse::<u32>()?))
        })
        .collect::<Result<Vec<_>>>()?;
    let operand = operand.to_ascii_uppercase();
    Ok(format!(
        "Relation {{ operand: {operand}, modulus: {modulus}, equal: {equal}, ranges: &[{}] }}",
        ranges.join(", ")
    ))
}

#[cfg(test)]
mod tests {
    use serde_json::json;

    use super::{relation, rule_set};

    #[test]
    fn relations_are_operand_modulus_and_ranges() {
        for (source, expected) in [
            ("n = 1", "Relation { operand: N, modulus: 0, equal: true, ranges: &[(1, 1)] }"),
            (
                "i % 100 != 11..14,20",
                "Relation { operand: I, modulus: 100, equal: false, ranges: &[(11, 14), (20, 20)] }",
            ),
            (" v=0 ", "Relation { operand: V, modulus: 0, equal: true, ranges: &[(0, 0)] }"),
        ] {
            assert_eq!(relation(source).unwrap(), expected, "{source}");
        }
        for wrong in ["n", "q = 1", "n % 7 = 1", "n = x", "n % x = 1"] {
            assert!(relation(wrong).is_err(), "{wrong}");
        }
    }

    #[test]
    fn a_set_has_conditions_and_samples_and_other_has_no_condition() {
        let rules = json!({
            "pluralRule-count-other": " @integer 2~16 @decimal 0.0",
            "pluralRule-count-one": "i = 1 and v = 0 or n = 7 @integer 1",
        });
        let (conditions, samples) = rule_set(&rules).unwrap();
        assert_eq!(conditions.matches("Rule {").count(), 1);
        assert_eq!(conditions.matches("Relation {").count(), 3);
        assert_eq!(samples, r#"&[(One, "@integer 1"), (Other, "@integer 2~16 @decimal 0.0")]"#);
        assert!(rule_set(&json!({ "pluralRule-count-other": "n = 1 @integer 1" })).is_err());
    }
}
