//! The table of translated paths: which page an address is of, and which address a page has in a locale.

use alloc::borrow::ToOwned;
use alloc::boxed::Box;
use alloc::collections::{BTreeMap, BTreeSet};
use alloc::string::{String, ToString};
use alloc::vec::Vec;
use core::fmt;

use super::pattern::{PathPattern, Segment, normalized};
use crate::locale_set::LocaleId;

/// Pages whose addresses are translated.
#[derive(Clone, Debug, Default)]
pub(super) struct Paths {
    pages: Vec<Page>,
    /// The application's own patterns.
    bare: Node,
    /// For each locale, its current patterns and its former ones.
    localized: BTreeMap<LocaleId, Node>,
    /// The pages of bare patterns, and of each locale's, by shape.
    bare_shapes: BTreeMap<String, usize>,
    localized_shapes: BTreeMap<LocaleId, BTreeMap<String, usize>>,
}

#[derive(Clone, Debug)]
struct Page {
    bare: PathPattern,
    /// For each locale the current pattern, and former ones behind it.
    localized: BTreeMap<LocaleId, Vec<PathPattern>>,
}

/// A step of matching: what may stand in a path's next segment. Literals go before parameters, and those before the
/// rest.
#[derive(Clone, Debug, Default)]
struct Node {
    literals: BTreeMap<String, Self>,
    parameter: Option<Box<Self>>,
    rest: Option<Target>,
    end: Option<Target>,
}

/// The page a pattern is of, and which of a locale's patterns it is: 0 is the current one.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
struct Target {
    page: usize,
    place: usize,
}

/// What a path is in a locale's table.
#[derive(Debug, PartialEq, Eq)]
pub(super) enum Translation {
    /// The address of a page: its bare path.
    Bare(String),
    /// A former address, or the bare path of a page that has another address: the current address.
    Moved(String),
    /// Not in the table.
    None,
}

/// A table of translated paths in which one address would mean two pages, or none.
#[derive(Clone, PartialEq, Eq)]
#[non_exhaustive]
pub enum PathsError {
    /// Two patterns match the same paths.
    Ambiguous {
        /// The locale; none for bare paths.
        locale: Option<String>,
        /// The later pattern.
        pattern: String,
        /// The bare pattern of the page that has it already.
        other: String,
    },
    /// A translated pattern has other parameters than the bare one.
    Parameters {
        /// The translated pattern.
        pattern: String,
        /// The bare one.
        bare: String,
    },
    /// The first segment is a locale's prefix.
    Prefix {
        /// The pattern.
        pattern: String,
        /// The prefix.
        prefix: String,
    },
    /// The path is skipped, or outside of the base.
    Skipped(String),
}

impl fmt::Display for PathsError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Ambiguous { locale, pattern, other } => {
                if let Some(locale) = locale {
                    write!(f, "in `{locale}` ")?;
                }
                write!(
                    f,
                    "`{pattern}` would be an address of the page `{other}`, too; translate one of them in another way"
                )
            }
            Self::Parameters { pattern, bare } => {
                write!(f, "`{pattern}` has other parameters than `{bare}`; both need the same ones")
            }
            Self::Prefix { pattern, prefix } => {
                write!(
                    f,
                    "`{pattern}` can never match, because its first segment is read as the prefix `{prefix}`; begin it with another word"
                )
            }
            Self::Skipped(pattern) => {
                write!(
                    f,
                    "`{pattern}` can never match, because it is skipped or outside of the base; delete it, or change `skip` or `base`"
                )
            }
        }
    }
}

crate::debug_as_shown!(PathsError);

impl core::error::Error for PathsError {}

impl Paths {
    pub(super) const fn is_empty(&self) -> bool {
        self.pages.is_empty()
    }

    /// Adds a page. `name` names locales for people.
    pub(super) fn add(
        &mut self,
        bare: PathPattern,
        localized: BTreeMap<LocaleId, Vec<PathPattern>>,
        name: impl Fn(LocaleId) -> String,
    ) -> Result<(), PathsError> {
        self.check(&bare, &localized, name)?;
        let page = self.pages.len();
        self.bare_shapes.insert(bare.shape(), page);
        self.bare.insert(&bare.segments, Target { page, place: 0 });
        for (locale, patterns) in &localized {
            for (place, pattern) in patterns.iter().enumerate() {
                self.localized_shapes.entry(*locale).or_default().insert(pattern.shape(), page);
                self.localized.entry(*locale).or_default().insert(&pattern.segments, Target { page, place });
            }
        }
        self.pages.push(Page { bare, localized });
        Ok(())
    }

    /// Refuses a page where an address would be that of two pages.
    fn check(
        &self,
        bare: &PathPattern,
        localized: &BTreeMap<LocaleId, Vec<PathPattern>>,
        name: impl Fn(LocaleId) -> String,
    ) -> Result<(), PathsError> {
        let ambiguous = |locale: Option<LocaleId>, pattern: &PathPattern, other: &PathPattern| {
            Err(PathsError::Ambiguous {
                locale: locale.map(&name),
                pattern: pattern.to_string(),
                other: other.to_string(),
            })
        };
        let shape = bare.shape();
        if let Some(other) = self.bare_shapes.get(&shape).and_then(|other| self.pages.get(*other)) {
            return ambiguous(None, bare, &other.bare);
        }
        // Where this page has no translation, its address is the bare one: no other page may have it.
        for locale in self.localized.keys().filter(|locale| !localized.contains_key(locale)) {
            if let Some(other) = self.with_localized(*locale, &shape) {
                return ambiguous(Some(*locale), bare, &other.bare);
            }
        }
        for (locale, patterns) in localized {
            let mut own = BTreeSet::new();
            for pattern in patterns {
                if !pattern.has_parameters_of(bare) {
                    return Err(PathsError::Parameters {
                        pattern: pattern.to_string(),
                        bare: bare.to_string(),
                    });
                }
                let shape = pattern.shape();
                let untranslated = || {
                    let other = self.pages.get(*self.bare_shapes.get(&shape)?)?;
                    (!other.localized.contains_key(locale)).then_some(other)
                };
                if let Some(other) = self.with_localized(*locale, &shape).or_else(untranslated) {
                    return ambiguous(Some(*locale), pattern, &other.bare);
                }
                if !own.insert(shape) {
                    return ambiguous(Some(*locale), pattern, bare);
                }
            }
        }
        Ok(())
    }

    /// The page that has a pattern of this shape in a locale.
    fn with_localized(&self, locale: LocaleId, shape: &str) -> Option<&Page> {
        let page = self.localized_shapes.get(&locale)?.get(shape)?;
        self.pages.get(*page)
    }

    /// What a path, without prefix, is in a locale.
    pub(super) fn read(&self, locale: LocaleId, path: &str) -> Translation {
        let mut values = Vec::new();
        // A path that is localized already stays as it is.
        if let Some(target) = self.localized.get(&locale).and_then(|node| node.find(path, &mut values))
            && let Some(page) = self.pages.get(target.page)
            && let Some(pattern) = page.localized.get(&locale).and_then(|patterns| patterns.get(target.place))
        {
            let value = |name: &str| value(pattern, &values, name);
            return match page.localized.get(&locale).and_then(|patterns| patterns.first()) {
                Some(current) if target.place > 0 => Translation::Moved(current.fill(value)),
                _ => Translation::Bare(page.bare.fill(value)),
            };
        }
        self.localize(locale, path).map_or(Translation::None, Translation::Moved)
    }

    /// The path in a locale of the page that has a path in other locales: none where no page has it there, or more than one.
    pub(super) fn of_other_locales(&self, locale: LocaleId, path: &str) -> Option<String> {
        let mut only: Option<(usize, String)> = None;
        for (other, node) in self.localized.iter().filter(|(other, _)| **other != locale) {
            let mut values = Vec::new();
            let Some(target) = node.find(path, &mut values) else { continue };
            let page = self.pages.get(target.page)?;
            let pattern = page.localized.get(other).and_then(|patterns| patterns.get(target.place))?;
            let own = page.localized.get(&locale).and_then(|patterns| patterns.first()).unwrap_or(&page.bare);
            let path = own.fill(|name| value(pattern, &values, name));
            match &only {
                Some(known) if *known != (target.page, path.clone()) => return None,
                Some(_) => {}
                None => only = Some((target.page, path)),
            }
        }
        only.map(|(_, path)| path)
    }

    /// The address of a page in a locale, given by its bare path; none where the page is not translated.
    pub(super) fn localize(&self, locale: LocaleId, path: &str) -> Option<String> {
        if self.pages.is_empty() {
            return None;
        }
        let mut values = Vec::new();
        let target = self.bare.find(path, &mut values)?;
        let page = self.pages.get(target.page)?;
        let current = page.localized.get(&locale)?.first()?;
        Some(current.fill(|name| value(&page.bare, &values, name)))
    }
}

/// The value of a parameter, by the pattern that has matched.
fn value<'v>(pattern: &PathPattern, values: &[&'v str], name: &str) -> Option<&'v str> {
    let place = pattern.parameters().position(|known| known == name)?;
    values.get(place).copied()
}

impl Node {
    fn insert(&mut self, segments: &[Segment], target: Target) {
        match segments.split_first() {
            None => self.end = Some(target),
            Some((Segment::Rest(_), _)) => self.rest = Some(target),
            Some((Segment::Literal(text), rest)) => {
                self.literals.entry(text.to_owned()).or_default().insert(rest, target);
            }
            Some((Segment::Parameter(_), rest)) => {
                self.parameter.get_or_insert_default().insert(rest, target);
            }
        }
    }

    /// The best pattern that matches a path, and the values of its parameters.
    fn find<'p>(&self, path: &'p str, values: &mut Vec<&'p str>) -> Option<Target> {
        values.clear();
        let path = path.strip_prefix('/').unwrap_or(path);
        self.search((!path.is_empty()).then_some(path), values)
    }

    /// No deeper than the patterns are.
    fn search<'p>(&self, path: Option<&'p str>, values: &mut Vec<&'p str>) -> Option<Target> {
        let Some(path) = path else { return self.end };
        let (segment, behind) =
            path.split_once('/').map_or((path, None), |(segment, behind)| (segment, Some(behind)));
        let literal = self.literals.get(&*normalized(segment));
        if let Some(found) = literal.and_then(|node| node.search(behind, values)) {
            return Some(found);
        }
        if let Some(node) = self.parameter.as_ref().filter(|_| !segment.is_empty()) {
            values.push(segment);
            if let Some(found) = node.search(behind, values) {
                return Some(found);
            }
            values.pop();
        }
        let rest = self.rest.filter(|_| !path.is_empty());
        values.extend(rest.map(|_| path));
        rest
    }
}
