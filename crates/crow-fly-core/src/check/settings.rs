//! The settings of checks.

use alloc::collections::{BTreeMap, BTreeSet};
use alloc::string::String;
use alloc::vec::Vec;

use crate::finding::Finding;
use crate::rule::{Rule, Severity};

/// The settings of checks: rules turned down or off, what may fall back, and what only the application's code knows.
#[derive(Clone, Debug, Default)]
pub struct CheckSettings {
    levels: BTreeMap<Rule, Option<Severity>>,
    functions: Vec<String>,
    markup: Vec<String>,
    inheriting: BTreeSet<String>,
    falling_back: BTreeSet<String>,
}

impl CheckSettings {
    /// All rules as they are, and nothing of the application's own.
    pub fn new() -> Self {
        Self::default()
    }

    /// Gives a rule another severity, or turns it off.
    #[must_use]
    pub fn with_level(mut self, rule: Rule, severity: Option<Severity>) -> Self {
        self.levels.insert(rule, severity);
        self
    }

    /// Names functions that the application defines: `harbour:tide`.
    #[must_use]
    pub fn with_functions(mut self, names: impl IntoIterator<Item = impl Into<String>>) -> Self {
        self.functions.extend(names.into_iter().map(Into::into));
        self
    }

    /// Names markup that the application defines: `sailing-link`.
    #[must_use]
    pub fn with_markup(mut self, names: impl IntoIterator<Item = impl Into<String>>) -> Self {
        self.markup.extend(names.into_iter().map(Into::into));
        self
    }

    /// Names the locales whose texts may all be those of their chain: their tags.
    #[must_use]
    pub fn with_inheriting(mut self, locales: impl IntoIterator<Item = impl Into<String>>) -> Self {
        self.inheriting.extend(locales.into_iter().map(Into::into));
        self
    }

    /// Names the sections whose texts may be in another language of the chain.
    #[must_use]
    pub fn with_falling_back(mut self, sections: impl IntoIterator<Item = impl Into<String>>) -> Self {
        self.falling_back.extend(sections.into_iter().map(Into::into));
        self
    }

    /// Whether the texts of a section, in a locale given by its tag, may be in another language of the chain.
    pub fn may_fall_back(&self, locale: &str, section: &str) -> bool {
        self.inheriting.contains(locale) || self.falling_back.contains(section)
    }

    /// The severity of a rule; none where the rule is off.
    pub fn severity(&self, rule: Rule) -> Option<Severity> {
        self.levels.get(&rule).copied().unwrap_or(Some(rule.severity()))
    }

    /// Gives a finding the severity of its rule, and says whether the rule is on.
    pub fn level(&self, finding: &mut Finding) -> bool {
        let severity = self.severity(finding.rule);
        // How many more there are is as severe as they are.
        if let Some(severity) = severity.filter(|_| finding.rule != Rule::MoreFindings) {
            finding.severity = severity;
        }
        severity.is_some()
    }

    pub(super) fn functions(&self) -> &[String] {
        &self.functions
    }

    /// Whether the application names this markup.
    pub fn has_markup(&self, name: &str) -> bool {
        self.markup.iter().any(|known| known == name)
    }
}
