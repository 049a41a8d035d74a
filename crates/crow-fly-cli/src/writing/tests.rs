//! Every command that writes, on a disk that fails at every step, and on one that stops there for ever.

use std::cell::{Cell, RefCell};
use std::collections::BTreeMap;
use std::fs::{self, Metadata};
use std::io;
use std::path::{Path, PathBuf};
use std::thread;

use super::{Disk, RealDisk};
use crate::trial::carry_out;

/// The files of a folder, by path.
type Files = BTreeMap<PathBuf, Vec<u8>>;

/// What happens at a step.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Mishap {
    /// The step fails; those after it are made.
    Fails,
    /// Half of the content is written, then the disk is full, once.
    IsFull,
    /// The process is killed before the step.
    Kills,
    /// The process is killed after half of a content was written.
    KillsHalfway,
    /// The machine stops before the step, and forgets names that were not flushed.
    Stops,
    /// The machine stops before the step, and keeps names, but not contents, that were not flushed.
    StopsAndKeepsNames,
}

/// What can happen at a step that writes a content, and at others.
const MISHAPS: [&[Mishap]; 2] = [
    &[Mishap::Fails, Mishap::IsFull, Mishap::KillsHalfway, Mishap::Stops, Mishap::StopsAndKeepsNames],
    &[Mishap::Fails, Mishap::Kills, Mishap::Stops, Mishap::StopsAndKeepsNames],
];

/// A disk with a mishap at one of its steps. It knows what a crash leaves of a folder.
struct FaultyDisk {
    folder: PathBuf,
    at: Option<(usize, Mishap)>,
    steps: Cell<usize>,
    /// The steps that write a content.
    writes: RefCell<Vec<usize>>,
    has_ended: Cell<bool>,
    /// What is stored: names, and the content that each has.
    stored: RefCell<Files>,
    /// Contents that are not stored yet, by the name they have now.
    unstored: RefCell<BTreeMap<PathBuf, Vec<u8>>>,
}

impl FaultyDisk {
    fn new(folder: &Path, at: Option<(usize, Mishap)>) -> Self {
        Self {
            folder: folder.to_owned(),
            at,
            steps: Cell::new(0),
            writes: RefCell::default(),
            has_ended: Cell::new(false),
            stored: RefCell::new(files(folder)),
            unstored: RefCell::default(),
        }
    }

    /// Counts a step; whether it is made, made by half, or not at all.
    fn step(&self) -> io::Result<Option<Mishap>> {
        let gone = || Err(io::Error::other("the process has ended"));
        if self.has_ended.get() {
            return gone();
        }
        let step = self.steps.get();
        self.steps.set(step + 1);
        match self.at.filter(|(at, _)| *at == step).map(|(_, mishap)| mishap) {
            None => Ok(None),
            Some(mishap @ (Mishap::Fails | Mishap::IsFull)) => Ok(Some(mishap)),
            Some(mishap) => {
                self.has_ended.set(true);
                Ok(Some(mishap))
            }
        }
    }

    /// A step that is made or not.
    fn plain(&self) -> io::Result<()> {
        match self.step()? {
            None => Ok(()),
            Some(mishap) => Err(io::Error::other(format!("{mishap:?}"))),
        }
    }

    /// Leaves in the folder what is there after a crash.
    fn crash(&self) {
        let Some((_, mishap)) = self.at else { return };
        let left = match mishap {
            Mishap::Stops => self.stored.borrow().clone(),
            Mishap::StopsAndKeepsNames => {
                let mut left = files(&self.folder);
                for path in self.unstored.borrow().keys() {
                    if let Some(content) = left.get_mut(path) {
                        content.clear();
                    }
                }
                left
            }
            _ => return,
        };
        for path in files(&self.folder).keys() {
            fs::remove_file(path).unwrap();
        }
        for (path, content) in left {
            fs::create_dir_all(path.parent().unwrap()).unwrap();
            fs::write(path, content).unwrap();
        }
    }
}

impl Disk for FaultyDisk {
    fn create(&self, file: &Path, bytes: &[u8]) -> io::Result<()> {
        self.writes.borrow_mut().push(self.steps.get());
        let half = bytes.get(..bytes.len() / 2).unwrap();
        let (written, result) = match self.step()? {
            None => (bytes, Ok(())),
            Some(Mishap::IsFull | Mishap::KillsHalfway) => (half, Err(io::ErrorKind::StorageFull.into())),
            Some(mishap) => return Err(io::Error::other(format!("{mishap:?}"))),
        };
        RealDisk.create(file, written)?;
        self.unstored.borrow_mut().insert(file.to_owned(), written.to_vec());
        result
    }

    fn make_like(&self, file: &Path, model: &Metadata) -> io::Result<()> {
        self.plain()?;
        RealDisk.make_like(file, model)
    }

    fn flush(&self, file: &Path) -> io::Result<()> {
        self.plain()?;
        assert!(file.exists());
        self.unstored.borrow_mut().remove(file);
        Ok(())
    }

    fn rename(&self, from: &Path, to: &Path) -> io::Result<()> {
        self.plain()?;
        RealDisk.rename(from, to)?;
        let mut unstored = self.unstored.borrow_mut();
        match unstored.remove(from) {
            Some(content) => drop(unstored.insert(to.to_owned(), content)),
            None => drop(unstored.remove(to)),
        }
        Ok(())
    }

    fn remove(&self, file: &Path) -> io::Result<()> {
        self.plain()?;
        RealDisk.remove(file)?;
        self.unstored.borrow_mut().remove(file);
        Ok(())
    }

    fn create_folder(&self, folder: &Path) -> io::Result<()> {
        self.plain()?;
        RealDisk.create_folder(folder)
    }

    fn remove_folder(&self, folder: &Path) -> io::Result<()> {
        if self.has_ended.get() {
            return Err(io::Error::other("the process has ended"));
        }
        RealDisk.remove_folder(folder)
    }

    fn flush_folder(&self, folder: &Path) -> io::Result<()> {
        self.plain()?;
        assert!(folder.is_dir());
        let is_in = |path: &Path| path.parent() == Some(folder);
        let mut stored = self.stored.borrow_mut();
        stored.retain(|path, _| !is_in(path));
        for (path, content) in files(&self.folder) {
            if is_in(&path) {
                let is_stored = !self.unstored.borrow().contains_key(&path);
                stored.insert(path, if is_stored { content } else { Vec::new() });
            }
        }
        Ok(())
    }
}

/// All files below a folder, but for the lock.
fn files(folder: &Path) -> Files {
    let mut found = Files::new();
    let Ok(entries) = fs::read_dir(folder) else { return found };
    for entry in entries {
        let path = entry.unwrap().path();
        if path.is_dir() {
            found.extend(files(&path));
        } else if !path.ends_with(".crow-fly-lock") {
            found.insert(path.clone(), fs::read(&path).unwrap());
        }
    }
    found
}

/// The files by their path in the folder, without what a stop may leave beside them.
fn shown(folder: &Path) -> BTreeMap<String, String> {
    let text = |(path, bytes): (PathBuf, Vec<u8>)| {
        let path = path.strip_prefix(folder).unwrap().to_str().unwrap().to_owned();
        (path, String::from_utf8(bytes).unwrap())
    };
    files(folder).into_iter().map(text).filter(|(path, _)| !path.ends_with(".new~")).collect()
}

/// A project whose commands have something to do.
fn project(folder: &Path) {
    let folders = ["catalogs/en", "catalogs/pl", "catalogs/fr", "src"];
    for name in folders {
        fs::create_dir_all(folder.join(name)).unwrap();
    }
    let files = [
        ("crow-fly.toml", "default = 'en'\nlocales = ['en', 'pl', 'fr']\n[check]\ncode = ['src']\n"),
        (
            "catalogs/en/home.toml",
            "# A heading.\ntitle = 'Ferries'\nhelp = 'Get  help'\n\n[quay]\nname = 'Quay {$n}'\n",
        ),
        ("catalogs/en/trip.toml", "thanks = 'Thank you'\n"),
        ("catalogs/pl/home.toml", "title = 'Promy'\r\nhelp = 'Pomoc '\r\n"),
        ("catalogs/pl/trip.toml", "thanks = 'Dziękuję'\n"),
        ("catalogs/fr/home.json", "{\n  \"title\": \"Bacs\",\n  \"help\": \"Aide \"\n}\n"),
        (
            "src/page.rs",
            "fn page(t: &T) {\n    t.text(\"home.title\");\n    say(\"home.news\").or(\"News\");\n}\n",
        ),
        ("src/more.rs", "fn more(t: &T) {\n    t.text(\"home.title\");\n}\n"),
        (
            "crow-fly.accepted",
            "# What translations were made from; `crow-fly accept` writes it.\npl home.help 00\npl home.title 00\n",
        ),
    ];
    for (path, text) in files {
        fs::write(folder.join(path), text).unwrap();
    }
    for (file, locale, old, new) in
        [("pl.csv", "pl", "Promy", "Rejsy"), ("fr.csv", "fr", "Bacs", "Traversées")]
    {
        let path = folder.join(file);
        let typed = format!("export FOLDER/{file} --locale {locale}");
        carry_out(folder, &RealDisk, &typed).unwrap();
        let text = fs::read_to_string(&path).unwrap().replace(old, new);
        fs::write(path, text.replace(",,Thank you,,", ",,Thank you,Merci,")).unwrap();
    }
}

/// Every command that writes, and whether it begins in an empty folder.
const COMMANDS: [(&str, bool); 13] = [
    ("init", true),
    ("init --default sw --locale cy", true),
    ("add-locale de --write", false),
    ("add-locale en-GB --write", false),
    ("gather --write", false),
    ("rename home.title home.heading --write", false),
    ("rename home.title trip.heading --write", false),
    ("check --fix --write", false),
    ("check --write-baseline FOLDER/old.txt", false),
    ("accept --all --write", false),
    ("export FOLDER/pl.csv --locale pl --overwrite", false),
    ("import FOLDER/pl.csv --write", false),
    ("import FOLDER/fr.csv --write", false),
];

#[test]
#[allow(clippy::print_stdout, reason = "a proof says how much it has tried")]
fn whatever_happens_a_project_is_the_one_before_or_the_one_after() {
    let made = tempfile::tempdir().unwrap();
    project(made.path());
    let made = shown(made.path());
    let (made, nothing) = (&made, &BTreeMap::new());
    let (points, undone) = thread::scope(|scope| {
        let threads = COMMANDS.map(|(typed, is_empty)| {
            scope.spawn(move || one_command(typed, if is_empty { nothing } else { made }))
        });
        threads
            .into_iter()
            .map(|thread| thread.join().unwrap())
            .fold((0, 0), |all, one| (all.0 + one.0, all.1 + one.1))
    });
    println!("{points} stopping points; {undone} times everything was taken back");
    assert!(points > 200 && undone > 100);
}

/// Every mishap at every step of a command; how many there were, and how often everything was taken back.
fn one_command(typed: &str, before: &BTreeMap<String, String>) -> (usize, usize) {
    let (mut points, mut is_undone) = (0, 0);
    let start = |folder: &Path| {
        for (path, text) in before {
            let path = folder.join(path);
            fs::create_dir_all(path.parent().unwrap()).unwrap();
            fs::write(path, text).unwrap();
        }
    };
    {
        let folder = tempfile::tempdir().unwrap();
        start(folder.path());
        let disk = FaultyDisk::new(folder.path(), None);
        carry_out(folder.path(), &disk, typed).unwrap();
        let (after, steps) = (shown(folder.path()), disk.steps.get());
        assert_ne!(*before, after, "{typed}");
        assert!(steps > 2, "{typed}");
        for (step, mishap) in (0..steps).flat_map(|step| {
            let is_plain = usize::from(!disk.writes.borrow().contains(&step));
            MISHAPS.get(is_plain).unwrap().iter().map(move |mishap| (step, *mishap))
        }) {
            let folder = tempfile::tempdir().unwrap();
            let folder = folder.path();
            start(folder);
            let what = || format!("crow-fly {typed}: {mishap:?} at step {step}");
            let disk = FaultyDisk::new(folder, Some((step, mishap)));
            let result = carry_out(folder, &disk, typed);
            points += 1;
            let mut now = shown(folder);
            if !disk.has_ended.get() {
                // A command that goes on leaves nothing half done, and nothing else but what it could not delete.
                let is_left = now.remove(".crow-fly-changes").is_some();
                assert!(!is_left || step + 2 >= disk.steps.get(), "{}", what());
                assert!(now == *before || now == after, "{}: {now:#?}", what());
                assert!(result.is_err() || now == after, "{}", what());
                is_undone += usize::from(now == *before);
                let beside = files(folder).into_keys().find(|path| path.to_str().unwrap().ends_with('~'));
                assert_eq!(beside, None, "{}", what());
                if now == *before {
                    // The next time nothing is different.
                    continue;
                }
            }
            disk.crash();
            // Each file is the one before or the one after, also where the change is between two of them.
            let between = shown(folder);
            let is_known = |path: &String| {
                let is = |files: &BTreeMap<String, String>| files.get(path) == between.get(path);
                is(before) || is(&after) || path == ".crow-fly-changes"
            };
            assert!(
                before.keys().chain(after.keys()).chain(between.keys()).all(is_known),
                "{}: {between:#?}",
                what()
            );
            let is_between = between != *before && between != after;
            assert!(!is_between || between.contains_key(".crow-fly-changes"), "{}: {between:#?}", what());
            // A key is in one of its files at every moment.
            if typed.contains("trip.heading") {
                let texts: String = between
                    .iter()
                    .filter(|(path, _)| path.contains("pl/"))
                    .map(|(_, text)| &**text)
                    .collect();
                assert!(texts.contains("Promy"), "{}", what());
            }
            let again = carry_out(folder, &FaultyDisk::new(folder, None), typed);
            let is_done_before = typed.starts_with("init") || typed.starts_with("add-locale");
            assert!(
                again.is_ok() || is_done_before && between == after,
                "{}: {:#}",
                what(),
                again.err().unwrap()
            );
            assert_eq!(shown(folder), after, "{}", what());
            let left = files(folder).into_keys().find(|path| path.to_str().unwrap().ends_with('~'));
            assert_eq!(left, None, "{}", what());
        }
    }
    (points, is_undone)
}
