//! Changes of several catalog files, made together.

use std::collections::BTreeMap;
use std::collections::btree_map::Entry;
use std::path::PathBuf;

use anyhow::Result;

use crate::catalog_file::CatalogFile;
use crate::place;
use crate::project::{LocaleCatalogs, Project, SectionFile};
use crate::writing::Change;

/// Files of catalogs that are being changed: each is read once.
pub(crate) struct Edits<'p> {
    project: &'p Project,
    files: BTreeMap<PathBuf, CatalogFile>,
}

impl<'p> Edits<'p> {
    pub(crate) const fn new(project: &'p Project) -> Self {
        Self { project, files: BTreeMap::new() }
    }

    /// The file of a section. If it does not exist, a new one.
    pub(crate) fn file(
        &mut self,
        locale: &str,
        section: &str,
        catalogs: &LocaleCatalogs,
    ) -> Result<(&mut CatalogFile, SectionFile)> {
        // A new section goes to the file that has all others, if there is one.
        let known = catalogs.files.get(section).or_else(|| catalogs.files.values().find(|file| file.has_all));
        let known = known.cloned();
        let file = known.unwrap_or_else(|| SectionFile::new(self.project, locale, section));
        let opened = match self.files.entry(file.path.clone()) {
            Entry::Occupied(known) => known.into_mut(),
            Entry::Vacant(place) => place.insert(CatalogFile::of(file.content()?)?),
        };
        Ok((opened, file))
    }

    /// The changes of the files that have been changed. A message is written to its new file before it is taken from its old
    /// one.
    pub(crate) fn changes(&self) -> Result<Vec<Change>> {
        let mut changed: Vec<&CatalogFile> = self.files.values().filter(|file| file.is_changed()).collect();
        changed.sort_by_key(|file| file.takes_away());
        changed.into_iter().map(CatalogFile::change).collect()
    }

    /// A note for each file whose layout cannot be kept.
    pub(crate) fn laid_out_anew(&self) -> Vec<String> {
        let changed = self.files.values().filter(|file| file.is_changed() && file.is_laid_out_anew());
        changed.map(|file| format!("{} is laid out anew", place::path(file.path()))).collect()
    }
}
