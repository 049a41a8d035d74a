//! The options that every function and all markup take: `u:dir`, `u:id`, `u:locale` (UTS #35 part 9, "Unicode Namespace").

use alloc::borrow::Cow;
use alloc::boxed::Box;

use super::option::{BadOption, listed, one_of};
use crate::direction::Direction;
use crate::tag::LanguageTag;

/// The prefix of the names of these options.
pub(in crate::message) const NAMESPACE: &str = "u:";

/// The name of the option that formats a value as another locale does.
pub(in crate::message) const LOCALE: &str = "u:locale";

/// The names of these options.
pub(in crate::message) const NAMES: &[&str] = &["u:dir", "u:id", LOCALE];

/// What an error says of an option that is not one of these.
pub(in crate::message) fn known() -> Cow<'static, str> {
    listed(NAMES.iter().copied()).into()
}

/// The `u:` options of one placeholder. `u:dir` and `u:id` belong to the resolved value, and stay with it.
#[derive(Clone, Debug, Default, PartialEq)]
pub(in crate::message) struct UnicodeOptions<'a> {
    /// `u:dir`
    pub(in crate::message) direction: AskedDirection,
    /// `u:id`
    pub(in crate::message) id: Option<Cow<'a, str>>,
    /// `u:locale`, canonical.
    pub(in crate::message) locale: Option<Box<LanguageTag>>,
}

/// What `u:dir` asks for.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub(in crate::message) enum AskedDirection {
    /// Nothing: the direction is that of the value.
    #[default]
    Inherit,
    /// `auto`: the direction is not known, and the value is isolated.
    Auto,
    /// `ltr` or `rtl`.
    Known(Direction),
}

impl<'a> UnicodeOptions<'a> {
    pub(in crate::message) const DEFAULT: Self =
        Self { direction: AskedDirection::Inherit, id: None, locale: None };

    /// Sets one option from its text.
    pub(in crate::message) fn set(&mut self, name: &str, value: Cow<'a, str>) -> Result<(), BadOption> {
        match name {
            "u:dir" => {
                let known = [
                    ("inherit", AskedDirection::Inherit),
                    ("auto", AskedDirection::Auto),
                    ("ltr", AskedDirection::Known(Direction::LeftToRight)),
                    ("rtl", AskedDirection::Known(Direction::RightToLeft)),
                ];
                self.direction = one_of(&value, known)?;
            }
            "u:id" => self.id = Some(value),
            LOCALE => {
                let tag =
                    LanguageTag::parse(&value).map_err(|_| BadOption::not("a language tag, such as `pl`"))?;
                self.locale = Some(Box::new(tag.canonicalized()));
            }
            _ => return Err(BadOption::Unknown),
        }
        Ok(())
    }

    /// The same options, borrowed.
    pub(in crate::message) fn borrowed(&'a self) -> Self {
        Self {
            direction: self.direction,
            id: self.id.as_deref().map(Cow::Borrowed),
            locale: self.locale.clone(),
        }
    }
}
