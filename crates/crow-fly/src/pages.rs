//! Pages ahead of time: each page in each language as a file, for a web server or an object store. For sites whose pages are the
//! same for every visitor.

use std::collections::{BTreeMap, BTreeSet};
use std::convert::Infallible;
use std::error::Error;
use std::fmt;
use std::fs;
use std::future::poll_fn;
use std::io;
use std::path::{Component, Path, PathBuf};
use std::pin::Pin;
use std::task::{Context, Poll};

use bytes::Bytes;
use crow_fly_core::catalog::split_key;
use crow_fly_core::locale_set::LocaleId;
use http::{HeaderMap, Request, Response, header};
use http_body::{Body, Frame, SizeHint};
use http_body_util::BodyExt;
use percent_encoding::percent_decode_str;
use tower_service::Service;

use crate::crow_fly::CrowFly;
use crate::store::MissKind;

/// The list of what was written, in the folder of the pages: one path a line.
const LIST: &str = "written-pages.txt";

/// The body of the requests that pages are asked for by: there is none.
#[derive(Clone, Copy, Debug, Default)]
pub struct NoBody;

impl Body for NoBody {
    type Data = Bytes;
    type Error = Infallible;

    fn poll_frame(
        self: Pin<&mut Self>,
        _: &mut Context<'_>,
    ) -> Poll<Option<Result<Frame<Bytes>, Infallible>>> {
        Poll::Ready(None)
    }

    fn is_end_stream(&self) -> bool {
        true
    }

    fn size_hint(&self) -> SizeHint {
        SizeHint::with_exact(0)
    }
}

/// What became of pages that were asked for ahead of time. Made by [`CrowFly::write_pages`].
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct WrittenPages {
    pages: BTreeMap<String, Outcome>,
    removed: Vec<String>,
}

/// What became of one page.
#[derive(Clone, Debug, PartialEq, Eq)]
enum Outcome {
    /// Written, new or with another content than before.
    Written(String),
    /// The file is as it was.
    Unchanged(String),
    /// Not written, and why.
    Refused(String),
}

impl WrittenPages {
    /// The files that are new or have changed, below the folder, with `/` between their parts.
    pub fn written(&self) -> impl Iterator<Item = &str> {
        self.pages.values().filter_map(|outcome| match outcome {
            Outcome::Written(file) => Some(file.as_str()),
            _ => None,
        })
    }

    /// The files that are as they were.
    pub fn unchanged(&self) -> impl Iterator<Item = &str> {
        self.pages.values().filter_map(|outcome| match outcome {
            Outcome::Unchanged(file) => Some(file.as_str()),
            _ => None,
        })
    }

    /// The addresses of pages that were not written, each with the reason. The application goes on to answer them.
    pub fn refused(&self) -> impl Iterator<Item = (&str, &str)> {
        self.pages.iter().filter_map(|(address, outcome)| match outcome {
            Outcome::Refused(why) => Some((address.as_str(), why.as_str())),
            _ => None,
        })
    }

    /// The files of an earlier time that are no longer among the pages.
    pub fn removed(&self) -> impl Iterator<Item = &str> {
        self.removed.iter().map(String::as_str)
    }
}

/// One line for each page and each file that was removed.
impl fmt::Display for WrittenPages {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        for (address, outcome) in &self.pages {
            match outcome {
                Outcome::Written(file) => writeln!(f, "{address}: written to {file}")?,
                Outcome::Unchanged(file) => writeln!(f, "{address}: unchanged in {file}")?,
                Outcome::Refused(why) => writeln!(f, "{address}: not written: {why}")?,
            }
        }
        self.removed.iter().try_for_each(|file| writeln!(f, "{file}: removed"))
    }
}

/// Pages ahead of time.
impl CrowFly {
    /// Asks an application for pages, given by their bare paths, in each language, without a network, and writes what it answers
    /// to the path of its address in a folder: `/cy` to `cy/index.html`, `/feed.xml` to `feed.xml`. Drafts are left out.
    ///
    /// A page is refused, with the reason, where its answer is not a 200, sets a cookie, is private or not to be stored, lacks a
    /// text or has one in another language that the configuration does not let fall back, or is in another language than its
    /// address says. A file that is as it was is not written again. Each one is replaced whole. The list `written-pages.txt` in
    /// the folder names what was written: the next time what is no longer written is removed.
    ///
    /// A service that takes one kind of body is given it by `tower`'s `map_request`: `request.map(axum::body::Body::new)`.
    ///
    /// A visitor gets the same page whoever they are: name no page that follows a session. What the first page of a site is,
    /// where the language of `/` is the visitor's, is said in `docs/browser.md`.
    ///
    /// ```
    /// # use axum::{Router, response::Html, routing::get};
    /// # use crow_fly::{source::Memory, Config, CrowFly, Translator};
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
    /// # let folder = std::env::temp_dir().join(format!("crow-fly-pages-{}", std::process::id()));
    /// # let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']")?;
    /// # let crow = CrowFly::new(config, Memory::new([("en", "home", "title = 'Ferries'"), ("cy", "home", "title = 'Llongau'")]));
    /// let site = crow.router(Router::new().route("/trips", get(async |t: Translator| Html(t.text("home.title")))));
    /// let written = crow.write_pages(site, ["/trips"], &folder).await?;
    /// assert_eq!(written.written().collect::<Vec<_>>(), ["cy/trips/index.html", "trips/index.html"]);
    /// assert_eq!(std::fs::read_to_string(folder.join("cy/trips/index.html"))?, "Llongau");
    /// # std::fs::remove_dir_all(folder)?;
    /// # Ok(()) }
    /// ```
    ///
    /// # Errors
    /// Where a file or the folder cannot be written.
    pub async fn write_pages<S, R>(
        &self,
        mut service: S,
        pages: impl IntoIterator<Item = impl AsRef<str>>,
        folder: impl AsRef<Path>,
    ) -> io::Result<WrittenPages>
    where
        S: Service<Request<NoBody>, Response = Response<R>, Error: fmt::Display>,
        R: Body<Error: Into<Box<dyn Error + Send + Sync>>>,
    {
        // What cannot be loaded is missing on the pages that need it.
        let _ = self.load_all().await;
        let _paused = self.site.journal().map(|journal| journal.pause());
        let pages: Vec<String> = pages.into_iter().map(|page| page.as_ref().to_owned()).collect();
        let (policy, mut files, mut outcomes) = (self.site.policy(), BTreeMap::new(), BTreeMap::new());
        for (locale, _) in policy.set().iter().filter(|(locale, _)| !policy.set().is_draft(*locale)) {
            for page in &pages {
                let address = policy.path(locale, page);
                if !policy.uses_path() {
                    let why = "every language has this address: the page depends on the visitor";
                    outcomes.insert(address, Outcome::Refused(why.to_owned()));
                    continue;
                }
                match self.page(&mut service, locale, &address).await {
                    Ok((file, content)) => _ = files.insert(address, (file, content)),
                    Err(why) => _ = outcomes.insert(address, Outcome::Refused(why)),
                }
            }
        }
        let folder = folder.as_ref().to_owned();
        let written = tokio::task::spawn_blocking(move || write(&folder, files)).await;
        let mut written = written.map_err(io::Error::other)??;
        written.pages.extend(outcomes);
        Ok(written)
    }

    /// Asks for one page; gives the path of its file and its content. An error is why there is none.
    async fn page<S, R>(
        &self,
        service: &mut S,
        locale: LocaleId,
        address: &str,
    ) -> Result<(String, Vec<u8>), String>
    where
        S: Service<Request<NoBody>, Response = Response<R>, Error: fmt::Display>,
        R: Body<Error: Into<Box<dyn Error + Send + Sync>>>,
    {
        let config = self.site.config();
        let host = config.origin.as_ref().and_then(|origin| origin.split_once("://"));
        let request = Request::get(config.policy().routes().asked_for(address))
            .header(header::HOST, host.map_or("localhost", |(_, host)| host))
            .body(NoBody)
            .map_err(|error| format!("it is no address: {error}"))?;
        let before = self.missed(locale);
        let failed = |error: &dyn fmt::Display| format!("the application fails: {error}");
        poll_fn(|cx| service.poll_ready(cx)).await.map_err(|error| failed(&error))?;
        let answer = service.call(request).await.map_err(|error| failed(&error))?;
        let (head, body) = answer.into_parts();
        let body = body.collect().await.map_err(|error| failed(&error.into()))?.to_bytes();
        let missed = self.missed(locale);
        if let Some((key, _)) = missed.iter().find(|(key, count)| before.get(*key) != Some(*count)) {
            return Err(format!("`{key}` is missing, or in another language"));
        }
        if head.status != 200 {
            let leads_to = head.headers.get(header::LOCATION).and_then(|to| to.to_str().ok());
            return Err(match leads_to {
                Some(to) => format!("it answers {}, and leads to {to}", head.status),
                None => format!("it answers {}", head.status),
            });
        }
        let tag = config.policy().set().text(locale);
        refusal(&head.headers, tag).map_or(Ok(()), Err)?;
        let is_html = line(&head.headers, "content-type").starts_with("text/html");
        Ok((
            file_of(address, is_html).ok_or("its address has a query, or a name that no file can have")?,
            body.to_vec(),
        ))
    }

    /// How often each text was missing in a locale until now, or was in a language that it may not fall back to.
    fn missed(&self, locale: LocaleId) -> BTreeMap<String, u64> {
        let tag = self.site.policy().set().tag(locale);
        let counts = self.misses();
        let counts = counts.iter().filter(|miss| miss.locale == tag.to_string()).filter(|miss| {
            let section = split_key(&miss.key).map_or("", |(section, _)| section);
            miss.kind != MissKind::FellBack || !self.site.config().may_fall_back(tag, section)
        });
        counts.map(|miss| (miss.key.clone(), miss.count)).collect()
    }
}

/// All lines of a header, in lower case.
fn line(headers: &HeaderMap, name: &str) -> String {
    let lines = headers.get_all(name).iter().filter_map(|value| value.to_str().ok());
    lines.collect::<Vec<_>>().join(", ").to_ascii_lowercase()
}

/// Why an answer is not one for every visitor.
fn refusal(headers: &HeaderMap, tag: &str) -> Option<String> {
    if let Some(cookie) = headers.get(header::SET_COOKIE) {
        let name = cookie.to_str().unwrap_or_default().split('=').next().unwrap_or_default();
        return Some(format!("it sets the cookie `{name}`"));
    }
    let caching = line(headers, "cache-control");
    let directive = |name: &str| caching.split(',').any(|one| one.trim().split('=').next() == Some(name));
    if directive("private") {
        return Some("it is private".to_owned());
    }
    if directive("no-store") {
        return Some("it is not to be stored: `Cache-Control: no-store`".to_owned());
    }
    if headers.contains_key(header::CONTENT_ENCODING) {
        return Some("it is compressed".to_owned());
    }
    let language = headers.get(header::CONTENT_LANGUAGE).and_then(|value| value.to_str().ok());
    let other = language.filter(|language| !language.split(',').any(|one| one.trim() == tag))?;
    Some(format!("it is in `{other}`"))
}

/// The path of the file of an address, with `/` between its parts; none where there can be none.
fn file_of(address: &str, is_html: bool) -> Option<String> {
    let path = address.split(['?', '#']).next()?;
    if path != address {
        return None;
    }
    let path = percent_decode_str(path).decode_utf8().ok()?;
    let path = path.trim_matches('/');
    let is_plain =
        |part: &str| !matches!(part, "" | "." | "..") && !part.contains(['\\', '\0', ':', '\n', '\r']);
    if !path.is_empty() && !path.split('/').all(is_plain) {
        return None;
    }
    let has_end = Path::new(path).extension().is_some_and(|end| end == "html" || end == "htm");
    match (path, is_html && !has_end) {
        ("", true) => Some("index.html".to_owned()),
        (path, true) => Some(format!("{path}/index.html")),
        ("" | LIST, false) => None,
        (path, false) => Some(path.to_owned()),
    }
}

/// Writes the files of pages, by address, and removes those of an earlier time.
fn write(folder: &Path, files: BTreeMap<String, (String, Vec<u8>)>) -> io::Result<WrittenPages> {
    fs::create_dir_all(folder)?;
    let list = folder.join(LIST);
    let before: BTreeSet<String> = match fs::read_to_string(&list) {
        Ok(text) => text.lines().filter(|file| is_below(file)).map(str::to_owned).collect(),
        Err(error) if error.kind() == io::ErrorKind::NotFound => BTreeSet::new(),
        Err(error) => return Err(error),
    };
    let now: BTreeSet<String> = files.values().map(|(file, _)| file.clone()).collect();
    // The list has all that may be there: what is stopped in the middle is known the next time.
    write_list(&list, before.union(&now))?;
    let mut written = WrittenPages::default();
    for (address, (file, content)) in files {
        let path = folder.join(&file);
        if fs::read(&path).is_ok_and(|old| old == content) {
            written.pages.insert(address, Outcome::Unchanged(file));
            continue;
        }
        if let Some(parent) = path.parent() {
            fs::create_dir_all(parent)?;
        }
        replace(&path, &content)?;
        written.pages.insert(address, Outcome::Written(file));
    }
    for file in before.difference(&now) {
        match fs::remove_file(folder.join(file)) {
            Ok(()) => written.removed.push(file.clone()),
            Err(error) if error.kind() == io::ErrorKind::NotFound => {}
            Err(error) => return Err(error),
        }
    }
    write_list(&list, now.iter())?;
    Ok(written)
}

/// Whether a path of the list leads to a file below the folder.
fn is_below(file: &str) -> bool {
    let mut parts = Path::new(file).components();
    !file.is_empty() && file != LIST && parts.all(|part| matches!(part, Component::Normal(_)))
}

fn write_list<'f>(list: &Path, files: impl Iterator<Item = &'f String>) -> io::Result<()> {
    let text = files.fold(String::new(), |text, file| text + file + "\n");
    if fs::read_to_string(list).is_ok_and(|old| old == text) {
        return Ok(());
    }
    replace(list, text.as_bytes())
}

/// Replaces a file whole: who reads it meanwhile has the one of before.
fn replace(path: &Path, content: &[u8]) -> io::Result<()> {
    let mut beside = path.as_os_str().to_owned();
    beside.push(".new");
    let beside = PathBuf::from(beside);
    let wrong = |error: io::Error| io::Error::new(error.kind(), format!("{}: {error}", path.display()));
    fs::write(&beside, content).and_then(|()| fs::rename(&beside, path)).map_err(wrong)
}
