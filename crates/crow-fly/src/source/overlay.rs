//! Sources one above the other.

use std::sync::Arc;
use std::time::Duration;

use super::{Answer, CatalogSource, Changed, ListedFile, Listing, SourceError, Watching, Way};

/// Sources one above the other: a message is that of the uppermost source that has it, in each locale by itself, before
/// the next locale of the chain is asked.
///
/// A site has its own texts above those that come ready-made, a client's above those of a product:
///
/// ```
/// use crow_fly::source::{Memory, Overlay};
/// use crow_fly::{Config, CrowFly};
///
/// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), crow_fly::ConfigError> {
/// let product = Memory::new([
///     ("en", "home", "title = 'Ferries'\nhelp = 'Help'"),
///     ("cy", "home", "title = 'Fferïau'"),
/// ]);
/// let site = Memory::new([("en", "home", "title = 'Saltmarsh Ferries'")]);
///
/// let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']")?;
/// let crow = CrowFly::new(config, Overlay::new(site).over(product));
/// let english = crow.translator_for("en").await;
/// assert_eq!(english.text("home.title"), "Saltmarsh Ferries");
/// assert_eq!(english.text("home.help"), "Help");
/// // Welsh text of the product goes before English text of the site.
/// assert_eq!(crow.translator_for("cy").await.text("home.title"), "Fferïau");
/// # Ok(()) }
/// ```
///
/// Where one of the sources cannot be listed, neither can the overlay. A locale is absent where one of them lists it as absent.
#[derive(Debug)]
pub struct Overlay {
    /// The uppermost first.
    sources: Vec<Box<dyn CatalogSource>>,
}

impl Overlay {
    /// An overlay whose uppermost source is this one.
    pub fn new(source: impl CatalogSource) -> Self {
        Self { sources: vec![Box::new(source)] }
    }

    /// Adds a source below the others.
    #[must_use]
    pub fn over(mut self, source: impl CatalogSource) -> Self {
        self.sources.push(Box::new(source));
        self
    }

    /// The sources with the numbers of their layers: no more than a number can tell apart.
    fn layers(&self) -> impl Iterator<Item = (u8, &dyn CatalogSource)> {
        (0..=u8::MAX).zip(self.sources.iter().map(|source| &**source))
    }
}

impl CatalogSource for Overlay {
    fn list<'a>(&'a self, locales: &'a [String]) -> Answer<'a, Listing> {
        let ways: Vec<_> =
            self.layers().map(|(layer, source)| (layer, source.list(locales).into_way())).collect();
        if ways.iter().any(|(_, way)| matches!(way, Way::Waiting(_))) {
            return Answer::waiting(async move {
                let mut listing = Listing::default();
                for (layer, way) in ways {
                    listing = listing.with_layer(layer, Answer(way).wait().await?);
                }
                Ok(listing)
            });
        }
        // Where nothing is waited for, it is one work that blocks, on one thread.
        let works = ways.into_iter().filter_map(|(layer, way)| Some((layer, way.into_work()?)));
        let works: Vec<_> = works.collect();
        Answer::blocking(move || {
            works
                .into_iter()
                .try_fold(Listing::default(), |listing, (layer, work)| Ok(listing.with_layer(layer, work()?)))
        })
    }

    fn read(&self, file: &ListedFile) -> Answer<'_, Vec<u8>> {
        let found = file.out_of_layer().and_then(|(layer, file)| {
            let source = self.sources.get(usize::from(layer))?;
            Some((source, file))
        });
        let Some((source, file)) = found else {
            return Answer::ready(Err(SourceError::changed(file.origin())));
        };
        source.read(&file)
    }

    fn watch(&self, changed: Changed) -> Option<Watching> {
        let changed = Arc::new(changed);
        let watch = |(_, source): (u8, &dyn CatalogSource)| {
            let changed = Arc::clone(&changed);
            source.watch(Box::new(move || changed()))
        };
        let watching: Option<Vec<Watching>> = self.layers().map(watch).collect();
        watching.map(|watching| Box::new(watching) as Watching)
    }

    fn poll_interval(&self) -> Option<Duration> {
        self.layers().filter_map(|(_, source)| source.poll_interval()).min()
    }
}
