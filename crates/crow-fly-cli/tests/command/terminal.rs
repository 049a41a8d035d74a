//! What a terminal gets: colours where they are wanted, completions, manual pages.

use assert_cmd::Command;

use crate::project::Project;

fn project() -> Project {
    Project::new("default = 'en'\nlocales = ['en']\n", &[("en/home.toml", "title = 'Ferries {$'")])
}

#[test]
fn colours_are_shown_as_the_environment_wishes() {
    let project = project();
    let shown = |variables: &[(&str, &str)]| {
        let mut command = Command::cargo_bin("crow-fly").unwrap();
        let command = command.current_dir(project.folder()).arg("check");
        // The environment of the machine that runs the test does not count.
        let command = command.env_remove("NO_COLOR").env_remove("CLICOLOR_FORCE").env_remove("CLICOLOR");
        let command = command.envs(variables.iter().copied());
        String::from_utf8(command.output().unwrap().stdout).unwrap()
    };
    // Into a file, or another program.
    assert!(!shown(&[]).contains('\u{1b}'));
    assert!(shown(&[("CLICOLOR_FORCE", "1")]).contains("\u{1b}["));
    assert!(!shown(&[("NO_COLOR", "1")]).contains('\u{1b}'));
}

#[test]
fn completions_are_printed_for_every_shell() {
    let project = project();
    for shell in ["bash", "fish", "zsh", "elvish", "powershell"] {
        let script = project.run(&["completions", shell]);
        assert!(script.contains("status 0") && script.contains("add-locale"), "{shell}");
    }
}
