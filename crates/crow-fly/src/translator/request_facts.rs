//! What a translator knows of its request.

use std::sync::Arc;

use crow_fly_core::policy::{Decision, Outcome};
use smallvec::SmallVec;

use crate::journal::Entry;

/// What a translator knows of its request.
#[derive(Debug)]
pub(crate) struct RequestFacts {
    pub(super) decision: Box<Decision>,
    /// The path as it came, and the query behind it, with its `?`: most are short. It is a copy: a part of the request
    /// itself would keep all that a server has read with it in memory, as long as the translator lives.
    address: SmallVec<[u8; 64]>,
    path_length: usize,
    /// Where its texts are noted.
    pub(super) entry: Option<Arc<Entry>>,
}

impl RequestFacts {
    pub(crate) fn new(
        decision: Box<Decision>,
        path: &str,
        query: Option<&str>,
        entry: Option<Arc<Entry>>,
    ) -> Self {
        let mut address = SmallVec::from_slice(path.as_bytes());
        if let Some(query) = query {
            address.push(b'?');
            address.extend_from_slice(query.as_bytes());
        }
        Self { decision, address, path_length: path.len(), entry }
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
        self.address.get(..self.path_length).map_or("", text)
    }

    pub(super) fn query(&self) -> Option<&str> {
        self.address.get(self.path_length + 1..).map(text)
    }
}

/// A part of the address, which was made of texts.
fn text(bytes: &[u8]) -> &str {
    std::str::from_utf8(bytes).unwrap_or_default()
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
