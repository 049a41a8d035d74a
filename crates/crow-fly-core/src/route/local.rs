//! Addresses that stay on their host.

use alloc::borrow::Cow;
use alloc::string::String;

use percent_encoding::{AsciiSet, CONTROLS, utf8_percent_encode};

/// The same as [`local`], for an address that most often is local already.
pub(super) fn owned_local(address: String) -> String {
    match local(&address) {
        Cow::Borrowed(_) => address,
        Cow::Owned(local) => local,
    }
}

/// What stands escaped in an address: what is not ASCII or not visible, and the backslash, which browsers take for a
/// slash.
const ADDRESS: &AsciiSet = &CONTROLS.add(b' ').add(b'\\');

/// An address, path first, that no browser takes for another host's: it begins with one slash, and has neither
/// backslash, nor space, nor control character, nor a character outside ASCII.
///
/// ```
/// use crow_fly_core::route::local;
///
/// assert_eq!(local("/cy/sailings?day=2"), "/cy/sailings?day=2");
/// assert_eq!(local("//evil.example"), "/.//evil.example");
/// assert_eq!(local("/\\evil.example"), "/%5Cevil.example");
/// assert_eq!(local("https://evil.example"), "/https://evil.example");
/// assert_eq!(local("/caffè"), "/caff%C3%A8");
/// ```
pub fn local(address: &str) -> Cow<'_, str> {
    if is_local(address) {
        return Cow::Borrowed(address);
    }
    let escaped = Cow::from(utf8_percent_encode(address, ADDRESS));
    if escaped.starts_with("//") {
        // Browsers take `/.//x` for the path `//x` of the same host (WHATWG URL §4.5).
        return Cow::Owned(alloc::format!("/.{escaped}"));
    }
    if escaped.starts_with('/') { escaped } else { Cow::Owned(alloc::format!("/{escaped}")) }
}

/// Whether an address is safe to return a visitor to: a path of the same host, with no control characters.
///
/// ```
/// use crow_fly_core::route::is_local;
///
/// assert!(is_local("/cy/sailings?day=2"));
/// for forged in ["//evil.example", "/\\evil.example", "https://evil.example", "/a\nb", "sailings", ""] {
///     assert!(!is_local(forged));
/// }
/// ```
pub fn is_local(address: &str) -> bool {
    let bytes = address.as_bytes();
    address.len() <= 4096
        && bytes.first() == Some(&b'/')
        && !matches!(bytes.get(1), Some(b'/' | b'\\'))
        // Browsers drop tabs and line breaks before they read an address: none may be in it.
        && bytes.iter().all(|byte| *byte > 0x20 && *byte < 0x7f && *byte != b'\\')
}
