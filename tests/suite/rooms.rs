//! The rooms of every crate: a file needs no file that needs it, by any way. All paths are read, those that stand in code
//! too; what a folder hands on is followed to the file that has it. A folder's `mod.rs` and the files in it are one house:
//! it hands on what they have, and they take what they share from it.

use std::collections::{BTreeMap, BTreeSet};
use std::path::{Path, PathBuf};

use crate::architecture::{files, root};

/// A module's path: `message`, `format`, `text`.
type Module = Vec<String>;

/// A crate as it is read: for each module its file, and what it hands on.
struct House {
    files: BTreeMap<Module, PathBuf>,
    handed_on: BTreeMap<(Module, String), Vec<String>>,
    /// The paths that each file uses.
    used: BTreeMap<Module, Vec<Vec<String>>>,
}

impl House {
    fn read(source: &Path) -> Self {
        let mut paths = Vec::new();
        files(source, "rs", &mut paths);
        let mut house = Self { files: BTreeMap::new(), handed_on: BTreeMap::new(), used: BTreeMap::new() };
        for path in paths {
            let module = module(source, &path);
            let text = std::fs::read_to_string(&path).unwrap();
            let code = plain(text.split("#[cfg(test)]").next().unwrap());
            let mut used = Vec::new();
            for (is_handed_on, path) in imports(&code) {
                let Some(path) = absolute(&path, &module) else { continue };
                if is_handed_on && let Some(name) = path.last() {
                    house.handed_on.insert((module.clone(), name.clone()), path.clone());
                }
                used.push(path);
            }
            used.extend(inline(&code).filter_map(|path| absolute(&path, &module)));
            house.used.insert(module.clone(), used);
            house.files.insert(module, path);
        }
        house
    }

    /// The module that a path leads to.
    fn resolve(&self, path: &[String]) -> Module {
        let mut here = Module::new();
        for (at, name) in path.iter().enumerate() {
            let below: Module = here.iter().cloned().chain([name.clone()]).collect();
            if self.files.contains_key(&below) {
                here = below;
            } else if let Some(target) = self.handed_on.get(&(here.clone(), name.clone()))
                && target != path
            {
                let whole: Vec<String> = target.iter().chain(&path[at + 1..]).cloned().collect();
                return self.resolve(&whole);
            } else {
                break;
            }
        }
        here
    }

    /// What each file needs, but for its own folder's `mod.rs`, and of that the files in it.
    fn needs(&self) -> BTreeMap<Module, BTreeSet<Module>> {
        let mut needs: BTreeMap<Module, BTreeSet<Module>> = BTreeMap::new();
        for (from, paths) in self.used.iter().filter(|(from, _)| !from.is_empty()) {
            for to in paths.iter().map(|path| self.resolve(path)) {
                let is_own = to.starts_with(from) || from.starts_with(&to);
                if !is_own {
                    needs.entry(from.clone()).or_default().insert(to);
                }
            }
        }
        needs
    }
}

fn module(source: &Path, file: &Path) -> Module {
    let relative = file.strip_prefix(source).unwrap().with_extension("");
    let parts: Module = relative.iter().map(|part| part.to_str().unwrap().to_owned()).collect();
    match parts.split_last() {
        Some((last, before)) if last == "mod" => before.to_vec(),
        Some((last, [])) if last == "lib" || last == "main" => Module::new(),
        _ => parts,
    }
}

/// Code without comments.
fn plain(text: &str) -> String {
    let is_code = |line: &&str| !line.trim_start().starts_with("//");
    text.lines().filter(is_code).collect::<Vec<_>>().join(" ")
}

/// The paths of all `use` items, groups taken apart, and whether they are handed on.
fn imports(code: &str) -> Vec<(bool, Vec<String>)> {
    let mut found = Vec::new();
    for (at, _) in code.match_indices("use ") {
        let before = code[..at].trim_end();
        if !(before.is_empty() || before.ends_with([';', '}', '{', ']', ')']) || before.ends_with("pub")) {
            continue;
        }
        let is_handed_on = before.ends_with("pub") || before.ends_with(')') && before.contains("pub(");
        let item = code[at + 4..].split(';').next().unwrap();
        expand(item.trim(), &[], &mut |path| found.push((is_handed_on, path)));
    }
    found
}

/// Takes groups apart: `a::{b, c::{d, e}}`.
fn expand(item: &str, before: &[String], found: &mut dyn FnMut(Vec<String>)) {
    let (start, group) = item.split_once('{').map_or((item, None), |(start, rest)| (start, Some(rest)));
    let start = start.split(" as ").next().unwrap();
    let names = start.split("::").map(str::trim).filter(|name| !name.is_empty() && *name != "*");
    let path: Vec<String> = before.iter().cloned().chain(names.map(str::to_owned)).collect();
    let Some(group) = group.and_then(|rest| rest.rsplit_once('}')).map(|(group, _)| group) else {
        return found(path);
    };
    let (mut depth, mut begin) = (0, 0);
    for (at, letter) in group.char_indices().chain([(group.len(), ',')]) {
        match letter {
            '{' => depth += 1,
            '}' => depth -= 1,
            ',' if depth == 0 => {
                let part = group[begin..at].trim();
                if part == "self" {
                    found(path.clone());
                } else if !part.is_empty() {
                    expand(part, &path, found);
                }
                begin = at + 1;
            }
            _ => {}
        }
    }
}

/// Paths that stand in code: `crate::web::explain(…)`.
fn inline(code: &str) -> impl Iterator<Item = Vec<String>> {
    let is_path = |letter: char| letter.is_alphanumeric() || letter == '_' || letter == ':';
    ["crate::", "super::"].into_iter().flat_map(move |start| {
        code.match_indices(start).filter_map(move |(at, _)| {
            let is_start = !code[..at].ends_with(|letter: char| is_path(letter) || letter == '$');
            let path = code[at..].split(|letter| !is_path(letter)).next().unwrap();
            is_start.then(|| path.split("::").filter(|name| !name.is_empty()).map(str::to_owned).collect())
        })
    })
}

/// A path from the root of the crate; none of another crate.
fn absolute(path: &[String], module: &[String]) -> Option<Vec<String>> {
    let mut base = module.to_vec();
    let mut rest = path.iter().peekable();
    match rest.peek()?.as_str() {
        "crate" => base.clear(),
        "super" | "self" => {}
        _ => {
            // What a folder hands on from its files is named without a start.
            return Some(module.iter().chain(path).cloned().collect());
        }
    }
    while let Some(name) = rest.next_if(|name| matches!(name.as_str(), "crate" | "super" | "self")) {
        if name == "super" {
            base.pop();
        }
    }
    base.extend(rest.cloned());
    Some(base)
}

#[test]
fn no_file_needs_one_that_needs_it() {
    let mut count = 0;
    for name in
        ["crow-fly-cldr", "crow-fly-core", "crow-fly-codegen", "crow-fly-embed", "crow-fly", "crow-fly-cli"]
    {
        let needs = House::read(&root().join("crates").join(name).join("src")).needs();
        count += needs.values().map(BTreeSet::len).sum::<usize>();
        // What needs nothing that is left, or is not needed by it, is taken away, again and again: circles stay.
        let mut left = needs;
        loop {
            let needed: BTreeSet<Module> = left.values().flatten().cloned().collect();
            let before = left.len();
            let here: BTreeSet<Module> = left.keys().cloned().collect();
            left.retain(|module, needs| {
                needs.retain(|module| here.contains(module));
                !needs.is_empty() && needed.contains(module)
            });
            if left.len() == before {
                break;
            }
        }
        let shown: Vec<String> = left
            .iter()
            .flat_map(|(from, needs)| {
                needs.iter().map(|to| format!("{} → {}", from.join("::"), to.join("::")))
            })
            .collect();
        assert!(shown.is_empty(), "in {name} these files need each other: {shown:#?}");
    }
    assert!(count > 800, "{count} needs were read");
}

/// The reader of paths sees what it is to see.
#[test]
fn paths_are_read_in_every_form() {
    let code = plain(
        "use crate::a::{self, b::C, d::{E as F, G}};\npub use super::x::Y;\n// use crate::no;\nfn f() { crate::web::g(super::h::I) }",
    );
    let imported: Vec<String> = imports(&code)
        .into_iter()
        .map(|(is_handed_on, path)| format!("{}{}", if is_handed_on { "pub " } else { "" }, path.join("::")))
        .collect();
    assert_eq!(
        imported,
        ["crate::a", "crate::a::b::C", "crate::a::d::E", "crate::a::d::G", "pub super::x::Y"]
    );
    let written: Vec<String> = inline(&code).map(|path| path.join("::")).collect();
    assert_eq!(written, ["crate::a", "crate::web::g", "super::x::Y", "super::h::I"]);
    let of = |path: &[&str]| path.iter().map(|name| (*name).to_owned()).collect::<Vec<_>>();
    assert_eq!(absolute(&of(&["super", "x"]), &of(&["web", "tower"])), Some(of(&["web", "x"])));
}
