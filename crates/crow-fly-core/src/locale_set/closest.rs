//! Which supported locale is closest: UTS #35 part 1, "Language Matching", over an index made in advance.

use alloc::vec::Vec;

use crow_fly_cldr::{Code, matching};
use hashbrown::HashMap;

use super::distance::{Maximal, between, language, region, script};
use super::{Locale, LocaleId, LocaleSet};
use crate::accept::{AcceptLanguage, WeightedRange, first_range};
use crate::tag::{LanguageTag, maximize, plain, plain_codes, table_code};

/// The answer of [`LocaleSet::closest`].
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Match {
    /// The locale that suits best.
    pub locale: LocaleId,
    /// How far it is from what was asked for; 0 is the same.
    pub distance: u8,
    /// The place of the range that won, in [`AcceptLanguage::ranges`].
    pub range: u8,
    /// How it won.
    pub kind: MatchKind,
}

/// How a locale came to suit a range.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[non_exhaustive]
pub enum MatchKind {
    /// It is what was asked for.
    Exact,
    /// It is the nearest of those below the largest distance.
    Near,
    /// Nothing named was there, and `*` takes any.
    Any,
}

/// What a later range costs for each place it comes after the first (UTS #35: one more than a difference of
/// region): someone who asks for Catalan, then English gets English before Spanish.
const DEMOTION: usize = 5;

impl LocaleSet {
    /// The locale closest to a header's language ranges; none where nothing is near enough.
    ///
    /// A range costs the distance of UTS #35 language matching, and a fixed step for each place it stands behind
    /// the heaviest. Ranges of weight 0 are never chosen, by `*` neither. Of equals the first range wins, then
    /// the same tag, then a paradigm locale, then the order of the set.
    pub fn closest(&self, header: &AcceptLanguage<'_>) -> Option<Match> {
        let exclusions = Exclusions::of(header);
        let mut best: Option<(usize, Match)> = None;
        for (position, range) in header.ranges().iter().enumerate() {
            let demotion = position * DEMOTION;
            if best.is_some_and(|(cost, _)| cost <= demotion) {
                break;
            }
            let found = if range.is_wildcard() {
                // What was found for a heavier range is among `any` too, and nearer.
                if best.is_some() { None } else { self.any(header, exclusions.as_ref()) }
            } else {
                range_tag(range).and_then(|tag| self.nearest(&tag, exclusions.as_ref()))
            };
            if let Some(found) = found {
                let cost = demotion + usize::from(found.distance);
                if best.is_none_or(|(other, _)| cost < other) {
                    best = Some((cost, Match { range: u8::try_from(position).unwrap_or(u8::MAX), ..found }));
                }
            }
        }
        best.map(|(_, found)| found)
    }

    /// The same for one header line as it came: a first range that is a locale as it is written needs no further look.
    ///
    /// ```
    /// # use crow_fly_core::{accept::AcceptLanguage, locale_set::LocaleSet};
    /// let set = LocaleSet::parse(["en", "en-GB", "pl"])?;
    /// let header = b"en-GB,en;q=0.9,pl;q=0.8";
    /// assert_eq!(set.closest_in(header), set.closest(&AcceptLanguage::parse(header)));
    /// # Ok::<(), crow_fly_core::locale_set::LocaleSetError>(())
    /// ```
    pub fn closest_in(&self, header: &[u8]) -> Option<Match> {
        let first = first_range(header).and_then(plain_codes).and_then(|codes| self.exact_plain(codes));
        match first.filter(|locale| !self.is_draft(*locale)) {
            Some(locale) => Some(Match { locale, distance: 0, range: 0, kind: MatchKind::Exact }),
            None => self.closest_parsed(header),
        }
    }

    /// A function of its own: the short look at a header needs no room on the stack for its ranges.
    #[inline(never)]
    fn closest_parsed(&self, header: &[u8]) -> Option<Match> {
        self.closest(&AcceptLanguage::parse(header))
    }

    /// The locale closest to one tag: for a visitor's own setting.
    pub fn closest_to(&self, tag: &LanguageTag) -> Option<Match> {
        self.nearest(tag, None)
    }

    fn nearest(&self, tag: &LanguageTag, exclusions: Option<&Exclusions>) -> Option<Match> {
        let acceptable =
            |locale: LocaleId| exclusions.is_none_or(|exclusions| exclusions.allow(self.locale(locale)));
        let exact = self.exact(tag).or_else(|| {
            let words = (!tag.is_plain()).then(|| tag.without_extensions())?;
            self.exact(&words)
        });
        if let Some(locale) = exact.filter(|locale| !self.is_draft(*locale) && acceptable(*locale)) {
            return Some(Match { locale, distance: 0, range: 0, kind: MatchKind::Exact });
        }
        let canonical = tag.canonicalized();
        // `und` alone says nothing, though its likely language is English.
        if canonical.is_und() && canonical.region().is_none() && canonical.script().is_none() {
            return None;
        }
        let desired = maximize(canonical.codes());
        let mut best: Option<(u8, u16, LocaleId)> = None;
        let mut offer = |distance: u8, locale: LocaleId| {
            let key = (distance, self.nearness.rank(locale), locale);
            if distance < self.largest_distance && best.is_none_or(|best| key < best) {
                best = Some(key);
            }
        };
        self.nearness.candidates(desired.0, self.largest_distance, |language, groups| {
            for group in groups {
                let near = language.saturating_add(script(desired, group.maximal()));
                if near >= self.largest_distance {
                    continue;
                }
                if exclusions.is_some() || desired.1 != group.script {
                    for member in group.members.iter().copied().filter(|member| acceptable(*member)) {
                        offer(near.saturating_add(region(desired, self.locale(member).maximal)), member);
                    }
                } else if let Some(member) =
                    self.nearness.by_maximal.get(&(group.language, group.script, desired.2))
                {
                    offer(near, *member);
                } else if language > 0 {
                    // Across languages the general row holds for every region, so the first member is as near as any.
                    if let Some(member) = group.members.first() {
                        offer(near.saturating_add(region(desired, self.locale(*member).maximal)), *member);
                    }
                } else {
                    let class = usize::from(matching::region_class(desired.2));
                    if let Some((distance, member)) = group.by_class.get(class) {
                        offer(near.saturating_add(*distance), *member);
                    }
                }
            }
        });
        best.map(|(distance, _, locale)| Match { locale, distance, range: 0, kind: MatchKind::Near })
    }

    /// What `*` gives: the default, or else the first locale that is acceptable and whose language no range names.
    fn any(&self, header: &AcceptLanguage<'_>, exclusions: Option<&Exclusions>) -> Option<Match> {
        let named = |locale: &Locale| {
            let ranges = header.ranges().iter().chain(header.excluded());
            ranges
                .filter_map(range_tag)
                .any(|tag| maximize(tag.canonicalized().codes()).0 == locale.maximal.0)
        };
        let free = |id: &LocaleId| {
            let locale = self.locale(*id);
            !locale.draft && !named(locale) && exclusions.is_none_or(|exclusions| exclusions.allow(locale))
        };
        let locale =
            core::iter::once(self.default_locale()).chain(self.iter().map(|(id, _)| id)).find(free)?;
        Some(Match { locale, distance: 0, range: 0, kind: MatchKind::Any })
    }

    fn locale(&self, id: LocaleId) -> &Locale {
        // Ids come from this set; the first stands in for any other, and a set is never empty.
        self.locales.get(id.index()).unwrap_or(&self.locales[0])
    }
}

fn range_tag(range: &WeightedRange<'_>) -> Option<LanguageTag> {
    plain(range.as_bytes()).or_else(|| LanguageTag::parse(range.as_str()).ok())
}

/// What a header does not want: made only where it names such a range.
struct Exclusions {
    /// Each range as a tag, and whether it is acceptable.
    ranges: Vec<(LanguageTag, bool)>,
    /// Whether languages that no range names are acceptable.
    others: bool,
}

impl Exclusions {
    fn of(header: &AcceptLanguage<'_>) -> Option<Self> {
        if header.excluded().is_empty() {
            return None;
        }
        let all = header.ranges().iter().chain(header.excluded());
        let ranges =
            all.filter_map(|range| Some((range_tag(range)?.canonicalized(), range.weight() > 0))).collect();
        Some(Self { ranges, others: !header.excluded().iter().any(WeightedRange::is_wildcard) })
    }

    /// The most exact range that covers the locale decides; `*` decides for languages that none names.
    fn allow(&self, locale: &Locale) -> bool {
        let (language, script, region) = locale.tag.codes();
        let script = if script == 0 { locale.maximal.1 } else { script };
        let covers = |range: &LanguageTag| {
            let wanted = range.codes();
            wanted.0 == language
                && (wanted.1 == 0 || wanted.1 == script)
                && (wanted.2 == 0 || wanted.2 == region)
        };
        let exactness =
            |range: &LanguageTag| u8::from(range.script().is_some()) + u8::from(range.region().is_some());
        let covering = self.ranges.iter().filter(|(range, _)| covers(range));
        match covering.max_by_key(|(range, wanted)| (exactness(range), !*wanted)) {
            Some((_, wanted)) => *wanted,
            None => {
                self.others
                    || self.ranges.iter().any(|(range, wanted)| *wanted && range.codes().0 == language)
            }
        }
    }
}

/// The index: supported locales by language and script, with the nearest of them for each class of regions.
#[derive(Clone, Default)]
pub(super) struct Nearness {
    groups: HashMap<u64, Vec<Group>>,
    /// The best locale of each maximal tag.
    by_maximal: HashMap<Maximal, LocaleId>,
    /// Supported languages near a desired one, with the distance.
    near: HashMap<u64, Vec<(u64, u8)>>,
    /// For each locale: paradigm locales first, then the order of the set.
    ranks: Vec<u16>,
}

/// The locales of one language and script.
#[derive(Clone)]
struct Group {
    language: u64,
    script: Code,
    /// By rank.
    members: Vec<LocaleId>,
    /// The nearest member, and its distance, for another region of each class.
    by_class: Vec<(u8, LocaleId)>,
}

impl Group {
    fn maximal(&self) -> Maximal {
        (self.language, self.script, 0)
    }
}

impl Nearness {
    pub(super) fn of(locales: &[Locale]) -> Self {
        let paradigms: Vec<Maximal> = matching::paradigms()
            .map(|(language, script, region)| maximize((u64::from(language) << 32, script, region)))
            .collect();
        let mut order: Vec<u16> = (0..u16::try_from(locales.len()).unwrap_or(u16::MAX)).collect();
        let place = |at: &u16| locales.get(usize::from(*at));
        order.sort_by_key(|at| place(at).is_some_and(|locale| !paradigms.contains(&locale.maximal)));
        let mut index = Self { ranks: alloc::vec![0; locales.len()], ..Self::default() };
        for (rank, at) in (0..).zip(&order) {
            let Some(locale) = place(at) else { continue };
            if let Some(slot) = index.ranks.get_mut(usize::from(*at)) {
                *slot = rank;
            }
            if locale.draft {
                continue;
            }
            let (language, script, _) = locale.maximal;
            index.by_maximal.entry(locale.maximal).or_insert(LocaleId(*at));
            let groups = index.groups.entry(language).or_default();
            match groups.iter_mut().find(|group| group.script == script) {
                Some(group) => group.members.push(LocaleId(*at)),
                None => groups.push(Group {
                    language,
                    script,
                    members: alloc::vec![LocaleId(*at)],
                    by_class: Vec::new(),
                }),
            }
        }
        for group in index.groups.values_mut().flatten() {
            group.by_class = (0..matching::REGION_CLASSES)
                .filter_map(|class| nearest_of_class(group, class, locales))
                .collect();
        }
        index.join_languages();
        index
    }

    /// Notes for each desired language of the data which near ones are supported.
    fn join_languages(&mut self) {
        for desired in matching::desired_languages() {
            let known =
                matching::languages(desired).map(|(near, distance)| (u64::from(near) << 32, distance));
            let known: Vec<_> = known.filter(|(near, _)| self.groups.contains_key(near)).collect();
            if !known.is_empty() {
                self.near.insert(u64::from(desired) << 32, known);
            }
        }
    }

    fn rank(&self, locale: LocaleId) -> u16 {
        self.ranks.get(locale.index()).copied().unwrap_or(u16::MAX)
    }

    /// Calls back with each supported language below the limit, its distance and its groups.
    fn candidates(&self, desired: u64, limit: u8, mut take: impl FnMut(u8, &[Group])) {
        if limit > matching::LANGUAGE_DEFAULT {
            for (supported, groups) in &self.groups {
                take(language(desired, *supported), groups);
            }
            return;
        }
        if let Some(groups) = self.groups.get(&desired) {
            take(0, groups);
        }
        for (supported, distance) in self.near.get(&desired).into_iter().flatten() {
            if let Some(groups) = self.groups.get(supported) {
                take(*distance, groups);
            }
        }
    }
}

fn nearest_of_class(group: &Group, class: usize, locales: &[Locale]) -> Option<(u8, LocaleId)> {
    let language = table_code(group.language).unwrap_or(0);
    let class = u8::try_from(class).ok()?;
    let distance = |member: &LocaleId| {
        let region = locales.get(member.index()).map_or(0, |locale| locale.maximal.2);
        matching::region_distance(language, group.script, class, matching::region_class(region))
    };
    // `min_by_key` keeps the first of equals, and members stand by rank.
    group.members.iter().map(|member| (distance(member), *member)).min_by_key(|(distance, _)| *distance)
}

/// The distance of a locale of the set from a tag, as the index would give it; for explanations.
impl LocaleSet {
    /// How far a locale of the set is from a desired tag.
    pub fn distance_from(&self, desired: &LanguageTag, locale: LocaleId) -> u8 {
        between(maximize(desired.canonicalized().codes()), self.locale(locale).maximal)
    }
}
