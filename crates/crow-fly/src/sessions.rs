//! Sessions, behind a trait small enough for any session crate.

use std::error::Error;
use std::fmt::Debug;
use std::future::Future;
use std::pin::Pin;

use http::Extensions;

/// What a session holds under a key.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
#[non_exhaustive]
pub enum SessionEntry {
    /// The request has no session.
    #[default]
    NoSession,
    /// The session has no such key.
    Empty,
    /// A text.
    Text(String),
    /// Something else, as an older version or another application may have left it.
    OtherShape,
}

/// A boxed future of a session.
pub type SessionFuture<'a, T> = Pin<Box<dyn Future<Output = T> + Send + 'a>>;

/// Access to the session of a request.
///
/// # Contract
/// - `read` never fails: what cannot be read is [`SessionEntry::NoSession`] or [`SessionEntry::OtherShape`].
/// - `write` keeps the value for later requests of the visitor, or says why it cannot.
pub trait Sessions: Debug + Send + Sync + 'static {
    /// Reads a key.
    fn read<'a>(&'a self, request: &'a Extensions, key: &'a str) -> SessionFuture<'a, SessionEntry>;

    /// Writes a text under a key.
    fn write<'a>(
        &'a self,
        request: &'a Extensions,
        key: &'a str,
        value: &'a str,
    ) -> SessionFuture<'a, Result<(), Box<dyn Error + Send + Sync>>>;
}

/// The sessions of the `tower-sessions` crate, with any of its stores. Its layer must run before Crow Fly's.
#[cfg(feature = "sessions")]
#[derive(Clone, Copy, Debug, Default)]
pub struct TowerSessions;

#[cfg(feature = "sessions")]
impl Sessions for TowerSessions {
    fn read<'a>(&'a self, request: &'a Extensions, key: &'a str) -> SessionFuture<'a, SessionEntry> {
        Box::pin(async move {
            let Some(session) = request.get::<tower_sessions::Session>() else {
                return SessionEntry::NoSession;
            };
            match session.get_value(key).await {
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
    ) -> SessionFuture<'a, Result<(), Box<dyn Error + Send + Sync>>> {
        Box::pin(async move {
            match request.get::<tower_sessions::Session>() {
                Some(session) => session.insert(key, value).await.map_err(Into::into),
                None => Ok(()),
            }
        })
    }
}
