//! Coverage: what is translated, what is stale, what is left; as a table, as JSON, as a page.

use crate::project::Project;

fn project() -> Project {
    let project = Project::new(
        "default = 'en'\nlocales = ['en', 'en-GB', 'pl', 'cy']\n",
        &[
            (
                "en/home.toml",
                "# In the tab of the <browser>.\ntitle = 'Ferries & more'\nhelp = 'Ask us for help'\n",
            ),
            (
                "en/trip.toml",
                "title = 'Your trip'\nseats = '.input {$n :integer} .match $n one {{One seat}} * {{{$n} seats}}'\n",
            ),
            ("en-GB/home.toml", "title = 'Ferries'\n"),
            ("pl/home.toml", "title = 'Promy'\n# untranslated\nhelp = 'Ask us for help'\n"),
            ("pl/trip.toml", "title = 'Podróż'\nseats = '{$'\n"),
            ("cy/home.toml", "title = 'Fferïau'\nhelp = 'Gofynnwch i ni'\n"),
            ("cy/trip.toml", "title = 'Eich taith'\nseats = '{$n :integer} sedd'\n"),
        ],
    );
    project.run(&["accept", "--all", "--write"]);
    project.write(
        "catalogs/en/home.toml",
        "# In the tab of the <browser>.\ntitle = 'All ferries & more'\nhelp = 'Ask us for help'\n",
    );
    project
}

#[test]
fn counts_texts_and_words_by_locale_and_section() {
    let project = project();
    let shown = [
        project.run(&["coverage"]),
        project.run(&["coverage", "--locale", "pl"]),
        project.run(&["coverage", "--locale", "cy", "--format", "json"]),
        project.run(&["coverage", "--locale", "de"]),
    ];
    insta::assert_snapshot!(shown.join("\n"));
}

#[test]
fn the_page_needs_nothing_else_and_escapes_texts() {
    let project = project();
    let shown = project.run(&["coverage", "--format", "html"]);
    let (_, page) = shown.split_once("status 0\n").unwrap();
    assert!(page.contains("In the tab of the &lt;browser&gt;.") && page.contains("All ferries &amp; more"));
    for outside in ["http://", "https://", "src=", "@import", "url("] {
        assert!(!page.contains(outside), "the page asks for something: {outside}");
    }
    let row = |locale: &str, state: &str| {
        page.matches(&format!("data-locale=\"{locale}\" data-state=\"{state}\"")).count()
    };
    assert_eq!(
        (row("pl", "untranslated"), row("pl", "missing"), row("pl", "stale"), row("cy", "stale")),
        (1, 1, 1, 1)
    );
}
