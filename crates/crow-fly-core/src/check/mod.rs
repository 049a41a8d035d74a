//! Checks across catalogs: pure functions from what is written to findings.
//!
//! Every locale is held against the default one. A key is missing only where no locale of the same language in the
//! chain has it: `en-GB` may hold just the texts that differ from `en`.

use alloc::borrow::ToOwned;
use alloc::collections::{BTreeMap, BTreeSet};
use alloc::format;
use alloc::string::{String, ToString};
use alloc::vec::Vec;

use crate::catalog::{Catalog, SectionSource, SourceEntry};
use crate::chain::Chains;
use crate::finding::{Finding, Severity};
use crate::locale_set::{LocaleId, LocaleSet};
use crate::message::model::{Expression, Operand};
use crate::message::{Message, Parameter, ParameterKind, Program};
use crate::suggest::nearest;

mod plural;

/// The catalogs of an application as they are written: for each locale, its sections by name.
pub type Sources = BTreeMap<LocaleId, BTreeMap<String, SectionSource>>;

/// Checks all catalogs; findings stand by locale, section and place.
pub fn check(set: &LocaleSet, chains: &Chains, sources: &Sources) -> Vec<Finding> {
    let empty = BTreeMap::new();
    let of = |locale: LocaleId| sources.get(&locale).unwrap_or(&empty);
    let reference = of(set.default_locale());
    let mut findings = Vec::new();
    for (locale, tag) in chains.all() {
        let text = tag.to_string();
        for (section, source) in of(locale) {
            findings.extend(Catalog::compile(&text, section, source).1);
            for entry in source.entries() {
                let place = Where { locale: &text, section, source, entry };
                message(&place, tag, &mut findings);
            }
        }
        if locale == set.default_locale() {
            continue;
        }
        let parents: Vec<_> = chains
            .of(locale)
            .iter()
            .skip(1)
            .filter(|id| chains.tag(**id).language() == tag.language())
            .collect();
        let covered = |section: &str, key: &str| {
            parents.iter().any(|parent| find(of(**parent), section, key).is_some())
        };
        // A locale that only has catalogs is asked by others; it owes no key of its own.
        let owes = locale.index() < set.len();
        for (section, source) in reference {
            let own = of(locale).get(section);
            if own.is_none() && owes && source.entries().iter().any(|entry| !covered(section, entry.key())) {
                findings.push(missing_section(&text, section, source.entries().len(), of(locale)));
                continue;
            }
            for entry in source.entries() {
                match own.and_then(|own| {
                    own.entries().iter().find(|other| other.key() == entry.key()).map(|other| (own, other))
                }) {
                    Some((own, other)) => compare(
                        &Where { locale: &text, section, source: own, entry: other },
                        entry,
                        &mut findings,
                    ),
                    None if owes && !covered(section, entry.key()) => {
                        findings.push(missing_key(&text, section, entry, own));
                    }
                    None => {}
                }
            }
        }
        for (section, source) in of(locale) {
            surplus(&text, section, source, reference, &mut findings);
        }
    }
    findings.sort_by(|one, other| {
        (&one.locale, &one.section, one.place, &one.key, one.rule).cmp(&(
            &other.locale,
            &other.section,
            other.place,
            &other.key,
            other.rule,
        ))
    });
    findings
}

/// One message of one catalog.
struct Where<'s> {
    locale: &'s str,
    section: &'s str,
    source: &'s SectionSource,
    entry: &'s SourceEntry,
}

impl Where<'_> {
    fn finding(&self, rule: &'static str, severity: Severity, text: String, help: String) -> Finding {
        self.finding_at(0..self.entry.text().len(), rule, severity, text, help)
    }

    fn finding_at(
        &self,
        range: core::ops::Range<usize>,
        rule: &'static str,
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

fn find<'s>(
    sections: &'s BTreeMap<String, SectionSource>,
    section: &str,
    key: &str,
) -> Option<&'s SourceEntry> {
    sections.get(section)?.entries().iter().find(|entry| entry.key() == key)
}

/// What a message says by itself: functions that do not exist, plural forms its language needs.
fn message(place: &Where<'_>, tag: &crate::tag::LanguageTag, findings: &mut Vec<Finding>) {
    let Ok(message) = Message::parse(place.entry.text()) else { return };
    for function in message.expressions().filter_map(|expression| expression.function.as_ref()) {
        // A function in a namespace of the application's own is known to its code only.
        let own = function.name.split_once(':').is_some_and(|(namespace, _)| namespace != "crow");
        if !own && !Program::FUNCTIONS.contains(&function.name.as_str()) {
            let text = format!("there is no function `:{}`", function.name);
            let near = nearest(&function.name, Program::FUNCTIONS.iter().map(ToString::to_string));
            let help = near.map_or_else(
                || {
                    format!(
                        "known functions: {}",
                        Program::FUNCTIONS.map(|name| format!("`:{name}`")).join(", ")
                    )
                },
                |near| format!("did you mean `:{near}`?"),
            );
            findings.push(place.finding_at(
                function.span.range(),
                "unknown-function",
                Severity::Error,
                text,
                help,
            ));
        }
    }
    for (setting, known) in message.wrong_options() {
        let name = &setting.name;
        let is_known = known.contains(&name.as_str());
        let help = if is_known {
            "see what the function takes in the page on messages (docs/messages.md)".to_owned()
        } else if let Some(near) = nearest(name, known.iter().map(ToString::to_string)) {
            format!("did you mean `{near}`?")
        } else if known.is_empty() {
            "delete it: the function takes none".to_owned()
        } else {
            format!(
                "it takes {}",
                known.iter().map(|name| format!("`{name}`")).collect::<Vec<_>>().join(", ")
            )
        };
        let text = if is_known {
            format!("the option `{name}` cannot be `{}`", setting.value)
        } else {
            format!("the function has no option `{name}`")
        };
        findings.push(place.finding_at(setting.span.range(), "wrong-option", Severity::Error, text, help));
    }
    plural::forms(&message, tag, |range, rule, severity, text, help| {
        findings.push(place.finding_at(range, rule, severity, text, help));
    });
}

/// A message beside the same one in the default locale.
fn compare(place: &Where<'_>, reference: &SourceEntry, findings: &mut Vec<Finding>) {
    let (Ok(message), Ok(other)) = (Message::parse(place.entry.text()), Message::parse(reference.text()))
    else {
        return;
    };
    let (own, other) = (message.parameters(), other.parameters());
    let named = |parameters: &[Parameter], name: &str| {
        parameters.iter().find(|parameter| *parameter.name == *name).cloned()
    };
    // A parameter that is misspelled is one mistake, not a surplus one and a missing one.
    let mut meant = Vec::new();
    for parameter in &own {
        let name = &parameter.name;
        let at = used_at(&message, name).unwrap_or(0..place.entry.text().len());
        match named(&other, name) {
            None => {
                let unused = other.iter().filter(|other| named(&own, &other.name).is_none());
                let near = nearest(name, unused.map(|parameter| parameter.name.to_string()));
                let help = near.as_ref().map_or_else(
                    || "the application does not give it: the text will show its name in braces".to_owned(),
                    |near| format!("did you mean `${near}`?"),
                );
                meant.extend(near);
                let text = format!("`${name}` is no parameter of this message in the default locale");
                findings.push(place.finding_at(at, "surplus-parameter", Severity::Error, text, help));
            }
            Some(same)
                if same.kind != parameter.kind
                    && parameter.kind != ParameterKind::Any
                    && same.kind != ParameterKind::Any =>
            {
                let (here, there) = (kind(parameter.kind), kind(same.kind));
                let text = format!("`${name}` is taken as a {here} here, as a {there} in the default locale");
                let help = "use the same function in both".to_owned();
                findings.push(place.finding_at(at, "parameter-kind", Severity::Warning, text, help));
            }
            Some(_) => {}
        }
    }
    for parameter in &other {
        let name = &*parameter.name;
        if named(&own, name).is_none() && !meant.iter().any(|meant| meant == name) {
            let text = format!("`${name}`, a parameter in the default locale, is not used");
            let help = "leave it so where the language does not need it; otherwise say it".to_owned();
            findings.push(place.finding("missing-parameter", Severity::Warning, text, help));
        }
    }
    // Names and single words are often the same; whole sentences hardly ever are.
    let words = reference.text().split_whitespace().filter(|word| {
        word.chars().filter(|letter| letter.is_alphabetic()).count() > 1 && !word.starts_with('{')
    });
    if place.entry.text() == reference.text() && words.count() > 3 {
        let text = "the text is that of the default locale, word by word".to_owned();
        findings.push(place.finding(
            "untranslated",
            Severity::Note,
            text,
            "translate it, or leave it out: the chain supplies it".to_owned(),
        ));
    }
}

/// Where a message first uses a variable as an operand.
fn used_at(message: &Message, name: &str) -> Option<core::ops::Range<usize>> {
    let uses = |expression: &&Expression| matches!(&expression.operand, Some(Operand::Variable(used)) if used == name);
    message.expressions().find(uses).map(|expression| expression.span.range())
}

const fn kind(kind: ParameterKind) -> &'static str {
    match kind {
        ParameterKind::Number => "number",
        _ => "text",
    }
}

fn missing_section(
    locale: &str,
    section: &str,
    count: usize,
    own: &BTreeMap<String, SectionSource>,
) -> Finding {
    let near = nearest(section, own.keys().cloned());
    Finding {
        rule: "missing-section",
        severity: Severity::Warning,
        locale: locale.to_owned(),
        section: section.to_owned(),
        place: None,
        key: None,
        text: if count == 1 {
            "the section, of one message, is not there".to_owned()
        } else {
            format!("the section, of {count} messages, is not there")
        },
        help: near.map_or_else(
            || "add the file; until then the chain supplies the texts".to_owned(),
            |near| format!("there is `{near}`: is its name misspelled?"),
        ),
    }
}

fn missing_key(locale: &str, section: &str, entry: &SourceEntry, own: Option<&SectionSource>) -> Finding {
    let keys = own.into_iter().flat_map(SectionSource::entries).map(|entry| entry.key().to_owned());
    Finding {
        rule: "missing-key",
        severity: Severity::Warning,
        locale: locale.to_owned(),
        section: section.to_owned(),
        place: None,
        key: Some(entry.key().to_owned()),
        text: "the message is not there".to_owned(),
        help: nearest(entry.key(), keys.filter(|key| key != entry.key())).map_or_else(
            || format!("the default locale says: {}", shortened(entry.text())),
            |near| {
                format!(
                    "there is `{near}`: is its name misspelled? The default locale says: {}",
                    shortened(entry.text())
                )
            },
        ),
    }
}

fn surplus(
    locale: &str,
    section: &str,
    source: &SectionSource,
    reference: &BTreeMap<String, SectionSource>,
    findings: &mut Vec<Finding>,
) {
    let Some(other) = reference.get(section) else {
        findings.push(Finding {
            rule: "surplus-section",
            severity: Severity::Warning,
            locale: locale.to_owned(),
            section: section.to_owned(),
            place: None,
            key: None,
            text: "the default locale has no such section".to_owned(),
            help: nearest(section, reference.keys().cloned()).map_or_else(
                || "delete it, or add it to the default locale".to_owned(),
                |near| format!("did you mean `{near}`?"),
            ),
        });
        return;
    };
    let known: BTreeSet<&str> = other.entries().iter().map(SourceEntry::key).collect();
    for entry in source.entries().iter().filter(|entry| !known.contains(entry.key())) {
        let near = nearest(entry.key(), known.iter().map(ToString::to_string));
        let help = near.map_or_else(
            || "delete it, or add it to the default locale".to_owned(),
            |near| format!("did you mean `{near}`?"),
        );
        let text = "the default locale has no such message".to_owned();
        let place = Where { locale, section, source, entry };
        findings.push(place.finding("surplus-key", Severity::Warning, text, help));
    }
}

fn shortened(text: &str) -> String {
    let line: String = text.split_whitespace().collect::<Vec<_>>().join(" ");
    if line.chars().count() <= 60 { line } else { line.chars().take(59).chain(['…']).collect() }
}

/// A finding about a folder of catalogs that no locale reads.
pub fn stray_folder(folder: &str, known: &[String]) -> Finding {
    Finding {
        rule: "stray-folder",
        severity: Severity::Warning,
        locale: folder.to_owned(),
        section: String::new(),
        place: None,
        key: None,
        text: format!("no locale reads the folder `{folder}`"),
        help: nearest(folder, known.iter().cloned()).map_or_else(
            || "add the locale to the configuration, or delete the folder".to_owned(),
            |near| format!("did you mean `{near}`?"),
        ),
    }
}
