//! Texts of all locales in one compact file, each only where it is not what the locale inherits.
//!
//! The form is described where it is read, in `crow-fly-cldr/src/texts.rs`.

use std::collections::{BTreeMap, BTreeSet};

use anyhow::{Context, Result};

use super::packages::Packages;

/// The texts of a locale: key, as the reader asks for it, and text.
pub(super) type Texts = BTreeMap<String, String>;

/// The locale each one inherits from, or none at the root.
pub(super) fn parents(
    packages: &Packages,
    all: &BTreeMap<String, Texts>,
) -> Result<BTreeMap<String, String>> {
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

pub(super) fn encode(all: &BTreeMap<String, Texts>, parents: &BTreeMap<String, String>) -> Result<Vec<u8>> {
    let keys: BTreeSet<&str> = all.values().flat_map(|names| names.keys().map(String::as_str)).collect();
    let keys: Vec<&str> = keys.into_iter().collect();
    let locales: Vec<&str> = all.keys().map(String::as_str).collect();
    let mut pool = Pool::default();

    let mut key_rows = Vec::new();
    for key in &keys {
        key_rows.extend(pool.place(key)?.to_le_bytes());
    }
    let (mut locale_rows, mut entry_rows) = (Vec::new(), Vec::new());
    for (locale, texts) in all {
        let parent = parents.get(locale).and_then(|parent| locales.binary_search(&parent.as_str()).ok());
        let start = u32::try_from(entry_rows.len() / 6)?;
        for (key, text) in texts {
            if inherited(all, parents, locale, key) == Some(text) {
                continue;
            }
            let key = keys.binary_search(&key.as_str()).ok().context("a key that is not in the list")?;
            entry_rows.extend(u16::try_from(key)?.to_le_bytes());
            entry_rows.extend(pool.place(text)?.to_le_bytes());
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
    all: &'a BTreeMap<String, Texts>,
    parents: &BTreeMap<String, String>,
    locale: &str,
    key: &str,
) -> Option<&'a String> {
    let mut locale = parents.get(locale);
    while let Some(parent) = locale {
        if let Some(text) = all.get(parent).and_then(|texts| texts.get(key)) {
            return Some(text);
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
