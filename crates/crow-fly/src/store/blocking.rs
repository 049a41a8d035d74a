//! Work that blocks, on threads that may: one at a time for each place, and not too many that hang.

use std::collections::HashSet;
use std::pin::pin;
use std::sync::{Arc, Mutex, PoisonError};

use tokio::sync::Notify;

/// How many places may be worked at, or hang, at the same time: no more threads of the application are held by a disk that
/// does not answer.
const MOST: usize = 64;

/// The places that are being worked at.
#[derive(Clone, Debug, Default)]
pub(super) struct Blocking(Arc<Places>);

#[derive(Debug, Default)]
struct Places {
    taken: Mutex<HashSet<String>>,
    freed: Notify,
}

/// The turn of one place: given back when it is dropped, by the thread that has done the work.
#[derive(Debug)]
pub(super) struct Turn {
    places: Arc<Places>,
    place: String,
}

impl Drop for Turn {
    fn drop(&mut self) {
        self.places.taken.lock().unwrap_or_else(PoisonError::into_inner).remove(&self.place);
        self.places.freed.notify_waiters();
    }
}

impl Blocking {
    fn try_turn(&self, place: &str) -> Option<Turn> {
        {
            let mut taken = self.0.taken.lock().unwrap_or_else(PoisonError::into_inner);
            if taken.len() >= MOST || !taken.insert(place.to_owned()) {
                return None;
            }
        }
        Some(Turn { places: Arc::clone(&self.0), place: place.to_owned() })
    }

    /// Waits until nobody is at a place. Who does not want to wait for a place that hangs sets a limit.
    pub(super) async fn turn(&self, place: &str) -> Turn {
        loop {
            let mut freed = pin!(self.0.freed.notified());
            // From here on no turn that comes back is missed.
            freed.as_mut().enable();
            if let Some(turn) = self.try_turn(place) {
                return turn;
            }
            freed.await;
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[tokio::test]
    async fn a_place_has_one_turn_and_the_next_waits_for_it() {
        let blocking = Blocking::default();
        let first = blocking.turn("en/home.toml").await;
        assert!(blocking.try_turn("en/home.toml").is_none());
        drop(blocking.turn("cy/home.toml").await);
        let next = tokio::spawn({
            let blocking = blocking.clone();
            async move { drop(blocking.turn("en/home.toml").await) }
        });
        tokio::task::yield_now().await;
        assert!(!next.is_finished());
        drop(first);
        assert!(next.await.is_ok());
    }

    #[tokio::test]
    async fn no_more_than_so_many_hang() {
        let blocking = Blocking::default();
        let hanging: Vec<Turn> =
            (0..MOST).filter_map(|place| blocking.try_turn(&place.to_string())).collect();
        assert_eq!(hanging.len(), MOST);
        assert!(blocking.try_turn("one more").is_none());
        drop(hanging);
        assert!(blocking.try_turn("one more").is_some());
    }
}
