//! Why a configuration cannot be used.

use std::fmt;
use std::ops::Range;
use std::path::{Path, PathBuf};

use crow_fly_core::finding::Position;

/// Why a configuration cannot be used: what is wrong, in which file and where, and what to do.
pub struct ConfigError {
    file: Option<PathBuf>,
    place: Option<Position>,
    text: String,
    help: Option<String>,
    source: Option<std::io::Error>,
}

impl ConfigError {
    pub(super) fn unreadable(file: &Path, source: std::io::Error) -> Self {
        let help = (source.kind() == std::io::ErrorKind::NotFound)
            .then(|| "name the file, or work in the folder it lies in".to_owned());
        Self {
            file: Some(file.to_owned()),
            place: None,
            text: "the configuration cannot be read".to_owned(),
            help,
            source: Some(source),
        }
    }

    pub(super) fn at(source: &str, range: Range<usize>, text: impl fmt::Display) -> Self {
        Self {
            file: None,
            // A setting made in code has no position in a file.
            place: (!source.is_empty()).then(|| Position::of(source, range)),
            text: text.to_string(),
            help: None,
            source: None,
        }
    }

    pub(super) fn with_help(mut self, help: impl Into<String>) -> Self {
        self.help = Some(help.into());
        self
    }

    pub(super) fn in_file(mut self, file: &Path) -> Self {
        self.file = Some(file.to_owned());
        self
    }

    /// The file, where the configuration came from one.
    pub fn file(&self) -> Option<&Path> {
        self.file.as_deref()
    }

    /// Where in the file.
    pub const fn place(&self) -> Option<Position> {
        self.place
    }

    /// What is wrong, without the place and what to do.
    pub fn text(&self) -> &str {
        &self.text
    }

    /// What to do.
    pub fn help(&self) -> Option<&str> {
        self.help.as_deref()
    }
}

impl fmt::Display for ConfigError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match (&self.file, self.place) {
            (Some(file), Some(place)) => write!(f, "{}:{place}: {}", file.display(), self.text)?,
            (Some(file), None) => write!(f, "{}: {}", file.display(), self.text)?,
            (None, Some(place)) => {
                write!(f, "configuration, line {}, column {}: {}", place.line, place.column, self.text)?;
            }
            (None, None) => write!(f, "configuration: {}", self.text)?,
        }
        if let Some(help) = &self.help {
            write!(f, "; {help}")?;
        }
        Ok(())
    }
}

crow_fly_core::debug_as_shown!(ConfigError);

impl std::error::Error for ConfigError {
    fn source(&self) -> Option<&(dyn std::error::Error + 'static)> {
        self.source.as_ref().map(|source| source as _)
    }
}
