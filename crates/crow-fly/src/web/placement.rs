//! Where the layer stands: what is said, once, where that is the wrong place.

use std::sync::Arc;

use tracing::{error, warn};

use crate::sessions::{SessionEntries, SessionEntry};
use crate::site::Site;
use crate::translator::Translator;
use crate::web::exchange::PassedOn;

/// Logs an error where the configuration names sessions and the adapter has none. They are among the usual sources, too:
/// an application that names none may do without.
pub(super) fn require_sessions(site: &Site, help: &str) {
    if site.config().remember.names_sessions && site.once.no_sessions.is_first() {
        error!(
            target: "crow_fly::layer", help,
            "`session` is one of the sources, but this layer has no sessions: it is never asked",
        );
    }
}

/// Logs, once, that the layer of sessions has not run before this one.
pub(super) fn require_session_layer(site: &Site, path: &str, entries: &SessionEntries) {
    let is_missing = [&entries.locale, &entries.time_zone].contains(&&SessionEntry::NoLayer);
    if is_missing && site.config().remember.names_sessions && site.once.no_session_layer.is_first() {
        warn!(
            target: "crow_fly::layer", path, help = "add the layer of sessions last: it then runs first",
            "`session` is one of the sources, but no layer of sessions has run for this request",
        );
    }
}

/// Whether this application's layer has run for a request already; that is logged once.
pub(super) fn has_run(
    site: &Arc<Site>,
    path: &str,
    translator: Option<&Translator>,
    passed_on: Option<&PassedOn>,
) -> bool {
    let has_run = translator.is_some_and(|translator| translator.is_of(site))
        || passed_on.is_some_and(|passed_on| passed_on.is_of(site));
    if has_run && site.once.twice.is_first() {
        warn!(
            target: "crow_fly::layer", path, help = "leave one of the two out",
            "the layer is put around these pages twice: the inner one changes nothing",
        );
    }
    has_run
}

/// Logs, once, that the request has been routed before the layer could take its prefix off.
#[cfg(any(feature = "axum", feature = "actix"))]
pub(super) fn warn_of_routed(site: &Site, path: &str, help: &str) {
    let has_prefixes = site.policy().sources().contains(&crow_fly_core::policy::LocaleSource::Path);
    if has_prefixes && site.once.routed.is_first() {
        warn!(
            target: "crow_fly::layer", path, help,
            "the layer runs after routing: addresses with the prefix of a locale find no page",
        );
    }
}

/// What axum says of a request's way to the layer.
#[cfg(feature = "axum")]
pub(super) mod axum {
    use axum::extract::{MatchedPath, OriginalUri};
    use http::Extensions;
    use tracing::warn;

    use super::warn_of_routed;
    use crate::site::Site;

    /// Logs, once, that the layer stands inside of a router, or that a router around it takes off a base that the
    /// configuration does not know.
    pub(in crate::web) fn check(site: &Site, path: &str, extensions: &Extensions) {
        let original = extensions.get::<OriginalUri>().map_or(path, |original| original.path());
        let taken = taken_off(original, path);
        let routes = site.policy().routes();
        let expected = site.config().stripped_base.as_str();
        if !taken.is_empty() && taken != expected && site.once.base.is_first() {
            let help = if taken == routes.base() {
                "set `base-stripped = true` in `[policy]`".to_owned()
            } else {
                format!("set `base = \"{taken}\"` and `base-stripped = true` in `[policy]`")
            };
            warn!(
                target: "crow_fly::layer", path, help,
                "a router around this one takes `{taken}` off, which the configuration does not know: links lead past it",
            );
        }
        if let Some(matched) = extensions.get::<MatchedPath>()
            && is_routed(matched.as_str(), taken)
        {
            warn_of_routed(site, path, "put it around the whole router: `crow.router(pages)`");
        }
    }

    /// What routers around the layer have taken off a path.
    fn taken_off<'p>(original: &'p str, path: &str) -> &'p str {
        match original.strip_suffix(path) {
            Some(taken) => taken,
            // `/shop` itself is asked for as `/`.
            None if path == "/" => original,
            None => "",
        }
    }

    /// Whether a route has matched, which is not the one of a router or a service that takes all below it.
    fn is_routed(matched: &str, taken: &str) -> bool {
        let depth = |path: &str| path.split('/').filter(|segment| !segment.is_empty()).count();
        let is_home = matched == "/" && taken.is_empty();
        !matched.contains("{*") && (is_home || depth(matched) > depth(taken))
    }

    #[cfg(test)]
    mod tests {
        use super::{is_routed, taken_off};

        #[test]
        fn a_route_is_told_from_a_nest() {
            for (original, path, taken) in [
                ("/basket", "/basket", ""),
                ("/shop/basket", "/basket", "/shop"),
                ("/shop", "/", "/shop"),
                ("/shop/", "/", "/shop"),
                ("/basket/", "/basket", ""),
                ("/", "/", ""),
            ] {
                assert_eq!(taken_off(original, path), taken, "{original} {path}");
            }
            for (matched, taken, routed) in [
                ("/", "", true),
                ("/basket", "", true),
                ("/basket/{id}", "", true),
                ("/{*rest}", "", false),
                ("/shop", "/shop", false),
                ("/{tenant}", "/acme", false),
                ("/shop/basket", "/shop", true),
            ] {
                assert_eq!(is_routed(matched, taken), routed, "{matched} {taken}");
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::config::Config;
    use crate::source::Memory;

    fn site(policy: &str) -> Site {
        let config = Config::parse(&format!("default = 'en'\nlocales = ['en']\n{policy}"));
        Site::new(config.unwrap_or_else(|error| panic!("{error}")), Box::new(Memory::default()), None, None)
    }

    /// Sessions are one of the usual sources: only who names them is told that there are none.
    #[test]
    fn sessions_that_are_named_are_required() {
        for (policy, named) in [
            ("", false),
            ("[policy]\nsources = ['path', 'cookie']", false),
            ("[policy]\nsources = ['path', 'session']", true),
            ("[areas.'/api']\nsources = ['session']", true),
            ("[policy]\ntime-zone = 'visitor'\n[time-zone]\nsources = ['session']", true),
        ] {
            let site = site(policy);
            require_sessions(&site, "");
            require_session_layer(&site, "/", &SessionEntries::new(SessionEntry::NoLayer));
            assert_eq!(!site.once.no_sessions.is_first(), named, "{policy}");
            assert_eq!(!site.once.no_session_layer.is_first(), named, "{policy}");
        }
        let site = site("[policy]\nsources = ['session']");
        require_session_layer(&site, "/", &SessionEntries::new(SessionEntry::NoSession));
        assert!(site.once.no_session_layer.is_first());
    }
}
