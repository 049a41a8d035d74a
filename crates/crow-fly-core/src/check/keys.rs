//! Sections and keys: what a locale has, and what the default locale has.

use alloc::borrow::ToOwned;
use alloc::collections::BTreeSet;
use alloc::format;
use alloc::string::{String, ToString};

use super::KeySet;
use super::parsed::{ParsedLocale, ParsedMessage, ParsedSection, allowed};
use super::settings::CheckSettings;
use crate::catalog::{SectionSource, SourceEntry};
use crate::finding::{FileFindings, Finding, Position};
use crate::rule::Rule;
use crate::suggest::nearest;

/// A section of a locale, where its findings about keys go.
pub(super) struct SectionPlace<'p, 'f> {
    pub(super) locale: &'p str,
    pub(super) section: &'p str,
    pub(super) settings: &'p CheckSettings,
    pub(super) file: &'p mut FileFindings<'f>,
}

impl SectionPlace<'_, '_> {
    fn find(
        &mut self,
        rule: Rule,
        key: Option<&str>,
        place: Option<Position>,
        told: impl FnOnce() -> (String, String),
    ) {
        let Some(severity) = self.settings.severity(rule) else { return };
        let (locale, section) = (self.locale, self.section);
        self.file.add(severity, || {
            let (text, help) = told();
            Finding {
                rule,
                severity,
                locale: locale.to_owned(),
                section: section.to_owned(),
                place,
                key: key.map(ToOwned::to_owned),
                text,
                help,
                file: None,
                fix: None,
            }
        });
    }

    /// What a file looks like as a whole.
    pub(super) fn file(&mut self, source: &SectionSource) {
        if source.has_byte_order_mark() {
            self.find(Rule::ByteOrderMark, None, Some(Position::of("", 0..0)), || {
                (
                    "the file begins with a byte-order mark".to_owned(),
                    "save it as UTF-8 without one".to_owned(),
                )
            });
        }
        if let Some(position) = merge_marker(source.text()) {
            self.find(Rule::MergeMarker, None, Some(position), || {
                (
                    "two versions of the file were not merged to the end".to_owned(),
                    "keep one of the two, and delete the marks".to_owned(),
                )
            });
        } else {
            for problem in source.problems() {
                let finding = problem.finding(self.locale, self.section);
                if let Some(severity) = self.settings.severity(finding.rule) {
                    self.file.add(severity, || Finding { severity, ..finding });
                }
            }
            self.file.count(source.more_problems(), crate::rule::Severity::Error);
        }
        if source.entries().is_empty() && source.problems().is_empty() && !self.section.is_empty() {
            self.find(Rule::EmptyFile, None, None, || {
                ("the file has no messages".to_owned(), "add them, or delete the file".to_owned())
            });
        }
    }

    /// What the default locale has, and neither this locale nor its chain in the same language.
    pub(super) fn missing(
        &mut self,
        reference: &ParsedSection<'_>,
        own: Option<&ParsedSection<'_>>,
        all: &ParsedLocale<'_>,
        parents: &[&KeySet],
    ) {
        let section = self.section;
        let covered = |key: &str| {
            own.is_some_and(|own| own.has(key)) || parents.iter().any(|keys| keys.has(section, key))
        };
        let missing = reference
            .messages
            .iter()
            .filter(|message| !covered(message.entry.key()) && !allows(message, Rule::MissingKey));
        let Some(own) = own else {
            let count = missing.count();
            if count > 0 {
                self.find(Rule::MissingSection, None, None, || missing_section(section, count, all));
            }
            return;
        };
        for message in missing {
            let entry = message.entry;
            // It is told of the key that stands in its place.
            if clash(own, entry.key()).is_some() {
                continue;
            }
            self.find(Rule::MissingKey, Some(entry.key()), None, || missing_key(entry, own, reference));
        }
    }

    /// What this locale has, and the default locale has not.
    pub(super) fn surplus(
        &mut self,
        own: &ParsedSection<'_>,
        reference: Option<&ParsedSection<'_>>,
        all: &ParsedLocale<'_>,
    ) {
        let Some(reference) = reference else {
            let section = self.section;
            return self.find(Rule::SurplusSection, None, None, || {
                (
                    "the default locale has no such section".to_owned(),
                    delete_or_rename(section, all.keys().map(ToString::to_string)),
                )
            });
        };
        let mut groups = BTreeSet::new();
        for message in own.messages.iter().filter(|message| !reference.has(message.entry.key())) {
            let entry = message.entry;
            let position = Some(entry.position(own.source, 0..entry.text().len()));
            if let Some(name) = clash(reference, entry.key()) {
                if !allows(message, Rule::GroupForKey) && groups.insert(name) {
                    self.find(Rule::GroupForKey, Some(entry.key()), position, || {
                        let is_group = name.len() < entry.key().len();
                        let (here, there) =
                            if is_group { ("a group", "a message") } else { ("a message", "a group") };
                        (
                            format!("`{name}` is {here} here, and {there} in the default locale"),
                            format!("write it as {there}"),
                        )
                    });
                }
                continue;
            }
            if allows(message, Rule::SurplusKey) {
                continue;
            }
            self.find(Rule::SurplusKey, Some(entry.key()), position, || {
                let help = delete_or_rename(entry.key(), reference.keys().map(str::to_owned));
                ("the default locale has no such message".to_owned(), help)
            });
        }
    }
}

/// Whether the note of a message allows it to break a rule.
fn allows(message: &ParsedMessage<'_>, rule: Rule) -> bool {
    allowed(&[message.entry.note()]).contains(&rule)
}

/// The group that is a message elsewhere, or the message that is a group there.
fn clash<'k>(elsewhere: &ParsedSection<'_>, key: &'k str) -> Option<&'k str> {
    if elsewhere.has_group(key) {
        return Some(key);
    }
    key.match_indices('.').filter_map(|(at, _)| key.get(..at)).find(|group| elsewhere.has(group))
}

fn missing_section(section: &str, count: usize, all: &ParsedLocale<'_>) -> (String, String) {
    let text = match count {
        1 => "the section, of one message, is not there".to_owned(),
        count => format!("the section, of {count} messages, is not there"),
    };
    let help = nearest(section, all.keys().map(ToString::to_string)).map_or_else(
        || "add the file; until then the chain supplies the texts".to_owned(),
        |near| format!("there is `{near}`: is its name misspelled?"),
    );
    (text, help)
}

fn missing_key(
    entry: &SourceEntry,
    own: &ParsedSection<'_>,
    reference: &ParsedSection<'_>,
) -> (String, String) {
    let text = shortened(entry.text());
    // A key that the default locale has, too, is not misspelled.
    let surplus = own.keys().filter(|key| !reference.has(key));
    let help = nearest(entry.key(), surplus.map(str::to_owned)).map_or_else(
        || format!("the default locale has: {text}"),
        |near| format!("there is `{near}`: is its name misspelled? The default locale has: {text}"),
    );
    ("the message is not there".to_owned(), help)
}

/// What to do about something the default locale does not have.
fn delete_or_rename(name: &str, known: impl Iterator<Item = String>) -> String {
    nearest(name, known).map_or_else(
        || "delete it, or add it to the default locale".to_owned(),
        |near| format!("did you mean `{near}`?"),
    )
}

/// The beginning of a text, on one line.
fn shortened(text: &str) -> String {
    let line = text.split_whitespace().collect::<alloc::vec::Vec<_>>().join(" ");
    let mut letters = line.chars();
    let start: String = letters.by_ref().take(60).collect();
    if letters.next().is_some() { start + "…" } else { start }
}

/// The first line that a merge has left.
fn merge_marker(text: &str) -> Option<Position> {
    let mut start = 0;
    for line in text.split_inclusive('\n') {
        let is_mark = |mark: &str| {
            line.starts_with(mark) && line.get(7..).is_none_or(|rest| rest.starts_with([' ', '\n', '\r']))
        };
        if is_mark("<<<<<<<") || is_mark(">>>>>>>") {
            return Some(Position::of(text, start..start + line.trim_end().len()));
        }
        start += line.len();
    }
    None
}
