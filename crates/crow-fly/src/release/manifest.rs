//! The manifest of a release: its files by their hashes, its messages, and what they require.

use std::collections::{BTreeMap, BTreeSet};
use std::str::FromStr;
#[cfg(any(feature = "releases", feature = "http-source"))]
use std::sync::Arc;

use crow_fly_core::catalog::{CatalogPath, FileFormat, SectionSource};
#[cfg(feature = "releases")]
use crow_fly_core::message::Functions;
use crow_fly_core::message::Requirements;
use crow_fly_core::tag::LanguageTag;
use serde::{Deserialize, Serialize};

use super::error::ReleaseError;
use super::id::{ReleaseId, Sha256Hash};
use crate::config::Parameters;
use crate::source::ListedFile;
#[cfg(any(feature = "releases", feature = "http-source"))]
use crate::source::Listing;

/// What a release is made of. As JSON:
///
/// ```json
/// {
///   "format": 1,
///   "files": [{ "path": "en/booking.toml", "sha256": "…64 digits…", "bytes": 5120 }],
///   "messages": { "booking.seats-left": ["seats"] },
///   "requires": { "functions": ["integer"], "currencies": ["EUR"], "units": [], "locales": ["en"] }
/// }
/// ```
#[derive(Clone, Debug, PartialEq, Eq, Deserialize, Serialize)]
pub struct Manifest {
    format: u32,
    files: Vec<ManifestFile>,
    /// The parameters of each message, in any locale.
    #[serde(default)]
    messages: Parameters,
    #[serde(default)]
    requires: Requirements,
}

/// A file of a release.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Deserialize, Serialize)]
pub struct ManifestFile {
    path: String,
    sha256: Sha256Hash,
    bytes: u64,
}

/// The files of a manifest, by what a source lists them as.
#[cfg(any(feature = "releases", feature = "http-source"))]
#[derive(Debug)]
pub(crate) struct ListedFiles(BTreeMap<ListedFile, ManifestFile>);

#[cfg(any(feature = "releases", feature = "http-source"))]
impl ListedFiles {
    pub(crate) fn of(manifest: &Manifest) -> Self {
        let listed = |file: &ManifestFile| Some((file.listed()?, file.clone()));
        Self(manifest.files.iter().filter_map(listed).collect())
    }

    /// The file that was listed.
    pub(crate) fn get(&self, listed: &ListedFile) -> Option<&ManifestFile> {
        self.0.get(&listed.without_origin())
    }

    #[cfg(feature = "releases")]
    pub(crate) fn iter(&self) -> impl Iterator<Item = (&ListedFile, &ManifestFile)> {
        self.0.iter()
    }

    /// The files of some locales as a listing, found below a place. Locales without files are named.
    pub(crate) fn listing(&self, locales: &[String], place: &str) -> Listing {
        let root = Arc::from(place);
        let wanted: BTreeSet<&str> = locales.iter().map(String::as_str).collect();
        let files = self.0.keys().filter(|listed| wanted.contains(listed.locale()));
        let listing = Listing::new(files.map(|listed| listed.clone().found_below(&root)));
        let present: BTreeSet<&str> = self.0.keys().map(ListedFile::locale).collect();
        let absent = locales.iter().filter(|locale| !present.contains(locale.as_str()));
        absent.fold(listing, Listing::without)
    }
}

impl ManifestFile {
    /// A file with these bytes.
    pub fn new(path: impl Into<String>, bytes: &[u8]) -> Self {
        Self { path: path.into(), sha256: Sha256Hash::of(bytes), bytes: bytes.len() as u64 }
    }

    /// Its path: `en/booking.toml`, or `en.toml` for all sections of a locale.
    pub fn path(&self) -> &str {
        &self.path
    }

    /// The hash of its bytes.
    pub const fn sha256(&self) -> Sha256Hash {
        self.sha256
    }

    /// How many bytes it has.
    pub const fn bytes(&self) -> u64 {
        self.bytes
    }

    /// The locale, the section, and how it is written; no section where it has all of its locale. None where its path is
    /// not that of a catalog.
    pub fn catalog(&self) -> Option<(String, Option<String>, FileFormat)> {
        let listed = self.listed()?;
        Some((listed.locale().to_owned(), listed.section_name().map(ToOwned::to_owned), listed.format()))
    }

    /// The file of a listing that it is; none where its path is not that of a catalog.
    pub(crate) fn listed(&self) -> Option<ListedFile> {
        let path = CatalogPath::parse(&self.path)?;
        let is_tag =
            LanguageTag::parse(path.locale).is_ok_and(|tag| tag.canonicalized().to_string() == path.locale);
        (is_tag && path.has_section_name()).then(|| ListedFile::of_path(&path, self.sha256.version()))
    }

    /// Whether these are its bytes.
    ///
    /// # Errors
    /// Where they are not.
    #[cfg(any(feature = "releases", feature = "http-source"))]
    pub(crate) fn verify(&self, bytes: &[u8]) -> Result<(), ReleaseError> {
        if bytes.len() as u64 != self.bytes {
            let reason = format!("it has {} bytes, and should have {}", bytes.len(), self.bytes);
            return Err(ReleaseError::damaged(&self.path, reason));
        }
        if Sha256Hash::of(bytes) != self.sha256 {
            return Err(ReleaseError::damaged(&self.path, "its bytes are not those that were published"));
        }
        Ok(())
    }
}

impl Manifest {
    /// The layout of manifests that this program reads and writes.
    pub const FORMAT: u32 = 1;

    /// The longest manifest that is read, in bytes.
    pub const MAX_LENGTH: usize = 16 << 20;

    /// A manifest of files, messages and what they require.
    #[cfg(feature = "releases")]
    pub(super) fn new(mut files: Vec<ManifestFile>, messages: Parameters, requires: Requirements) -> Self {
        files.sort_unstable();
        Self { format: Self::FORMAT, files, messages, requires }
    }

    /// Reads a manifest.
    ///
    /// # Errors
    /// Where it is not one, is of a layout that this program does not know, or names what is not a catalog.
    pub fn from_json(bytes: &[u8]) -> Result<Self, ReleaseError> {
        /// The part that every layout has.
        #[derive(Deserialize)]
        struct Head {
            format: u32,
        }

        let wrong = |error: serde_json::Error| ReleaseError::damaged("manifest", error);
        let Head { format } = serde_json::from_slice(bytes).map_err(wrong)?;
        if format != Self::FORMAT {
            let reason = format!("its format is {format}, and this program reads format {}", Self::FORMAT);
            return Err(ReleaseError::damaged("manifest", reason));
        }
        let manifest: Self = serde_json::from_slice(bytes).map_err(wrong)?;
        let mut paths = BTreeSet::new();
        for file in &manifest.files {
            if !paths.insert(&file.path) {
                return Err(ReleaseError::damaged("manifest", format!("`{}` is there twice", file.path)));
            }
            if file.listed().is_none() {
                let reason = format!("`{}` is not the path of a catalog", file.path);
                return Err(ReleaseError::damaged("manifest", reason));
            }
            if file.bytes > SectionSource::MAX_LENGTH as u64 {
                return Err(ReleaseError::damaged("manifest", format!("`{}` is too large", file.path)));
            }
        }
        Ok(manifest)
    }

    /// The manifest as it is published.
    pub fn to_json(&self) -> Vec<u8> {
        // It holds nothing that JSON cannot.
        let mut json = serde_json::to_vec_pretty(self).unwrap_or_default();
        json.push(b'\n');
        json
    }

    /// The files, sorted by path.
    pub fn files(&self) -> &[ManifestFile] {
        &self.files
    }

    /// The keys of all messages, each with the parameters it has in any locale.
    pub fn messages(&self) -> impl Iterator<Item = (&str, impl Iterator<Item = &str>)> {
        self.messages.iter().map(|(key, parameters)| (key.as_str(), parameters.iter().map(String::as_str)))
    }

    /// What the messages require of a program.
    pub const fn requires(&self) -> &Requirements {
        &self.requires
    }

    /// Checks that a program goes with it: that it has what the messages require, and the messages what it uses.
    #[cfg(feature = "releases")]
    pub(crate) fn check(
        &self,
        functions: &Functions,
        has_markup: impl Fn(&str) -> bool,
        used: &Parameters,
    ) -> Result<(), ReleaseError> {
        let lacking = self.requires.lacking(functions, has_markup);
        if !lacking.is_empty() {
            return Err(ReleaseError::Lacking(lacking));
        }
        let mut wrong = Vec::new();
        for (key, given) in used {
            match self.messages.get(key) {
                None => wrong.push(format!("the release has no message `{key}`")),
                Some(parameters) => wrong.extend(parameters.difference(given).map(|parameter| {
                    format!("the message `{key}` needs `${parameter}`, which this program does not give")
                })),
            }
        }
        if wrong.is_empty() { Ok(()) } else { Err(ReleaseError::Messages(wrong)) }
    }
}

impl FromStr for Sha256Hash {
    type Err = ReleaseError;

    fn from_str(text: &str) -> Result<Self, ReleaseError> {
        let wrong =
            || ReleaseError::damaged(text, "it is not a SHA-256 hash: 64 digits from 0 to 9 and a to f");
        let digit = |digit: &u8| char::from(*digit).to_digit(16).filter(|_| !digit.is_ascii_uppercase());
        let (pairs, rest) = text.as_bytes().as_chunks::<2>();
        if pairs.len() != 32 || !rest.is_empty() {
            return Err(wrong());
        }
        let mut hash = [0; 32];
        for (byte, [high, low]) in hash.iter_mut().zip(pairs) {
            let value =
                digit(high).zip(digit(low)).and_then(|(high, low)| u8::try_from(high * 16 + low).ok());
            *byte = value.ok_or_else(wrong)?;
        }
        Ok(Self(hash))
    }
}

impl TryFrom<String> for Sha256Hash {
    type Error = ReleaseError;

    fn try_from(text: String) -> Result<Self, ReleaseError> {
        text.parse()
    }
}

impl FromStr for ReleaseId {
    type Err = ReleaseError;

    fn from_str(text: &str) -> Result<Self, ReleaseError> {
        text.parse().map(Self)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn file(path: &str) -> ManifestFile {
        ManifestFile::new(path, b"title = 'Ferries'")
    }

    #[test]
    fn a_path_of_a_manifest_is_that_of_a_catalog_or_refused() {
        for path in ["en/home.toml", "en.json", "zh-Hant-TW/a_b-2.json"] {
            assert!(file(path).listed().is_some(), "{path}");
        }
        for path in [
            "",
            ".toml",
            "en",
            "en/home",
            "en/home.yaml",
            "../home.toml",
            "en/../home.toml",
            "/en/home.toml",
            "en//home.toml",
            "en/home page.toml",
            "EN/home.toml",
            "en_GB/home.toml",
            "en/.toml",
            "en/home.TOML",
            "en\\home.toml",
            "en/home.toml/",
            "not a tag/home.toml",
            "iw/home.toml",
        ] {
            assert!(file(path).listed().is_none(), "{path}");
            let json = format!(
                r#"{{"format":1,"files":[{}]}}"#,
                serde_json::to_string(&file(path)).unwrap_or_default()
            );
            assert!(Manifest::from_json(json.as_bytes()).is_err(), "{path}");
        }
    }

    #[test]
    fn hashes_are_read_as_they_are_written() {
        let hash = Sha256Hash::of(b"abc");
        assert_eq!(hash.to_string(), "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad");
        assert_eq!(hash.to_string().parse::<Sha256Hash>().ok(), Some(hash));
        assert_eq!(hash.version(), 0xba78_16bf_8f01_cfea);
        for wrong in
            ["", "ba78", &"g".repeat(64), &"A".repeat(64), &"a".repeat(63), &"a".repeat(65), &"é".repeat(32)]
        {
            assert!(wrong.parse::<Sha256Hash>().is_err(), "{wrong}");
        }
    }

    #[test]
    fn what_is_not_a_manifest_is_refused_with_a_reason() {
        let told = |json: &str| Manifest::from_json(json.as_bytes()).map_err(|error| error.problem());
        assert!(told(r#"{"format":1,"files":[],"later":7}"#).is_ok());
        for json in
            ["", "[]", "{}", "{\"format\":2,\"files\":[{\"new\":1}]}", "{\"format\":1}", "{\"format\":\"1\"}"]
        {
            assert!(told(json).is_err_and(|error| error.starts_with("`manifest` is damaged: ")), "{json}");
        }
        let twice = serde_json::to_string(&[file("en.toml"), file("en.toml")]).unwrap_or_default();
        let twice = format!(r#"{{"format":1,"files":{twice}}}"#);
        assert_eq!(told(&twice), Err("`manifest` is damaged: `en.toml` is there twice".to_owned()));
        let large = r#"{"format":1,"files":[{"path":"en.toml","sha256":"HASH","bytes":99999999999}]}"#;
        let large = large.replace("HASH", &Sha256Hash::of(b"").to_string());
        assert_eq!(told(&large), Err("`manifest` is damaged: `en.toml` is too large".to_owned()));
    }
}
