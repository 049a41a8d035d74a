//! Findings for other tools: SARIF 2.1.0 (OASIS).

use crow_fly_core::finding::Severity;
use crow_fly_core::rule::Rule;
use serde_json::{Value, json};

use crate::located::Located;

/// A log of one run.
pub(super) fn log(findings: &[Located]) -> Value {
    let rules: Vec<Value> = Rule::ALL.iter().map(|rule| rule_of(*rule)).collect();
    let results: Vec<Value> = findings.iter().map(result).collect();
    json!({
        "$schema": "https://docs.oasis-open.org/sarif/sarif/v2.1.0/errata01/os/schemas/sarif-schema-2.1.0.json",
        "version": "2.1.0",
        "runs": [{
            "tool": { "driver": { "name": "crow-fly", "semanticVersion": env!("CARGO_PKG_VERSION"), "rules": rules } },
            "columnKind": "utf16CodeUnits",
            "results": results,
        }],
    })
}

const fn level(severity: Severity) -> &'static str {
    match severity {
        Severity::Error => "error",
        Severity::Warning => "warning",
        Severity::Note => "note",
    }
}

fn rule_of(rule: Rule) -> Value {
    json!({
        "id": rule.id(),
        "shortDescription": { "text": rule.summary() },
        "fullDescription": { "text": rule.about() },
        "defaultConfiguration": { "level": level(rule.severity()) },
    })
}

fn result(found: &Located) -> Value {
    let finding = &found.finding;
    let name = finding.key.as_ref().map(|key| format!("{}.{key}: ", finding.section)).unwrap_or_default();
    let mut place = json!({ "artifactLocation": { "uri": uri(&found.file) } });
    if let Some(position) = finding.place {
        let column = |characters: u32| utf16(found.line.as_deref().unwrap_or_default(), characters);
        place["region"] = json!({
            "startLine": position.line,
            "startColumn": column(position.column),
            "endColumn": column(position.column + position.length),
        });
    }
    json!({
        "ruleId": finding.rule.id(),
        "ruleIndex": Rule::ALL.iter().position(|rule| *rule == finding.rule),
        "level": level(finding.severity),
        "message": { "text": format!("{name}{}; {}", finding.text, finding.help) },
        "locations": [{ "physicalLocation": place }],
    })
}

/// A column in units of UTF-16, as the editors that show SARIF count; other outputs count characters.
fn utf16(line: &str, column: u32) -> usize {
    let before = (column as usize).saturating_sub(1);
    let known: usize = line.chars().take(before).map(char::len_utf16).sum();
    // After the line's end every character is one unit.
    1 + known + before.saturating_sub(line.chars().count())
}

/// A path as a reference (RFC 3986): what a URI cannot have is escaped.
fn uri(path: &str) -> String {
    let is_plain = |byte: u8| byte.is_ascii_alphanumeric() || b"-._~/".contains(&byte);
    let escaped =
        |byte: u8| if is_plain(byte) { char::from(byte).to_string() } else { format!("%{byte:02X}") };
    path.bytes().map(escaped).collect()
}
