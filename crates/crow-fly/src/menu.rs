//! The language menu: what there is to choose, and where choosing leads.

use crow_fly_core::direction::Direction;
use crow_fly_core::locale_set::LocaleId;
use crow_fly_core::names::{Casing, name, own_name};
use crow_fly_core::tag::LanguageTag;

use crate::config::Config;

/// One language of the menu.
#[derive(Clone, Debug, PartialEq, Eq, serde::Serialize)]
#[non_exhaustive]
pub struct MenuItem {
    /// The locale.
    pub locale: LanguageTag,
    /// Its direction, for the `dir` of its own name.
    pub direction: Direction,
    /// Its name in its own language.
    pub own_name: String,
    /// Its name in the current language, where that is known: other languages' names take the feature `names`.
    pub name: Option<String>,
    /// The address that switches to it and returns to the current page.
    pub address: String,
    /// The current page's own address in it, which remembers nothing: for copying, and for search engines.
    pub page: String,
    /// Whether it is the current one.
    pub current: bool,
}

impl MenuItem {
    pub(crate) fn all(config: &Config, current: LocaleId, path: &str, query: Option<&str>) -> Vec<Self> {
        let set = config.site.policy.set();
        let page = match query {
            Some(query) => format!("{path}?{query}"),
            None => path.to_owned(),
        };
        let item = |(id, tag): (LocaleId, &LanguageTag)| Self {
            locale: tag.clone(),
            direction: Direction::of(tag),
            own_name: own_name(tag, Casing::Menu),
            name: name(tag, set.tag(current), Casing::Menu),
            address: config.switch_address(tag, &page),
            page: config.site.policy.path(id, &page),
            current: id == current,
        };
        // A draft is only in the menu of its own pages.
        set.iter().filter(|(id, _)| *id == current || !set.is_draft(*id)).map(item).collect()
    }
}
