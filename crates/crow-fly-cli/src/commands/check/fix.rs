//! Changes that need no judgement: shown first, written on request.

use std::collections::BTreeMap;
use std::io::Write;
use std::path::Path;
use std::sync::Arc;

use anyhow::Result;
use crow_fly_core::finding::Fix;
use crow_fly_core::rule::Rule;
use serde_json::json;

use crate::arguments::{CheckArguments, CheckFormat};
use crate::located::Located;
use crate::output::Output;
use crate::place::Place;
use crate::reading;
use crate::render::{self, Change};
use crate::writing::{self, Writing};

/// The changes of one file.
#[derive(Default)]
struct Changes<'f> {
    fixes: Vec<(&'f Located, &'f Fix)>,
    has_byte_order_mark: bool,
}

/// Shows what changes in each file, and writes it on request.
pub(super) fn fix(
    findings: &[Located],
    what: &CheckArguments,
    writing: Option<&Writing<'_>>,
    output: &mut Output<'_>,
) -> Result<()> {
    let mut by_file: BTreeMap<&str, Changes<'_>> = BTreeMap::new();
    for found in findings {
        if let Some(fix) = &found.finding.fix {
            by_file.entry(&found.file).or_default().fixes.push((found, fix));
        } else if found.finding.rule == Rule::ByteOrderMark {
            by_file.entry(&found.file).or_default().has_byte_order_mark = true;
        }
    }
    let mut made = Vec::new();
    let mut of_files = Vec::new();
    for (file, changes) in &mut by_file {
        let (lines, change) = changes.of_file(file)?;
        made.extend(lines);
        of_files.push(change);
    }
    if let Some(writing) = writing {
        writing.write(of_files)?;
    }
    if what.format == CheckFormat::Json {
        return render::json(output, &json!({ "changes": made, "written": what.write }));
    }
    for change in &made {
        change.print(output)?;
    }
    let (changes, files) = (render::count(made.len(), "change"), render::count(by_file.len(), "file"));
    if made.is_empty() {
        writeln!(output, "nothing can be fixed automatically")?;
    } else if what.write {
        writeln!(output, "{changes} made in {files}")?;
    } else {
        writeln!(output, "{changes} in {files}; to make them: crow-fly check --fix --write")?;
    }
    Ok(())
}

impl Changes<'_> {
    /// The changes of a file, line by line and as a whole.
    fn of_file(&mut self, file: &str) -> Result<(Vec<Change>, writing::Change)> {
        let text = reading::text(Path::new(file))?;
        let bare = text.strip_prefix('\u{feff}').unwrap_or(&text);
        // From the end, so that what comes before keeps its place. Of two that overlap, one waits for the next time.
        self.fixes.sort_by_key(|(_, fix)| std::cmp::Reverse((fix.range.start, fix.range.end)));
        let lines: Vec<&str> = bare.lines().collect();
        let (mut fixed, mut limit, mut made) = (bare.to_owned(), bare.len() + 1, Vec::new());
        for (found, Fix { range, text, .. }) in &self.fixes {
            // A file that has been written to since it was checked is left as it is.
            let line = found.finding.place.and_then(|place| lines.get(place.line as usize - 1));
            let is_same = line.copied() == found.line.as_deref();
            if is_same && range.end < limit && fixed.get(range.clone()).is_some() {
                fixed.replace_range(range.clone(), text);
                limit = range.start;
            }
        }
        if self.has_byte_order_mark {
            let place = Place { file: file.to_owned(), line: 1, column: 1 };
            let before = "a byte-order mark".to_owned();
            made.push(Change { place, before, after: "none".to_owned() });
        }
        // No fix adds or removes a line.
        for (number, (before, after)) in lines.iter().zip(fixed.lines()).enumerate() {
            if *before != after {
                let same = before.chars().zip(after.chars()).take_while(|(before, after)| before == after);
                let place = Place {
                    file: file.to_owned(),
                    line: u32::try_from(number + 1).unwrap_or(u32::MAX),
                    column: u32::try_from(same.count() + 1).unwrap_or(u32::MAX),
                };
                made.push(Change { place, before: (*before).to_owned(), after: after.to_owned() });
            }
        }
        if !self.has_byte_order_mark && bare.len() < text.len() {
            fixed.insert(0, '\u{feff}');
        }
        let before: Arc<[u8]> = text.as_bytes().into();
        Ok((made, writing::Change::new(file, Some(before), Some(fixed.into_bytes()))))
    }
}
