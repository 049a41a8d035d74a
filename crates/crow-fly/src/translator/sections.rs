//! Sections brought into memory by a handler, and what they have.

use std::fmt;

use crow_fly_core::catalog::split_key;
use crow_fly_core::tag::LanguageTag;

use super::Translator;
use crate::source::ListedFile;
use crate::store::{Completeness, Lookup, Miss};

/// Whether there is a text.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Presence {
    /// The chain has it.
    Yes,
    /// Nothing in the chain has it.
    No,
    /// Its section is not in memory.
    NotLoaded,
}

/// Sections that could not be loaded: in no locale of the chain, or only in some.
#[derive(Clone, PartialEq, Eq)]
pub struct NotLoaded {
    sections: Vec<String>,
    is_partial: bool,
}

impl NotLoaded {
    /// A section whose files cannot be read.
    pub(crate) fn of(section: &str) -> Self {
        Self { sections: vec![section.to_owned()], is_partial: false }
    }

    /// The sections that were asked for.
    pub fn sections(&self) -> &[String] {
        &self.sections
    }

    /// Whether some locales of the chain have them, so that there are texts, perhaps in another language.
    pub const fn is_partial(&self) -> bool {
        self.is_partial
    }
}

impl fmt::Display for NotLoaded {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let sections = self.sections.join(", ");
        if self.is_partial {
            write!(f, "the sections {sections} are only in memory in a part of the chain")
        } else {
            write!(f, "the sections {sections} could not be loaded; the log tells why")
        }
    }
}

crow_fly_core::debug_as_shown!(NotLoaded);

impl std::error::Error for NotLoaded {}

/// Where a text comes from: see [`Translator::origin`].
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Origin {
    locale: LanguageTag,
    file: String,
    line: Option<u32>,
    /// The key in the file.
    name: String,
}

impl Origin {
    /// The locale that has the text.
    pub const fn locale(&self) -> &LanguageTag {
        &self.locale
    }

    /// The file, as its source names it for people.
    pub fn file(&self) -> &str {
        &self.file
    }

    /// The key in the file: without the section where the file is one of a section.
    pub(super) fn name_in_file(&self) -> &str {
        &self.name
    }

    /// The line in the file, from 1.
    pub const fn line(&self) -> Option<u32> {
        self.line
    }
}

impl fmt::Display for Origin {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}, {}", self.locale, self.file)?;
        self.line.map_or(Ok(()), |line| write!(f, ":{line}"))
    }
}

impl Translator {
    /// Loads sections: for handlers whose texts are in sections that the configuration does not name for
    /// their page. It waits as long as a request does. The sections are those of the translator's own generation, so
    /// that a page never mixes old texts and new ones.
    ///
    /// ```
    /// # use crow_fly::{Config, CrowFly, source::Memory};
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
    /// # let config = Config::parse("default = 'en'\nlocales = ['en']\n[catalogs]\neager = []")?;
    /// # let t = CrowFly::new(config, Memory::new([("en", "mail", "subject = 'Your trip'")])).translator_for("en").await;
    /// t.load(["mail"]).await?;
    /// assert_eq!(t.text("mail.subject"), "Your trip");
    /// # Ok(()) }
    /// ```
    ///
    /// # Errors
    /// Where a section cannot be loaded in some locale of the chain. Texts then come from the rest of the chain; a
    /// handler that can live with that goes on.
    pub async fn load(&self, sections: impl IntoIterator<Item = impl AsRef<str>>) -> Result<(), NotLoaded> {
        let sections: Vec<_> = sections.into_iter().collect();
        let named: Vec<&str> = sections.iter().map(AsRef::as_ref).collect();
        let inner = &*self.inner;
        match inner.site.store().load_sections(&inner.generation, inner.locale, &named).await {
            Completeness::All => Ok(()),
            completeness => {
                self.note_shortage();
                Err(NotLoaded {
                    sections: named.iter().map(|name| (*name).to_owned()).collect(),
                    is_partial: completeness == Completeness::Part,
                })
            }
        }
    }

    /// Whether there is a text, for keys that are made from data: `feature.{name}`. Nothing is counted as missing.
    ///
    /// ```
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
    /// # use crow_fly::{args, Config, CrowFly, source::Memory};
    /// # let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']\norigin = 'https://ferries.example'")?;
    /// # let home = ("en", "home", "title = 'Sailings'\nnext = 'The next is {#strong}{$ship}{/strong}'\nseats = '{$seats :integer} seats'");
    /// # let crow = CrowFly::new(config, Memory::new([home, ("cy", "home", "title = 'Hwyliadau'")]));
    /// # let t = crow.translator_for("en").await;
    /// use crow_fly::Presence;
    ///
    /// assert_eq!(t.has("home.title"), Presence::Yes);
    /// assert_eq!(t.has("home.nothing"), Presence::No);
    /// # Ok(()) }
    /// ```
    pub fn has(&self, key: &str) -> Presence {
        match self.miss(key) {
            None => Presence::Yes,
            Some(Miss::NotLoaded) => Presence::NotLoaded,
            Some(_) => Presence::No,
        }
    }

    /// Why there is no text for a key; none where there is one.
    pub(crate) fn miss(&self, key: &str) -> Option<Miss> {
        let inner = &*self.inner;
        match inner.generation.find(inner.locale, || inner.links(), key) {
            Lookup::Message(_) => None,
            Lookup::Missing(miss) => Some(miss),
        }
    }

    /// Where a text comes from: its locale, which may be another one of the chain, its file and line. None where there is no
    /// text.
    ///
    /// ```
    /// # use crow_fly::{Config, CrowFly, source::Memory};
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), crow_fly::ConfigError> {
    /// # let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']")?;
    /// let crow = CrowFly::new(config, Memory::new([("en", "home", "title = 'Ferries'\nhelp = 'Help'")]));
    /// let welsh = crow.translator_for("cy").await;
    /// assert_eq!(welsh.origin("home.help").unwrap().to_string(), "en, memory: en/home.toml:2");
    /// # Ok(()) }
    /// ```
    pub fn origin(&self, key: &str) -> Option<Origin> {
        self.place_of(key).map(|(origin, _)| origin)
    }

    /// Where a text comes from, and the file as its source lists it.
    pub(super) fn place_of(&self, key: &str) -> Option<(Origin, &ListedFile)> {
        let inner = &*self.inner;
        let Lookup::Message(hit) = inner.generation.find(inner.locale, || inner.links(), key) else {
            return None;
        };
        let file = &hit.section.file;
        let origin = Origin {
            locale: inner.links().get(hit.link)?.tag.clone(),
            file: file.origin(),
            line: hit.section.line(key),
            name: hit.section.name_in_file(key).to_owned(),
        };
        Some((origin, file))
    }

    /// Whether there is a text, after its section has been loaded.
    pub async fn has_when_loaded(&self, key: &str) -> bool {
        if self.has(key) == Presence::NotLoaded
            && let Some((section, _)) = split_key(key)
        {
            // What cannot be loaded is not there.
            let _ = self.load([section]).await;
        }
        self.has(key) == Presence::Yes
    }

    /// The keys of a section, as [`text`](Self::text) takes them: those of the nearest locale of the chain first, each once.
    /// None where a part of the section is not in memory.
    ///
    /// ```
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
    /// # use crow_fly::{args, Config, CrowFly, source::Memory};
    /// # let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']\norigin = 'https://ferries.example'")?;
    /// # let home = ("en", "home", "title = 'Sailings'\nnext = 'The next is {#strong}{$ship}{/strong}'\nseats = '{$seats :integer} seats'");
    /// # let crow = CrowFly::new(config, Memory::new([home, ("cy", "home", "title = 'Hwyliadau'")]));
    /// # let t = crow.translator_for("en").await;
    /// let keys = t.keys("home").unwrap_or_default();
    /// assert_eq!(keys, ["home.title", "home.next", "home.seats"]);
    /// # Ok(()) }
    /// ```
    pub fn keys(&self, section: &str) -> Option<Vec<String>> {
        let inner = &*self.inner;
        inner.generation.keys(inner.links(), section)
    }
}
