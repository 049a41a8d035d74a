//! Names of catalogs as names of Rust.

/// Words that are no names in Rust (The Rust Reference, "Keywords"): those that are used and those that are reserved.
const KEYWORDS: [&str; 52] = [
    "Self", "abstract", "as", "async", "await", "become", "box", "break", "const", "continue", "crate", "do",
    "dyn", "else", "enum", "extern", "false", "final", "fn", "for", "gen", "if", "impl", "in", "let", "loop",
    "macro", "match", "mod", "move", "mut", "override", "priv", "pub", "ref", "return", "self", "static",
    "struct", "super", "trait", "true", "try", "type", "typeof", "unsafe", "unsized", "use", "virtual",
    "where", "while", "yield",
];

/// Why a name cannot be one in Rust.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum BadName {
    /// It is a word of the language.
    Keyword,
    /// It begins with a digit, has other characters than letters, digits, `-` and `_`, or none at all.
    Characters,
}

/// The name of a module or a field: `seats-left` is `seats_left`.
pub(crate) fn snake(name: &str) -> Result<String, BadName> {
    let mut snake = String::new();
    let mut is_after_small = false;
    for letter in name.chars() {
        match letter {
            '-' | '_' => snake.push('_'),
            // `seatsLeft` is `seats_left`, too.
            letter if letter.is_uppercase() && is_after_small => {
                snake.push('_');
                snake.extend(letter.to_lowercase());
            }
            letter => snake.extend(letter.to_lowercase()),
        }
        is_after_small = letter.is_lowercase() || letter.is_numeric();
    }
    named(snake)
}

/// The name of a type: `seats-left` is `SeatsLeft`.
pub(crate) fn camel(name: &str) -> Result<String, BadName> {
    let mut camel = String::new();
    for part in name.split(['-', '_']) {
        let mut letters = part.chars();
        camel.extend(letters.next().into_iter().flat_map(char::to_uppercase));
        camel.push_str(letters.as_str());
    }
    named(camel)
}

fn named(name: String) -> Result<String, BadName> {
    let is_letter = |letter: char| letter.is_ascii_alphanumeric() || letter == '_';
    let begins = name.chars().next().is_some_and(|first| first.is_ascii_alphabetic() || first == '_');
    if !begins || !name.chars().all(is_letter) || name.chars().all(|letter| letter == '_') {
        return Err(BadName::Characters);
    }
    if KEYWORDS.contains(&name.as_str()) { Err(BadName::Keyword) } else { Ok(name) }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_are_those_of_rust() {
        let cases = [
            ("seats-left", Ok("seats_left"), Ok("SeatsLeft")),
            ("seats_left", Ok("seats_left"), Ok("SeatsLeft")),
            ("seatsLeft", Ok("seats_left"), Ok("SeatsLeft")),
            ("HTML", Ok("html"), Ok("HTML")),
            ("title", Ok("title"), Ok("Title")),
            ("self", Err(BadName::Keyword), Err(BadName::Keyword)),
            ("crate", Err(BadName::Keyword), Ok("Crate")),
            ("type", Err(BadName::Keyword), Ok("Type")),
            ("2nd", Err(BadName::Characters), Err(BadName::Characters)),
            ("a.b", Err(BadName::Characters), Err(BadName::Characters)),
            ("żagiel", Err(BadName::Characters), Err(BadName::Characters)),
            ("", Err(BadName::Characters), Err(BadName::Characters)),
            ("-", Err(BadName::Characters), Err(BadName::Characters)),
        ];
        for (name, as_snake, as_camel) in cases {
            assert_eq!(snake(name).as_deref().map_err(|error| *error), as_snake, "{name}");
            assert_eq!(camel(name).as_deref().map_err(|error| *error), as_camel, "{name}");
        }
    }
}
