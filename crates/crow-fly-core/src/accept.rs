//! The Accept-Language header: RFC 9110 §12.4.2 and §12.5.4.
//!
//! A server may ignore the header, so reading it never fails: members that are not well-formed are skipped and
//! counted. The work is bounded by the constants of [`AcceptLanguage`], whatever is sent.
//!
//! ```
//! use crow_fly_core::accept::AcceptLanguage;
//!
//! let header = AcceptLanguage::parse("en;q=0.7, cy, *;q=0.1, de;q=0");
//! let ranges: Vec<&str> = header.ranges().iter().map(|range| range.as_str()).collect();
//! assert_eq!(ranges, ["cy", "en", "*"]);
//! assert_eq!(header.excluded()[0].as_str(), "de");
//! ```

use core::fmt;

use smallvec::SmallVec;

/// The ranges of an Accept-Language header, heaviest first, borrowed from the header's bytes.
///
/// An ordinary header, of up to eight ranges, allocates nothing.
#[derive(Clone, Default)]
pub struct AcceptLanguage<'a> {
    /// Wanted ranges by weight, then the excluded ones.
    ranges: SmallVec<[WeightedRange<'a>; 8]>,
    wanted: usize,
    malformed: usize,
    truncated: bool,
}

/// One range with its weight.
#[derive(Clone, Copy, Default, PartialEq, Eq)]
pub struct WeightedRange<'a> {
    range: &'a [u8],
    weight: u16,
}

impl<'a> WeightedRange<'a> {
    /// The range as it was written.
    pub fn as_str(&self) -> &'a str {
        // Only ASCII letters, digits, hyphens and `*` are taken in.
        core::str::from_utf8(self.range).unwrap_or_default()
    }

    pub(crate) const fn as_bytes(&self) -> &'a [u8] {
        self.range
    }

    /// The weight in thousandths, from 1 to 1000; 0 for a range that is not acceptable.
    pub const fn weight(&self) -> u16 {
        self.weight
    }

    pub(crate) const fn is_wildcard(&self) -> bool {
        matches!(self.range, b"*")
    }
}

impl fmt::Debug for WeightedRange<'_> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{};q={}", self.as_str(), f32::from(self.weight) / 1000.0)
    }
}

impl<'a> AcceptLanguage<'a> {
    /// How many ranges are kept; further ones are dropped. People name two to ten.
    pub const MAX_RANGES: usize = 32;

    /// How many list members are looked at, well-formed or not.
    pub const MAX_MEMBERS: usize = 128;

    /// How many bytes are looked at, over all header lines.
    pub const MAX_BYTES: usize = 4096;

    /// Reads one header value. Bytes that are no ASCII spoil only their own list member.
    pub fn parse<T: AsRef<[u8]> + ?Sized>(header: &'a T) -> Self {
        Self::parse_lines([header])
    }

    /// Reads several header lines, which are one list (RFC 9110 §5.3).
    pub fn parse_lines<T: AsRef<[u8]> + ?Sized + 'a>(lines: impl IntoIterator<Item = &'a T>) -> Self {
        let mut header = Self::default();
        let (mut members, mut bytes) = (0, 0);
        let mut sorted = true;
        for line in lines {
            let mut rest = line.as_ref();
            if bytes + rest.len() > Self::MAX_BYTES {
                rest = rest.get(..Self::MAX_BYTES - bytes).unwrap_or_default();
                // A member that is cut in two says something else than it did.
                rest =
                    rest.get(..rest.iter().rposition(|byte| *byte == b',').unwrap_or(0)).unwrap_or_default();
                header.truncated = true;
            }
            bytes += rest.len();
            while !rest.is_empty() {
                if members == Self::MAX_MEMBERS {
                    header.truncated = true;
                    break;
                }
                let (parsed, behind) = member(rest);
                rest = behind;
                match parsed {
                    Member::Empty => continue,
                    Member::Malformed => header.malformed += 1,
                    Member::Range(_) if header.ranges.len() == Self::MAX_RANGES => header.truncated = true,
                    Member::Range(range) => {
                        header.wanted += usize::from(range.weight > 0);
                        sorted &= header.ranges.last().is_none_or(|last| last.weight >= range.weight);
                        header.ranges.push(range);
                    }
                }
                members += 1;
            }
        }
        if !sorted {
            // Stable: equal weights keep the order of the header.
            header.ranges.sort_by_key(|range| core::cmp::Reverse(range.weight));
        }
        header
    }

    /// The acceptable ranges: by weight, equal ones in the order of the header.
    pub fn ranges(&self) -> &[WeightedRange<'a>] {
        self.ranges.get(..self.wanted).unwrap_or_default()
    }

    /// The ranges of weight 0, which are not acceptable, not even where `*` is.
    pub fn excluded(&self) -> &[WeightedRange<'a>] {
        self.ranges.get(self.wanted..).unwrap_or_default()
    }

    /// How many list members were skipped because they are not well-formed.
    pub const fn malformed(&self) -> usize {
        self.malformed
    }

    /// Whether the header was longer than is read.
    pub const fn is_truncated(&self) -> bool {
        self.truncated
    }

    /// Whether the header is empty: no range of any weight.
    pub fn is_empty(&self) -> bool {
        self.ranges.is_empty()
    }
}

impl fmt::Debug for AcceptLanguage<'_> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_struct("AcceptLanguage")
            .field("ranges", &self.ranges())
            .field("excluded", &self.excluded())
            .field("malformed", &self.malformed)
            .field("truncated", &self.truncated)
            .finish()
    }
}

/// The first range of a header, where it weighs 1 and no range behind it is excluded: nothing weighs more then.
/// None wherever that is not plain to see.
pub(crate) fn first_range(header: &[u8]) -> Option<&[u8]> {
    if header.len() > AcceptLanguage::MAX_BYTES {
        return None;
    }
    let (Member::Range(WeightedRange { range, weight: 1000 }), rest) = member(header) else { return None };
    // A weight of zero is `=0` with nothing but zeros behind it; `=0.1` and the like are not. At least
    // `a;q` stands before the `=` of a weight, and a comma before that where another range ends.
    let mut rest = rest.get(3..).unwrap_or_default();
    while let Some((byte, behind)) = rest.split_first() {
        rest = match behind {
            _ if *byte != b'=' => behind,
            [b'0', b'.', b'1'..=b'9', behind @ ..] | [b'1', behind @ ..] => {
                behind.get(4..).unwrap_or_default()
            }
            _ => return None,
        };
    }
    Some(range)
}

enum Member<'a> {
    Empty,
    Malformed,
    Range(WeightedRange<'a>),
}

/// Reads the list member at the beginning of `text`; returns what is behind its comma as well.
#[inline]
fn member(text: &[u8]) -> (Member<'_>, &[u8]) {
    let text = trim_start(text);
    let length = range_length(text);
    let (range, rest) = text.split_at_checked(length).unwrap_or((text, &[]));
    // The forms browsers send, before the general one.
    let usual = match rest {
        [] => Some((1000, rest)),
        [b',', behind @ ..] => Some((1000, behind)),
        [b';', b'q', b'=', b'0', b'.', digit @ b'0'..=b'9'] => Some((u16::from(digit - b'0') * 100, &[][..])),
        [b';', b'q', b'=', b'0', b'.', digit @ b'0'..=b'9', b',', behind @ ..] => {
            Some((u16::from(digit - b'0') * 100, behind))
        }
        _ => None,
    };
    match usual.filter(|_| length > 0) {
        Some((weight, behind)) => (Member::Range(WeightedRange { range, weight }), behind),
        None => unusual_member(range, rest),
    }
}

/// A member with white space, a longer weight, or something that is wrong.
fn unusual_member<'a>(range: &'a [u8], rest: &'a [u8]) -> (Member<'a>, &'a [u8]) {
    let mut rest = trim_start(rest);
    let mut weight = Some(1000);
    if let Some(parameter) = rest.strip_prefix(b";") {
        (weight, rest) = quality(trim_start(parameter));
        rest = trim_start(rest);
    }
    match rest {
        [] => {}
        [b',', behind @ ..] => rest = behind,
        // Something else stands in this member: it is spoilt up to its comma.
        _ => {
            weight = None;
            rest = memchr::memchr(b',', rest).and_then(|comma| rest.get(comma + 1..)).unwrap_or_default();
        }
    }
    let member = match weight {
        Some(weight) if !range.is_empty() => Member::Range(WeightedRange { range, weight }),
        Some(1000) => Member::Empty,
        _ => Member::Malformed,
    };
    (member, rest)
}

fn trim_start(mut text: &[u8]) -> &[u8] {
    while let [b' ' | b'\t', rest @ ..] = text {
        text = rest;
    }
    text
}

/// What a byte may be in a language range.
#[derive(Clone, Copy)]
enum Class {
    Letter,
    Digit,
    Hyphen,
    Other,
}

/// The class of every byte: the loop over a header asks once for each.
static CLASSES: [Class; 256] = {
    let mut classes = [Class::Other; 256];
    let mut byte: u8 = 0;
    while byte < 128 {
        classes[byte as usize] = match byte {
            b'a'..=b'z' | b'A'..=b'Z' => Class::Letter,
            b'0'..=b'9' => Class::Digit,
            b'-' => Class::Hyphen,
            _ => Class::Other,
        };
        byte += 1;
    }
    classes
};

/// The length of the language range at the beginning: `*`, or letters, then letters and digits (RFC 4647 §2.1).
/// Zero where there is none, or where one of its subtags is longer than eight.
#[inline]
fn range_length(text: &[u8]) -> usize {
    match text {
        [b'*', ..] => return 1,
        // `en` and `en-GB`, without a loop whose end no processor foresees.
        [a, b, b',' | b';', ..] if a.is_ascii_alphabetic() && b.is_ascii_alphabetic() => return 2,
        [a, b, b'-', c, d, b',' | b';', ..]
            if [a, b, c, d].iter().all(|letter| letter.is_ascii_alphabetic()) =>
        {
            return 5;
        }
        _ => {}
    }
    let (mut length, mut subtag, mut first) = (0, 0, true);
    for byte in text {
        match CLASSES[usize::from(*byte)] {
            Class::Letter => subtag += 1,
            Class::Digit if !first => subtag += 1,
            Class::Hyphen if (1..=8).contains(&subtag) => (subtag, first) = (0, false),
            Class::Hyphen => return 0,
            Class::Digit | Class::Other => break,
        }
        length += 1;
    }
    if (1..=8).contains(&subtag) { length } else { 0 }
}

/// The weight behind `q=`, in thousandths, and what follows; none where it is not a qvalue.
fn quality(text: &[u8]) -> (Option<u16>, &[u8]) {
    let [b'q' | b'Q', b'=', value @ ..] = text else { return (None, text) };
    let [whole @ (b'0' | b'1'), rest @ ..] = value else { return (None, value) };
    let mut weight = u16::from(whole - b'0') * 1000;
    let mut rest = rest;
    if let [b'.', digits @ ..] = rest {
        rest = digits;
        for unit in [100, 10, 1] {
            let [digit @ b'0'..=b'9', behind @ ..] = rest else { break };
            weight += u16::from(digit - b'0') * unit;
            rest = behind;
        }
    }
    ((weight <= 1000).then_some(weight), rest)
}
