//! The layer under load: one application served twice on loopback, with the layer, and without it, always with the
//! translator of one request.
//!
//! Both servers stand in this process, and one client asks them in turns, so that what else the machine does falls on
//! both alike.

use std::convert::Infallible;
use std::fmt::Write as _;
use std::time::{Duration, Instant};

use anyhow::{Context, Result};
use axum::body::Body;
use axum::response::Html;
use axum::routing::get;
use axum::{Extension, Router, ServiceExt as _};
use crow_fly::source::Memory;
use crow_fly::{Config, CrowFly, Html as SafeHtml, Translator, args};
use http::{Request, Response};
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::net::{TcpListener, TcpStream};
use tokio::runtime::{Builder, Handle};
use tower::{ServiceExt as _, service_fn};
use tower_layer::Layer as _;
use tower_service::Service;

/// Connections that are kept open, each with one request at a time.
const CONNECTIONS: usize = 64;
/// Turns, of which the medians are compared.
const ROUNDS: usize = 41;
const ROUND: Duration = Duration::from_millis(250);

/// A request as a browser sends it, its cookies and all.
const REQUEST: &[u8] = b"GET /sailings/7?boat=Curlew HTTP/1.1\r\nHost: ferries.example\r\n\
    User-Agent: Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36\r\nAccept: text/html,application/xhtml+xml\r\n\
    Accept-Language: cy,en-GB;q=0.8,en;q=0.5\r\nAccept-Encoding: gzip, deflate, br\r\n\
    Cookie: session=0123456789abcdef; theme=dark; locale=cy; consent=all\r\n\r\n";

pub(crate) fn run() -> Result<()> {
    let server = Builder::new_multi_thread().worker_threads(1).enable_all().build()?;
    let client = Builder::new_current_thread().enable_all().build()?;
    let crow = crow()?;
    let translator = client.block_on(translator_of_a_request(&crow))?;
    let without = server.block_on(serve(pages().layer(Extension(translator))))?;
    let with = [
        ("the layer", server.block_on(serve(crow.layer().layer(pages())))?),
        ("the layer in a router", server.block_on(serve(crow.router(pages())))?),
    ];
    for (name, with) in with {
        let (mut ours, mut baseline) = (Vec::new(), Vec::new());
        for _ in 0..ROUNDS {
            ours.push(client.block_on(round(server.handle(), with))?);
            baseline.push(client.block_on(round(server.handle(), without))?);
        }
        compare(name, "requests/s", &ours, &baseline, |round| round.per_second);
        compare(name, "µs of CPU a request", &ours, &baseline, |round| round.cpu);
    }
    Ok(())
}

/// Prints a figure of both sides. Pairs of neighbours are compared: the machine's pace changes from minute to minute.
fn compare(name: &str, unit: &str, ours: &[Round], baseline: &[Round], figure: impl Fn(&Round) -> f64) {
    let ratio = median(ours.iter().zip(baseline).map(|(ours, other)| figure(ours) / figure(other)).collect());
    if ratio.is_nan() {
        return;
    }
    let of = |rounds: &[Round]| median(rounds.iter().map(&figure).collect());
    println!("with {name} {:.1} {unit}, without {:.1}: {ratio:.3}", of(ours), of(baseline));
}

/// What the requests of a round have shown.
struct Round {
    per_second: f64,
    /// For how many microseconds the server's thread was running, for each request; no number where the system does not
    /// tell.
    cpu: f64,
}

/// The application's languages and texts.
pub(super) fn crow() -> Result<CrowFly> {
    let config = Config::parse("default = 'en'\nlocales = ['en', 'en-GB', 'cy', 'pl', 'ar']")?;
    Ok(CrowFly::new(config, Memory::new([("en", "home", TEXTS)])))
}

/// The translator that the layer makes for the request, so that the page has the same work without the layer.
pub(super) async fn translator_of_a_request(crow: &CrowFly) -> Result<Translator> {
    let inner = service_fn(|request: Request<Body>| async move {
        let mut answer = Response::<Body>::default();
        answer.extensions_mut().extend(request.into_parts().0.extensions);
        Ok::<_, Infallible>(answer)
    });
    let request =
        Request::get("/sailings/7?boat=Curlew").header("accept-language", "cy,en-GB;q=0.8,en;q=0.5");
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
pub(super) fn pages() -> Router {
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

pub(super) async fn serve<S>(app: S) -> Result<u16>
where
    S: Service<Request<Body>, Response = Response<Body>, Error = Infallible> + Clone + Send + 'static,
    S::Future: Send,
{
    let listener = TcpListener::bind(("127.0.0.1", 0)).await?;
    let port = listener.local_addr()?.port();
    tokio::spawn(async move { axum::serve(listener, app.into_make_service()).await });
    Ok(port)
}

/// Asks on all connections for the time of a round.
#[allow(clippy::cast_precision_loss, reason = "figures for people")]
async fn round(server: &Handle, port: u16) -> Result<Round> {
    let cpu = server.spawn(async { thread_micros() }).await?;
    let start = Instant::now();
    let visitors: Vec<_> = (0..CONNECTIONS).map(|_| tokio::spawn(visit(port, start + ROUND))).collect();
    let mut answers = 0;
    for visitor in visitors {
        answers += visitor.await??;
    }
    let (answers, seconds) = (answers as f64, start.elapsed().as_secs_f64());
    let cpu = server.spawn(async { thread_micros() }).await? - cpu;
    Ok(Round { per_second: answers / seconds, cpu: cpu / answers })
}

/// For how many microseconds this thread has been running: the server has one.
fn thread_micros() -> f64 {
    let line = std::fs::read_to_string("/proc/thread-self/schedstat").unwrap_or_default();
    let nanoseconds: Option<f64> = line.split(' ').next().and_then(|figure| figure.parse().ok());
    nanoseconds.map_or(f64::NAN, |figure| figure / 1000.0)
}

/// One connection: asks, reads the whole answer, asks again.
async fn visit(port: u16, end: Instant) -> Result<u64> {
    let mut connection = TcpStream::connect(("127.0.0.1", port)).await?;
    let mut buffer = vec![0; 1 << 16];
    let mut answers = 0;
    while Instant::now() < end {
        ask(&mut connection, &mut buffer).await?;
        answers += 1;
    }
    Ok(answers)
}

/// One request, and its whole answer.
pub(super) async fn ask(connection: &mut TcpStream, buffer: &mut [u8]) -> Result<()> {
    connection.write_all(REQUEST).await?;
    let mut read = 0;
    loop {
        read += connection.read(buffer.get_mut(read..).context("the answer is too long")?).await?;
        if is_whole(buffer.get(..read).unwrap_or_default())? {
            return Ok(());
        }
    }
}

/// Whether all of an answer is there; one that is not a page is an error.
fn is_whole(answer: &[u8]) -> Result<bool> {
    let Some(end) = answer.windows(4).position(|bytes| bytes == b"\r\n\r\n") else { return Ok(false) };
    let head = std::str::from_utf8(answer.get(..end).unwrap_or_default())?;
    anyhow::ensure!(head.starts_with("HTTP/1.1 200"), "an answer that is not a page: {head}");
    let length = head.lines().find_map(|line| line.strip_prefix("content-length: "));
    let length: usize = length.context("an answer without length")?.parse()?;
    Ok(answer.len() >= end + 4 + length)
}

fn median(mut figures: Vec<f64>) -> f64 {
    figures.sort_by(f64::total_cmp);
    figures.get(figures.len() / 2).copied().unwrap_or_default()
}
