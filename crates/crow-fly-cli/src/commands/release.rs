//! `crow-fly release`: catalogs as releases in an object store.

use std::collections::{BTreeMap, BTreeSet};
use std::io::Write;
use std::path::Path;
use std::sync::Arc;

use anyhow::{Context, Result, anyhow, bail};
use crow_fly::release::{
    Activation, Cleaned, History, Manifest, ManifestFile, Release, ReleaseError, ReleaseId, ReleaseStore,
};
use crow_fly_core::catalog::SectionSource;
use crow_fly_core::finding::Severity;
use object_store::ObjectStoreScheme;
use object_store::local::LocalFileSystem;
use serde::Serialize;
use serde_json::json;
use url::Url;

use super::Outcome;
use super::check;
use crate::arguments::{ReleaseArguments, ReleaseCommand, ShowFormat, StoreArguments};
use crate::output::Output;
use crate::project::Project;
use crate::render;
use crate::writing::FolderLock;

pub(crate) fn run(
    open: impl FnOnce() -> Result<Project>,
    reading: Option<FolderLock>,
    what: &ReleaseArguments,
    output: &mut Output<'_>,
) -> Result<Outcome> {
    let runtime = tokio::runtime::Builder::new_current_thread().enable_all().build()?;
    runtime.block_on(async {
        let opened = |store: &StoreArguments| self::store(&store.store, false);
        match &what.command {
            ReleaseCommand::Publish { store, activate, check } => {
                let project = open()?;
                if *check && !is_clean(&project, store.format.is_json(), output)? {
                    return Ok(Outcome::Found);
                }
                publish(&project, reading, store, *activate, output).await
            }
            ReleaseCommand::Activate { store: of, release } => {
                let store = opened(of)?;
                let id = find(&store, release).await?;
                activate(&store, id, of.format.is_json(), output).await
            }
            ReleaseCommand::RollBack { store: of, release } => {
                roll_back(&opened(of)?, release.as_deref(), of.format.is_json(), output).await
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
            .with_context(|| format!("the folder {place} cannot be used"))?
            // What is published is there after a power cut, too.
            .with_fsync(true);
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
    reading: Option<FolderLock>,
    of: &StoreArguments,
    activates: bool,
    output: &mut Output<'_>,
) -> Result<Outcome> {
    let (place, json) = (&of.store, of.format.is_json());
    let release = packed(project).await?;
    // What follows takes as long as the network wants.
    drop(reading);
    let store = store(place, true)?;
    store.publish(&release).await.map_err(|error| told(&error))?;
    let (id, manifest) = (release.id(), release.manifest());
    // Those of all locales.
    let (files, messages) = (manifest.files().len(), Texts::packed(&release).by_key.len());
    if activates {
        return activate(&store, id, json, output).await;
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

async fn activate(
    store: &ReleaseStore,
    id: ReleaseId,
    json: bool,
    output: &mut Output<'_>,
) -> Result<Outcome> {
    let before = store.activations(1).await.map_err(|error| told(&error))?.pop();
    activated(before.as_ref(), store.activate(id).await, json, output)
}

fn activated(
    before: Option<&Activation>,
    result: Result<Activation, ReleaseError>,
    json: bool,
    output: &mut Output<'_>,
) -> Result<Outcome> {
    let activation = result.map_err(|error| told(&error))?;
    let (number, id) = (activation.number(), activation.release());
    let is_new = before.is_none_or(|before| before.number() != number);
    if json {
        let before = before.filter(|_| is_new).map(Activation::release);
        let json = json!({ "activation": number, "release": id, "before": before, "new": is_new });
        render::json(output, &json)?;
    } else if is_new {
        let before = before.map(|before| format!(", after {}", before.release().short())).unwrap_or_default();
        writeln!(output, "release {} is active: activation {number}{before}", id.short())?;
    } else {
        writeln!(
            output,
            "release {} is active already: activation {number}; nothing is changed",
            id.short()
        )?;
    }
    Ok(Outcome::Well)
}

async fn roll_back(
    store: &ReleaseStore,
    release: Option<&str>,
    json: bool,
    output: &mut Output<'_>,
) -> Result<Outcome> {
    let to = match release {
        Some(text) => find(store, text).await?,
        None => store.earlier().await.map_err(|error| told(&error))?,
    };
    let before = store.activations(1).await.map_err(|error| told(&error))?.pop();
    if !json && let Some(before) = &before {
        writeln!(output, "rolling back from release {} to release {}", before.release().short(), to.short())?;
        output.flush()?;
    }
    activated(before.as_ref(), store.roll_back_to(to).await, json, output)
}

/// Whether `check` finds no error and no warning; prints what it finds.
fn is_clean(project: &Project, json: bool, output: &mut Output<'_>) -> Result<bool> {
    let mut findings = check::findings(project)?;
    findings.retain(|found| found.finding.severity >= Severity::Warning);
    if findings.is_empty() {
        return Ok(true);
    }
    if json {
        render::json(output, &json!({ "release": null, "findings": findings }))?;
    } else {
        findings.iter().try_for_each(|found| render::finding(output, found))?;
        writeln!(output, "nothing is published: {}", render::count(findings.len(), "finding"))?;
    }
    Ok(false)
}

/// How many activations are shown.
const SHOWN: usize = 20;

async fn list(store: &ReleaseStore, json: bool, output: &mut Output<'_>) -> Result<Outcome> {
    let history = store.history(SHOWN).await.map_err(|error| told(&error))?;
    let mut releases = store.releases().await.map_err(|error| told(&error))?;
    releases.retain(|id| !history.activations.iter().any(|activation| activation.release() == *id));
    let activated =
        history.activations.iter().map(|activation| (Some(activation.number()), activation.release()));
    let mut rows = Vec::new();
    for (place, (number, id)) in activated.chain(releases.into_iter().map(|id| (None, id))).enumerate() {
        rows.push(Row::of(store, (place, number), id, &history).await?);
    }
    if json {
        let History { damaged, strays, .. } = &history;
        let damaged: Vec<_> =
            damaged.iter().map(|(number, why)| json!({ "activation": number, "why": why })).collect();
        render::json(output, &json!({ "releases": rows, "damaged": damaged, "strays": strays }))?;
        return Ok(Outcome::Well);
    }
    if rows.is_empty() {
        writeln!(output, "the store has no releases: crow-fly release publish")?;
    } else {
        let text = |number: Option<u64>| {
            number.map_or_else(|| render::NOTHING.to_owned(), |number| number.to_string())
        };
        let shown = rows
            .iter()
            .map(|row| vec![text(row.activation), row.release.short(), text(row.files), row.state.clone()]);
        render::table(output, &["activation", "release", "files", "state"], shown)?;
    }
    for (number, why) in &history.damaged {
        writeln!(output, "activation {number} cannot be read: {why}")?;
    }
    for stray in &history.strays {
        writeln!(output, "`{stray}` lies among the activations and is none: delete it")?;
    }
    Ok(Outcome::Well)
}

/// A release in a list.
#[derive(Serialize)]
struct Row {
    /// The number of its activation; none for one that was not activated lately.
    activation: Option<u64>,
    release: ReleaseId,
    /// How many files it has; none where it has been cleaned, or its manifest is damaged.
    files: Option<u64>,
    state: String,
}

impl Row {
    async fn of(
        store: &ReleaseStore,
        (place, activation): (usize, Option<u64>),
        release: ReleaseId,
        history: &History,
    ) -> Result<Self> {
        let (files, state) = match store.manifest(release).await {
            Ok(manifest) => {
                let state = match activation {
                    None => "not activated",
                    Some(_) if place == 0 => "active",
                    Some(_) if history.left.contains(&release) => "rolled back from",
                    Some(_) => "earlier",
                };
                (Some(manifest.files().len() as u64), state.to_owned())
            }
            Err(ReleaseError::Unknown(_)) => (None, "deleted".to_owned()),
            Err(ReleaseError::Damaged { reason, .. }) => (None, format!("damaged: {reason}")),
            Err(error) => return Err(told(&error)),
        };
        Ok(Self { activation, release, files, state })
    }
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
    let messages = texts.by_key.len();
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
    let is_ahead = !cleaned.ahead.is_empty();
    if json {
        let Cleaned { releases, files, bytes, ahead, .. } = cleaned;
        render::json(
            output,
            &json!({ "releases": releases, "files": files, "bytes": bytes, "ahead": ahead }),
        )?;
    } else if is_ahead {
        writeln!(
            output,
            "nothing is deleted: the times of these objects are ahead of the store's own clock"
        )?;
        for object in &cleaned.ahead {
            writeln!(output, "  {object}")?;
        }
        writeln!(output, "write them again, by publishing their release, or delete what is none of yours")?;
    } else {
        writeln!(
            output,
            "deleted {} and {} ({})",
            render::count(cleaned.releases.len(), "release"),
            render::count(cleaned.files, "file"),
            render::count(usize::try_from(cleaned.bytes).unwrap_or(usize::MAX), "byte")
        )?;
    }
    Ok(if is_ahead { Outcome::Found } else { Outcome::Well })
}
