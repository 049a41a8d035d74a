//! The language menu: what there is to choose, and where choosing leads.

use std::borrow::Cow;

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
    /// Whether the current page is there in it. Otherwise both addresses lead to the home page.
    pub exists: bool,
    /// Whether it is the current one.
    pub current: bool,
}

impl MenuItem {
    /// `page` is the current page's bare path, and query, in a locale; none where there is no such page.
    pub(crate) fn all<'p>(
        config: &Config,
        current: LocaleId,
        page: impl Fn(LocaleId) -> Option<Cow<'p, str>>,
    ) -> Vec<Self> {
        let set = config.site.policy.set();
        let item = |(id, tag): (LocaleId, &LanguageTag)| {
            let page = page(id);
            let path = page.as_deref().unwrap_or("/");
            Self {
                locale: tag.clone(),
                direction: Direction::of(tag),
                own_name: own_name(tag, Casing::Menu),
                name: name(tag, set.tag(current), Casing::Menu),
                address: config.switch_address(tag, path),
                page: config.site.policy.path(id, path),
                exists: page.is_some(),
                current: id == current,
            }
        };
        // A draft is only in the menu of its own pages.
        set.iter().filter(|(id, _)| *id == current || !set.is_draft(*id)).map(item).collect()
    }
}
