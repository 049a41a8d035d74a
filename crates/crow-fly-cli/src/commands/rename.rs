//! `crow-fly rename`: another key for a message, in all locales and in code.

use std::io::Write;

use anyhow::{Context, Result, bail};
use crow_fly_core::catalog::{SectionSource, is_key, split_key};
use serde_json::json;

use super::Outcome;
use crate::accepted::Accepted;
use crate::arguments::RenameArguments;
use crate::code;
use crate::edits::Edits;
use crate::output::Output;
use crate::place::Place;
use crate::project::Project;
use crate::render::{self, Change};
use crate::writing::{self, Writing};

pub(crate) fn run(
    project: &Project,
    what: &RenameArguments,
    writing: Option<&Writing<'_>>,
    output: &mut Output<'_>,
) -> Result<Outcome> {
    let mut edits = Edits::new(project);
    let mut changes = in_catalogs(project, what, &mut edits)?;
    let InCode { lines, mut files, mut notes } = in_code(project, what)?;
    changes.extend(lines);
    if let Some(writing) = writing {
        let mut accepted = Accepted::read(project.config.checks().accepted())?;
        let mut all = edits.changes()?;
        all.append(&mut files);
        if accepted.rename(&what.old, &what.new) {
            all.push(accepted.change()?);
        }
        writing.write(all)?;
    }
    notes.extend(edits.laid_out_anew());
    if what.format.is_json() {
        render::json(output, &json!({ "changes": changes, "notes": notes }))?;
        return Ok(Outcome::Well);
    }
    for change in &changes {
        change.print(output)?;
    }
    for note in &notes {
        render::note(note)?;
    }
    let count = render::count(changes.len(), "place");
    if changes.is_empty() {
        writeln!(output, "nothing to change: no locale has `{}`, and `{}` is there", what.old, what.new)?;
    } else if writing.is_some() {
        writeln!(output, "{count} changed")?;
    } else {
        writeln!(output, "{count}; to change them: crow-fly rename {} {} --write", what.old, what.new)?;
    }
    Ok(Outcome::Well)
}

/// Renames the message in the catalogs of all locales; returns what changes. Where it has the new key already, nothing does.
fn in_catalogs(project: &Project, what: &RenameArguments, edits: &mut Edits<'_>) -> Result<Vec<Change>> {
    let ((section, name), (new_section, new_name)) = (parts(&what.old)?, parts(&what.new)?);
    let listing = project.list()?;
    let (mut changes, mut is_renamed) = (Vec::new(), false);
    for (id, tag) in project.config.chains().all() {
        let (locale, catalogs) = (tag.to_string(), project.read(&listing, id));
        let find = |section: &str, name: &str| {
            let source = catalogs.sections.get(section)?;
            source.entries().iter().find(|entry| entry.key() == name).map(|entry| (source, entry))
        };
        let old = find(section, name);
        let is_group = |source: &SectionSource| {
            let is_below = |key: &str| key.strip_prefix(name).is_some_and(|rest| rest.starts_with('.'));
            source.entries().iter().any(|entry| is_below(entry.key()))
        };
        if old.is_none() && catalogs.sections.get(section).is_some_and(is_group) {
            bail!("`{}` is a group of messages in `{locale}`: rename each of its messages", what.old);
        }
        // Where only the last step is missing, both are there.
        let same = find(new_section, new_name).filter(|(_, new)| {
            old.is_none_or(|(_, old)| (old.text(), old.note()) == (new.text(), new.note()))
        });
        if let Some(new) = catalogs.sections.get(new_section)
            && same.is_none()
        {
            let below = |key: &str| key.strip_prefix(new_name).is_some_and(|rest| rest.starts_with('.'));
            let above = |key: &str| new_name.strip_prefix(key).is_some_and(|rest| rest.starts_with('.'));
            let taken = new
                .entries()
                .iter()
                .find(|entry| entry.key() == new_name || below(entry.key()) || above(entry.key()));
            if let Some(taken) = taken {
                bail!("`{locale}` has `{new_section}.{}` already", taken.key());
            }
        }
        let Some((source, entry)) = old else {
            is_renamed |= same.is_some();
            continue;
        };
        let position = entry.position(source, 0..0);
        let (file, of_old) = edits.file(&locale, section, &catalogs)?;
        let old_path = of_old.key(section, name);
        if same.is_some() {
            file.take(&old_path)?;
        } else if section == new_section {
            file.rename(&old_path, &of_old.key(section, new_name))?;
        } else {
            let (text, note) = file.take(&old_path)?;
            let (file, of_new) = edits.file(&locale, new_section, &catalogs)?;
            let path = of_new.key(new_section, new_name);
            file.set(&path, &text)?;
            file.set_prefix(&path, &note);
        }
        let place = Place::new(of_old.origin, position);
        changes.push(Change { place, before: what.old.clone(), after: what.new.clone() });
    }
    if changes.is_empty() && !is_renamed {
        bail!("no locale has a message `{}`", what.old);
    }
    Ok(changes)
}

/// What changes in code.
#[derive(Default)]
struct InCode {
    lines: Vec<Change>,
    files: Vec<writing::Change>,
    /// What has to be changed by hand.
    notes: Vec<String>,
}

fn in_code(project: &Project, what: &RenameArguments) -> Result<InCode> {
    let InCode { mut lines, mut files, mut notes } = InCode::default();
    let old_type = crow_fly_codegen::rust_path(&what.old);
    for (path, file) in code::files(project.config.checks().code(), project.config.checks().attributes())? {
        if let (Some(old), Some(new)) = (&old_type, crow_fly_codegen::rust_path(&what.new))
            && file.names_type(old)
        {
            let (old, new) = (old.join("::"), new.join("::"));
            notes.push(format!(
                "{path} may use the message by its type: `{old}` becomes `{new}`; the compiler finds each place"
            ));
        }
        let mut text = file.text.clone();
        // From the end, so that what comes before keeps its place.
        let mut found: Vec<Change> = Vec::new();
        for literal in file.literals.iter().rev().filter(|literal| literal.text() == what.old) {
            let Some(bytes) = literal.bytes.clone() else {
                let place = Place::new(&*path, literal.place);
                notes.push(format!("{place}: the key is written with escapes: change it by hand"));
                continue;
            };
            let before = file.line(literal.place).unwrap_or_default().trim().to_owned();
            text.replace_range(bytes, &what.new);
            let place = Place::new(&*path, literal.place);
            found.push(Change { place, before, after: String::new() });
        }
        let after: Vec<&str> = text.lines().collect();
        for change in &mut found {
            let line = after.get((change.place.line as usize).wrapping_sub(1)).copied().unwrap_or_default();
            line.trim().clone_into(&mut change.after);
        }
        if !found.is_empty() {
            found.reverse();
            lines.extend(found);
            files.push(writing::Change::new(
                path,
                Some(file.text.as_bytes().into()),
                Some(text.into_bytes()),
            ));
        }
    }
    Ok(InCode { lines, files, notes })
}

/// The section and the name of a key.
fn parts(key: &str) -> Result<(&str, &str)> {
    if !is_key(key) {
        bail!(
            "`{key}` is not a key: use ASCII letters, digits, `-` and `_`, with full stops between names, and {} bytes at most",
            SectionSource::MAX_KEY_LENGTH
        );
    }
    split_key(key).with_context(|| format!("`{key}` names no section: write `section.name`"))
}
