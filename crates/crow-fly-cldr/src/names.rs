//! Names of languages, scripts, regions and variants (`cldr-localenames-full`).
//!
//! Keys are `cy`, `en-GB` (languages and dialects), `Latn` (scripts), `GB` (regions), `+valencia` (variants), and
//! `{pattern}`, `{separator}`, `{menu}` for what surrounds them.

use crate::texts::Texts;

/// What each locale of CLDR needs to name itself.
pub const OWN: Texts = Texts::new(include_bytes!("generated/own_names.bin"));

/// Every name in every locale of CLDR.
#[cfg(feature = "names")]
pub const ALL: Texts = Texts::new(include_bytes!("generated/names.bin"));
