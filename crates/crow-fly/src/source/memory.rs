//! Catalogs in memory: texts that are part of the binary, or made by a test.

use std::collections::BTreeMap;

use super::{CatalogSource, Loading, SectionFile};

/// Catalogs in memory.
///
/// ```
/// use crow_fly::source::Memory;
///
/// let source = Memory::new([("en", "common", "title = 'Saltmarsh Ferries'")]);
/// ```
#[derive(Clone, Debug, Default)]
pub struct Memory {
    sections: BTreeMap<String, Vec<SectionFile>>,
}

impl Memory {
    /// Catalogs from locale, section and TOML.
    pub fn new<L: Into<String>, S: Into<String>, T: Into<String>>(
        catalogs: impl IntoIterator<Item = (L, S, T)>,
    ) -> Self {
        let mut sections: BTreeMap<String, Vec<SectionFile>> = BTreeMap::new();
        for (locale, section, text) in catalogs {
            let (locale, section) = (locale.into(), section.into());
            let origin = format!("memory: {locale}/{section}");
            sections.entry(locale).or_default().push(SectionFile { section, text: text.into(), origin });
        }
        Self { sections }
    }
}

impl CatalogSource for Memory {
    fn load<'a>(&'a self, locale: &'a str) -> Loading<'a> {
        Box::pin(async move { Ok(self.sections.get(locale).cloned().unwrap_or_default()) })
    }

    fn fingerprint(&self, _: &str) -> Option<u64> {
        None
    }
}
