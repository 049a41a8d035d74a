//! Coverage as one page of HTML that needs nothing else: no network, and no script to be read.

use std::collections::BTreeMap;

use crow_fly_core::check::TextState;
use maud::{DOCTYPE, Markup, PreEscaped, html};

use super::{COLUMNS, Counts, LocaleCoverage, ReferenceText, columns};
use crate::render;

const STYLE: &str = include_str!("page.css");
const SCRIPT: &str = include_str!("page.js");

/// The page.
pub(super) fn page(
    reference: &str,
    locales: &[LocaleCoverage],
    texts: &BTreeMap<String, ReferenceText>,
) -> String {
    let markup = html! {
        (DOCTYPE)
        html lang="en" {
            head {
                meta charset="utf-8";
                meta name="viewport" content="width=device-width, initial-scale=1";
                meta name="color-scheme" content="light dark";
                title { "Translation coverage" }
                style { (PreEscaped(STYLE)) }
            }
            body {
                a class="skip" href="#texts" { "Skip to the texts" }
                header {
                    h1 { "Translation coverage" }
                    p { "Every locale beside the default one, " code { (reference) } ", with the sections that have something left." }
                    p class="legend" {
                        span class="mark translated" {} "translated or inherited "
                        span class="mark stale" {} "stale: the default locale has changed since "
                        span class="mark rest" {} "untranslated or missing"
                    }
                }
                main {
                    (overview(locales))
                    (left(locales, texts))
                }
                script { (PreEscaped(SCRIPT)) }
            }
        }
    };
    markup.into_string()
}

/// The locales and their sections, with bars.
fn overview(locales: &[LocaleCoverage]) -> Markup {
    html! {
        table class="overview" {
            caption class="hidden" { "Locales and sections" }
            thead { tr {
                th scope="col" { "Locale" }
                th scope="col" { "Covered" }
                @for name in COLUMNS {
                    th scope="col" class="number" { (title(name)) }
                }
                th scope="col" class="number" { "Words left" }
            } }
            @for locale in locales {
                tbody {
                    (row(&locale.locale, &locale.counts, true))
                    // Of sections that are complete there is nothing to say.
                    @for (section, counts) in locale.sections.iter().filter(|(_, counts)| counts.words_left > 0) {
                        (row(section, counts, false))
                    }
                }
            }
        }
    }
}

/// A word with a capital.
fn title(word: &str) -> String {
    let mut letters = word.chars();
    letters.next().into_iter().flat_map(char::to_uppercase).chain(letters).collect()
}

fn row(name: &str, counts: &Counts, is_locale: bool) -> Markup {
    let share = |count: usize| {
        // Tenths of a percent.
        let tenths = (count * 1000).checked_div(counts.texts.total()).unwrap_or_default();
        format!("width:{}.{}%", tenths / 10, tenths % 10)
    };
    let parts =
        COLUMNS.into_iter().zip(columns(&counts.texts)).map(|(name, count)| format!("{count} {name}"));
    let label = format!("{} percent: {}", counts.texts.percent(), parts.collect::<Vec<_>>().join(", "));
    let done = counts.texts.translated + counts.texts.inherited;
    html! {
        tr class=[is_locale.then_some("locale")] {
            th scope="row" { (name) }
            td {
                div class="covered" {
                    span class="bar" role="img" aria-label=(label) {
                        span class="translated" style=(share(done)) {}
                        span class="stale" style=(share(counts.texts.stale)) {}
                    }
                    span class="percent" { (counts.texts.percent()) "%" }
                }
            }
            @for count in columns(&counts.texts) {
                td class="number" { (count) }
            }
            td class="number" { (counts.words_left) }
        }
    }
}

/// The texts that are left to do, and fields to filter them by.
fn left(locales: &[LocaleCoverage], texts: &BTreeMap<String, ReferenceText>) -> Markup {
    let count: usize = locales.iter().map(|locale| locale.left.len()).sum();
    html! {
        section id="texts" aria-labelledby="texts-title" {
            h2 id="texts-title" { "Texts to translate" }
            @if count == 0 {
                p { "Nothing is left: every locale has every text." }
            } @else {
                form class="filters" hidden {
                    label { "Locale "
                        select name="locale" {
                            option value="" { "all" }
                            @for locale in locales.iter().filter(|locale| !locale.left.is_empty()) {
                                option { (locale.locale) }
                            }
                        }
                    }
                    label { "State "
                        select name="state" {
                            option value="" { "all" }
                            option { "untranslated" }
                            option { "missing" }
                            option { "stale" }
                        }
                    }
                    label { "Search " input type="search" name="search" placeholder="key, text or note"; }
                }
                p class="count" aria-live="polite" { (render::count(count, "text")) }
                table class="left" {
                    caption class="hidden" { "Texts to translate" }
                    thead { tr {
                        th scope="col" { "Locale" }
                        th scope="col" { "Key" }
                        th scope="col" { "State" }
                        th scope="col" { "Default locale" }
                    } }
                    tbody {
                        @for locale in locales {
                            @for text in &locale.left {
                                (left_text(&locale.locale, &text.key, text.state, texts.get(&text.key)))
                            }
                        }
                    }
                }
            }
        }
    }
}

fn left_text(locale: &str, key: &str, state: TextState, text: Option<&ReferenceText>) -> Markup {
    html! {
        tr data-locale=(locale) data-state=(state.name()) {
            td { (locale) }
            th scope="row" { code { (key) } }
            td { span class={ "state " (state.name()) } { (state.name()) } }
            td {
                @if let Some(text) = text {
                    div class="text" { (text.text) }
                    @if let Some(note) = &text.note { div class="note" { (note) } }
                }
            }
        }
    }
}
