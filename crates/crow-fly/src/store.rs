//! The catalogs that are in memory, and how they come there: when first needed, once.
//!
//! Readers never wait on writers: a lookup takes no lock. A locale is loaded by the first request that needs it;
//! requests that arrive meanwhile wait for that one load.

use std::collections::HashMap;
use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::Arc;
use std::time::{Duration, Instant};

use arc_swap::ArcSwapOption;
use crow_fly_core::catalog::{Catalog, Entry, SectionSource, split_key};
use crow_fly_core::chain::Chains;
use crow_fly_core::direction::Direction;
use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::message::{FormatContext, Program};
use crow_fly_core::tag::LanguageTag;
use tokio::sync::Mutex;
use tracing::{debug, error, info, warn};

use crate::config::Config;
use crate::source::CatalogSource;

/// The catalogs of all locales, each loaded when it is first needed.
#[derive(Debug)]
pub(crate) struct CatalogStore {
    source: Box<dyn CatalogSource>,
    chains: Chains,
    /// Whether catalogs that change are read again.
    development: bool,
    config: Arc<Config>,
    /// One for each locale that has catalogs.
    slots: Box<[Slot]>,
    /// For each locale visitors can get: its chain, once all of it is loaded.
    complete: Box<[ArcSwapOption<ChainCatalogs>]>,
}

#[derive(Debug, Default)]
struct Slot {
    catalogs: ArcSwapOption<LocaleCatalogs>,
    /// Held while the locale is being loaded.
    attempts: Mutex<Attempts>,
}

/// How often loading has failed, and when it may be tried again.
#[derive(Debug, Default)]
struct Attempts {
    failed: u32,
    not_before: Option<Instant>,
}

/// The catalogs of one locale.
#[derive(Debug)]
pub(crate) struct LocaleCatalogs {
    pub(crate) tag: LanguageTag,
    pub(crate) direction: Direction,
    /// Changes with every text.
    version: u64,
    /// What the source said of the catalogs when they were read, in development.
    fingerprint: Option<u64>,
    sections: HashMap<String, Catalog>,
}

/// The catalogs a locale's texts are taken from, nearest first.
#[derive(Debug, Default)]
pub(crate) struct ChainCatalogs {
    chain: Vec<Link>,
}

/// One locale of a chain.
#[derive(Debug)]
pub(crate) struct Link {
    pub(crate) catalogs: Arc<LocaleCatalogs>,
    /// The formats of its texts here: those of the chain, where they are of its language.
    pub(crate) context: FormatContext,
}

impl Link {
    fn new(config: &Config, catalogs: Arc<LocaleCatalogs>, reader: LocaleId) -> Self {
        Self { context: config.format_context(&catalogs.tag, reader), catalogs }
    }
}

/// Where a key was found.
pub(crate) enum Lookup<'c> {
    /// A message, and the catalogs it is from.
    Message(&'c Link, &'c Program),
    /// No message anywhere in the chain.
    Missing(Miss),
}

/// Why a key has no message.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Miss {
    /// The key has no section: it is not `section.name`.
    NoSection,
    /// No catalog of the chain has it.
    NotThere,
    /// It is the name of a group of messages.
    Group,
    /// It is there, but its source has errors.
    Broken,
}

impl Miss {
    pub(crate) const fn text(self) -> &'static str {
        match self {
            Self::NoSection => "the key names no section: write `section.name`",
            Self::NotThere => "no catalog of the chain has this message",
            Self::Group => "the key is the name of a group of messages, not of one",
            Self::Broken => "the message is there, but its source has errors",
        }
    }
}

impl CatalogStore {
    pub(crate) fn new(source: Box<dyn CatalogSource>, config: Arc<Config>) -> Self {
        let chains = config.chains.clone();
        let slots = chains.all().map(|_| Slot::default()).collect();
        let complete = (0..config.site.policy.set().len()).map(|_| ArcSwapOption::empty()).collect();
        Self { source, chains, development: config.development, config, slots, complete }
    }

    /// The catalogs of a locale's chain where nothing need be loaded, or looked at, for them.
    pub(crate) fn loaded(&self, locale: LocaleId) -> Option<Arc<ChainCatalogs>> {
        self.complete.get(locale.index()).filter(|_| !self.development)?.load_full()
    }

    /// The catalogs of a locale's chain, loaded where they are not yet. What cannot be loaded is left out, and
    /// tried again later.
    pub(crate) async fn chain(&self, locale: LocaleId) -> Arc<ChainCatalogs> {
        let complete = self.complete.get(locale.index());
        if self.development && self.forget_changed(locale) {
            // What has changed may be in any chain.
            self.complete.iter().for_each(|chain| chain.store(None));
        }
        if let Some(chain) = complete.and_then(ArcSwapOption::load_full) {
            return chain;
        }
        let wanted = self.chains.of(locale);
        let mut chain = Vec::with_capacity(wanted.len());
        for id in wanted {
            let catalogs = self.locale(*id).await;
            chain.extend(catalogs.map(|catalogs| Link::new(&self.config, catalogs, locale)));
        }
        let all = chain.len() == wanted.len();
        let chain = Arc::new(ChainCatalogs { chain });
        if let Some(slot) = complete.filter(|_| all) {
            slot.store(Some(Arc::clone(&chain)));
        }
        chain
    }

    /// Forgets the catalogs of a chain that have changed since they were read; returns whether any have.
    fn forget_changed(&self, locale: LocaleId) -> bool {
        let mut any = false;
        for id in self.chains.of(locale) {
            let Some(slot) = self.slots.get(id.index()) else { continue };
            let Some(catalogs) = slot.catalogs.load_full() else { continue };
            if self.source.fingerprint(&catalogs.tag.to_string()) != catalogs.fingerprint {
                slot.catalogs.store(None);
                any = true;
            }
        }
        any
    }

    /// The catalogs of one locale; none where they cannot be loaded now.
    async fn locale(&self, id: LocaleId) -> Option<Arc<LocaleCatalogs>> {
        let slot = self.slots.get(id.index())?;
        if let Some(catalogs) = slot.catalogs.load_full() {
            return Some(catalogs);
        }
        let mut attempts = slot.attempts.lock().await;
        // Another request may have loaded it while this one waited.
        if let Some(catalogs) = slot.catalogs.load_full() {
            return Some(catalogs);
        }
        if attempts.not_before.is_some_and(|time| Instant::now() < time) {
            return None;
        }
        let tag = self.chains.tag(id);
        let started = Instant::now();
        match self.load(tag).await {
            Ok(catalogs) => {
                let messages: usize = catalogs.sections.values().map(Catalog::len).sum();
                info!(
                    target: "crow_fly::catalogs",
                    locale = %tag, sections = catalogs.sections.len(), messages, elapsed = ?started.elapsed(),
                    "catalogs loaded",
                );
                *attempts = Attempts::default();
                let catalogs = Arc::new(catalogs);
                slot.catalogs.store(Some(Arc::clone(&catalogs)));
                Some(catalogs)
            }
            Err(cause) => {
                let wait = Duration::from_secs(1 << attempts.failed.min(6)).min(Duration::from_secs(60));
                attempts.failed += 1;
                attempts.not_before = Some(Instant::now() + wait);
                let reason = std::error::Error::source(&cause).map(ToString::to_string).unwrap_or_default();
                error!(target: "crow_fly::catalogs", locale = %tag, place = cause.place(), reason, again_in = ?wait, "catalogs cannot be loaded");
                None
            }
        }
    }

    async fn load(&self, tag: &LanguageTag) -> Result<LocaleCatalogs, crate::source::SourceError> {
        let name = tag.to_string();
        // Before path_match: what changes meanwhile is read again, not missed.
        let fingerprint = if self.development { self.source.fingerprint(&name) } else { None };
        let files = self.source.load(&name).await?;
        if files.is_empty() {
            warn!(target: "crow_fly::catalogs", locale = name, "the source has no catalogs for this locale");
        }
        let mut sections = HashMap::new();
        let mut version = DefaultHasher::new();
        for file in files {
            (&file.section, &file.text).hash(&mut version);
            let (catalog, findings) =
                Catalog::compile(&name, &file.section, &SectionSource::from_toml(&file.text));
            debug!(target: "crow_fly::catalogs", locale = name, section = file.section, from = file.origin, messages = catalog.len(), "read");
            for finding in findings {
                let place = finding.place.map(|place| place.to_string()).unwrap_or_default();
                warn!(
                    target: "crow_fly::catalogs",
                    place = format!("{}:{place}", file.origin), key = finding.key, rule = finding.rule, help = finding.help,
                    "{}", finding.text,
                );
            }
            sections.insert(file.section, catalog);
        }
        Ok(LocaleCatalogs {
            direction: Direction::of(tag),
            tag: tag.clone(),
            version: version.finish(),
            fingerprint,
            sections,
        })
    }
}

impl ChainCatalogs {
    /// The formats of the first texts of the chain.
    pub(crate) fn format_context(&self) -> Option<&FormatContext> {
        self.chain.first().map(|link| &link.context)
    }

    /// Changes with every text of the chain.
    pub(crate) fn version(&self) -> u64 {
        let mut version = DefaultHasher::new();
        self.chain.iter().for_each(|link| link.catalogs.version.hash(&mut version));
        version.finish()
    }

    /// Looks a key up along the chain.
    pub(crate) fn find(&self, key: &str) -> Lookup<'_> {
        let Some((section, name)) = split_key(key) else { return Lookup::Missing(Miss::NoSection) };
        let mut miss = Miss::NotThere;
        for link in &self.chain {
            match link.catalogs.sections.get(section).map_or(Entry::Missing, |catalog| catalog.get(name)) {
                Entry::Message(program) => return Lookup::Message(link, program),
                Entry::Broken => miss = Miss::Broken,
                Entry::Group if miss == Miss::NotThere => miss = Miss::Group,
                Entry::Group | Entry::Missing => {}
            }
        }
        Lookup::Missing(miss)
    }
}
