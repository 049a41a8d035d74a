//! Path patterns: `/sailings/{id}`, `/help/{*rest}`.

use alloc::borrow::{Cow, ToOwned};
use alloc::format;
use alloc::string::{String, ToString};
use alloc::vec::Vec;
use core::fmt;
use core::fmt::Write as _;

use percent_encoding::{AsciiSet, CONTROLS, utf8_percent_encode};

/// What a path segment escapes: everything that is not a `pchar` (RFC 3986 §3.3), and the backslash.
const SEGMENT: &AsciiSet = &CONTROLS
    .add(b' ')
    .add(b'"')
    .add(b'#')
    .add(b'%')
    .add(b'/')
    .add(b'<')
    .add(b'>')
    .add(b'?')
    .add(b'[')
    .add(b'\\')
    .add(b']')
    .add(b'^')
    .add(b'`')
    .add(b'{')
    .add(b'|')
    .add(b'}');

/// A path with places for what differs from page to page: `{id}` is one segment, `{*rest}` at the end is one or
/// more. Everything else is literal, and written as people read it, without escapes.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct PathPattern {
    pub(super) segments: Vec<Segment>,
}

/// A part of a pattern between two slashes.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(super) enum Segment {
    /// In the form that segments are compared in.
    Literal(String),
    /// One segment, by the name of its parameter.
    Parameter(String),
    /// All that is left, at least one segment.
    Rest(String),
}

/// Why a text is not a path pattern.
#[derive(Clone, PartialEq, Eq)]
#[non_exhaustive]
pub enum PatternError {
    /// It does not begin with a slash.
    NoSlash,
    /// It has an empty segment, `.` or `..`: no path arrives like this.
    EmptySegment,
    /// It has a query, a fragment, or a brace that is not one of a parameter.
    NotAPath,
    /// A segment looks like a parameter in the form of another program: `:id`, `<id>`, `*`.
    OtherForm {
        /// The segment as it is written.
        written: String,
        /// The segment as it is written here.
        wanted: String,
    },
    /// Something follows `{*rest}`.
    AfterRest,
    /// Two parameters have the same name.
    TwoOfAName(String),
}

impl fmt::Display for PatternError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::NoSlash => f.write_str("a path pattern begins with one slash; write `/sailings/{id}`"),
            Self::EmptySegment => {
                f.write_str("a path pattern has no empty segment, `.` or `..`; no path could match it")
            }
            Self::NotAPath => {
                f.write_str("a segment of a path pattern is text, `{name}`, or `{*name}` at the end; `?` and `#` do not belong to a path")
            }
            Self::OtherForm { written, wanted } => {
                write!(f, "`{written}` is not how a parameter is written here; write `{wanted}`")
            }
            Self::AfterRest => f.write_str("`{*…}` takes all that is left; write nothing after it"),
            Self::TwoOfAName(name) => write!(f, "two parameters have the name `{name}`; rename one of them"),
        }
    }
}

crate::debug_as_shown!(PatternError);

impl core::error::Error for PatternError {}

/// What is meant by a segment that looks like a parameter in the form of another program.
fn other_form(part: &str) -> Option<String> {
    if matches!(part, "*" | "**") {
        return Some("{*rest}".to_owned());
    }
    let name = match part.strip_prefix('<') {
        // `<id>`, `<int:id>`
        Some(inner) => inner.strip_suffix('>')?.rsplit(':').next()?,
        None => part.strip_prefix(':')?,
    };
    is_name(name).then(|| format!("{{{name}}}"))
}

impl PathPattern {
    /// Parses a pattern.
    ///
    /// # Errors
    /// Where no path could match it, or it is not a pattern.
    pub fn parse(text: &str) -> Result<Self, PatternError> {
        let path = text.strip_prefix('/').ok_or(PatternError::NoSlash)?;
        let mut segments = Vec::new();
        if path.is_empty() {
            return Ok(Self { segments });
        }
        for part in path.split('/') {
            if matches!(segments.last(), Some(Segment::Rest(_))) {
                return Err(PatternError::AfterRest);
            }
            if matches!(part, "" | "." | "..") {
                return Err(PatternError::EmptySegment);
            }
            let segment = match part.strip_prefix('{').and_then(|name| name.strip_suffix('}')) {
                Some(name) => match name.strip_prefix('*') {
                    Some(name) if is_name(name) => Segment::Rest(name.to_owned()),
                    None if is_name(name) => Segment::Parameter(name.to_owned()),
                    _ => return Err(PatternError::NotAPath),
                },
                None if part.contains(['{', '}', '?', '#', '\\']) || part.chars().any(char::is_control) => {
                    return Err(PatternError::NotAPath);
                }
                None => match other_form(part) {
                    Some(wanted) => return Err(PatternError::OtherForm { written: part.to_owned(), wanted }),
                    None => Segment::Literal(literal(part)),
                },
            };
            if let Some(name) = segment.name()
                && segments.iter().any(|other: &Segment| other.name() == Some(name))
            {
                return Err(PatternError::TwoOfAName(name.to_owned()));
            }
            segments.push(segment);
        }
        Ok(Self { segments })
    }

    /// Whether a path, as it is asked for, is one of this pattern. Segments are compared as those of translated paths
    /// are: `caf%C3%A9` and `café` are the same.
    ///
    /// ```
    /// use crow_fly_core::route::PathPattern;
    ///
    /// let sailing = PathPattern::parse("/sailings/{id}")?;
    /// assert!(sailing.matches("/sailings/7"));
    /// assert!(!sailing.matches("/sailings") && !sailing.matches("/sailings/7/book"));
    /// assert!(PathPattern::parse("/help/{*page}")?.matches("/help/boats/bicycles"));
    /// # Ok::<(), crow_fly_core::route::PatternError>(())
    /// ```
    pub fn matches(&self, path: &str) -> bool {
        let path = path.strip_prefix('/').unwrap_or(path);
        let mut rest = (!path.is_empty()).then_some(path);
        for segment in &self.segments {
            let Some(left) = rest else { return false };
            let (part, behind) =
                left.split_once('/').map_or((left, None), |(part, behind)| (part, Some(behind)));
            match segment {
                Segment::Rest(_) => return !left.is_empty(),
                Segment::Parameter(_) if part.is_empty() => return false,
                Segment::Literal(text) if *normalized(part) != **text => return false,
                Segment::Parameter(_) | Segment::Literal(_) => rest = behind,
            }
        }
        rest.is_none()
    }

    /// The names of its parameters.
    pub fn parameters(&self) -> impl Iterator<Item = &str> {
        self.segments.iter().filter_map(Segment::name)
    }

    /// The pattern without the names of its parameters: two patterns of one shape match the same paths.
    pub(super) fn shape(&self) -> String {
        let mut shape = String::new();
        for segment in &self.segments {
            shape.push('/');
            shape.push_str(match segment {
                Segment::Literal(text) => text,
                Segment::Parameter(_) => "{}",
                Segment::Rest(_) => "{*}",
            });
        }
        shape
    }

    /// The pattern below a base; none where it is not below it.
    pub(super) fn below(&self, base: &Self) -> Option<Self> {
        let segments = self.segments.strip_prefix(base.segments.as_slice())?;
        Some(Self { segments: segments.to_vec() })
    }

    /// The path up to the first parameter.
    pub(super) fn literal_start(&self) -> String {
        let mut start = String::new();
        for segment in &self.segments {
            let Segment::Literal(text) = segment else { break };
            start.push('/');
            start.push_str(text);
        }
        start
    }

    /// Whether both have the same parameters, of one segment or of more, in any order.
    pub(super) fn has_parameters_of(&self, other: &Self) -> bool {
        self.sorted_parameters() == other.sorted_parameters()
    }

    /// The names of its parameters, and whether they stand for more than one segment.
    fn sorted_parameters(&self) -> Vec<(&str, bool)> {
        let named = |segment| Some((Segment::name(segment)?, matches!(segment, Segment::Rest(_))));
        let mut parameters: Vec<_> = self.segments.iter().filter_map(named).collect();
        parameters.sort_unstable();
        parameters
    }

    /// The first segment, where it is literal.
    pub(super) fn first_literal(&self) -> Option<&str> {
        match self.segments.first() {
            Some(Segment::Literal(text)) => Some(text),
            _ => None,
        }
    }

    /// The path with the values of its parameters.
    pub(super) fn fill<'v>(&self, value: impl Fn(&str) -> Option<&'v str>) -> String {
        let mut path = String::new();
        for segment in &self.segments {
            path.push('/');
            path.push_str(match segment {
                Segment::Literal(text) => text,
                // Both patterns of a page have the same parameters.
                Segment::Parameter(name) | Segment::Rest(name) => value(name).unwrap_or_default(),
            });
        }
        if path.is_empty() {
            path.push('/');
        }
        path
    }
}

impl Segment {
    fn name(&self) -> Option<&str> {
        match self {
            Self::Literal(_) => None,
            Self::Parameter(name) | Self::Rest(name) => Some(name),
        }
    }
}

impl fmt::Display for PathPattern {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        if self.segments.is_empty() {
            return f.write_str("/");
        }
        self.segments.iter().try_for_each(|segment| match segment {
            Segment::Literal(text) => write!(f, "/{text}"),
            Segment::Parameter(name) => write!(f, "/{{{name}}}"),
            Segment::Rest(name) => write!(f, "/{{*{name}}}"),
        })
    }
}

fn is_name(name: &str) -> bool {
    !name.is_empty() && name.bytes().all(|byte| byte.is_ascii_alphanumeric() || matches!(byte, b'-' | b'_'))
}

/// A literal, which may be written with escapes or without, in the form that segments are compared in.
fn literal(text: &str) -> String {
    match percent_encoding::percent_decode_str(text).decode_utf8() {
        Ok(decoded) => normalized(&utf8_percent_encode(&decoded, SEGMENT).to_string()).into_owned(),
        Err(_) => normalized(text).into_owned(),
    }
}

/// A segment in the form that segments are compared in (RFC 3986 §6.2.2): unreserved characters are not escaped,
/// everything outside of ASCII is, and escapes are in upper case. Escapes of other characters stay as they are:
/// `%2F` is not a slash.
pub(super) fn normalized(segment: &str) -> Cow<'_, str> {
    if segment.bytes().all(|byte| byte != b'%' && byte.is_ascii()) {
        return Cow::Borrowed(segment);
    }
    let mut normal = String::with_capacity(segment.len() + 8);
    let mut rest = segment.as_bytes();
    while let [byte, tail @ ..] = rest {
        rest = tail;
        if *byte == b'%'
            && let [high, low, after @ ..] = tail
            && let (Some(high), Some(low)) = (hex(*high), hex(*low))
        {
            rest = after;
            push(&mut normal, high * 16 + low, is_unreserved);
        } else {
            push(&mut normal, *byte, |byte| byte.is_ascii());
        }
    }
    Cow::Owned(normal)
}

fn hex(digit: u8) -> Option<u8> {
    char::from(digit).to_digit(16).and_then(|digit| u8::try_from(digit).ok())
}

/// RFC 3986 §2.3.
const fn is_unreserved(byte: u8) -> bool {
    byte.is_ascii_alphanumeric() || matches!(byte, b'-' | b'.' | b'_' | b'~')
}

/// A byte as it is, where it may stand so, or escaped.
fn push(normal: &mut String, byte: u8, may_stand: impl Fn(u8) -> bool) {
    if may_stand(byte) {
        normal.push(char::from(byte));
    } else {
        // Writing to a `String` does not fail.
        let _ = write!(normal, "%{byte:02X}");
    }
}
