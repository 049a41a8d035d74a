//! What a build script does: reads folders, writes the module, says what Cargo watches.

use std::collections::BTreeMap;
use std::env;
use std::fmt::Write as _;
use std::fs;
use std::io::{self, Write};
use std::path::{Path, PathBuf};
use std::process;

use crow_fly_core::chain::Chains;
use crow_fly_core::check::{Project, Sections, check};
use crow_fly_core::finding::{Finding, Severity};
use crow_fly_core::locale_set::LocaleSet;

use crate::problem::Problem;
use crate::read::{self, SourceFile};
use crate::{declarations, generate};

/// The catalogs of an application, for its build script or a tool.
#[derive(Clone, Debug)]
#[must_use = "nothing is made until `build` or `module` is called"]
pub struct Catalogs {
    /// The lowest first.
    folders: Vec<PathBuf>,
    reference: String,
    check: Option<Check>,
    /// Where the declarations for scripts are written, and of which sections.
    declarations: Option<(PathBuf, Vec<String>)>,
    /// The folder that paths are shown below.
    root: PathBuf,
}

/// What a build does about other locales that do not fit the default locale.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[non_exhaustive]
pub enum Check {
    /// Every finding is a warning of the build.
    Warn,
    /// A finding that is an error fails the build; others are warnings.
    Fail,
}

impl Catalogs {
    /// The catalogs in a folder, and the locale that the types are made from: the default locale. In a build script the
    /// folder is relative to the package.
    pub fn of(folder: impl Into<PathBuf>, reference: impl Into<String>) -> Self {
        Self {
            folders: vec![folder.into()],
            reference: reference.into(),
            check: None,
            declarations: None,
            root: PathBuf::new(),
        }
    }

    /// Adds a folder above: where both have a message, this one's is taken.
    pub fn over(mut self, folder: impl Into<PathBuf>) -> Self {
        self.folders.push(folder.into());
        self
    }

    /// Names files in the documentation as they are below a folder.
    pub fn shown_below(mut self, folder: impl Into<PathBuf>) -> Self {
        self.root = folder.into();
        self
    }

    /// Holds all other locales against the default locale, as `crow-fly check` does with all its rules as they are. The build
    /// script then runs again when any translation changes.
    pub const fn check(mut self, check: Check) -> Self {
        self.check = Some(check);
        self
    }

    /// Writes TypeScript declarations of the messages of some sections to a file: for scripts that ask for them by `crow-fly.js`.
    /// A wrong key or argument is then an error of the TypeScript compiler. The sections are those that the configuration
    /// makes public. In a build script the file is relative to the package.
    ///
    /// The file is written when its content changes, and never from a packaged crate, whose files Cargo does not want changed.
    pub fn declarations(
        mut self,
        file: impl Into<PathBuf>,
        sections: impl IntoIterator<Item = impl Into<String>>,
    ) -> Self {
        self.declarations = Some((file.into(), sections.into_iter().map(Into::into).collect()));
        self
    }

    /// Writes `$OUT_DIR/messages.rs`, and has Cargo run the build script again when the default locale changes. What is wrong is
    /// told, and fails the build.
    pub fn build(&self) {
        if let Err(error) = self.try_build() {
            // Cargo shows it where the build fails.
            let _ = writeln!(io::stderr(), "{error}");
            process::exit(1);
        }
    }

    fn try_build(&self) -> io::Result<()> {
        let variable = |name: &str| {
            let missing = || io::Error::other(format!("{name} is not set: call this from a build script"));
            env::var_os(name).map(PathBuf::from).ok_or_else(missing)
        };
        let (package, out) = (variable("CARGO_MANIFEST_DIR")?, variable("OUT_DIR")?.join("messages.rs"));
        let mut output = String::new();
        for path in self.watched() {
            let _ = writeln!(output, "cargo::rerun-if-changed={}", path.display());
        }
        // It is said before something fails: a mended file is looked at again.
        io::stdout().write_all(output.as_bytes())?;
        let code = self.module()?;
        write_changed(&out, &code)?;
        // Cargo adds this file to every package.
        let is_packaged = package.join("Cargo.toml.orig").exists();
        if let Some((file, sections)) = self.declarations.as_ref().filter(|_| !is_packaged) {
            write_changed(&package.join(file), &self.script_module(sections)?)?;
        }
        let Some(check) = self.check else { return Ok(()) };
        let findings = self.findings()?;
        let mut output = String::new();
        for (path, finding) in &findings {
            let _ = writeln!(output, "cargo::warning={}", shown(&package, path, finding));
        }
        io::stdout().write_all(output.as_bytes())?;
        let fails = findings.iter().any(|(_, finding)| finding.severity == Severity::Error);
        if fails && check == Check::Fail {
            return Err(io::Error::other("the catalogs have errors; see the warnings of the build"));
        }
        Ok(())
    }

    /// The module as text: a pure function of the files.
    ///
    /// # Errors
    /// Where a folder cannot be read, or something cannot become Rust.
    pub fn module(&self) -> io::Result<String> {
        generate(&self.reference, &self.files(&self.reference)?).map_err(io::Error::other)
    }

    /// The declarations of some sections as text.
    fn script_module(&self, sections: &[String]) -> io::Result<String> {
        declarations(&self.files(&self.reference)?, sections).map_err(io::Error::other)
    }

    /// The files of a locale, the lowest layer first.
    fn files(&self, locale: &str) -> io::Result<Vec<SourceFile>> {
        let mut files = Vec::new();
        for folder in &self.folders {
            files.extend(read::locale(folder, locale)?.into_iter().map(|file| file.shown_below(&self.root)));
        }
        if files.is_empty() && locale == self.reference {
            let folders: Vec<String> =
                self.folders.iter().map(|folder| folder.display().to_string()).collect();
            let text = format!("there are no catalogs of `{locale}`");
            return Err(io::Error::other(Problem {
                file: folders.join(", "),
                line: 0,
                text,
                help: format!("make `{locale}/home.toml` in it, or name another folder or locale"),
            }));
        }
        Ok(files)
    }

    /// What the types are made from: folders and files of the default locale; all of the folders where others are checked.
    fn watched(&self) -> Vec<PathBuf> {
        let mut watched = Vec::new();
        for folder in &self.folders {
            if self.check.is_some() {
                watched.push(folder.clone());
                continue;
            }
            let of_locale = folder.join(&self.reference);
            let in_one_file = ["toml", "json"].map(|end| folder.join(format!("{}.{end}", self.reference)));
            // Cargo runs a script always that names what is not there.
            watched.extend([of_locale].into_iter().chain(in_one_file).filter(|path| path.exists()));
        }
        watched
    }

    /// The findings of all locales, each with the path of its file. Each folder is held against the default locale in it.
    fn findings(&self) -> io::Result<Vec<(String, Finding)>> {
        let mut all = Vec::new();
        for folder in &self.folders {
            all.extend(findings(folder, &self.reference)?);
        }
        Ok(all)
    }
}

/// Writes a file where it has another content: what is made from it is then not built again for nothing.
fn write_changed(file: &Path, content: &str) -> io::Result<()> {
    if fs::read_to_string(file).is_ok_and(|old| old == content) {
        return Ok(());
    }
    let wrong = |error| io::Error::other(format!("{} cannot be written: {error}", file.display()));
    fs::write(file, content).map_err(wrong)
}

fn findings(folder: &Path, reference: &str) -> io::Result<Vec<(String, Finding)>> {
    let mut names = vec![reference.to_owned()];
    names.extend(read::locales(folder)?.into_iter().filter(|name| name != reference));
    let set = LocaleSet::parse(&names).map_err(io::Error::other)?;
    let chains = Chains::new(&set, None, None).map_err(io::Error::other)?;
    let (mut project, mut paths) = (Project::new(), BTreeMap::new());
    for (locale, tag) in set.iter() {
        let mut sections = Sections::new();
        for file in read::locale(folder, &tag.to_string())? {
            for (section, source) in file.sections() {
                paths.insert((tag.to_string(), section.clone()), file.path.clone());
                sections.insert(section, source);
            }
        }
        project.insert(locale, sections);
    }
    let path = |finding: &Finding| {
        let file = (finding.locale.clone(), finding.section.clone());
        paths.get(&file).cloned().unwrap_or_default()
    };
    // Notes are for reports.
    let findings = check(&set, &chains, &project);
    let told = findings.into_iter().filter(|finding| finding.severity != Severity::Note);
    Ok(told.map(|finding| (path(&finding), finding)).collect())
}

/// A finding in one line.
fn shown(package: &Path, path: &str, finding: &Finding) -> String {
    let path = Path::new(path).strip_prefix(package).unwrap_or(Path::new(path)).display().to_string();
    let place = match (path.as_str(), finding.place) {
        ("", _) => finding.locale.clone(),
        (path, Some(place)) => format!("{path}:{place}"),
        (path, None) => path.to_owned(),
    };
    let text = format!("{place}: {} [{}]; {}", finding.text, finding.rule.id(), finding.help);
    text.replace('\n', " ")
}
