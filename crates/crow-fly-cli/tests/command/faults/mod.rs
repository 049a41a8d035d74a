//! Right projects, in which a check must be silent, and faults that are planted in them one at a time, each of which it must find.
//!
//! `FAULTS=3000` plants more of them: `xtask -- proof faults` does.

mod in_files;
mod in_texts;
mod spots;

use std::fs;
use std::path::{Path, PathBuf};
use std::sync::atomic::{AtomicUsize, Ordering};
use std::thread;

use assert_cmd::Command;
use spots::{Spot, spots};

/// The folders of the right projects.
const PROJECTS: [&str; 5] = [
    concat!(env!("CARGO_MANIFEST_DIR"), "/../../tests/projects/shop"),
    concat!(env!("CARGO_MANIFEST_DIR"), "/../../tests/projects/municipality"),
    concat!(env!("CARGO_MANIFEST_DIR"), "/../../tests/projects/hospital"),
    concat!(env!("CARGO_MANIFEST_DIR"), "/../../examples/ferry"),
    concat!(env!("CARGO_MANIFEST_DIR"), "/../../examples/board"),
];

/// A fault in a project: what is written, and what must be found.
pub(crate) struct Fault {
    rule: &'static str,
    /// Files with their new content; none deletes one.
    files: Vec<(String, Option<Vec<u8>>)>,
    /// The file or folder that the finding names, and line and column, where there is one.
    file: String,
    place: Option<(usize, usize)>,
}

/// A project as it is on disk, and its messages.
pub(crate) struct Project {
    files: Vec<(String, Vec<u8>)>,
    spots: Vec<Spot>,
    reference: String,
}

impl Project {
    fn of(folder: &str) -> Self {
        let mut files = Vec::new();
        read(Path::new(folder), Path::new(""), &mut files);
        files.sort();
        let config = text(&files, "crow-fly.toml").unwrap();
        let line = |name: &str| config.lines().find_map(|line| line.strip_prefix(name)).unwrap();
        let quoted =
            |line: &str| -> Vec<String> { line.split('"').skip(1).step_by(2).map(str::to_owned).collect() };
        let reference = quoted(line("default = ")).remove(0);
        let spots = files.iter().flat_map(|(path, bytes)| spots(path, bytes)).collect();
        Self { files, spots, reference }
    }

    pub(crate) fn text(&self, path: &str) -> Option<&str> {
        text(&self.files, path)
    }

    /// Where a message of the default locale stands.
    pub(crate) fn reference_of(&self, spot: &Spot) -> Option<&Spot> {
        self.spots.iter().find(|other| {
            other.locale == self.reference && other.section == spot.section && other.key == spot.key
        })
    }

    /// A file in which a message has another text.
    pub(crate) fn with_text(&self, spot: &Spot, text: &str) -> String {
        let file = self.text(&spot.file).unwrap();
        format!("{}{text}{}", &file[..spot.start], &file[spot.end..])
    }
}

fn text<'f>(files: &'f [(String, Vec<u8>)], path: &str) -> Option<&'f str> {
    let (_, bytes) = files.iter().find(|(known, _)| known == path)?;
    std::str::from_utf8(bytes).ok()
}

fn read(root: &Path, at: &Path, into: &mut Vec<(String, Vec<u8>)>) {
    for entry in fs::read_dir(root.join(at)).unwrap() {
        let path = at.join(entry.unwrap().file_name());
        let name = path.to_str().unwrap().to_owned();
        if root.join(&path).is_dir() {
            read(root, &path, into);
        } else {
            into.push((name, fs::read(root.join(&path)).unwrap()));
        }
    }
}

/// Line and column of a byte, both from 1.
pub(crate) fn place(text: &str, at: usize) -> (usize, usize) {
    let before = &text[..at];
    let start = before.rfind('\n').map_or(0, |end| end + 1);
    (before.matches('\n').count() + 1, before[start..].chars().count() + 1)
}

/// Numbers that are the same in each run.
pub(crate) struct Chance(u64);

impl Chance {
    pub(crate) fn below(&mut self, most: usize) -> usize {
        self.0 = self.0.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        usize::try_from(self.0 >> 33).unwrap() % most.max(1)
    }
}

/// A copy of a project that faults are written into.
struct Copy {
    folder: tempfile::TempDir,
}

impl Copy {
    fn of(project: &Project) -> Self {
        let copy = Self { folder: tempfile::tempdir().unwrap() };
        for (path, bytes) in &project.files {
            copy.write(path, Some(bytes));
        }
        copy
    }

    fn write(&self, path: &str, bytes: Option<&[u8]>) {
        let path: PathBuf = self.folder.path().join(path);
        if let Some(bytes) = bytes {
            fs::create_dir_all(path.parent().unwrap()).unwrap();
            fs::write(path, bytes).unwrap();
        } else {
            fs::remove_file(&path).unwrap();
            // A folder goes with its last file.
            drop(fs::remove_dir(path.parent().unwrap()));
        }
    }

    /// What a check finds, a line each.
    fn check(&self) -> String {
        let output = Command::cargo_bin("crow-fly")
            .unwrap()
            .current_dir(self.folder.path())
            .args(["check", "--format", "lines"])
            .output()
            .unwrap();
        String::from_utf8(output.stdout).unwrap() + &String::from_utf8(output.stderr).unwrap()
    }

    /// Plants a fault, checks, and takes it out again. Says what is wrong, if the fault is not found.
    fn plant(&self, project: &Project, fault: &Fault) -> Option<String> {
        for (path, bytes) in &fault.files {
            self.write(path, bytes.as_deref());
        }
        let found = self.check();
        for (path, _) in &fault.files {
            let before = project.files.iter().find(|(known, _)| known == path);
            self.write(path, before.map(|(_, bytes)| bytes.as_slice()));
        }
        let start = match fault.place {
            Some((line, column)) => format!("{}:{line}:{column}: ", fault.file),
            None => format!("{}:1:1: ", fault.file),
        };
        let end = format!("[{}]", fault.rule);
        let is_found = found.lines().any(|line| line.starts_with(&start) && line.ends_with(&end));
        (!is_found).then(|| {
            let about = found.lines().take(6).collect::<Vec<_>>().join("\n    ");
            format!("{start}… {end} is not among\n    {about}")
        })
    }
}

#[test]
fn right_projects_have_no_findings() {
    for folder in PROJECTS {
        let output = Command::cargo_bin("crow-fly")
            .unwrap()
            .current_dir(folder)
            .args(["check", "--format", "lines", "--fail-on", "note"])
            .output()
            .unwrap();
        assert_eq!(String::from_utf8(output.stdout).unwrap(), "", "in {folder}");
        assert!(output.status.success());
    }
}

#[test]
fn each_planted_fault_is_found_at_its_place() {
    let count: usize = std::env::var("FAULTS").map_or(100, |count| count.parse().unwrap());
    let projects: Vec<Project> = PROJECTS[..3].iter().map(|folder| Project::of(folder)).collect();
    // Each kind of fault in each project, again and again, at other places.
    let kinds: Vec<_> = in_texts::kinds().into_iter().chain(in_files::kinds()).collect();
    let mut chance = Chance(count as u64);
    let mut faults: Vec<Vec<Fault>> = projects.iter().map(|_| Vec::new()).collect();
    let (mut number, mut round) = (0, 0);
    let mut planted: Vec<usize> = vec![0; kinds.len()];
    while number < count {
        for (kind, plant) in kinds.iter().enumerate() {
            // A short run has each kind in one of the projects.
            let at = (kind + round) % projects.len();
            if let Some(fault) = plant(&projects[at], &mut chance) {
                faults[at].push(fault);
                planted[kind] += 1;
                number += 1;
            }
        }
        round += 1;
    }
    assert!(round < 3 || planted.iter().all(|count| *count > 0), "a kind fits nowhere: {planted:?}");
    let threads = thread::available_parallelism().map_or(1, usize::from);
    let wrong: Vec<String> = thread::scope(|scope| {
        let mut running = Vec::new();
        for (project, faults) in projects.iter().zip(&faults) {
            let next = std::sync::Arc::new(AtomicUsize::new(0));
            for _ in 0..threads {
                let next = next.clone();
                running.push(scope.spawn(move || {
                    let copy = Copy::of(project);
                    let mut wrong = Vec::new();
                    while let Some(fault) = faults.get(next.fetch_add(1, Ordering::Relaxed)) {
                        wrong.extend(copy.plant(project, fault));
                    }
                    wrong
                }));
            }
        }
        running.into_iter().flat_map(|thread| thread.join().unwrap()).collect()
    });
    assert!(wrong.is_empty(), "{} of {number} are not found:\n{}", wrong.len(), wrong.join("\n"));
}
