//! What a translator knows of its request.

use std::sync::Arc;

use crow_fly_core::policy::{Decision, Outcome};
use http::uri::PathAndQuery;

use crate::inspector::Entry;

/// What a translator knows of its request.
#[derive(Debug)]
pub(crate) struct RequestFacts {
    pub(super) decision: Box<Decision>,
    /// As it came.
    address: Address,
    /// Where its texts are noted.
    pub(super) entry: Option<Arc<Entry>>,
}

/// A path, and a query where there is one.
#[derive(Debug)]
pub(crate) enum Address {
    /// Shared with the request.
    Shared(PathAndQuery),
    /// The path, and the query behind it, with its `?`.
    Copied { text: String, path_length: usize },
}

impl Address {
    pub(crate) fn copied(path: &str, query: Option<&str>) -> Self {
        Self::Copied { text: with_query(path, query), path_length: path.len() }
    }

    fn path(&self) -> &str {
        match self {
            Self::Shared(shared) => shared.path(),
            Self::Copied { text, path_length } => text.get(..*path_length).unwrap_or_default(),
        }
    }

    fn query(&self) -> Option<&str> {
        match self {
            Self::Shared(shared) => shared.query(),
            Self::Copied { text, path_length } => text.get(path_length + 1..),
        }
    }
}

impl RequestFacts {
    pub(crate) const fn new(decision: Box<Decision>, address: Address, entry: Option<Arc<Entry>>) -> Self {
        Self { decision, address, entry }
    }

    /// The path the application is asked for.
    pub(crate) fn path(&self) -> &str {
        match &self.decision.outcome {
            Outcome::Serve(path) => path,
            _ => self.original_path(),
        }
    }

    /// The path as it came.
    pub(super) fn original_path(&self) -> &str {
        self.address.path()
    }

    pub(super) fn query(&self) -> Option<&str> {
        self.address.query()
    }
}

/// A path with a query behind it.
pub(crate) fn with_query(path: &str, query: Option<&str>) -> String {
    let Some(query) = query else { return path.to_owned() };
    let mut address = String::with_capacity(path.len() + 1 + query.len());
    address.push_str(path);
    address.push('?');
    address.push_str(query);
    address
}

#[test]
fn an_address_that_is_shared_is_the_same_as_one_that_is_copied() {
    for text in ["/", "/cy", "/cy/sailings?day=2", "/?", "/x?a=1&b=%20?", "/%C5%BC", "*"] {
        let shared = PathAndQuery::from_static(text);
        let copied = Address::copied(shared.path(), shared.query());
        let shared = Address::Shared(shared);
        assert_eq!((shared.path(), shared.query()), (copied.path(), copied.query()), "{text}");
        let written = with_query(copied.path(), copied.query());
        assert_eq!(written, text);
    }
}
