//! What a load may be in, and what follows from what happens: a pure function, without clock or tasks.

use std::time::Duration;

/// The state of one load: of a section, or of a listing.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub(super) enum State {
    /// Nobody has asked for it.
    #[default]
    Idle,
    /// A task is at it, after so many failures.
    Loading { failures: u32, since: Duration },
    /// It is there.
    Done,
    /// It has failed so many times, and is tried again at a time.
    Failed { failures: u32, retry_at: Duration },
}

/// What happens to a load.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) enum Event {
    /// Somebody asks for it.
    Wanted,
    /// The task has it.
    Succeeded,
    /// The task cannot have it. The number, from 0 to 1, spreads the retries of many machines.
    Failed { jitter: f64 },
    /// The task has ended without an answer: its runtime is gone.
    Abandoned,
    /// What is there is no longer wanted, or out of date.
    Forgotten,
}

/// What is to be done.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Action {
    Nothing,
    /// Start a task.
    Start,
    /// Wait for the task that is at it.
    Join,
    /// Say that it has failed: it is not tried at once.
    Refuse,
    /// Try again after this time.
    RetryIn(Duration),
}

/// The pause after the first failure; it doubles with each.
pub(super) const FIRST_PAUSE: Duration = Duration::from_secs(1);

/// The longest pause.
pub(super) const LONGEST_PAUSE: Duration = Duration::from_mins(1);

impl State {
    /// What the state becomes, and what is to be done. Times are counted from the start of the program.
    pub(super) fn next(self, event: Event, now: Duration) -> (Self, Action) {
        match (self, event) {
            (Self::Idle, Event::Wanted) => (Self::Loading { failures: 0, since: now }, Action::Start),
            (Self::Loading { .. }, Event::Wanted) => (self, Action::Join),
            (Self::Failed { failures, retry_at }, Event::Wanted) if now >= retry_at => {
                (Self::Loading { failures, since: now }, Action::Start)
            }
            (Self::Failed { .. }, Event::Wanted) => (self, Action::Refuse),
            (Self::Loading { .. }, Event::Succeeded) => (Self::Done, Action::Nothing),
            (Self::Loading { failures, .. }, Event::Failed { jitter }) => {
                let pause = pause(failures, jitter);
                let failed = Self::Failed { failures: failures.saturating_add(1), retry_at: now + pause };
                (failed, Action::RetryIn(pause))
            }
            (Self::Loading { failures: 0, .. }, Event::Abandoned) | (Self::Done, Event::Forgotten) => {
                (Self::Idle, Action::Nothing)
            }
            (Self::Loading { failures, .. }, Event::Abandoned)
            | (Self::Failed { failures, .. }, Event::Forgotten) => {
                (Self::Failed { failures, retry_at: now }, Action::Nothing)
            }
            _ => (self, Action::Nothing),
        }
    }
}

/// The pause after a failure that so many came before: it doubles up to a minute, less up to a half by jitter.
pub(super) fn pause(failures: u32, jitter: f64) -> Duration {
    let longest = FIRST_PAUSE.saturating_mul(1 << failures.min(6)).min(LONGEST_PAUSE);
    longest.mul_f64(1.0 - jitter.clamp(0.0, 1.0) / 2.0)
}

#[cfg(test)]
mod tests {
    use super::*;

    const NOW: Duration = Duration::from_secs(100);

    const EVENTS: [Event; 5] =
        [Event::Wanted, Event::Succeeded, Event::Failed { jitter: 0.5 }, Event::Abandoned, Event::Forgotten];

    /// Every state, with times before, at and after now.
    fn states() -> Vec<State> {
        let mut states = vec![State::Idle, State::Done];
        for failures in [0, 1, 5, 6, 7, 40, u32::MAX] {
            for time in [99, 100, 101].map(Duration::from_secs) {
                states.push(State::Loading { failures, since: time });
                states.push(State::Failed { failures, retry_at: time });
            }
        }
        states
    }

    fn is_loading(state: State) -> bool {
        matches!(state, State::Loading { .. })
    }

    #[test]
    fn every_state_and_event_keeps_the_rules() {
        for state in states() {
            for event in EVENTS {
                let (next, action) = state.next(event, NOW);
                let told = format!("{state:?} {event:?} -> {next:?} {action:?}");
                // One task at a time: it is started where none is, and only where somebody asks.
                assert_eq!(action == Action::Start, !is_loading(state) && is_loading(next), "{told}");
                assert!(action != Action::Start || event == Event::Wanted, "{told}");
                // Whoever asks gets an answer: there, started, joined, or refused for a while.
                if event == Event::Wanted {
                    let answer = match state {
                        State::Done => Action::Nothing,
                        State::Loading { .. } => Action::Join,
                        State::Failed { retry_at, .. } if retry_at > NOW => Action::Refuse,
                        State::Idle | State::Failed { .. } => Action::Start,
                    };
                    assert_eq!(action, answer, "{told}");
                }
                // What is there stays until it is forgotten; a task's answer counts only while it is at it.
                assert!(state != State::Done || next == State::Done || event == Event::Forgotten, "{told}");
                assert!(next != State::Done || state == State::Done || is_loading(state), "{told}");
                // A failure is counted, and tried again later, however often it has failed.
                if let (State::Loading { failures, .. }, Event::Failed { .. }) = (state, event) {
                    let State::Failed { failures: counted, retry_at } = next else { panic!("{told}") };
                    assert_eq!(
                        (counted, action),
                        (failures.saturating_add(1), Action::RetryIn(retry_at.saturating_sub(NOW)))
                    );
                    assert!(retry_at > NOW && retry_at <= NOW + LONGEST_PAUSE, "{told}");
                }
                // An abandoned load can be started at once, and so can one that is out of date.
                let was_loading = is_loading(state);
                if (was_loading && event == Event::Abandoned) || (!was_loading && event == Event::Forgotten) {
                    assert_eq!(next.next(Event::Wanted, NOW).1, Action::Start, "{told}");
                }
            }
        }
    }

    #[test]
    fn pauses_double_up_to_a_minute_and_are_spread() {
        let longest: Vec<u64> = (0..9).map(|failures| pause(failures, 0.0).as_secs()).collect();
        assert_eq!(longest, [1, 2, 4, 8, 16, 32, 60, 60, 60]);
        for failures in 0..9 {
            let (longest, shortest) = (pause(failures, 0.0), pause(failures, 1.0));
            assert_eq!(shortest * 2, longest);
            assert!((shortest..=longest).contains(&pause(failures, 0.3)));
            assert_eq!((pause(failures, -1.0), pause(failures, 7.0)), (longest, shortest));
        }
    }
}
