//! The Accept-Language header.

use crow_fly_core::accept::AcceptLanguage;
use crow_fly_core::locale_set::LocaleSet;

fn ranges(header: &str) -> Vec<(String, u16)> {
    AcceptLanguage::parse(header)
        .ranges()
        .iter()
        .map(|range| (range.as_str().to_owned(), range.weight()))
        .collect()
}

#[test]
fn weights_order_the_ranges_and_positions_break_ties() {
    for (header, expected) in [
        ("cy", &[("cy", 1000)][..]),
        ("en;q=0.5, cy", &[("cy", 1000), ("en", 500)]),
        ("a1, en;q=0.5, de;q=0.5, fr;q=0.75", &[("fr", 750), ("en", 500), ("de", 500)]),
        (" en ; q=0.8 ,\tcy\t;\tQ=1.000 ", &[("cy", 1000), ("en", 800)]),
        ("en;q=0., cy;q=1.", &[("cy", 1000)]),
        (",, ,en,,", &[("en", 1000)]),
        ("*;q=0.001, de-CH-1996", &[("de-CH-1996", 1000), ("*", 1)]),
    ] {
        let expected: Vec<_> =
            expected.iter().map(|(range, weight)| ((*range).to_owned(), *weight)).collect();
        assert_eq!(ranges(header), expected, "{header}");
    }
}

#[test]
fn malformed_members_spoil_only_themselves_and_are_counted() {
    for (header, malformed) in [
        ("en", 0),
        ("", 0),
        (", ,", 0),
        ("en;q=.5", 1),
        ("en;q=1.5", 1),
        ("en;q=1.001", 1),
        ("en;q=0.1234", 1),
        ("en;q=-1", 1),
        ("en;q=", 1),
        ("en;q", 1),
        ("en;level=1", 1),
        ("en;q=0.5;level=1", 1),
        ("en q=0.5", 1),
        (";q=0.5", 1),
        ("e n", 1),
        ("123", 1),
        ("-en", 1),
        ("en-", 1),
        ("en-*", 1),
        ("toolonglanguage", 1),
        ("cy\u{e9}", 1),
        ("../../x, en_GB, cy;q=2, <script>", 4),
    ] {
        let with_good = format!("{header}, pl");
        let parsed = AcceptLanguage::parse(&with_good);
        assert_eq!(parsed.malformed(), malformed, "{header}");
        assert!(parsed.ranges().iter().any(|range| range.as_str() == "pl"), "{header}");
    }
}

#[test]
fn a_weight_of_zero_excludes() {
    let header = AcceptLanguage::parse("de;q=0, *, fr;q=0.000");
    assert_eq!(header.ranges().len(), 1);
    assert_eq!(
        header.excluded().iter().map(crow_fly_core::accept::WeightedRange::as_str).collect::<Vec<_>>(),
        ["de", "fr"]
    );
}

/// The first range is the whole answer, but where one behind it is excluded: however close to the weight before it.
#[test]
fn an_exclusion_behind_the_first_range_counts_wherever_it_stands() {
    let set = LocaleSet::parse(["de", "cy", "en"]).unwrap();
    for before in
        ["", "a;q=0.9,", "a;q=1,", "a;q=1.0,", "a;q=0.95,", "a,", "=0.9,", "=1,", "a;q=0.9;q=0.9,", "a;q=1=,"]
    {
        for exclusion in ["en;q=0", "en;q=0.0", "en ; q=0", "*;q=0,en;q=0"] {
            let header = format!("en,{before}{exclusion}");
            let found = set.closest_in(header.as_bytes());
            assert_eq!(found, set.closest(&AcceptLanguage::parse(&header)), "{header}");
            assert_ne!(found.map(|found| set.text(found.locale)), Some("en"), "{header}");
        }
        let header = format!("en,{before}cy;q=0.1");
        let found = set.closest_in(header.as_bytes()).map(|found| set.text(found.locale));
        assert_eq!(found, Some("en"), "{header}");
    }
}

#[test]
fn several_lines_are_one_list() {
    let lines = ["en;q=0.4", "cy, de;q=0.6"];
    let header = AcceptLanguage::parse_lines(lines);
    assert_eq!(
        header.ranges().iter().map(crow_fly_core::accept::WeightedRange::as_str).collect::<Vec<_>>(),
        ["cy", "de", "en"]
    );
}

#[test]
fn hostile_headers_are_read_to_a_bound() {
    let thousand = (0..=255)
        .cycle()
        .take(1000)
        .map(|at: u8| format!("l{}", char::from(b'a' + at % 26)))
        .collect::<Vec<_>>()
        .join(",");
    let header = AcceptLanguage::parse(&thousand);
    assert!(header.is_truncated());
    assert!(header.ranges().len() <= AcceptLanguage::MAX_RANGES);

    let commas = ",".repeat(100_000);
    assert!(AcceptLanguage::parse(&commas).is_empty());
    let letters = "a".repeat(100_000);
    assert!(AcceptLanguage::parse(&letters).is_truncated());
    let bytes: Vec<u8> = (0..=255).cycle().take(100_000).collect();
    assert!(AcceptLanguage::parse(&bytes).malformed() <= AcceptLanguage::MAX_MEMBERS);
    assert_eq!(AcceptLanguage::parse(b"\xff\xfe, cy;q=0.3").ranges()[0].as_str(), "cy");
}
