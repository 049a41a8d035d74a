//! What a translator knows of its request.

use std::sync::Arc;

use crow_fly_core::policy::{Decision, Outcome};
use http::uri::PathAndQuery;

use crate::inspector::Entry;
use crate::web::exchange::RequestHead;

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
enum Address {
    /// Shared with the request.
    Shared(PathAndQuery),
    /// The path, and the query behind it, with its `?`.
    Copied { text: String, path_length: usize },
}

impl RequestFacts {
    pub(crate) fn new(decision: Box<Decision>, head: &impl RequestHead, entry: Option<Arc<Entry>>) -> Self {
        let copied = || {
            let path = head.path();
            Address::Copied { text: with_query(path, head.query()), path_length: path.len() }
        };
        let address = head.path_and_query().map_or_else(copied, Address::Shared);
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
        match &self.address {
            Address::Shared(shared) => shared.path(),
            Address::Copied { text, path_length } => text.get(..*path_length).unwrap_or_default(),
        }
    }

    pub(super) fn query(&self) -> Option<&str> {
        match &self.address {
            Address::Shared(shared) => shared.query(),
            Address::Copied { text, path_length } => text.get(path_length + 1..),
        }
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
