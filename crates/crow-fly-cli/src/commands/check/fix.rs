//! What is mechanical is mended: shown first, written where that is wanted.

use std::collections::BTreeMap;
use std::fs;
use std::io::Write;
use std::path::Path;

use anyhow::{Context, Result};
use crow_fly::core::finding::Fix;
use crow_fly::core::rule::Rule;

use super::walk::Located;
use crate::render;

/// Shows what would be changed in each file, and writes it where that is wanted.
pub(super) fn fix(findings: &[Located], writes: bool, output: &mut dyn Write) -> Result<()> {
    let mut by_file: BTreeMap<&str, Vec<&Fix>> = BTreeMap::new();
    let mut marked = Vec::new();
    for found in findings {
        if let Some(fix) = &found.finding.fix {
            by_file.entry(&found.file).or_default().push(fix);
        } else if found.finding.rule == Rule::ByteOrderMark {
            by_file.entry(&found.file).or_default();
            marked.push(found.file.as_str());
        }
    }
    let mut count = marked.len();
    for (file, fixes) in &mut by_file {
        let text = fs::read_to_string(file).with_context(|| format!("{file} cannot be read"))?;
        let bare = text.strip_prefix('\u{feff}').unwrap_or(&text);
        // From behind, so that what is before stays where it is. Of two that overlap one waits for the next time.
        fixes.sort_by_key(|fix| std::cmp::Reverse((fix.range.start, fix.range.end)));
        let (mut mended, mut limit) = (bare.to_owned(), bare.len() + 1);
        for Fix { range, text, .. } in fixes.iter() {
            if range.end < limit && mended.get(range.clone()).is_some() {
                mended.replace_range(range.clone(), text);
                limit = range.start;
                count += 1;
            }
        }
        if marked.contains(file) {
            writeln!(output, "{file}: the byte-order mark is deleted")?;
        }
        // Fixes stay in their lines.
        for (number, (before, behind)) in bare.lines().zip(mended.lines()).enumerate() {
            if before != behind {
                writeln!(output, "{file}:{}\n- {before}\n+ {behind}", number + 1)?;
            }
        }
        if writes {
            write(Path::new(file), &mended)?;
        }
    }
    let (changes, files) = (render::count(count, "change"), render::count(by_file.len(), "file"));
    if count == 0 {
        writeln!(output, "nothing can be mended by itself")?;
    } else if writes {
        writeln!(output, "{changes} made in {files}")?;
    } else {
        writeln!(output, "{changes} in {files}; `crow-fly check --fix --write` makes them")?;
    }
    Ok(())
}

/// Writes a file whole, or not at all.
fn write(file: &Path, text: &str) -> Result<()> {
    let beside = file.with_extension("new~");
    let written = fs::write(&beside, text).and_then(|()| fs::rename(&beside, file));
    written.with_context(|| format!("{} cannot be written", file.display()))
}
