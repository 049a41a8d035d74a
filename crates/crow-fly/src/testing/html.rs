//! Tags and texts of a page, as far as a walk needs them.

/// A tag, or a text between tags.
#[derive(Debug, PartialEq, Eq)]
pub(super) enum Piece<'h> {
    Open { name: &'h str, attributes: Vec<(&'h str, String)> },
    Close(&'h str),
    Text(&'h str),
}

impl Piece<'_> {
    /// The value of an attribute.
    pub(super) fn attribute(&self, wanted: &str) -> Option<&str> {
        let Self::Open { attributes, .. } = self else { return None };
        attributes.iter().find(|(name, _)| name.eq_ignore_ascii_case(wanted)).map(|(_, value)| value.as_str())
    }
}

/// The pieces of a page; what stands in scripts, styles and comments is left out.
pub(super) fn pieces(page: &str) -> Vec<Piece<'_>> {
    let (mut rest, mut found) = (page, Vec::new());
    while let Some((text, after)) = rest.split_once('<') {
        if !text.trim().is_empty() {
            found.push(Piece::Text(text.trim()));
        }
        if let Some(comment) = after.strip_prefix("!--") {
            rest = comment.split_once("-->").map_or("", |(_, rest)| rest);
            continue;
        }
        if let Some((name, behind)) = after.strip_prefix('/').and_then(|after| after.split_once('>')) {
            found.push(Piece::Close(name.trim()));
            rest = behind;
            continue;
        }
        if after.starts_with(['/', '!', '?']) {
            rest = after.split_once('>').map_or("", |(_, rest)| rest);
            continue;
        }
        let length = after.find(|letter: char| !letter.is_ascii_alphanumeric() && letter != '-');
        let (name, inner) = after.split_at(length.unwrap_or(after.len()));
        let (attributes, behind) = attributes(inner);
        rest = behind;
        if ["script", "style"].iter().any(|skipped| name.eq_ignore_ascii_case(skipped)) {
            let end = format!("</{}", name.to_ascii_lowercase());
            rest = rest.find(&end).and_then(|at| rest.get(at..)).unwrap_or_default();
        }
        found.push(Piece::Open { name, attributes });
    }
    if !rest.trim().is_empty() {
        found.push(Piece::Text(rest.trim()));
    }
    found
}

/// The attributes of a tag, and what comes after its end.
fn attributes(inner: &str) -> (Vec<(&str, String)>, &str) {
    let (mut rest, mut found) = (inner, Vec::new());
    loop {
        rest = rest.trim_start_matches(|letter: char| letter.is_whitespace() || letter == '/');
        if let Some(behind) = rest.strip_prefix('>') {
            return (found, behind);
        }
        let Some(end) = rest.find(|letter: char| letter.is_whitespace() || "=>/".contains(letter)) else {
            return (found, "");
        };
        let (name, after) = rest.split_at(end);
        if name.is_empty() {
            // A sign that begins no name.
            rest = after.get(1..).unwrap_or_default();
            continue;
        }
        let Some(value) = after.trim_start().strip_prefix('=').map(str::trim_start) else {
            found.push((name, String::new()));
            rest = after;
            continue;
        };
        let quote = value.chars().next().filter(|first| matches!(first, '"' | '\''));
        let (value, behind) = if let Some(quote) = quote {
            value.get(1..).and_then(|value| value.split_once(quote)).unwrap_or((value, ""))
        } else {
            let end = value.find(|letter: char| letter.is_whitespace() || letter == '>');
            value.split_at(end.unwrap_or(value.len()))
        };
        found.push((name, value.replace("&amp;", "&").replace("&#38;", "&")));
        rest = behind;
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn pieces_are_tags_and_texts() {
        let page = "<!doctype html><html lang=cy dir='ltr'><!-- <b> --><a href=\"/a?b=1&amp;c=2\" hidden>Un <b>dau</b></a><script>if (a<b) {}</script>x";
        let shown: Vec<String> = pieces(page)
            .iter()
            .map(|piece| match piece {
                Piece::Open { name, attributes } => format!("<{name} {attributes:?}"),
                Piece::Close(name) => format!("</{name}"),
                Piece::Text(text) => format!("{text:?}"),
            })
            .collect();
        let expected = [
            r#"<html [("lang", "cy"), ("dir", "ltr")]"#,
            r#"<a [("href", "/a?b=1&c=2"), ("hidden", "")]"#,
            "\"Un\"",
            "<b []",
            "\"dau\"",
            "</b",
            "</a",
            "<script []",
            "</script",
            "\"x\"",
        ];
        assert_eq!(shown, expected);
    }

    #[test]
    fn no_page_is_too_odd() {
        let signs = ["<", ">", "/", "!", "a", "=", "'", "\"", " ", "é"];
        for at in 0..10_000_usize {
            let page: String =
                (0..5).filter_map(|place| signs.get(at / 10_usize.pow(place) % 10)).copied().collect();
            pieces(&page);
        }
    }
}
