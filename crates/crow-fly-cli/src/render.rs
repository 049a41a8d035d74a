//! How results look in a terminal.

use std::io::{self, Write};

use annotate_snippets::{AnnotationKind, Group, Level, Renderer, Snippet};
use comfy_table::{ContentArrangement, Table, presets};
use crow_fly_core::finding::Severity;
use crow_fly_core::rule::Family;
use serde::Serialize;

use crate::located::Located;

/// Prints a value as JSON, for other programs.
pub(crate) fn json(output: &mut dyn Write, value: &impl Serialize) -> anyhow::Result<()> {
    serde_json::to_writer_pretty(&mut *output, value)?;
    writeln!(output)?;
    Ok(())
}

/// Prints rows under a head, columns aligned, no wider than the terminal.
pub(crate) fn table(
    output: &mut dyn Write,
    head: &[&str],
    rows: impl IntoIterator<Item = Vec<String>>,
) -> io::Result<()> {
    let mut table = Table::new();
    table.load_style(presets::NOTHING).set_content_arrangement(ContentArrangement::Dynamic);
    table.set_width(terminal_width());
    if !head.is_empty() {
        table.set_header(head.to_vec());
    }
    for row in rows {
        table.add_row(row);
    }
    for column in table.column_iter_mut() {
        column.set_padding((0, 2));
    }
    for line in table.lines() {
        writeln!(output, "{}", line.trim_end())?;
    }
    Ok(())
}

fn terminal_width() -> u16 {
    let asked = std::env::var("COLUMNS").ok().and_then(|columns| columns.parse().ok());
    asked.or_else(|| Some(terminal_size::terminal_size()?.0.0)).unwrap_or(100)
}

/// Prints a finding the way compilers do: where, what, the line, what to do, and why it matters.
pub(crate) fn finding(output: &mut dyn Write, Located { file, finding, line }: &Located) -> io::Result<()> {
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
    let report = level.primary_title(title).id(finding.rule.id());
    let group = match (finding.place, line) {
        (Some(place), Some(line)) => {
            // Only the line itself is shown; the renderer counts lines and columns from it.
            let bytes = |count: u32| line.char_indices().nth(count as usize).map_or(line.len(), |(at, _)| at);
            let (start, end) = (bytes(place.column - 1), bytes(place.column - 1 + place.length));
            let snippet = Snippet::source(line.as_str()).line_start(place.line as usize).path(file);
            Group::with_title(report)
                .element(snippet.annotation(AnnotationKind::Primary.span(start..end.max(start))))
        }
        _ => Group::with_title(report).element(annotate_snippets::Origin::path(file)),
    };
    // Of what cannot be read, the help says all there is to say.
    let why = match finding.rule.family() {
        Family::Syntax => "The message cannot be used: visitors see a fallback.",
        _ => finding.rule.about(),
    };
    let group = group.element(Level::NOTE.message(why));
    let report = [group.element(Level::HELP.message(finding.help.as_str()))];
    writeln!(output, "{}\n", Renderer::styled().term_width(terminal_width().into()).render(&report))
}

/// `1 error`, `2 errors`.
pub(crate) fn count(number: usize, word: &str) -> String {
    if number == 1 { format!("1 {word}") } else { format!("{number} {word}s") }
}
