//! Sources one above the other.

use std::sync::{Arc, Mutex, OnceLock, PoisonError};
use std::time::Duration;

use crow_fly_core::finding::Finding;
use crow_fly_core::rule::Rule;
use tokio::sync::{Mutex as AsyncMutex, MutexGuard};
use tokio::task::JoinHandle;
use tokio::time::{Instant, timeout, timeout_at};

use super::{Answer, Application, CatalogSource, Changed, ListedFile, Listing, SourceError, Watching, Way};

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
/// A last resort is the source at the bottom: the texts in the binary below [releases](crate::release::Releases) or files. A
/// source that cannot be listed, or does not answer in time, keeps what it had. Where it had nothing so far, has no catalogs, or
/// has no active release, it is left out while others have something: [health](crate::Health) is `degraded` and says why, and it
/// is tried again. It comes in as a new generation. Where no source has anything, the overlay has nothing.
///
/// A locale is absent where one of the sources that count lists it as absent.
#[derive(Debug)]
pub struct Overlay {
    /// The uppermost first.
    layers: Vec<Arc<Layer>>,
    limits: OnceLock<Limits>,
}

/// A source of an overlay.
#[derive(Debug)]
struct Layer {
    source: Arc<dyn CatalogSource>,
    /// Whether it has texts beside those of the application, and is no site by itself.
    is_supplement: bool,
    /// What it had last.
    last: Mutex<Option<Listing>>,
    /// A listing that somebody waits for, and that goes on when nobody does.
    running: AsyncMutex<Option<JoinHandle<Listed>>>,
}

type Listed = Result<Listing, SourceError>;

/// A listing that has begun.
struct Begun<'l> {
    running: MutexGuard<'l, Option<JoinHandle<Listed>>>,
    /// Whether somebody has begun it before, and did not wait for its end.
    is_earlier: bool,
    at: Instant,
}

/// How long a source is waited for.
#[derive(Clone, Copy, Debug)]
struct Limits {
    /// While it has had nothing: pages wait.
    first: Duration,
    /// Once it has had something.
    later: Duration,
    /// How long a listing may take that nobody waits for any more.
    longest: Duration,
}

impl Overlay {
    /// An overlay whose uppermost source is this one.
    pub fn new(source: impl CatalogSource) -> Self {
        Self { layers: vec![Layer::new(source, false)], limits: OnceLock::new() }
    }

    /// Adds a source below the others.
    #[must_use]
    pub fn over(mut self, source: impl CatalogSource) -> Self {
        self.layers.push(Layer::new(source, false));
        self
    }

    /// Adds texts below the others that are no site by themselves: where there are only those, there is nothing.
    pub(crate) fn supplemented_by(mut self, source: impl CatalogSource) -> Self {
        self.layers.push(Layer::new(source, true));
        self
    }

    fn limits(&self) -> Limits {
        let (first, later) = (Duration::from_secs(1), Duration::from_secs(5));
        let default = Limits { first, later, longest: Duration::from_secs(10) };
        self.limits.get().copied().unwrap_or(default)
    }
}

/// One listing of those of all layers. They have numbers, no more than a number can tell apart.
fn merged(layers: &[Arc<Layer>], listed: Vec<Listed>) -> Listed {
    let (mut listing, mut errors, mut empty) = (Listing::default(), Vec::new(), Vec::new());
    let mut has_any = false;
    for ((number, layer), listed) in (0..=u8::MAX).zip(layers).zip(listed) {
        let mut last = layer.last.lock().unwrap_or_else(PoisonError::into_inner);
        let is_empty = |listing: &Listing| listing.files().is_empty() && !listing.absent().is_empty();
        match listed {
            Ok(now) if !is_empty(&now) => {
                has_any |= !layer.is_supplement && !now.files().is_empty();
                *last = Some(now.clone());
                listing = listing.with_layer(number, now);
            }
            listed => {
                let why = match &listed {
                    Ok(_) => "it has no catalogs".to_owned(),
                    Err(error) => told(error),
                };
                if let Some(last) = &*last {
                    has_any |= !layer.is_supplement;
                    let finding = finding(number, &format!("{why}; what it had stays in use"));
                    listing = listing.with_layer(number, last.clone()).with_stale(finding);
                } else {
                    listing = listing.with_left_out(finding(number, &format!("{why}; it is left out")));
                    match listed {
                        Ok(now) => empty.push((number, now)),
                        Err(error) => errors.push(error),
                    }
                }
            }
        }
    }
    match errors.into_iter().next() {
        _ if has_any => Ok(listing),
        Some(error) => Err(error),
        // Nothing that could stand in for what is empty.
        None => {
            let all = listing.with_nothing_left_out();
            Ok(empty.into_iter().fold(all, |all, (number, one)| all.with_layer(number, one)))
        }
    }
}

impl Layer {
    fn new(source: impl CatalogSource, is_supplement: bool) -> Arc<Self> {
        let (last, running) = (Mutex::default(), AsyncMutex::default());
        Arc::new(Self { source: Arc::new(source), is_supplement, last, running })
    }

    fn start(&self, locales: &[String], limits: Limits) -> JoinHandle<Listed> {
        let (source, locales) = (Arc::clone(&self.source), locales.to_vec());
        tokio::spawn(async move {
            let listed = timeout(limits.longest, source.list(&locales).wait()).await;
            listed.unwrap_or_else(|_| Err(SourceError::hanging("the source")))
        })
    }

    /// Begins a listing, where none is under way.
    async fn begin(&self, locales: &[String], limits: Limits) -> Begun<'_> {
        let mut running = self.running.lock().await;
        let is_earlier = running.is_some();
        running.get_or_insert_with(|| self.start(locales, limits));
        Begun { running, is_earlier, at: Instant::now() }
    }

    /// What the source has, where it says so in time. A listing that takes longer goes on, and is the next one's answer.
    async fn list(&self, locales: &[String], begun: Begun<'_>, limits: Limits) -> Listed {
        let has_last = self.last.lock().unwrap_or_else(PoisonError::into_inner).is_some();
        let until = begun.at + if has_last { limits.later } else { limits.first };
        let Begun { mut running, mut is_earlier, .. } = begun;
        let mut before = None;
        loop {
            let task = running.get_or_insert_with(|| self.start(locales, limits));
            let Ok(ended) = timeout_at(until, task).await else {
                return before.unwrap_or_else(|| Err(SourceError::hanging("the source")));
            };
            *running = None;
            let listed = ended.unwrap_or_else(|error| Err(SourceError::new("the source", error)));
            if !std::mem::take(&mut is_earlier) {
                return listed;
            }
            // It may have begun before a change: another one follows it.
            before = Some(listed);
        }
    }
}

fn told(error: &SourceError) -> String {
    let cause = std::error::Error::source(error).map(|cause| format!(": {cause}")).unwrap_or_default();
    format!("{error}{cause}")
}

fn finding(layer: u8, text: &str) -> Finding {
    let text = format!("source {} of the overlay: {text}", u16::from(layer) + 1);
    let help = "let the server read its catalogs; it is tried again";
    Finding::of_file(Rule::UnreadableSource, "", "", text, help)
}

impl CatalogSource for Overlay {
    fn list<'a>(&'a self, locales: &'a [String]) -> Answer<'a, Listing> {
        let ways: Vec<_> = self.layers.iter().map(|layer| layer.source.list(locales).into_way()).collect();
        if ways.iter().any(|way| matches!(way, Way::Waiting(_))) {
            drop(ways);
            return Answer::waiting(async move {
                let limits = self.limits();
                // All of them at the same time.
                let (mut begun, mut listed) = (Vec::new(), Vec::new());
                for layer in &self.layers {
                    begun.push(layer.begin(locales, limits).await);
                }
                for (layer, begun) in self.layers.iter().zip(begun) {
                    listed.push(layer.list(locales, begun, limits).await);
                }
                merged(&self.layers, listed)
            });
        }
        // Where nothing is waited for, it is one work that blocks, on one thread.
        let works: Vec<_> = ways.into_iter().filter_map(Way::into_work).collect();
        let layers = self.layers.clone();
        Answer::blocking(move || merged(&layers, works.into_iter().map(|work| work()).collect()))
    }

    fn read(&self, file: &ListedFile) -> Answer<'_, Vec<u8>> {
        let found = file.out_of_layer().and_then(|(layer, file)| {
            let layer = self.layers.get(usize::from(layer))?;
            Some((&layer.source, file))
        });
        let Some((source, file)) = found else {
            return Answer::ready(Err(SourceError::changed(file.origin())));
        };
        source.read(&file)
    }

    fn watch(&self, changed: Changed) -> Option<Watching> {
        let changed = Arc::new(changed);
        let watch = |layer: &Arc<Layer>| {
            let changed = Arc::clone(&changed);
            layer.source.watch(Box::new(move || changed()))
        };
        let watching: Option<Vec<Watching>> = self.layers.iter().map(watch).collect();
        watching.map(|watching| Box::new(watching) as Watching)
    }

    fn poll_interval(&self) -> Option<Duration> {
        self.layers.iter().filter_map(|layer| layer.source.poll_interval()).min()
    }

    fn built_into(&self, application: &Application<'_>) {
        // Half of what a page waits for, so that the rest of it has time to come.
        let (wait, longest) = (application.wait(), application.load_limit());
        let limits = Limits { first: wait / 2, later: longest / 2, longest };
        let _ = self.limits.set(limits);
        self.layers.iter().for_each(|layer| layer.source.built_into(application));
    }
}
