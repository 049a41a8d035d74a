//! Makes a Rust type for each message of an application: a wrong key, and a parameter that is missing, is too many or is of
//! another kind, then does not compile.
//!
//! It runs in the build script of a crate of its own, so that only that crate is built again when a text changes. In
//! `build.rs`:
//!
//! ```ignore
//! fn main() {
//!     crow_fly_codegen::Catalogs::of("catalogs", "en").build();
//! }
//! ```
//!
//! In `lib.rs`:
//!
//! ```ignore
//! include!(concat!(env!("OUT_DIR"), "/messages.rs"));
//! ```
//!
//! In the application:
//!
//! ```ignore
//! use messages as msg;
//!
//! t.text(msg::booking::Title)
//! t.text(msg::booking::SeatsLeft { seats: 3 })
//! ```
//!
//! | in the catalog | in Rust |
//! |---|---|
//! | the section `booking`, a group `form` in it | the modules `booking` and `booking::form` |
//! | the message `seats-left` | the type `SeatsLeft`, with its source and its note as documentation |
//! | `{$seats :integer}`, and other functions of numbers | a field of the kind [`Number`]; `:currency` without a currency: [`Amount`] |
//! | `{$day :date}`, `{$list :crow:list}` | [`Date`], [`List`] |
//! | `{$leaves :crow:relative}`, `{$crossing :crow:duration}` | [`Relative`]: a number or a date; [`Duration`] |
//! | `{$kind :string}` with `.match $kind car {{…}} * {{…}}` | an enum with `Car` and `Other(&str)`; of the keys `true` and `false`: `bool` |
//! | `{$name}` | whatever can be an argument |
//!
//! For scripts, [`Catalogs::declarations`] writes the same as TypeScript declarations.
//!
//! Beside them stand `sections`, for [extractors that load them][typed]; `MESSAGES`, what a program uses, for releases; and
//! `texts()`, the catalogs themselves, as the last resort below other sources.
//!
//! [`Number`]: crow_fly_core::value::kinds::Number
//! [`Amount`]: crow_fly_core::value::kinds::Amount
//! [`Date`]: crow_fly_core::value::kinds::Date
//! [`Relative`]: crow_fly_core::value::kinds::Relative
//! [`Duration`]: crow_fly_core::value::kinds::Duration
//! [`List`]: crow_fly_core::value::kinds::List
//! [typed]: https://docs.rs/crow-fly/latest/crow_fly/typed/
#![warn(missing_docs)]

mod build;
mod field;
mod model;
mod name;
mod print;
mod problem;
mod read;
mod scripts;

pub use build::{Catalogs, Check};
pub use problem::{Problem, Problems};
pub use read::SourceFile;

/// What a module begins with that was made here.
pub const HEAD: &str = "// Made by `crow-fly-codegen` from the catalogs: change those, not this.";

/// The modules and the type of a message: `booking`, `form`, `TooLong` for `booking.form.too-long`. None where a name cannot
/// be one in Rust.
pub fn rust_path(key: &str) -> Option<Vec<String>> {
    let (modules, message) = key.rsplit_once('.')?;
    let modules = modules.split('.').map(|name| name::snake(name).ok());
    modules.chain([name::camel(message).ok()]).collect()
}

/// The Rust module of the messages in some files: those of the default locale, lower layers first. Where two files have a
/// message, the later one's is taken.
///
/// ```
/// use crow_fly_codegen::{SourceFile, generate};
///
/// let file = SourceFile::section("catalogs/en/booking.toml", "booking", "seats-left = '{$seats :integer} left'");
/// let code = generate("en", &[file])?;
/// assert!(code.contains("pub struct SeatsLeft<T0>"));
/// # Ok::<(), crow_fly_codegen::Problems>(())
/// ```
///
/// # Errors
/// Where a message has errors, or a name cannot be one in Rust: every problem with its file and line.
pub fn generate(reference: &str, files: &[SourceFile]) -> Result<String, Problems> {
    let mut problems = Vec::new();
    let root = model::Module::of(files, &mut problems);
    if problems.is_empty() { Ok(print::print(reference, &root, files)) } else { Err(Problems(problems)) }
}

/// TypeScript declarations of the messages of some sections: see [`Catalogs::declarations`].
///
/// ```
/// use crow_fly_codegen::{SourceFile, declarations};
///
/// let file = SourceFile::section("catalogs/en/booking.toml", "booking", "seats-left = '{$seats :integer} left'");
/// let code = declarations(&[file], &["booking".to_owned()])?;
/// assert!(code.contains(r#""booking.seats-left": { "seats": Numeric };"#));
/// # Ok::<(), crow_fly_codegen::Problems>(())
/// ```
///
/// # Errors
/// Where a message has errors, or there is no such section: every problem with its file and line.
pub fn declarations(files: &[SourceFile], sections: &[String]) -> Result<String, Problems> {
    let mut problems = Vec::new();
    let root = model::Module::of(files, &mut problems);
    for section in
        sections.iter().filter(|section| !root.modules.values().any(|module| module.path == **section))
    {
        problems.push(Problem {
            file: files.iter().map(|file| file.path.as_str()).next().unwrap_or_default().to_owned(),
            line: 0,
            text: format!("there is no section `{section}` that scripts could ask for"),
            help: "name the sections that have a file in the catalogs of the default locale".to_owned(),
        });
    }
    if problems.is_empty() { Ok(scripts::print(&root, sections)) } else { Err(Problems(problems)) }
}
