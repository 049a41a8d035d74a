//! Texts on their way to translators and back: one document, written as XLIFF or CSV.

use std::fmt;
use std::path::Path;

use anyhow::{Result, bail};
use crow_fly_core::translation::Piece;

use crate::arguments::State;

pub(crate) mod csv;
pub(crate) mod xliff;

/// The texts of a locale beside those of the default locale.
#[derive(Clone, Debug, Default, PartialEq)]
pub(crate) struct Document {
    pub(crate) source_locale: String,
    pub(crate) target_locale: String,
    pub(crate) messages: Vec<MessageTexts>,
}

/// One message.
#[derive(Clone, Debug, Default, PartialEq)]
pub(crate) struct MessageTexts {
    /// `section.name`
    pub(crate) key: String,
    pub(crate) note: Option<String>,
    /// What stands in braces in its texts, for people.
    pub(crate) places: Option<String>,
    pub(crate) state: State,
    /// The hash of the translation as it was written out; empty where there was none.
    pub(crate) base: String,
    pub(crate) units: Vec<UnitText>,
}

/// One text of a message.
#[derive(Clone, Debug, Default, PartialEq)]
pub(crate) struct UnitText {
    /// The keys of its variant.
    pub(crate) form: String,
    /// When the form is used, for people.
    pub(crate) hint: Option<String>,
    pub(crate) source: Vec<Piece>,
    pub(crate) target: Option<Vec<Piece>>,
    /// Where it stands in the file that was read, from 1.
    pub(crate) line: u32,
}

/// What is wrong in a line of a file that is read.
#[derive(Debug)]
pub(crate) struct AtLine {
    pub(crate) line: u32,
    text: String,
}

impl AtLine {
    pub(crate) fn new(line: u32, text: impl Into<String>) -> Self {
        Self { line, text: text.into() }
    }
}

impl fmt::Display for AtLine {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.text)
    }
}

impl std::error::Error for AtLine {}

/// How a document is written.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Format {
    Xliff,
    Csv,
}

impl Format {
    /// The format that the name of a file tells.
    pub(crate) fn of(file: &Path) -> Result<Self> {
        let end = file.extension().and_then(|end| end.to_str()).unwrap_or_default().to_ascii_lowercase();
        match end.as_str() {
            "xlf" | "xliff" => Ok(Self::Xliff),
            "csv" => Ok(Self::Csv),
            _ => bail!(
                "{} has no format that is read: end its name in `.xlf` (XLIFF 2.1) or `.csv`",
                file.display()
            ),
        }
    }

    pub(crate) fn write(self, document: &Document) -> Result<Vec<u8>> {
        match self {
            Self::Xliff => xliff::write(document),
            Self::Csv => csv::write(document),
        }
    }

    /// Reads a document; what it says of pieces is not known to be code yet.
    pub(crate) fn read(self, text: &str) -> Result<Document> {
        match self {
            Self::Xliff => xliff::read(text),
            Self::Csv => csv::read(text),
        }
    }
}

#[cfg(test)]
mod out_and_back;
#[cfg(test)]
mod tests;
