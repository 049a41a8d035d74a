//! A catalog's file that is changed: comments, order and everything else stay as they are.

use std::path::Path;

use anyhow::{Context, Result, bail};
use crow_fly_core::catalog::{FileFormat, SectionSource, SourceEntry};
use crow_fly_core::message::Message;
use serde_json::{Map, Value};
use toml_edit::{DocumentMut, Item, Key, Table, TableLike};

use crate::place;
use crate::text_file::TextFile;
use crate::writing::Change;

/// A file of messages. Keys are paths: the names of groups, and that of the message.
#[derive(Clone)]
pub(crate) struct CatalogFile {
    file: TextFile,
    content: Content,
    is_changed: bool,
    takes_away: bool,
}

#[derive(Clone)]
enum Content {
    Toml(Box<DocumentMut>),
    /// With the white space that a level is indented by.
    Json(Map<String, Value>, String),
}

impl CatalogFile {
    /// The messages of a file.
    pub(crate) fn of(file: TextFile) -> Result<Self> {
        let wrong = || format!("{} cannot be changed: correct it first", place::path(file.path()));
        let text = file.text();
        let content = if file.path().extension().is_some_and(|end| end == FileFormat::Json.extension()) {
            let indent = text.lines().nth(1).map_or("  ", |line| {
                let length = line.len() - line.trim_start().len();
                line.get(..length).filter(|indent| !indent.is_empty()).unwrap_or("  ")
            });
            Content::Json(serde_json::from_str(text).with_context(wrong)?, indent.to_owned())
        } else {
            Content::Toml(Box::new(text.parse().with_context(wrong)?))
        };
        Ok(Self { file, content, is_changed: false, takes_away: false })
    }

    /// The messages of one file, as the beginning of another one, which is TOML and does not exist yet.
    pub(crate) fn from_model(path: &Path, model: &str) -> Result<Self> {
        let wrong = || format!("{} cannot be made", place::path(path));
        let content = Content::Toml(Box::new(model.parse().with_context(wrong)?));
        Ok(Self { file: TextFile::new(path), content, is_changed: true, takes_away: false })
    }

    pub(crate) fn path(&self) -> &Path {
        self.file.path()
    }

    /// Whether a message was taken out.
    pub(crate) const fn takes_away(&self) -> bool {
        self.takes_away
    }

    /// Whether something has been changed.
    pub(crate) const fn is_changed(&self) -> bool {
        self.is_changed
    }

    /// Whether it has no messages.
    fn is_empty(&self) -> bool {
        match &self.content {
            Content::Toml(document) => document.is_empty(),
            Content::Json(map, _) => map.is_empty(),
        }
    }

    /// Sets the text of a message, in place where there is one, else after the others of its group.
    pub(crate) fn set(&mut self, path: &[&str], text: &str) -> Result<()> {
        let file = place::path(self.path());
        let (name, groups) = path.split_last().context("a key is empty")?;
        match &mut self.content {
            Content::Toml(document) => {
                let text = toml_text(&self.file, text);
                let mut table: &mut dyn TableLike = document.as_table_mut();
                for group in groups {
                    if table.get(group).is_none() {
                        let mut new = Table::new();
                        // Written where it has messages of its own.
                        new.set_implicit(true);
                        table.insert(group, Item::Table(new));
                    }
                    let next = table.get_mut(group).and_then(Item::as_table_like_mut);
                    table = next.with_context(|| format!("{file}: `{group}` is a message, not a group"))?;
                }
                match table.get_mut(name) {
                    Some(Item::Value(value)) => {
                        let decor = value.decor().clone();
                        *value = text;
                        *value.decor_mut() = decor;
                    }
                    Some(_) => bail!("{file}: `{name}` is a group, not a message"),
                    None => drop(table.insert(name, toml_edit::value(text))),
                }
            }
            Content::Json(map, _) => {
                let place =
                    json_place(map, path).unwrap_or_else(|| path.iter().map(ToString::to_string).collect());
                *json_at(map, &place).with_context(|| format!("{file}: `{name}` has no place"))? =
                    Value::from(text);
            }
        }
        self.is_changed = true;
        Ok(())
    }

    /// Moves a message to another key of this file, with its note: in its place where both are in one group.
    pub(crate) fn rename(&mut self, old: &[&str], new: &[&str]) -> Result<()> {
        let Some((text, note)) = self.take_place(old, new)? else { return Ok(()) };
        self.set(new, &text)?;
        self.set_prefix(new, &note);
        Ok(())
    }

    /// Renames a message in its group; else takes it out, and returns its text and the comment above it.
    fn take_place(&mut self, old: &[&str], new: &[&str]) -> Result<Option<(String, String)>> {
        self.is_changed = true;
        let ((name, groups), (new_name, new_groups)) =
            old.split_last().zip(new.split_last()).context("a key is empty")?;
        if groups == new_groups {
            match &mut self.content {
                Content::Toml(document) => {
                    if let Some(table) = toml_group(document, groups) {
                        rename_in(table, name, new_name);
                        return Ok(None);
                    }
                }
                Content::Json(map, _) => {
                    let place = json_place(map, old);
                    if let Some((last, before)) = place.as_deref().and_then(<[String]>::split_last)
                        && let Some(map) = json_group(map, before)
                    {
                        let start = last.strip_suffix(*name).unwrap_or_default();
                        let renamed = format!("{start}{new_name}");
                        *map = std::mem::take(map)
                            .into_iter()
                            .map(|(key, value)| (if key == *last { renamed.clone() } else { key }, value))
                            .collect();
                        return Ok(None);
                    }
                }
            }
        }
        self.take(old).map(Some)
    }

    /// Takes a message out: its text, and the comment above it.
    pub(crate) fn take(&mut self, path: &[&str]) -> Result<(String, String)> {
        let file = place::path(self.path());
        let missing = || format!("{file}: `{}` is not there", path.join("."));
        let (name, groups) = path.split_last().context("a key is empty")?;
        let taken = match &mut self.content {
            Content::Toml(document) => toml_group(document, groups).and_then(|table| {
                let prefix = table.key(name).map(prefix).unwrap_or_default();
                let text = table.remove(name)?.as_str()?.to_owned();
                Some((text, prefix))
            }),
            Content::Json(map, _) => json_place(map, path).and_then(|place| {
                let (last, before) = place.split_last()?;
                let text = json_group(map, before)?.shift_remove(last)?.as_str()?.to_owned();
                Some((text, String::new()))
            }),
        };
        let taken = taken.with_context(missing)?;
        (self.is_changed, self.takes_away) = (true, true);
        Ok(taken)
    }

    /// Sets the white space and the comments before a key. JSON has no comments.
    pub(crate) fn set_prefix(&mut self, path: &[&str], text: &str) {
        let Some((name, groups)) = path.split_last() else { return };
        if let Content::Toml(document) = &mut self.content
            && let Some(mut key) = toml_group(document, groups).and_then(|table| table.key_mut(name))
        {
            key.leaf_decor_mut().set_prefix(text);
            self.is_changed = true;
        }
    }

    /// Marks a message as untranslated. JSON has no comments, so that no message of it can be marked.
    pub(crate) fn mark(&mut self, path: &[&str]) {
        let before = self.prefix(path);
        self.set_prefix(path, &format!("{before}# {}\n", SourceEntry::UNTRANSLATED));
    }

    /// Takes the mark away; whether there was one.
    pub(crate) fn unmark(&mut self, path: &[&str]) -> bool {
        let before = self.prefix(path);
        let is_mark = |line: &&str| line.trim().trim_start_matches('#').trim() == SourceEntry::UNTRANSLATED;
        let rest: String = before.split_inclusive('\n').filter(|line| !is_mark(line)).collect();
        let has_mark = rest != before;
        if has_mark {
            self.set_prefix(path, &rest);
        }
        has_mark
    }

    fn prefix(&mut self, path: &[&str]) -> String {
        let Some((name, groups)) = path.split_last() else { return String::new() };
        match &mut self.content {
            Content::Toml(document) => {
                let table = toml_group(document, groups);
                table.and_then(|table| table.key(name).map(prefix)).unwrap_or_default()
            }
            Content::Json(..) => String::new(),
        }
    }

    /// Puts a comment above everything.
    pub(crate) fn set_head(&mut self, lines: &[String]) {
        if let Content::Toml(document) = &mut self.content {
            let head: String =
                lines.iter().flat_map(|line| ["# ", line, "\n"]).map(ToOwned::to_owned).collect();
            let text = format!("{head}\n{document}");
            if let Ok(document) = text.parse() {
                self.content = Content::Toml(Box::new(document));
            }
        }
    }

    /// The file as it is written.
    pub(crate) fn text(&self) -> String {
        match &self.content {
            Content::Toml(document) => document.to_string(),
            Content::Json(map, indent) => {
                let mut bytes = Vec::new();
                let formatter = serde_json::ser::PrettyFormatter::with_indent(indent.as_bytes());
                let mut serializer = serde_json::Serializer::with_formatter(&mut bytes, formatter);
                // Texts and maps of them always are JSON.
                let _ = serde::Serialize::serialize(map, &mut serializer);
                bytes.push(b'\n');
                String::from_utf8(bytes).unwrap_or_default()
            }
        }
    }

    /// The change of the file. One without messages is deleted.
    pub(crate) fn change(&self) -> Result<Change> {
        let text = self.text();
        self.file.change((!self.is_empty()).then_some(&text))
    }

    /// Whether the layout of what is not changed is lost: JSON is written anew.
    pub(crate) fn is_laid_out_anew(&self) -> bool {
        matches!(self.content, Content::Json(..))
            && self.file.exists()
            && Self::of(self.file.clone()).is_ok_and(|same| same.text() != self.file.text())
    }
}

/// A text as a value of TOML. A file whose lines end in CR LF makes each line end of a text that stands in several lines one of
/// those: where that would be another text, it stands in one line, with escapes.
fn toml_text(file: &TextFile, text: &str) -> toml_edit::Value {
    if !file.ends_in_pairs() {
        return text.into();
    }
    let plain = text.replace("\r\n", "\n");
    let read = plain.replace('\n', "\r\n");
    let parsed = |text: &str| Message::parse(text).ok().map(|message| message.to_string());
    if read == text || parsed(&read).is_some_and(|read| Some(read) == parsed(text)) {
        return plain.into();
    }
    let line = SectionSource::toml_line("x", text);
    let document = line.parse::<DocumentMut>().ok();
    document.and_then(|document| document.get("x")?.as_value().cloned()).unwrap_or_else(|| plain.into())
}

fn prefix(key: &Key) -> String {
    key.leaf_decor().prefix().and_then(|prefix| prefix.as_str()).unwrap_or_default().to_owned()
}

fn toml_group<'d>(document: &'d mut DocumentMut, groups: &[&str]) -> Option<&'d mut dyn TableLike> {
    let mut table: &mut dyn TableLike = document.as_table_mut();
    for group in groups {
        table = table.get_mut(group)?.as_table_like_mut()?;
    }
    Some(table)
}

/// Renames an entry where it stands.
fn rename_in(table: &mut dyn TableLike, old: &str, new: &str) {
    let names: Vec<String> = table.iter().map(|(name, _)| name.to_owned()).collect();
    for name in names {
        // Taken out and put after the others, one after another: the order stays.
        let Some(key) = table.key(&name).cloned() else { continue };
        let Some(item) = table.remove(&name) else { continue };
        let name = if name == old { new } else { &name };
        let mut moved = Key::new(name);
        *moved.leaf_decor_mut() = key.leaf_decor().clone();
        *moved.dotted_decor_mut() = key.dotted_decor().clone();
        table.entry_format(&moved).or_insert(item);
    }
}

/// The names that lead to a message: keys of JSON may be dotted themselves.
fn json_place(map: &Map<String, Value>, path: &[&str]) -> Option<Vec<String>> {
    for count in 1..=path.len() {
        let (first, rest) = path.split_at_checked(count)?;
        let name = first.join(".");
        match map.get(&name) {
            Some(Value::Object(inner)) if !rest.is_empty() => {
                if let Some(mut place) = json_place(inner, rest) {
                    place.insert(0, name);
                    return Some(place);
                }
            }
            Some(Value::String(_)) if rest.is_empty() => return Some([name].into()),
            _ => {}
        }
    }
    None
}

fn json_group<'m>(map: &'m mut Map<String, Value>, groups: &[String]) -> Option<&'m mut Map<String, Value>> {
    let mut map = map;
    for group in groups {
        map = map.get_mut(group)?.as_object_mut()?;
    }
    Some(map)
}

/// The value at a place, which is made where it is not there.
fn json_at<'m>(map: &'m mut Map<String, Value>, place: &[String]) -> Option<&'m mut Value> {
    let (last, groups) = place.split_last()?;
    let mut map = map;
    for group in groups {
        map = map.entry(group).or_insert_with(|| Value::Object(Map::new())).as_object_mut()?;
    }
    Some(map.entry(last).or_insert(Value::Null))
}

#[cfg(test)]
#[allow(clippy::unwrap_used, reason = "a test fails by panicking")]
mod tests {
    use super::*;

    fn parsed(path: &str, text: &str) -> CatalogFile {
        CatalogFile::of(TextFile::of(path, text.as_bytes()).unwrap()).unwrap()
    }

    fn toml(text: &str) -> CatalogFile {
        parsed("home.toml", text)
    }

    #[test]
    fn comments_and_order_stay() {
        let text = "# The pages.\n\n# A heading.\ntitle = 'Ferries' # short\n\n[seats]\n# How many.\nleft = \"Left\"\nnone = 'None'\n";
        let mut file = toml(text);
        assert_eq!((file.text().as_str(), file.is_changed()), (text, false));
        file.set(&["title"], "Boats").unwrap();
        file.set(&["seats", "left"], ".input {$n :integer}\n.match $n\n* {{x}}").unwrap();
        file.set(&["seats", "full"], "It's \"full\"").unwrap();
        file.set(&["new", "group", "key"], "y").unwrap();
        insta::assert_snapshot!(file.text());
        assert!(file.set(&["seats"], "x").is_err());
        assert!(file.set(&["title", "x"], "x").is_err());
    }

    #[test]
    fn marks_come_and_go() {
        let mut file = toml("# A heading.\ntitle = 'Ferries'\nother = 'x'\n");
        file.mark(&["title"]);
        assert_eq!(file.text(), "# A heading.\n# untranslated\ntitle = 'Ferries'\nother = 'x'\n");
        assert!(file.unmark(&["title"]) && !file.unmark(&["title"]) && !file.unmark(&["nosuch"]));
        assert_eq!(file.text(), "# A heading.\ntitle = 'Ferries'\nother = 'x'\n");
    }

    #[test]
    fn messages_are_renamed_in_their_place_or_moved() {
        let mut file = toml("a = '1'\n# Two.\nb = '2'\nc = '3'\n\n[d]\ne = '4'\n");
        file.rename(&["b"], &["bb"]).unwrap();
        assert_eq!(file.text(), "a = '1'\n# Two.\nbb = '2'\nc = '3'\n\n[d]\ne = '4'\n");
        file.rename(&["bb"], &["d", "b"]).unwrap();
        assert_eq!(file.text(), "a = '1'\nc = '3'\n\n[d]\ne = '4'\n# Two.\nb = \"2\"\n");
        assert!(file.rename(&["nosuch"], &["d", "x"]).is_err());
    }

    #[test]
    fn json_keeps_its_order_and_its_indent() {
        let text = "{\n    \"b\": \"1\",\n    \"seats\": {\n        \"left\": \"2\"\n    },\n    \"seats.none\": \"3\",\n    \"a\": \"4\"\n}\n";
        let mut file = parsed("home.json", text);
        assert_eq!(file.text(), text);
        file.set(&["seats", "none"], "drei").unwrap();
        file.set(&["seats", "all"], "alle").unwrap();
        file.rename(&["seats", "none"], &["seats", "full"]).unwrap();
        file.rename(&["b"], &["seats", "b"]).unwrap();
        assert_eq!(
            file.text(),
            "{\n    \"seats\": {\n        \"left\": \"2\",\n        \"all\": \"alle\",\n        \"b\": \"1\"\n    },\n    \"seats.full\": \"drei\",\n    \"a\": \"4\"\n}\n"
        );
    }
}
