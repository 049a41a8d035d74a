//! The application that is looked at: its configuration and its catalogs as they lie on disk.

use std::collections::BTreeMap;
use std::path::{Path, PathBuf};
use std::sync::Arc;

use anyhow::{Context, Result, bail};
use crow_fly::source::{Directory, ListedFile, Listing, ReadyMade, SourceError};
use crow_fly::{Config, LanguageTag};
use crow_fly_core::catalog::{SectionSource, SourceEntry};
use crow_fly_core::check::Sections;
use crow_fly_core::finding::Finding;
use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::rule::Rule;

use crate::place;
use crate::text_file::TextFile;

/// The name of a configuration.
pub(crate) const CONFIG: &str = "crow-fly.toml";

/// A configuration with its folder of catalogs.
pub(crate) struct Project {
    pub(crate) config: Config,
    /// The file of the configuration.
    pub(crate) file: PathBuf,
    pub(crate) directory: Directory,
}

impl Project {
    pub(crate) fn open(file: &Path) -> Result<Self> {
        if !file.exists() {
            bail!(
                "there is no {}; to start here: crow-fly init; to use another file: --config FILE",
                file.display()
            );
        }
        let config = Config::from_file(file)?;
        let directory = Directory::new(config.catalogs());
        Ok(Self { config, file: file.to_owned(), directory })
    }

    /// A project whose configuration is not written yet.
    pub(crate) fn of(config: Config, catalogs: &Path) -> Self {
        Self { config, file: CONFIG.into(), directory: Directory::new(catalogs) }
    }

    /// The locale of a tag that was typed.
    pub(crate) fn locale(&self, text: &str) -> Result<LocaleId> {
        let set = self.config.policy().set();
        let tag =
            LanguageTag::parse_lenient(text).with_context(|| format!("`{text}` is not a language tag"))?;
        set.exact(&tag).with_context(|| {
            let known: Vec<String> = set.iter().map(|(_, tag)| format!("`{tag}`")).collect();
            format!("the application has no locale `{tag}`; it has {}", known.join(", "))
        })
    }

    /// The tags of all locales, those that only have catalogs among them.
    pub(crate) fn locales(&self) -> Vec<String> {
        self.config.chains().all().map(|(_, tag)| tag.to_string()).collect()
    }

    /// What lies in the folder of catalogs.
    pub(crate) fn list(&self) -> Result<Listing> {
        Ok(self.directory.list_blocking(&self.locales())?)
    }

    /// The catalogs of a locale, as they are written.
    pub(crate) fn read(&self, listing: &Listing, locale: LocaleId) -> LocaleCatalogs {
        let text = self.config.chains().tag(locale).to_string();
        let mut catalogs = LocaleCatalogs::default();
        for file in listing.files().iter().filter(|file| file.locale() == text) {
            let bytes = match self.directory.read_blocking(file) {
                Ok(bytes) => bytes,
                Err(error) => {
                    catalogs.findings.push(unreadable(file, &error));
                    continue;
                }
            };
            let source = SectionSource::read(&bytes, file.format());
            let bytes: Arc<[u8]> = bytes.into();
            let of_file = match file.section_name() {
                Some(section) => BTreeMap::from([(section.to_owned(), source)]),
                None => source.into_sections(),
            };
            for (section, source) in of_file {
                // A section that has a file of its own, and stands in the file with all of them, too.
                if catalogs.sections.contains_key(&section) {
                    catalogs.findings.push(duplicate(file, &section));
                    continue;
                }
                catalogs.files.insert(section.clone(), SectionFile::of(self, file, bytes.clone()));
                catalogs.sections.insert(section, source);
            }
        }
        catalogs
    }

    /// The texts of a section that come ready-made, below those of the application.
    pub(crate) fn ready_made(&self, locale: LocaleId, section: &str) -> Option<SectionSource> {
        if !self.config.has_ready_made_texts() || section != ReadyMade::SECTION {
            return None;
        }
        let tag = self.config.chains().tag(locale).to_string();
        ReadyMade::file(&tag, &self.locales()).map(SectionSource::from_toml)
    }

    /// The path to show for a section without a file, or for a locale as a whole.
    pub(crate) fn place(&self, locale: &str, section: &str) -> String {
        let mut path = self.config.catalogs().to_owned();
        if !locale.is_empty() {
            path.push(locale);
        }
        if !section.is_empty() {
            // Where the file would be.
            path.push(format!("{section}.toml"));
        }
        place::path(&path)
    }
}

/// The catalogs of a locale, as they are written.
#[derive(Default)]
pub(crate) struct LocaleCatalogs {
    pub(crate) sections: Sections,
    /// What was found about files that are not read.
    pub(crate) findings: Vec<Finding>,
    /// The file of each section.
    pub(crate) files: BTreeMap<String, SectionFile>,
}

impl LocaleCatalogs {
    /// The catalogs of a locale that has one file, with one section.
    pub(crate) fn of_file(path: &Path, section: &str, text: &str) -> Self {
        let file = SectionFile {
            origin: place::path(path),
            path: path.to_owned(),
            has_all: false,
            bytes: Some(text.as_bytes().into()),
        };
        Self {
            sections: Sections::from([(section.to_owned(), SectionSource::from_toml(text))]),
            findings: Vec::new(),
            files: BTreeMap::from([(section.to_owned(), file)]),
        }
    }

    /// All messages by key: `section.name`. Of two with one key the later one counts.
    pub(crate) fn texts(&self) -> BTreeMap<String, &SourceEntry> {
        let mut texts = BTreeMap::new();
        for (section, source) in &self.sections {
            for entry in source.entries() {
                texts.insert(format!("{section}.{}", entry.key()), entry);
            }
        }
        texts
    }
}

/// The file of a section.
#[derive(Clone)]
pub(crate) struct SectionFile {
    /// Its path for people.
    pub(crate) origin: String,
    pub(crate) path: PathBuf,
    /// Whether it has all sections of its locale, as its first groups.
    pub(crate) has_all: bool,
    /// What was read of it; none where it does not exist.
    bytes: Option<Arc<[u8]>>,
}

impl SectionFile {
    fn of(project: &Project, file: &ListedFile, bytes: Arc<[u8]>) -> Self {
        let path = project.config.catalogs().join(file.path());
        Self { origin: file.origin(), path, has_all: file.section_name().is_none(), bytes: Some(bytes) }
    }

    /// The file that a section of a locale would have.
    pub(crate) fn new(project: &Project, locale: &str, section: &str) -> Self {
        let origin = project.place(locale, section);
        let path = project.config.catalogs().join(locale).join(format!("{section}.toml"));
        Self { origin, path, has_all: false, bytes: None }
    }

    /// The file as it was read; a new one where it does not exist.
    pub(crate) fn content(&self) -> Result<TextFile> {
        match &self.bytes {
            Some(bytes) => TextFile::of(&self.path, bytes.clone()),
            None => Ok(TextFile::new(&self.path)),
        }
    }

    /// The names that lead to a message in it.
    pub(crate) fn key<'k>(&self, section: &'k str, key: &'k str) -> Vec<&'k str> {
        self.has_all.then_some(section).into_iter().chain(key.split('.')).collect()
    }
}

fn unreadable(file: &ListedFile, error: &SourceError) -> Finding {
    let cause = std::error::Error::source(error);
    let text = cause.map_or_else(|| error.to_string(), |cause| format!("{error}: {cause}"));
    let section = file.section_name().unwrap_or_default();
    Finding::of_file(
        Rule::UnreadableFile,
        file.locale(),
        section,
        text,
        "put a regular file in its place, and let the server read it",
    )
}

fn duplicate(file: &ListedFile, section: &str) -> Finding {
    Finding::of_file(
        Rule::DuplicateSection,
        file.locale(),
        section,
        format!("`{}` has the section `{section}`, which has a file of its own", file.origin()),
        "keep one of the two: the server takes a key that is in both from the file of its own, and this check reads only that file",
    )
}
