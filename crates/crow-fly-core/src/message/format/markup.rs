//! What markup becomes in HTML: elements of a list, with attributes of a list, or what the application makes of it.

use alloc::borrow::Cow;
use alloc::string::String;
use alloc::sync::Arc;
use alloc::vec::Vec;
use core::fmt;

use crate::function_context::FunctionContext;
use crate::html::Html;
use crate::message::format_error::{FormatError, FormatErrorKind, shown};
use crate::message::model::MarkupKind;

/// A tag of a message, with its options resolved: `{#link to=$address}`.
#[derive(Clone, Debug)]
pub struct MarkupTag<'t> {
    /// Open, close or standalone.
    pub kind: MarkupKind,
    /// Its name, with its namespace.
    pub name: &'t str,
    /// `u:id`
    pub id: Option<Cow<'t, str>>,
    /// Its options, in order, without those that could run a script.
    pub options: Vec<(&'t str, Cow<'t, str>)>,
    pub(super) context: &'t FunctionContext,
    pub(super) links: Option<&'t Links>,
}

/// Where links to the application's own pages lead: given a bare path, the address in the reader's language.
#[derive(Clone)]
pub struct Links(Arc<dyn Fn(&str) -> String + Send + Sync>);

impl Links {
    /// Links by a function.
    pub fn new(address: impl Fn(&str) -> String + Send + Sync + 'static) -> Self {
        Self(Arc::new(address))
    }

    fn address(&self, path: &str) -> String {
        (self.0)(path)
    }
}

impl fmt::Debug for Links {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("Links")
    }
}

/// The value of an option of markup: a path of the application's own that a link leads to is made the reader's.
pub(super) fn linked<'t>(
    element: &str,
    option: &str,
    value: Cow<'t, str>,
    links: Option<&Links>,
) -> Cow<'t, str> {
    match links {
        Some(links) if element == "a" && option == "href" && is_own_path(&value) => {
            Cow::Owned(links.address(&value))
        }
        _ => value,
    }
}

/// Whether an address is a path of the same host.
fn is_own_path(address: &str) -> bool {
    address.starts_with('/') && !address.starts_with("//")
}

impl MarkupTag<'_> {
    /// Whether a name is that of an element that markup may become.
    pub(crate) fn is_element(name: &str) -> bool {
        ELEMENTS.iter().any(|element| element.name == name)
    }

    /// The elements that markup may become.
    pub(crate) fn elements() -> impl Iterator<Item = &'static str> {
        ELEMENTS.iter().map(|element| element.name)
    }

    /// Whether an option of markup that the application has no handler for reaches a page.
    pub(crate) fn lets_through(name: &str, option: &str, value: &str) -> bool {
        is_allowed(name, false, option, value)
    }

    /// The address of a page of the application's, given by its bare path, in the reader's language: for handlers that
    /// make links.
    pub fn link(&self, path: &str) -> String {
        self.links.map_or_else(|| String::from(path), |links| links.address(path))
    }

    /// What the message is formatted with: the locale of the text, its formats and time zone.
    pub const fn context(&self) -> &FunctionContext {
        self.context
    }

    /// The value of an option.
    pub fn option(&self, name: &str) -> Option<&str> {
        self.options.iter().find(|(found, _)| *found == name).map(|(_, value)| &**value)
    }
}

/// An element that markup may become, with its tags.
struct Element {
    name: &'static str,
    start: &'static str,
    end: &'static str,
}

macro_rules! elements {
    ($($name:literal)*) => {
        [$(Element { name: $name, start: concat!("<", $name, ">"), end: concat!("</", $name, ">") }),*]
    };
}

/// The elements that markup may become: they change how words look or sound, or lead somewhere.
static ELEMENTS: [Element; 19] = elements![
    "a" "abbr" "b" "br" "cite" "code" "dfn" "em" "i" "kbd" "mark" "q" "s" "small" "span" "strong" "sub" "sup" "u"
];

/// The attributes that an option may become, on every element.
const ATTRIBUTES: [&str; 4] = ["class", "dir", "lang", "title"];

/// The options of an application's own markup that browsers take for addresses.
const ADDRESSES: [&str; 7] = ["href", "src", "action", "formaction", "poster", "data", "xlink:href"];

/// The schemes of addresses that can hold a script.
const SCRIPTS: [&str; 3] = ["javascript:", "vbscript:", "data:"];

/// Whether an option of markup may reach a page: the one rule for HTML, for handlers and for parts.
///
/// The elements of the list take the attributes of the list. Markup of the application's own, which has a `handler` or
/// a name of no element, takes all options but those that could run a script.
pub(super) fn is_allowed(element: &str, handler: bool, option: &str, value: &str) -> bool {
    if !handler && MarkupTag::is_element(element) {
        return ATTRIBUTES.contains(&option) || element == "a" && option == "href" && is_safe_address(value);
    }
    let name = option.to_ascii_lowercase();
    let can_run = !handler && (name.starts_with("on") || name == "style" || name == "srcdoc");
    let address = ADDRESSES.contains(&name.as_str());
    !can_run && !is_script(value) && (!address || is_safe_address(value))
}

/// Whether a value is an address that holds a script. Browsers skip controls and white space in a scheme.
fn is_script(value: &str) -> bool {
    let longest = SCRIPTS.iter().map(|scheme| scheme.len()).max().unwrap_or(0);
    let visible = value.chars().filter(|letter| !letter.is_control() && !letter.is_whitespace());
    let start: String = visible.take(longest).map(|letter| letter.to_ascii_lowercase()).collect();
    SCRIPTS.iter().any(|scheme| start.starts_with(scheme))
}

/// Returns the start and the end of a tag's element, if it is in the list. Attributes that it cannot have go to `bad`.
pub(super) fn element(
    tag: &MarkupTag<'_>,
    bad: &mut dyn FnMut(FormatError),
) -> Option<(Cow<'static, str>, Cow<'static, str>)> {
    let element = ELEMENTS.iter().find(|element| element.name == tag.name)?;
    let void = element.name == "br";
    if void != (tag.kind == MarkupKind::Standalone) {
        return None;
    }
    let end = if void { "" } else { element.end };
    if tag.options.is_empty() {
        return Some((element.start.into(), end.into()));
    }
    let mut start = Html::default();
    start.push_trusted("<");
    start.push_trusted(element.name);
    for (name, value) in &tag.options {
        // Where a handler has passed the tag on, this has not been asked before.
        if !is_allowed(element.name, false, name, value) {
            bad(refused_option(name, value));
            continue;
        }
        // What is allowed is a name of the list.
        start.push_trusted(" ");
        start.push_trusted(name);
        start.push_trusted("=\"");
        start.push(value);
        start.push_trusted("\"");
    }
    start.push_trusted(">");
    Some((Cow::Owned(start.into_string()), end.into()))
}

/// Why an option of markup does not reach the page.
pub(super) fn refused_option(name: &str, value: &str) -> FormatError {
    let help = if name == "href" {
        "an address is a path, `https:`, `http:`, `mailto:` or `tel:`, without white space"
    } else {
        "elements of texts have `class`, `dir`, `lang` and `title`, and `a` has `href`"
    };
    FormatError::new(FormatErrorKind::BadOption, name)
        .of_option(name)
        .with_value(Some(shown(value)))
        .expecting(help)
}

/// Whether an address leads to a page, and runs nothing.
fn is_safe_address(address: &str) -> bool {
    let control = address.chars().any(|letter| letter.is_control() || letter.is_whitespace());
    let schemes = ["https://", "http://", "mailto:", "tel:"];
    let relative = address.starts_with(['/', '#', '?']) && !address.starts_with("/\\");
    let lower = address.get(..8.min(address.len())).map_or_else(String::new, str::to_ascii_lowercase);
    !control && (relative || schemes.iter().any(|scheme| lower.starts_with(scheme)))
}

type Handler = dyn Fn(&MarkupTag<'_>) -> Option<(Html, Html)> + Send + Sync;

/// What an application makes of markup of its own: links, icons, components.
///
/// ```
/// use std::sync::Arc;
/// use crow_fly_core::{args, html::Html, message::{MarkupHandlers, Message, Program, FormatContext}};
///
/// let handlers = MarkupHandlers::new().with("sailing-link", |tag| {
///     let mut start = Html::default();
///     start.push_trusted("<a class=\"sailing\" href=\"/sailings/");
///     start.push(tag.option("number")?);
///     start.push_trusted("\">");
///     let mut end = Html::default();
///     end.push_trusted("</a>");
///     Some((start, end))
/// });
/// let context = FormatContext::of(&"en".parse()?).with_markup(Arc::new(handlers));
/// let program = Program::compile(&Message::parse("See {#sailing-link number=$n}the sailing{/sailing-link}.")?);
/// assert_eq!(program.format(&context, &args! { n: 7 }).html().as_str(), "See <a class=\"sailing\" href=\"/sailings/7\">the sailing</a>.");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Default)]
pub struct MarkupHandlers {
    by_name: Vec<(String, Arc<Handler>)>,
}

impl MarkupHandlers {
    /// None.
    pub fn new() -> Self {
        Self::default()
    }

    /// Adds a handler for a name: it gives beginning and end, or none where the tag is no use to it; then its content
    /// is shown as text. A handler goes before the element of its name.
    #[must_use]
    pub fn with(
        mut self,
        name: impl Into<String>,
        handler: impl Fn(&MarkupTag<'_>) -> Option<(Html, Html)> + Send + Sync + 'static,
    ) -> Self {
        self.by_name.push((name.into(), Arc::new(handler)));
        self
    }

    /// Whether there is a handler for a name.
    pub fn has(&self, name: &str) -> bool {
        self.by_name.iter().any(|(known, _)| known == name)
    }

    pub(super) fn call(&self, tag: &MarkupTag<'_>) -> Option<(Cow<'static, str>, Cow<'static, str>)> {
        let handler = self.by_name.iter().rfind(|(name, _)| name == tag.name)?;
        let (start, end) = handler.1(tag)?;
        Some((Cow::Owned(start.into_string()), Cow::Owned(end.into_string())))
    }
}

impl fmt::Debug for MarkupHandlers {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_list().entries(self.by_name.iter().map(|(name, _)| name)).finish()
    }
}
