//! What was accepted: for each translation the text of the default locale that it was made from, as a hash. One sorted line a
//! locale and key, in a file that is committed.

use std::collections::{BTreeMap, BTreeSet};
use std::path::Path;

use anyhow::Result;
use crow_fly::release::Sha256Hash;
use crow_fly_core::catalog::SectionSource;
use crow_fly_core::check::Sections;
use crow_fly_core::finding::Finding;
use crow_fly_core::rule::Rule;
use serde::Serialize;

use crate::place::{self, Misplaced};
use crate::project::LocaleCatalogs;
use crate::text_file::TextFile;
use crate::writing::Change;

/// The lines of the file: the hash by locale and key.
pub(crate) struct Accepted {
    lines: BTreeMap<(String, String), String>,
    file: TextFile,
}

/// A text that is accepted.
#[derive(Serialize)]
pub(crate) struct AcceptedText {
    pub(crate) key: String,
    /// Whether the text of the default locale had changed since it was accepted before.
    #[serde(rename = "stale")]
    pub(crate) is_stale: bool,
}

/// The hashes of texts by key.
pub(crate) type Hashes = BTreeMap<String, String>;

/// The hash of a text: enough to tell one text from the next.
pub(crate) fn hash_of(text: &str) -> String {
    let mut hash = Sha256Hash::of(text.as_bytes()).to_string();
    hash.truncate(16);
    hash
}

/// The hashes of all texts of a locale.
pub(crate) fn hashes(sections: &Sections) -> Hashes {
    let mut hashes = Hashes::new();
    for (section, source) in sections {
        for entry in source.entries() {
            hashes.insert(format!("{section}.{}", entry.key()), hash_of(entry.text()));
        }
    }
    hashes
}

impl Accepted {
    /// Reads the file. If it does not exist, nothing was accepted.
    pub(crate) fn read(path: &Path) -> Result<Self> {
        let file = TextFile::read_where_there(path)?;
        let mut lines = BTreeMap::new();
        for (number, line) in
            file.text().lines().enumerate().filter(|(_, line)| !line.is_empty() && !line.starts_with('#'))
        {
            let mut words = line.split(' ');
            let (Some(locale), Some(key), Some(hash), None) =
                (words.next(), words.next(), words.next(), words.next())
            else {
                let line = u32::try_from(number + 1).unwrap_or(u32::MAX);
                anyhow::bail!(Misplaced::in_line(place::path(path), line, "a line is `locale key hash`"));
            };
            lines.insert((locale.to_owned(), key.to_owned()), hash.to_owned());
        }
        Ok(Self { lines, file })
    }

    /// Whether nothing was accepted.
    pub(crate) fn is_empty(&self) -> bool {
        self.lines.is_empty()
    }

    /// Gives a key another name in all locales; whether there was one.
    pub(crate) fn rename(&mut self, old: &str, new: &str) -> bool {
        let before = std::mem::take(&mut self.lines);
        let mut is_renamed = false;
        for ((locale, key), hash) in before {
            let is_old = key == old;
            is_renamed |= is_old;
            self.lines.insert((locale, if is_old { new.to_owned() } else { key }), hash);
        }
        is_renamed
    }

    /// Whether the text of the default locale has changed since the locale's own was accepted.
    pub(crate) fn is_stale(&self, locale: &str, key: &str, hash: &str) -> bool {
        self.lines.get(&(locale.to_owned(), key.to_owned())).is_some_and(|known| known != hash)
    }

    /// Accepts one text.
    pub(crate) fn accept_one(&mut self, locale: &str, key: &str, hash: &str) {
        self.lines.insert((locale.to_owned(), key.to_owned()), hash.to_owned());
    }

    /// The change of the file to these lines. Lines that are as they were change nothing.
    pub(crate) fn change(&self) -> Result<Change> {
        let mut text = String::from("# What translations were made from; `crow-fly accept` writes it.\n");
        for ((locale, key), hash) in &self.lines {
            for part in [locale, " ", key, " ", hash, "\n"] {
                text.push_str(part);
            }
        }
        self.file.change(Some(&text))
    }

    /// Accepts the texts of a locale whose keys are wanted; returns those that are new or have changed. Those that are gone
    /// are dropped.
    pub(crate) fn accept(
        &mut self,
        locale: &str,
        own: &Sections,
        reference: &Hashes,
        is_wanted: impl Fn(&str) -> bool,
    ) -> Vec<AcceptedText> {
        // A place that is marked to be filled is no translation.
        let is_translated = |(section, source): (&String, &SectionSource)| {
            let entries = source.entries().iter().filter(|entry| !entry.is_untranslated());
            entries.map(|entry| format!("{section}.{}", entry.key())).collect::<Vec<_>>()
        };
        let own: BTreeSet<String> = own.iter().flat_map(is_translated).collect();
        self.lines
            .retain(|(other, key), _| other != locale || own.contains(key) && reference.contains_key(key));
        let mut accepted = Vec::new();
        for key in own.into_iter().filter(|key| is_wanted(key)) {
            let Some(hash) = reference.get(&key) else { continue };
            let known = self.lines.insert((locale.to_owned(), key.clone()), hash.clone());
            if known.as_ref() != Some(hash) {
                accepted.push(AcceptedText { key, is_stale: known.is_some() });
            }
        }
        accepted
    }

    /// The translations of a locale whose reference has changed.
    pub(crate) fn stale(&self, locale: &str, own: &LocaleCatalogs, reference: &Hashes) -> Vec<Finding> {
        let mut found = Vec::new();
        if self.is_empty() {
            return found;
        }
        for (section, source) in &own.sections {
            for entry in source.entries() {
                let key = format!("{section}.{}", entry.key());
                let (Some(now), Some(then)) =
                    (reference.get(&key), self.lines.get(&(locale.to_owned(), key.clone())))
                else {
                    continue;
                };
                if now == then {
                    continue;
                }
                let rule = Rule::StaleTranslation;
                let text = "the default locale has changed since this text was accepted";
                let help = format!("look at it, then `crow-fly accept --locale {locale} {key} --write`");
                let mut finding = Finding::of_file(rule, locale, section, text, help);
                finding.key = Some(entry.key().to_owned());
                finding.place = Some(entry.position(source, 0..entry.text().len()));
                found.push(finding);
            }
        }
        found
    }
}
