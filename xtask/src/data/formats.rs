//! What numbers, money, units, dates and lists are written with: `cldr-numbers-full`, `cldr-units-full`,
//! `cldr-dates-full` and `cldr-misc-full`, as files of texts.
//! Their keys are in `crow_fly_cldr::keys`.

use anyhow::Result;
use crow_fly_cldr::keys::{
    CATEGORIES, EXPLICIT, currencies as currency_keys, dates as date_keys, key, lists as list_keys,
    numbers as number_keys, units as unit_keys,
};
use serde_json::{Map, Value};
use std::collections::BTreeMap;

use super::numbers::ROOT_SYSTEMS;
use super::packages::Packages;
use super::texts::{File, Texts};

/// Reads what a file needs of one locale.
type Read = fn(&Packages, &str) -> Result<Texts>;

/// The files in the order that readers number them.
pub(super) fn files(packages: &Packages) -> Result<Vec<File>> {
    let files: [(&'static str, &str, Read); 5] = [
        ("numbers", "cldr-numbers-full", numbers),
        ("currencies", "cldr-numbers-full", currencies),
        ("units", "cldr-units-full", units),
        ("lists", "cldr-misc-full", lists),
        ("dates", "cldr-dates-full", dates),
    ];
    files
        .into_iter()
        .map(|(name, package, read)| {
            let mut texts = BTreeMap::new();
            for locale in packages.locales(package)? {
                let of_locale = read(packages, &locale)?;
                texts.insert(locale, of_locale);
            }
            Ok(File { name, keys: name, texts })
        })
        .collect()
}

fn object(value: &Value) -> impl Iterator<Item = (&String, &Value)> {
    value.as_object().into_iter().flatten()
}

fn put(texts: &mut Texts, key: impl Into<String>, value: &Value) {
    let numbers = value["_numbers"].as_str().map(|numbers| format!("{}{numbers}", date_keys::NUMBERS));
    if let Some(text) = value.as_str().or_else(|| value["_value"].as_str()) {
        texts.insert(key.into(), format!("{text}{}", numbers.unwrap_or_default()));
    }
}

/// Forms by plural category, and of exact numbers. One that is written as `other` stays: the locale may inherit another one.
fn counts(texts: &mut Texts, before: &[&str], of: &Value, prefix: &str) {
    for count in CATEGORIES.into_iter().chain(EXPLICIT) {
        put(texts, key(&[before, &[count]].concat()), &of[format!("{prefix}{count}")]);
    }
}

fn numbers(packages: &Packages, locale: &str) -> Result<Texts> {
    let json = packages.json(&format!("cldr-numbers-full/main/{locale}/numbers.json"))?;
    let numbers = &json["main"][locale]["numbers"];
    let mut texts = Texts::new();
    if locale == "und" {
        root_signs(packages, &mut texts)?;
    }
    let default = numbers["defaultNumberingSystem"].as_str().unwrap_or("latn");
    for (name, section) in object(numbers) {
        let Some((name, system)) = name.split_once("-numberSystem-") else { continue };
        let mut put = |name: &str, value: &Value| put(&mut texts, key(&[name, system]), value);
        match name {
            "symbols" => {
                put(number_keys::PERCENT_SIGN, &section["percentSign"]);
                put(number_keys::NAN, &section["nan"]);
                put(number_keys::INFINITY, &section["infinity"]);
                put(number_keys::ABOUT, &section["approximatelySign"]);
                put(number_keys::MONEY_GROUP, &section["currencyGroup"]);
                put(number_keys::MONEY_DECIMAL, &section["currencyDecimal"]);
            }
            "percentFormats" => put(number_keys::PERCENT, &section["standard"]),
            "miscPatterns" => put(number_keys::RANGE, &section["range"]),
            "currencyFormats" => {
                put(number_keys::MONEY, &section["standard"]);
                put(number_keys::ACCOUNTING, &section["accounting"]);
                put(number_keys::MONEY_ALPHA, &section["standard-alphaNextToNumber"]);
                put(number_keys::ACCOUNTING_ALPHA, &section["accounting-alphaNextToNumber"]);
                if system == default {
                    counts(&mut texts, &[number_keys::MONEY_UNIT], section, "unitPattern-count-");
                    compact(&mut texts, number_keys::COMPACT_MONEY, &section["short"]["standard"]);
                }
            }
            "decimalFormats" if system == default => {
                compact(&mut texts, number_keys::COMPACT_SHORT, &section["short"]["decimalFormat"]);
                compact(&mut texts, number_keys::COMPACT_LONG, &section["long"]["decimalFormat"]);
            }
            _ => {}
        }
    }
    Ok(texts)
}

/// The percent signs of the numbering systems that the root has signs for; of Arabic digits the patterns of the root, too.
fn root_signs(packages: &Packages, texts: &mut Texts) -> Result<()> {
    for (locale, system) in ROOT_SYSTEMS {
        let json = packages.json(&format!("cldr-numbers-full/main/{locale}/numbers.json"))?;
        let of_system =
            |name: &str| &json["main"][locale]["numbers"][format!("{name}-numberSystem-{system}")];
        put(texts, key(&[number_keys::PERCENT_SIGN, system]), &of_system("symbols")["percentSign"]);
        if system == "arab" {
            put(texts, key(&[number_keys::PERCENT, system]), &of_system("percentFormats")["standard"]);
            put(texts, key(&[number_keys::MONEY, system]), &of_system("currencyFormats")["standard"]);
            put(texts, key(&[number_keys::ACCOUNTING, system]), &of_system("currencyFormats")["accounting"]);
        }
    }
    Ok(())
}

/// `1000-count-one` and its like; forms for a letter next to the number are left to spacing rules.
fn compact(texts: &mut Texts, name: &str, of: &Value) {
    let magnitudes: Map<String, Value> = object(of)
        .filter(|(name, _)| !name.contains("-alt-"))
        .map(|(name, value)| (name.clone(), value.clone()))
        .collect();
    let of = Value::Object(magnitudes);
    for zeros in number_keys::MAGNITUDES {
        let magnitude = 10_u64.pow(zeros);
        counts(texts, &[name, &zeros.to_string()], &of, &format!("{magnitude}-count-"));
    }
}

fn currencies(packages: &Packages, locale: &str) -> Result<Texts> {
    let json = packages.json(&format!("cldr-numbers-full/main/{locale}/currencies.json"))?;
    let mut texts = Texts::new();
    for (code, currency) in object(&json["main"][locale]["numbers"]["currencies"]) {
        put(&mut texts, code, &currency["symbol"]);
        put(&mut texts, key(&[code, currency_keys::NARROW]), &currency["symbol-alt-narrow"]);
        put(&mut texts, key(&[code, currency_keys::NAME]), &currency["displayName"]);
        counts(&mut texts, &[code], currency, "displayName-count-");
    }
    Ok(texts)
}

fn units(packages: &Packages, locale: &str) -> Result<Texts> {
    let json = packages.json(&format!("cldr-units-full/main/{locale}/units.json"))?;
    let mut texts = Texts::new();
    for fields in unit_keys::CLOCKS {
        let pattern = &json["main"][locale]["units"][format!("durationUnit-type-{fields}")];
        put(&mut texts, key(&[unit_keys::CLOCK, fields]), &pattern["durationUnitPattern"]);
    }
    for width in unit_keys::WIDTHS {
        for (name, unit) in object(&json["main"][locale]["units"][width]) {
            if let Some(pattern) = unit["compoundUnitPattern"].as_str() {
                texts.insert(key(&[name, width]), pattern.to_owned());
            }
            // `length-kilometer` is `kilometer`: identifiers are unique without their category.
            let Some((_, name)) = name.split_once('-').filter(|(start, _)| !start.starts_with("10")) else {
                continue;
            };
            counts(&mut texts, &[name, width], unit, "unitPattern-count-");
            put(&mut texts, key(&[name, width, unit_keys::PER]), &unit["perUnitPattern"]);
        }
    }
    Ok(texts)
}

fn lists(packages: &Packages, locale: &str) -> Result<Texts> {
    let json = packages.json(&format!("cldr-misc-full/main/{locale}/listPatterns.json"))?;
    let mut texts = Texts::new();
    for (name, patterns) in object(&json["main"][locale]["listPatterns"]) {
        let Some(name) = name.strip_prefix("listPattern-type-") else { continue };
        let name = name.replace("standard", list_keys::AND);
        for (part, pattern) in object(patterns) {
            put(&mut texts, key(&[&name, part]), pattern);
        }
    }
    Ok(texts)
}

fn dates(packages: &Packages, locale: &str) -> Result<Texts> {
    let json = packages.json(&format!("cldr-dates-full/main/{locale}/ca-gregorian.json"))?;
    let calendar = &json["main"][locale]["dates"]["calendars"]["gregorian"];
    let mut texts = Texts::new();
    calendar_names(&mut texts, calendar);
    calendar_patterns(&mut texts, calendar);
    let json = packages.json(&format!("cldr-dates-full/main/{locale}/timeZoneNames.json"))?;
    let zones = &json["main"][locale]["dates"]["timeZoneNames"];
    for (key, name) in [
        (date_keys::GMT, "gmtFormat"),
        (date_keys::GMT_ZERO, "gmtZeroFormat"),
        (date_keys::GMT_HOURS, "hourFormat"),
    ] {
        put(&mut texts, key, &zones[name]);
    }
    let json = packages.json(&format!("cldr-dates-full/main/{locale}/dateFields.json"))?;
    relative_times(&mut texts, &json["main"][locale]["dates"]["fields"]);
    Ok(texts)
}

/// Names of months, days, periods of the day and eras.
fn calendar_names(texts: &mut Texts, calendar: &Value) {
    for (section, kinds) in [
        ("months", [date_keys::MONTH, date_keys::MONTH_ALONE]),
        ("days", [date_keys::DAY, date_keys::DAY_ALONE]),
        ("dayPeriods", [date_keys::PERIOD, date_keys::PERIOD_ALONE]),
        ("quarters", [date_keys::QUARTER, date_keys::QUARTER_ALONE]),
    ] {
        for (context, kind) in ["format", "stand-alone"].into_iter().zip(kinds) {
            for (width, names) in object(&calendar[section][context]) {
                for (name, text) in object(names).filter(|(name, _)| !name.contains("-alt-")) {
                    put(texts, key(&[kind, width, name]), text);
                }
            }
        }
    }
    for (section, width) in
        [("eraNames", date_keys::WIDE), ("eraAbbr", date_keys::ABBREVIATED), ("eraNarrow", date_keys::NARROW)]
    {
        for (era, text) in object(&calendar["eras"][section]).filter(|(era, _)| !era.contains("-alt-")) {
            put(texts, key(&[date_keys::ERA, width, era]), text);
        }
    }
}

/// Patterns of dates, of times, of both, and of intervals.
pub(super) fn calendar_patterns(texts: &mut Texts, calendar: &Value) {
    for length in date_keys::LENGTHS {
        put(texts, key(&[date_keys::DATE, length]), &calendar["dateFormats"][length]);
        put(texts, key(&[date_keys::DATE_SKELETON, length]), &calendar["dateSkeletons"][length]);
        put(texts, key(&[date_keys::TIME, length]), &calendar["timeFormats"][length]);
        put(texts, key(&[date_keys::JOIN, length]), &calendar["dateTimeFormats"][length]);
        put(texts, key(&[date_keys::AT, length]), &calendar["dateTimeFormats-atTime"]["standard"][length]);
    }
    for (skeleton, pattern) in object(&calendar["dateTimeFormats"]["availableFormats"]) {
        // Weeks by plural category are asked for by no function.
        if !skeleton.contains('-') && !skeleton.contains(['w', 'W']) {
            put(texts, key(&[date_keys::SKELETON, skeleton]), pattern);
        }
    }
    for (skeleton, patterns) in object(&calendar["dateTimeFormats"]["intervalFormats"]) {
        put(
            texts,
            date_keys::INTERVAL,
            if skeleton == "intervalFormatFallback" { patterns } else { &Value::Null },
        );
        for (field, pattern) in object(patterns).filter(|(field, _)| !field.contains('-')) {
            put(texts, key(&[date_keys::INTERVAL, skeleton, field]), pattern);
        }
    }
    put(
        texts,
        key(&[date_keys::APPEND, date_keys::ZONE]),
        &calendar["dateTimeFormats"]["appendItems"]["Timezone"],
    );
}

fn relative_times(texts: &mut Texts, fields: &Value) {
    for (field, forms) in object(fields) {
        for (name, form) in object(forms) {
            if let Some(offset) = name.strip_prefix("relative-type-") {
                put(texts, key(&[date_keys::RELATIVE, field, offset]), form);
            } else if let Some(direction) = name.strip_prefix("relativeTime-type-") {
                counts(texts, &[date_keys::RELATIVE, field, direction], form, "relativeTimePattern-count-");
            }
        }
    }
}
