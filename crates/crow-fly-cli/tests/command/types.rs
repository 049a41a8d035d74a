//! Messages as types, in a file of the application's own; and code that says them.

use crate::project::Project;

fn project() -> Project {
    let project = Project::new(
        "default = 'en'\nlocales = ['en', 'pl']\n[check]\ncode = ['src']\n",
        &[
            (
                "en/home.toml",
                "title = 'Ferries'\nold = 'Nobody says this'\n[seats]\nleft = '{$n :integer} left'\n",
            ),
            ("pl/home.toml", "title = 'Promy'\nold = 'x'\n[seats]\nleft = '{$n :integer} zostało'\n"),
        ],
    );
    project.write("src/page.rs", "use msg::home;\n\nfn page(t: &T) {\n    t.text(home::Title);\n    t.text(home::seats::Left { n: 3 });\n}\n");
    project
}

#[test]
fn a_message_that_is_said_by_its_type_is_used() {
    let told = project().run(&["check", "--format", "json"]);
    assert!(told.contains("unused-key") && told.contains("\"old\""), "{told}");
    assert_eq!(told.matches("unused-key").count(), 1, "{told}");
}

#[test]
fn a_rename_says_which_type_changes() {
    insta::assert_snapshot!(project().run(&["rename", "home.seats.left", "home.seats.free"]));
}
