//! Texts of all locales in compact files, each only where it is not what the locale inherits.
//!
//! The form is described where it is read, in `crow-fly-cldr/src/data.rs`.

use std::collections::{BTreeMap, BTreeSet};

use anyhow::{Context, Result, ensure};
use crow_fly_cldr::data::join;
use crow_fly_cldr::keys::{calendars, zones};
use crow_fly_cldr::texts::GROUP;
use miniz_oxide::deflate::compress_to_vec;
use serde_json::Value;

use super::Table;
use super::emit::{Source, padded};
use super::packages::{Packages, VERSION};

/// The most that is spent on making blocks small.
const LEVEL: u8 = 10;

/// The texts of a locale: key, as the reader asks for it, and text.
pub(super) type Texts = BTreeMap<String, String>;

/// The locale each one inherits from, or none at the root.
fn parents(packages: &Packages, all: &BTreeMap<String, Texts>) -> Result<BTreeMap<String, String>> {
    let json = packages.json("cldr-core/supplemental/parentLocales.json")?;
    let explicit = &json["supplemental"]["parentLocales"]["parentLocale"];
    Ok(all
        .keys()
        .filter(|locale| *locale != "und")
        .filter_map(|locale| {
            let above = std::iter::successors(parent(explicit, locale), |locale| parent(explicit, locale));
            let mut above = above.filter(|parent| parent == "und" || all.contains_key(parent));
            Some((locale.clone(), above.next()?))
        })
        .collect())
}

/// The locale that one inherits from, by CLDR's list or without its last subtag; none for the root.
pub(super) fn parent(explicit: &Value, locale: &str) -> Option<String> {
    match (explicit[locale].as_str(), locale.rsplit_once('-')) {
        _ if locale == "und" => None,
        (Some(parent), _) => Some(parent.to_owned()),
        (None, Some((shorter, _))) => Some(shorter.to_owned()),
        (None, None) => Some("und".to_owned()),
    }
}

/// The texts of a file, in all locales: its name, the list of its keys, and what it holds.
pub(super) struct File {
    pub(super) name: &'static str,
    /// Files of one list share its keys.
    pub(super) keys: &'static str,
    pub(super) texts: BTreeMap<String, Texts>,
}

/// The tables of some files, in the order that readers number them; `names` comes last and alone.
pub(super) fn tables(packages: &Packages, files: &[File]) -> Result<Vec<Table>> {
    let first = files.first().context("there are no files")?;
    let parents = parents(packages, &first.texts)?;
    let locales: Vec<&str> = first.texts.keys().map(String::as_str).collect();
    let languages = languages(&locales);
    let mut tables = Vec::new();
    let mut blocks: Vec<(u16, Vec<u8>)> = Vec::new();
    for (at, file) in files.iter().enumerate() {
        ensure!(file.texts.keys().eq(&locales), "{} has other locales than {}", file.name, first.name);
        let of_list =
            files.iter().filter(|other| other.keys == file.keys).flat_map(|file| file.texts.values());
        let keys: BTreeSet<&str> = of_list.flat_map(|texts| texts.keys().map(String::as_str)).collect();
        let keys: Vec<&str> = keys.into_iter().collect();
        if file.keys == file.name {
            tables.push(Table { name: format!("{}_keys.bin", file.name), content: encode_keys(&keys)? });
        }
        for (language, range) in languages.windows(2).enumerate() {
            let own = locales[range[0]..range[1]].iter().map(|locale| {
                let inherited = |key: &str| inherited(&file.texts, &parents, locale, key);
                file.texts[*locale].iter().filter(move |(key, text)| inherited(key) != Some(*text))
            });
            let place = u16::try_from(at * (languages.len() - 1) + language)?;
            blocks.push((place, compress_to_vec(&encode_block(&keys, own)?, LEVEL)));
        }
    }
    let rows = locales.iter().map(|locale| {
        let parent = parents.get(*locale).and_then(|parent| locales.binary_search(&parent.as_str()).ok());
        format!(
            "({}, {})",
            padded(locale, 14),
            parent.map_or("u16::MAX".to_owned(), |parent| parent.to_string())
        )
    });
    let mut source = Source::new("locales.rs", "the locales of the `-full` packages");
    source.line("/// The locales, sorted, with the places of those they inherit from.");
    source.array("LOCALES", "([u8; 14], u16)", rows);
    source.line("/// Where each language starts among the locales, and where the last one ends.");
    source.array("LANGUAGES", "u16", languages.iter().map(ToString::to_string));
    let source = source.finish();

    // Data is of one version with the keys and the locales that it is read by.
    let mut format = crc32fast::Hasher::new();
    format.update(VERSION.as_bytes());
    tables.iter().chain([&source]).for_each(|table| format.update(&table.content));
    let format = format.finalize();
    let mut source = source;
    source.content.extend(format!("\n/// What says that data goes with these tables.\npub(crate) const FORMAT: u32 = {format:#010x};\n").bytes());
    tables.push(source);

    let root = locales.iter().position(|locale| *locale == "und").context("there is no root")?;
    let root = languages.partition_point(|first| *first <= root) - 1;
    let count = languages.len() - 1;
    let place = |name: &str| files.iter().position(|file| file.name == name).context("there is no such file");
    let (generic, zones, names) = (place(calendars::GENERIC)?, place(zones::FILE)?, files.len() - 1);
    let optional = generic + 1 + calendars::PREFERRED;
    let of = |name: &str, is_in: &dyn Fn(usize, usize) -> bool| {
        let blocks: Vec<(u16, &[u8])> = blocks
            .iter()
            .filter(|(place, _)| is_in(usize::from(*place) / count, usize::from(*place) % count))
            .map(|(place, block)| (*place, block.as_slice()))
            .collect();
        Table { name: name.to_owned(), content: join(format, &blocks) }
    };
    let tables_of_blocks = [
        of("locales.bin", &|file, _| file < optional),
        of("calendars.bin", &|file, _| (optional..zones).contains(&file)),
        of("zone_names.bin", &|file, _| file == zones),
        of("names.bin", &|file, _| file == names),
        of("root.bin", &|file, language| file < generic && language == root),
    ];
    tables.extend(tables_of_blocks);
    Ok(tables)
}

/// Where each language starts, and where the last one ends: its locales stand together.
fn languages(locales: &[&str]) -> Vec<usize> {
    let language = |locale: &str| locale.split('-').next().unwrap_or_default().to_owned();
    let starts =
        (0..locales.len()).filter(|at| *at == 0 || language(locales[*at]) != language(locales[*at - 1]));
    starts.chain([locales.len()]).collect()
}

/// The form is described in `crow-fly-cldr/src/key_list.rs`.
fn encode_keys(keys: &[&str]) -> Result<Vec<u8>> {
    let (mut places, mut bytes) = (Vec::new(), Vec::new());
    for group in keys.chunks(GROUP) {
        places.extend(u16::try_from(bytes.len())?.to_le_bytes());
        let mut before = "";
        for key in group {
            ensure!(key.is_ascii(), "{key:?} has a letter that is not of ASCII");
            let shared = before.bytes().zip(key.bytes()).take_while(|(one, other)| one == other).count();
            bytes.extend([u8::try_from(shared)?, u8::try_from(key.len() - shared)?]);
            bytes.extend(key.bytes().skip(shared));
            before = key;
        }
    }
    Ok([&u16::try_from(keys.len())?.to_le_bytes()[..], &places, &bytes].concat())
}

/// The texts of the locales of one language that they do not inherit.
fn encode_block<'t>(
    keys: &[&str],
    locales: impl Iterator<Item = impl Iterator<Item = (&'t String, &'t String)>>,
) -> Result<Vec<u8>> {
    let (mut bytes, mut all) = (Vec::new(), Vec::new());
    for texts in locales {
        let texts: Vec<_> = texts.collect();
        number(&mut bytes, texts.len());
        let mut next = 0;
        for (key, text) in texts {
            let key = keys.binary_search(&key.as_str()).ok().context("a key that is not in the list")?;
            number(&mut bytes, key - next);
            next = key + 1;
            ensure!(!text.contains('\0'), "{text:?} has the byte that ends a text");
            all.extend(text.bytes().chain([0]));
        }
    }
    bytes.extend(all);
    Ok(bytes)
}

/// Seven bits a byte, the low ones first.
fn number(bytes: &mut Vec<u8>, mut number: usize) {
    while number >= 0x80 {
        bytes.push(number.to_le_bytes()[0] | 0x80);
        number >>= 7;
    }
    bytes.push(number.to_le_bytes()[0]);
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
