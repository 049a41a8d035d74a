//! The data of locales: what is not needed to understand a language tag, but to write in its language.
//!
//! With the feature `full-data` a program has that of all of CLDR's locales. Without it a program has that of the root
//! alone, until it [installs](install) the data of the languages it needs, which a build script [makes](of_languages).
//!
//! The data, little-endian throughout:
//!
//! | part | bytes |
//! |---|---|
//! | head | [`MARK`], `u32` of the version that the tables have, `u16` blocks |
//! | blocks | `u16` of file and language, `u32` of where the block ends; sorted |
//! | texts | the blocks one after the other, each compressed (RFC 1951) |
//!
//! A block has the texts of a language in one file. For each locale of the language, in the order of `LOCALES`: how many texts
//! it has that it does not inherit, and the keys of them, each as its distance from the one before. Behind them all the
//! texts, in the same order, with a zero after each. Numbers are of seven bits a byte, the low ones first.

use alloc::boxed::Box;
use alloc::string::String;
use alloc::vec::Vec;
use core::fmt;

use miniz_oxide::inflate::decompress_to_vec_with_limit;
use once_cell::race::OnceBox;

use crate::generated::locales::{FORMAT, LANGUAGES, LOCALES};
use crate::key_list::Key;
use crate::keys::calendars::FILES as CALENDARS;

/// What data starts with.
pub const MARK: [u8; 8] = *b"locales\n";

/// The place of the file that all calendars but the Gregorian share; those of the calendars come after it.
pub(crate) const GENERIC_FILE: u8 = 6;

/// The place of the file of names of time zones.
#[allow(clippy::cast_possible_truncation, reason = "there are nine calendars")]
pub(crate) const ZONES_FILE: u8 = GENERIC_FILE + 1 + CALENDARS.len() as u8;

/// The place of the file of all names, which is the last.
pub(crate) const NAMES_FILE: u8 = ZONES_FILE + 1;

/// How many files of texts there are.
pub(crate) const FILES: usize = NAMES_FILE as usize + 1;

/// Where a locale inherits from none.
pub(crate) const ROOT: u16 = u16::MAX;

const HEAD: usize = 14;
const BLOCK: usize = 6;

/// The largest block that is opened; the largest of CLDR has 80 kB.
const LARGEST: usize = 1 << 20;

/// What a program has without `full-data` and before data is installed: the root.
#[cfg(not(feature = "full-data"))]
pub(crate) static BUILT_IN: &[&[u8]] = &[include_bytes!("generated/root.bin")];
#[cfg(feature = "full-data")]
pub(crate) static BUILT_IN: &[&[u8]] = &[
    include_bytes!("generated/locales.bin"),
    #[cfg(feature = "calendars")]
    include_bytes!("generated/calendars.bin"),
    #[cfg(feature = "zone-names")]
    include_bytes!("generated/zone_names.bin"),
    #[cfg(feature = "names")]
    include_bytes!("generated/names.bin"),
];

static DATA: OnceBox<Data> = OnceBox::new();

/// A locale of CLDR.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Locale {
    /// Its language, among `LANGUAGES`.
    language: u16,
    /// Its place among the locales of the language.
    place: u16,
    /// The locale it inherits from, among `LOCALES`.
    parent: u16,
}

/// The data of a program.
pub(crate) struct Data {
    /// What was installed; none where it is what is built in.
    installed: Option<&'static [u8]>,
    /// By file, then by language.
    slots: Vec<Slot>,
}

/// The place of a block.
#[derive(Default)]
struct Slot {
    /// None where the data has no such block.
    compressed: Option<&'static [u8]>,
    /// None where it is damaged.
    opened: OnceBox<Option<Block>>,
}

/// The texts of one language in one file, opened.
struct Block {
    /// Where the entries of each locale of the language start, and where the last ones end.
    locales: Vec<u32>,
    /// The keys of the entries, sorted within a locale.
    keys: Vec<u16>,
    /// Where the text of each entry ends.
    ends: Vec<u32>,
    texts: String,
}

/// Why data cannot be installed.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[non_exhaustive]
pub enum InstallError {
    /// The bytes are not data of locales.
    NotData,
    /// The data is of another version of this library.
    OtherVersion,
    /// Something has been formatted already, or other data installed.
    TooLate,
}

impl fmt::Display for InstallError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Self::NotData => "these bytes are not data of locales; install the file that the build script has written",
            Self::OtherVersion => {
                "the data of locales is of another version; the build script needs the same version of this library as the program"
            }
            Self::TooLate => {
                "data of locales is in use already; install it once, before anything else is done with a locale"
            }
        })
    }
}

impl core::error::Error for InstallError {}

/// Installs data of locales, in place of what is built in: once, before anything else is done with a locale. The same
/// data may be installed again.
///
/// # Errors
/// Where the bytes are not data of this version, or other data is in use.
pub fn install(bytes: &'static [u8]) -> Result<(), InstallError> {
    if bytes.get(..MARK.len()) != Some(&MARK[..]) {
        return Err(InstallError::NotData);
    }
    if u32_at(bytes, MARK.len()) != Some(FORMAT) {
        return Err(InstallError::OtherVersion);
    }
    if blocks(bytes).last().is_none_or(|(_, block)| block.is_none()) {
        return Err(InstallError::NotData);
    }
    match DATA.set(Box::new(Data::new(&[bytes], Some(bytes)))) {
        Ok(()) => Ok(()),
        Err(_) if data().installed == Some(bytes) => Ok(()),
        Err(_) => Err(InstallError::TooLate),
    }
}

/// The data of some locales: of their languages with all their locales, of those they inherit from, and of the root: what a
/// program [installs](install). Languages that CLDR does not have are left out. A calendar is in it for a language where the
/// region of one of the locales prefers it, or its `-u-ca-` names it; with `every_calendar` all are, as far as this program
/// has them. With the features `zone-names` and `names` the names of all time zones and languages in these are in it, too.
#[cfg(feature = "full-data")]
pub fn of_languages<'a>(locales: impl IntoIterator<Item = &'a str>, every_calendar: bool) -> Vec<u8> {
    use alloc::collections::BTreeSet;

    let mut wanted = BTreeSet::new();
    let mut waiting: Vec<(u16, u16)> = Vec::new();
    for tag in locales.into_iter().chain(["und"]) {
        waiting.extend(
            language(tag)
                .into_iter()
                .flat_map(|language| files_of(tag, every_calendar).map(move |file| (file, language))),
        );
    }
    while let Some((file, language)) = waiting.pop() {
        if wanted.insert((file, language)) {
            let parents = of_language(language).filter_map(|locale| locale_at(locale)?.parent());
            waiting.extend(parents.map(|parent| (file, parent.language)));
        }
    }
    let chosen: Vec<(u16, &[u8])> = BUILT_IN
        .iter()
        .flat_map(|part| blocks(part))
        .filter(|(id, _)| wanted.contains(&(*id / LANGUAGE_COUNT, *id % LANGUAGE_COUNT)))
        .filter_map(|(id, block)| Some((id, block?)))
        .collect();
    join(FORMAT, &chosen)
}

/// The files that the data of a locale has: all but those of calendars that it has no use for.
#[cfg(feature = "full-data")]
fn files_of(tag: &str, every_calendar: bool) -> impl Iterator<Item = u16> + use<> {
    let calendar = calendar_of(tag);
    let wanted: Vec<bool> =
        CALENDARS.iter().map(|name| every_calendar || calendar.as_deref() == Some(name)).collect();
    (0..=NAMES_FILE).map(u16::from).filter(move |file| {
        match usize::from(*file).checked_sub(usize::from(GENERIC_FILE)) {
            Some(0) => wanted.contains(&true),
            Some(after) => wanted.get(after - 1).copied().unwrap_or(true),
            None => true,
        }
    })
}

/// The file of the calendar that a tag names, or the region prefers that it names or is likely for it.
#[cfg(feature = "full-data")]
fn calendar_of(tag: &str) -> Option<String> {
    let tag = tag.to_ascii_lowercase();
    let (plain, keywords) = tag.split_once("-u-").unwrap_or((&tag, ""));
    let keyword = |key: &str| keywords.split('-').skip_while(|subtag| *subtag != key).nth(1);
    if let Some(calendar) = keyword("ca") {
        return Some(String::from(if calendar == "islamicc" { "islamic" } else { calendar }));
    }
    let language = crate::code(plain.split('-').next()?.as_bytes());
    let subtag = |is_it: fn(&&str) -> bool| plain.split('-').skip(1).find(is_it);
    let is_region = |subtag: &&str| matches!(subtag.as_bytes(), [_, _] | [b'0'..=b'9', _, _]);
    let likely = || {
        let script = subtag(|subtag| subtag.len() == 4).map_or(0, |script| {
            let (first, rest) = script.split_at_checked(1).unwrap_or(("", script));
            crate::code(&[first.to_ascii_uppercase().as_bytes(), rest.as_bytes()].concat())
        });
        let of_parts = crate::likely::parts(language, script, 0).map(|parts| parts.2);
        let region = of_parts.or_else(|| Some(crate::likely::language(language)?.1))?;
        String::from_utf8(region.to_be_bytes().to_vec()).ok()
    };
    let named = keyword("rg").or_else(|| subtag(is_region)).map(str::to_ascii_uppercase);
    crate::supplement::calendar(named.or_else(likely)?.get(..2)?).map(String::from)
}

/// Data of blocks, sorted by what they hold, for tables of a version: for the generator of the tables.
#[cfg(feature = "full-data")]
pub fn join(format: u32, blocks: &[(u16, &[u8])]) -> Vec<u8> {
    let mut bytes = MARK.to_vec();
    bytes.extend(format.to_le_bytes());
    bytes.extend(u16::try_from(blocks.len()).unwrap_or(u16::MAX).to_le_bytes());
    let mut end = 0;
    for (id, block) in blocks {
        end += u32::try_from(block.len()).unwrap_or(u32::MAX);
        bytes.extend(id.to_le_bytes());
        bytes.extend(end.to_le_bytes());
    }
    bytes.extend(blocks.iter().flat_map(|(_, block)| block.iter().copied()));
    bytes
}

/// Whether CLDR has the locale, and whether the data of this program has it.
pub fn has(locale: &str) -> Option<bool> {
    self::locale(locale).map(|locale| data().has(0, locale))
}

/// Whether the data of this program has every locale of CLDR.
pub fn is_full() -> bool {
    cfg!(feature = "full-data") && data().installed.is_none()
}

/// The data in use: what was installed, or is built in.
pub(crate) fn data() -> &'static Data {
    DATA.get_or_init(|| Box::new(Data::new(BUILT_IN, None)))
}

/// A locale of CLDR, by its name.
pub(crate) fn locale(name: &str) -> Option<Locale> {
    let at = LOCALES.binary_search_by(|row| text(&row.0).cmp(name.as_bytes())).ok()?;
    locale_at(u16::try_from(at).ok()?)
}

/// A locale of CLDR, by its place.
fn locale_at(at: u16) -> Option<Locale> {
    let row = LOCALES.get(usize::from(at))?;
    let language = LANGUAGES.partition_point(|first| *first <= at).checked_sub(1)?;
    let place = at.checked_sub(*LANGUAGES.get(language)?)?;
    Some(Locale { language: u16::try_from(language).ok()?, place, parent: row.1 })
}

/// Every locale of CLDR, with its name.
pub(crate) fn locales() -> impl Iterator<Item = (Locale, &'static str)> {
    (0..)
        .zip(LOCALES.iter())
        .filter_map(|(at, row)| Some((locale_at(at)?, core::str::from_utf8(text(&row.0)).ok()?)))
}

fn text(padded: &[u8; 14]) -> &[u8] {
    let end = padded.iter().position(|byte| *byte == 0).unwrap_or(padded.len());
    padded.get(..end).unwrap_or_default()
}

#[allow(clippy::cast_possible_truncation, reason = "LANGUAGES has some hundreds of rows")]
const LANGUAGE_COUNT: u16 = LANGUAGES.len() as u16 - 1;

/// Whether CLDR has the language of a tag.
#[cfg(feature = "full-data")]
pub fn has_language(tag: &str) -> bool {
    language(tag).is_some()
}

/// The place of a language, by the tag of a locale of it or its own.
#[cfg(feature = "full-data")]
fn language(tag: &str) -> Option<u16> {
    locale(tag.split('-').next()?).map(|locale| locale.language)
}

/// The locales of a language.
fn of_language(language: u16) -> core::ops::Range<u16> {
    let at = |language: u16| LANGUAGES.get(usize::from(language)).copied().unwrap_or_default();
    at(language)..at(language + 1)
}

impl Locale {
    fn parent(self) -> Option<Self> {
        if self.parent == ROOT { None } else { locale_at(self.parent) }
    }
}

/// The blocks of a part, with what each holds; none for one that is not there.
fn blocks(bytes: &'static [u8]) -> impl Iterator<Item = (u16, Option<&'static [u8]>)> {
    let count = usize::from(u16_at(bytes, HEAD - 2).unwrap_or(0));
    let start = HEAD + count * BLOCK;
    let end = move |at: usize| u32_at(bytes, HEAD + at * BLOCK + 2).map(|end| start + end as usize);
    (0..count).filter_map(move |at| {
        let from = if at == 0 { Some(start) } else { end(at - 1) };
        Some((
            u16_at(bytes, HEAD + at * BLOCK)?,
            from.zip(end(at)).and_then(|(from, to)| bytes.get(from..to)),
        ))
    })
}

fn u16_at(bytes: &[u8], at: usize) -> Option<u16> {
    Some(u16::from_le_bytes(*bytes.get(at..)?.first_chunk()?))
}

fn u32_at(bytes: &[u8], at: usize) -> Option<u32> {
    Some(u32::from_le_bytes(*bytes.get(at..)?.first_chunk()?))
}

impl fmt::Debug for Data {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let opened = self.slots.iter().filter(|slot| slot.opened.get().is_some()).count();
        f.debug_struct("Data").field("opened", &opened).finish_non_exhaustive()
    }
}

impl Data {
    pub(crate) fn new(parts: &[&'static [u8]], installed: Option<&'static [u8]>) -> Self {
        let mut slots = Vec::new();
        slots.resize_with(FILES * usize::from(LANGUAGE_COUNT), Slot::default);
        for (place, block) in parts.iter().flat_map(|part| blocks(part)) {
            if let Some(slot) = slots.get_mut(usize::from(place)) {
                slot.compressed = block;
            }
        }
        Self { installed, slots }
    }

    fn slot(&self, file: u8, language: u16) -> Option<&Slot> {
        self.slots.get(usize::from(file) * usize::from(LANGUAGE_COUNT) + usize::from(language))
    }

    /// Whether a file has the texts of a locale. Nothing is opened.
    pub(crate) fn has(&self, file: u8, locale: Locale) -> bool {
        self.slot(file, locale.language).is_some_and(|slot| slot.compressed.is_some())
    }

    /// The text of a key in a locale, or in one it inherits from.
    pub(crate) fn text(&self, file: u8, locale: Locale, key: Key) -> Option<&str> {
        // No locale has more than four above it.
        core::iter::successors(Some(locale), |locale| locale.parent())
            .take(8)
            .find_map(|locale| self.block(file, locale.language)?.text(usize::from(locale.place), key))
    }

    fn block(&self, file: u8, language: u16) -> Option<&Block> {
        let slot = self.slot(file, language)?;
        let open = || {
            let bytes = unpacked(slot.compressed?)?;
            Block::open(&bytes, of_language(language).len())
        };
        slot.opened.get_or_init(|| Box::new(open())).as_ref()
    }
}

/// The bytes of a block; none where it is damaged, or larger than any that there is.
fn unpacked(compressed: &[u8]) -> Option<Vec<u8>> {
    decompress_to_vec_with_limit(compressed, LARGEST).ok()
}

impl Block {
    /// Reads a block of so many locales; none where it is damaged.
    fn open(bytes: &[u8], locales: usize) -> Option<Self> {
        let mut rest = bytes;
        let (mut starts, mut keys) = (Vec::with_capacity(locales + 1), Vec::new());
        for _ in 0..locales {
            starts.push(u32::try_from(keys.len()).ok()?);
            let mut next = 0_u32;
            for _ in 0..number(&mut rest)? {
                let key = next.checked_add(number(&mut rest)?)?;
                keys.push(u16::try_from(key).ok()?);
                next = key + 1;
            }
        }
        starts.push(u32::try_from(keys.len()).ok()?);
        let (mut ends, mut texts) = (Vec::with_capacity(keys.len()), String::with_capacity(rest.len()));
        for text in core::str::from_utf8(rest).ok()?.split_terminator('\0') {
            texts.push_str(text);
            ends.push(u32::try_from(texts.len()).ok()?);
        }
        texts.shrink_to_fit();
        keys.shrink_to_fit();
        (ends.len() == keys.len()).then_some(Self { locales: starts, keys, ends, texts })
    }

    /// The text of a key in a locale of the language.
    fn text(&self, locale: usize, key: Key) -> Option<&str> {
        let (first, last) = (*self.locales.get(locale)? as usize, *self.locales.get(locale + 1)? as usize);
        let at = first + self.keys.get(first..last)?.binary_search(&key.0).ok()?;
        let start = if at == 0 { 0 } else { *self.ends.get(at - 1)? };
        self.texts.get(start as usize..*self.ends.get(at)? as usize)
    }
}

/// Takes a number from the front.
fn number(bytes: &mut &[u8]) -> Option<u32> {
    let mut number = 0;
    for shift in [0, 7, 14, 21] {
        let (first, rest) = bytes.split_first()?;
        *bytes = rest;
        number |= u32::from(first & 0x7f) << shift;
        if first & 0x80 == 0 {
            return Some(number);
        }
    }
    None
}

#[cfg(all(test, feature = "full-data"))]
mod tests {
    use super::*;

    fn leaked(bytes: Vec<u8>) -> &'static [u8] {
        Box::leak(bytes.into_boxed_slice())
    }

    #[test]
    fn data_of_all_languages_is_all_of_it() {
        let all = of_languages(locales().map(|(_, name)| name), true);
        let blocks = |bytes: &'static [u8]| blocks(bytes).count();
        assert_eq!(blocks(leaked(all)), BUILT_IN.iter().map(|part| blocks(part)).sum::<usize>());
    }

    #[test]
    fn damaged_data_has_no_texts_and_does_no_harm() {
        let whole = of_languages(["cy"], false);
        let welsh = locale("cy").expect("CLDR has Welsh");
        for end in [0, 5, HEAD - 1, HEAD, HEAD + 3, HEAD + 20, whole.len() / 2] {
            let damaged = Data::new(&[leaked(whole[..end].to_vec())], None);
            for file in 0..6 {
                let _ = damaged.text(file, welsh, Key(3));
                assert_eq!(damaged.text(file, welsh, Key(u16::MAX)), None);
            }
        }
        for byte in (HEAD..whole.len()).step_by(61) {
            let mut changed = whole.clone();
            changed[byte] ^= 0x5a;
            let changed = Data::new(&[leaked(changed)], None);
            for file in 0..6 {
                let _ = changed.text(file, welsh, Key(3));
            }
        }
    }

    #[test]
    fn a_block_that_grows_beyond_a_mebibyte_is_not_opened() {
        for (length, opens) in [(0, true), (LARGEST, true), (LARGEST + 1, false), (LARGEST * 64, false)] {
            let block = miniz_oxide::deflate::compress_to_vec(&alloc::vec![0; length], 6);
            assert_eq!(unpacked(&block).map(|bytes| bytes.len()), opens.then_some(length));
        }
    }

    #[test]
    fn only_data_of_this_version_is_installed_and_only_in_time() {
        assert_eq!(install(b"something else"), Err(InstallError::NotData));
        let mut other = of_languages(["cy"], false);
        other[MARK.len()] ^= 1;
        assert_eq!(install(leaked(other)), Err(InstallError::OtherVersion));
        let mut cut = of_languages(["cy"], false);
        cut.pop();
        assert_eq!(install(leaked(cut)), Err(InstallError::NotData));
        assert!(is_full());
        assert_eq!(install(leaked(of_languages(["cy"], false))), Err(InstallError::TooLate));
    }
}
