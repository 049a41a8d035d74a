//! A task that runs once for a store, and is started again where it has died with its runtime.

use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Weak};

use super::Inner;

/// What such a task holds. Dropped, the task may be started again.
pub(super) struct Running {
    pub(super) inner: Weak<Inner>,
    flag: fn(&Inner) -> &AtomicBool,
}

impl Running {
    /// For a task whose flag has been set.
    pub(super) fn new(inner: &Arc<Inner>, flag: fn(&Inner) -> &AtomicBool) -> Self {
        Self { inner: Arc::downgrade(inner), flag }
    }
}

impl Drop for Running {
    fn drop(&mut self) {
        if let Some(inner) = self.inner.upgrade() {
            (self.flag)(&inner).store(false, Ordering::Relaxed);
        }
    }
}
