//! What a build script does: what it writes, what Cargo is told, what fails.

#![allow(clippy::unwrap_used, reason = "a test fails by panicking")]

use std::fs;
use std::path::Path;
use std::process::{Command, Output};

use crow_fly_codegen::{Catalogs, Check};

/// Runs in a process of its own, as Cargo runs a build script.
#[test]
fn as_a_build_script() {
    let Ok(check) = std::env::var("RUN_AS_A_BUILD_SCRIPT") else { return };
    let catalogs = Catalogs::of("catalogs", "en");
    match check.as_str() {
        "warn" => catalogs.check(Check::Warn).build(),
        "fail" => catalogs.check(Check::Fail).build(),
        _ => catalogs.build(),
    }
}

fn run(folder: &Path, check: &str) -> Output {
    Command::new(std::env::current_exe().unwrap())
        .args(["--exact", "as_a_build_script", "--nocapture"])
        .current_dir(folder)
        .env("RUN_AS_A_BUILD_SCRIPT", check)
        .env("CARGO_MANIFEST_DIR", folder)
        .env("OUT_DIR", folder)
        .output()
        .unwrap()
}

/// What Cargo is told.
fn told(output: &Output) -> String {
    let text = String::from_utf8_lossy(&output.stdout);
    text.lines().filter(|line| line.starts_with("cargo::")).collect::<Vec<_>>().join("\n")
}

#[test]
fn the_module_is_written_and_cargo_watches_the_reference() {
    let folder = tempfile::tempdir().unwrap();
    let folder = folder.path();
    let write = |path: &str, text: &str| {
        fs::create_dir_all(folder.join(path).parent().unwrap()).unwrap();
        fs::write(folder.join(path), text).unwrap();
    };
    write("catalogs/en/home.toml", "title = 'Ferries'\nseats = '{$n :integer} seats'\n");
    write("catalogs/pl/home.toml", "title = 'Promy'\nseats = '{$m :integer} miejsc'\n");
    let plain = run(folder, "");
    assert!(plain.status.success(), "{plain:?}");
    assert_eq!(told(&plain), "cargo::rerun-if-changed=catalogs/en");
    let module = folder.join("messages.rs");
    assert!(fs::read_to_string(&module).unwrap().contains("pub struct Seats<T0>"));

    // What has not changed is not written again.
    let before = fs::metadata(&module).unwrap().modified().unwrap();
    assert!(run(folder, "").status.success());
    assert_eq!(fs::metadata(&module).unwrap().modified().unwrap(), before);

    // Other locales, by choice.
    let warned = run(folder, "warn");
    assert!(warned.status.success());
    insta::assert_snapshot!(told(&warned));
    let failed = run(folder, "fail");
    assert_eq!(failed.status.code(), Some(1));
    let error = String::from_utf8_lossy(&failed.stderr);
    assert!(error.contains("the catalogs have errors; see the warnings of the build"), "{error}");

    // What is wrong in the default locale fails the build, with file and line, and Cargo looks at it again.
    write("catalogs/en/home.toml", "title = 'Ferries {$'\n");
    let broken = run(folder, "");
    assert_eq!(broken.status.code(), Some(1));
    assert_eq!(told(&broken), "cargo::rerun-if-changed=catalogs/en");
    let error = String::from_utf8_lossy(&broken.stderr);
    assert!(
        error.contains("catalogs/en/home.toml:1: the message `home.title` has an error: a name is missing"),
        "{error}"
    );
}
