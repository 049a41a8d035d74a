//! Pseudo-locales, made from another locale's catalogs as they are read.

use std::time::Duration;

use crow_fly_core::catalog::{FileFormat, SectionSource};
use crow_fly_core::tag::LanguageTag;
use crow_fly_core::translation::PseudoLocale;
use serde_json::Map;

use super::{Answer, Application, CatalogSource, Changed, ListedFile, Listing, Watching};

/// A source with pseudo-locales above another source: `en-XA` and `ar-XB` have the texts of the default locale, accented
/// and longer, or from right to left. For development and tests.
///
/// `pseudo-locales = true` in `[catalogs]` does this for the application's own source in development.
///
/// ```
/// use crow_fly::source::{Memory, PseudoLocales};
/// use crow_fly::{Config, CrowFly};
///
/// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
/// let config = Config::parse("default = 'en'\nlocales = ['en', 'en-XA']")?;
/// let source = Memory::new([("en", "home", "title = 'Ferries'")]);
/// let crow = CrowFly::new(config, PseudoLocales::new(source, &"en".parse()?));
/// assert_eq!(crow.translator_for("en-XA").await.text("home.title"), "[Ƒéŕŕîéš ~~~~]");
/// # Ok(()) }
/// ```
#[derive(Debug)]
pub struct PseudoLocales<S> {
    source: S,
    reference: String,
}

impl<S: CatalogSource> PseudoLocales<S> {
    /// Pseudo-locales made from a locale of a source.
    pub fn new(source: S, reference: &LanguageTag) -> Self {
        Self { source, reference: reference.to_string() }
    }
}

/// The pseudo-locale that a tag names.
fn of(tag: &str) -> Option<PseudoLocale> {
    PseudoLocale::of(&LanguageTag::parse(tag).ok()?)
}

impl<S: CatalogSource> CatalogSource for PseudoLocales<S> {
    fn list<'a>(&'a self, locales: &'a [String]) -> Answer<'a, Listing> {
        Answer::waiting(async move {
            let (pseudo, mut others): (Vec<_>, Vec<_>) =
                locales.iter().cloned().partition(|locale| of(locale).is_some());
            if !others.contains(&self.reference) {
                others.push(self.reference.clone());
            }
            let mut listing = self.source.list(&others).wait().await?;
            let known = listing.files().iter().filter(|file| file.locale() == self.reference);
            let known: Vec<ListedFile> = known.cloned().collect();
            let made = pseudo.iter().flat_map(|locale| known.iter().map(|file| file.in_locale(locale)));
            listing.add_files(made);
            Ok(listing)
        })
    }

    fn read(&self, file: &ListedFile) -> Answer<'_, Vec<u8>> {
        let Some(pseudo) = of(file.locale()) else { return self.source.read(file) };
        let (known, format) = (file.in_locale(&self.reference), file.format());
        Answer::waiting(async move {
            let bytes = self.source.read(&known).wait().await?;
            Ok(made_strange(&SectionSource::read(&bytes, format), pseudo, format))
        })
    }

    fn watch(&self, changed: Changed) -> Option<Watching> {
        self.source.watch(changed)
    }

    fn poll_interval(&self) -> Option<Duration> {
        self.source.poll_interval()
    }

    fn built_into(&self, application: &Application<'_>) {
        self.source.built_into(application);
    }
}

/// A file with the same keys. What has errors is left out: it falls back, as it does in its own locale.
fn made_strange(source: &SectionSource, pseudo: PseudoLocale, format: FileFormat) -> Vec<u8> {
    let texts =
        source.entries().iter().filter_map(|entry| Some((entry.key(), pseudo.message(entry.text()).ok()?)));
    if format == FileFormat::Json {
        let map: Map<_, _> = texts.map(|(key, text)| (key.to_owned(), text.into())).collect();
        return serde_json::to_vec(&map).unwrap_or_default();
    }
    texts.map(|(key, text)| SectionSource::toml_line(key, &text)).collect::<String>().into_bytes()
}
