//! How results look in a terminal.

use std::fmt;
use std::io::{self, Write};

use annotate_snippets::{AnnotationKind, Group, Level, Renderer, Snippet};
use comfy_table::{CellAlignment, ContentArrangement, Table, presets};
use crow_fly_core::finding::Severity;
use crow_fly_core::rule::Family;
use serde::{Serialize, Serializer};

use crate::located::Located;
use crate::output::{Output, shown};
use crate::place::Place;

/// Prints a value as JSON, for other programs.
pub(crate) fn json(output: &mut Output<'_>, value: &impl Serialize) -> anyhow::Result<()> {
    let text = serde_json::to_string_pretty(value)?;
    if !text.contains(|letter| output.replaces(letter)) {
        return Ok(writeln!(output, "{text}")?);
    }
    // What acts on a terminal is written as an escape: the value is the same.
    let mut escaped = String::with_capacity(text.len());
    for letter in text.chars() {
        match letter {
            letter if output.replaces(letter) => {
                escaped.extend(["\\u", &format!("{:04x}", u32::from(letter))]);
            }
            letter => escaped.push(letter),
        }
    }
    Ok(writeln!(output, "{escaped}")?)
}

/// Prints rows under a head, no wider than the terminal; columns of numbers stand right-aligned.
pub(crate) fn table(
    output: &mut Output<'_>,
    head: &[&str],
    rows: impl IntoIterator<Item = Vec<String>>,
) -> io::Result<()> {
    let rows: Vec<Vec<String>> = rows.into_iter().collect();
    let is_of_numbers =
        |at: usize| rows.iter().filter_map(|row| row.get(at)).all(|cell| cell == NOTHING || is_number(cell));
    let numbers: Vec<bool> = (0..rows.first().map_or(0, Vec::len)).map(is_of_numbers).collect();
    let mut table = Table::new();
    table.load_style(presets::NOTHING).set_content_arrangement(ContentArrangement::Dynamic);
    table.set_width(terminal_width());
    if !head.is_empty() {
        table.set_header(head.to_vec());
    }
    for row in rows {
        table.add_row(row);
    }
    for (column, is_of_numbers) in table.column_iter_mut().zip(numbers) {
        column.set_padding((0, 2));
        if is_of_numbers {
            column.set_cell_alignment(CellAlignment::Right);
        }
    }
    for line in table.lines() {
        writeln!(output, "{}", line.trim_end())?;
    }
    Ok(())
}

/// What stands in a cell without a value.
pub(crate) const NOTHING: &str = "–";

/// A count in a table; none is a dash, so that what is there is seen.
pub(crate) fn cell(count: usize) -> String {
    if count == 0 { NOTHING.to_owned() } else { count.to_string() }
}

/// `12`, `0.5`, `98%`.
fn is_number(cell: &str) -> bool {
    let digits = cell.strip_suffix('%').unwrap_or(cell);
    !digits.is_empty() && digits.bytes().all(|byte| byte.is_ascii_digit() || byte == b'.')
}

/// Writes what is serialized as the text that people read.
pub(crate) fn as_text<S: Serializer>(value: &impl fmt::Display, serializer: S) -> Result<S::Ok, S::Error> {
    serializer.collect_str(value)
}

/// A text that was, and the one that is: below each other, in the indent of a list.
pub(crate) fn change(output: &mut Output<'_>, before: Option<&str>, after: Option<&str>) -> io::Result<()> {
    for (sign, text) in [('-', before), ('+', after)] {
        if let Some(text) = text {
            writeln!(output, "  {sign} {}", text.replace('\n', "\n    "))?;
        }
    }
    Ok(())
}

/// A line that changes.
#[derive(Serialize)]
pub(crate) struct Change {
    #[serde(flatten)]
    pub(crate) place: Place,
    /// The line as it is, or what changes in it.
    pub(crate) before: String,
    pub(crate) after: String,
}

impl Change {
    pub(crate) fn print(&self, output: &mut Output<'_>) -> io::Result<()> {
        writeln!(output, "{}", self.place)?;
        change(output, Some(&self.before), Some(&self.after))
    }
}

/// A warning, beside the output.
pub(crate) fn warning(text: impl fmt::Display) -> io::Result<()> {
    beside(format_args!("warning: {text}"))
}

/// Something good to know, beside the output.
pub(crate) fn note(text: impl fmt::Display) -> io::Result<()> {
    beside(format_args!("note: {text}"))
}

/// A line beside the output.
pub(crate) fn beside(text: impl fmt::Display) -> io::Result<()> {
    writeln!(anstream::stderr(), "{}", shown(&text.to_string()))
}

fn terminal_width() -> u16 {
    let asked = std::env::var("COLUMNS").ok().and_then(|columns| columns.parse().ok());
    asked.or_else(|| Some(terminal_size::terminal_size()?.0.0)).unwrap_or(100)
}

/// Prints a finding the way compilers do: where, what, the line, what to do, and why it matters.
pub(crate) fn finding(output: &mut Output<'_>, located: &Located) -> io::Result<()> {
    let Located { file, finding, line } = located;
    // A character for a character: columns stay.
    let (file, line) = (shown(file), line.as_deref().map(shown));
    let level = match finding.severity {
        Severity::Error => Level::ERROR,
        Severity::Warning => Level::WARNING,
        Severity::Note => Level::NOTE,
    };
    let title = match &finding.key {
        Some(key) => format!("{}.{key}: {}", finding.section, finding.text),
        None if finding.section.is_empty() => finding.text.clone(),
        None => format!("{}: {}", finding.section, finding.text),
    };
    let report = level.primary_title(shown(&title)).id(finding.rule.id());
    let group = match (finding.place, &line) {
        (Some(place), Some(line)) => {
            // Only the line itself is shown; the renderer counts lines and columns from it.
            let bytes = |count: u32| line.char_indices().nth(count as usize).map_or(line.len(), |(at, _)| at);
            let (start, end) = (bytes(place.column - 1), bytes(place.column - 1 + place.length));
            let snippet = Snippet::source(&**line).line_start(place.line as usize).path(&*file);
            Group::with_title(report)
                .element(snippet.annotation(AnnotationKind::Primary.span(start..end.max(start))))
        }
        _ => Group::with_title(report).element(annotate_snippets::Origin::path(&*file)),
    };
    // Of what cannot be read, the help says all there is to say.
    let why = match finding.rule.family() {
        Family::Syntax => "The message cannot be used: visitors see a fallback.",
        _ => finding.rule.about(),
    };
    let group = group.element(Level::NOTE.message(why));
    let report = [group.element(Level::HELP.message(shown(&finding.help)))];
    output.styled(&Renderer::styled().term_width(terminal_width().into()).render(&report))?;
    output.write_all(b"\n\n")
}

/// `1 error`, `2 errors`.
pub(crate) fn count(number: usize, word: &str) -> String {
    if number == 1 { format!("1 {word}") } else { format!("{number} {word}s") }
}
