//! How the catalogs are, for operators and their tools.

use std::sync::PoisonError;

use crow_fly_core::finding::Finding;
use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::tag::LanguageTag;
use serde::Serialize;

use super::complete::LostSection;
use super::generation::Generation;
use super::loads::now;
use super::section::Section;
use super::state::State;
use super::{CatalogStore, Stale};
use crate::source::ListedFile;

/// The state of the catalogs: as a whole, and by locale and section. It can be serialized, and is an answer of axum and
/// `actix-web`: 200 with JSON, and 503 where no page can be served.
///
/// ```
/// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
/// # use crow_fly::{args, Config, CrowFly, source::Memory};
/// # let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']\norigin = 'https://ferries.example'")?;
/// # let home = ("en", "home", "title = 'Sailings'\nnext = 'The next is {#strong}{$ship}{/strong}'\nseats = '{$seats :integer} seats'");
/// # let crow = CrowFly::new(config, Memory::new([home, ("cy", "home", "title = 'Hwyliadau'")]));
/// use crow_fly::HealthStatus;
///
/// crow.load_all().await?;
/// assert_eq!(crow.health().status, HealthStatus::Ready);
/// # Ok(()) }
/// ```
#[derive(Clone, Debug, Serialize)]
#[non_exhaustive]
pub struct Health {
    /// By those of the locales: see [`HealthStatus`]. At least `stale` where the source has something newer.
    pub status: HealthStatus,
    /// The number of the current generation: how often this program has taken other catalogs, counted from 1; none before the
    /// source was listed.
    pub generation: Option<u64>,
    /// The identity of the current generation: the same where the same files are.
    pub identity: Option<String>,
    /// The name that the source gives the generation: the id of its release, where the source has releases.
    pub release: Option<String>,
    /// The number of the activation that the release was taken by, counted from 1 in the store.
    pub activation: Option<u64>,
    /// How many seconds ago the generation became the current one.
    pub age_seconds: Option<u64>,
    /// Why the newest files of the source are not the current generation.
    pub stale: Vec<String>,
    /// For how many seconds.
    pub stale_seconds: Option<u64>,
    /// What was found about files that are not read, and locales without files.
    pub findings: Vec<String>,
    /// The locales that have catalogs.
    pub locales: Vec<LocaleHealth>,
    /// About how many bytes the sections in memory take.
    pub bytes: usize,
    /// How many files have been read since the program started.
    pub loads: u64,
    /// How many loads and listings have failed.
    pub failures: u64,
    /// How many sections have been dropped because nobody used them.
    pub drops: u64,
    /// How many generations there have been.
    pub generations: u64,
    /// How many generations are in memory: the current one, and those that translators still hold.
    pub living_generations: usize,
    /// How many different texts were missing: see [`CrowFly::misses`](crate::CrowFly::misses).
    pub misses: usize,
}

/// The state of a locale's catalogs.
#[derive(Clone, Debug, Serialize)]
#[non_exhaustive]
pub struct LocaleHealth {
    /// The locale.
    pub locale: String,
    /// By those of its sections: see [`HealthStatus`]; `failed` where its catalogs are missing.
    pub status: HealthStatus,
    /// Its files: sections, or one with all sections, whose name is empty.
    pub sections: Vec<SectionHealth>,
}

/// The state of a section.
#[derive(Clone, Debug, Serialize)]
#[non_exhaustive]
pub struct SectionHealth {
    /// The section.
    pub section: String,
    /// The file, as its source names it for people.
    pub file: String,
    /// Its state.
    pub status: HealthStatus,
    /// How many messages it has, where it is in memory.
    pub messages: Option<usize>,
    /// About how many bytes it takes, where it is in memory.
    pub bytes: Option<usize>,
    /// What is wrong.
    pub error: Option<String>,
}

/// A state, from the best to the worst.
///
/// A locale has the worst state of its sections, and the whole that of its locales, with two exceptions: it is `degraded`
/// where a part hangs or has failed and another has not, and `ready` where parts are not loaded and another is ready.
/// Where one locale has been needed, those that nobody has needed do not count for the whole.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize)]
#[serde(rename_all = "kebab-case")]
#[non_exhaustive]
pub enum HealthStatus {
    /// It is in memory.
    Ready,
    /// Nobody has needed it so far.
    NotLoaded,
    /// The source has something newer that cannot be used.
    Stale,
    /// A part is missing: texts come from the rest of the chain.
    Degraded,
    /// The source does not answer.
    Hanging,
    /// It cannot be loaded.
    Failed,
}

impl CatalogStore {
    pub(crate) fn health(&self) -> Health {
        let current = self.0.current.load_full();
        let stale = self.stale();
        let told = self.0.told.lock().unwrap_or_else(PoisonError::into_inner).clone();
        let locales = current.as_ref().map_or_else(Vec::new, |current| self.locales_health(current));
        let (loads, failures, drops, generations) = self.0.counts.all();
        let texts = |findings: &[&Finding]| -> Vec<String> {
            findings.iter().map(|finding| self.0.config.relative(finding.to_string())).collect()
        };
        Health {
            status: self.status(current.is_some(), stale.as_ref(), &told.left_out, &locales),
            generation: current.as_ref().map(|current| current.number),
            identity: current.as_ref().map(|current| format!("{:016x}", current.identity())),
            release: told.name,
            activation: told.activation,
            age_seconds: current.as_ref().map(|current| current.since.elapsed().as_secs()),
            stale_seconds: stale.as_ref().map(|stale| stale.since.elapsed().as_secs()),
            stale: stale.map_or_else(Vec::new, |stale| texts(&stale.findings.iter().collect::<Vec<_>>())),
            findings: texts(&self.found().iter().chain(&told.left_out).collect::<Vec<_>>())
                .into_iter()
                .chain(self.crowded())
                .collect(),
            bytes: current.as_ref().map_or(0, |current| current.bytes()),
            locales,
            loads,
            failures,
            drops,
            generations,
            living_generations: self.living(),
            misses: self.0.misses.len(),
        }
    }

    fn status(
        &self,
        is_listed: bool,
        stale: Option<&Stale>,
        left_out: &[Finding],
        locales: &[LocaleHealth],
    ) -> HealthStatus {
        if !is_listed {
            return match self.0.listings.state(()) {
                (_, Some(failure)) if failure.hangs => HealthStatus::Hanging,
                (State::Failed { .. }, _) | (_, Some(_)) => HealthStatus::Failed,
                (State::Loading { since, .. }, None) if self.is_late(since) => HealthStatus::Hanging,
                _ => HealthStatus::NotLoaded,
            };
        }
        let whole = HealthStatus::of_locales(locales.iter().map(|locale| locale.status));
        let is_crowded = !self.0.crowded.lock().unwrap_or_else(PoisonError::into_inner).is_empty();
        let whole =
            if left_out.is_empty() && !is_crowded { whole } else { whole.max(HealthStatus::Degraded) };
        if stale.is_some() { whole.max(HealthStatus::Stale) } else { whole }
    }

    /// What is said of chains that are larger than the budget.
    fn crowded(&self) -> Vec<String> {
        let crowded = self.0.crowded.lock().unwrap_or_else(PoisonError::into_inner);
        let line = |(locale, bytes): (&LocaleId, &usize)| {
            let tag = self.0.config.chains.tag(*locale);
            format!(
                "`max-megabytes` is less than `{tag}` and its chain need, {bytes} bytes: they are loaded again and again"
            )
        };
        crowded.iter().map(line).collect()
    }

    fn locales_health(&self, current: &Generation) -> Vec<LocaleHealth> {
        let (lost, incomplete) = (self.lost(), self.incomplete(current));
        let locale = |(id, tag): (LocaleId, &LanguageTag)| {
            let mut sections: Vec<SectionHealth> =
                current.places(id, None).map(|place| self.section_health(current, place)).collect();
            for LostSection { section, file, .. } in lost.iter().filter(|lost| lost.locale == id) {
                let file = self.0.config.relative(file.clone());
                let error = "it has lost its texts: they come in another language of the chain".to_owned();
                degrade(&mut sections, section, file, error);
            }
            for lacking in incomplete.iter().filter(|lacking| lacking.locale == id) {
                degrade(&mut sections, &lacking.section, String::new(), lacking.to_string());
            }
            let status = if current.is_absent(id) {
                HealthStatus::Failed
            } else {
                HealthStatus::of_sections(sections.iter().map(|section| section.status))
            };
            LocaleHealth { locale: tag.to_string(), status, sections }
        };
        self.0.config.chains.all().map(locale).collect()
    }

    fn section_health(&self, current: &Generation, place: usize) -> SectionHealth {
        let file = current.file(place);
        let section = file.and_then(|file| file.section_name()).unwrap_or_default().to_owned();
        let file = self.0.config.relative(file.map(ListedFile::origin).unwrap_or_default());
        let (state, failure) = current.loads.state(place);
        let (status, error) = match (current.section(place), state, failure) {
            (Some(section), ..) if section.has_errors() => (HealthStatus::Degraded, first_error(section)),
            (Some(_), ..) => (HealthStatus::Ready, None),
            (None, _, Some(failure)) if failure.hangs => (HealthStatus::Hanging, Some(failure.text)),
            (None, _, Some(failure)) => (HealthStatus::Failed, Some(failure.text)),
            (None, State::Loading { since, .. }, None) if self.is_late(since) => {
                (HealthStatus::Hanging, Some("the source has not answered yet".to_owned()))
            }
            _ => (HealthStatus::NotLoaded, None),
        };
        let messages = current.section(place).map(|section| section.catalog.len());
        let bytes = current.section(place).map(|section| section.bytes);
        let error = error.map(|error| self.0.config.relative(error));
        SectionHealth { section, file, status, messages, bytes, error }
    }

    /// Whether a load takes longer than a request waits.
    fn is_late(&self, since: std::time::Duration) -> bool {
        now().saturating_sub(since) >= self.0.config.catalogs.wait
    }
}

/// Marks a section whose texts come in another language. What is worse of it stays.
fn degrade(sections: &mut Vec<SectionHealth>, name: &str, file: String, error: String) {
    let known = sections.iter_mut().find(|section| section.section == name);
    match known {
        Some(section) if section.status == HealthStatus::Ready => {
            section.status = HealthStatus::Degraded;
            section.error = Some(error);
        }
        Some(_) => {}
        None => sections.push(SectionHealth {
            section: name.to_owned(),
            file,
            status: HealthStatus::Degraded,
            messages: None,
            bytes: None,
            error: Some(error),
        }),
    }
}

fn first_error(section: &Section) -> Option<String> {
    section.errors().next().or(section.findings.first()).map(|finding| match finding.place {
        Some(place) => format!("{}:{place}: {}", section.file.origin(), finding.text),
        None => format!("{}: {}", section.file.origin(), finding.text),
    })
}

impl std::fmt::Display for HealthStatus {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(self.as_str())
    }
}

impl HealthStatus {
    /// The state of a locale: the worst of its sections. Where some fail and others may serve, a part is missing; what
    /// nobody has needed is as it should be where another section is in memory.
    fn of_sections(sections: impl Iterator<Item = Self> + Clone) -> Self {
        match (sections.clone().min(), sections.max()) {
            (Some(best), Some(worst)) if best.serves() && !worst.serves() => Self::Degraded,
            (Some(Self::Ready), Some(Self::NotLoaded)) => Self::Ready,
            (_, worst) => worst.unwrap_or(Self::Ready),
        }
    }

    /// The state of all locales: the same, but where nothing that was needed can be had, those that nobody has needed do not
    /// count: they have the same source.
    fn of_locales(locales: impl Iterator<Item = Self> + Clone) -> Self {
        let needed = locales.clone().filter(|status| *status != Self::NotLoaded);
        if needed.clone().next().is_none() { Self::of_sections(locales) } else { Self::of_sections(needed) }
    }

    /// The word in JSON.
    pub const fn as_str(self) -> &'static str {
        match self {
            Self::Ready => "ready",
            Self::NotLoaded => "not-loaded",
            Self::Stale => "stale",
            Self::Degraded => "degraded",
            Self::Hanging => "hanging",
            Self::Failed => "failed",
        }
    }

    /// Whether pages can be served.
    pub const fn serves(self) -> bool {
        !matches!(self, Self::Failed | Self::Hanging)
    }
}

#[cfg(any(feature = "axum", feature = "actix"))]
impl Health {
    /// The status of an answer: 503 where no page can be served.
    pub(crate) const fn http_status(&self) -> http::StatusCode {
        if self.status.serves() { http::StatusCode::OK } else { http::StatusCode::SERVICE_UNAVAILABLE }
    }

    pub(crate) fn to_json(&self) -> String {
        // It holds nothing that JSON cannot.
        serde_json::to_string_pretty(self).unwrap_or_default()
    }
}

#[cfg(test)]
mod tests {
    use super::HealthStatus::{self, Degraded, Failed, Hanging, NotLoaded, Ready, Stale};

    #[test]
    fn a_whole_is_as_its_parts_are() {
        for (parts, as_sections, as_locales) in [
            (&[][..], Ready, Ready),
            (&[Ready, Ready], Ready, Ready),
            (&[NotLoaded, NotLoaded], NotLoaded, NotLoaded),
            (&[Ready, NotLoaded], Ready, Ready),
            (&[Ready, Degraded], Degraded, Degraded),
            (&[Degraded, NotLoaded], Degraded, Degraded),
            (&[Stale, NotLoaded], Stale, Stale),
            (&[Ready, Failed], Degraded, Degraded),
            (&[Ready, Hanging, NotLoaded], Degraded, Degraded),
            (&[Degraded, Failed], Degraded, Degraded),
            (&[NotLoaded, Failed], Degraded, Failed),
            (&[NotLoaded, Hanging, Hanging], Degraded, Hanging),
            (&[Hanging, Failed], Failed, Failed),
            (&[Hanging], Hanging, Hanging),
        ] {
            assert_eq!(HealthStatus::of_sections(parts.iter().copied()), as_sections, "{parts:?}");
            assert_eq!(HealthStatus::of_locales(parts.iter().copied()), as_locales, "{parts:?}");
        }
    }
}
