//! Faults of keys, files and folders.

use super::in_texts::Kind;
use super::spots::Spot;
use super::{Chance, Fault, Project, place};

/// A random message of a translation that has all messages.
fn some<'p>(project: &'p Project, chance: &mut Chance) -> &'p Spot {
    let count = |locale: &str| project.spots.iter().filter(|spot| spot.locale == locale).count();
    let all = count(&project.reference);
    let fits = |spot: &&Spot| spot.locale != project.reference && count(&spot.locale) == all;
    let spots: Vec<&Spot> = project.spots.iter().filter(fits).collect();
    spots[chance.below(spots.len())]
}

/// A changed file, and the byte in it that the finding stands at; none for the file as a whole.
fn in_file(
    rule: &'static str,
    change: impl Fn(&Project, &Spot, &str) -> Option<(Vec<u8>, Option<(usize, usize)>)> + 'static,
) -> Kind {
    Box::new(move |project, chance| {
        let spot = some(project, chance);
        let (bytes, place) = change(project, spot, project.text(&spot.file)?)?;
        Some(Fault { rule, file: spot.file.clone(), place, files: vec![(spot.file.clone(), Some(bytes))] })
    })
}

/// A line above that of a message's key; the finding is at a column of it.
fn line_above(rule: &'static str, line: &'static str, column: usize) -> Kind {
    in_file(rule, move |_, spot, file| {
        let text = format!("{}{line}\n{}", &file[..spot.line], &file[spot.line..]);
        let (number, _) = place(&text, spot.line);
        Some((text.into_bytes(), Some((number, column))))
    })
}

/// Files of a locale's folder that are moved, or others that are written; the finding names a path.
fn in_folder(
    rule: &'static str,
    change: impl Fn(&Project, &Spot) -> (Vec<(String, Option<Vec<u8>>)>, String) + 'static,
) -> Kind {
    Box::new(move |project, chance| {
        let (files, file) = change(project, some(project, chance));
        Some(Fault { rule, file, place: None, files })
    })
}

/// All files of a locale, deleted, and the same ones in another folder, if there is one.
fn moved(project: &Project, locale: &str, to: Option<&str>) -> Vec<(String, Option<Vec<u8>>)> {
    let folder = format!("catalogs/{locale}/");
    let own = project.files.iter().filter(|(path, _)| path.starts_with(&folder));
    own.flat_map(|(path, bytes)| {
        let other = to.map(|to| (path.replace(&folder, &format!("catalogs/{to}/")), Some(bytes.clone())));
        std::iter::once((path.clone(), None)).chain(other)
    })
    .collect()
}

/// A changed file of code for a key in it, and the text that the finding stands at; an empty one for a finding at the message.
fn in_code(
    rule: &'static str,
    change: impl Fn(&Project, &str, &str) -> Option<(String, String)> + 'static,
) -> Kind {
    Box::new(move |project, chance| {
        let first = chance.below(project.spots.len());
        let (before, after) = project.spots.split_at(first);
        let of_reference = after.iter().chain(before).filter(|spot| spot.locale == project.reference);
        of_reference.into_iter().find_map(|spot| {
            let key = format!("{}.{}", spot.section, spot.key);
            let asks =
                |path: &&str| project.text(path).is_some_and(|code| code.contains(&format!("\"{key}\"")));
            let path = ["src/pages.rs", "src/pages.html", "src/page.js"].into_iter().find(asks)?;
            let (code, at) = change(project, &key, project.text(path)?)?;
            let (file, place) = if at.is_empty() {
                (spot.file.clone(), (1, 1))
            } else {
                (path.to_owned(), place(&code, code.rfind(&at)?))
            };
            let files = vec![(path.to_owned(), Some(code.into_bytes()))];
            Some(Fault { rule, files, file, place: Some(place) })
        })
    })
}

fn config(project: &Project, more: &str) -> Vec<(String, Option<Vec<u8>>)> {
    let text = format!("{}{more}", project.text("crow-fly.toml").unwrap());
    vec![("crow-fly.toml".to_owned(), Some(text.into_bytes()))]
}

/// All kinds.
#[allow(clippy::too_many_lines, reason = "a table of kinds")]
pub(crate) fn kinds() -> Vec<Kind> {
    vec![
        // Keys.
        in_file("missing-key", |_, spot, file| {
            let end = spot.end + file[spot.end..].find('\n')? + 1;
            // A message of a file that goes on.
            let rest = format!("{}{}", &file[..spot.line], &file[end..]);
            rest.contains(" = \"").then(|| (rest.into_bytes(), None))
        }),
        line_above("surplus-key", "zebra = \"x\"", 10),
        line_above("key-name", "\"a b\" = \"x\"", 1),
        line_above("not-text", "zebra = 7", 9),
        line_above("file-syntax", "zebra = x", 9),
        line_above("unknown-rule", "# allow: end-mork", 10),
        line_above("merge-marker", "<<<<<<< main", 1),
        in_file("marked-untranslated", |_, spot, file| {
            let text = format!("{}# untranslated\n{}", &file[..spot.line], &file[spot.line..]);
            let at = place(&text, spot.start + 15);
            Some((text.into_bytes(), Some(at)))
        }),
        in_file("duplicate-key", |_, spot, file| {
            let line = &file[spot.line..spot.end];
            let name = line.split(" = ").next()?;
            let end = spot.end + file[spot.end..].find('\n')? + 1;
            let text = format!("{}{name} = \"x\"\n{}", &file[..end], &file[end..]);
            let at = place(&text, end);
            Some((text.into_bytes(), Some(at)))
        }),
        in_file("key-and-group", |_, spot, file| {
            let name = file[spot.line..spot.end].split(" = ").next()?;
            let end = spot.end + file[spot.end..].find('\n')? + 1;
            let text = format!("{}{name}.zebra = \"x\"\n{}", &file[..end], &file[end..]);
            let at = place(&text, end);
            Some((text.into_bytes(), Some(at)))
        }),
        in_file("group-for-key", |_, spot, file| {
            let name = file[spot.line..spot.end].split(" = ").next()?;
            let at = spot.line + name.len();
            let text = format!("{}.zebra{}", &file[..at], &file[at..]);
            let start = place(&text, spot.start + 6);
            Some((text.into_bytes(), Some(start)))
        }),
        Box::new(|project, chance| {
            // A note of the default locale, about a text of a translation.
            let spot = some(project, chance);
            let other = project.reference_of(spot).filter(|other| !other.is_match())?;
            if spot.is_match() || spot.text.contains('{') || spot.text.chars().count() < 3 {
                return None;
            }
            let file = project.text(&other.file)?;
            let text = format!("{}# max-length: 2\n{}", &file[..other.line], &file[other.line..]);
            let at = place(project.text(&spot.file)?, spot.start);
            let files = vec![(other.file.clone(), Some(text.into_bytes()))];
            Some(Fault { rule: "longer-than-noted", files, file: spot.file.clone(), place: Some(at) })
        }),
        in_file("too-deep", |_, spot, file| {
            let name = vec!["a"; 40].join(".");
            let text = format!("{}{name} = \"x\"\n{}", &file[..spot.line], &file[spot.line..]);
            let (line, _) = place(&text, spot.line);
            // The last name that is not too deep, of one letter and a dot each.
            let groups = spot.key.split('.').count() - 1;
            Some((text.into_bytes(), Some((line, 2 * (31 - groups) + 1))))
        }),
        // Files.
        in_file("byte-order-mark", |_, _, file| Some((format!("\u{feff}{file}").into_bytes(), Some((1, 1))))),
        in_file("empty-file", |_, _, _| Some((Vec::new(), None))),
        in_file("encoding", |_, spot, file| {
            let mut bytes = file.as_bytes().to_vec();
            bytes.insert(spot.start, 0xff);
            Some((bytes, Some(place(file, spot.start))))
        }),
        in_file("too-large", |_, _, file| {
            let mut bytes = file.as_bytes().to_vec();
            bytes.resize((8 << 20) + 1, b'\n');
            Some((bytes, None))
        }),
        in_folder("missing-section", |_, spot| (vec![(spot.file.clone(), None)], spot.file.clone())),
        in_folder("surplus-section", |_, spot| {
            let file = format!("catalogs/{}/zebra.toml", spot.locale);
            (vec![(file.clone(), Some(b"a = \"x\"\n".to_vec()))], file)
        }),
        in_folder("section-name", |_, spot| {
            let file = format!("catalogs/{}/ze bra.toml", spot.locale);
            (vec![(file.clone(), Some(b"a = \"x\"\n".to_vec()))], file)
        }),
        in_folder("other-file", |_, spot| {
            let file = format!("catalogs/{}/zebra.md", spot.locale);
            (vec![(file.clone(), Some(b"x".to_vec()))], file)
        }),
        in_folder("duplicate-section", |_, spot| {
            let file = spot.file.replace(".toml", ".json");
            (vec![(file, Some(b"{}".to_vec()))], spot.file.replace(".toml", ".json"))
        }),
        in_folder("unknown-file", |_, _| {
            (
                vec![("catalogs/zebra.toml".to_owned(), Some(b"[a]\nb = \"x\"\n".to_vec()))],
                "catalogs/zebra.toml".to_owned(),
            )
        }),
        in_folder("unknown-folder", |project, spot| {
            (moved(project, &spot.locale, Some("zebra")), "catalogs/zebra".to_owned())
        }),
        in_folder("absent-locale", |project, spot| {
            (moved(project, &spot.locale, None), format!("catalogs/{}", spot.locale))
        }),
        // Code: Rust, templates of two engines, a script.
        in_code("unknown-key", |project, key, code| {
            let misspelled = key.replacen('.', ".zebra-", 1);
            let _ = project;
            Some((
                code.replace(&format!("\"{key}\""), &format!("\"{misspelled}\"")),
                format!("{misspelled}\""),
            ))
        }),
        in_code("unused-key", |_, key, code| {
            Some((code.replace(&format!("\"{key}\""), "\"\""), String::new()))
        }),
        in_code("key-like-text", |_, key, code| {
            let misspelled = key.replacen('.', ".zebra-", 1);
            Some((
                format!("{code}\n<!--\n\"{misspelled}\" -->\n").replace("<!--", "//").replace(" -->", ""),
                misspelled,
            ))
        }),
        in_code("missing-argument", |_, key, code| {
            let start = code.find(&format!("\"{key}\", "))?;
            let (line, rest) = code[start..].split_once('\n')?;
            let end = line.rfind([':', '='])?;
            let name = line[..end].rsplit([' ', '(', ',']).next()?;
            let changed = format!("{}zebra{}", &line[..end - name.len()], &line[end..]);
            Some((format!("{}{changed}\n{rest}", &code[..start]), format!("{key}\"")))
        }),
        in_code("surplus-argument", |_, key, code| {
            let start = code.find(&format!("\"{key}\", "))?;
            let (line, rest) = code[start..].split_once('\n')?;
            let end = line.rfind([':', '='])?;
            let name = line[..end].rsplit([' ', '(', ',']).next()?;
            let changed = format!("{}zebra{}", &line[..end - name.len()], &line[end..]);
            Some((format!("{}{changed}\n{rest}", &code[..start]), "zebra".to_owned()))
        }),
        Box::new(|project, chance| {
            let deep = 150 + chance.below(100);
            let code = format!("fn a() {{ {}{} }}", "(".repeat(deep), ")".repeat(deep));
            let _ = project;
            let file = "src/deep.rs".to_owned();
            Some(Fault {
                rule: "unread-code",
                files: vec![(file.clone(), Some(code.into_bytes()))],
                file,
                place: None,
            })
        }),
        // The configuration.
        Box::new(|project, _| {
            let files = config(project, "eager = [\"comon\"]\n");
            let lines = project.text("crow-fly.toml")?.lines().count();
            let (rule, file) = ("unknown-section", "crow-fly.toml".to_owned());
            Some(Fault { rule, files, file, place: Some((lines + 1, 11)) })
        }),
        Box::new(|project, _| {
            let files = config(project, "eagre = [\"common\"]\n");
            let lines = project.text("crow-fly.toml")?.lines().count();
            Some(Fault {
                rule: "configuration",
                files,
                file: "crow-fly.toml".to_owned(),
                place: Some((lines + 1, 1)),
            })
        }),
    ]
}
