//! Texts that every site needs, ready-made.

use std::sync::Arc;

use crow_fly_core::catalog::FileFormat;
use crow_fly_core::tag::LanguageTag;

use super::{Answer, CatalogSource, Changed, ListedFile, Listing, SourceError, Watching};

/// Texts that every site needs, in Arabic, English, French, German, Hebrew, Japanese, Polish, Portuguese, Spanish, Turkish,
/// Ukrainian and Welsh. Those in Hebrew, Turkish and Ukrainian have not been reviewed by a speaker.
///
/// All keys are in the section `basics`, which is named in `eager` or `needs` of the configuration like any other:
///
/// | keys | parameters | meaning |
/// |---|---|---|
/// | `basics.language` | | the label of a language menu |
/// | `basics.yes`, `basics.no` | | the answers to a question |
/// | `basics.form.required` | | that a field is empty |
/// | `basics.form.too-long`, `basics.form.too-short` | `limit` | that a text has too many or too few characters |
/// | `basics.form.not-a-number`, `basics.form.not-a-date` | | that something else was expected |
/// | `basics.form.not-an-address` | | that an email address was expected |
/// | `basics.form.choose-one` | | that nothing is chosen |
/// | `basics.pages.label`, `.previous`, `.next` | | the links between pages of a list |
/// | `basics.pages.position` | `page`, `pages` | which page of a list it is |
/// | `basics.error.not-found`, `basics.error.server` | | that a page is not there, or that something failed |
///
/// `ready-made = true` in `[catalogs]` of the configuration, or
/// [`ready_made`](crate::config::ConfigBuilder::ready_made), puts them below the application's own catalogs. What these
/// have goes before, message by message.
///
/// ```
/// use crow_fly::source::Memory;
/// use crow_fly::{Config, CrowFly, args};
///
/// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), crow_fly::ConfigError> {
/// let config = Config::builder(["en", "pl"]).ready_made().build()?;
/// let crow = CrowFly::new(config, Memory::new([("pl", "basics", "yes = 'No jasne!'")]));
/// let polish = crow.translator_for("pl").await;
/// assert_eq!(polish.text(("basics.form.too-long", args! { limit: 3 })), "Wpisz najwyżej 3 znaki.");
/// assert_eq!(polish.text("basics.yes"), "No jasne!");
/// # Ok(()) }
/// ```
///
/// A locale such as `de-AT` has the texts of `de`, unless `de` is a locale of the application, too: then its chain
/// leads there.
#[derive(Clone, Copy, Debug, Default)]
pub struct ReadyMade;

/// The section of all texts.
const SECTION: &str = "basics";

/// The texts, by locale.
const TEXTS: [(&str, &str); 12] = [
    ("ar", include_str!("ar.toml")),
    ("cy", include_str!("cy.toml")),
    ("de", include_str!("de.toml")),
    ("en", include_str!("en.toml")),
    ("es", include_str!("es.toml")),
    ("fr", include_str!("fr.toml")),
    ("he", include_str!("he.toml")),
    ("ja", include_str!("ja.toml")),
    ("pl", include_str!("pl.toml")),
    ("pt", include_str!("pt.toml")),
    ("tr", include_str!("tr.toml")),
    ("uk", include_str!("uk.toml")),
];

impl ReadyMade {
    /// The section of all keys: `basics`.
    pub const SECTION: &'static str = SECTION;

    /// The file with the texts of one of an application's locales; none where there are none, or where they are those of
    /// another locale of its chain.
    pub fn file(locale: &str, locales: &[String]) -> Option<&'static str> {
        if let Some(text) = exact(locale) {
            return Some(text);
        }
        let tag = LanguageTag::parse(locale).ok()?;
        for parent in std::iter::successors(tag.parent(), LanguageTag::parent) {
            let parent = parent.to_string();
            if locales.contains(&parent) {
                return None;
            }
            if let Some(text) = exact(&parent) {
                return Some(text);
            }
        }
        None
    }
}

fn exact(locale: &str) -> Option<&'static str> {
    TEXTS.iter().find(|(known, _)| *known == locale).map(|(_, text)| *text)
}

impl CatalogSource for ReadyMade {
    fn list<'a>(&'a self, locales: &'a [String]) -> Answer<'a, Listing> {
        let has_texts = |locale: &&String| Self::file(locale, locales).is_some();
        let root = Arc::from("ready-made: ");
        let listed = locales
            .iter()
            .filter(has_texts)
            .map(|locale| ListedFile::section(locale, SECTION, FileFormat::Toml, 1).found_below(&root));
        Answer::ready(Ok(Listing::new(listed)))
    }

    fn read(&self, file: &ListedFile) -> Answer<'_, Vec<u8>> {
        // It was listed: what it is asked for, it has, and its parents are not among the locales.
        let text = Self::file(file.locale(), &[]).filter(|_| file.section_name() == Some(SECTION));
        let text = text.map(|text| text.as_bytes().to_vec());
        Answer::ready(text.ok_or_else(|| SourceError::changed(file.origin())))
    }

    fn watch(&self, _: Changed) -> Option<Watching> {
        // It never changes: nothing is ever called.
        Some(Box::new(()))
    }
}

#[cfg(test)]
mod tests {
    use std::collections::BTreeMap;

    use crow_fly_core::catalog::SectionSource;
    use crow_fly_core::chain::Chains;
    use crow_fly_core::check;
    use crow_fly_core::locale_set::LocaleSet;

    use super::*;

    #[test]
    fn every_language_has_every_text_and_all_its_forms() {
        let mut tags: Vec<&str> = TEXTS.iter().map(|(tag, _)| *tag).collect();
        // The default locale.
        tags.sort_by_key(|tag| *tag != "en");
        let set = LocaleSet::parse(tags.iter().copied()).expect("they are tags");
        let chains = Chains::new(&set, [], []).expect("they have no circle");
        let read = |tag: &str| {
            let source = SectionSource::from_toml(exact(tag).expect("it has texts"));
            BTreeMap::from([(SECTION.to_owned(), source)])
        };
        let project: check::Project = set.iter().map(|(id, tag)| (id, read(&tag.to_string()))).collect();
        let findings = check::check(&set, &chains, &project);
        assert!(findings.is_empty(), "{findings:#?}");
    }

    #[test]
    fn a_locale_has_the_texts_of_its_language_once() {
        let locales = |tags: &[&str]| tags.iter().map(|tag| (*tag).to_owned()).collect::<Vec<_>>();
        for (locale, all, has) in [
            ("de", &["de", "de-AT"][..], true),
            ("de-AT", &["de", "de-AT"], false),
            ("de-AT", &["de-AT", "en"], true),
            ("pt-BR", &["pt-BR"], true),
            ("zh-Hant", &["zh-Hant"], false),
            ("ga", &["ga"], false),
        ] {
            assert_eq!(ReadyMade::file(locale, &locales(all)).is_some(), has, "{locale} of {all:?}");
        }
    }
}
