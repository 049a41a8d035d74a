//! The language menu: what there is to choose, and where choosing leads.

use std::borrow::Cow;
use std::sync::OnceLock;

use crow_fly_core::direction::Direction;
use crow_fly_core::locale_set::{LocaleId, LocaleSet};
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
    /// Its name in its own language, or the one that `names` of the configuration gives: put it into an element of its own with `lang` and `dir`.
    pub own_name: String,
    /// Its name in the current language, where that is known: other languages' names take the feature `names`. A `title`
    /// with it belongs to an element without that `lang`.
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

/// The names of an application's locales. Each is looked up once: a menu stands on every page.
#[derive(Debug)]
pub(crate) struct MenuNames {
    /// The name of each locale in its own language.
    own: OnceLock<Vec<String>>,
    /// The names of all locales in the language of each one that has had a menu; empty where there are too many.
    in_others: Vec<OnceLock<Names>>,
}

/// Of so many locales the names in each other's languages are kept: about 2 MB, where all have had a menu.
const MOST: usize = 200;

/// The names of all locales in one language, where they are known.
type Names = Vec<Option<String>>;

impl MenuNames {
    pub(crate) fn new(set: &LocaleSet) -> Self {
        let kept = if set.len() > MOST { 0 } else { set.len() };
        Self { own: OnceLock::new(), in_others: (0..kept).map(|_| OnceLock::new()).collect() }
    }

    /// The name of each locale in its own language.
    fn own(&self, config: &Config) -> &[String] {
        let given = |id| config.names.get(&id).cloned();
        let name = |(id, tag)| given(id).unwrap_or_else(|| own_name(tag, Casing::Menu));
        self.own.get_or_init(|| config.site.policy.set().iter().map(name).collect())
    }

    /// The name of each locale in the language of one of them.
    fn in_language_of(&self, locale: LocaleId, set: &LocaleSet) -> Cow<'_, [Option<String>]> {
        let language = set.tag(locale);
        let names = || set.iter().map(|(_, tag)| name(tag, language, Casing::Menu)).collect::<Names>();
        match self.in_others.get(locale.index()) {
            Some(kept) => Cow::Borrowed(kept.get_or_init(names)),
            None => Cow::Owned(names()),
        }
    }
}

impl MenuItem {
    /// `page` is the current page's bare path, and query, in a locale; none where there is no such page.
    pub(crate) fn all<'p>(
        config: &Config,
        names: &MenuNames,
        current: LocaleId,
        page: impl Fn(LocaleId) -> Option<Cow<'p, str>>,
    ) -> Vec<Self> {
        let set = config.site.policy.set();
        let (own_names, names) = (names.own(config), names.in_language_of(current, set));
        let item = |(id, tag): (LocaleId, &LanguageTag)| {
            let page = page(id);
            let path = page.as_deref().unwrap_or("/");
            Self {
                locale: tag.clone(),
                direction: Direction::of(tag),
                own_name: own_names.get(id.index()).cloned().unwrap_or_default(),
                name: names.get(id.index()).cloned().flatten(),
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
