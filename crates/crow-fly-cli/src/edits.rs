//! Changes of several catalog files, written together.

use std::collections::BTreeMap;
use std::collections::btree_map::Entry;
use std::path::PathBuf;

use anyhow::Result;

use crate::catalog_file::CatalogFile;
use crate::project::{LocaleCatalogs, Project, SectionFile};

/// Files of catalogs that are being changed: each is read once, and written at the end.
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
            Entry::Vacant(place) => {
                let path = &file.path;
                place.insert(if path.exists() { CatalogFile::open(path)? } else { CatalogFile::new(path) })
            }
        };
        Ok((opened, file))
    }

    /// Writes what has been changed; returns how many files.
    pub(crate) fn write(&self) -> Result<usize> {
        let changed = self.files.values().filter(|file| file.is_changed());
        changed.map(CatalogFile::write).collect::<Result<Vec<()>>>().map(|written| written.len())
    }
}
