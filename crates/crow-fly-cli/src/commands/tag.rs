//! `crow-fly tag`: what is known of a language tag.

use std::io::Write;

use anyhow::{Context, Result};
use crow_fly::{Direction, LanguageTag};
use crow_fly_core::calendar::CalendarChoice;
use crow_fly_core::names::{Casing, name, own_name};
use crow_fly_core::number::{Category, PluralRules, PluralType};
use serde::Serialize;

use super::Outcome;
use crate::arguments::TagArguments;
use crate::output::Output;
use crate::project::Project;
use crate::render;

#[derive(Serialize)]
struct Facts {
    tag: LanguageTag,
    canonical: LanguageTag,
    maximal: LanguageTag,
    minimal: LanguageTag,
    own_name: String,
    english_name: Option<String>,
    direction: Direction,
    calendar: CalendarChoice,
    parents: Vec<LanguageTag>,
    /// The application's chain; none where it does not have the locale.
    chain: Option<Vec<LanguageTag>>,
    cardinal: Vec<Form>,
    ordinal: Vec<Form>,
}

#[derive(Serialize)]
struct Form {
    category: Category,
    samples: &'static str,
}

pub(crate) fn run(
    project: Option<&Project>,
    what: &TagArguments,
    output: &mut Output<'_>,
) -> Result<Outcome> {
    let tag = LanguageTag::parse_lenient(&what.tag)
        .with_context(|| format!("`{}` is not a language tag", what.tag))?;
    let canonical = tag.canonicalized();
    let english = LanguageTag::parse("en")?;
    let chain = project.and_then(|project| {
        let locale = project.config.policy().set().exact(&canonical)?;
        Some(project.config.chains().tags(locale).cloned().collect())
    });
    let forms = |plural_type| {
        let rules = PluralRules::of(&canonical, plural_type);
        rules
            .categories()
            .map(|category| Form { category, samples: rules.samples(category) })
            .collect::<Vec<_>>()
    };
    let facts = Facts {
        maximal: canonical.maximized(),
        minimal: canonical.minimized(),
        own_name: own_name(&canonical, Casing::Sentence),
        english_name: name(&canonical, &english, Casing::Sentence),
        direction: Direction::of(&canonical),
        calendar: CalendarChoice::of(&canonical),
        parents: std::iter::successors(canonical.parent(), LanguageTag::parent).collect(),
        chain,
        cardinal: forms(PluralType::Cardinal),
        ordinal: forms(PluralType::Ordinal),
        tag,
        canonical,
    };
    if what.format.is_json() {
        render::json(output, &facts)?;
    } else {
        facts.print(output)?;
    }
    Ok(Outcome::Well)
}

impl Facts {
    fn print(&self, output: &mut Output<'_>) -> Result<()> {
        let arrows =
            |tags: &[LanguageTag]| tags.iter().map(ToString::to_string).collect::<Vec<_>>().join(" → ");
        let or_none = |text: String| if text.is_empty() { render::NOTHING.to_owned() } else { text };
        let row = |name: &str, value: String| vec![name.to_owned(), value];
        let no_chain = || "the application does not have this locale".to_owned();
        let rows = [
            row("tag", self.tag.to_string()),
            row("canonical", self.canonical.to_string()),
            row("maximal", self.maximal.to_string()),
            row("minimal", self.minimal.to_string()),
            row("own name", self.own_name.clone()),
            row("in English", or_none(self.english_name.clone().unwrap_or_default())),
            row("direction", self.direction.to_string()),
            row("calendar", self.calendar.to_string()),
            row("parents", or_none(arrows(&self.parents))),
            row("chain", self.chain.as_deref().map_or_else(no_chain, arrows)),
        ];
        render::table(output, &[], rows)?;
        for (title, forms) in [("cardinal", &self.cardinal), ("ordinal", &self.ordinal)] {
            writeln!(output)?;
            let rows = forms.iter().map(|form| {
                let samples = form.samples.replace("@integer", "").replace("@decimal", "·");
                vec![form.category.to_string(), samples.trim().to_owned()]
            });
            render::table(output, &[title, "for numbers like (whole numbers · fractions)"], rows)?;
        }
        Ok(())
    }
}
