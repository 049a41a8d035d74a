//! Releases from the command line: a store in a folder.

use crate::project::Project;

const CONFIG: &str = "default = 'en'\nlocales = ['en', 'cy']\n";

fn project() -> Project {
    Project::new(
        CONFIG,
        &[("en/home.toml", "title = 'Ferries'\nhelp = 'Help'"), ("cy/home.toml", "title = 'Fferïau'")],
    )
}

#[test]
fn publishes_activates_and_rolls_back() {
    let project = project();
    let mut shown = Vec::new();
    let mut run = |arguments: &[&str]| shown.push(project.run(arguments));
    run(&["release", "list", "--store", "releases"]);
    run(&["release", "publish", "--store", "releases"]);
    run(&["release", "roll-back", "--store", "releases"]);
    run(&["release", "list", "--store", "releases"]);
    run(&["release", "activate", "0123", "--store", "releases"]);
    let first = project.json(&["release", "list", "--store", "releases"])["releases"][0]["release"]
        .as_str()
        .unwrap()[..8]
        .to_owned();
    run(&["release", "activate", &first, "--store", "releases"]);
    run(&["release", "activate", &first, "--store", "releases"]);
    project.write("catalogs/en/home.toml", "title = 'New ferries'\nhelp = 'Help'");
    run(&["release", "publish", "--activate", "--store", "releases"]);
    run(&["release", "publish", "--store", "releases", "--format", "json"]);
    run(&["release", "roll-back", "--store", "releases"]);
    run(&["release", "roll-back", "--store", "releases"]);
    run(&["release", "list", "--store", "releases"]);
    run(&["release", "clean", "--store", "releases"]);
    // One damaged activation, and what is none: all goes on, and shows it.
    project.write("releases/active/0000000004.json", "");
    project.write("releases/active/7.json", "{}");
    run(&["release", "list", "--store", "releases"]);
    run(&["release", "list", "--store", "releases", "--format", "json"]);
    run(&["release", "roll-back", "--store", "releases"]);
    run(&["release", "activate", &first, "--store", "releases"]);
    run(&["release", "clean", "--store", "releases"]);
    insta::assert_snapshot!(shown.join("\n"));
}

/// What publishing leaves to `check` is found by it, and then nothing is published.
#[test]
fn publishes_nothing_that_a_check_finds_where_it_is_asked_to() {
    let project = project();
    project.write("catalogs/cy/home.toml", "title = 'Fferïau '\nhelp = 'Cymorth'");
    let all = ["release", "publish", "--store", "releases", "--check"];
    let shown = [project.run(&all), project.run(&all[..4])];
    insta::assert_snapshot!(shown.join("\n"));
    assert_eq!(project.json(&all)["findings"][0]["rule"], "white-space");
    project.write("catalogs/cy/home.toml", "title = 'Fferïau'\nhelp = 'Cymorth'");
    assert!(project.run(&all).contains("status 0\npublished release "));
}

#[test]
fn says_what_is_wrong() {
    let project = project();
    project.write("catalogs/cy/home.toml", "title = 'Fferïau {$'");
    let shown = [
        project.run(&["release", "publish", "--store", "releases"]),
        project.run(&["release", "show"]),
        project.run(&["release", "show", "active"]),
        project.run(&["release", "publish", "--store", "crow-fly.toml/releases"]),
        project.run(&["release", "publish"]),
        project.run(&["release", "list", "--store", "nowhere"]),
    ];
    insta::assert_snapshot!(shown.join("\n"));
}

#[test]
fn prints_the_manifest_for_a_web_server() {
    insta::assert_snapshot!(
        [
            project().run(&["release", "show", "--format", "manifest"]),
            project().run(&["release", "show"]),
            project().run(&["release", "show", "--format", "json"]),
        ]
        .join("\n")
    );
}

#[test]
fn shows_what_a_release_has_and_what_differs() {
    let project = project();
    project.run(&["release", "publish", "--activate", "--store", "releases"]);
    let first = project.json(&["release", "list", "--store", "releases"])["releases"][0]["release"]
        .as_str()
        .unwrap()[..8]
        .to_owned();
    project.write("catalogs/en/home.toml", "title = 'New ferries'\nnews = 'News'");
    project.write(
        "catalogs/cy/home.toml",
        "title = 'Fferïau'\nhelp = '.input {$n :integer}\n.match $n\n* {{Cymorth}}'",
    );
    project.write(
        "catalogs/cy/home.toml",
        "title = 'Fferïau'\nhelp = '''\n.input {$n :integer}\n.match $n\n* {{Cymorth}}'''",
    );
    let mut shown = vec![
        project.run(&["release", "show", "active", "--store", "releases"]),
        project.run(&["release", "compare", "active", "--store", "releases"]),
        project.run(&["release", "show", "0000", "--store", "releases"]),
    ];
    project.run(&["release", "publish", "--activate", "--store", "releases"]);
    shown.push(
        project.run(&["release", "compare", &first, "active", "--store", "releases", "--format", "json"]),
    );
    shown.push(project.run(&["release", "compare", "active", "--store", "releases"]));
    insta::assert_snapshot!(shown.join("\n"));
    let inspected = project.json(&["release", "show", &first, "--store", "releases"]);
    assert_eq!(inspected["files"][1]["path"], "en/home.toml");
    assert_eq!(inspected["files"][1]["messages"], 2);
}
