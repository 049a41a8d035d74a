//! Checks across catalogs: pure functions from what is written to findings.
//!
//! Every locale is held against the default one. A key is missing only where no locale of the same language
//! in the chain has it: `en-GB` may hold just the texts that differ from `en`.
//!
//! A [`Checker`] holds the default locale, and is given one locale after another: no more of a project need be in memory.

use alloc::borrow::ToOwned;
use alloc::collections::{BTreeMap, BTreeSet};
use alloc::format;
use alloc::string::{String, ToString};
use alloc::vec::Vec;

use hashbrown::{HashMap, HashSet};

use crate::catalog::{SectionSource, split_key};
use crate::chain::Chains;
use crate::finding::{FileFindings, Finding};
use crate::locale_set::{LocaleId, LocaleSet};
use crate::rule::Rule;

mod characters;
mod coverage;
mod end_marks;
mod keys;
mod languages;
mod markup;
mod message;
mod notation;
mod parsed;
mod plural;
mod reference;
mod script;
mod settings;
mod spaces;
mod untranslated;
mod white_space;
mod wording;

pub use coverage::{Coverage, CoveredText, TextState};
use keys::SectionPlace;
use languages::Language;
use parsed::{ParsedLocale, ParsedMessage, ParsedSection, Place, allowed, parse};
use script::Scripts;
pub use settings::CheckSettings;
pub use untranslated::{Titles, forgotten};

/// The sections of a locale as they are written, by name.
pub type Sections = BTreeMap<String, SectionSource>;

/// The catalogs of an application as they are written.
pub type Project = BTreeMap<LocaleId, Sections>;

/// Checks the locales of an application, one after another, against the default locale.
pub struct Checker<'c> {
    set: &'c LocaleSet,
    chains: &'c Chains,
    settings: &'c CheckSettings,
    reference: ParsedLocale<'c>,
    /// How many titles it has.
    titles: usize,
    /// The locales whose keys others need; none where all are kept.
    parents: Option<BTreeSet<LocaleId>>,
}

impl core::fmt::Debug for Checker<'_> {
    fn fmt(&self, f: &mut core::fmt::Formatter<'_>) -> core::fmt::Result {
        f.debug_struct("Checker").field("settings", self.settings).finish_non_exhaustive()
    }
}

/// The keys of a locale: what others of its language need of it.
#[derive(Clone, Debug, Default)]
pub struct KeySet {
    sections: HashMap<String, HashSet<String>>,
    /// Those whose messages have no errors.
    good: HashMap<String, HashSet<String>>,
}

impl KeySet {
    fn new(locale: &ParsedLocale<'_>) -> Self {
        let keys = |only_good: bool| {
            let section = |(name, section): (&&str, &ParsedSection<'_>)| {
                let wanted = section.messages.iter().filter(|message| !only_good || message.is_said());
                ((*name).to_owned(), wanted.map(|message| message.entry.key().to_owned()).collect())
            };
            locale.iter().map(section).collect()
        };
        Self { sections: keys(false), good: keys(true) }
    }

    fn has(&self, section: &str, key: &str) -> bool {
        self.sections.get(section).is_some_and(|keys| keys.contains(key))
    }

    /// Whether it has a key: `home.title`.
    pub fn contains(&self, key: &str) -> bool {
        split_key(key).is_some_and(|(section, name)| self.has(section, name))
    }

    /// All keys, in no order.
    pub fn keys(&self) -> impl Iterator<Item = String> {
        let sections = self.sections.iter();
        sections.flat_map(|(section, keys)| keys.iter().map(move |key| format!("{section}.{key}")))
    }

    fn has_good(&self, section: &str, key: &str) -> bool {
        self.good.get(section).is_some_and(|keys| keys.contains(key))
    }
}

/// What a check has found of a locale.
#[derive(Clone, Debug, Default)]
pub struct LocaleReport {
    /// The findings, by section and place: a hundred of a file at most, and how many more there are.
    pub findings: Vec<Finding>,
    /// How much of the default locale it has.
    pub coverage: Coverage,
    /// What others of its language need to know of it; nothing where none does.
    pub keys: KeySet,
    /// The titles of the default locale that it has kept: [`forgotten`] says which of them are no names.
    pub titles: Titles,
}

impl<'c> Checker<'c> {
    /// A checker with the sections of the default locale.
    pub fn new(
        set: &'c LocaleSet,
        chains: &'c Chains,
        reference: &'c Sections,
        settings: &'c CheckSettings,
    ) -> Self {
        let mut reference = parse(reference);
        let titles = untranslated::read_reference(&mut reference);
        let mut checker = Self { set, chains, settings, reference, titles, parents: None };
        let parents = chains.all().flat_map(|(locale, _)| checker.parents(locale)).collect();
        checker.parents = Some(parents);
        checker
    }

    /// Has the keys of all locales kept, not only of those that others need.
    #[must_use]
    pub fn with_all_keys(mut self) -> Self {
        self.parents = None;
        self
    }

    /// The locales of the same language behind one in its chain: their keys are needed to check it.
    pub fn parents(&self, locale: LocaleId) -> impl Iterator<Item = LocaleId> + use<'c> {
        let (chains, tag) = (self.chains, self.chains.tag(locale));
        chains.of(locale).iter().copied().skip(1).filter(|id| chains.tag(*id).language() == tag.language())
    }

    /// Checks the default locale.
    pub fn check_reference(&self) -> LocaleReport {
        self.check_parsed(self.set.default_locale(), &self.reference, &[])
    }

    /// Checks a locale. `parents` are the keys of its [parents](Self::parents).
    pub fn check(&self, locale: LocaleId, own: &Sections, parents: &[&KeySet]) -> LocaleReport {
        self.check_parsed(locale, &parse(own), parents)
    }

    fn check_parsed(&self, locale: LocaleId, own: &ParsedLocale<'_>, parents: &[&KeySet]) -> LocaleReport {
        let tag = self.chains.tag(locale);
        let reference = self.chains.tag(self.set.default_locale());
        let checked = CheckedLocale {
            text: tag.to_string(),
            is_reference: locale == self.set.default_locale(),
            // A locale that only has catalogs is asked by others; it owes no key of its own.
            owes: locale.index() < self.set.len() && locale != self.set.default_locale(),
            language: Language {
                tag,
                scripts: Scripts::of(tag),
                reference,
                has_forms_of_millions: plural::has_forms_of_millions(own, tag),
            },
            settings: self.settings,
            reference: &self.reference,
            parents,
        };
        let sections: BTreeSet<&str> = own.keys().chain(self.reference.keys()).copied().collect();
        let mut titles = Titles::new(&checked.language, self.titles);
        let mut findings: Vec<Finding> =
            sections.into_iter().flat_map(|section| checked.section(section, own, &mut titles)).collect();
        titles.weigh(own, &self.reference, &checked.language);
        findings.sort_by(order);
        let is_kept =
            checked.is_reference || self.parents.as_ref().is_none_or(|parents| parents.contains(&locale));
        let keys = if is_kept { KeySet::new(own) } else { KeySet::default() };
        LocaleReport { findings, coverage: self.coverage(own, parents), keys, titles }
    }
}

/// Checks all catalogs, with all rules as they are. The findings are in the order of locale, section and place.
pub fn check(set: &LocaleSet, chains: &Chains, project: &Project) -> Vec<Finding> {
    let (none, settings) = (Sections::new(), CheckSettings::new());
    let reference = set.default_locale();
    let checker = Checker::new(set, chains, project.get(&reference).unwrap_or(&none), &settings);
    let mut reports: BTreeMap<LocaleId, LocaleReport> = BTreeMap::new();
    for locale in in_order(&checker, chains) {
        let report = if locale == reference {
            checker.check_reference()
        } else {
            let parents: Vec<&KeySet> = checker
                .parents(locale)
                .filter_map(|parent| reports.get(&parent))
                .map(|report| &report.keys)
                .collect();
            checker.check(locale, project.get(&locale).unwrap_or(&none), &parents)
        };
        reports.insert(locale, report);
    }
    let forgotten = forgotten(reports.values().map(|report| &report.titles));
    let mut findings: Vec<Finding> =
        reports.into_values().flat_map(|report| report.findings).chain(forgotten).collect();
    findings.sort_by(order);
    findings
}

/// All locales, each behind its parents: an order that they can be checked in.
fn in_order(checker: &Checker<'_>, chains: &Chains) -> Vec<LocaleId> {
    let mut order: Vec<(usize, LocaleId)> =
        chains.all().map(|(locale, _)| (checker.parents(locale).count(), locale)).collect();
    order.sort_unstable();
    order.into_iter().map(|(_, locale)| locale).collect()
}

/// What is so of many texts of a section, as a rule: it is one finding, at the first of them.
struct Common<'s> {
    /// The first text that is marked as untranslated, and how many are.
    marked: Option<(&'s str, usize)>,
    /// The first text with Latin words alone, where the language is written otherwise, and how many have.
    latin: Option<(&'s str, usize)>,
}

impl<'s> Common<'s> {
    fn of(own: &ParsedSection<'s>, language: &Language<'_>) -> Self {
        let first = |mut keys: alloc::vec::IntoIter<&'s str>| Some((keys.next()?, keys.len() + 1));
        let keys = |is_so: &dyn Fn(&ParsedMessage<'_>) -> bool| {
            let so = own.messages.iter().filter(|message| is_so(message));
            first(so.map(|message| message.entry.key()).collect::<Vec<_>>().into_iter())
        };
        let latin = |message: &ParsedMessage<'_>| {
            message.is_said()
                && message.message.as_ref().is_ok_and(wording::has_only_latin)
                && !allowed(&[message.entry.note()]).contains(&Rule::OtherScript)
        };
        Self {
            marked: keys(&|message| message.entry.is_untranslated()),
            latin: if language.scripts.has_no_latin() { keys(&latin) } else { None },
        }
    }
}

fn marked_untranslated(count: usize) -> (String, String) {
    let text = if count == 1 {
        "the text is marked as untranslated".to_owned()
    } else {
        format!("this and {} more of the section are marked as untranslated", count - 1)
    };
    (text, "translate it, and delete the line `untranslated` above it".to_owned())
}

/// The order of findings: by locale, section and place.
pub fn order(one: &Finding, other: &Finding) -> core::cmp::Ordering {
    // What tells how many more there are comes last.
    let key = |finding: &Finding| (finding.rule == Rule::MoreFindings, finding.place);
    (&one.locale, &one.section, key(one), &one.key, one.rule.id()).cmp(&(
        &other.locale,
        &other.section,
        key(other),
        &other.key,
        other.rule.id(),
    ))
}

/// A locale, beside the default locale.
struct CheckedLocale<'s> {
    text: String,
    is_reference: bool,
    /// Whether keys of the default locale that it lacks are findings.
    owes: bool,
    language: Language<'s>,
    settings: &'s CheckSettings,
    reference: &'s ParsedLocale<'s>,
    parents: &'s [&'s KeySet],
}

impl CheckedLocale<'_> {
    /// The findings of one section.
    fn section(&self, name: &str, all: &ParsedLocale<'_>, titles: &mut Titles) -> Vec<Finding> {
        let mut file = FileFindings::new(&self.text, name);
        let (own, reference) = (all.get(name), self.reference.get(name));
        // Most files have the keys of the default locale, in its order: then none is missing or surplus.
        let has_same_keys =
            own.zip(reference).is_some_and(|(own, reference)| own.keys().eq(reference.keys()));
        if let Some(own) = own {
            self.place(name, &mut file).file(own.source);
            let common = Common::of(own, &self.language);
            for (at, message) in own.messages.iter().enumerate() {
                let reference = reference.and_then(|section| section.get_near(at, message.entry.key()));
                self.message(name, own, message, (reference, &common), titles, &mut file);
            }
            if !self.is_reference && !has_same_keys {
                self.place(name, &mut file).surplus(own, reference, self.reference);
            }
        }
        // A file that has none, or cannot be read, is one finding.
        let is_empty = own.is_some_and(|own| own.messages.is_empty());
        let owes = self.owes && !is_empty && !self.settings.may_fall_back(&self.text, name);
        if let Some(reference) = reference.filter(|_| owes && !has_same_keys) {
            self.place(name, &mut file).missing(reference, own, all, self.parents);
        }
        file.finish()
    }

    fn place<'p, 'f>(&'p self, section: &'p str, file: &'p mut FileFindings<'f>) -> SectionPlace<'p, 'f> {
        SectionPlace { locale: &self.text, section, settings: self.settings, file }
    }

    fn message(
        &self,
        section: &str,
        own: &ParsedSection<'_>,
        parsed: &ParsedMessage<'_>,
        (reference, common): (Option<&ParsedMessage<'_>>, &Common<'_>),
        titles: &mut Titles,
        file: &mut FileFindings<'_>,
    ) {
        let ParsedMessage { entry, message, facts } = parsed;
        let other = reference.filter(|_| !self.is_reference);
        let notes = [entry.note(), other.and_then(|other| other.entry.note())];
        let mut place = Place {
            locale: &self.text,
            section,
            source: own.source,
            entry,
            settings: self.settings,
            allowed: allowed(&notes),
            file,
        };
        parsed::unknown_rules(&mut place);
        if entry.is_untranslated() {
            if let Some((_, count)) = common.marked.filter(|(first, _)| *first == entry.key()) {
                place.find(Rule::MarkedUntranslated, || marked_untranslated(count));
            }
            return;
        }
        let message = match message {
            Ok(message) => message,
            Err(errors) => {
                // Only this one mistake is meant.
                if let Some(range) = notation::in_two_braces(entry.text()) {
                    let shown = entry.text().get(range.clone()).unwrap_or_default();
                    place.find_at(Rule::OtherNotation, range, || notation::other(shown));
                    return;
                }
                for error in errors.iter() {
                    place.find_at(error.kind().rule(), error.span().range(), || {
                        (error.to_string(), error.help().to_owned())
                    });
                }
                return;
            }
        };
        let known = other.map_or(&[][..], |other| &other.facts.parameters);
        let notations = notation::check(&mut place, message, &facts.parameters, known);
        message::check(&mut place, message, other.is_none(), &notations);
        markup::alone(&mut place, message);
        let signs = facts.signs;
        if signs.beyond_ascii || signs.special {
            for pattern in message.patterns() {
                characters::check(&mut place, pattern, &self.language.scripts);
            }
        }
        if signs.beyond_ascii || signs.capitals {
            wording::alone(&mut place, message, &self.language);
        }
        end_marks::alone(&mut place, message, &self.language);
        if let Some((_, count)) = common.latin.filter(|(first, _)| *first == entry.key()) {
            place.find(Rule::OtherScript, || wording::only_latin(count));
        }
        let beside = other.and_then(|other| Some((other, other.message.as_ref().ok()?)));
        plural::check(&mut place, message, beside.map(|(_, message)| message), &self.language);
        if let Some((other, reference)) = beside {
            reference::beside(
                &mut place,
                (facts, message),
                (&other.facts, reference),
                self.language.tag,
                notations,
            );
            markup::beside(&mut place, message, reference);
            wording::beside(&mut place, (facts, message), (other, reference), &self.language);
            if !wording::is_blank(message) {
                end_marks::beside(&mut place, message, reference, self.language.tag);
            }
            untranslated::check(&mut place, message, (reference, &other.facts), &self.language, titles);
        }
    }
}
