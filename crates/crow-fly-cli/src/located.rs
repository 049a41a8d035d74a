//! A finding, ready to be shown.

use crow_fly::ConfigError;
use crow_fly_core::finding::{Finding, Position};
use crow_fly_core::rule::Rule;
use serde::Serialize;

use crate::place::Place;
use crate::project::{LocaleCatalogs, Project};
use crate::reading;

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
    /// A mistake in the configuration, where it has a place.
    pub(crate) fn in_config(error: &ConfigError) -> Option<Self> {
        let (file, place) = (error.file()?, error.place()?);
        let text = reading::text(file).ok()?;
        let line = text.lines().nth((place.line as usize).checked_sub(1)?)?.to_owned();
        let (rule, help) = (Rule::Configuration, error.help().unwrap_or("correct it"));
        let mut finding = Finding::of_file(rule, "", "", error.text().to_owned(), help);
        finding.place = Some(place);
        Some(Self { file: file.display().to_string(), finding, line: Some(line) })
    }

    /// A finding about a name that the configuration has in quotes.
    pub(crate) fn of_name(project: &Project, mut finding: Finding, name: &str) -> Self {
        let text = reading::text(&project.file).unwrap_or_default();
        let at = text.find(&format!("\"{name}\"")).or_else(|| text.find(&format!("'{name}'")));
        let place = at.map(|at| Position::of(&text, at + 1..at + 1 + name.len()));
        let line = place.and_then(|place| text.lines().nth((place.line as usize).checked_sub(1)?));
        finding.place = place;
        Self { file: crate::place::path(&project.file), line: line.map(ToOwned::to_owned), finding }
    }

    /// One line of the form that tools of pull requests read: `file:line:column: level: text [rule]`.
    pub(crate) fn as_line(&self) -> String {
        let Finding { rule, severity, section, key, text, help, place, .. } = &self.finding;
        let (line, column) = place.map_or((1, 1), |place| (place.line, place.column));
        let place = Place { file: self.file.clone(), line, column };
        let name = key.as_ref().map(|key| format!("{section}.{key}: ")).unwrap_or_default();
        // A text of several lines is shown in one.
        format!("{place}: {severity}: {name}{text}; {help} [{rule}]").replace('\n', " ")
    }

    /// A finding about a file that is not there, or a folder.
    pub(crate) fn of(project: &Project, finding: Finding) -> Self {
        let section = || project.place(&finding.locale, &finding.section);
        Self { file: finding.file.clone().unwrap_or_else(section), finding, line: None }
    }

    /// A finding about a file of a locale.
    pub(crate) fn in_catalogs(project: &Project, catalogs: &LocaleCatalogs, finding: Finding) -> Self {
        let Some(file) = catalogs.files.get(&finding.section) else { return Self::of(project, finding) };
        let source = catalogs.sections.get(&finding.section);
        let line = finding.place.and_then(|place| source?.text().lines().nth(place.line as usize - 1));
        Self { file: file.origin.clone(), line: line.map(ToOwned::to_owned), finding }
    }
}
