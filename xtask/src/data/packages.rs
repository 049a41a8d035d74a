//! The CLDR packages, and the subtag registry: fetched once, checked against their digests, read as JSON.

use std::fs;
use std::path::{Path, PathBuf};
use std::process::Command;

use anyhow::{Context, Result, bail};
use serde_json::Value;

/// The CLDR release all tables come from.
pub(super) const VERSION: &str = "48.2.0";

/// Package, version, and the SHA-512 of its archive as the registry's own `integrity` field gives it.
const PINNED: [(&str, &str, &str); 8] = [
    (
        "cldr-bcp47",
        VERSION,
        "92cdf337e59b835cccaaf24d7836a2d730342411876c09f1bf62a8e2b8d5a21bd7b1c0c69936bb54dcb54fe411950c374153f341c0a6d843a212d01f394e1dfa",
    ),
    (
        "cldr-core",
        VERSION,
        "cdf98ba2d867712c1fbf68e57afa12ae0236546807f120c61d7b2dea3504a2d1c0f27abd2207a0f63cdd24316d06ca3da6026e1bcf432b5e93ceb9990dda3606",
    ),
    (
        "cldr-dates-full",
        VERSION,
        "cccacabe330ee35e070dfb4bafabca1f57cd4076a414d7be1758784b47a0fb398be16462f69238d5fc41dd4ad3243638d8c10cf3b8c2b80c3faa5a8281829c01",
    ),
    (
        "cldr-localenames-full",
        VERSION,
        "e28d296980f3d145e17e10a101516499597608fd184d212a13a5ab0b47cd69f6920b9bb90c05e98711f7499d548dccdaae292bf034e82997e2a24e84a962dd35",
    ),
    (
        "cldr-misc-full",
        VERSION,
        "7527364ebe777507141b0b138a76a611ea0fd985ce850ac867e4b27ae52bbf833324e4a34ff434aa44a65f5d59c1f7136d84a422a6eb8002d02e1026d727f97c",
    ),
    (
        "cldr-numbers-full",
        VERSION,
        "d0443e524543b325ce9719d69cbd51204355645a829dbd380f562b92ed286e73b2b6d6ee673f2d1e651de5ce4012f8464bf1a0db32387d36829b9d4b486213a2",
    ),
    (
        "cldr-units-full",
        VERSION,
        "0630c2ed5e3a79e5f381a96722e9ab2755d00e4f3025a3b134b304e219a4053f50d219f3c67dd782d6af8a03d4c2796393b17194d416f56c7e85b16b0113eb42",
    ),
    (
        "language-subtag-registry",
        "0.4.2",
        "774cdc2201cb4f0d7c67c181ddfde2b0af19ea63396c4d0998611bcce46c0bb91e3b07b9131e627c05019477b2ecfef2115143cb1407379f88fe808a2870096a",
    ),
];

/// A folder with every package unpacked below it.
pub(super) struct Packages {
    folder: PathBuf,
}

impl Packages {
    /// Opens the packages in `folder`, fetching with `npm pack` those that are not there.
    pub(super) fn at(folder: &Path) -> Result<Self> {
        fs::create_dir_all(folder)?;
        let folder = folder.canonicalize()?;
        for (name, version, digest) in PINNED {
            if !folder.join(name).join("package.json").exists() {
                fetch(&folder, name, version, digest)?;
            }
        }
        Ok(Self { folder })
    }

    /// Reads one JSON file, `package/path/file.json`.
    pub(super) fn json(&self, path: &str) -> Result<Value> {
        let file = self.folder.join(path);
        let text = fs::read_to_string(&file).with_context(|| format!("reading {}", file.display()))?;
        serde_json::from_str(&text).with_context(|| format!("parsing {}", file.display()))
    }

    /// Reads one JSON file that not every locale has.
    pub(super) fn optional_json(&self, path: &str) -> Result<Option<Value>> {
        if self.folder.join(path).exists() { self.json(path).map(Some) } else { Ok(None) }
    }

    /// The locales of a package's `main` folder, sorted.
    pub(super) fn locales(&self, package: &str) -> Result<Vec<String>> {
        let mut names = fs::read_dir(self.folder.join(package).join("main"))?
            .map(|entry| Ok(entry?.file_name().to_string_lossy().into_owned()))
            .collect::<Result<Vec<_>>>()?;
        names.sort();
        Ok(names)
    }
}

fn fetch(folder: &Path, name: &str, version: &str, digest: &str) -> Result<()> {
    let archive = format!("{name}-{version}.tgz");
    if !folder.join(&archive).exists() {
        run(Command::new("npm")
            .args(["pack", "--silent", &format!("{name}@{version}")])
            .current_dir(folder))?;
    }
    let sum = Command::new("sha512sum").arg(&archive).current_dir(folder).output()?;
    let sum = String::from_utf8_lossy(&sum.stdout).into_owned();
    if sum.split_whitespace().next() != Some(digest) {
        bail!("{archive} has another digest than the pinned one: it is not the published {version}");
    }
    let target = folder.join(name);
    fs::create_dir_all(&target)?;
    run(Command::new("tar")
        .arg("xzf")
        .arg(&archive)
        .args(["--strip-components=1", "-C", name])
        .current_dir(folder))
}

fn run(command: &mut Command) -> Result<()> {
    let status = command.status().with_context(|| format!("starting {command:?}"))?;
    if !status.success() {
        bail!("{command:?} ended with {status}");
    }
    Ok(())
}
