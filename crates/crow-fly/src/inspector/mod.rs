//! A page for developers that shows what happens: the last requests, how each was decided, which texts it used and where
//! each was found, what was missing, what is in memory; and a form to ask what another request would get.
//!
//! It is there in development. A production build refuses it, unless `inspector = true` in the configuration forces it.
//! It is made by the server, needs no script, and shows of sessions and cookies nothing but the locale's.

mod page;

use std::sync::Arc;

use crow_fly_core::message::Html;

use crate::browser::DirectReply;
use crate::site::Site;
use crate::translator::Translator;
use crate::web::exchange::RequestHead;

/// The path of the page.
pub(crate) const PATH: &str = "/inspector";

/// The looks of the page.
const STYLE: &str = include_str!("style.css");

/// Answers a request for the inspector. Without an inspector the answer is 404.
pub(crate) async fn answer(site: &Arc<Site>, head: &impl RequestHead) -> DirectReply {
    let Some(journal) = site.journal() else { return DirectReply::not_found() };
    if !head.is_page() {
        return DirectReply::not_allowed();
    }
    let rest = head.path().strip_prefix(PATH).unwrap_or_default().trim_matches('/');
    let page = match rest {
        "" => page::all(site, journal, head.query().unwrap_or_default()),
        "style.css" => return DirectReply::of(200, "text/css; charset=utf-8", STYLE.to_owned()),
        number => match number.parse().ok().and_then(|number| journal.find(number)) {
            Some(entry) => page::one(site, &entry).await,
            None => return DirectReply::not_found(),
        },
    };
    DirectReply::of(200, "text/html; charset=utf-8", page.into_string())
}

impl Translator {
    /// A link to this request's entry in the inspector, for a page's foot. Nothing where there is no inspector.
    pub fn inspector(&self) -> Html {
        let mut html = Html::default();
        if let Some(entry) = self.entry() {
            html.push_trusted("<a class=\"inspector\" href=\"");
            html.push(&format!("{PATH}/{}", entry.number()));
            html.push_trusted("\" lang=\"en\" dir=\"ltr\">inspect this request</a>");
        }
        html
    }
}
