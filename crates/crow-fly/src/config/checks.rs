//! The settings of checks.

use std::path::{Path, PathBuf};

use crow_fly_core::check::CheckSettings;
use crow_fly_core::rule::{Rule, Severity};
use crow_fly_core::suggest::nearest;
use toml::Spanned;

use super::ConfigError;
use super::file::{CheckTable, Level, RuleTable};

/// The application's settings for checks: rules turned down or off, and what only its code knows.
#[derive(Clone, Debug, Default)]
pub struct CheckConfig {
    settings: CheckSettings,
    keys: Vec<String>,
    attributes: Vec<String>,
    code: Vec<PathBuf>,
    baseline: Option<PathBuf>,
    accepted: PathBuf,
}

impl CheckConfig {
    /// Levels of rules, and names of functions and markup.
    pub const fn settings(&self) -> &CheckSettings {
        &self.settings
    }

    /// Whether a key is made at run time: it is named in `keys`, by itself or by `group.*`.
    pub fn is_made_at_run_time(&self, key: &str) -> bool {
        self.keys
            .iter()
            .any(|known| known.strip_suffix('*').map_or(known == key, |start| key.starts_with(start)))
    }

    /// The attributes of HTML whose values are keys: `data-text`.
    pub fn attributes(&self) -> &[String] {
        &self.attributes
    }

    /// The folders of code and templates.
    pub fn code(&self) -> &[PathBuf] {
        &self.code
    }

    /// The file of findings that were there when checks began.
    pub fn baseline(&self) -> Option<&Path> {
        self.baseline.as_deref()
    }

    /// The file of accepted translations.
    pub fn accepted(&self) -> &Path {
        &self.accepted
    }

    /// Takes what may fall back.
    pub(super) fn falling_back(
        mut self,
        locales: impl IntoIterator<Item = String>,
        sections: &[String],
    ) -> Self {
        self.settings = self.settings.with_inheriting(locales).with_falling_back(sections);
        self
    }

    /// Takes paths as relative to a folder.
    pub(super) fn below(&mut self, folder: &Path) {
        for path in self.code.iter_mut().chain(&mut self.baseline).chain([&mut self.accepted]) {
            *path = folder.join(&*path);
        }
    }
}

impl CheckTable {
    pub(super) fn check(&self, text: &str) -> Result<CheckConfig, ConfigError> {
        let mut settings = CheckSettings::new()
            .with_functions(self.functions.iter().cloned())
            .with_markup(self.markup.iter().cloned());
        for (name, RuleTable { level, reason }) in &self.rules {
            let rule = Rule::named(name.get_ref()).ok_or_else(|| unknown(text, name))?;
            if reason.get_ref().trim().is_empty() {
                let error = format!("`{rule}` is given another level without a reason");
                return Err(ConfigError::at(text, reason.span(), error)
                    .with_help("give the reason: the next reader will ask"));
            }
            let severity = match level {
                Level::Off => None,
                Level::Note => Some(Severity::Note),
                Level::Warning => Some(Severity::Warning),
                Level::Error => Some(Severity::Error),
            };
            settings = settings.with_level(rule, severity);
        }
        Ok(CheckConfig {
            settings,
            keys: self.keys.clone(),
            attributes: self.attributes.clone(),
            code: self.code.iter().map(PathBuf::from).collect(),
            baseline: self.baseline.as_ref().map(PathBuf::from),
            accepted: self.accepted.as_deref().unwrap_or("crow-fly.accepted").into(),
        })
    }
}

fn unknown(text: &str, name: &Spanned<String>) -> ConfigError {
    let error =
        ConfigError::at(text, name.span(), format!("there is no rule `{}`", name.get_ref().escape_debug()));
    match nearest(name.get_ref(), Rule::ALL.iter().map(|rule| rule.id().to_owned())) {
        Some(near) => error.with_help(format!("did you mean `{near}`?")),
        None => error.with_help("see docs/rules.md for all rules"),
    }
}
