//! What numbers, money, units, dates and lists are written with: `cldr-numbers-full`, `cldr-units-full`,
//! `cldr-dates-full` and `cldr-misc-full`, as files of texts.
//!
//! | file | keys |
//! |---|---|
//! | `numbers.bin` | `percent/latn`, `percent-sign/latn`, `money/latn`, `accounting/latn`, `money-unit/one`, `range/latn`, `compact-short/1000/one` |
//! | `currencies.bin` | `PLN` (symbol), `PLN/narrow`, `PLN/name`, `PLN/few` |
//! | `units.bin` | `kilometer/long/few`, `kilometer/long/per`, `per/long` |
//! | `lists.bin` | `and/start`, `and/middle`, `and/end`, `and/2`, likewise `or`, `unit`, each also with `-short` and `-narrow` |
//! | `dates.bin` | `month/wide/1`, `month-alone/wide/1`, `day/…`, `period/wide/am`, `era/wide/1`, `date/long`, `time/short`, `join/long`, `at/long`, `skeleton/yMMMd`, `interval/yMMMd/d`, `gmt`, `relative/day-short/future/one`, `relative/day/-1` |

use anyhow::Result;
use serde_json::{Map, Value};
use std::collections::BTreeMap;

use super::Table;
use super::packages::Packages;
use super::texts::{Texts, encode, parents};

const COUNTS: [&str; 6] = ["zero", "one", "two", "few", "many", "other"];

/// Reads what a file needs of one locale.
type Read = fn(&Packages, &str) -> Result<Texts>;

pub(super) fn tables(packages: &Packages) -> Result<Vec<Table>> {
    let files: [(&'static str, &str, Read); 5] = [
        ("numbers.bin", "cldr-numbers-full", numbers),
        ("currencies.bin", "cldr-numbers-full", currencies),
        ("units.bin", "cldr-units-full", units),
        ("lists.bin", "cldr-misc-full", lists),
        ("dates.bin", "cldr-dates-full", dates),
    ];
    files
        .into_iter()
        .map(|(name, package, read)| {
            let mut all = BTreeMap::new();
            for locale in packages.locales(package)? {
                let texts = read(packages, &locale)?;
                all.insert(locale, texts);
            }
            let parents = parents(packages, &all)?;
            Ok(Table { name, content: encode(&all, &parents)? })
        })
        .collect()
}

fn object(value: &Value) -> impl Iterator<Item = (&String, &Value)> {
    value.as_object().into_iter().flatten()
}

fn put(texts: &mut Texts, key: impl Into<String>, value: &Value) {
    // A pattern with digits of its own for a field says them beside it; they are left to the locale's.
    if let Some(text) = value.as_str().or_else(|| value["_value"].as_str()) {
        texts.insert(key.into(), text.to_owned());
    }
}

/// Forms by plural category. One that is written as `other` stays: the locale may inherit another one.
fn counts(texts: &mut Texts, key: &str, of: &Value, prefix: &str) {
    for count in COUNTS {
        put(texts, format!("{key}/{count}"), &of[format!("{prefix}{count}")]);
    }
}

fn numbers(packages: &Packages, locale: &str) -> Result<Texts> {
    let json = packages.json(&format!("cldr-numbers-full/main/{locale}/numbers.json"))?;
    let numbers = &json["main"][locale]["numbers"];
    let mut texts = Texts::new();
    let default = numbers["defaultNumberingSystem"].as_str().unwrap_or("latn");
    for (name, section) in object(numbers) {
        let Some((name, system)) = name.split_once("-numberSystem-") else { continue };
        let mut put = |key: &str, value: &Value| put(&mut texts, format!("{key}/{system}"), value);
        match name {
            "symbols" => {
                put("percent-sign", &section["percentSign"]);
                put("nan", &section["nan"]);
                put("infinity", &section["infinity"]);
                put("money-group", &section["currencyGroup"]);
                put("money-decimal", &section["currencyDecimal"]);
            }
            "percentFormats" => put("percent", &section["standard"]),
            "miscPatterns" => {
                put("range", &section["range"]);
                put("about", &section["approximately"]);
            }
            "currencyFormats" => {
                put("money", &section["standard"]);
                put("accounting", &section["accounting"]);
                put("money-alpha", &section["standard-alphaNextToNumber"]);
                put("accounting-alpha", &section["accounting-alphaNextToNumber"]);
                if system == default {
                    counts(&mut texts, "money-unit", section, "unitPattern-count-");
                    compact(&mut texts, "compact-money", &section["short"]["standard"]);
                }
            }
            "decimalFormats" if system == default => {
                compact(&mut texts, "compact-short", &section["short"]["decimalFormat"]);
                compact(&mut texts, "compact-long", &section["long"]["decimalFormat"]);
            }
            _ => {}
        }
    }
    Ok(texts)
}

/// `1000-count-one` and its like; forms for a letter next to the number are left to spacing rules.
fn compact(texts: &mut Texts, key: &str, of: &Value) {
    let magnitudes: Map<String, Value> = object(of)
        .filter(|(name, _)| !name.contains("-alt-"))
        .map(|(name, value)| (name.clone(), value.clone()))
        .collect();
    let of = Value::Object(magnitudes);
    for zeros in 3..15 {
        let magnitude = format!("1{}", "0".repeat(zeros));
        counts(texts, &format!("{key}/{zeros}"), &of, &format!("{magnitude}-count-"));
    }
}

fn currencies(packages: &Packages, locale: &str) -> Result<Texts> {
    let json = packages.json(&format!("cldr-numbers-full/main/{locale}/currencies.json"))?;
    let mut texts = Texts::new();
    for (code, currency) in object(&json["main"][locale]["numbers"]["currencies"]) {
        put(&mut texts, code, &currency["symbol"]);
        put(&mut texts, format!("{code}/narrow"), &currency["symbol-alt-narrow"]);
        put(&mut texts, format!("{code}/name"), &currency["displayName"]);
        counts(&mut texts, code, currency, "displayName-count-");
    }
    Ok(texts)
}

fn units(packages: &Packages, locale: &str) -> Result<Texts> {
    let json = packages.json(&format!("cldr-units-full/main/{locale}/units.json"))?;
    let mut texts = Texts::new();
    for width in ["long", "short", "narrow"] {
        for (name, unit) in object(&json["main"][locale]["units"][width]) {
            if let Some(pattern) = unit["compoundUnitPattern"].as_str() {
                texts.insert(format!("{name}/{width}"), pattern.to_owned());
            }
            // `length-kilometer` is `kilometer`: identifiers are unique without their category.
            let Some((_, name)) = name.split_once('-').filter(|(start, _)| !start.starts_with("10")) else {
                continue;
            };
            let key = format!("{name}/{width}");
            counts(&mut texts, &key, unit, "unitPattern-count-");
            put(&mut texts, format!("{key}/per"), &unit["perUnitPattern"]);
        }
    }
    Ok(texts)
}

fn lists(packages: &Packages, locale: &str) -> Result<Texts> {
    let json = packages.json(&format!("cldr-misc-full/main/{locale}/listPatterns.json"))?;
    let mut texts = Texts::new();
    for (name, patterns) in object(&json["main"][locale]["listPatterns"]) {
        let Some(name) = name.strip_prefix("listPattern-type-") else { continue };
        let name = name.replace("standard", "and");
        for (part, pattern) in object(patterns) {
            put(&mut texts, format!("{name}/{part}"), pattern);
        }
    }
    Ok(texts)
}

fn dates(packages: &Packages, locale: &str) -> Result<Texts> {
    let json = packages.json(&format!("cldr-dates-full/main/{locale}/ca-gregorian.json"))?;
    let calendar = &json["main"][locale]["dates"]["calendars"]["gregorian"];
    let mut texts = Texts::new();
    for (section, key) in [("months", "month"), ("days", "day"), ("dayPeriods", "period")] {
        for (context, suffix) in [("format", ""), ("stand-alone", "-alone")] {
            for (width, names) in object(&calendar[section][context]) {
                for (name, text) in object(names).filter(|(name, _)| !name.contains("-alt-")) {
                    put(&mut texts, format!("{key}{suffix}/{width}/{name}"), text);
                }
            }
        }
    }
    for (section, width) in [("eraNames", "wide"), ("eraAbbr", "abbreviated"), ("eraNarrow", "narrow")] {
        for (era, text) in object(&calendar["eras"][section]).filter(|(era, _)| !era.contains("-alt-")) {
            put(&mut texts, format!("era/{width}/{era}"), text);
        }
    }
    for width in ["full", "long", "medium", "short"] {
        put(&mut texts, format!("date/{width}"), &calendar["dateFormats"][width]);
        put(&mut texts, format!("time/{width}"), &calendar["timeFormats"][width]);
        put(&mut texts, format!("join/{width}"), &calendar["dateTimeFormats"][width]);
        put(&mut texts, format!("at/{width}"), &calendar["dateTimeFormats-atTime"]["standard"][width]);
    }
    for (skeleton, pattern) in object(&calendar["dateTimeFormats"]["availableFormats"]) {
        // Weeks by plural category are asked for by no function.
        if !skeleton.contains('-') && !skeleton.contains(['w', 'W', 'Q']) {
            put(&mut texts, format!("skeleton/{skeleton}"), pattern);
        }
    }
    for (skeleton, patterns) in object(&calendar["dateTimeFormats"]["intervalFormats"]) {
        put(
            &mut texts,
            "interval",
            if skeleton == "intervalFormatFallback" { patterns } else { &Value::Null },
        );
        for (field, pattern) in object(patterns).filter(|(field, _)| !field.contains('-')) {
            put(&mut texts, format!("interval/{skeleton}/{field}"), pattern);
        }
    }
    put(&mut texts, "append/zone", &calendar["dateTimeFormats"]["appendItems"]["Timezone"]);
    let json = packages.json(&format!("cldr-dates-full/main/{locale}/timeZoneNames.json"))?;
    let zones = &json["main"][locale]["dates"]["timeZoneNames"];
    for (key, name) in [("gmt", "gmtFormat"), ("gmt-zero", "gmtZeroFormat"), ("gmt-hours", "hourFormat")] {
        put(&mut texts, key, &zones[name]);
    }
    let json = packages.json(&format!("cldr-dates-full/main/{locale}/dateFields.json"))?;
    for (field, forms) in object(&json["main"][locale]["dates"]["fields"]) {
        for (name, form) in object(forms) {
            if let Some(offset) = name.strip_prefix("relative-type-") {
                put(&mut texts, format!("relative/{field}/{offset}"), form);
            } else if let Some(direction) = name.strip_prefix("relativeTime-type-") {
                counts(
                    &mut texts,
                    &format!("relative/{field}/{direction}"),
                    form,
                    "relativeTimePattern-count-",
                );
            }
        }
    }
    Ok(texts)
}
