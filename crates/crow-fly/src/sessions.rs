//! Sessions, behind a trait small enough for any session crate.

use std::error::Error;
use std::fmt::Debug;
use std::future::Future;
use std::pin::Pin;
use std::sync::Arc;

use http::Extensions;

/// The boxed future of a hook.
pub type HookFuture<'a, T> = Pin<Box<dyn Future<Output = T> + Send + 'a>>;

/// What a session holds under a key.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
#[non_exhaustive]
pub enum SessionEntry {
    /// The request has no session.
    #[default]
    NoSession,
    /// The layer of sessions has not run for the request: as [`NoSession`](Self::NoSession), and it is logged once.
    NoLayer,
    /// The session has no such key.
    Empty,
    /// A text.
    Text(String),
    /// Something else, as an older version or another application may have left it.
    OtherShape,
}

/// The keys of a session that are to be read.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct SessionKeys {
    locale: Arc<str>,
    time_zone: Option<Arc<str>>,
}

impl SessionKeys {
    pub(crate) const fn new(locale: Arc<str>, time_zone: Option<Arc<str>>) -> Self {
        Self { locale, time_zone }
    }

    /// The key of the locale.
    pub fn locale(&self) -> &str {
        &self.locale
    }

    /// The key of the time zone, where sessions are asked for one.
    pub fn time_zone(&self) -> Option<&str> {
        self.time_zone.as_deref()
    }
}

/// What a session holds under the keys that were to be read.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct SessionEntries {
    pub(crate) locale: SessionEntry,
    pub(crate) time_zone: SessionEntry,
}

impl SessionEntries {
    /// What is under the key of the locale.
    pub const fn new(locale: SessionEntry) -> Self {
        Self { locale, time_zone: SessionEntry::NoSession }
    }

    /// Adds what is under the key of the time zone.
    #[must_use]
    pub fn with_time_zone(mut self, time_zone: SessionEntry) -> Self {
        self.time_zone = time_zone;
        self
    }

    /// Whether the request has a session.
    pub fn is_there(&self) -> bool {
        let is_there =
            |entry: &SessionEntry| !matches!(entry, SessionEntry::NoSession | SessionEntry::NoLayer);
        is_there(&self.locale) || is_there(&self.time_zone)
    }
}

/// Access to the session of a request.
///
/// # Contract
/// - `read` never fails, and never creates or touches a session: what cannot be read is [`SessionEntry::NoSession`]
///   or [`SessionEntry::OtherShape`]; where the layer of sessions has not run, [`SessionEntry::NoLayer`]. A session that nothing has been put into yet counts as none.
/// - `write` keeps the value for later requests of the visitor, or says why it cannot. It is called at a visitor's
///   choice, where `read` has found a session, and never otherwise.
pub trait Sessions: Debug + Send + Sync + 'static {
    /// Reads a key.
    fn read<'a>(&'a self, request: &'a Extensions, key: &'a str) -> HookFuture<'a, SessionEntry>;

    /// Writes a text under a key.
    fn write<'a>(
        &'a self,
        request: &'a Extensions,
        key: &'a str,
        value: &'a str,
    ) -> HookFuture<'a, Result<(), Box<dyn Error + Send + Sync>>>;
}

/// The sessions of the `tower-sessions` crate, with any of its stores. Its layer must run before Crow Fly's.
#[cfg(feature = "sessions")]
#[derive(Clone, Copy, Debug, Default)]
pub struct TowerSessions;

#[cfg(feature = "sessions")]
impl Sessions for TowerSessions {
    fn read<'a>(&'a self, request: &'a Extensions, key: &'a str) -> HookFuture<'a, SessionEntry> {
        Box::pin(async move {
            let Some(session) = request.get::<tower_sessions::Session>() else {
                return SessionEntry::NoLayer;
            };
            match session.get_value(key).await {
                Ok(None) if session.is_empty().await => SessionEntry::NoSession,
                Ok(None) => SessionEntry::Empty,
                Ok(Some(serde_json::Value::String(text))) => SessionEntry::Text(text),
                Ok(Some(_)) => SessionEntry::OtherShape,
                Err(error) => {
                    tracing::warn!(target: "crow_fly::sessions", %error, "the session cannot be read");
                    SessionEntry::NoSession
                }
            }
        })
    }

    fn write<'a>(
        &'a self,
        request: &'a Extensions,
        key: &'a str,
        value: &'a str,
    ) -> HookFuture<'a, Result<(), Box<dyn Error + Send + Sync>>> {
        Box::pin(async move {
            match request.get::<tower_sessions::Session>() {
                Some(session) => session.insert(key, value).await.map_err(Into::into),
                None => Ok(()),
            }
        })
    }
}
