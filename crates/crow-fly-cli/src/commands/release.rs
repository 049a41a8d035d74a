//! `crow-fly release`: catalogs as releases in an object store.

use std::collections::{BTreeMap, BTreeSet};
use std::io::Write;
use std::path::Path;
use std::sync::Arc;

use anyhow::{Context, Result, anyhow, bail};
use crow_fly::release::{Activation, Manifest, ManifestFile, Release, ReleaseError, ReleaseId, ReleaseStore};
use crow_fly_core::catalog::SectionSource;
use object_store::ObjectStoreScheme;
use object_store::local::LocalFileSystem;
use serde::Serialize;
use serde_json::json;
use url::Url;

use super::Outcome;
use crate::arguments::{ReleaseArguments, ReleaseCommand, ShowFormat, StoreArguments};
use crate::output::Output;
use crate::project::Project;
use crate::render;

pub(crate) fn run(
    open: impl FnOnce() -> Result<Project>,
    what: &ReleaseArguments,
    output: &mut Output<'_>,
) -> Result<Outcome> {
    let runtime = tokio::runtime::Builder::new_current_thread().enable_all().build()?;
    runtime.block_on(async {
        let opened = |store: &StoreArguments| self::store(&store.store, false);
        match &what.command {
            ReleaseCommand::Publish { store, activate } => {
                let project = open()?;
                publish(&project, store, *activate, output).await
            }
            ReleaseCommand::Activate { store: of, release } => {
                let store = opened(of)?;
                let id = find(&store, release).await?;
                activated(&store, store.activate(id).await, of.format.is_json(), output).await
            }
            ReleaseCommand::RollBack { store: of } => {
                let store = opened(of)?;
                activated(&store, store.roll_back().await, of.format.is_json(), output).await
            }
            ReleaseCommand::List { store } => list(&opened(store)?, store.format.is_json(), output).await,
            ReleaseCommand::Show { release: Some(release), store: Some(store), format } => {
                let store = self::store(store, false)?;
                let id = find(&store, release).await?;
                let manifest = store.manifest(id).await.map_err(|error| told(&error))?;
                show(id, &manifest, &Texts::published(&store, id).await?, *format, output)
            }
            ReleaseCommand::Show { format, .. } => {
                let release = packed(&open()?).await?;
                show(release.id(), release.manifest(), &Texts::packed(&release), *format, output)
            }
            ReleaseCommand::Compare { store: of, release, other } => {
                let store = opened(of)?;
                let old = Texts::published(&store, find(&store, release).await?).await?;
                let new = match other {
                    Some(other) => Texts::published(&store, find(&store, other).await?).await?,
                    None => Texts::packed(&packed(&open()?).await?),
                };
                compare(&old, &new, of.format.is_json(), output)
            }
            ReleaseCommand::Clean { store, keep } => {
                clean(&opened(store)?, *keep, store.format.is_json(), output).await
            }
        }
    })
}

/// A folder, or the URL of a bucket where this program is built with the feature for them.
fn store(place: &str, is_made: bool) -> Result<ReleaseStore> {
    let url = Url::parse(place).ok().filter(|url| ObjectStoreScheme::parse(url).is_ok());
    let Some(url) = url else {
        if is_made {
            std::fs::create_dir_all(place).with_context(|| format!("the folder {place} cannot be made"))?;
        }
        if !Path::new(place).is_dir() {
            bail!("there is no folder {place}: `crow-fly release publish` makes it");
        }
        let files = LocalFileSystem::new_with_prefix(place)
            .with_context(|| format!("the folder {place} cannot be used"))?;
        return Ok(ReleaseStore::new(Arc::new(files)));
    };
    #[cfg(not(feature = "buckets"))]
    bail!("{url} is a bucket, and this program is built without the feature `buckets`");
    #[cfg(feature = "buckets")]
    {
        let opened = crate::bucket::open(&url).with_context(|| format!("{url} cannot be used"));
        opened.map(|(objects, prefix)| ReleaseStore::new(objects).below(prefix.as_ref()))
    }
}

/// An error with its cause and what to do about it.
fn told(error: &ReleaseError) -> anyhow::Error {
    anyhow!("{}; {}", error.problem(), error.help())
}

async fn packed(project: &Project) -> Result<Release> {
    Release::of(&project.config, &project.directory).await.map_err(|error| told(&error))
}

async fn publish(
    project: &Project,
    of: &StoreArguments,
    activates: bool,
    output: &mut Output<'_>,
) -> Result<Outcome> {
    let (place, json) = (&of.store, of.format.is_json());
    let release = packed(project).await?;
    let store = store(place, true)?;
    store.publish(&release).await.map_err(|error| told(&error))?;
    let (id, manifest) = (release.id(), release.manifest());
    let (files, messages) = (manifest.files().len(), manifest.messages().count());
    if activates {
        return activated(&store, store.activate(id).await, json, output).await;
    }
    if json {
        render::json(output, &json!({ "release": id, "files": files, "messages": messages }))?;
    } else {
        writeln!(
            output,
            "published release {}: {}, {}",
            id.short(),
            render::count(files, "file"),
            render::count(messages, "message")
        )?;
        let active = store.activations(1).await.map_err(|error| told(&error))?;
        if active.iter().any(|activation| activation.release() == id) {
            writeln!(output, "it is the active release")?;
        } else {
            let id = id.short();
            writeln!(output, "to activate it: crow-fly release activate {id} --store {place}")?;
        }
    }
    Ok(Outcome::Well)
}

async fn activated(
    store: &ReleaseStore,
    result: Result<Activation, ReleaseError>,
    json: bool,
    output: &mut Output<'_>,
) -> Result<Outcome> {
    let activation = result.map_err(|error| told(&error))?;
    let before = store.activations(2).await.map_err(|error| told(&error))?.get(1).map(Activation::release);
    let (number, id) = (activation.number(), activation.release());
    if json {
        render::json(output, &json!({ "activation": number, "release": id, "before": before }))?;
    } else {
        let before = before.map(|before| format!(", after {}", before.short())).unwrap_or_default();
        writeln!(output, "release {} is active: activation {number}{before}", id.short())?;
    }
    Ok(Outcome::Well)
}

/// How many activations are shown.
const SHOWN: usize = 20;

async fn list(store: &ReleaseStore, json: bool, output: &mut Output<'_>) -> Result<Outcome> {
    let activations = store.activations(SHOWN).await.map_err(|error| told(&error))?;
    let mut releases = store.releases().await.map_err(|error| told(&error))?;
    releases.retain(|id| !activations.iter().any(|activation| activation.release() == *id));
    let activated = activations.iter().map(|activation| (Some(activation.number()), activation.release()));
    let mut rows = Vec::new();
    for (number, id) in activated.chain(releases.into_iter().map(|id| (None, id))) {
        rows.push(row(store, number, id).await?);
    }
    if json {
        let rows: Vec<_> = rows
            .iter()
            .map(|row| {
                json!({ "activation": row.number, "release": row.id, "files": row.files, "messages": row.messages })
            })
            .collect();
        render::json(output, &rows)?;
    } else if rows.is_empty() {
        writeln!(output, "the store has no releases: crow-fly release publish")?;
    } else {
        let text = |number: Option<usize>| {
            number.map_or_else(|| render::NOTHING.to_owned(), |number| number.to_string())
        };
        let shown = rows.iter().enumerate().map(|(place, row)| {
            let number = row.number.map_or_else(|| render::NOTHING.to_owned(), |number| number.to_string());
            let state = match (place, row.number, row.files) {
                (.., None) => "deleted",
                (_, None, _) => "not activated",
                (0, ..) => "active",
                _ => "earlier",
            };
            vec![number, row.id.short(), text(row.files), text(row.messages), state.to_owned()]
        });
        render::table(output, &["activation", "release", "files", "messages", "state"], shown)?;
    }
    Ok(Outcome::Well)
}

/// A release in a list.
struct Row {
    /// The number of its activation; none for one that was not activated lately.
    number: Option<u64>,
    id: ReleaseId,
    /// How many files and messages it has; none where it has been cleaned.
    files: Option<usize>,
    messages: Option<usize>,
}

async fn row(store: &ReleaseStore, number: Option<u64>, id: ReleaseId) -> Result<Row> {
    let manifest = match store.manifest(id).await {
        Ok(manifest) => Some(manifest),
        Err(ReleaseError::Unknown(_)) => None,
        Err(error) => return Err(told(&error)),
    };
    let files = manifest.as_ref().map(|manifest| manifest.files().len());
    let messages = manifest.as_ref().map(|manifest| manifest.messages().count());
    Ok(Row { number, id, files, messages })
}

/// The release that a text names: the active one, or that whose id begins so.
async fn find(store: &ReleaseStore, text: &str) -> Result<ReleaseId> {
    if text == "active" {
        let active = store.activations(1).await.map_err(|error| told(&error))?;
        return active.first().map(Activation::release).context("no release is active");
    }
    store.find(text).await.map_err(|error| told(&error))
}

fn show(
    id: ReleaseId,
    manifest: &Manifest,
    texts: &Texts,
    format: ShowFormat,
    output: &mut Output<'_>,
) -> Result<Outcome> {
    let files = manifest.files();
    let messages = manifest.messages().count();
    let count = |file: &ManifestFile| texts.by_file.get(file.path()).copied().unwrap_or_default();
    match format {
        ShowFormat::Manifest => output.write_all(&manifest.to_json())?,
        ShowFormat::Json => {
            let file = |file: &ManifestFile| {
                let (path, sha256, bytes) = (file.path(), file.sha256(), file.bytes());
                json!({ "path": path, "sha256": sha256, "bytes": bytes, "messages": count(file) })
            };
            let files: Vec<_> = files.iter().map(file).collect();
            render::json(output, &json!({ "release": id, "messages": messages, "files": files }))?;
        }
        ShowFormat::Text => {
            let bytes: u64 = files.iter().map(ManifestFile::bytes).sum();
            writeln!(
                output,
                "release {id}: {}, {}, {}\n",
                render::count(files.len(), "file"),
                render::count(messages, "message"),
                render::count(usize::try_from(bytes).unwrap_or(usize::MAX), "byte")
            )?;
            let rows = files.iter().map(|file| {
                let hash = file.sha256().to_string().chars().take(12).collect();
                vec![file.path().to_owned(), count(file).to_string(), file.bytes().to_string(), hash]
            });
            render::table(output, &["file", "messages", "bytes", "hash"], rows)?;
        }
    }
    Ok(Outcome::Well)
}

/// The texts of a release, by locale and key.
#[derive(Default)]
struct Texts {
    name: String,
    by_key: BTreeMap<(String, String), String>,
    /// How many messages each file has.
    by_file: BTreeMap<String, usize>,
}

impl Texts {
    async fn published(store: &ReleaseStore, id: ReleaseId) -> Result<Self> {
        let manifest = store.manifest(id).await.map_err(|error| told(&error))?;
        let mut texts = Self { name: id.short(), ..Self::default() };
        for file in manifest.files() {
            texts.add(file, &store.file_bytes(file).await.map_err(|error| told(&error))?);
        }
        Ok(texts)
    }

    fn packed(release: &Release) -> Self {
        let mut texts = Self { name: "the catalogs".to_owned(), ..Self::default() };
        for file in release.manifest().files() {
            texts.add(file, release.file_bytes(file).unwrap_or_default());
        }
        texts
    }

    fn add(&mut self, file: &ManifestFile, bytes: &[u8]) {
        let Some((locale, section, format)) = file.catalog() else { return };
        let source = SectionSource::read(bytes, format);
        self.by_file.insert(file.path().to_owned(), source.entries().len());
        for entry in source.entries() {
            let key = match &section {
                Some(section) => format!("{section}.{}", entry.key()),
                None => entry.key().to_owned(),
            };
            self.by_key.insert((locale.clone(), key), entry.text().to_owned());
        }
    }
}

/// A message that differs.
#[derive(Serialize)]
struct Difference<'t> {
    locale: &'t str,
    key: &'t str,
    before: Option<&'t str>,
    after: Option<&'t str>,
}

fn compare(old: &Texts, new: &Texts, json: bool, output: &mut Output<'_>) -> Result<Outcome> {
    let keys: BTreeSet<&(String, String)> = old.by_key.keys().chain(new.by_key.keys()).collect();
    let difference = |both: &'_ (String, String)| {
        let (before, after) = (old.by_key.get(both), new.by_key.get(both));
        (before != after).then_some((before.map(String::as_str), after.map(String::as_str)))
    };
    let all: Vec<Difference<'_>> = keys
        .into_iter()
        .filter_map(|both| {
            let (before, after) = difference(both)?;
            Some(Difference { locale: &both.0, key: &both.1, before, after })
        })
        .collect();
    if json {
        render::json(output, &all)?;
        return Ok(Outcome::Well);
    }
    for Difference { locale, key, before, after } in &all {
        writeln!(output, "{locale} {key}")?;
        render::change(output, *before, *after)?;
    }
    let (new_texts, gone) = (
        all.iter().filter(|one| one.before.is_none()).count(),
        all.iter().filter(|one| one.after.is_none()).count(),
    );
    let changed = all.len() - new_texts - gone;
    let counts = [(new_texts, "new"), (changed, "changed"), (gone, "deleted")]
        .map(|(count, what)| format!("{count} {what}"))
        .join(", ");
    writeln!(output, "from {} to {}: {counts}", old.name, new.name)?;
    Ok(Outcome::Well)
}

async fn clean(store: &ReleaseStore, keep: usize, json: bool, output: &mut Output<'_>) -> Result<Outcome> {
    let cleaned = store.clean(keep).await.map_err(|error| told(&error))?;
    if json {
        let (releases, files, bytes) = (cleaned.releases, cleaned.files, cleaned.bytes);
        render::json(output, &json!({ "releases": releases, "files": files, "bytes": bytes }))?;
    } else {
        writeln!(
            output,
            "deleted {} and {} ({})",
            render::count(cleaned.releases.len(), "release"),
            render::count(cleaned.files, "file"),
            render::count(usize::try_from(cleaned.bytes).unwrap_or(usize::MAX), "byte")
        )?;
    }
    Ok(Outcome::Well)
}
