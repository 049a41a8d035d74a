//! Coverage as one page of HTML that needs nothing else: no network, and no script to be read.

use std::collections::BTreeMap;

use maud::{DOCTYPE, Markup, PreEscaped, html};

use super::{Counts, LocaleCoverage, ReferenceText};
use crate::arguments::State;
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
                    p { "Every locale beside the reference, " code { (reference) } ", with the sections that have something left." }
                    p class="legend" {
                        span class="mark translated" {} "translated "
                        span class="mark stale" {} "stale: the reference has changed since "
                        span class="mark rest" {} "untranslated"
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
                th scope="col" class="number" { "Translated" }
                th scope="col" class="number" { "Untranslated" }
                th scope="col" class="number" { "Stale" }
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

fn row(name: &str, counts: &Counts, is_locale: bool) -> Markup {
    let share = |count: usize| {
        // Tenths of a percent.
        let tenths = (count * 1000).checked_div(counts.total()).unwrap_or_default();
        format!("width:{}.{}%", tenths / 10, tenths % 10)
    };
    let label = format!(
        "{} percent: {} translated, {} stale, {} untranslated",
        counts.percent(),
        counts.translated,
        counts.stale,
        counts.untranslated
    );
    html! {
        tr class=[is_locale.then_some("locale")] {
            th scope="row" { (name) }
            td {
                div class="covered" {
                    span class="bar" role="img" aria-label=(label) {
                        span class="translated" style=(share(counts.translated)) {}
                        span class="stale" style=(share(counts.stale)) {}
                    }
                    span class="percent" { (counts.percent()) "%" }
                }
            }
            td class="number" { (counts.translated) }
            td class="number" { (counts.untranslated) }
            td class="number" { (counts.stale) }
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
                        th scope="col" { "Reference" }
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

fn left_text(locale: &str, key: &str, state: State, text: Option<&ReferenceText>) -> Markup {
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
