//! The settings of checks.

use alloc::collections::BTreeMap;
use alloc::string::String;
use alloc::vec::Vec;

use crate::rule::{Rule, Severity};

/// The settings of checks: rules turned down or off, and what only its code knows.
#[derive(Clone, Debug, Default)]
pub struct CheckSettings {
    levels: BTreeMap<Rule, Option<Severity>>,
    functions: Vec<String>,
    markup: Vec<String>,
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

    /// The severity of a rule that says `usual` of itself; none where the rule is off.
    pub fn severity(&self, rule: Rule, usual: Severity) -> Option<Severity> {
        match self.levels.get(&rule) {
            None => Some(usual),
            Some(None) => None,
            // What is less than usual stays so.
            Some(Some(level)) => Some(if usual < rule.severity() { usual.min(*level) } else { *level }),
        }
    }

    pub(super) fn functions(&self) -> &[String] {
        &self.functions
    }

    /// Whether the application names this markup.
    pub fn has_markup(&self, name: &str) -> bool {
        self.markup.iter().any(|known| known == name)
    }
}
