//! Catalogs on disk: `catalogs/<locale>/<section>.toml`.

use std::collections::{BTreeMap, HashSet};
use std::fs::{File, Metadata};
use std::hash::{DefaultHasher, Hash, Hasher};
use std::io;
use std::io::Read;
use std::path::{Path, PathBuf};
use std::sync::Arc;

use crow_fly_core::catalog::{CatalogPath, FileFormat, is_name};
use crow_fly_core::finding::Finding;
use crow_fly_core::rule::Rule;
use crow_fly_core::suggest::nearest;
use crow_fly_core::tag::LanguageTag;

use super::{Answer, CatalogSource, Changed, ListedFile, Listing, SourceError, Watching};

/// A folder of catalogs.
///
/// | path | holds |
/// |---|---|
/// | `<locale>/<section>.toml`, `.json` | one section of a locale |
/// | `<locale>.toml`, `.json` | all sections of a locale: the first tables of the file are its sections |
///
/// Names that begin with a dot are left alone. Everything else that is not a catalog is a finding. Only regular files
/// are opened, and symbolic links to them.
///
/// ```
/// use crow_fly::{Config, CrowFly, source::Directory};
///
/// let config = Config::builder(["en", "cy"]).build()?;
/// let crow = CrowFly::new(config, Directory::new("catalogs"));
/// # Ok::<(), crow_fly::ConfigError>(())
/// ```
#[derive(Clone, Debug)]
pub struct Directory {
    root: PathBuf,
}

impl Directory {
    /// The catalogs below a folder. Nothing is read before it is needed.
    pub fn new(root: impl Into<PathBuf>) -> Self {
        Self { root: root.into() }
    }

    /// Lists the folder, on this thread: for tools and build scripts.
    ///
    /// # Errors
    /// Where the folder itself cannot be read.
    pub fn list_blocking(&self, locales: &[String]) -> Result<Listing, SourceError> {
        Lister::new(&self.root, locales).list()
    }

    /// Reads a file that was listed, on this thread: for tools and build scripts.
    ///
    /// # Errors
    /// Where it cannot be read, or is not the file that was listed any more.
    pub fn read_blocking(&self, file: &ListedFile) -> Result<Vec<u8>, SourceError> {
        let path = self.path(file);
        let wrong = |error: io::Error| SourceError::new(path.display().to_string(), error);
        // A pipe would be waited for: what it is, is asked before it is opened.
        if !std::fs::metadata(&path).map_err(wrong)?.is_file() {
            return Err(wrong(io::Error::other("it is not a regular file")));
        }
        let opened = File::open(&path).map_err(wrong)?;
        let mut bytes = Vec::new();
        (&opened).take(file.most_bytes() as u64).read_to_end(&mut bytes).map_err(wrong)?;
        // After it was read: a file that was written to meanwhile is read again, not kept half.
        if version(&opened.metadata().map_err(wrong)?) != file.version() {
            return Err(SourceError::changed(path.display().to_string()));
        }
        Ok(bytes)
    }

    /// The path of a listed file. Its names have been checked.
    fn path(&self, file: &ListedFile) -> PathBuf {
        self.root.join(file.path())
    }
}

impl CatalogSource for Directory {
    fn list<'a>(&'a self, locales: &'a [String]) -> Answer<'a, Listing> {
        let (directory, locales) = (self.clone(), locales.to_vec());
        Answer::blocking(move || directory.list_blocking(&locales))
    }

    fn read(&self, file: &ListedFile) -> Answer<'_, Vec<u8>> {
        let (directory, file) = (self.clone(), file.clone());
        Answer::blocking(move || directory.read_blocking(&file))
    }

    #[cfg(feature = "notify")]
    fn watch(&self, changed: Changed) -> Option<Watching> {
        super::watch::folder(&self.root, changed)
    }

    #[cfg(not(feature = "notify"))]
    fn watch(&self, _: Changed) -> Option<Watching> {
        None
    }
}

/// The version of a file: from its size and its times. A file that was replaced by one of the same size and time of modification, as
/// `rsync -t` and images of containers do it, has another time of change. The inode is not asked: network file systems change it.
fn version(about: &Metadata) -> u64 {
    let mut hash = DefaultHasher::new();
    (about.len(), about.modified().ok(), changed(about)).hash(&mut hash);
    hash.finish()
}

/// When the file, or what is known of it, was changed last.
#[cfg(unix)]
fn changed(about: &Metadata) -> (i64, i64) {
    use std::os::unix::fs::MetadataExt;

    (about.ctime(), about.ctime_nsec())
}

#[cfg(not(unix))]
const fn changed(_: &Metadata) {}

/// Lists a folder.
struct Lister<'l> {
    root: &'l Path,
    locales: &'l [String],
    known: HashSet<&'l str>,
    /// What stands before the path of each file.
    origin: Arc<str>,
    listing: Listing,
}

/// The files of one folder, by the locale or section that each names: one is listed once.
type Found = BTreeMap<String, ListedFile>;

/// What a name in a folder is.
enum Entry {
    Folder,
    /// A regular file and its version.
    File(u64),
    /// A pipe, a device; or a link that leads nowhere; with the reason.
    Other(String),
}

impl<'l> Lister<'l> {
    fn new(root: &'l Path, locales: &'l [String]) -> Self {
        let known = locales.iter().map(String::as_str).collect();
        let mut origin = shown(root);
        if !origin.is_empty() && !origin.ends_with('/') {
            origin.push('/');
        }
        Self { root, locales, known, origin: origin.into(), listing: Listing::default() }
    }

    fn list(mut self) -> Result<Listing, SourceError> {
        let mut whole = Found::new();
        let mut with_files = HashSet::new();
        for (name, entry) in entries(self.root)? {
            let is_locale = |name: &str| self.known.contains(name);
            match (entry, FileFormat::of_name(&name)) {
                (Entry::Folder, _) if is_locale(&name) => {
                    let found = self.folder(&name);
                    if !found.is_empty() {
                        self.listing.add_files(found.into_values());
                        with_files.insert(name);
                    }
                }
                (Entry::File(version), Some((locale, format))) if is_locale(locale) => {
                    self.add(&mut whole, locale, ListedFile::all_sections(locale, format, version));
                }
                (Entry::Other(_), Some((locale, format))) if is_locale(locale) => {
                    self.add(&mut whole, locale, ListedFile::all_sections(locale, format, 0));
                }
                (Entry::Other(reason), _) if is_locale(&name) => self.not_a_folder(&name, &reason),
                (Entry::Folder, _) => self.unknown(&name, "folder", &name),
                (_, Some((locale, _))) => self.unknown(&name, "file", locale),
                _ => self.other(("", ""), &self.root.join(&name)),
            }
        }
        with_files.extend(whole.keys().cloned());
        self.listing.add_files(whole.into_values());
        let absent = self.locales.iter().filter(|locale| !with_files.contains(locale.as_str()));
        Ok(absent.fold(self.listing, Listing::without))
    }

    /// Lists the folder of a locale. One that cannot be listed is a finding, and the locale has nothing in it.
    fn folder(&mut self, locale: &str) -> Found {
        let mut found = Found::new();
        let folder = self.root.join(locale);
        let entries = match entries(&folder) {
            Ok(entries) => entries,
            Err(error) => {
                let reason = std::error::Error::source(&error).map(ToString::to_string).unwrap_or_default();
                self.not_a_folder(locale, &reason);
                return found;
            }
        };
        for (name, entry) in entries {
            let path = || folder.join(&name);
            let file = FileFormat::of_name(&name).filter(|(section, _)| is_name(section));
            match (entry, file) {
                (Entry::File(version), Some((section, format))) => {
                    self.add(&mut found, section, ListedFile::section(locale, section, format, version));
                }
                // It cannot be read, which costs this section; the reason is found where it is tried.
                (Entry::Other(_) | Entry::Folder, Some((section, format))) => {
                    self.add(&mut found, section, ListedFile::section(locale, section, format, 0));
                }
                (Entry::File(_), None) if FileFormat::of_name(&name).is_some() => self.find(
                    Rule::SectionName,
                    (locale, ""),
                    &path(),
                    &format!("is not read: its name {}", CatalogPath::NO_SECTION),
                    CatalogPath::SECTION_HELP,
                ),
                (Entry::Folder, None) => self.find(
                    Rule::UnknownFolder,
                    (locale, ""),
                    &path(),
                    "is not read: the folder of a locale has no folders in it",
                    "move its files up; a group of messages is a table in a file",
                ),
                (Entry::File(_) | Entry::Other(_), None) => self.other((locale, ""), &path()),
            }
        }
        found
    }

    /// Adds a file; one that is there in both formats counts once.
    fn add(&mut self, found: &mut Found, name: &str, file: ListedFile) {
        let Some(other) = found.get(name) else {
            found.insert(name.to_owned(), file.found_below(&self.origin));
            return;
        };
        let text = format!("is not read: `{}` is the same section", other.origin());
        self.find(
            Rule::DuplicateSection,
            (file.locale(), file.section_name().unwrap_or_default()),
            &self.root.join(file.path()),
            &text,
            "delete one of the two, or move its messages to the other",
        );
    }

    /// A folder or a file whose name is not that of a locale, but may be meant as one.
    fn unknown(&mut self, name: &str, what: &str, stem: &str) {
        let meant = LanguageTag::parse_lenient(stem).ok().map(|tag| tag.canonicalized().to_string());
        let meant = meant.filter(|tag| self.known.contains(tag.as_str()));
        let help = match &meant {
            Some(tag) => format!("rename it: `{}`", name.replacen(stem, tag, 1)),
            None => nearest(stem, self.locales.iter().cloned()).map_or_else(
                || {
                    "add the locale to `locales` or `catalog-only` in the configuration, or delete it"
                        .to_owned()
                },
                |near| format!("did you mean `{}`?", name.replacen(stem, &near, 1)),
            ),
        };
        let rule = if what == "folder" { Rule::UnknownFolder } else { Rule::UnknownFile };
        let text = match &meant {
            Some(tag) => format!("is not read: the locale `{tag}` is written like this"),
            None => format!("is not read: the configuration has no locale `{stem}`"),
        };
        self.find(rule, (meant.as_deref().unwrap_or_default(), ""), &self.root.join(name), &text, &help);
    }

    fn not_a_folder(&mut self, locale: &str, reason: &str) {
        let (path, text) = (self.root.join(locale), format!("cannot be read: {reason}"));
        self.find(Rule::UnreadableFolder, (locale, ""), &path, &text, "let the server read it");
    }

    fn other(&mut self, about: (&str, &str), path: &Path) {
        self.find(
            Rule::OtherFile,
            about,
            path,
            "is not a catalog, and is not read",
            "catalogs end in `.toml` or `.json`",
        );
    }

    fn find(&mut self, rule: Rule, about: (&str, &str), path: &Path, text: &str, help: &str) {
        let text = format!("`{}` {text}", shown(path));
        let finding = Finding::of_file(rule, about.0, about.1, text, help).about(shown(path));
        self.listing = std::mem::take(&mut self.listing).with_finding(finding);
    }
}

/// A path for people.
fn shown(path: &Path) -> String {
    path.strip_prefix(".").unwrap_or(path).display().to_string()
}

/// The names in a folder, sorted; hidden ones are left out.
fn entries(folder: &Path) -> Result<Vec<(String, Entry)>, SourceError> {
    let wrong = |error: io::Error| SourceError::new(shown(folder), error);
    let mut found = Vec::new();
    for entry in std::fs::read_dir(folder).map_err(wrong)? {
        let entry = entry.map_err(wrong)?;
        let name = entry.file_name().to_string_lossy().into_owned();
        if name.starts_with('.') {
            continue;
        }
        let is_link = entry.file_type().is_ok_and(|kind| kind.is_symlink());
        // Links are followed. What is no link is asked where the folder is open, without its path.
        let about = if is_link { std::fs::metadata(entry.path()) } else { entry.metadata() };
        let what = match about {
            Ok(about) if about.is_dir() => Entry::Folder,
            Ok(about) if about.is_file() => Entry::File(version(&about)),
            Ok(_) => Entry::Other("it is not a regular file".to_owned()),
            Err(error) => Entry::Other(error.to_string()),
        };
        found.push((name, what));
    }
    found.sort_by(|(one, _), (other, _)| one.cmp(other));
    // `.toml` before `.json`: of two files of a section it is the one that is read.
    found.sort_by_key(|(name, _)| {
        FileFormat::of_name(name).is_some_and(|(_, format)| format == FileFormat::Json)
    });
    Ok(found)
}
