//! The calendars beside the Gregorian one.
//!
//! No package has all of them. What each locale has of its own is cut once out of the XML files of the release
//! (`data --cut-calendars`) and kept in `calendars.txt`: a line `= calendar locale`, then lines of a key and a text. The text
//! `→ month/wide` means: as `month/wide`. A text that a calendar does not have is taken from the generic calendar
//! (`ca-generic.json`), then from the Gregorian one (UTS #35 part 1, "Multiple Inheritance").

use std::collections::{BTreeMap, BTreeSet};
use std::fmt::Write as _;
use std::fs;
use std::path::Path;

use anyhow::{Context, Result};
use crow_fly_cldr::keys::{calendars, dates as keys, key};
use roxmltree::{Document, Node};
use serde_json::Value;

use super::formats::calendar_patterns;
use super::packages::Packages;
use super::texts::{File, Texts, parent};

/// What each locale has of a calendar.
type OfLocales = BTreeMap<String, Texts>;

/// The mark of a text that names another key.
const ALIAS: &str = "→ ";

/// The first lines of what is kept.
const HEAD: &str = "# Written by `cargo run -p xtask -- data --cut-calendars` from the XML files of CLDR 48.2. Do not edit.\n\
    # Data under the Unicode licence: see LICENSE-UNICODE.\n";

/// Meiji. Sources disagree on the days on which earlier eras began.
const FIRST_ERA: u16 = 232;

/// The files of the generic calendar, and of each of the others.
pub(super) fn files(packages: &Packages, source: &Path) -> Result<Vec<File>> {
    let locales = packages.locales("cldr-dates-full")?;
    let explicit = packages.json("cldr-core/supplemental/parentLocales.json")?;
    let explicit = &explicit["supplemental"]["parentLocales"]["parentLocale"];
    let mut generic = OfLocales::new();
    for locale in &locales {
        generic.insert(locale.clone(), generic_patterns(packages, locale)?);
    }
    only_of_gregorian(packages, &mut generic)?;
    let mut files = vec![File { name: calendars::GENERIC, keys: keys::FILE, texts: generic }];
    let source = fs::read_to_string(source).with_context(|| format!("reading {}", source.display()))?;
    let own = read(&source);
    for name in calendars::FILES {
        let own = own.get(name).with_context(|| format!("there is no calendar {name}"))?;
        let mut texts: OfLocales =
            locales.iter().map(|locale| (locale.clone(), resolved(own, explicit, locale))).collect();
        if name == "japanese"
            && let Some((texts, generic)) = texts.get_mut("ja").zip(files[0].texts.get("ja"))
        {
            with_first_years(texts, generic);
        }
        files.push(File { name, keys: keys::FILE, texts });
    }
    Ok(files)
}

fn generic_patterns(packages: &Packages, locale: &str) -> Result<Texts> {
    let json = packages.json(&format!("cldr-dates-full/main/{locale}/ca-generic.json"))?;
    let mut texts = Texts::new();
    calendar_patterns(&mut texts, &json["main"][locale]["dates"]["calendars"]["generic"]);
    texts.retain(|key, _| !is_of_gregorian(key));
    Ok(texts)
}

/// Whether the Gregorian calendar has a text for all: times, and what joins a date and the time at it, which browsers take
/// from there.
fn is_of_gregorian(wanted: &str) -> bool {
    [keys::TIME, keys::AT].iter().any(|kind| wanted.split('/').next() == Some(kind))
}

/// What only the Gregorian calendar has is empty in the root, so that no reader goes on to look for it there.
fn only_of_gregorian(packages: &Packages, generic: &mut OfLocales) -> Result<()> {
    let mut gregorian = BTreeSet::new();
    for locale in generic.keys() {
        let json = packages.json(&format!("cldr-dates-full/main/{locale}/ca-gregorian.json"))?;
        let mut texts = Texts::new();
        calendar_patterns(&mut texts, &json["main"][locale]["dates"]["calendars"]["gregorian"]);
        gregorian.extend(texts.into_keys().filter(|key| !is_of_gregorian(key)));
    }
    let root = generic.get_mut("und").context("there is no root")?;
    for key in gregorian {
        root.entry(key).or_default();
    }
    Ok(())
}

/// The texts that a locale has of a calendar, or inherits.
fn resolved(own: &OfLocales, explicit: &Value, locale: &str) -> Texts {
    let chain: Vec<&Texts> =
        std::iter::successors(Some(locale.to_owned()), |locale| parent(explicit, locale))
            .filter_map(|locale| own.get(&locale))
            .collect();
    let find = |key: &str| chain.iter().find_map(|texts| texts.get(key));
    let mut all: BTreeSet<String> = own.values().flat_map(|texts| texts.keys().cloned()).collect();
    let names: BTreeSet<String> =
        all.iter().filter_map(|key| key.rsplit('/').next()).map(str::to_owned).collect();
    let aliases: Vec<String> =
        all.iter().filter(|key| find(key).is_some_and(|text| text.starts_with(ALIAS))).cloned().collect();
    for alias in &aliases {
        all.remove(alias);
        all.extend(names.iter().map(|name| key(&[alias, name])));
    }
    let text = |wanted: &str| {
        let (mut kind, name) = wanted.rsplit_once('/').unwrap_or((wanted, ""));
        let mut text = find(wanted);
        // A width is at most three aliases away from one that has names.
        for _ in 0..4 {
            if text.is_some() {
                break;
            }
            kind = find(kind)?.strip_prefix(ALIAS)?;
            text = find(&key(&[kind, name]));
        }
        text.cloned()
    };
    all.iter().filter_map(|key| Some((key.clone(), text(key)?))).collect()
}

/// Japanese writes the first year of an era by its character wherever the year has its own (`Gy年`), though the patterns
/// of skeletons do not say so.
fn with_first_years(texts: &mut Texts, generic: &Texts) {
    for (key, text) in generic {
        texts.entry(key.clone()).or_insert_with(|| text.clone());
    }
    texts.retain(|key, text| text.contains("y年") || generic.get(key) != Some(text));
    for text in texts.values_mut().filter(|text| text.contains("y年") && !text.contains(keys::NUMBERS)) {
        let _ = write!(text, "{}y=jpanyear", keys::NUMBERS);
    }
}

fn read(source: &str) -> BTreeMap<&str, OfLocales> {
    let mut calendars: BTreeMap<&str, OfLocales> = BTreeMap::new();
    let mut current = None;
    for line in source.lines() {
        if let Some((calendar, locale)) = line.strip_prefix("= ").and_then(|line| line.split_once(' ')) {
            current = Some((calendar, locale));
        } else if let (Some((calendar, locale)), Some((key, text))) = (current, line.split_once('\t')) {
            let of_locale = calendars.entry(calendar).or_default().entry(locale.to_owned()).or_default();
            of_locale.insert(key.to_owned(), text.to_owned());
        }
    }
    calendars
}

/// Cuts what each locale has of its own out of the XML files of a release: `common/main`.
pub(crate) fn cut(main: &Path, to: &Path) -> Result<()> {
    let mut paths = fs::read_dir(main)?.map(|entry| Ok(entry?.path())).collect::<Result<Vec<_>>>()?;
    paths.sort();
    let mut calendars: BTreeMap<(&str, String), Texts> = BTreeMap::new();
    for path in paths.iter().filter(|path| path.extension().is_some_and(|end| end == "xml")) {
        let name = path.file_stem().unwrap_or_default().to_string_lossy().replace('_', "-");
        let locale = if name == "root" { "und".to_owned() } else { name };
        let xml = fs::read_to_string(path)?;
        let options = roxmltree::ParsingOptions { allow_dtd: true, ..Default::default() };
        let document =
            Document::parse_with_options(&xml, options).with_context(|| format!("{}", path.display()))?;
        for calendar in document.descendants().filter(|node| node.has_tag_name("calendar")) {
            let Some(name) =
                calendars::FILES.into_iter().find(|name| calendar.attribute("type") == Some(name))
            else {
                continue;
            };
            let texts = of_calendar(calendar);
            if !texts.is_empty() {
                calendars.insert((name, locale.clone()), texts);
            }
        }
    }
    let mut text = String::from(HEAD);
    for ((calendar, locale), texts) in calendars {
        let _ = writeln!(text, "= {calendar} {locale}");
        for (key, value) in texts {
            let _ = writeln!(text, "{key}\t{value}");
        }
    }
    fs::write(to, text).with_context(|| format!("writing {}", to.display()))
}

/// What a locale has of a calendar of its own.
fn of_calendar(calendar: Node<'_, '_>) -> Texts {
    let mut texts = Texts::new();
    for node in calendar.descendants().filter(|node| node.is_element() && is_settled(*node)) {
        let parents: Vec<Node<'_, '_>> = node.ancestors().take(5).collect();
        let above = |level: usize, name: &str| parents.get(level).filter(|parent| parent.has_tag_name(name));
        let kind = |level: usize, name: &str| above(level, name).and_then(|parent| parent.attribute("type"));
        let item = |level: usize, name: &str| above(level, name).and_then(|parent| parent.attribute("id"));
        let found = match node.tag_name().name() {
            "month" => months(kind(2, "monthContext"), kind(1, "monthWidth"))
                .zip(node.attribute("type"))
                .map(|(of, month)| {
                    let leap = if node.attribute("yeartype") == Some("leap") { calendars::LEAP } else { "" };
                    format!("{of}/{month}{leap}")
                }),
            "day" => days(kind(2, "dayContext"), kind(1, "dayWidth"))
                .zip(node.attribute("type"))
                .map(|(of, day)| key(&[&of, day])),
            "era" => eras(parents[1].tag_name().name())
                .zip(node.attribute("type"))
                .map(|(of, era)| format!("{of}/{era}")),
            "pattern" if kind(1, "dateTimeFormat").is_none_or(|kind| kind == "standard") => [
                ("dateFormatLength", keys::DATE),
                ("timeFormatLength", keys::TIME),
                ("dateTimeFormatLength", keys::JOIN),
            ]
            .into_iter()
            .find_map(|(name, of)| Some(key(&[of, kind(2, name)?]))),
            "datetimeSkeleton" => {
                kind(2, "dateFormatLength").map(|length| key(&[keys::DATE_SKELETON, length]))
            }
            "dateFormatItem" => node.attribute("id").map(|id| key(&[keys::SKELETON, id])),
            "greatestDifference" => {
                let of = item(1, "intervalFormatItem").zip(node.attribute("id"));
                of.map(|(skeleton, field)| key(&[keys::INTERVAL, skeleton, field]))
            }
            "intervalFormatFallback" => Some(keys::INTERVAL.to_owned()),
            "alias" => {
                let of = months(kind(2, "monthContext"), kind(1, "monthWidth"))
                    .or_else(|| eras(parents[1].tag_name().name()));
                let to = node.attribute("path").and_then(|path| alias(path, kind(2, "monthContext")));
                if let Some((of, to)) = of.zip(to) {
                    texts.insert(of, format!("{ALIAS}{to}"));
                }
                None
            }
            _ => None,
        };
        if let (Some(key), Some(text)) = (found, node.text()) {
            // Weeks and counts are asked for by no function.
            let skeleton = key.strip_prefix(keys::SKELETON).or_else(|| key.strip_prefix(keys::INTERVAL));
            if !skeleton.is_some_and(|skeleton| skeleton.contains(['w', 'W'])) {
                let numbers = node
                    .attribute("numbers")
                    .map_or_else(String::new, |numbers| format!("{}{numbers}", keys::NUMBERS));
                texts.insert(key, format!("{text}{numbers}"));
            }
        }
    }
    let is_japanese = calendar.attribute("type") == Some("japanese");
    texts.retain(|key, _| !is_japanese || !is_old_era(key));
    texts
}

/// Whether a text is of the usual form, and has been confirmed.
fn is_settled(node: Node<'_, '_>) -> bool {
    node.attribute("alt").is_none()
        && node.attribute("count").is_none()
        && !matches!(node.attribute("draft"), Some("unconfirmed" | "provisional"))
}

fn months(context: Option<&str>, width: Option<&str>) -> Option<String> {
    let kind = if context? == "format" { keys::MONTH } else { keys::MONTH_ALONE };
    Some(key(&[kind, width?]))
}

fn days(context: Option<&str>, width: Option<&str>) -> Option<String> {
    let kind = if context? == "format" { keys::DAY } else { keys::DAY_ALONE };
    Some(key(&[kind, width?]))
}

fn eras(element: &str) -> Option<String> {
    let width = match element {
        "eraNames" => keys::WIDE,
        "eraAbbr" => keys::ABBREVIATED,
        "eraNarrow" => keys::NARROW,
        _ => return None,
    };
    Some(key(&[keys::ERA, width]))
}

/// The key that an alias within a calendar leads to.
fn alias(path: &str, context: Option<&str>) -> Option<String> {
    if path.contains("calendar[") {
        return None;
    }
    let value = |name: &str| {
        path.split_once(&format!("{name}[@type='")).and_then(|(_, rest)| rest.split('\'').next())
    };
    match value("monthWidth") {
        Some(width) => months(value("monthContext").or(context), Some(width)),
        None => eras(path.rsplit('/').next()?),
    }
}

fn is_old_era(key: &str) -> bool {
    let era = key.strip_prefix(keys::ERA).and_then(|key| key.rsplit('/').next()?.parse().ok());
    era.is_some_and(|era: u16| era < FIRST_ERA)
}
