//! The walk through all locales: each is read, checked and let go, on all cores.

use std::collections::{BTreeMap, BTreeSet};
use std::sync::Mutex;
use std::sync::atomic::{AtomicUsize, Ordering};
use std::thread;

use crate::accepted::{self, Accepted, Hashes};
use crate::located::Located;
use crate::progress;
use crate::project::{LocaleCatalogs, Project};
use anyhow::Result;
use crow_fly::source::{Listing, ReadyMade};
use crow_fly_core::check::{
    Checker, Coverage, CoveredText, KeySet, LocaleReport, TextState, Titles, forgotten, order,
};
use crow_fly_core::finding::Finding;
use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::rule::Rule;

/// What all checks have found.
pub(crate) struct Checked {
    pub(crate) findings: Vec<Located>,
    /// The catalogs of the default locale.
    pub(crate) reference: LocaleCatalogs,
    /// How complete the wanted locales are.
    pub(crate) coverage: BTreeMap<LocaleId, Coverage>,
    /// The keys of all locales that were read.
    pub(crate) keys: BTreeMap<LocaleId, KeySet>,
    /// What all locales that were read have done with titles of the default locale.
    titles: BTreeMap<LocaleId, Titles>,
    /// The sections of all locales that were read.
    sections: BTreeSet<String>,
    /// The texts of the wanted locales, where they are asked for.
    pub(crate) texts: BTreeMap<LocaleId, Vec<OfText>>,
}

/// A text of the default locale, and how a locale has it.
pub(crate) struct OfText {
    pub(crate) section: String,
    pub(crate) key: String,
    pub(crate) words: usize,
    pub(crate) state: TextState,
}

/// What is asked of a walk, beside findings.
#[derive(Clone, Copy, PartialEq, Eq)]
pub(crate) enum Wants {
    Findings,
    /// The keys of all locales.
    Keys,
    /// The texts of the default locale in each locale.
    Texts,
}

/// What was found of one locale.
struct OfLocale {
    locale: LocaleId,
    findings: Vec<Located>,
    coverage: Coverage,
    keys: KeySet,
    titles: Titles,
    sections: Vec<String>,
    texts: Vec<OfText>,
}

impl OfLocale {
    fn new(project: &Project, locale: LocaleId, catalogs: &LocaleCatalogs, report: LocaleReport) -> Self {
        let LocaleReport { findings, coverage, keys, titles } = report;
        let all = findings.into_iter().chain(catalogs.findings.iter().cloned());
        let findings = all.map(|finding| Located::in_catalogs(project, catalogs, finding)).collect();
        let sections = catalogs.sections.keys().cloned().collect();
        Self { locale, findings, coverage, keys, titles, sections, texts: Vec::new() }
    }
}

impl Checked {
    /// Adds findings from elsewhere, at the severity that the configuration gives them.
    pub(crate) fn add(&mut self, project: &Project, findings: Vec<Located>) {
        let settings = project.config.checks().settings();
        let wanted =
            findings.into_iter().filter_map(|mut found| settings.level(&mut found.finding).then_some(found));
        self.findings.extend(wanted);
    }

    /// Adds the sections that the configuration names and nobody has.
    fn add_unknown_sections(&mut self, project: &Project) {
        let ready_made = project.config.has_ready_made_texts().then(|| ReadyMade::SECTION.to_owned());
        self.sections.extend(ready_made);
        let names: Vec<&str> = self.sections.iter().map(String::as_str).collect();
        let unknown = project.config.unknown_sections(&names, |name| self.sections.contains(name));
        let located = unknown.into_iter().map(|(name, finding)| Located::of_name(project, finding, name));
        self.findings.extend(located);
    }

    /// Adds the locales whose calendar is not there.
    fn add_absent_calendars(&mut self, project: &Project) {
        let absent = project.config.absent_calendars();
        self.add(
            project,
            absent.into_iter().map(|(name, finding)| Located::of_name(project, finding, &name)).collect(),
        );
    }

    /// Adds the titles that were forgotten in a wanted locale, whose files are read again for the lines.
    fn add_forgotten(&mut self, project: &Project, listing: &Listing, wanted: impl Fn(LocaleId) -> bool) {
        let mut read: BTreeMap<String, LocaleCatalogs> = BTreeMap::new();
        let chains = project.config.chains();
        for finding in forgotten(self.titles.values()) {
            let named = chains.all().find(|(_, tag)| tag.to_string() == finding.locale);
            let Some((id, _)) = named.filter(|(id, _)| wanted(*id)) else { continue };
            let catalogs = read.entry(finding.locale.clone()).or_insert_with(|| project.read(listing, id));
            self.findings.push(Located::in_catalogs(project, catalogs, finding));
        }
    }

    fn take(&mut self, of_locale: OfLocale, is_wanted: bool) {
        let OfLocale { locale, findings, coverage, keys, titles, sections, texts } = of_locale;
        self.sections.extend(sections);
        if is_wanted {
            self.findings.extend(findings);
            self.coverage.insert(locale, coverage);
            self.texts.insert(locale, texts);
        }
        self.keys.insert(locale, keys);
        self.titles.insert(locale, titles);
    }
}

/// Checks the wanted locales, all where none is named, and reads those that their chains need.
pub(crate) fn check(project: &Project, only: &BTreeSet<LocaleId>, wants: Wants) -> Result<Checked> {
    let (config, settings) = (&project.config, project.config.checks().settings());
    let (set, chains) = (config.policy().set(), config.chains());
    let listing = project.list()?;
    let reference = set.default_locale();
    let own = project.read(&listing, reference);
    let checker = Checker::new(set, chains, &own.sections, settings);
    let checker = if wants == Wants::Keys { checker.with_all_keys() } else { checker };
    let accepted = Accepted::read(config.checks().accepted())?;
    let hashes = if accepted.is_empty() { Hashes::new() } else { accepted::hashes(&own.sections) };
    // Pseudo-locales are made from the default locale: there is nothing to check.
    let is_made = |locale: LocaleId| config.is_pseudo_locale(chains.tag(locale));
    let wanted = |locale: LocaleId| (only.is_empty() || only.contains(&locale)) && !is_made(locale);

    let mut all = Checked {
        findings: Vec::new(),
        reference: LocaleCatalogs::default(),
        coverage: BTreeMap::new(),
        keys: BTreeMap::new(),
        titles: BTreeMap::new(),
        sections: BTreeSet::new(),
        texts: BTreeMap::new(),
    };
    // Files that belong to no locale, and those of locales.
    for finding in listing.findings() {
        let locale = chains.all().find(|(_, tag)| tag.to_string() == finding.locale);
        if locale.map_or(only.is_empty(), |(id, _)| wanted(id)) {
            all.findings.push(Located::of(project, finding.clone()));
        }
    }
    // A locale without any file is one mistake, not one for each section.
    let absent = listing.absent_locales(config);
    for finding in &absent {
        let locale = chains.all().find(|(_, tag)| tag.to_string() == finding.locale);
        if locale.is_some_and(|(id, _)| wanted(id)) {
            all.findings.push(Located::of(project, finding.clone()));
        }
    }
    let is_absent = |locale: &str| absent.iter().any(|finding| finding.locale == locale);
    all.take(OfLocale::new(project, reference, &own, checker.check_reference()), wanted(reference));
    let needed: BTreeSet<LocaleId> = chains
        .all()
        .map(|(locale, _)| locale)
        .filter(|locale| wanted(*locale))
        .flat_map(|locale| checker.parents(locale).chain([locale]))
        .filter(|locale| *locale != reference)
        .collect();
    let read = |locales: BTreeSet<LocaleId>, all: &mut Checked| {
        // Each after its parents: those of one depth are checked at the same time.
        let mut by_depth: BTreeMap<usize, Vec<LocaleId>> = BTreeMap::new();
        for locale in locales {
            by_depth.entry(checker.parents(locale).count()).or_default().push(locale);
        }
        let count: usize = by_depth.values().map(Vec::len).sum();
        let progress = progress::bar(count, "locales");
        for locales in by_depth.into_values() {
            let keys = &all.keys;
            let results = in_parallel(&locales, |locale| {
                let catalogs = project.read(&listing, locale);
                let parents: Vec<&KeySet> =
                    checker.parents(locale).filter_map(|parent| keys.get(&parent)).collect();
                let mut report = checker.check(locale, &catalogs.sections, &parents);
                let stale = accepted.stale(&chains.tag(locale).to_string(), &catalogs, &hashes);
                let mut texts = Vec::new();
                if wants == Wants::Texts || !stale.is_empty() {
                    texts = self::texts(&checker, &catalogs, &parents, &stale);
                    // What is stale is known here only.
                    report.coverage = Coverage::default();
                    for text in &texts {
                        report.coverage.add(text.state);
                    }
                }
                report.findings.extend(stale);
                progress.inc(1);
                // What is read is let go here: a finding takes its line along.
                OfLocale { texts, ..OfLocale::new(project, locale, &catalogs, report) }
            });
            for of_locale in results {
                let is_wanted = wanted(of_locale.locale);
                all.take(of_locale, is_wanted);
            }
        }
    };
    read(needed, &mut all);
    // Whether a title was forgotten is known by what the other locales have done with it.
    if all.titles.iter().any(|(locale, titles)| wanted(*locale) && titles.has_kept()) {
        let rest = chains.all().map(|(locale, _)| locale);
        read(rest.filter(|locale| !all.titles.contains_key(locale) && !is_made(*locale)).collect(), &mut all);
    }
    if only.is_empty() {
        all.add_unknown_sections(project);
        all.add_absent_calendars(project);
    }
    all.add_forgotten(project, &listing, wanted);
    all.findings
        .retain(|found| found.finding.rule != Rule::MissingSection || !is_absent(&found.finding.locale));
    // Those about files come from elsewhere, at their usual severity.
    all.findings.retain_mut(|found| settings.level(&mut found.finding));
    all.findings.sort_by(|one, other| order(&one.finding, &other.finding));
    drop(checker);
    all.reference = own;
    Ok(all)
}

/// The texts of the default locale, and how a locale has each.
fn texts(
    checker: &Checker<'_>,
    catalogs: &LocaleCatalogs,
    parents: &[&KeySet],
    stale: &[Finding],
) -> Vec<OfText> {
    let stale: BTreeSet<(&str, &str)> = stale
        .iter()
        .filter_map(|finding| Some((finding.section.as_str(), finding.key.as_deref()?)))
        .collect();
    let of_text = |text: CoveredText<'_>| OfText {
        section: text.section.to_owned(),
        key: text.key.to_owned(),
        words: text.words,
        state: match text.state {
            TextState::Translated if stale.contains(&(text.section, text.key)) => TextState::Stale,
            known => known,
        },
    };
    checker.texts(&catalogs.sections, parents).into_iter().map(of_text).collect()
}

/// Does one thing for each, on all cores; the results are in no order.
fn in_parallel<T: Copy + Sync, R: Send>(items: &[T], work: impl Fn(T) -> R + Sync) -> Vec<R> {
    let (next, results) = (AtomicUsize::new(0), Mutex::new(Vec::with_capacity(items.len())));
    let threads = thread::available_parallelism().map_or(1, usize::from).min(items.len());
    thread::scope(|scope| {
        for _ in 0..threads {
            scope.spawn(|| {
                while let Some(item) = items.get(next.fetch_add(1, Ordering::Relaxed)) {
                    let result = work(*item);
                    if let Ok(mut results) = results.lock() {
                        results.push(result);
                    }
                }
            });
        }
    });
    results.into_inner().unwrap_or_default()
}
