//! Functions of our own, in the namespace `crow`: `:crow:list`, `:crow:relative`, `:crow:name`.

use super::{BadOption, one_of};
use crate::datetime::RelativeUnit;
use crate::list::ListKind;
use crate::number::Width;

/// Which of them.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum WordKind {
    List,
    Relative,
    Name,
}

/// What is named.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub(crate) enum Named {
    #[default]
    Locale,
    Region,
    Script,
    Currency,
}

/// Their options.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub(crate) struct WordOptions {
    pub(crate) list: ListKind,
    pub(crate) width: Option<Width>,
    pub(crate) unit: Option<RelativeUnit>,
    pub(crate) only_numbers: bool,
    pub(crate) named: Named,
}

impl WordOptions {
    /// Sets one option from its text.
    pub(crate) fn set(&mut self, kind: WordKind, name: &str, value: &str) -> Result<(), BadOption> {
        match (kind, name) {
            (WordKind::List, "type") => {
                let known = [("and", ListKind::And), ("or", ListKind::Or), ("unit", ListKind::Unit)];
                self.list = one_of(value, known)?;
            }
            (WordKind::List | WordKind::Relative, "width") => {
                let known = [("long", Width::Long), ("short", Width::Short), ("narrow", Width::Narrow)];
                self.width = Some(one_of(value, known)?);
            }
            (WordKind::Relative, "unit") => self.unit = Some(RelativeUnit::parse(value).ok_or(BadOption)?),
            (WordKind::Relative, "numeric") => {
                self.only_numbers = one_of(value, [("auto", false), ("always", true)])?;
            }
            (WordKind::Name, "type") => {
                let known = [
                    ("locale", Named::Locale),
                    ("language", Named::Locale),
                    ("region", Named::Region),
                    ("script", Named::Script),
                    ("currency", Named::Currency),
                ];
                self.named = one_of(value, known)?;
            }
            _ => return Err(BadOption),
        }
        Ok(())
    }
}
