//! Faults in the text of one message.

use super::spots::Spot;
use super::{Chance, Fault, Project, place};

/// A kind of fault: plants it somewhere in a project, where it fits.
pub(crate) type Kind = Box<dyn Fn(&Project, &mut Chance) -> Option<Fault>>;

/// A changed text, and the byte in it that the finding stands at.
type Change = Option<(String, usize)>;

/// Makes a kind of a change of texts: it is tried at random messages, until it fits one.
fn kind(rule: &'static str, change: impl Fn(&Project, &Spot) -> Change + 'static) -> Kind {
    Box::new(move |project, chance| {
        let first = chance.below(project.spots.len());
        let (before, after) = project.spots.split_at(first);
        let mut translations = after.iter().chain(before).filter(|spot| spot.locale != project.reference);
        let (spot, (text, at)) = translations.find_map(|spot| Some((spot, change(project, spot)?)))?;
        let file = project.with_text(spot, &text);
        Some(Fault {
            rule,
            place: Some(place(&file, spot.start + at)),
            file: spot.file.clone(),
            files: vec![(spot.file.clone(), Some(file.into_bytes()))],
        })
    })
}

/// A text with something at its end; the finding is some bytes after the end of the right text.
fn append(rule: &'static str, end: &'static str, at: usize) -> Kind {
    kind(rule, move |_, spot| {
        (!spot.is_match()).then(|| (format!("{}{end}", spot.text), spot.text.len() + at))
    })
}

/// A text in which something stands for something else; the finding is some bytes after its start.
fn replace(rule: &'static str, from: &'static str, to: &'static str, offset: isize) -> Kind {
    kind(rule, move |_, spot| {
        let at = spot.text.find(from)?;
        let text = format!("{}{to}{}", &spot.text[..at], &spot.text[at + from.len()..]);
        Some((text, at.checked_add_signed(offset)?))
    })
}

/// The first plain variable of a text: its bytes and its name.
fn variable(spot: &Spot) -> Option<(usize, usize, &str)> {
    if spot.is_match() {
        return None;
    }
    let start = spot.text.find("{$")?;
    let end = start + spot.text[start..].find('}')?;
    let name = &spot.text[start + 2..end];
    // One that is there once.
    (name.bytes().all(|byte| byte.is_ascii_alphanumeric())
        && spot.text.matches(&format!("${name}")).count() == 1)
        .then_some((start, end + 1, name))
}

/// Something in place of the first variable: `{}` in it is its name.
fn in_place_of_variable(rule: &'static str, written: &'static str) -> Kind {
    kind(rule, move |_, spot| {
        let (start, end, name) = variable(spot)?;
        // Signs next to it would belong to it.
        if spot.text[..start].ends_with(|letter: char| letter.is_alphanumeric() || "$#%:@".contains(letter))
            || spot.text[end..]
                .starts_with(|letter: char| letter.is_alphanumeric() || "$%}-".contains(letter))
        {
            return None;
        }
        let text = format!("{}{}{}", &spot.text[..start], written.replace("{}", name), &spot.text[end..]);
        Some((text, start))
    })
}

/// The lines of the variants of a message with `.match`: each with its first byte.
fn variants(spot: &Spot) -> Vec<(usize, &str)> {
    let (mut at, mut found, mut is_after) = (0, Vec::new(), false);
    for line in spot.text.split_inclusive('\n') {
        if is_after {
            found.push((at, line));
        }
        is_after |= line.starts_with(".match");
        at += line.len();
    }
    found
}

/// A message with one selector and without some of its variants.
fn without_variant(
    rule: &'static str,
    key: &'static str,
    at: impl Fn(&Spot) -> Option<usize> + 'static,
) -> Kind {
    kind(rule, move |_, spot| {
        let (start, line) =
            variants(spot).into_iter().find(|(_, line)| line.starts_with(&format!("{key} {{{{")))?;
        let text = format!("{}{}", &spot.text[..start], &spot.text[start + line.len()..]);
        Some((text.trim_end().to_owned(), at(spot)?))
    })
}

/// A message with one more variant before its first one.
fn with_variant(rule: &'static str, key: &'static str, fits: impl Fn(&Spot) -> bool + 'static) -> Kind {
    kind(rule, move |_, spot| {
        let (start, line) = *variants(spot).first()?;
        let (keys, pattern) = line.trim_end().split_once(" {{")?;
        if keys.contains(' ') || !fits(spot) {
            return None;
        }
        let text = format!("{}{key} {{{{{pattern}\n{}", &spot.text[..start], &spot.text[start..]);
        Some((text, start))
    })
}

/// Where the first selector of a message stands.
fn selector(spot: &Spot) -> Option<usize> {
    Some(spot.text.find(".match ")? + 7)
}

fn is_in(spot: &Spot, languages: &[&str]) -> bool {
    languages.contains(&spot.locale.split('-').next().unwrap())
}

const LATIN: [&str; 8] = ["de", "fr", "cy", "pl", "tr", "es", "pt", "en"];

/// All kinds.
#[allow(clippy::too_many_lines, reason = "a table of kinds")]
pub(crate) fn kinds() -> Vec<Kind> {
    let selects_numbers = |spot: &Spot| {
        spot.text.contains(":integer}\n.match")
            && variants(spot).iter().any(|(_, line)| line.starts_with("* "))
    };
    vec![
        // How messages are written.
        append("lone-brace", " }", 1),
        append("empty-placeholder", " {}", 1),
        append("bad-escape", r" \\q", 1),
        append("unclosed-placeholder", " {$x", 1),
        append("unclosed-literal", " {|x", 2),
        append("expected-name", " {$}", 3),
        append("expected-value", " {$x :number select=}", 20),
        append("expected-equals", " {$x :number select}", 19),
        append("missing-space", " {$x:number}", 4),
        append("duplicate-option-name", " {$x :number select=exact select=exact}", 26),
        append("misplaced-option", " {$x :number @a select=exact}", 16),
        append("option-without-function", " {$x select=exact}", 5),
        kind("trailing-content", |_, spot| {
            (!spot.is_match()).then(|| (format!("{{{{{}}}}} x", spot.text), spot.text.len() + 5))
        }),
        kind("unclosed-pattern", |_, spot| (!spot.is_match()).then(|| (format!("{{{{{}", spot.text), 0))),
        replace("unknown-keyword", ".input", ".inptu", 0),
        without_variant("missing-fallback-variant", "*", selector),
        kind("duplicate-variant", |_, spot| {
            let (start, line) = *variants(spot).first()?;
            Some((format!("{}{line}{}", &spot.text[..start], &spot.text[start..]), start + line.len()))
        }),
        with_variant("variant-key-mismatch", "1 2", |_| true),
        kind("missing-selector-annotation", |_, spot| {
            let rest = spot.text.strip_prefix(".input")?;
            let (_, rest) = rest.split_once('\n').filter(|(_, rest)| rest.starts_with(".match"))?;
            Some((rest.to_owned(), 7))
        }),
        kind("duplicate-declaration", |_, spot| {
            let (first, _) = spot.text.split_once('\n').filter(|(first, _)| first.starts_with(".input"))?;
            let at = first.len() + 8;
            Some((format!("{first}\n{}", spot.text), at))
        }),
        kind("expected-variant", |_, spot| {
            let (start, _) = *variants(spot).first()?;
            let text = spot.text[..start].trim_end().to_owned();
            let end = text.len();
            Some((text, end))
        }),
        kind("missing-body", |_, spot| {
            let (first, _) = spot.text.split_once('\n').filter(|(first, _)| first.starts_with(".input"))?;
            Some((first.to_owned(), first.len()))
        }),
        kind("expected-key", |_, spot| {
            let (start, line) = *variants(spot).first()?;
            let (keys, _) = line.split_once(" {{")?;
            Some((format!("{}{}", &spot.text[..start], &spot.text[start + keys.len() + 1..]), start))
        }),
        kind("expected-pattern", |_, spot| {
            let (start, line) = *variants(spot).last()?;
            let (keys, _) = line.split_once(" {{")?;
            let text = format!("{}{keys}", &spot.text[..start]);
            let end = text.len();
            Some((text, end))
        }),
        replace("expected-variable", ".input {$", ".input {", 7),
        append("null-character", "\\u0000", 0),
        kind("too-long", |_, spot| {
            (!spot.is_match()).then(|| (format!("{}{}", spot.text, "x".repeat(70_000)), 65_536))
        }),
        kind("parameter-kind", |_, spot| {
            let at = spot.text.find(" :percent").or_else(|| spot.text.find(" :currency"))?;
            let start = spot.text[..at].rfind('{')?;
            let end = at + spot.text[at..].find('}')?;
            Some((format!("{} :date{}", &spot.text[..at], &spot.text[end..]), start))
        }),
        // A message in its language.
        replace("unknown-function", ":integer", ":intgeer", 0),
        replace("unknown-function", ":percent", ":percnet", 0),
        replace("wrong-option", "length=long", "length=lnog", 0),
        replace("wrong-option", "length=medium", "lenght=medium", 0),
        replace("wrong-option", "precision=minute", "precision=minutes", 0),
        replace("wrong-option", "currency=", "currency=EUX x=", 0),
        replace("wrong-option", "unit=kilogram", "unit=kilogrm", 0),
        replace("wrong-option", "timePrecision=minute", "timeZone=|Europe/Warsow|", 0),
        replace("wrong-option", "timePrecision=minute", "calendar=gregorain", 0),
        replace("wrong-option", "subtract=1", "subtract=one", 0),
        with_variant("bad-variant-key", "many-of-them", selects_numbers),
        with_variant("unused-plural-form", "few", move |spot| {
            selects_numbers(spot) && is_in(spot, &["fr", "ja", "he", "tr", "es", "pt", "hi", "th", "fa"])
        }),
        without_variant("missing-plural-form", "few", |spot| {
            is_in(spot, &["pl", "uk", "ar", "cy"]).then(|| selector(spot)).flatten()
        }),
        without_variant("missing-plural-form", "two", |spot| {
            is_in(spot, &["he", "ar", "cy"]).then(|| selector(spot)).flatten()
        }),
        without_variant("missing-plural-form", "one", |spot| {
            is_in(spot, &["fr", "es", "pt", "hi"]).then(|| selector(spot)).flatten()
        }),
        kind("missing-selection", move |project, spot| {
            let other = project.reference_of(spot)?;
            let (_, line) = variants(spot).into_iter().find(|(_, line)| line.starts_with("* {{"))?;
            let is_of_numbers = variants(other).iter().any(|(_, line)| line.starts_with("one "));
            let text = line.trim_end().strip_prefix("* {{")?.strip_suffix("}}")?;
            let fits = is_of_numbers && is_in(spot, &["fr", "pl", "uk", "ar", "he", "es", "pt", "hi"]);
            (fits && text.contains("{$") && selects_numbers(spot)).then(|| (text.to_owned(), 0))
        }),
        kind("hidden-number", |_, spot| {
            let (start, line) = variants(spot).into_iter().find(|(_, line)| line.starts_with("many "))?;
            let name = spot.text.split("{$").nth(1)?.split([' ', '}']).next()?;
            let shown = format!("{{${name}}}");
            let others = variants(spot).iter().filter(|(_, line)| line.contains(&shown)).count();
            if !is_in(spot, &["pl", "uk", "ar"]) || !line.contains(&shown) || others < 2 {
                return None;
            }
            let changed = line.replace(&shown, "x");
            Some((format!("{}{changed}{}", &spot.text[..start], &spot.text[start + line.len()..]), start))
        }),
        // Beside the default locale.
        in_place_of_variable("word-in-braces", "{{}}"),
        kind("missing-parameter", |_, spot| {
            let (start, end, _) = variable(spot)?;
            Some((format!("{}…{}", &spot.text[..start], &spot.text[end..]), 0))
        }),
        in_place_of_variable("surplus-parameter", "{$zebra}"),
        in_place_of_variable("other-notation", ":{}"),
        in_place_of_variable("other-notation", "${{}}"),
        in_place_of_variable("other-notation", "#{{}}"),
        in_place_of_variable("other-notation", "%{{}}"),
        in_place_of_variable("other-notation", "%({})s"),
        in_place_of_variable("other-notation", "{0}"),
        in_place_of_variable("other-notation", "%s"),
        in_place_of_variable("other-notation", "%1$s"),
        in_place_of_variable("other-notation", "@{}"),
        in_place_of_variable("other-notation", "${}$"),
        in_place_of_variable("other-notation", "%{}%"),
        in_place_of_variable("other-notation", "[{}]"),
        kind("other-notation", |_, spot| {
            let (start, end, name) = variable(spot).filter(|(start, _, _)| *start > 0)?;
            Some((format!("{}{{{{{name}}}}}{}", &spot.text[..start], &spot.text[end..]), start))
        }),
        kind("other-function", |_, spot| {
            let at = spot.text.find(":percent")?;
            let start = spot.text[..at].rfind('{')?;
            Some((spot.text.replacen(":percent", ":number", 1), start))
        }),
        kind("other-function", |_, spot| {
            let rest = spot.text.split_once("= {")?.1;
            let (operand, _) = rest.split_once(" :offset")?;
            let start = spot.text.find(&format!("{{{operand} :offset"))?;
            let end = start + spot.text[start..].find('}')?;
            let at = spot.text.find(&format!("{{{operand}"))?;
            let text = format!("{}{{{operand} :number{}", &spot.text[..start], &spot.text[end..]);
            Some((text, at))
        }),
        kind("other-option", |_, spot| {
            let at = spot.text.find("currency=")?;
            let start = spot.text[..at].rfind('{')?;
            Some((format!("{}USD{}", &spot.text[..at + 9], &spot.text[at + 12..]), start))
        }),
        kind("other-option", |_, spot| {
            let at = spot.text.find("unit=centimeter").or_else(|| spot.text.find("unit=hour"))?;
            let start = spot.text[..at].rfind('{')?;
            let end = spot.text[at..].find('}')? + at;
            Some((format!("{}unit=meter{}", &spot.text[..at], &spot.text[end..]), start))
        }),
        kind("surplus-select-key", |_, spot| {
            let (start, line) = *variants(spot).first()?;
            let (key, pattern) = line.split_once(" {{")?;
            let fits = spot.text.contains(":string}\n.match") && key.len() > 2;
            fits.then(|| {
                (
                    format!("{}zebra {{{{{pattern}{}", &spot.text[..start], &spot.text[start + line.len()..]),
                    start,
                )
            })
        }),
        kind("missing-select-key", |_, spot| {
            let (start, line) = *variants(spot).first()?;
            let (key, _) = line.split_once(" {{")?;
            let fits = spot.text.contains(":string}\n.match") && key.len() > 2 && !key.contains(' ');
            fits.then(|| (format!("{}{}", &spot.text[..start], &spot.text[start + line.len()..]), 0))
        }),
        kind("missing-markup", |_, spot| {
            let (text, _) = without_markup(spot)?;
            Some((text, 0))
        }),
        kind("missing-markup-option", |_, spot| {
            let start = spot.text.find("{#a href=")?;
            let end = start + spot.text[start..].find('}')?;
            Some((format!("{}{{#a{}", &spot.text[..start], &spot.text[end..]), start))
        }),
        append("surplus-markup", " {#em}x{/em}", 1),
        append("unbalanced-markup", " {#b}x", 1),
        append("unbalanced-markup", " x{/b}", 2),
        append("crossed-markup", " {#b}{#i}x{/b}{/i}", 10),
        kind("untranslated", |project, spot| {
            let other = project.reference_of(spot)?;
            let words = other.text.split(' ').filter(|word| word.starts_with(char::is_lowercase)).count();
            let is_prose = words > 3 && !other.is_match() && other.text != spot.text;
            (is_prose && !is_of_reference(project, spot)).then(|| (other.text.clone(), 0))
        }),
        kind("untranslated", |project, spot| {
            // One word: other locales that have translated it show that it is no name.
            let other = project.reference_of(spot)?;
            let of = |locale: &str| locale.split('-').next().unwrap().to_owned();
            let all = project.spots.iter().filter(|one| {
                one.key == spot.key
                    && one.section == spot.section
                    && of(&one.locale) != of(&project.reference)
            });
            let is_word = other.text.chars().all(char::is_alphabetic) && other.text.chars().count() > 3;
            let is_translated = all.clone().all(|one| one.text != other.text);
            let is_kin = project.reference == "es" && is_in(spot, &["pt"]);
            (is_word && is_translated && !is_kin && !is_of_reference(project, spot))
                .then(|| (other.text.clone(), 0))
        }),
        kind("blank-text", |_, spot| (!spot.is_match()).then(|| (String::new(), 0))),
        append("white-space", " ", 0),
        kind("white-space", |_, spot| {
            let at = spot.text.find(' ').filter(|_| !spot.is_match() && !spot.text.contains('{'))?;
            Some((format!("{} {}", &spot.text[..at], &spot.text[at..]), at + 1))
        }),
        kind("end-mark", |project, spot| {
            let last = project.reference_of(spot)?.text.chars().next_back()?;
            let own = spot.text.chars().next_back()?;
            // Thai ends sentences without marks.
            let fits = (last == ':' || !is_in(spot, &["th"]))
                && ".?!:".contains(last)
                && !own.is_alphanumeric()
                && !spot.is_match()
                && own != '}';
            let text = spot.text.trim_end_matches(own).trim_end();
            (fits && !text.ends_with(['.', '!', '?', '。'])).then(|| (text.to_owned(), 0))
        }),
        kind("end-mark", |project, spot| {
            // What a placeholder ends with is not known.
            let is_open = project.reference_of(spot)?.text.ends_with('}');
            (!spot.is_match() && !is_open).then(|| (format!("{}…", spot.text), 0))
        }),
        kind("end-mark", |_, spot| {
            let text = spot.text.strip_suffix('؟').filter(|text| text.ends_with(char::is_alphabetic))?;
            Some((format!("{text}?"), text.len()))
        }),
        kind("end-mark", |_, spot| {
            let fits = spot.text.ends_with('?') && spot.text.starts_with('¿');
            (fits && is_in(spot, &["es"])).then(|| (spot.text.replace('¿', ""), spot.text.len() - 3))
        }),
        kind("end-mark", |_, spot| {
            let text = spot.text.strip_suffix(" ?").filter(|_| is_in(spot, &["fr"]))?;
            Some((format!("{text}?"), text.len()))
        }),
        kind("other-script", |_, spot| {
            let fits = is_in(spot, &LATIN) && !spot.is_match();
            fits.then(|| (format!("{} Паром", spot.text), spot.text.len() + 1))
        }),
        kind("other-script", |_, spot| {
            let fits = !is_in(spot, &LATIN) && !spot.is_match() && !spot.text.contains('{');
            fits.then(|| ("there are some seats left".to_owned(), 0))
        }),
        kind("look-alike", |_, spot| {
            let at = spot
                .text
                .find('a')
                .filter(|_| is_in(spot, &LATIN) && !spot.text.contains(['{', '.', '\'']))?;
            let start = spot.text[..at].rfind(|letter: char| !letter.is_alphabetic());
            let start = start.map_or(0, |at| at + spot.text[at..].chars().next().unwrap().len_utf8());
            let word = spot.text[start..].split(|letter: char| !letter.is_alphabetic()).next()?;
            (word.is_ascii() && word.len() > 4)
                .then(|| (format!("{}\u{430}{}", &spot.text[..at], &spot.text[at + 1..]), start))
        }),
        append("to-do", " FIXME", 1),
        // Safety.
        replace("unsafe-address", "href=|/", "href=|javascript:", 0),
        replace("unsafe-attribute", "class=quiet", "onclick=quiet", 0),
        append("unknown-markup", " {#script}x{/script}", 1),
        append("html-in-text", " <b>x</b>", 1),
        append("entity-in-text", " &amp; x", 1),
        kind("invisible-character", |_, spot| {
            let fits = is_in(spot, &LATIN) && !spot.is_match();
            fits.then(|| (format!("{}\u{200b}", spot.text), spot.text.len()))
        }),
        append("direction-character", "\u{202e}", 0),
        append("open-isolate", "\u{2066}x", 0),
        append("mojibake", " CafÃ©", 4),
        append("replacement-character", "\u{fffd}", 0),
    ]
}

/// Whether a locale has the default locale's language.
fn is_of_reference(project: &Project, spot: &Spot) -> bool {
    is_in(spot, &[project.reference.split('-').next().unwrap()])
}

/// A text without its first markup, and where that was.
fn without_markup(spot: &Spot) -> Option<(String, usize)> {
    let start =
        spot.text.find("{#b}").or_else(|| spot.text.find("{#em}")).or_else(|| spot.text.find("{#strong}"))?;
    let text = ["{#b}", "{/b}", "{#em}", "{/em}", "{#strong}", "{/strong}"]
        .iter()
        .fold(spot.text.clone(), |text, markup| text.replace(markup, ""));
    Some((text, start))
}
