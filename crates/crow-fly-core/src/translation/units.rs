//! The texts of a message one by one, each beside the default locale's.

use alloc::borrow::ToOwned;
use alloc::string::{String, ToString};
use alloc::vec::Vec;
use core::fmt;

use super::forms::{MOST_VARIANTS, pattern_for, with_forms_of};
use super::hint;
use super::layout::{self, is_fallback};
use super::piece::{self, Piece};
use crate::message::model::{Body, Key, Variant};
use crate::message::{Message, MessageErrors};
use crate::tag::LanguageTag;

/// A message as a translator works on it: one unit for each form of the language, its source that of the default locale's
/// matching variant, or of `*`. A message that cannot be split so is one unit, its frame protected.
#[derive(Clone, Debug)]
pub struct Units {
    /// What translations are put into; none where the message is not split.
    base: Option<Message>,
    /// The source of the translation, whose layout stays.
    own: Option<String>,
    all: Vec<Unit>,
    places: Option<String>,
}

/// One text of a message.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Unit {
    keys: Vec<Key>,
    form: String,
    hint: Option<String>,
    source: Vec<Piece>,
    target: Option<Vec<Piece>>,
}

impl Unit {
    /// The keys of its variant: `one`, `few *`; empty for a message without variants, and for one that is not split.
    pub fn form(&self) -> &str {
        &self.form
    }

    /// When the form is used, for translators: `for 2–4, 22–24, …`. None where there is one form only.
    pub fn hint(&self) -> Option<&str> {
        self.hint.as_deref()
    }

    /// The text of the default locale.
    pub fn source(&self) -> &[Piece] {
        &self.source
    }

    /// The translation, where there is one.
    pub fn target(&self) -> Option<&[Piece]> {
        self.target.as_deref()
    }
}

/// Why translations make no message.
#[derive(Clone, Debug)]
#[non_exhaustive]
pub enum UnitError {
    /// The form `*` has no text: without it the message is empty where no other form suits.
    NoFallback,
    /// The text has errors.
    Message(MessageErrors),
}

impl fmt::Display for UnitError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::NoFallback => {
                f.write_str("the form `*` has no text, and every message needs one; translate it")
            }
            Self::Message(errors) => errors.fmt(f),
        }
    }
}

impl core::error::Error for UnitError {}

impl Units {
    /// The units of a message for a language: the default locale's source, and the translation where there is one. A
    /// translation with errors counts as none.
    ///
    /// # Errors
    /// Where the default locale's message has errors.
    pub fn of(reference: &str, own: Option<&str>, tag: &LanguageTag) -> Result<Self, MessageErrors> {
        let known = Message::parse(reference)?;
        let parsed = own.and_then(|own| Message::parse(own).ok());
        let own = own.filter(|_| parsed.is_some());
        if let Some(mut units) = Self::split(&known, parsed.as_ref(), tag) {
            units.own = own.map(ToOwned::to_owned);
            return Ok(units);
        }
        let unit = Unit {
            keys: Vec::new(),
            form: String::new(),
            hint: None,
            source: piece::whole(&with_forms_of(&known, tag).to_string()),
            target: own.map(piece::whole),
        };
        Ok(Self { base: None, own: None, all: [unit].into(), places: hint::of_places(&known) })
    }

    fn split(reference: &Message, own: Option<&Message>, tag: &LanguageTag) -> Option<Self> {
        let laid_out = with_forms_of(reference, tag);
        let (base, rows): (&Message, Vec<Vec<Key>>) = match (&laid_out.body, own) {
            (Body::Pattern(_), None) => (reference, [Vec::new()].into()),
            (Body::Pattern(_), Some(own @ Message { body: Body::Pattern(_), .. })) => {
                (own, [Vec::new()].into())
            }
            // The language tells forms apart that the default locale does not.
            (Body::Pattern(_), Some(own)) => (own, rows(&with_forms_of(own, tag))),
            (Body::Match { .. }, None) => (&laid_out, rows(&laid_out)),
            (Body::Match { .. }, Some(own @ Message { body: Body::Match { .. }, .. })) => {
                let (mut all, own_rows) = (rows(&laid_out), rows(own));
                if selected(own) != selected(reference) || all.len().max(own_rows.len()) > MOST_VARIANTS {
                    return None;
                }
                for row in own_rows {
                    if !all.contains(&row) {
                        all.insert(all.len().saturating_sub(1), row);
                    }
                }
                (own, all)
            }
            // One form in the language: its pattern is that of `*`.
            (Body::Match { variants, .. }, Some(own)) if variants.len() == 1 => (own, [Vec::new()].into()),
            (Body::Match { .. }, Some(_)) => return None,
        };
        let unit = |keys: Vec<Key>| {
            let any: Vec<Key> = match &reference.body {
                Body::Match { selectors, .. } if keys.is_empty() => {
                    selectors.iter().map(|_| Key::Any).collect()
                }
                _ => keys.clone(),
            };
            let source = piece::pieces(pattern_for(&laid_out, &any)?);
            let target = own.and_then(|own| exact(own, &keys));
            let form: Vec<String> = keys.iter().map(ToString::to_string).collect();
            let hint = hint::of_form(base, &rows, &keys, tag);
            Some(Unit { form: form.join(" "), hint, keys, source, target })
        };
        let all = rows.iter().cloned().map(unit).collect::<Option<Vec<_>>>()?;
        Some(Self { base: Some(base.clone()), own: None, all, places: hint::of_places(reference) })
    }

    /// The units, in the order of the language's forms.
    pub fn units(&self) -> &[Unit] {
        &self.all
    }

    /// What stands in braces in the texts, for translators: `In braces, to be kept: {$seats} (a number)`. None where nothing
    /// does.
    pub fn places(&self) -> Option<&str> {
        self.places.as_deref()
    }

    /// Whether the message is one unit, its frame included, since it could not be split.
    pub const fn is_whole(&self) -> bool {
        self.base.is_none()
    }

    /// Whether every unit has a translation.
    pub fn is_translated(&self) -> bool {
        self.all.iter().all(|unit| unit.target.is_some())
    }

    /// The source of the message with these translations, one for each unit in turn. A form without one keeps the text it
    /// has, or is left out. The layout of the source that there was stays: white space, alignment, the order of variants.
    ///
    /// # Errors
    /// Where the translations make no message.
    pub fn with_targets(&self, targets: &[Option<Vec<Piece>>]) -> Result<String, UnitError> {
        let pairs = || self.all.iter().zip(targets);
        let Some(base) = &self.base else {
            let source = pairs().find_map(|(_, target)| target.as_deref()).map(piece::source);
            let source = source.ok_or(UnitError::NoFallback)?;
            return Message::parse(&source).map(|_| source).map_err(UnitError::Message);
        };
        let mut message = base.clone();
        for (unit, target) in pairs() {
            let target = target.as_deref().or(unit.target());
            let pattern = target.map(piece::pattern).transpose().map_err(UnitError::Message)?;
            match (&mut message.body, pattern) {
                (Body::Pattern(own), Some(pattern)) => *own = pattern,
                (Body::Pattern(_), None) => return Err(UnitError::NoFallback),
                (Body::Match { variants, .. }, pattern) => {
                    let place = variants.iter().position(|variant| variant.keys == unit.keys);
                    match (place, pattern) {
                        (Some(place), Some(pattern)) => {
                            if let Some(variant) = variants.get_mut(place) {
                                variant.pattern = pattern;
                            }
                        }
                        (None, Some(pattern)) => {
                            let end = variants.iter().position(is_fallback).unwrap_or(variants.len());
                            let variant = Variant { keys: unit.keys.clone(), pattern, ..Variant::default() };
                            variants.insert(end, variant);
                        }
                        (Some(place), None) => drop(variants.remove(place)),
                        (None, None) => {}
                    }
                }
            }
        }
        if let Body::Match { variants, .. } = &message.body
            && !variants.iter().any(is_fallback)
        {
            return Err(UnitError::NoFallback);
        }
        let source = self.own.as_deref().and_then(|own| layout::laid_out_as(own, &message));
        let source = source.unwrap_or_else(|| message.to_string());
        Message::parse(&source).map(|_| source).map_err(UnitError::Message)
    }
}

/// The arguments that a message selects by, in order.
fn selected(message: &Message) -> Vec<&str> {
    match &message.body {
        Body::Pattern(_) => Vec::new(),
        Body::Match { selectors, .. } => {
            selectors.iter().map(|selector| message.argument_of(&selector.name)).collect()
        }
    }
}

/// The keys of all variants.
fn rows(message: &Message) -> Vec<Vec<Key>> {
    match &message.body {
        Body::Pattern(_) => [Vec::new()].into(),
        Body::Match { variants, .. } => variants.iter().map(|variant| variant.keys.clone()).collect(),
    }
}

/// The pieces of the variant with exactly these keys.
fn exact(message: &Message, keys: &[Key]) -> Option<Vec<Piece>> {
    match &message.body {
        Body::Pattern(pattern) => keys.is_empty().then(|| piece::pieces(pattern)),
        Body::Match { variants, .. } => {
            let variant = variants.iter().find(|variant| variant.keys == keys)?;
            Some(piece::pieces(&variant.pattern))
        }
    }
}
