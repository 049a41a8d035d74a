//! The application that is looked at: its configuration and its catalogs as they lie on disk.

use std::collections::BTreeMap;
use std::path::{Path, PathBuf};

use anyhow::{Context, Result};
use crow_fly::core::catalog::SectionSource;
use crow_fly::core::check;
use crow_fly::core::locale_set::LocaleId;
use crow_fly::source::Directory;
use crow_fly::{Config, LanguageTag};

/// A configuration with its folder of catalogs.
pub(crate) struct Project {
    pub(crate) config: Config,
    pub(crate) directory: Directory,
}

impl Project {
    pub(crate) fn open(file: &Path) -> Result<Self> {
        let config = Config::from_file(file)?;
        let directory = Directory::new(config.catalogs());
        Ok(Self { config, directory })
    }

    /// The locale of a tag that was typed.
    pub(crate) fn locale(&self, text: &str) -> Result<LocaleId> {
        let set = self.config.policy().set();
        let tag = LanguageTag::parse_lenient(text).with_context(|| format!("`{text}` is no language tag"))?;
        set.exact(&tag).with_context(|| {
            let known: Vec<String> = set.iter().map(|(_, tag)| format!("`{tag}`")).collect();
            format!("the application has no locale `{tag}`; it has {}", known.join(", "))
        })
    }

    /// Every catalog, as it is written.
    pub(crate) fn sources(&self) -> Result<check::Project> {
        self.config.chains().all().map(|(locale, tag)| Ok((locale, self.sections(tag)?))).collect()
    }

    /// The sections of a locale.
    pub(crate) fn sections(&self, tag: &LanguageTag) -> Result<BTreeMap<String, SectionSource>> {
        let files = self.directory.read(&tag.to_string())?;
        Ok(files.into_iter().map(|file| (file.section, SectionSource::from_toml(&file.text))).collect())
    }

    /// The file of a section, for people.
    pub(crate) fn file(&self, locale: &str, section: &str) -> PathBuf {
        let mut path = self.config.catalogs().join(locale).join(section);
        path.set_extension("toml");
        path.strip_prefix(".").map(Path::to_owned).unwrap_or(path)
    }
}
