//! The rooms of the core: dependencies go one way, and no two rooms need each other.

use std::collections::{BTreeMap, BTreeSet};
use std::path::{Path, PathBuf};

/// The room of a file: its first module, or within `message` the first two.
fn room(path: &[String]) -> Option<String> {
    let first = path.first()?;
    match path.get(1) {
        Some(second) if first == "message" => Some(format!("message::{second}")),
        _ => Some(first.clone()),
    }
}

fn files(folder: &Path, found: &mut Vec<PathBuf>) {
    for entry in std::fs::read_dir(folder).unwrap() {
        let path = entry.unwrap().path();
        if path.is_dir() {
            files(&path, found);
        } else if path.extension().is_some_and(|extension| extension == "rs") {
            found.push(path);
        }
    }
}

/// The module of a file: `message/format/text.rs` is `message`, `format`, `text`.
fn module(source: &Path, file: &Path) -> Vec<String> {
    let relative = file.strip_prefix(source).unwrap().with_extension("");
    let parts: Vec<String> =
        relative.components().map(|part| part.as_os_str().to_str().unwrap().to_owned()).collect();
    match parts.split_last() {
        Some((last, before)) if last == "mod" => before.to_vec(),
        Some((last, [])) if last == "lib" => Vec::new(),
        _ => parts,
    }
}

/// The paths that a file uses, without what is behind braces: of `use` items, and of paths that begin with `crate::`.
fn used(text: &str, module: &[String]) -> Vec<Vec<String>> {
    let code: String =
        text.lines().filter(|line| !line.trim_start().starts_with("//")).collect::<Vec<_>>().join(" ");
    // A visibility is no dependency.
    let code = code.replace("pub(in crate::message)", "pub");
    let is_path = |letter: char| letter.is_alphanumeric() || letter == '_' || letter == ':';
    let mut found = Vec::new();
    for (start, absolute) in [("crate::", true), ("super::", false)] {
        for (at, _) in code.match_indices(start) {
            let before = code[..at].chars().next_back();
            if before.is_some_and(|letter| is_path(letter) || letter == '$') {
                continue;
            }
            let path = code[at..].split(|letter| !is_path(letter)).next().unwrap();
            let mut parts: Vec<&str> = path.split("::").filter(|part| !part.is_empty()).collect();
            let mut base = if absolute { Vec::new() } else { module.to_vec() };
            while parts.first().is_some_and(|part| *part == "super" || *part == "crate") {
                if parts.remove(0) == "super" {
                    base.pop();
                }
            }
            base.extend(parts.iter().map(|part| (*part).to_owned()));
            found.push(base);
        }
    }
    // What a folder hands on from the files in it.
    for line in text.lines() {
        let Some((_, path)) =
            line.split_once("use ").filter(|(before, _)| before.is_empty() || before.starts_with("pub"))
        else {
            continue;
        };
        let parts = path.split(|letter| !is_path(letter)).next().unwrap().split("::");
        found.push(module.iter().cloned().chain(parts.map(str::to_owned)).collect());
    }
    found
}

#[test]
fn no_room_depends_on_one_that_depends_on_it() {
    let source = Path::new(env!("CARGO_MANIFEST_DIR")).join("src");
    let mut all = Vec::new();
    files(&source, &mut all);
    let modules: BTreeSet<Vec<String>> = all.iter().map(|file| module(&source, file)).collect();
    let mut edges: BTreeMap<String, BTreeSet<String>> = BTreeMap::new();
    for file in &all {
        let own = module(&source, file);
        let Some(from) = room(&own) else { continue };
        let text = std::fs::read_to_string(file).unwrap();
        let code = text.split("#[cfg(test)]").next().unwrap();
        for path in used(code, &own) {
            // The longest part of the path that is a module.
            let target =
                (1..=path.len()).rev().map(|length| &path[..length]).find(|part| modules.contains(*part));
            if let Some(to) = target.and_then(room).filter(|to| *to != from) {
                edges.entry(from.clone()).or_default().insert(to);
            }
        }
    }
    assert!(edges.values().map(BTreeSet::len).sum::<usize>() > 40, "{edges:#?}");
    // What needs nothing that is left is taken away, again and again: circles stay.
    let mut left = edges;
    loop {
        let free: Vec<String> = left
            .iter()
            .filter(|(_, targets)| targets.iter().all(|target| !left.contains_key(target)))
            .map(|(room, _)| room.clone())
            .collect();
        if free.is_empty() {
            break;
        }
        for room in free {
            left.remove(&room);
        }
    }
    assert!(left.is_empty(), "these rooms need each other: {left:#?}");
}
