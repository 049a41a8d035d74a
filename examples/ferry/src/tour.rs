//! A page for those who look at the demo: what can be tried, and the file that does it.

use maud::{DOCTYPE, Markup, html};

/// What can be tried, where, and in which file it is done.
const TOUR: [(&str, &str, &str); 16] = [
    (
        "The same page in Arabic: right to left, plurals of six kinds, Arabic names of languages",
        "/ar",
        "catalogs/ar/home.toml",
    ),
    (
        "In British English: only what differs is in its catalog",
        "/en-GB/sailings/2",
        "catalogs/en-GB/sailing.toml",
    ),
    ("A number in an ordinal, a time, a fare: Polish", "/pl/sailings/3", "catalogs/pl/sailing.toml"),
    ("One path has one address: another spelling is redirected", "/CY/sailings/2", "crow-fly.toml"),
    (
        "A choice of language is remembered, and leads back",
        "/locale?to=cy&return=/sailings/2",
        "crow-fly.toml",
    ),
    (
        "Only the sailings of one boat: an argument from the address, escaped",
        "/cy?boat=Curlew",
        "src/pages.rs",
    ),
    (
        "A form whose mistakes are messages, checked before it is sent",
        "/pl/sailings/7",
        "src/templates.rs, assets/booking.js",
    ),
    (
        "What the script is handed: texts as JSON, in the source of the page",
        "/sailings/7",
        "src/templates.rs",
    ),
    ("Texts of a section by address, for scripts", "/texts/pl/sailing.json", "crow-fly.toml, [browser]"),
    ("A page that is not there, in the language of its address", "/cy/nowhere", "src/pages.rs"),
    ("A session with a trip in it", "/trip", "src/pages.rs"),
    ("What happened to each request, source by source", "/inspector", "src/site.rs"),
    ("How the catalogs are", "/health", "src/site.rs"),
    ("Which texts were missing", "/misses", "src/site.rs"),
    ("All pages in all languages, for search engines", "/sitemap.xml", "src/site.rs"),
    ("Messages as types: a wrong key does not compile", "examples/ferry-messages", "build.rs"),
];

pub(crate) fn page() -> Markup {
    html! {
        (DOCTYPE)
        html lang="en" dir="ltr" {
            head {
                meta charset="utf-8";
                meta name="viewport" content="width=device-width, initial-scale=1";
                title { "A tour of the demo" }
                link rel="icon" href="data:,";
                link rel="stylesheet" href="/assets/ferry.css";
            }
            body {
                main #content {
                    h1 { "A tour of the demo" }
                    p.lead { "What can be tried, and the file below " code { "examples/ferry" } " that does it." }
                    table {
                        thead { tr { th scope="col" { "Try" } th scope="col" { "Where" } th scope="col" { "File" } } }
                        tbody {
                            @for (what, address, file) in TOUR {
                                tr {
                                    td { (what) }
                                    td {
                                        @if address.starts_with('/') { a href=(address) { (address) } }
                                        @else { (address) }
                                    }
                                    td { code { (file) } }
                                }
                            }
                        }
                    }
                }
            }
        }
    }
}
