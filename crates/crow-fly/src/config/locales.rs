//! The locales of an application: which there are, their chains, and their names in the menu.

use std::collections::BTreeMap;

use crow_fly_core::chain::{ChainError, Chains};
use crow_fly_core::locale_set::{LocaleId, LocaleSet, LocaleSetError};
use crow_fly_core::tag::LanguageTag;
use http::HeaderValue;
use toml::Spanned;

use super::ConfigError;
use super::file::File;

/// The values of `Content-Language`, made once: answers share them.
pub(super) fn content_languages(set: &LocaleSet) -> Box<[HeaderValue]> {
    // Tags are letters, digits and hyphens.
    let und = HeaderValue::from_static("und");
    set.iter().map(|(id, _)| HeaderValue::from_str(set.text(id)).unwrap_or(und.clone())).collect()
}

impl File {
    pub(super) fn locale_set(&self, text: &str) -> Result<LocaleSet, ConfigError> {
        let tags =
            self.locales.get_ref().iter().map(|locale| tag(text, locale)).collect::<Result<Vec<_>, _>>()?;
        let set = LocaleSet::new(tags).map_err(|error| {
            let twice = match &error {
                // The place of the second of the two.
                LocaleSetError::Duplicate(tag) => self.locales.get_ref().iter().rfind(|locale| {
                    LanguageTag::parse_lenient(locale.get_ref())
                        .is_ok_and(|other| other.canonicalized() == *tag)
                }),
                _ => None,
            };
            ConfigError::at(text, twice.map_or(self.locales.span(), Spanned::span), error)
        })?;
        let set = set
            .with_default(&tag(text, &self.default)?)
            .map_err(|error| ConfigError::at(text, self.default.span(), error))?;
        let drafts = self.drafts.iter().map(|draft| tag(text, draft)).collect::<Result<Vec<_>, _>>()?;
        let set = set.with_drafts(&drafts).map_err(|error| {
            let wrong = match &error {
                LocaleSetError::DraftNotInSet(tag) | LocaleSetError::DraftIsDefault(tag) => Some(tag),
                _ => None,
            };
            let place = drafts.iter().position(|draft| Some(draft) == wrong);
            let written = place.and_then(|place| self.drafts.get(place));
            ConfigError::at(text, written.map_or(0..0, Spanned::span), error)
        })?;
        Ok(match self.largest_distance {
            Some(distance) => set.with_largest_distance(distance),
            None => set,
        })
    }

    pub(super) fn chains(&self, text: &str, set: &LocaleSet) -> Result<Chains, ConfigError> {
        let only = self.catalog_only.iter().map(|locale| tag(text, locale)).collect::<Result<Vec<_>, _>>()?;
        let mut overrides = Vec::new();
        for (locale, list) in &self.chains {
            let list = list.iter().map(|locale| tag(text, locale)).collect::<Result<Vec<_>, _>>()?;
            overrides.push((tag(text, locale)?, list));
        }
        Chains::new(set, only, overrides).map_err(|error| {
            let wanted = match &error {
                ChainError::Unknown { tag, .. } | ChainError::Twice(tag) => Some(tag),
                ChainError::Cycle(tags) => tags.first(),
                _ => None,
            };
            let names = self
                .catalog_only
                .iter()
                .chain(self.chains.iter().flat_map(|(locale, list)| std::iter::once(locale).chain(list)));
            let place = wanted.and_then(|wanted| {
                names.into_iter().find(|name| {
                    LanguageTag::parse_lenient(name.get_ref())
                        .is_ok_and(|tag| tag == *wanted || tag.canonicalized() == *wanted)
                })
            });
            ConfigError::at(text, place.map_or(0..0, Spanned::span), error)
        })
    }
}

/// The names that are given for the menu, by locale.
pub(super) fn names(
    text: &str,
    set: &LocaleSet,
    written: &BTreeMap<Spanned<String>, Spanned<String>>,
) -> Result<BTreeMap<LocaleId, String>, ConfigError> {
    let named = written.iter().map(|(locale, name)| {
        let id = find(text, set, locale)?;
        let words = name.get_ref();
        if words.trim().is_empty() || words.contains(char::is_control) {
            let error = format!("`{}` is no name for a menu", words.escape_debug());
            return Err(ConfigError::at(text, name.span(), error).with_help("write words, in one line"));
        }
        Ok((id, words.clone()))
    });
    named.collect()
}

/// The tag of a locale as it is written.
pub(super) fn tag(text: &str, locale: &Spanned<String>) -> Result<LanguageTag, ConfigError> {
    LanguageTag::parse_lenient(locale.get_ref()).map_err(|error| ConfigError::at(text, locale.span(), error))
}

/// The locale of the application that a tag names.
pub(super) fn find(text: &str, set: &LocaleSet, locale: &Spanned<String>) -> Result<LocaleId, ConfigError> {
    set.exact(&tag(text, locale)?).ok_or_else(|| {
        ConfigError::at(text, locale.span(), format!("`{}` is not one of the locales", locale.get_ref()))
            .with_help("add it to `locales`, or correct it")
    })
}
