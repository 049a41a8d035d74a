//! `cldr-numbers-full` and `numberingSystems.json`: digits, symbols and grouping of every locale.

use std::collections::BTreeMap;

use anyhow::{Context, Result, bail};

use super::Table;
use super::emit::{Source, parts};
use super::packages::Packages;

pub(super) fn table(packages: &Packages) -> Result<Table> {
    let mut source = Source::new("numbers.rs", "cldr-numbers-full, numberingSystems.json");
    source.line("use super::{Grouping, Shape, Symbols};\n");

    let json = packages.json("cldr-core/supplemental/numberingSystems.json")?;
    let all = json["supplemental"]["numberingSystems"].as_object().context("no numbering systems")?;
    let systems: Vec<(&str, &str)> = all
        .iter()
        .filter(|(_, system)| system["_type"] == "numeric")
        .map(|(name, system)| (name.as_str(), system["_digits"].as_str().unwrap_or_default()))
        .collect();
    source.array(
        "SYSTEMS",
        "(&str, [char; 10])",
        systems.iter().map(|(name, digits)| {
            let digits: Vec<String> =
                digits.chars().map(|digit| format!("'\\u{{{:x}}}'", digit as u32)).collect();
            format!("(\"{name}\", [{}])", digits.join(", "))
        }),
    );

    let mut symbols = SymbolTable::default();
    let (mut rows, mut known) = (Vec::new(), BTreeMap::new());
    for locale in packages.locales("cldr-numbers-full")? {
        let json = packages.json(&format!("cldr-numbers-full/main/{locale}/numbers.json"))?;
        let shapes = shapes(&locale, &json["main"][&locale]["numbers"], &systems, &mut symbols)?;
        let texts: Vec<&str> = shapes.iter().map(|(_, shape)| shape.as_str()).collect();
        rows.push((locale.clone(), format!("&[{}]", texts.join(", "))));
        known.extend(shapes.into_iter().map(|(system, shape)| ((locale.clone(), system.to_owned()), shape)));
    }
    let root = [("und", "latn")].into_iter().chain(ROOT_SYSTEMS).map(|(locale, system)| {
        let known = known.get(&(locale.to_owned(), system.to_owned()));
        known.cloned().with_context(|| format!("`{locale}` has no digits `{system}`"))
    });
    let root = root.collect::<Result<Vec<_>>>()?;
    // A locale that says what its shorter tag says needs no row: readers truncate.
    let all: BTreeMap<String, String> = rows.iter().cloned().collect();
    rows.retain(|(locale, shapes)| {
        let inherited = locale.rsplit_once('-').and_then(|(shorter, _)| all.get(shorter));
        inherited != Some(shapes)
    });
    source.array("SYMBOLS", "Symbols", symbols.rows);
    source.line("/// The shapes of the root: of Latin digits first, then those whose signs the root has.");
    source.array("ROOT", "Shape", root);
    let rows = rows
        .iter()
        .filter(|(locale, _)| is_plain(locale))
        .map(|(locale, shapes)| format!("({}, {shapes})", parts(locale)))
        .collect();
    source.line("/// The shapes of each locale, that of its default numbering system first.");
    source.sorted_array("LOCALES", "(super::Parts, &[Shape])", rows);
    Ok(source.finish())
}

/// The sets of symbols, each once.
#[derive(Default)]
struct SymbolTable {
    places: BTreeMap<String, usize>,
    rows: Vec<String>,
}

/// The numbering systems that CLDR's root has signs for, beside that of Latin digits. The JSON of the root leaves them out:
/// each is read from a language that inherits all of them.
pub(super) const ROOT_SYSTEMS: [(&str, &str); 2] = [("dv", "arab"), ("mzn", "arabext")];

/// The numbering systems of a locale with their shapes, the default one first.
fn shapes<'s>(
    locale: &str,
    numbers: &serde_json::Value,
    systems: &[(&'s str, &str)],
    symbols: &mut SymbolTable,
) -> Result<Vec<(&'s str, String)>> {
    let default = numbers["defaultNumberingSystem"].as_str().context("no default numbering system")?;
    let minimum: u8 =
        numbers["minimumGroupingDigits"].as_str().context("no minimum grouping digits")?.parse()?;
    let mut shapes = Vec::new();
    for (index, (name, _)) in systems.iter().enumerate() {
        let set = &numbers[format!("symbols-numberSystem-{name}")];
        let Some(pattern) = numbers[format!("decimalFormats-numberSystem-{name}")]["standard"].as_str()
        else {
            continue;
        };
        let text = |symbol: &str| set[symbol].as_str().unwrap_or_default();
        let row = format!(
            "Symbols {{ decimal: {:?}, group: {:?}, minus: {:?}, plus: {:?} }}",
            text("decimal"),
            text("group"),
            text("minusSign"),
            text("plusSign"),
        );
        let next = symbols.places.len();
        let which = *symbols.places.entry(row.clone()).or_insert(next);
        if which == next {
            symbols.rows.push(row);
        }
        let grouping = grouping(pattern, minimum)?;
        let shape = format!("Shape {{ system: {index}, symbols: {which}, grouping: {grouping} }}");
        let shape = (*name, shape);
        if *name == default { shapes.insert(0, shape) } else { shapes.push(shape) }
    }
    if !systems.iter().any(|(name, _)| *name == default) {
        bail!("`{locale}` counts in `{default}`, which has no ten digits");
    }
    Ok(shapes)
}

/// Language, script and region only: the few variant locales of CLDR write numbers as their base does.
pub(super) fn is_plain(locale: &str) -> bool {
    locale.split('-').skip(1).all(|subtag| {
        subtag.len() <= 4 && !(subtag.len() == 4 && subtag.starts_with(|c: char| c.is_ascii_digit()))
    })
}

/// The sizes of the groups in a pattern such as `#,##,##0.###`.
fn grouping(pattern: &str, minimum: u8) -> Result<String> {
    let integer = pattern.split(['.', ';']).next().unwrap_or_default();
    let groups: Vec<usize> = integer.split(',').skip(1).map(str::len).collect();
    let (primary, secondary) = match groups.as_slice() {
        [] => (0, 0),
        [primary] => (*primary, *primary),
        [.., secondary, primary] => (*primary, *secondary),
    };
    if pattern.contains([';', 'E', '%']) {
        bail!("a decimal pattern of a shape the tables do not have: `{pattern}`");
    }
    Ok(format!("Grouping {{ primary: {primary}, secondary: {secondary}, minimum: {minimum} }}"))
}

#[cfg(test)]
mod tests {
    use super::{grouping, is_plain};

    #[test]
    fn group_sizes_are_read_from_the_pattern() {
        for (pattern, primary, secondary) in
            [("#,##0.###", 3, 3), ("#,##,##0.###", 3, 2), ("#,#0.###", 2, 2), ("0.###", 0, 0)]
        {
            let expected = format!("Grouping {{ primary: {primary}, secondary: {secondary}, minimum: 2 }}");
            assert_eq!(grouping(pattern, 2).unwrap(), expected, "{pattern}");
        }
        assert!(grouping("#,##0.###;(#)", 1).is_err());
    }

    #[test]
    fn variants_are_told_from_scripts_and_regions() {
        for plain in ["en", "zh-Hant-HK", "es-419"] {
            assert!(is_plain(plain), "{plain}");
        }
        for variant in ["ca-ES-valencia", "be-tarask", "de-1996"] {
            assert!(!is_plain(variant), "{variant}");
        }
    }
}
