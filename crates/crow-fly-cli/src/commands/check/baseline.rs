//! The findings that were there when checks began: an old project starts clean, and what is new is found.

use std::collections::BTreeMap;
use std::path::Path;

use anyhow::{Context, Result};

use crate::located::Located;
use crate::reading;
use crate::writing::{Disk, replace};

/// The lines of a baseline, and how often each is there.
pub(super) struct Baseline(BTreeMap<String, usize>);

impl Baseline {
    pub(super) fn read(file: &Path) -> Result<Self> {
        let text =
            reading::text(file).context("the baseline cannot be read; `--write-baseline` writes one")?;
        let mut lines = BTreeMap::new();
        for line in text.lines().filter(|line| !line.is_empty() && !line.starts_with('#')) {
            *lines.entry(line.to_owned()).or_default() += 1;
        }
        Ok(Self(lines))
    }

    /// Takes the findings out that are in it; returns how many.
    pub(super) fn take_out(&self, findings: &mut Vec<Located>) -> usize {
        let (before, mut left) = (findings.len(), self.0.clone());
        findings.retain(|found| match left.get_mut(&line(found)) {
            Some(count) if *count > 0 => {
                *count -= 1;
                false
            }
            _ => true,
        });
        before - findings.len()
    }
}

/// A finding without its line, which moves: `missing-key pl/home title`.
fn line(found: &Located) -> String {
    let finding = &found.finding;
    let key = finding.key.as_deref().unwrap_or("-");
    format!("{} {}/{} {key}", finding.rule, finding.locale, finding.section)
}

/// Writes a baseline of all findings; returns how many.
pub(super) fn write(disk: &dyn Disk, file: &Path, findings: &[Located]) -> Result<usize> {
    let mut lines: Vec<String> = findings.iter().map(line).collect();
    lines.sort_unstable();
    let mut text = String::from(
        "# Findings to start from: `crow-fly check` leaves them out. Delete a line to see it again.\n",
    );
    for line in &lines {
        text.push_str(line);
        text.push('\n');
    }
    replace(disk, file, text.as_bytes())?;
    Ok(findings.len())
}
