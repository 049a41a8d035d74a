//! The page of all rules.

use crow_fly_core::rule::{Family, Rule};

/// docs/rules.md, as it should be.
#[allow(clippy::format_push_string, reason = "a page of some hundred lines")]
fn rules_page() -> String {
    let mut page = String::from(
        "# Rules\n\nWhat `crow-fly check` finds. `crow-fly check --about RULE` says the same at the terminal. Any rule is given another \
         level, or turned off, in `[check.rules]` of the [configuration](configuration.md), with a reason.\n\n\
         A comment above a message, in its own file or in the one of the default locale, allows what is meant, and says why: \
         `# allow: end-mark (as on the sign)`.\n",
    );
    for family in Family::ALL {
        page += &format!("\n## {}\n", family.name());
        for rule in Rule::ALL.iter().filter(|rule| rule.family() == *family) {
            let (severity, summary, about) = (rule.severity(), rule.summary(), rule.about());
            let allowed = rule.allowed_by().map(|by| format!(" Allowed by {by}.")).unwrap_or_default();
            page += &format!("\n### `{rule}`\n\n**{severity}**: {summary}. {about}{allowed}\n");
            if !rule.wrong().is_empty() {
                let lines = |text: &str, name: &str| -> String {
                    let label = |(at, line)| format!("{:7}{line}\n", if at == 0 { name } else { "" });
                    text.lines().enumerate().map(label).collect::<Vec<_>>().concat()
                };
                page += &format!(
                    "\n```text\n{}{}```\n",
                    lines(rule.wrong(), "wrong"),
                    lines(rule.right(), "right")
                );
            }
        }
    }
    page
}

/// With `WRITE_DOCS=1` it writes the page.
#[test]
fn the_page_of_rules_is_made_from_them() {
    let path = concat!(env!("CARGO_MANIFEST_DIR"), "/../../docs/rules.md");
    if std::env::var_os("WRITE_DOCS").is_some() {
        std::fs::write(path, rules_page()).unwrap();
    }
    assert!(
        std::fs::read_to_string(path).unwrap() == rules_page(),
        "write it anew: WRITE_DOCS=1 cargo test -p crow-fly-core page_of_rules"
    );
}
