//! `cldr-localenames-full` and the menu casing of `cldr-misc-full`: names of languages, scripts, regions, variants.
//!
//! Two files: `own_names` holds what each locale needs to name itself, `names` everything.

use std::collections::BTreeMap;

use anyhow::{Context, Result};
use crow_fly_cldr::keys::names as keys;
use serde_json::Value;

use super::packages::Packages;
use super::texts::{File, Texts as Names};

pub(super) fn files(packages: &Packages) -> Result<[File; 2]> {
    let mut all: BTreeMap<String, Names> = BTreeMap::new();
    for locale in packages.locales("cldr-localenames-full")? {
        all.insert(locale.clone(), read(packages, &locale)?);
    }
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
    Ok([
        File { name: "own_names", keys: "own_names", texts: own },
        File { name: "names", keys: "names", texts: all },
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
            let key = if section == "variants" {
                format!("{}{}", keys::VARIANT, key.to_ascii_lowercase())
            } else {
                key.clone()
            };
            names.insert(key, name.to_owned());
        }
    }
    let json = packages.json(&format!("cldr-localenames-full/main/{locale}/localeDisplayNames.json"))?;
    let pattern = &json["main"][locale]["localeDisplayNames"]["localeDisplayPattern"];
    for (key, part) in [(keys::PATTERN, "localePattern"), (keys::SEPARATOR, "localeSeparator")] {
        names.insert(key.to_owned(), pattern[part].as_str().context("no display pattern")?.to_owned());
    }
    let casing = packages.optional_json(&format!("cldr-misc-full/main/{locale}/contextTransforms.json"))?;
    let casing = casing.map_or(Value::Null, |mut json| {
        json["main"][locale]["contextTransforms"]["languages"]["uiListOrMenu"].take()
    });
    if casing == "titlecase-firstword" {
        names.insert(keys::MENU.to_owned(), "title".to_owned());
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
            .map(|variant| format!("{}{}", keys::VARIANT, variant.to_ascii_lowercase())),
    );
    keys
}
