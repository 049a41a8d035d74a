//! What generated message types are made of: see the crate `crow-fly-codegen`.
//!
//! A type stands for one message, its fields for the parameters. A key that is not there, and a parameter that is
//! missing, is too many, or is of another kind, then does not compile.
//!
//! ```
//! use crow_fly::{testing, typed, Args, MessageRef, Value};
//!
//! // What is generated for `booking.seats-left = "{$seats :integer} left"`:
//! pub struct SeatsLeft<A: typed::Number> {
//!     pub seats: A,
//! }
//!
//! impl<'a, A: typed::Number + Into<Value<'a>>> typed::Message<'a> for SeatsLeft<A> {
//!     type Section = Booking;
//!     const KEY: &'static str = "booking.seats-left";
//!
//!     fn arguments(self) -> Args<'a> {
//!         Args::of([("seats", self.seats.into())])
//!     }
//! }
//!
//! pub struct Booking;
//!
//! impl typed::Section for Booking {
//!     const NAME: &'static str = "booking";
//! }
//!
//! # #[tokio::main(flavor = "current_thread")] async fn main() {
//! // What an application writes.
//! let t = testing::translator("en", [("booking", "seats-left = '{$seats :integer} left'")]).await;
//! assert_eq!(t.text(SeatsLeft { seats: 3 }), "3 left");
//! # }
//! ```

use std::fmt;
use std::marker::PhantomData;
use std::ops::Deref;

use crow_fly_core::catalog::KeyHasher;
use crow_fly_core::message::{Html, Isolation, Part};
use crow_fly_core::time_zone::TimeZoneName;
use crow_fly_core::value::Args;
pub use crow_fly_core::value::kinds::{Amount, Date, Duration, List, Number, Relative, Text};

use crate::message_ref::MessageRef;
use crate::translator::Translator;
use crate::web::{Sections, TranslatorWith};

/// A section of the catalogs.
pub trait Section {
    /// Its name.
    const NAME: &'static str;
}

/// A message with its arguments. `t.text(…)` and its relatives take it as it is.
#[diagnostic::on_unimplemented(
    message = "`{Self}` is not a message",
    label = "not a message",
    note = "a message is a generated type with its parameters as fields: `msg::booking::SeatsLeft {{ seats: 3 }}`"
)]
pub trait Message<'a>: Sized {
    /// The section it is in.
    type Section: Section;

    /// Its key.
    const KEY: &'static str;

    /// The hash of its key: what catalogs are asked with.
    const HASH: u64 = KeyHasher::fixed_hash(Self::KEY);

    /// Its arguments.
    fn arguments(self) -> Args<'a>;

    /// The same as [`say`](crate::say) does for a key: for a default text, or an isolation of its own.
    fn say(self) -> MessageRef<'a> {
        self.into()
    }
}

impl<'a, M: Message<'a>> From<M> for MessageRef<'a> {
    fn from(message: M) -> Self {
        MessageRef::of_known_hash(M::KEY, M::HASH).with(message.arguments())
    }
}

/// Takes a message into a template: engines that read calls, and no Rust structs, hand the tokens of a macro on.
///
/// ```
/// # use crow_fly::message;
/// # struct Thanks<'a> { name: &'a str }
/// // In a template of askama: {{ t.html(message!(msg::trip::Thanks { name: self.name })) }}
/// let thanks = message!(Thanks { name: "Mair" });
/// # assert_eq!(thanks.name, "Mair");
/// ```
#[macro_export]
macro_rules! message {
    ($($message:tt)*) => {
        $($message)*
    };
}

/// That a section is among those that were named for a handler. `At` is inferred.
#[diagnostic::on_unimplemented(
    message = "the section `{S}` is not among those that this handler has named",
    label = "a message of a section that is not loaded here",
    note = "add the section to the extractor: `TypedTranslator<(…, {S})>`"
)]
pub trait Has<S, At> {}

/// The place of a section among those that are named.
#[derive(Debug)]
pub struct At<const PLACE: usize>;

/// No section. Where only one section is named, the compiler would take it for the one that is meant, and find no better
/// words than that two types differ.
#[derive(Debug)]
#[doc(hidden)]
pub enum NoSection {}

#[diagnostic::do_not_recommend]
impl<S: Section> Has<S, At<0>> for S {}
#[diagnostic::do_not_recommend]
impl<S: Section> Has<NoSection, At<0>> for S {}

impl<S: Section> Sections for S {
    const NAMES: &'static [&'static str] = &[S::NAME];
}

macro_rules! tuples {
    (@all $all:tt $($place:literal $section:ident),*) => {
        $(tuples!(@has $all $place $section);)*
        #[diagnostic::do_not_recommend]
        impl<$($section: Section),*> Has<NoSection, At<0>> for ($($section,)*) {}
        impl<$($section: Section),*> Sections for ($($section,)*) {
            const NAMES: &'static [&'static str] = &[$($section::NAME),*];
        }
    };
    (@has ($($all:ident)*) $place:literal $section:ident) => {
        #[diagnostic::do_not_recommend]
        impl<$($all: Section),*> Has<$section, At<$place>> for ($($all,)*) {}
    };
    ($(($($place:literal $section:ident),*))*) => {
        $(tuples!(@all ($($section)*) $($place $section),*);)*
    };
}

tuples! {
    (0 A)
    (0 A, 1 B)
    (0 A, 1 B, 2 C)
    (0 A, 1 B, 2 C, 3 D)
    (0 A, 1 B, 2 C, 3 D, 4 E)
    (0 A, 1 B, 2 C, 3 D, 4 E, 5 F)
    (0 A, 1 B, 2 C, 3 D, 4 E, 5 F, 6 G)
    (0 A, 1 B, 2 C, 3 D, 4 E, 5 F, 6 G, 7 H)
}

/// The translator of the request, with sections in memory, for messages of just these sections: a message of another one
/// does not compile. An extractor, as [`TranslatorWith`] is; for string keys, take that one or a [`Translator`].
///
/// ```ignore
/// async fn page(t: TypedTranslator<(sections::Booking, sections::Common)>) -> String {
///     t.text(msg::booking::SeatsLeft { seats: 3 })
/// }
/// ```
pub struct TypedTranslator<S> {
    inner: Translator,
    sections: PhantomData<fn() -> S>,
}

impl<S: Sections> From<TranslatorWith<S>> for TypedTranslator<S> {
    fn from(translator: TranslatorWith<S>) -> Self {
        Self { inner: translator.into_inner(), sections: PhantomData }
    }
}

impl<S> TypedTranslator<S> {
    /// Formats a message as text: see [`Translator::text`].
    pub fn text<'a, M, At>(&self, message: M) -> String
    where
        M: Message<'a>,
        S: Has<M::Section, At>,
    {
        self.inner.text(message)
    }

    /// Formats a message as HTML: see [`Translator::html`].
    pub fn html<'a, M, At>(&self, message: M) -> Html
    where
        M: Message<'a>,
        S: Has<M::Section, At>,
    {
        self.inner.html(message)
    }

    /// Formats a message in parts: see [`Translator::parts`].
    pub fn parts<'a, M, At>(&self, message: M) -> Vec<Part>
    where
        M: Message<'a>,
        S: Has<M::Section, At>,
    {
        self.inner.parts(message)
    }

    /// The same translator in another time zone: see [`Translator::with_time_zone`].
    #[must_use]
    pub fn with_time_zone(self, name: TimeZoneName) -> Self {
        Self { inner: self.inner.with_time_zone(name), ..self }
    }

    /// The same translator at another time that counts as now: see [`Translator::with_now`].
    #[must_use]
    pub fn with_now(self, now: jiff::Timestamp) -> Self {
        Self { inner: self.inner.with_now(now), ..self }
    }

    /// The same translator with another isolation of placeholders: see [`Translator::with_isolation`].
    #[must_use]
    pub fn with_isolation(self, isolation: Isolation) -> Self {
        Self { inner: self.inner.with_isolation(isolation), ..self }
    }

    /// The translator, for messages of any section.
    pub fn into_inner(self) -> Translator {
        self.inner
    }
}

impl<S> Deref for TypedTranslator<S> {
    type Target = Translator;

    fn deref(&self) -> &Translator {
        &self.inner
    }
}

impl<S> fmt::Debug for TypedTranslator<S> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_tuple("TypedTranslator").field(&self.inner).finish()
    }
}
