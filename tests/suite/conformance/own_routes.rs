//! The application's routes come first: what is not a prefix, the switch address or a translated path is its own.

use std::collections::BTreeMap;
use std::sync::LazyLock;

use crow_fly::{Config, CrowFly};
use crow_fly_core::policy::RedirectRule;
use proptest::prelude::*;

use crate::conformance::adapters::{by_own, crow};
use crate::conformance::site::{Ask, POLICIES, catalogs, status};

static CROWS: LazyLock<BTreeMap<&str, CrowFly>> =
    LazyLock::new(|| POLICIES.iter().map(|policy| (policy.name, crow(policy.name))).collect());

fn any_target() -> impl Strategy<Value = String> {
    let segment = "(my|id|run|cat|sun|to|no|de|zh-Hant|iw|pt_BR|cyx|e|sailings|assets|shop|api|cart|[a-z0-9._~-]{1,6}|%[2-7][0-9A-F]|%C3%A8|)";
    let query = prop::option::of("[a-z]{1,3}=[a-z]{0,3}");
    (prop::collection::vec(segment, 0..5), query).prop_map(|(segments, query)| {
        let path = format!("/{}", segments.join("/"));
        query.map_or(path.clone(), |query| format!("{path}?{query}"))
    })
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 2000, ..ProptestConfig::default() })]

    /// Whatever languages there are in the world: status and body are the application's own, apart from the redirects
    /// that the policy names.
    #[test]
    fn what_is_not_a_prefix_is_the_applications(
        policy in prop::sample::select(POLICIES.map(|policy| policy.name).to_vec()),
        method in prop::sample::select(vec!["GET", "HEAD", "POST", "DELETE"]),
        target in any_target(),
        header in prop::option::of(prop::sample::select(vec!["pl", "cy;q=0.5", "ja"])),
    ) {
        let base = if policy == "base" { "/shop" } else { "" };
        let path = target.split('?').next().unwrap();
        let inner = path.strip_prefix(base).filter(|rest| rest.is_empty() || rest.starts_with('/'));
        let first = inner.unwrap_or(path).split('/').nth(1).unwrap_or_default().to_ascii_lowercase();
        prop_assume!(!["en", "cy", "pl", "polska", "poland"].contains(&first.as_str()) && inner != Some("/locale"));
        let headers = header.map(|header| ("accept-language", header)).into_iter().collect();
        let ask = Ask { policy, method, target: target.clone().leak(), headers, ..Ask::default() };
        let runtime = tokio::runtime::Builder::new_current_thread().enable_all().build().unwrap();
        let answer = runtime.block_on(by_own(CROWS.get(policy).unwrap(), &ask));
        if answer.status == 302 {
            let is_root = matches!(inner, Some("" | "/"));
            let may = policy == "everywhere" || is_root && !["never", "negotiated"].contains(&policy);
            prop_assert!(may && matches!(method, "GET" | "HEAD"), "{:?} {:?}", ask, answer);
        } else {
            prop_assert_eq!(answer.status, status(&target), "{:?} {:?}", &ask, &answer);
            prop_assert!(answer.body.ends_with(&format!(" {target}")), "{:?} {:?}", ask, answer);
        }
    }
}

proptest! {
    // Each case builds an application.
    #![proptest_config(ProptestConfig { cases: 500, ..ProptestConfig::default() })]

    /// The same with random tables of translated paths: what has no prefix is never one of another locale's addresses.
    #[test]
    fn translated_paths_of_other_locales_change_nothing(
        pages in prop::collection::vec(("[a-d]", "[a-h]", any::<bool>()), 1..6),
        bare_default in any::<bool>(), everywhere in any::<bool>(), target in any_target(),
        first in "[a-h]", is_page in any::<bool>(),
    ) {
        let rule = if everywhere { RedirectRule::Everywhere } else { RedirectRule::Root };
        let mut builder = Config::builder(["en", "cy", "pl"]).bare_default(bare_default).redirect(rule);
        for (bare, welsh, parameter) in &pages {
            let behind = if *parameter { "/{id}" } else { "" };
            builder = builder.path(format!("/{bare}{behind}"), "cy", [format!("/{welsh}{behind}")]);
        }
        // An ambiguous table is refused at start.
        let Ok(config) = builder.build() else { return Ok(()) };
        let crow = CrowFly::builder(config).catalogs(catalogs()).build();
        let target = format!("/{first}{}", target.trim_end_matches('/'));
        let method = if is_page { "GET" } else { "POST" };
        let ask = Ask { method, target: target.clone().leak(), headers: vec![("accept-language", "cy")], ..Ask::default() };
        let runtime = tokio::runtime::Builder::new_current_thread().enable_all().build().unwrap();
        let answer = runtime.block_on(by_own(&crow, &ask));
        if answer.status == 302 {
            prop_assert!(everywhere && is_page, "{:?} {:?}", ask, answer);
        } else {
            prop_assert_eq!(answer.status, status(&target), "{:?} {:?}", &ask, &answer);
            prop_assert!(answer.body.ends_with(&format!(" {target}")), "{:?} {:?}", ask, answer);
        }
    }
}
