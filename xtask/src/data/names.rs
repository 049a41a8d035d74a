//! `cldr-localenames-full` and the menu casing of `cldr-misc-full`: names of languages, scripts, regions, variants.
//!
//! Two files of one form: `own_names.bin` holds what each locale needs to name itself, `names.bin` everything.
//! The form is described where it is read, in `crow-fly-cldr/src/names.rs`.

use std::collections::{BTreeMap, BTreeSet};

use anyhow::{Context, Result};
use serde_json::Value;

use super::Table;
use super::packages::Packages;

/// Key of a name, as the reader asks for it, and the name.
type Names = BTreeMap<String, String>;

pub(super) fn tables(packages: &Packages) -> Result<Vec<Table>> {
    let mut all: BTreeMap<String, Names> = BTreeMap::new();
    for locale in packages.locales("cldr-localenames-full")? {
        all.insert(locale.clone(), read(packages, &locale)?);
    }
    let parents = parents(packages, &all)?;
    let likely = packages.json("cldr-core/supplemental/likelySubtags.json")?;
    let likely = &likely["supplemental"]["likelySubtags"];

    let own = all
        .iter()
        .map(|(locale, names)| {
            let wanted = own_keys(locale, likely);
            let names = names.iter().filter(|(key, _)| key.starts_with('{') || wanted.contains(key));
            (locale.clone(), names.map(|(key, name)| (key.clone(), name.clone())).collect())
        })
        .collect();
    Ok(vec![
        Table { name: "names.bin", content: encode(&all, &parents)? },
        Table { name: "own_names.bin", content: encode(&own, &parents)? },
    ])
}

fn read(packages: &Packages, locale: &str) -> Result<Names> {
    let mut names = Names::new();
    for (file, section) in [
        ("languages", "languages"),
        ("scripts", "scripts"),
        ("territories", "territories"),
        ("variants", "variants"),
    ] {
        let Some(json) =
            packages.optional_json(&format!("cldr-localenames-full/main/{locale}/{file}.json"))?
        else {
            continue;
        };
        for (key, name) in
            json["main"][locale]["localeDisplayNames"][section].as_object().into_iter().flatten()
        {
            let name = name.as_str().context("a name is a text")?;
            // Where CLDR has no name it repeats the code; `alt` forms are for other uses than a menu.
            if key.contains("-alt-") || key.contains("-menu-") || key == name {
                continue;
            }
            let key =
                if section == "variants" { format!("+{}", key.to_ascii_lowercase()) } else { key.clone() };
            names.insert(key, name.to_owned());
        }
    }
    let json = packages.json(&format!("cldr-localenames-full/main/{locale}/localeDisplayNames.json"))?;
    let pattern = &json["main"][locale]["localeDisplayNames"]["localeDisplayPattern"];
    for (key, part) in [("{pattern}", "localePattern"), ("{separator}", "localeSeparator")] {
        names.insert(key.to_owned(), pattern[part].as_str().context("no display pattern")?.to_owned());
    }
    let casing = packages.optional_json(&format!("cldr-misc-full/main/{locale}/contextTransforms.json"))?;
    let casing = casing.map_or(Value::Null, |mut json| {
        json["main"][locale]["contextTransforms"]["languages"]["uiListOrMenu"].take()
    });
    if casing == "titlecase-firstword" {
        names.insert("{menu}".to_owned(), "title".to_owned());
    }
    Ok(names)
}

/// What a locale's own name is made of: its language with and without script and region, and those two.
fn own_keys(locale: &str, likely: &Value) -> Vec<String> {
    let subtags: Vec<&str> = locale.split('-').collect();
    let language = subtags.first().copied().unwrap_or_default();
    let maximal = likely[locale].as_str().or_else(|| likely[language].as_str()).unwrap_or_default();
    let of = |length: &[usize]| {
        let find = |tag: &[&str]| {
            tag.iter()
                .skip(1)
                .find(|subtag| length.contains(&subtag.len()))
                .map(|subtag| (*subtag).to_owned())
        };
        find(&subtags).or_else(|| find(&maximal.split('-').collect::<Vec<_>>())).unwrap_or_default()
    };
    let (script, region) = (of(&[4]), of(&[2, 3]));
    let mut keys = vec![
        language.to_owned(),
        format!("{language}-{script}"),
        format!("{language}-{region}"),
        format!("{language}-{script}-{region}"),
        script,
        region,
    ];
    keys.extend(
        subtags
            .iter()
            .skip(1)
            .filter(|subtag| subtag.len() > 4)
            .map(|variant| format!("+{}", variant.to_ascii_lowercase())),
    );
    keys
}

/// The locale each one inherits from, or none at the root.
fn parents(packages: &Packages, all: &BTreeMap<String, Names>) -> Result<BTreeMap<String, String>> {
    let json = packages.json("cldr-core/supplemental/parentLocales.json")?;
    let explicit = &json["supplemental"]["parentLocales"]["parentLocale"];
    Ok(all
        .keys()
        .filter(|locale| *locale != "und")
        .map(|locale| {
            let mut parent = locale.clone();
            loop {
                parent = match (explicit[&parent].as_str(), parent.rsplit_once('-')) {
                    (Some(parent), _) => parent.to_owned(),
                    (None, Some((shorter, _))) => shorter.to_owned(),
                    (None, None) => "und".to_owned(),
                };
                if parent == "und" || all.contains_key(&parent) {
                    return (locale.clone(), parent);
                }
            }
        })
        .collect())
}

fn encode(all: &BTreeMap<String, Names>, parents: &BTreeMap<String, String>) -> Result<Vec<u8>> {
    let keys: BTreeSet<&str> = all.values().flat_map(|names| names.keys().map(String::as_str)).collect();
    let keys: Vec<&str> = keys.into_iter().collect();
    let locales: Vec<&str> = all.keys().map(String::as_str).collect();
    let mut pool = Pool::default();

    let mut key_rows = Vec::new();
    for key in &keys {
        key_rows.extend(pool.place(key)?.to_le_bytes());
    }
    let (mut locale_rows, mut entry_rows) = (Vec::new(), Vec::new());
    for (locale, names) in all {
        let parent = parents.get(locale).and_then(|parent| locales.binary_search(&parent.as_str()).ok());
        let start = u32::try_from(entry_rows.len() / 6)?;
        for (key, name) in names {
            if inherited(all, parents, locale, key) == Some(name) {
                continue;
            }
            let key = keys.binary_search(&key.as_str()).ok().context("a key that is not in the list")?;
            entry_rows.extend(u16::try_from(key)?.to_le_bytes());
            entry_rows.extend(pool.place(name)?.to_le_bytes());
        }
        let end = u32::try_from(entry_rows.len() / 6)?;
        locale_rows.extend(pool.place(locale)?.to_le_bytes());
        locale_rows.extend(parent.map_or(Ok(u16::MAX), u16::try_from)?.to_le_bytes());
        locale_rows.extend(start.to_le_bytes());
        locale_rows.extend(u16::try_from(end - start)?.to_le_bytes());
    }
    let mut bytes = Vec::new();
    bytes.extend(u16::try_from(keys.len())?.to_le_bytes());
    bytes.extend(u16::try_from(locales.len())?.to_le_bytes());
    bytes.extend(u32::try_from(entry_rows.len() / 6)?.to_le_bytes());
    bytes.extend(key_rows);
    bytes.extend(locale_rows);
    bytes.extend(entry_rows);
    bytes.extend(pool.bytes);
    Ok(bytes)
}

fn inherited<'a>(
    all: &'a BTreeMap<String, Names>,
    parents: &BTreeMap<String, String>,
    locale: &str,
    key: &str,
) -> Option<&'a String> {
    let mut locale = parents.get(locale);
    while let Some(parent) = locale {
        if let Some(name) = all.get(parent).and_then(|names| names.get(key)) {
            return Some(name);
        }
        locale = parents.get(parent);
    }
    None
}

/// Texts, each once, with two bytes for the length before it.
#[derive(Default)]
struct Pool {
    bytes: Vec<u8>,
    places: BTreeMap<String, u32>,
}

impl Pool {
    fn place(&mut self, text: &str) -> Result<u32> {
        if let Some(place) = self.places.get(text) {
            return Ok(*place);
        }
        let place = u32::try_from(self.bytes.len())?;
        self.bytes.extend(u16::try_from(text.len())?.to_le_bytes());
        self.bytes.extend(text.as_bytes());
        self.places.insert(text.to_owned(), place);
        Ok(place)
    }
}
