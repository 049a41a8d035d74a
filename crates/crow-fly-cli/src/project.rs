//! The application that is looked at: its configuration and its catalogs as they lie on disk.

use std::collections::BTreeMap;
use std::path::Path;

use anyhow::{Context, Result};
use crow_fly::core::catalog::SectionSource;
use crow_fly::core::check;
use crow_fly::core::finding::{Finding, Severity};
use crow_fly::core::locale_set::LocaleId;
use crow_fly::core::rule::Rule;
use crow_fly::source::{Directory, ListedFile, ReadyMade, SourceError};
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
        let tag =
            LanguageTag::parse_lenient(text).with_context(|| format!("`{text}` is not a language tag"))?;
        set.exact(&tag).with_context(|| {
            let known: Vec<String> = set.iter().map(|(_, tag)| format!("`{tag}`")).collect();
            format!("the application has no locale `{tag}`; it has {}", known.join(", "))
        })
    }

    /// Every catalog, as it is written.
    pub(crate) fn read(&self) -> Result<Catalogs> {
        let chains = self.config.chains();
        let locales: Vec<String> = chains.all().map(|(_, tag)| tag.to_string()).collect();
        let listing = self.directory.list_blocking(&locales)?;
        let mut catalogs = Catalogs { findings: listing.findings().to_vec(), ..Catalogs::default() };
        if self.config.has_ready_made_texts() {
            let file = |(id, tag): (LocaleId, &LanguageTag)| {
                Some((id, ReadyMade::file(&tag.to_string(), &locales)?))
            };
            catalogs.ready_made = chains.all().filter_map(file).collect();
        }
        for (locale, tag) in chains.all() {
            let sections = catalogs.sources.entry(locale).or_default();
            let text = tag.to_string();
            for file in listing.files().iter().filter(|file| file.locale() == text) {
                let bytes = match self.directory.read_blocking(file) {
                    Ok(bytes) => bytes,
                    Err(error) => {
                        catalogs.findings.push(unreadable(file, &error));
                        continue;
                    }
                };
                let source = SectionSource::read(&bytes, file.format());
                let of_file = match file.section_name() {
                    Some(section) => BTreeMap::from([(section.to_owned(), source)]),
                    None => source.into_sections(),
                };
                for (section, source) in of_file {
                    // A section that has a file of its own, and stands in the file with all of them, too.
                    if sections.contains_key(&section) {
                        catalogs.findings.push(duplicate(file, &section));
                        continue;
                    }
                    catalogs.origins.insert((text.clone(), section.clone()), file.origin().to_owned());
                    sections.insert(section, source);
                }
            }
        }
        Ok(catalogs)
    }
}

/// Every catalog of an application, as it is written.
#[derive(Default)]
pub(crate) struct Catalogs {
    pub(crate) sources: check::Project,
    /// What was found about files that are not read.
    pub(crate) findings: Vec<Finding>,
    /// The texts that come ready-made, by locale.
    ready_made: BTreeMap<LocaleId, &'static str>,
    /// The file of each locale's section, for people.
    origins: BTreeMap<(String, String), String>,
}

impl Catalogs {
    /// The texts that come ready-made, below those of the application.
    pub(crate) fn ready_made(&self, locale: LocaleId, section: &str) -> Option<SectionSource> {
        let text = self.ready_made.get(&locale).filter(|_| section == ReadyMade::SECTION)?;
        Some(SectionSource::from_toml(text))
    }

    /// The file of a section, for people.
    pub(crate) fn file(&self, locale: &str, section: &str) -> Option<&str> {
        self.origins.get(&(locale.to_owned(), section.to_owned())).map(String::as_str)
    }
}

fn unreadable(file: &ListedFile, error: &SourceError) -> Finding {
    let cause = std::error::Error::source(error);
    let text = cause.map_or_else(|| error.to_string(), |cause| format!("{error}: {cause}"));
    let section = file.section_name().unwrap_or_default();
    Finding::of_file(
        Rule::UnreadableFile,
        Severity::Error,
        file.locale(),
        section,
        text,
        "put a regular file in its place, and let the server read it",
    )
}

fn duplicate(file: &ListedFile, section: &str) -> Finding {
    Finding::of_file(
        Rule::DuplicateSection,
        Severity::Error,
        file.locale(),
        section,
        format!("`{}` has the section `{section}`, which has a file of its own", file.origin()),
        "keep one of the two: the server takes a key that is in both from the file of its own, and this check reads only that file",
    )
}
