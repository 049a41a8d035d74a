//! One application, served with the layer, in a router or without it: what `xtask load` and `xtask instructions` ask.
//!
//! It is a program of its own, with the system's allocator as any application has it: `xtask` counts allocations, and
//! each of them takes longer there.

#![allow(clippy::print_stdout, reason = "it tells its port")]

use std::convert::Infallible;
use std::fmt::Write as _;
use std::io::Read as _;

use anyhow::{Context, Result, bail};
use axum::body::Body;
use axum::response::Html;
use axum::routing::get;
use axum::{Extension, Router, ServiceExt as _};
use crow_fly::source::Memory;
use crow_fly::{Config, CrowFly, Html as SafeHtml, Translator, args};
use http::{Request, Response};
use tokio::net::TcpListener;
use tokio::runtime::Builder;
use tower::{ServiceExt as _, service_fn};
use tower_layer::Layer as _;
use tower_service::Service;

/// The page that is asked for.
const PAGE: &str = "/sailings/7?boat=Curlew";

/// Serves until the input ends. Prints its port and its page.
fn main() -> Result<()> {
    let how = std::env::args().nth(1).unwrap_or_default();
    // One thread answers the requests, as in the demo where that is asked.
    let runtime = Builder::new_multi_thread().worker_threads(1).enable_all().build()?;
    let crow = crow()?;
    let port = runtime.block_on(async {
        match how.as_str() {
            "without" => {
                let translator = translator_of_a_request(&crow).await?;
                serve(pages().layer(Extension(translator))).await
            }
            "layer" => serve(crow.layer().layer(pages())).await,
            "router" => serve(crow.router(pages())).await,
            _ => bail!("how to serve: `without`, `layer` or `router`, not `{how}`"),
        }
    })?;
    println!("{port} {PAGE}");
    std::io::stdin().read_to_end(&mut Vec::new())?;
    Ok(())
}

/// The application's languages and texts.
fn crow() -> Result<CrowFly> {
    let config = Config::parse("default = 'en'\nlocales = ['en', 'en-GB', 'cy', 'pl', 'ar']")?;
    Ok(CrowFly::new(config, Memory::new([("en", "home", TEXTS)])))
}

/// The translator that the layer makes for the request, so that the page has the same work without the layer.
async fn translator_of_a_request(crow: &CrowFly) -> Result<Translator> {
    let inner = service_fn(|request: Request<Body>| async move {
        let mut answer = Response::<Body>::default();
        answer.extensions_mut().extend(request.into_parts().0.extensions);
        Ok::<_, Infallible>(answer)
    });
    let request = Request::get(PAGE).header("accept-language", "cy,en-GB;q=0.8,en;q=0.5");
    let request = request.header("cookie", "locale=cy").body(Body::empty())?;
    let answer = crow.layer().layer(inner).oneshot(request).await?;
    answer.extensions().get::<Translator>().cloned().context("the layer makes a translator")
}

const TEXTS: &str = "
title = 'Sailings today'
from-to = '{$from} – {$to}'
seats = '.input {$seats :integer} .match $seats one {{One seat left}} * {{{$seats} seats left}}'
book = 'See the sailing'
departs = '{$time :time}'
";

/// An application with one page as the demo has it: alternates, a menu, and a timetable of seven sailings.
fn pages() -> Router {
    Router::new().route("/sailings/{id}", get(page))
}

async fn page(t: Translator) -> Html<String> {
    let mut page = format!("<html lang=\"{}\"><title>{}</title>", t.locale(), t.html("home.title"));
    page.push_str(t.alternates("https://ferries.example").to_html().as_str());
    for item in t.menu() {
        // Writing to a `String` does not fail.
        let _ = write!(
            page,
            "<a href=\"{}\">{}</a>",
            SafeHtml::escape(&item.address),
            SafeHtml::escape(&item.own_name)
        );
    }
    for sailing in 0..7 {
        let departs = t.html(("home.departs", args! { time: "09:30" }));
        let route = t.html(("home.from-to", args! { from: "Saltmarsh Quay", to: "Heron Point" }));
        let seats = t.html(("home.seats", args! { seats: sailing * 9 }));
        let link = t.path(format!("/sailings/{sailing}"));
        let book = t.html("home.book");
        let _ = write!(page, "<tr><td>{departs}<td>{route}<td>{seats}<td><a href=\"{link}\">{book}</a>");
    }
    page.push_str("</table></html>");
    Html(page)
}

async fn serve<S>(app: S) -> Result<u16>
where
    S: Service<Request<Body>, Response = Response<Body>, Error = Infallible> + Clone + Send + 'static,
    S::Future: Send,
{
    let listener = TcpListener::bind(("127.0.0.1", 0)).await?;
    let port = listener.local_addr()?.port();
    tokio::spawn(async move { axum::serve(listener, app.into_make_service()).await });
    Ok(port)
}
