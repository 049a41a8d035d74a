//! Scripts written from right to left (`scriptMetadata.json`).

use crate::Code;
use crate::generated::scripts::RIGHT_TO_LEFT;

/// Whether a script runs from right to left; unknown ones do not.
pub fn is_right_to_left(script: Code) -> bool {
    RIGHT_TO_LEFT.binary_search(&script.to_be_bytes()).is_ok()
}
