//! `crow-fly add-locale`: a new locale, with the structure of the default locale, to be translated.

use std::io::Write;
use std::path::{Path, PathBuf};

use anyhow::{Context, Result, bail};
use crow_fly::{Direction, LanguageTag};
use crow_fly_core::message::Message;
use crow_fly_core::message::model::Body;
use crow_fly_core::names::{Casing, name, own_name};
use crow_fly_core::number::{Category, PluralRules, PluralType};
use crow_fly_core::translation::with_forms_of;
use serde::Serialize;
use toml_edit::{Array, DocumentMut, Item, Value};

use super::Outcome;
use crate::arguments::AddLocaleArguments;
use crate::catalog_file::CatalogFile;
use crate::output::Output;
use crate::project::{LocaleCatalogs, Project};
use crate::text_file::TextFile;
use crate::writing::{Change, Writing};
use crate::{place, render};

/// What was made.
#[derive(Serialize)]
struct Added {
    locale: LanguageTag,
    direction: Direction,
    forms: Vec<&'static str>,
    files: Vec<AddedFile>,
    #[serde(skip)]
    changes: Vec<Change>,
}

#[derive(Serialize)]
struct AddedFile {
    file: String,
    texts: usize,
}

pub(crate) fn run(
    file: &Path,
    project: &Project,
    what: &AddLocaleArguments,
    writing: Option<&Writing<'_>>,
    output: &mut Output<'_>,
) -> Result<Outcome> {
    let tag = registered(&what.tag)?;
    if project.config.chains().all().any(|(_, known)| *known == tag) {
        bail!("the application has the locale `{tag}` already");
    }
    let added = added(file, project, &tag)?;
    if let Some(writing) = writing {
        writing.write(added.changes.clone())?;
    }
    if what.format.is_json() {
        render::json(output, &added)?;
        return Ok(Outcome::Well);
    }
    added.print(file, writing.is_some(), output)?;
    if writing.is_none() {
        writeln!(output, "to write: add `--write`")?;
    }
    Ok(Outcome::Well)
}

/// A tag that was typed, whose subtags are all registered.
pub(super) fn registered(text: &str) -> Result<LanguageTag> {
    let tag = LanguageTag::parse_lenient(text).with_context(|| format!("`{text}` is not a language tag"))?;
    let tag = tag.canonicalized();
    if let Some(unknown) = tag.unregistered() {
        bail!("{unknown}");
    }
    Ok(tag)
}

/// A locale in the configuration, and files for it.
fn added(file: &Path, project: &Project, tag: &LanguageTag) -> Result<Added> {
    let (set, chains) = (project.config.policy().set(), project.config.chains());
    let reference = chains.tag(set.default_locale());
    // Where its chain has texts in its language, it only needs what differs.
    let known = |parent: &LanguageTag| chains.all().any(|(_, known)| known == parent);
    let mut parents = std::iter::successors(tag.parent(), LanguageTag::parent);
    let inherits = reference.language() == tag.language() || parents.any(|parent| known(&parent));
    let own = project.read(&project.list()?, set.default_locale());
    let root = project.config.catalogs();
    let files = if inherits { Vec::new() } else { laid_out(root, &own, reference, tag)? };
    if let Some((known, _)) = files.iter().find(|(file, _)| file.path().exists()) {
        bail!("{} is there already", place::path(known.path()));
    }
    // The configuration comes last: what it names is there.
    let mut changes = files.iter().map(|(file, _)| file.change()).collect::<Result<Vec<_>>>()?;
    changes.push(with_locale(file, tag, inherits)?);
    let files = files
        .iter()
        .map(|(file, texts)| AddedFile { file: place::path(file.path()), texts: *texts })
        .collect();
    let direction = Direction::of(tag);
    Ok(Added { locale: tag.clone(), direction, forms: forms(tag), files, changes })
}

fn forms(tag: &LanguageTag) -> Vec<&'static str> {
    PluralRules::of(tag, PluralType::Cardinal).categories().map(Category::as_str).collect()
}

/// The files of the default locale as those of the new locale, each with its count of texts.
pub(super) fn laid_out(
    root: &Path,
    own: &LocaleCatalogs,
    reference: &LanguageTag,
    tag: &LanguageTag,
) -> Result<Vec<(CatalogFile, usize)>> {
    let mut files: Vec<(PathBuf, CatalogFile, usize)> = Vec::new();
    for (section, source) in &own.sections {
        let Some(of_section) = own.files.get(section) else { continue };
        // The same place below the folder, in TOML: JSON has no comments to mark a text with.
        let inside = of_section.path.strip_prefix(root).unwrap_or(&of_section.path);
        let name = |part: &std::ffi::OsStr| {
            part.to_string_lossy().replacen(&reference.to_string(), &tag.to_string(), 1)
        };
        let mut parts = inside.iter();
        let mut path = root.join(parts.next().map(name).unwrap_or_default());
        path.extend(parts);
        path.set_extension("toml");
        if !files.iter().any(|(known, ..)| *known == path) {
            let is_toml = of_section.path.extension().is_some_and(|end| end == "toml");
            let model = of_section.content()?;
            let text = if is_toml { model.text() } else { "" };
            files.push((path.clone(), CatalogFile::from_model(&path, text)?, 0));
        }
        let Some((_, file, count)) = files.iter_mut().find(|(known, ..)| *known == path) else { continue };
        for entry in source.entries() {
            let key = of_section.key(section, entry.key());
            let text = match Message::parse(entry.text()) {
                Ok(message) if matches!(message.body, Body::Match { .. }) => {
                    with_forms_of(&message, tag).to_string()
                }
                _ => entry.text().to_owned(),
            };
            file.set(&key, &text)?;
            file.mark(&key);
            *count += 1;
        }
    }
    for (_, file, _) in &mut files {
        file.set_head(&[
            format!("{}. Plural forms: {}.", described(tag), forms(tag).join(", ")),
            "A text is used once the line `untranslated` above it is deleted.".to_owned(),
        ]);
    }
    Ok(files.into_iter().map(|(_, file, count)| (file, count)).collect())
}

/// `Arabic (العربية), written from right to left`.
fn described(tag: &LanguageTag) -> String {
    let own = own_name(tag, Casing::Sentence);
    let english = LanguageTag::parse("en").ok().and_then(|english| name(tag, &english, Casing::Sentence));
    let names = match english {
        Some(english) if english != own => format!("{english} ({own})"),
        _ => own,
    };
    let direction = match Direction::of(tag) {
        Direction::RightToLeft => "right to left",
        Direction::LeftToRight => "left to right",
    };
    format!("{names}, written from {direction}")
}

/// The configuration with another locale.
fn with_locale(file: &Path, tag: &LanguageTag, inherits: bool) -> Result<Change> {
    let shown = place::path(file);
    let config = TextFile::read(file)?;
    let mut document: DocumentMut =
        config.text().parse().with_context(|| format!("{shown} cannot be changed"))?;
    let locales = document.get_mut("locales").and_then(Item::as_array_mut);
    push(locales.with_context(|| format!("{shown} has no list `locales`"))?, tag);
    if inherits {
        let catalogs = document.entry("catalogs").or_insert_with(toml_edit::table);
        let list = catalogs.as_table_like_mut().map(|catalogs| {
            catalogs.entry("inherits").or_insert_with(|| Item::Value(Value::Array(Array::new())))
        });
        let list = list.and_then(Item::as_array_mut);
        push(list.with_context(|| format!("`inherits` of {shown} is not a list"))?, tag);
    }
    config.change(Some(&document.to_string()))
}

/// Adds a tag, written like those before it.
fn push(list: &mut Array, tag: &LanguageTag) {
    let before = list.iter().last().map(|last| last.decor().clone());
    let mut value = Value::from(tag.to_string());
    match before {
        Some(decor) if list.len() > 1 => *value.decor_mut() = decor,
        Some(_) => value.decor_mut().set_prefix(" "),
        None => {}
    }
    list.push_formatted(value);
}

impl Added {
    fn print(&self, config: &Path, is_written: bool, output: &mut Output<'_>) -> Result<()> {
        let Self { locale, files, .. } = self;
        let (shown, is) = (place::path(config), if is_written { "added" } else { "to be added" });
        if files.is_empty() {
            writeln!(output, "{shown}: `{locale}` {is} to `locales`, and to `inherits` of `[catalogs]`")?;
            writeln!(output, "It has the texts of its chain; write a file for those that differ.")?;
            return Ok(());
        }
        writeln!(output, "{shown}: `{locale}` {is} to `locales`")?;
        for AddedFile { file, texts } in files {
            writeln!(output, "{file}: {} to translate", render::count(*texts, "text"))?;
        }
        let forms = self.forms.join(", ");
        writeln!(output, "{}; plural forms: {forms}", described(locale))?;
        Ok(())
    }
}
