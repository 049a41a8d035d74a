//! Checks across catalogs: pure functions from what is written to findings.
//!
//! Every locale is held against the default one. A key is missing only where no locale of the same language in the
//! chain has it: `en-GB` may hold just the texts that differ from `en`.

use alloc::borrow::ToOwned;
use alloc::collections::{BTreeMap, BTreeSet};
use alloc::format;
use alloc::string::{String, ToString};
use alloc::vec::Vec;

use crate::catalog::{Catalog, KeyHasher, SectionSource, SourceEntry};
use crate::chain::Chains;
use crate::finding::{FileFindings, Finding, Severity};
use crate::locale_set::{LocaleId, LocaleSet};
use crate::message::model::{Element, Expression, Function, Operand, Setting};
use crate::message::{Message, Parameter, ParameterKind, Program, WrongOption};
use crate::rule::Rule;
use crate::suggest::nearest;
use crate::tag::LanguageTag;

mod plural;

/// The catalogs of an application as they are written: for each locale, its sections by name.
pub type Project = BTreeMap<LocaleId, BTreeMap<String, SectionSource>>;

/// The entries of a section by key.
type Keys<'s> = BTreeMap<&'s str, &'s SourceEntry>;

/// The entries of a locale, by section and key.
type Entries<'s> = BTreeMap<&'s str, Keys<'s>>;

/// Checks all catalogs. The findings are in the order of locale, section and place: a hundred of a file at most, and how
/// many more there are.
pub fn check(set: &LocaleSet, chains: &Chains, project: &Project) -> Vec<Finding> {
    let entries: BTreeMap<LocaleId, Entries<'_>> =
        project.iter().map(|(locale, sections)| (*locale, by_key(sections))).collect();
    let (no_sections, no_entries) = (BTreeMap::new(), Entries::new());
    let reference = set.default_locale();
    let mut findings = Vec::new();
    for (locale, tag) in chains.all() {
        let parents = chains.of(locale).iter().skip(1);
        let checked = CheckedLocale {
            tag,
            text: tag.to_string(),
            is_reference: locale == reference,
            // A locale that only has catalogs is asked by others; it owes no key of its own.
            owes: locale.index() < set.len() && locale != reference,
            own: project.get(&locale).unwrap_or(&no_sections),
            own_entries: entries.get(&locale).unwrap_or(&no_entries),
            reference: project.get(&reference).unwrap_or(&no_sections),
            reference_entries: entries.get(&reference).unwrap_or(&no_entries),
            parents: parents
                .filter(|id| chains.tag(**id).language() == tag.language())
                .filter_map(|id| entries.get(id))
                .collect(),
        };
        let sections: BTreeSet<&String> = checked.own.keys().chain(checked.reference.keys()).collect();
        for section in sections {
            findings.extend(checked.section(section));
        }
    }
    findings.sort_by(|one, other| {
        // What tells how many more there are comes last.
        let key = |finding: &Finding| (finding.rule == Rule::MoreFindings, finding.place);
        (&one.locale, &one.section, key(one), &one.key, one.rule).cmp(&(
            &other.locale,
            &other.section,
            key(other),
            &other.key,
            other.rule,
        ))
    });
    findings
}

/// A locale, beside the reference.
struct CheckedLocale<'s> {
    tag: &'s LanguageTag,
    text: String,
    is_reference: bool,
    /// Whether keys of the reference that it lacks are findings.
    owes: bool,
    own: &'s BTreeMap<String, SectionSource>,
    own_entries: &'s Entries<'s>,
    reference: &'s BTreeMap<String, SectionSource>,
    reference_entries: &'s Entries<'s>,
    /// The locales of the same language behind it in its chain.
    parents: Vec<&'s Entries<'s>>,
}

impl CheckedLocale<'_> {
    /// The findings of one section.
    fn section(&self, section: &str) -> Vec<Finding> {
        let mut file = FileFindings::new(&self.text, section);
        if let Some(source) = self.own.get(section) {
            Catalog::compile_finding(&self.text, section, source, &KeyHasher::default(), &mut file);
            for entry in source.entries() {
                message(&Where { locale: &self.text, section, source, entry }, self.tag, &mut file);
            }
            if !self.is_reference {
                self.beside_reference(section, source, &mut file);
            }
        }
        if let Some(source) = self.reference.get(section).filter(|_| self.owes) {
            self.missing(section, source, &mut file);
        }
        file.finish()
    }

    /// What a section has, beside what the reference has.
    fn beside_reference(&self, section: &str, source: &SectionSource, file: &mut FileFindings<'_>) {
        let Some(known) = self.reference_entries.get(section) else {
            return file.add(Severity::Warning, || surplus_section(&self.text, section, self.reference));
        };
        for entry in source.entries() {
            let place = Where { locale: &self.text, section, source, entry };
            match known.get(entry.key()) {
                Some(reference) => compare(&place, reference, file),
                None => surplus_key(&place, known, file),
            }
        }
    }

    /// What the reference has, and neither this locale nor its chain in the same language.
    fn missing(&self, section: &str, reference: &SectionSource, file: &mut FileFindings<'_>) {
        let own = self.own_entries.get(section);
        let covered = |key: &str| {
            let chain = self.parents.iter().filter_map(|parent| parent.get(section));
            own.into_iter().chain(chain).any(|keys| keys.contains_key(key))
        };
        let missing = reference.entries().iter().filter(|entry| !covered(entry.key()));
        let Some(own) = own else {
            if missing.count() > 0 {
                let count = reference.entries().len();
                file.add(Severity::Warning, || missing_section(&self.text, section, count, self.own));
            }
            return;
        };
        let known = self.reference_entries.get(section);
        for entry in missing {
            file.add(Severity::Warning, || missing_key(&self.text, section, entry, own, known));
        }
    }
}

fn by_key(sections: &BTreeMap<String, SectionSource>) -> Entries<'_> {
    let keys = |(section, source)| {
        (
            String::as_str(section),
            SectionSource::entries(source).iter().map(|entry| (entry.key(), entry)).collect(),
        )
    };
    sections.iter().map(keys).collect()
}

/// One message of one catalog.
struct Where<'s> {
    locale: &'s str,
    section: &'s str,
    source: &'s SectionSource,
    entry: &'s SourceEntry,
}

impl Where<'_> {
    fn finding(&self, rule: Rule, severity: Severity, text: String, help: String) -> Finding {
        self.finding_at(0..self.entry.text().len(), rule, severity, text, help)
    }

    fn finding_at(
        &self,
        range: core::ops::Range<usize>,
        rule: Rule,
        severity: Severity,
        text: String,
        help: String,
    ) -> Finding {
        Finding {
            rule,
            severity,
            locale: self.locale.to_owned(),
            section: self.section.to_owned(),
            place: Some(self.entry.position(self.source, range)),
            key: Some(self.entry.key().to_owned()),
            text,
            help,
        }
    }
}

/// What is wrong with a message by itself: functions and options that do not exist, plural forms its language needs.
fn message(place: &Where<'_>, tag: &LanguageTag, findings: &mut FileFindings<'_>) {
    let Ok(message) = Message::parse(place.entry.text()) else { return };
    for function in message.expressions().filter_map(|expression| expression.function.as_ref()) {
        // A function in a namespace of the application's own is known to its code only.
        let own = function.name.split_once(':').is_some_and(|(namespace, _)| namespace != "crow");
        if !own && !Program::FUNCTIONS.contains(&function.name.as_str()) {
            findings.add(Severity::Error, || unknown_function(place, function));
        }
    }
    for WrongOption { setting, known } in message.wrong_options() {
        findings.add(Severity::Error, || wrong_option(place, setting, &known));
    }
    plural::check(&message, tag, &mut |found| {
        findings.add(found.severity, || {
            place.finding_at(found.range, found.rule, found.severity, found.text, found.help)
        });
    });
}

fn unknown_function(place: &Where<'_>, function: &Function) -> Finding {
    let known = Program::FUNCTIONS.iter().map(ToString::to_string);
    let help = nearest(&function.name, known).map_or_else(
        || {
            let known: Vec<String> = Program::FUNCTIONS.iter().map(|name| format!("`:{name}`")).collect();
            format!("known functions: {}", known.join(", "))
        },
        |near| format!("did you mean `:{near}`?"),
    );
    let text = format!("there is no function `:{}`", function.name);
    place.finding_at(function.span.range(), Rule::UnknownFunction, Severity::Error, text, help)
}

fn wrong_option(place: &Where<'_>, setting: &Setting, known: &[&str]) -> Finding {
    let name = &setting.name;
    let is_known = known.contains(&name.as_str());
    let help = if is_known {
        "see what the function takes in the page on messages (docs/messages.md)".to_owned()
    } else if known == ["u:id"] {
        "delete it: markup has no direction and no locale, only `u:id`".to_owned()
    } else if let Some(near) = nearest(name, known.iter().map(ToString::to_string)) {
        format!("did you mean `{near}`?")
    } else if known.is_empty() {
        "delete it: the function takes none".to_owned()
    } else {
        format!("it takes {}", known.iter().map(|name| format!("`{name}`")).collect::<Vec<_>>().join(", "))
    };
    let text = if is_known {
        format!("the option `{name}` cannot be `{}`", setting.value)
    } else {
        format!("there is no option `{name}` here")
    };
    place.finding_at(setting.span.range(), Rule::WrongOption, Severity::Error, text, help)
}

/// A message beside the same one in the default locale.
fn compare(place: &Where<'_>, reference: &SourceEntry, findings: &mut FileFindings<'_>) {
    let (Ok(message), Ok(reference_message)) =
        (Message::parse(place.entry.text()), Message::parse(reference.text()))
    else {
        return;
    };
    compare_parameters(place, &message, &reference_message, findings);
    // Names and single words are often the same; whole sentences hardly ever are.
    if place.entry.text() == reference.text() && words(&message) > 3 {
        findings.add(Severity::Note, || {
            let text = "the text is that of the default locale, word by word".to_owned();
            let help = "translate it, or leave it out: the chain supplies it".to_owned();
            place.finding(Rule::Untranslated, Severity::Note, text, help)
        });
    }
}

fn compare_parameters(
    place: &Where<'_>,
    message: &Message,
    reference: &Message,
    findings: &mut FileFindings<'_>,
) {
    let (own, other) = (message.parameters(), reference.parameters());
    // Both are sorted by name.
    let find = |parameters: &[Parameter], name: &str| {
        let at = parameters.binary_search_by(|parameter| (*parameter.name).cmp(name)).ok();
        at.and_then(|at| parameters.get(at)).map(|parameter| parameter.kind)
    };
    let at = |name: &str| used_at(message, name).unwrap_or(0..place.entry.text().len());
    // A parameter that is misspelled is one mistake, not a surplus one and a missing one.
    let mut meant = BTreeSet::new();
    for Parameter { name, kind } in &own {
        match find(&other, name) {
            None => findings.add(Severity::Error, || {
                let unused = other.iter().filter(|other| find(&own, &other.name).is_none());
                let near = nearest(name, unused.map(|parameter| parameter.name.to_string()));
                let help = near.as_ref().map_or_else(
                    || "the application does not give it: the text will show its name in braces".to_owned(),
                    |near| format!("did you mean `${near}`?"),
                );
                meant.extend(near);
                let text = format!("the message in the default locale has no parameter `${name}`");
                place.finding_at(at(name), Rule::SurplusParameter, Severity::Error, text, help)
            }),
            Some(same) if same != *kind && *kind != ParameterKind::Any && same != ParameterKind::Any => {
                findings.add(Severity::Warning, || {
                    let (here, there) = (kind_name(*kind), kind_name(same));
                    let text =
                        format!("`${name}` is taken as a {here} here, as a {there} in the default locale");
                    let help = "use the same function in both".to_owned();
                    place.finding_at(at(name), Rule::ParameterKind, Severity::Warning, text, help)
                });
            }
            Some(_) => {}
        }
    }
    for Parameter { name, .. } in &other {
        if find(&own, name).is_none() && !meant.contains(&**name) {
            findings.add(Severity::Warning, || {
                let text = format!("`${name}`, a parameter in the default locale, is not used");
                let help = "use it, unless the language does not need it here".to_owned();
                place.finding(Rule::MissingParameter, Severity::Warning, text, help)
            });
        }
    }
}

/// How many words a message's own text has, names and numbers that it is given aside.
fn words(message: &Message) -> usize {
    let texts = message.patterns().flatten().filter_map(|element| match element {
        Element::Text(text) => Some(text),
        _ => None,
    });
    let is_word = |word: &&str| word.chars().filter(|letter| letter.is_alphabetic()).count() > 1;
    texts.map(|text| text.split_whitespace().filter(is_word).count()).sum()
}

/// Where a message first uses a variable as an operand.
fn used_at(message: &Message, name: &str) -> Option<core::ops::Range<usize>> {
    let uses = |expression: &&Expression| matches!(&expression.operand, Some(Operand::Variable(used)) if used == name);
    message.expressions().find(uses).map(|expression| expression.span.range())
}

const fn kind_name(kind: ParameterKind) -> &'static str {
    match kind {
        ParameterKind::Number => "number",
        ParameterKind::Text => "text",
        ParameterKind::Date => "date",
        ParameterKind::List => "list",
        ParameterKind::Any => "value",
    }
}

/// A finding about something that is not in a file.
fn absent(rule: Rule, locale: &str, section: &str, key: Option<&str>, text: String, help: String) -> Finding {
    Finding {
        rule,
        severity: Severity::Warning,
        locale: locale.to_owned(),
        section: section.to_owned(),
        place: None,
        key: key.map(ToOwned::to_owned),
        text,
        help,
    }
}

fn missing_section(
    locale: &str,
    section: &str,
    count: usize,
    own: &BTreeMap<String, SectionSource>,
) -> Finding {
    let text = match count {
        1 => "the section, of one message, is not there".to_owned(),
        count => format!("the section, of {count} messages, is not there"),
    };
    let help = nearest(section, own.keys().cloned()).map_or_else(
        || "add the file; until then the chain supplies the texts".to_owned(),
        |near| format!("there is `{near}`: is its name misspelled?"),
    );
    absent(Rule::MissingSection, locale, section, None, text, help)
}

fn missing_key(
    locale: &str,
    section: &str,
    entry: &SourceEntry,
    own: &Keys<'_>,
    reference: Option<&Keys<'_>>,
) -> Finding {
    let text = shortened(entry.text());
    // A key that the default locale has, too, is not misspelled.
    let surplus = own.keys().filter(|key| reference.is_none_or(|keys| !keys.contains_key(*key)));
    let help = nearest(entry.key(), surplus.map(ToString::to_string)).map_or_else(
        || format!("the default locale says: {text}"),
        |near| format!("there is `{near}`: is its name misspelled? The default locale says: {text}"),
    );
    absent(Rule::MissingKey, locale, section, Some(entry.key()), "the message is not there".to_owned(), help)
}

fn surplus_section(locale: &str, section: &str, reference: &BTreeMap<String, SectionSource>) -> Finding {
    let text = "the default locale has no such section".to_owned();
    absent(
        Rule::SurplusSection,
        locale,
        section,
        None,
        text,
        delete_or_rename(section, reference.keys().cloned()),
    )
}

fn surplus_key(place: &Where<'_>, known: &Keys<'_>, findings: &mut FileFindings<'_>) {
    findings.add(Severity::Warning, || {
        let text = "the default locale has no such message".to_owned();
        let help = delete_or_rename(place.entry.key(), known.keys().map(ToString::to_string));
        place.finding(Rule::SurplusKey, Severity::Warning, text, help)
    });
}

/// What to do about something the default locale does not have.
fn delete_or_rename(name: &str, known: impl Iterator<Item = String>) -> String {
    nearest(name, known).map_or_else(
        || "delete it, or add it to the default locale".to_owned(),
        |near| format!("did you mean `{near}`?"),
    )
}

fn shortened(text: &str) -> String {
    let line: String = text.split_whitespace().collect::<Vec<_>>().join(" ");
    if line.chars().count() <= 60 { line } else { line.chars().take(59).chain(['…']).collect() }
}
