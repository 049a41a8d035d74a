//! All catalogs at once, for applications that must not start with a part of them.

use std::fmt;
use std::sync::Arc;

use crow_fly_core::finding::{Finding, Severity};
use tracing::Instrument;

use super::CatalogStore;
use super::generation::Generation;
use super::sections::unreadable;

/// What is wrong with the catalogs.
#[derive(Clone)]
pub struct CatalogsError {
    findings: Vec<Finding>,
}

impl CatalogsError {
    /// All findings, errors first.
    pub fn findings(&self) -> &[Finding] {
        &self.findings
    }
}

impl fmt::Display for CatalogsError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let errors = self.findings.iter().filter(|finding| finding.severity == Severity::Error);
        match errors.clone().count() {
            1 => f.write_str("the catalogs have an error:")?,
            count => write!(f, "the catalogs have {count} errors:")?,
        }
        for finding in errors {
            write!(f, "\n  {finding}; {}", finding.help)?;
        }
        Ok(())
    }
}

crow_fly_core::debug_as_shown!(CatalogsError);

impl std::error::Error for CatalogsError {}

impl CatalogStore {
    /// Loads every section of every locale; returns all findings, as an error where one of them is one.
    pub(crate) async fn load_all(&self) -> Result<Vec<Finding>, CatalogsError> {
        let span = tracing::info_span!(target: "crow_fly::catalogs", "load all");
        async {
            self.relist().await;
            self.forgive();
            let Some(generation) = self.0.current.load_full() else {
                let failure = self.stale().map(|stale| stale.findings).unwrap_or_default();
                return sorted(failure);
            };
            loop {
                let places = generation.all_places().filter(|place| generation.section(*place).is_none());
                let waiting: Vec<_> =
                    places.filter_map(|place| self.want_place(&generation, place)).collect();
                if waiting.is_empty() {
                    break;
                }
                super::all_over(waiting).await;
            }
            sorted(self.findings(&generation))
        }
        .instrument(span)
        .await
    }

    /// Lists the source again, reads what has changed, and takes it where all of it is well.
    pub(crate) async fn reload(&self) -> Result<(), CatalogsError> {
        self.relist().await;
        self.forgive();
        match self.stale() {
            Some(stale) => Err(CatalogsError { findings: stale.findings }),
            None => Ok(()),
        }
    }

    /// Everything there is to say of a generation.
    fn findings(&self, generation: &Arc<Generation>) -> Vec<Finding> {
        let mut findings = self.stale().map(|stale| stale.findings).unwrap_or_default();
        // Those of locales without files among them.
        findings.extend(self.found());
        for place in generation.all_places() {
            match (generation.section(place), generation.loads.state(place).1, generation.file(place)) {
                (Some(section), ..) => findings.extend(section.findings.iter().cloned()),
                (None, Some(failure), Some(file)) => findings.push(unreadable(file, &failure)),
                _ => {}
            }
        }
        let names: Vec<&str> = generation.section_names().collect();
        let unknown = self.0.config.unknown_sections(&names, |section| generation.may_have(section));
        findings.extend(unknown.into_iter().map(|(_, finding)| finding));
        findings
    }
}

/// The findings, errors first: an error where there is one.
fn sorted(mut findings: Vec<Finding>) -> Result<Vec<Finding>, CatalogsError> {
    findings.sort_by(|one, other| {
        (other.severity, &one.locale, &one.section, one.place).cmp(&(
            one.severity,
            &other.locale,
            &other.section,
            other.place,
        ))
    });
    if findings.first().is_some_and(|finding| finding.severity == Severity::Error) {
        return Err(CatalogsError { findings });
    }
    Ok(findings)
}
