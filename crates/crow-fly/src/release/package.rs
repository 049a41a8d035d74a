//! A release before it is published: catalogs and their manifest.

use std::collections::BTreeMap;

use crow_fly_core::catalog::{Catalog, SectionSource};
use crow_fly_core::finding::{Finding, Severity};
use crow_fly_core::message::{Message, Requirements};
use crow_fly_core::tag::LanguageTag;

use super::error::ReleaseError;
use super::id::{ReleaseId, Sha256Hash};
use super::manifest::{Manifest, ManifestFile};
use crate::config::{Config, Parameters};
use crate::source::{CatalogSource, ListedFile};

/// Catalogs with their manifest, to be [published](super::ReleaseStore::publish).
#[derive(Clone, Debug)]
pub struct Release {
    id: ReleaseId,
    manifest: Manifest,
    json: Vec<u8>,
    files: BTreeMap<Sha256Hash, Vec<u8>>,
}

impl Release {
    /// A release of all that a source has now. The same catalogs make the same release.
    ///
    /// # Errors
    /// Where the source cannot be read, or its catalogs have errors.
    pub async fn of(config: &Config, source: &impl CatalogSource) -> Result<Self, ReleaseError> {
        let chains = config.chains();
        let locales: Vec<String> = chains.all().map(|(_, tag)| tag.to_string()).collect();
        let unread = |error: crate::source::SourceError| ReleaseError::store("the catalogs", error);
        let listing = source.list(&locales).wait().await.map_err(unread)?;
        let mut findings: Vec<Finding> = listing.findings().to_vec();
        findings.extend(listing.absent_locales(config));
        let mut files = Vec::new();
        for file in listing.files() {
            files.push((file.clone(), source.read(file).wait().await.map_err(unread)?));
        }
        let packed = tokio::task::spawn_blocking(move || pack(files, findings)).await;
        packed.map_err(|error| ReleaseError::store("the catalogs", error))?
    }

    /// Its id.
    pub const fn id(&self) -> ReleaseId {
        self.id
    }

    /// Its manifest.
    pub const fn manifest(&self) -> &Manifest {
        &self.manifest
    }

    /// The bytes of one of its files.
    pub fn file_bytes(&self, file: &ManifestFile) -> Option<&[u8]> {
        self.files.get(&file.sha256()).map(Vec::as_slice)
    }

    pub(super) fn json(&self) -> &[u8] {
        &self.json
    }

    pub(super) fn files(&self) -> impl Iterator<Item = (Sha256Hash, &[u8])> {
        self.files.iter().map(|(hash, bytes)| (*hash, bytes.as_slice()))
    }
}

/// Compiles everything, and makes the manifest.
fn pack(files: Vec<(ListedFile, Vec<u8>)>, mut findings: Vec<Finding>) -> Result<Release, ReleaseError> {
    let (mut listed, mut messages, mut requires) = (Vec::new(), Parameters::new(), Requirements::default());
    let mut contents = BTreeMap::new();
    for (file, bytes) in files {
        let section = file.section_name().unwrap_or_default();
        let mut source = SectionSource::read(&bytes, file.format());
        if section.is_empty() {
            source = source.with_all_sections();
        }
        findings.extend(Catalog::compile(file.locale(), section, &source).1);
        for entry in source.entries() {
            // What does not parse has been found.
            let Ok(message) = Message::parse(entry.text()) else { continue };
            requires.add(&message);
            let key = if section.is_empty() {
                entry.key().to_owned()
            } else {
                format!("{section}.{}", entry.key())
            };
            let parameters = message.parameters().into_iter().map(|parameter| parameter.name.into());
            messages.entry(key).or_default().extend(parameters);
        }
        if let Ok(tag) = LanguageTag::parse(file.locale()) {
            requires.add_locale(&tag);
        }
        let manifest_file = ManifestFile::new(file.path(), &bytes);
        contents.insert(manifest_file.sha256(), bytes);
        listed.push(manifest_file);
    }
    findings.retain(|finding| finding.severity == Severity::Error);
    if !findings.is_empty() {
        return Err(ReleaseError::Catalogs(findings));
    }
    let manifest = Manifest::new(listed, messages, requires);
    let json = manifest.to_json();
    // What is published can be read again.
    Manifest::from_json(&json)?;
    Ok(Release { id: ReleaseId::of(&json), manifest, json, files: contents })
}
