//! A finding, ready to be shown.

use crow_fly::core::finding::Finding;
use serde::Serialize;

use crate::project::{LocaleCatalogs, Project};

/// A finding with its file, and the line that it is about.
#[derive(Serialize)]
pub(crate) struct Located {
    pub(crate) file: String,
    #[serde(flatten)]
    pub(crate) finding: Finding,
    #[serde(skip)]
    pub(crate) line: Option<String>,
}

impl Located {
    /// A finding about a file that is not there, or a folder.
    pub(crate) fn of(project: &Project, finding: Finding) -> Self {
        Self { file: project.place(&finding.locale, &finding.section), finding, line: None }
    }

    /// A finding about a file of a locale.
    pub(crate) fn in_catalogs(project: &Project, catalogs: &LocaleCatalogs, finding: Finding) -> Self {
        let Some(file) = catalogs.files.get(&finding.section) else { return Self::of(project, finding) };
        let source = catalogs.sections.get(&finding.section);
        let line = finding.place.and_then(|place| source?.text().lines().nth(place.line as usize - 1));
        Self { file: file.clone(), line: line.map(ToOwned::to_owned), finding }
    }
}
