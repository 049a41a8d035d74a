//! A document as XLIFF 2.1 (OASIS): a file for each section, a group for each message with several forms, a unit for each
//! text, with placeholders as inline codes.

mod read;
mod write;

pub(super) use read::read;
#[cfg(test)]
pub(super) use read::{Element, Node, parse};
pub(super) use write::write;

const CORE: &str = "urn:oasis:names:tc:xliff:document:2.0";
const METADATA: &str = "urn:oasis:names:tc:xliff:metadata:2.0";

/// The prefix of what is ours: a value of `subState`, a category of metadata.
const OURS: &str = "crow-fly";
