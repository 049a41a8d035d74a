//! Texts of one word, or titles: whether they were left in the default locale's language.

use std::collections::BTreeMap;

use crow_fly_core::catalog::SectionSource;
use crow_fly_core::chain::Chains;
use crow_fly_core::check::check;
use crow_fly_core::locale_set::LocaleSet;
use crow_fly_core::rule::Rule;

/// One word, or a title, that is still the default locale's: what other locales and other texts have done with it shows whether it is
/// a name.
#[test]
fn a_title_is_forgotten_where_others_show_that_it_is_no_name() {
    let found = |texts: &[(&str, &str)]| -> Vec<String> {
        let set = LocaleSet::parse(texts.iter().map(|(tag, _)| *tag)).unwrap();
        let chains = Chains::new(&set, [], []).unwrap();
        let read = |text: &str| BTreeMap::from([("home".to_owned(), SectionSource::from_toml(text))]);
        let project = set.iter().zip(texts).map(|((id, _), (_, text))| (id, read(text))).collect();
        let all = check(&set, &chains, &project).into_iter();
        all.filter(|finding| finding.rule == Rule::Untranslated).map(|finding| finding.locale).collect()
    };
    let mut wrong = Vec::new();
    for (why, texts, expected) in [
        (
            "others translate it",
            &[("en", "a='Basket'"), ("pl", "a='Basket'"), ("fr", "a='Panier'")][..],
            &["pl"][..],
        ),
        (
            "with a value",
            &[("en", "a='Basket: {$n}'"), ("pl", "a='Basket: {$n}'"), ("fr", "a='Panier : {$n}'")],
            &["pl"],
        ),
        ("nobody else says what it is", &[("en", "a='Basket'"), ("pl", "a='Basket'")], &[]),
        ("all keep it: a name", &[("en", "a='Tidepay'"), ("pl", "a='Tidepay'"), ("ja", "a='Tidepay'")], &[]),
        (
            "one writes it in its script",
            &[("en", "a='Tidepay'"), ("pl", "a='Tidepay'"), ("fr", "a='Tidepay'"), ("ja", "a='タイドペイ'")],
            &[],
        ),
        (
            "its own texts have the word",
            &[
                ("en", "a='Pages'\nb='Next page'"),
                ("fr", "a='Pages'\nb='Page suivante'"),
                ("pl", "a='Strony'\nb='x'"),
            ],
            &[],
        ),
        (
            "its own texts translate the word",
            &[("en", "a='Basket'\nb='To the basket'"), ("fr", "a='Basket'\nb='Au panier'")],
            &["fr"],
        ),
        ("Latin letters in another script", &[("en", "a='Basket'"), ("ja", "a='Basket'")], &["ja"]),
        (
            "a name in another script",
            &[("en", "a='Tidepay'\nb='Pay with Tidepay'"), ("ja", "a='Tidepay'\nb='Tidepayで支払う'")],
            &[],
        ),
        (
            "a person",
            &[("en", "a='Maren Quill'"), ("fr", "a='Maren Quill'"), ("ja", "a='マレン・クイル'")],
            &[],
        ),
        (
            "a title",
            &[
                ("en", "a='My Basket'\nb='A basket'"),
                ("fr", "a='My Basket'\nb='Un panier'"),
                ("ja", "a='カート'"),
            ],
            &["fr"],
        ),
        (
            "a word of many languages",
            &[("en", "a='Information'"), ("fr", "a='Information'"), ("pl", "a='Informacje'")],
            &[],
        ),
        ("an abbreviation", &[("en", "a='PDF'"), ("ja", "a='PDF'"), ("ru", "a='ПДФ'")], &[]),
        (
            "languages of one kind",
            &[("es", "a='Antes de dormir'"), ("pt", "a='Antes de dormir'"), ("en", "a='Before bed'")],
            &[],
        ),
        (
            "but not a sentence",
            &[
                ("es", "a='No olvide traer su tarjeta de cliente'"),
                ("pt", "a='No olvide traer su tarjeta de cliente'"),
            ],
            &["pt"],
        ),
        (
            "a locale of the same language",
            &[("de", "a='Warenkorb'"), ("de-CH", "a='Warenkorb'"), ("fr", "a='Panier'")],
            &[],
        ),
    ] {
        let found = found(texts);
        if found != expected {
            wrong.push(format!("{why}: {found:?}"));
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}
