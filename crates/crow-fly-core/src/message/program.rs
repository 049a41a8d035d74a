//! Messages made ready: flat lists and one arena of text, which the messages of a catalog share.

use alloc::boxed::Box;
use alloc::sync::Arc;
use core::num::NonZeroU32;

use super::function::numeric::NumberOptions;
use super::function::registry::BuiltIn;
use super::function::temporal::{DateKind, DateOptions};
use super::function::unicode::UnicodeOptions;
use super::model::MarkupKind;
use crate::number::Category;

/// A message made ready: formatting it touches nothing but this and the arguments.
#[derive(Clone, Debug)]
pub struct Program {
    pub(super) arena: Arc<Arena>,
    pub(super) body: Body,
}

/// A message of a [catalog](crate::catalog::Catalog), made ready. Cheap to copy.
#[derive(Clone, Copy, Debug)]
pub struct ProgramRef<'p> {
    pub(super) arena: &'p Arena,
    pub(super) body: Body,
}

impl Program {
    /// The program, borrowed.
    #[inline]
    pub fn borrowed(&self) -> ProgramRef<'_> {
        ProgramRef { arena: &self.arena, body: self.body }
    }
}

impl<'p> ProgramRef<'p> {
    /// A message of an arena.
    #[inline]
    pub(crate) const fn new(arena: &'p Arena, body: Body) -> Self {
        Self { arena, body }
    }

    /// Room for what is said: that of a text, and some for values.
    pub(super) fn usual_length(&self) -> usize {
        match self.body {
            Body::Text { length, .. } => length.into(),
            _ => 64,
        }
    }
}

/// Where a message lies in its arena, in eight bytes: a catalog has one for each.
#[derive(Clone, Copy, Debug)]
pub(crate) enum Body {
    /// One piece of text: what most messages of a site are.
    Text { start: u32, length: u16 },
    /// Only texts and arguments as they are: operations.
    Plain { start: u32, length: u16 },
    /// A plural: one parameter, declared as a number, selects and is shown as it is.
    Plural(u32),
    /// All others.
    Routine(u32),
}

/// Where the parts of a message lie in its arena.
#[derive(Clone, Copy, Debug, Default)]
pub(super) struct Routine {
    /// Declared values, in order: placeholders.
    pub(super) declared: Slice,
    /// Which of them are selected by.
    pub(super) selectors: Slice,
    /// The keys of all variants, row by row; none where there is one pattern.
    pub(super) keys: Slice,
    /// The operations of each pattern.
    pub(super) patterns: Slice,
}

/// What any number of messages are made of.
#[derive(Clone, Debug, Default)]
pub(crate) struct Arena {
    /// All texts: of patterns, of literals, names, fallbacks.
    pub(super) text: Box<str>,
    pub(super) routines: Box<[Routine]>,
    pub(super) operations: Box<[Operation]>,
    pub(super) placeholders: Box<[Placeholder]>,
    /// The functions of placeholders, each once.
    pub(super) calls: Box<[Call]>,
    /// The `u:` options of placeholders, which few have.
    pub(super) unicode: Box<[UnicodeCall]>,
    pub(super) tags: Box<[Tag]>,
    /// Options: name and value.
    pub(super) settings: Box<[Setting]>,
    pub(super) selectors: Box<[u32]>,
    pub(super) keys: Box<[KeyTest]>,
    /// How keys are written that are not categories.
    pub(super) written_keys: Box<[Slice]>,
    pub(super) patterns: Box<[Slice]>,
}

impl Arena {
    /// A stretch of its text, as bytes: for comparing.
    #[inline]
    pub(crate) fn bytes(&self, slice: Slice) -> Option<&[u8]> {
        self.text.as_bytes().get(slice.start as usize..slice.end as usize)
    }

    /// How many bytes it takes, not counting what few functions keep beside it.
    pub(crate) fn heap_bytes(&self) -> usize {
        self.text.len()
            + size_of_val(&*self.routines)
            + size_of_val(&*self.operations)
            + size_of_val(&*self.placeholders)
            + size_of_val(&*self.calls)
            + size_of_val(&*self.unicode)
            + size_of_val(&*self.tags)
            + size_of_val(&*self.settings)
            + size_of_val(&*self.selectors)
            + size_of_val(&*self.keys)
            + size_of_val(&*self.written_keys)
            + size_of_val(&*self.patterns)
    }
}

/// A stretch of a list or of the arena's text.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub(crate) struct Slice {
    pub(super) start: u32,
    pub(super) end: u32,
}

impl Slice {
    /// How long it is.
    #[inline]
    pub(crate) const fn length(self) -> u32 {
        self.end.wrapping_sub(self.start)
    }

    /// The first so many bytes of a text.
    pub(crate) fn first(self, length: usize) -> Self {
        let end = u32::try_from(length).unwrap_or(u32::MAX).saturating_add(self.start);
        Self { end: end.min(self.end), ..self }
    }

    /// What is left of a text without so many bytes at its ends.
    pub(super) const fn within(self, before: u32, behind: u32) -> Self {
        Self { start: self.start.saturating_add(before), end: self.end.saturating_sub(behind) }
    }

    /// A stretch of few bytes.
    #[inline]
    pub(super) const fn short(start: u32, length: u16) -> Self {
        // No arena is so long that this wraps; the text of a slice that has wrapped is empty.
        Self { start, end: start.wrapping_add(length as u32) }
    }

    /// With so many bytes more at its ends.
    pub(super) const fn around(self, before: u32, behind: u32) -> Self {
        Self { start: self.start.saturating_sub(before), end: self.end.saturating_add(behind) }
    }

    #[inline]
    pub(super) fn of<T>(self, list: &[T]) -> &[T] {
        list.get(self.start as usize..self.end as usize).unwrap_or_default()
    }
}

impl Arena {
    /// A stretch of the text.
    #[inline]
    pub(crate) fn str(&self, slice: Slice) -> &str {
        self.text.get(slice.start as usize..slice.end as usize).unwrap_or_default()
    }

    /// A message of more than texts and arguments.
    #[inline]
    pub(super) fn routine(&self, at: u32) -> Routine {
        self.routines.get(at as usize).copied().unwrap_or_default()
    }

    /// One of the patterns of a message.
    #[inline]
    pub(super) fn pattern(&self, routine: Routine, at: usize) -> Slice {
        routine.patterns.of(&self.patterns).get(at).copied().unwrap_or_default()
    }

    /// How a key is written.
    #[inline]
    pub(super) fn written_key(&self, at: u32) -> &str {
        self.written_keys.get(at as usize).map_or("", |text| self.str(*text))
    }
}

/// How many bytes `{$name}` has before and behind the name.
pub(super) const VARIABLE: (u32, u32) = (2, 1);

/// A step of a pattern, in eight bytes: a catalog has more of these than of anything else.
#[derive(Clone, Copy, Debug)]
pub(super) enum Operation {
    Text {
        start: u32,
        length: u16,
    },
    /// An argument without a function, by its name. In the arena the name stands inside `{$name}`, its fallback.
    Argument {
        start: u32,
        length: u16,
    },
    Placeholder(u32),
    Tag(u32),
}

/// A value to be formatted.
#[derive(Clone, Copy, Debug)]
pub(super) struct Placeholder {
    pub(super) operand: Operand,
    /// What stands for it where it cannot be formatted.
    pub(super) fallback: Slice,
    /// Its function: a value without one formats as what it is.
    pub(super) call: Option<Index>,
    /// Its `u:` options.
    pub(super) unicode: Option<Index>,
}

/// A placeholder in a list, which takes no more room where there is none.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct Index(NonZeroU32);

impl Index {
    pub(super) fn new(at: u32) -> Self {
        Self(NonZeroU32::MIN.saturating_add(at))
    }

    pub(super) fn of<T>(self, list: &[T]) -> Option<&T> {
        list.get(self.0.get() as usize - 1)
    }
}

/// The `u:` options of a placeholder, as far as they are known before formatting.
#[derive(Clone, Debug, Default, PartialEq)]
pub(super) struct UnicodeCall {
    /// Those given by literals.
    pub(super) options: UnicodeOptions<'static>,
    /// Those whose value is a variable.
    pub(super) variable: Slice,
    /// Those that cannot be used: only their names count.
    pub(super) bad: Slice,
}

#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) enum Operand {
    Nothing,
    Literal(Slice),
    Argument(Slice),
    Declared(u32),
}

/// An option: name and value.
pub(super) type Setting = (Slice, Operand);

#[derive(Clone, Debug, PartialEq)]
pub(super) enum Call {
    BuiltIn(BuiltInCall),
    /// A function that only the application can know: its name and options.
    Custom {
        name: Slice,
        options: Slice,
    },
}

#[derive(Clone, Debug, PartialEq)]
pub(super) struct BuiltInCall {
    /// The function, with the options given by literals.
    pub(super) function: BuiltIn,
    /// What few calls have; one without is the same wherever it stands.
    pub(super) runtime: Option<Box<RuntimeOptions>>,
}

/// What only formatting can tell of a call.
#[derive(Clone, Debug, Default, PartialEq)]
pub(super) struct RuntimeOptions {
    /// Options whose value is a variable.
    pub(super) variable: Slice,
    /// Options that cannot be used: only their names count.
    pub(super) bad: Slice,
    /// The value of the option that is resolved like an operand.
    pub(super) value: Option<Operand>,
}

impl BuiltInCall {
    /// The options of a number function that has all it needs, and nothing wrong.
    pub(super) fn plain_number(&self) -> Option<&NumberOptions> {
        self.function.number_options().filter(|options| self.runtime.is_none() && options.missing().is_none())
    }

    /// The options of a date function that has all it needs, and nothing wrong.
    pub(super) fn plain_date(&self) -> Option<(DateKind, &DateOptions)> {
        self.function.date_options().filter(|_| self.runtime.is_none())
    }
}

/// A key, by what it can be held against.
#[derive(Clone, Copy, Debug)]
pub(super) enum KeyTest {
    Any,
    Category(Category),
    /// A small whole number, and how it is written: the place of that in the arena's list.
    Integer(i16, u32),
    /// Any other number.
    Number(u32),
    Text(u32),
}

#[derive(Clone, Copy, Debug)]
pub(super) struct Tag {
    pub(super) kind: MarkupKind,
    pub(super) name: Slice,
    pub(super) options: Slice,
}
