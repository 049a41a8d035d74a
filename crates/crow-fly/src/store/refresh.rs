//! The task that lists the source, and makes the next generation where the listing is a new one.

use std::collections::{HashMap, HashSet};
use std::sync::atomic::Ordering;
use std::sync::{Arc, PoisonError};

use crow_fly_core::finding::{Finding, Severity};
use crow_fly_core::rule::Rule;
use tokio::task::JoinSet;
use tokio::time::{Instant, sleep, timeout};
use tracing::{error, info, warn};

use super::generation::Generation;
use super::loads::{Failure, Ticket, Waiting, Wanted};
use super::running::Running;
use super::section::Section;
use super::sections::{ReadError, unreadable};
use super::{CatalogStore, Stale, Told};
use crate::source::{Listing, SourceError, Way, absent_locale};

/// Why the source as it is now is not the current generation, or not well.
struct Refused {
    findings: Vec<Finding>,
    hangs: bool,
}

impl CatalogStore {
    /// Lists the source again, and waits for what follows. A listing that is under way may have begun before a change:
    /// another one follows it.
    pub(super) async fn relist(&self) {
        if let Some(waiting) = self.0.listings.running(()) {
            waiting.over().await;
        }
        self.0.listings.forget(());
        if let Some(waiting) = self.want_listing() {
            waiting.over().await;
        }
    }

    /// Starts a listing, unless one is under way.
    pub(super) fn want_listing(&self) -> Option<Waiting> {
        match self.0.listings.want(()) {
            Wanted::Start(ticket, waiting) => {
                let store = self.clone();
                tokio::spawn(async move { store.refresh(ticket).await });
                Some(waiting)
            }
            Wanted::Join(waiting) => Some(waiting),
            Wanted::Done | Wanted::Refused => None,
        }
    }

    /// Has the source listed again and again, where it asks for that.
    fn poll(&self) {
        let Some(interval) = self.0.source.poll_interval() else { return };
        if self.0.polled.swap(true, Ordering::Relaxed) {
            return;
        }
        let guard = Running::new(&self.0, |inner| &inner.polled);
        tokio::spawn(async move {
            loop {
                // Machines that were started together do not ask together for ever.
                sleep(interval.mul_f64(0.9 + fastrand::f64() / 5.0)).await;
                let Some(inner) = guard.inner.upgrade() else { return };
                let store = Self(inner);
                if let Some(waiting) = store.want_again() {
                    drop(store);
                    waiting.over().await;
                }
            }
        });
    }

    /// Starts a listing although there has been one.
    fn want_again(&self) -> Option<Waiting> {
        if self.0.listings.running(()).is_none() {
            self.0.listings.forget(());
        }
        self.want_listing()
    }

    async fn refresh(self, ticket: Ticket<()>) {
        self.poll();
        let refused = match self.list_and_swap().await {
            Ok(()) => return ticket.succeed(),
            Err(refused) => refused,
        };
        let text = refused.findings.first().map(|finding| finding.text.clone()).unwrap_or_default();
        self.0.counts.failed();
        let pause = ticket.fail(Failure { text, hangs: refused.hangs });
        let weak = Arc::downgrade(&self.0);
        drop(self);
        sleep(pause).await;
        if let Some(inner) = weak.upgrade() {
            Self(inner).want_listing();
        }
    }

    async fn list_and_swap(&self) -> Result<(), Refused> {
        let limit = self.0.config.catalogs.load_limit;
        let listed = timeout(limit, self.list()).await;
        let listed = listed.unwrap_or_else(|_| Err(SourceError::hanging("the source")));
        let listing = match listed {
            Ok(listing) => listing,
            Err(error) => {
                let failure = ReadError::Source(error).failure();
                let finding = Finding::of_file(
                    Rule::UnreadableSource,
                    "",
                    "",
                    failure.text,
                    "let the server read the catalogs; it is tried again",
                );
                return Err(self.refuse(vec![finding], failure.hangs));
            }
        };
        self.swap(listing).await
    }

    async fn list(&self) -> Result<Listing, SourceError> {
        let place = "the source";
        match self.0.source.list(&self.0.locales).into_way() {
            Way::Ready(listed) => listed,
            Way::Waiting(list) => list.await,
            Way::Blocking(list) => {
                let turn = self.0.blocking.turn(place).await;
                let listed = tokio::task::spawn_blocking(move || {
                    let listed = list();
                    drop(turn);
                    listed
                });
                listed.await.unwrap_or_else(|error| Err(SourceError::new(place, error)))
            }
        }
    }

    /// Makes the next generation of a listing, where it is a new one, with all that was in memory or asked for.
    async fn swap(&self, mut listing: Listing) -> Result<(), Refused> {
        let current = self.0.current.load_full();
        let inherits = |place: usize| self.0.config.catalogs.inherits.iter().any(|id| id.index() == place);
        self.tell_findings(&listing, inherits);
        let identity = listing.identity();
        if let Some(current) = current.as_ref().filter(|current| current.identity() == identity) {
            self.note_current(&listing);
            return self.is_well(current, &listing);
        }
        let number = current.as_ref().map_or(1, |current| current.number + 1);
        let next = Generation::new(
            number,
            identity,
            &mut listing,
            &self.0.locales,
            inherits,
            &self.0.hasher,
            &self.0.epoch,
        );
        if let Some(current) = &current {
            let mut findings = self.lost_locales(current, &next);
            findings.extend(self.carry_over(current, &next).await);
            if !findings.is_empty() {
                return Err(self.refuse(findings, false));
            }
        }
        let next = Arc::new(next);
        info!(
            target: "crow_fly::catalogs",
            generation = number, identity = format!("{:016x}", next.identity()), files = next.files.len(),
            "generation of catalogs",
        );
        for section in self.0.config.catalogs.named().filter(|section| !next.may_have(section)) {
            warn!(
                target: "crow_fly::catalogs", section, help = "correct its name in `[catalogs]`",
                "the configuration names a section that no locale has",
            );
        }
        self.0.current.store(Some(Arc::clone(&next)));
        // Its files may be smaller.
        self.0.crowded.lock().unwrap_or_else(PoisonError::into_inner).clear();
        if let Some(current) = &current {
            self.note_lost(current, &next);
            self.take_up(current, &next);
        }
        self.is_born(&next);
        self.0.counts.swapped(number, next.bytes());
        self.note_current(&listing);
        self.is_well(&next, &listing)
    }

    /// Takes into the next generation what is in memory of files that are the same, and reads those that have changed or
    /// that somebody waits for. What has become worse is a finding.
    async fn carry_over(&self, current: &Generation, next: &Generation) -> Vec<Finding> {
        let mut reading = JoinSet::new();
        for place in current.all_places() {
            let Some(file) = current.file(place) else { continue };
            let had = current.section(place);
            let is_wanted = had.is_some() || current.loads.is_awaited(place);
            let Some(new_place) = next.place_of(file, current.locale_of(place)).filter(|_| is_wanted) else {
                continue;
            };
            let Some(new_file) = next.file(new_place) else { continue };
            let is_same = file.version() == new_file.version() && file.format() == new_file.format();
            if let Some(section) = had.filter(|_| is_same) {
                next.publish(new_place, Arc::clone(section));
                continue;
            }
            let (store, file) = (self.clone(), new_file.clone());
            let was_well = had.is_some_and(|section| !section.has_errors());
            reading.spawn(async move { (new_place, was_well, store.read(&file).await, file) });
        }
        let mut findings = Vec::new();
        while let Some(read) = reading.join_next().await {
            let Ok((place, was_well, read, file)) = read else { continue };
            match read {
                Ok(section) if section.has_errors() && was_well => findings.extend(section.findings),
                Ok(section) => {
                    section.mark(self.epoch());
                    next.publish(place, Arc::<Section>::new(section));
                }
                Err(error) if was_well => findings.push(unreadable(&file, &error.failure())),
                // It is loaded when it is next asked for.
                Err(_) => {}
            }
        }
        findings
    }

    /// Tells what a listing has found, and the one before has not: files that are not read, and locales without files.
    fn tell_findings(&self, listing: &Listing, inherits: impl Fn(usize) -> bool) {
        let places: HashMap<&str, usize> =
            self.0.locales.iter().enumerate().map(|(place, locale)| (locale.as_str(), place)).collect();
        let is_missed = |locale: &&String| places.get(locale.as_str()).is_some_and(|place| !inherits(*place));
        let absent = listing.absent().iter().filter(is_missed).map(|locale| absent_locale(locale));
        let findings: Vec<Finding> = listing.findings().iter().cloned().chain(absent).collect();
        let mut found = self.0.found.lock().unwrap_or_else(PoisonError::into_inner);
        let known: HashSet<&str> = found.iter().map(|finding| finding.text.as_str()).collect();
        for Finding { severity, locale, rule, help, text, .. } in
            findings.iter().filter(|finding| !known.contains(finding.text.as_str()))
        {
            match severity {
                Severity::Note => {}
                Severity::Warning => {
                    warn!(target: "crow_fly::catalogs", locale, rule = rule.id(), help, "{text}");
                }
                Severity::Error => {
                    error!(target: "crow_fly::catalogs", locale, rule = rule.id(), help, "{text}");
                }
            }
        }
        *found = findings;
    }

    /// Goes on with what was being tried in the generation before.
    fn take_up(&self, current: &Generation, next: &Arc<Generation>) {
        for place in current.all_places().filter(|place| current.loads.is_awaited(*place)) {
            let file = current.file(place);
            let place = file.and_then(|file| next.place_of(file, current.locale_of(place)));
            if let Some(place) = place.filter(|place| next.section(*place).is_none()) {
                self.want_place(next, place);
            }
        }
        if next.has_broken_files() {
            let (store, next) = (self.clone(), Arc::clone(next));
            tokio::spawn(async move { store.await_repair(next).await });
        }
    }

    /// The locales that had files and have none any more.
    fn lost_locales(&self, current: &Generation, next: &Generation) -> Vec<Finding> {
        let chains = &self.0.config.chains;
        let lost = chains.all().filter(|(id, _)| next.is_absent(*id) && !current.is_absent(*id));
        lost.map(|(_, tag)| absent_locale(&tag.to_string())).collect()
    }

    /// An error where a locale has no files, or a source is left out: the listing is then tried again.
    fn is_well(&self, generation: &Generation, listing: &Listing) -> Result<(), Refused> {
        let chains = &self.0.config.chains;
        let absent = chains.all().filter(|(id, _)| generation.is_absent(*id));
        let absent = absent.map(|(_, tag)| absent_locale(&tag.to_string()));
        let findings: Vec<Finding> = absent.chain(listing.left_out().iter().cloned()).collect();
        if findings.is_empty() { Ok(()) } else { Err(Refused { findings, hangs: false }) }
    }

    /// Notes what the source says of a listing that is current now: its name, and whether it is the newest.
    fn note_current(&self, listing: &Listing) {
        let told = Told {
            name: listing.name().map(ToOwned::to_owned),
            activation: listing.activation(),
            left_out: listing.left_out().to_vec(),
        };
        let before =
            std::mem::replace(&mut *self.0.told.lock().unwrap_or_else(PoisonError::into_inner), told);
        if !are_same(&before.left_out, listing.left_out()) {
            for Finding { rule, help, text, .. } in listing.left_out() {
                error!(target: "crow_fly::catalogs", rule = rule.id(), help, "{text}");
            }
        }
        if listing.stale().is_empty() {
            *self.0.stale.lock().unwrap_or_else(PoisonError::into_inner) = None;
        } else {
            self.refuse(listing.stale().to_vec(), false);
        }
    }

    /// Keeps the current generation, and says why.
    fn refuse(&self, findings: Vec<Finding>, hangs: bool) -> Refused {
        let mut stale = self.0.stale.lock().unwrap_or_else(PoisonError::into_inner);
        // In development the same mistake is met at every request.
        if stale.as_ref().is_none_or(|stale| !are_same(&stale.findings, &findings)) {
            for finding in &findings {
                let place = finding.place.map(|place| place.to_string()).unwrap_or_default();
                error!(
                    target: "crow_fly::catalogs",
                    locale = finding.locale, section = finding.section, place, rule = finding.rule.id(), help = finding.help,
                    "the catalogs stay as they were: {}", finding.text,
                );
            }
        }
        let since = stale.as_ref().map_or_else(Instant::now, |stale| stale.since);
        *stale = Some(Stale { since, findings: findings.clone() });
        Refused { findings, hangs }
    }
}

/// Whether findings have been logged before. Where a source cannot be reached, its client may tell how often and how long it
/// has tried: that alone is no news.
fn are_same(one: &[Finding], other: &[Finding]) -> bool {
    let is_same = |(one, other): (&Finding, &Finding)| {
        let is_unreachable = matches!(one.rule, Rule::UnreachableReleases | Rule::UnreadableSource);
        one.rule == other.rule && (is_unreachable || one == other)
    };
    one.len() == other.len() && one.iter().zip(other).all(is_same)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn that_a_source_is_still_away_is_logged_once_and_each_mistake_by_itself() {
        let finding = |rule: Rule, text: &str| Finding::of_file(rule, "", "", text, "");
        for (rule, is_same) in
            [(Rule::UnreachableReleases, true), (Rule::UnreadableSource, true), (Rule::FileSyntax, false)]
        {
            let (one, other) = ([finding(rule, "after 1 s")], [finding(rule, "after 2 s")]);
            assert_eq!(are_same(&one, &other), is_same, "{rule}");
            assert!(are_same(&one, &one) && !are_same(&one, &[]));
        }
        assert!(!are_same(&[finding(Rule::FileSyntax, "x")], &[finding(Rule::UnreachableReleases, "x")]));
    }
}
