//! Catalogs from a web server.

use std::sync::{Arc, Mutex, PoisonError};
use std::time::Duration;

use reqwest::header::{ACCEPT, ETAG, HeaderValue, IF_MODIFIED_SINCE, IF_NONE_MATCH, LAST_MODIFIED};
use reqwest::{Client, Response, StatusCode, Url};

use super::{Answer, CatalogSource, Changed, ListedFile, Listing, SourceError, Watching};
use crate::release::{ListedFiles, Manifest, ManifestFile};

/// Catalogs that a web server has as files, with a [`Manifest`] of them: what `crow-fly release show --format manifest` prints.
///
/// The manifest is asked for again every half a minute, by a conditional request (RFC 9110, section 13): an unchanged one
/// is answered by a status line. A file is asked for when it is needed, and checked by its hash. Files that change keep
/// their paths: on the server, put changed files first, and the manifest last.
///
/// The client is the application's, of the `reqwest` crate: with its TLS, its proxies and headers. Answers may be
/// compressed by gzip.
///
/// ```no_run
/// use crow_fly::source::Http;
///
/// let client = reqwest::Client::new();
/// let catalogs = Http::new(client, "http://texts.ferries.example/catalogs/manifest.json")?;
/// # Ok::<(), crow_fly::source::SourceError>(())
/// ```
#[derive(Clone, Debug)]
pub struct Http {
    client: Client,
    manifest: Url,
    timeout: Duration,
    interval: Duration,
    /// The manifest as it came last.
    last: Arc<Mutex<Option<Arc<Last>>>>,
}

#[derive(Debug)]
struct Last {
    files: ListedFiles,
    /// What tells the server which one it was.
    etag: Option<HeaderValue>,
    modified: Option<HeaderValue>,
}

impl Http {
    /// The catalogs of a manifest at an address; the paths in it are relative to that.
    ///
    /// # Errors
    /// Where the address is not a URL with a scheme and a host.
    pub fn new(client: Client, manifest: &str) -> Result<Self, SourceError> {
        let wrong = |cause: Box<dyn std::error::Error + Send + Sync>| SourceError::new(manifest, cause);
        let url = Url::parse(manifest).map_err(|error| wrong(error.into()))?;
        if url.cannot_be_a_base() || !url.has_host() {
            return Err(wrong("it is not the address of a web server".into()));
        }
        Ok(Self {
            client,
            manifest: url,
            timeout: Duration::from_secs(10),
            interval: Duration::from_secs(30),
            last: Arc::default(),
        })
    }

    /// Waits this long for an answer to each request; ten seconds by default.
    #[must_use]
    pub const fn with_timeout(mut self, timeout: Duration) -> Self {
        self.timeout = timeout;
        self
    }

    /// Asks for the manifest this often; every thirty seconds by default.
    #[must_use]
    pub const fn polled_every(mut self, interval: Duration) -> Self {
        self.interval = interval;
        self
    }

    fn last(&self) -> Option<Arc<Last>> {
        self.last.lock().unwrap_or_else(PoisonError::into_inner).clone()
    }

    async fn list(&self, locales: &[String]) -> Result<Listing, SourceError> {
        let last = self.last();
        let mut request =
            self.client.get(self.manifest.clone()).timeout(self.timeout).header(ACCEPT, "application/json");
        if let Some(last) = &last {
            let conditions = [(IF_NONE_MATCH, &last.etag), (IF_MODIFIED_SINCE, &last.modified)];
            for (name, value) in conditions {
                if let Some(value) = value {
                    request = request.header(name, value);
                }
            }
        }
        let answer = request.send().await.map_err(|error| wrong(&self.manifest, error))?;
        if let Some(last) = last.filter(|_| answer.status() == StatusCode::NOT_MODIFIED) {
            return Ok(self.listing(&last, locales));
        }
        let header = |name| answer.headers().get(name).cloned();
        let (etag, modified) = (header(ETAG), header(LAST_MODIFIED));
        let json = Self::body(answer, &self.manifest, Manifest::MAX_LENGTH).await?;
        let manifest = Manifest::from_json(&json).map_err(|error| wrong(&self.manifest, error))?;
        let last = Arc::new(Last { files: ListedFiles::of(&manifest), etag, modified });
        let listing = self.listing(&last, locales);
        *self.last.lock().unwrap_or_else(PoisonError::into_inner) = Some(last);
        Ok(listing)
    }

    fn listing(&self, last: &Last, locales: &[String]) -> Listing {
        let place = self.manifest.join(".").map(String::from).unwrap_or_default();
        last.files.listing(locales, &place)
    }

    fn address(&self, file: &ManifestFile) -> Result<Url, SourceError> {
        self.manifest.join(file.path()).map_err(|error| SourceError::new(file.path(), error))
    }

    async fn read(&self, listed: &ListedFile) -> Result<Vec<u8>, SourceError> {
        let found = self.last().and_then(|last| last.files.get(listed).cloned());
        let file = found.ok_or_else(|| SourceError::changed(listed.origin()))?;
        let address = self.address(&file)?;
        let request = self.client.get(address.clone()).timeout(self.timeout);
        let answer = request.send().await.map_err(|error| wrong(&address, error))?;
        if matches!(answer.status(), StatusCode::NOT_FOUND | StatusCode::GONE) {
            return Err(SourceError::changed(address));
        }
        let bytes = Self::body(answer, &address, listed.most_bytes()).await?;
        // There may be another file by now, whose manifest is still to come.
        file.verify(&bytes).map_err(|_| SourceError::changed(address))?;
        Ok(bytes)
    }

    /// The body of an answer, up to a length that is counted after decompression.
    async fn body(mut answer: Response, address: &Url, most: usize) -> Result<Vec<u8>, SourceError> {
        if answer.status() != StatusCode::OK {
            return Err(wrong(address, format!("the server has answered {}", answer.status())));
        }
        let mut bytes = Vec::new();
        while let Some(chunk) = answer.chunk().await.map_err(|error| wrong(address, error))? {
            if bytes.len() + chunk.len() > most {
                return Err(wrong(address, format!("it has more than {most} bytes")));
            }
            bytes.extend_from_slice(&chunk);
        }
        Ok(bytes)
    }
}

fn wrong(address: &Url, cause: impl Into<Box<dyn std::error::Error + Send + Sync>>) -> SourceError {
    let cause = cause.into();
    let is_late = cause.downcast_ref::<reqwest::Error>().is_some_and(reqwest::Error::is_timeout);
    if is_late { SourceError::hanging(address.as_str()) } else { SourceError::new(address.as_str(), cause) }
}

impl CatalogSource for Http {
    fn list<'a>(&'a self, locales: &'a [String]) -> Answer<'a, Listing> {
        Answer::waiting(async move { Self::list(self, locales).await })
    }

    fn read(&self, file: &ListedFile) -> Answer<'_, Vec<u8>> {
        let file = file.clone();
        Answer::waiting(async move { Self::read(self, &file).await })
    }

    fn watch(&self, _: Changed) -> Option<Watching> {
        // It is polled, in development as well.
        Some(Box::new(()))
    }

    fn poll_interval(&self) -> Option<Duration> {
        Some(self.interval)
    }
}
