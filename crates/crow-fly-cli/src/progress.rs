//! Progress of long work, on a terminal.

use std::time::Duration;

use indicatif::{ProgressBar, ProgressDrawTarget, ProgressStyle};

/// A bar that counts to a number. It is drawn where errors go to a terminal, once the work takes longer than a moment.
pub(crate) fn bar(count: usize, of: &str) -> ProgressBar {
    // Work on a few things is over before anybody could read it.
    if count < 8 {
        return ProgressBar::hidden();
    }
    let bar = ProgressBar::with_draw_target(Some(count as u64), ProgressDrawTarget::stderr_with_hz(8));
    if let Ok(style) = ProgressStyle::with_template(&format!("{{bar:30}} {{pos}} of {{len}} {of}")) {
        bar.set_style(style);
    }
    bar.enable_steady_tick(Duration::from_millis(250));
    bar
}
