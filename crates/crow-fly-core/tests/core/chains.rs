//! Parents and chains.

use crow_fly_core::chain::{ChainError, Chains};
use crow_fly_core::locale_set::LocaleSet;
use crow_fly_core::tag::LanguageTag;

use crate::tag;

fn parents(text: &str) -> Vec<String> {
    std::iter::successors(tag(text).parent(), LanguageTag::parent).map(|tag| tag.to_string()).collect()
}

#[test]
fn parents_follow_the_data_and_never_change_the_script() {
    for (text, expected) in [
        ("en", &[][..]),
        ("en-AU", &["en-001", "en"]),
        ("en-AT", &["en-150", "en-001", "en"]),
        ("es-MX", &["es-419", "es"]),
        ("pt-AO", &["pt-PT", "pt"]),
        ("zh-Hant-MO", &["zh-Hant-HK", "zh-Hant"]),
        ("zh-Hant", &[]),
        ("zh-TW", &["zh-Hant"]),
        ("zh-Hans-CN", &["zh-Hans", "zh"]),
        ("sr-Latn", &[]),
        ("sr-Latn-RS", &["sr-Latn"]),
        ("sr-Cyrl-RS", &["sr-Cyrl", "sr"]),
        ("hi-Latn", &["en-IN", "en-001", "en"]),
        ("nb", &["no"]),
        ("nn", &["no"]),
        ("ca-ES-valencia", &["ca-ES", "ca"]),
        ("de-DE-u-nu-latn", &["de-DE", "de"]),
        ("und-GB", &[]),
    ] {
        assert_eq!(parents(text), expected, "{text}");
    }
}

fn chains(locales: &[&str], only: &[&str], overrides: &[(&str, &[&str])]) -> Result<Vec<String>, ChainError> {
    let set = LocaleSet::parse(locales).unwrap();
    let overrides = overrides.iter().map(|(from, to)| (tag(from), to.iter().map(|text| tag(text)).collect()));
    let chains = Chains::new(&set, only.iter().map(|text| tag(text)), overrides)?;
    let shown = |id| chains.tags(id).map(ToString::to_string).collect::<Vec<_>>().join(" ");
    Ok(set.iter().map(|(id, _)| shown(id)).collect())
}

#[test]
fn a_chain_goes_through_locales_with_catalogs_to_the_default() {
    assert_eq!(
        chains(&["en", "en-GB", "cy", "zh-TW"], &[], &[]).unwrap(),
        ["en", "en-GB en", "cy en", "zh-TW en"]
    );
    assert_eq!(
        chains(&["en", "es-MX", "es"], &["es-419"], &[]).unwrap(),
        ["en", "es-MX es-419 es en", "es en"]
    );
    let configured = chains(&["en", "pt-BR", "nn"], &["pt-PT"], &[("pt-BR", &["pt-PT"]), ("nn", &["en"])]);
    assert_eq!(configured.unwrap(), ["en", "pt-BR pt-PT en", "nn en"]);
}

#[test]
fn mistakes_in_chains_are_errors_that_help() {
    let said = |result: Result<_, ChainError>| result.map(|_: Vec<String>| ()).unwrap_err().to_string();
    insta::assert_snapshot!(
        said(chains(&["en", "pt-BR"], &[], &[("pt-BR", &["pt-PT"])])),
        @"a chain names `pt-PT`, which has no catalogs; did you mean `pt-BR`?"
    );
    insta::assert_snapshot!(
        said(chains(&["en", "cy"], &[], &[("cy", &["ja"])])),
        @"a chain names `ja`, which has no catalogs; add it to `locales`, or to `catalog-only` where visitors cannot choose it"
    );
    insta::assert_snapshot!(
        said(chains(&["en", "cy", "de", "fr"], &[], &[("cy", &["de"]), ("de", &["fr"]), ("fr", &["cy"])])),
        @"chains lead in a circle: `cy` → `de` → `fr` → `cy`; leave one of these out"
    );
    insta::assert_snapshot!(said(chains(&["en", "cy"], &[], &[("cy", &["cy"])])), @"chains lead in a circle: `cy` → `cy`; leave one of these out");
    insta::assert_snapshot!(said(chains(&["en", "cy"], &["cy"], &[])), @"`cy` is listed twice among the locales that have catalogs; keep one of the two");
}
