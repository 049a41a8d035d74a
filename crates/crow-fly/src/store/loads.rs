//! Loads that are shared: one task for any number of waiters, finished though all of them leave.

use std::collections::HashMap;
use std::hash::Hash;
use std::sync::{Arc, LazyLock, Mutex, MutexGuard, PoisonError};
use std::time::Duration;

use tokio::sync::watch;
use tokio::time::Instant;

use super::state::{Action, Event, State};

/// The loads of one kind, by key.
#[derive(Debug)]
pub(super) struct Loads<K: Eq + Hash> {
    entries: Mutex<HashMap<K, Load>>,
}

#[derive(Debug, Default)]
struct Load {
    state: State,
    /// Closed when the task has its answer, or is gone.
    waiting: Option<Waiting>,
    /// Why it has failed.
    failure: Option<Failure>,
}

/// Why a load has failed.
#[derive(Clone, Debug)]
pub(super) struct Failure {
    pub(super) text: String,
    /// Whether the source did not answer in time.
    pub(super) hangs: bool,
}

/// Waits for a task: [`over`](Self::over) returns when it has its answer, or is gone.
#[derive(Clone, Debug)]
pub(super) struct Waiting(watch::Receiver<()>);

impl Waiting {
    pub(super) async fn over(mut self) {
        // Nothing is ever sent: the sender is dropped, which is an error here.
        let _ = self.0.changed().await;
    }
}

/// The answer to somebody who wants something.
pub(super) enum Wanted<K: Eq + Hash + Copy> {
    /// It is there.
    Done,
    /// A task must be started, with this.
    Start(Ticket<K>, Waiting),
    /// A task is at it.
    Join(Waiting),
    /// It has failed, and is not tried at once.
    Refused,
}

/// What a task has that is at a load. Dropped without an answer, the load can be started again.
#[derive(Debug)]
pub(super) struct Ticket<K: Eq + Hash + Copy> {
    loads: Arc<Loads<K>>,
    key: K,
    answered: bool,
    _waiters: watch::Sender<()>,
}

/// The time since the program started.
pub(super) fn now() -> Duration {
    static START: LazyLock<Instant> = LazyLock::new(Instant::now);
    let start = *START;
    Instant::now().saturating_duration_since(start)
}

impl<K: Eq + Hash> Default for Loads<K> {
    fn default() -> Self {
        Self { entries: Mutex::default() }
    }
}

impl<K: Eq + Hash + Copy> Loads<K> {
    fn entries(&self) -> MutexGuard<'_, HashMap<K, Load>> {
        self.entries.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Asks for something.
    pub(super) fn want(self: &Arc<Self>, key: K) -> Wanted<K> {
        let mut entries = self.entries();
        let load = entries.entry(key).or_default();
        let (state, action) = load.state.next(Event::Wanted, now());
        load.state = state;
        match (action, &load.waiting) {
            (Action::Start, _) => {
                let (sender, receiver) = watch::channel(());
                let waiting = Waiting(receiver);
                load.waiting = Some(waiting.clone());
                drop(entries);
                let ticket = Ticket { loads: Arc::clone(self), key, answered: false, _waiters: sender };
                Wanted::Start(ticket, waiting)
            }
            (Action::Join, Some(waiting)) => Wanted::Join(waiting.clone()),
            (Action::Nothing, _) => Wanted::Done,
            _ => Wanted::Refused,
        }
    }

    fn happens(&self, key: K, event: Event, failure: Option<Failure>) -> Action {
        let mut entries = self.entries();
        let load = entries.entry(key).or_default();
        let (state, action) = load.state.next(event, now());
        load.state = state;
        if !matches!(state, State::Loading { .. }) {
            load.waiting = None;
        }
        if failure.is_some() || matches!(state, State::Done) {
            load.failure = failure;
        }
        action
    }

    /// Says that what is there is out of date, or no longer wanted.
    pub(super) fn forget(&self, key: K) {
        self.happens(key, Event::Forgotten, None);
    }

    /// Lets everything that has failed be tried again at once.
    pub(super) fn forget_failures(&self) {
        let now = now();
        for load in self.entries().values_mut() {
            if matches!(load.state, State::Failed { .. }) {
                load.state = load.state.next(Event::Forgotten, now).0;
            }
        }
    }

    /// The state of a load, and why it has failed.
    pub(super) fn state(&self, key: K) -> (State, Option<Failure>) {
        let entries = self.entries();
        entries.get(&key).map_or((State::Idle, None), |load| (load.state, load.failure.clone()))
    }

    /// What to wait for where a task is at it.
    pub(super) fn running(&self, key: K) -> Option<Waiting> {
        self.entries().get(&key)?.waiting.clone()
    }

    /// Whether somebody has asked for it and it is not there.
    pub(super) fn is_awaited(&self, key: K) -> bool {
        matches!(self.state(key).0, State::Loading { .. } | State::Failed { .. })
    }
}

impl<K: Eq + Hash + Copy> Ticket<K> {
    /// Says that it is there.
    pub(super) fn succeed(mut self) {
        self.answered = true;
        self.loads.happens(self.key, Event::Succeeded, None);
    }

    /// Says that it cannot be had; returns after what time it is tried again.
    pub(super) fn fail(mut self, failure: Failure) -> Duration {
        self.answered = true;
        let event = Event::Failed { jitter: fastrand::f64() };
        match self.loads.happens(self.key, event, Some(failure)) {
            Action::RetryIn(pause) => pause,
            _ => super::state::LONGEST_PAUSE,
        }
    }
}

impl<K: Eq + Hash + Copy> Drop for Ticket<K> {
    fn drop(&mut self) {
        if !self.answered {
            self.loads.happens(self.key, Event::Abandoned, None);
        }
    }
}
