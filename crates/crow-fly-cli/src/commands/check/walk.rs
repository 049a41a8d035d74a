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
use crow_fly_core::check::{Checker, Coverage, CoveredText, KeySet, LocaleReport, TextState, order};
use crow_fly_core::finding::Finding;
use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::rule::Rule;

/// What all checks have found.
pub(crate) struct Checked {
    pub(crate) findings: Vec<Located>,
    /// How complete the wanted locales are.
    pub(crate) coverage: BTreeMap<LocaleId, Coverage>,
    /// The keys of all locales that were read.
    pub(crate) keys: BTreeMap<LocaleId, KeySet>,
    /// The texts of the wanted locales, where they are asked for.
    pub(crate) texts: BTreeMap<LocaleId, Vec<OfText>>,
}

/// A text of the reference, and how a locale has it.
pub(crate) struct OfText {
    pub(crate) section: String,
    pub(crate) key: String,
    pub(crate) words: usize,
    pub(crate) state: TextState,
    /// Whether the reference has changed since the locale's own text was accepted.
    pub(crate) is_stale: bool,
}

/// What is asked of a walk, beside findings.
#[derive(Clone, Copy, PartialEq, Eq)]
pub(crate) enum Wants {
    Findings,
    /// The keys of all locales.
    Keys,
    /// The texts of the reference in each locale.
    Texts,
}

/// What was found of one locale.
struct OfLocale {
    locale: LocaleId,
    findings: Vec<Located>,
    coverage: Coverage,
    keys: KeySet,
    texts: Vec<OfText>,
}

impl OfLocale {
    fn new(project: &Project, locale: LocaleId, catalogs: &LocaleCatalogs, report: LocaleReport) -> Self {
        let LocaleReport { findings, coverage, keys, .. } = report;
        let all = findings.into_iter().chain(catalogs.findings.iter().cloned());
        let findings = all.map(|finding| Located::in_catalogs(project, catalogs, finding)).collect();
        Self { locale, findings, coverage, keys, texts: Vec::new() }
    }
}

impl Checked {
    /// Adds findings from elsewhere, at the severity that the configuration gives them.
    pub(crate) fn add(&mut self, project: &Project, findings: Vec<Located>) {
        let settings = project.config.checks().settings();
        self.findings.extend(findings.into_iter().filter_map(|mut found| {
            found.finding.severity = settings.severity(found.finding.rule, found.finding.severity)?;
            Some(found)
        }));
    }

    fn take(&mut self, of_locale: OfLocale, is_wanted: bool) {
        let OfLocale { locale, findings, coverage, keys, texts } = of_locale;
        if is_wanted {
            self.findings.extend(findings);
            self.coverage.insert(locale, coverage);
            self.texts.insert(locale, texts);
        }
        self.keys.insert(locale, keys);
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
    // Pseudo-locales are made from the reference: there is nothing to check.
    let is_made = |locale: LocaleId| config.is_pseudo_locale(chains.tag(locale));
    let wanted = |locale: LocaleId| (only.is_empty() || only.contains(&locale)) && !is_made(locale);

    let mut all = Checked {
        findings: Vec::new(),
        coverage: BTreeMap::new(),
        keys: BTreeMap::new(),
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
    // Each behind its parents: those of one depth are checked at the same time.
    let mut by_depth: BTreeMap<usize, Vec<LocaleId>> = BTreeMap::new();
    for locale in needed {
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
            let texts =
                if wants == Wants::Texts { texts(&checker, &catalogs, &parents, &stale) } else { Vec::new() };
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
    all.findings
        .retain(|found| found.finding.rule != Rule::MissingSection || !is_absent(&found.finding.locale));
    // Those about files come from elsewhere, at their usual severity.
    all.findings.retain_mut(|found| {
        let severity = settings.severity(found.finding.rule, found.finding.severity);
        found.finding.severity = severity.unwrap_or(found.finding.severity);
        severity.is_some()
    });
    all.findings.sort_by(|one, other| order(&one.finding, &other.finding));
    Ok(all)
}

/// The texts of the reference, and how a locale has each.
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
        state: text.state,
        is_stale: stale.contains(&(text.section, text.key)),
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
