//! What hinders messages from being types.

use std::fmt;

/// Something that cannot become Rust: where, what, and what to do.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Problem {
    pub(crate) file: String,
    pub(crate) line: u32,
    pub(crate) text: String,
    pub(crate) help: String,
}

impl Problem {
    /// The file.
    pub fn file(&self) -> &str {
        &self.file
    }

    /// The line, from 1; 0 for the whole file.
    pub const fn line(&self) -> u32 {
        self.line
    }

    /// What is wrong.
    pub fn text(&self) -> &str {
        &self.text
    }

    /// What to do.
    pub fn help(&self) -> &str {
        &self.help
    }
}

impl fmt::Display for Problem {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.file)?;
        if self.line > 0 {
            write!(f, ":{}", self.line)?;
        }
        write!(f, ": {}; {}", self.text, self.help)
    }
}

impl std::error::Error for Problem {}

/// Every problem, at least one.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Problems(pub(crate) Vec<Problem>);

impl Problems {
    /// The problems.
    pub fn iter(&self) -> impl Iterator<Item = &Problem> {
        self.0.iter()
    }
}

impl fmt::Display for Problems {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        for (at, problem) in self.0.iter().enumerate() {
            write!(f, "{}{problem}", if at == 0 { "" } else { "\n" })?;
        }
        Ok(())
    }
}

impl std::error::Error for Problems {}
