//! Where the messages of a right project stand in its files, which are all written in one way.

/// A message in a file.
#[derive(Clone, Debug)]
pub(crate) struct Spot {
    pub(crate) file: String,
    pub(crate) locale: String,
    pub(crate) section: String,
    pub(crate) key: String,
    /// The bytes of the text in the file, without its quotes.
    pub(crate) start: usize,
    pub(crate) end: usize,
    pub(crate) text: String,
    /// Where the line begins that has the key.
    pub(crate) line: usize,
}

impl Spot {
    pub(crate) fn is_match(&self) -> bool {
        self.text.starts_with('.')
    }
}

/// The messages of a catalog; none where the file is another one.
pub(crate) fn spots(path: &str, bytes: &[u8]) -> Vec<Spot> {
    let mut parts = path.split('/');
    let (Some("catalogs"), Some(locale), Some(file)) = (parts.next(), parts.next(), parts.next()) else {
        return Vec::new();
    };
    let Some(section) = file.strip_suffix(".toml") else { return Vec::new() };
    let text = std::str::from_utf8(bytes).unwrap();
    let (mut found, mut group, mut at) = (Vec::new(), String::new(), 0);
    while let Some(rest) = text.get(at..).filter(|rest| !rest.is_empty()) {
        let line = rest.split_inclusive('\n').next().unwrap();
        let start_of_line = at;
        at += line.len();
        if let Some(name) = line.strip_prefix('[') {
            group = format!("{}.", name.trim_end().trim_end_matches(']'));
        }
        let Some((name, value)) = line.split_once(" = \"").filter(|_| !line.starts_with('#')) else {
            continue;
        };
        let mut start = start_of_line + name.len() + 4;
        let end = if value.starts_with("\"\"\n") || value.starts_with("\"\"\n") {
            start += 3;
            let end = start + text[start..].find("\"\"\"").unwrap();
            at = end + 4;
            end
        } else {
            start_of_line + line.trim_end().len() - 1
        };
        found.push(Spot {
            file: path.to_owned(),
            locale: locale.to_owned(),
            section: section.to_owned(),
            key: format!("{group}{name}"),
            start,
            end,
            text: text[start..end].to_owned(),
            line: start_of_line,
        });
    }
    found
}
