//! Names of languages, scripts, regions and variants (`cldr-localenames-full`).
//!
//! Keys are `cy`, `en-GB` (languages and dialects), `Latn` (scripts), `GB` (regions), `+valencia` (variants), and
//! `{pattern}`, `{separator}`, `{menu}` for what surrounds them.

use crate::texts::Texts;

/// What each locale of CLDR needs to name itself.
pub const OWN: Texts = Texts::new(5, include_bytes!("generated/own_names_keys.bin"));

/// Every name in every locale of CLDR.
#[cfg(feature = "names")]
pub const ALL: Texts = Texts::new(crate::data::NAMES_FILE, include_bytes!("generated/names_keys.bin"));

/// The names that the program has: [`ALL`](self) with the feature `names` where the data has them, or what each locale needs
/// to name itself.
pub fn best() -> Texts {
    #[cfg(feature = "names")]
    if ALL.has("und") {
        return ALL;
    }
    OWN
}
