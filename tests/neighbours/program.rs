//! A program that runs for one test.

use std::collections::BTreeSet;
use std::io::ErrorKind;
use std::net::{TcpListener, TcpStream};
use std::process::{Child, Command, Stdio};
use std::sync::Mutex;
use std::thread::yield_now;
use std::time::{Duration, Instant};

/// A running program; stopped when it is dropped.
pub(crate) struct Program {
    child: Child,
}

impl Program {
    /// Starts a program that is to listen on a port; none, with a word, where it is not installed.
    pub(crate) fn start(command: &mut Command, package: &str, port: u16) -> Option<Self> {
        let child = match command.stdout(Stdio::null()).stderr(Stdio::null()).spawn() {
            Err(error) if error.kind() == ErrorKind::NotFound => {
                assert!(!are_required(), "`{package}` is not installed, and REQUIRE_NEIGHBOURS=1 is set");
                eprintln!("skipped: install the package `{package}` to run this test");
                return None;
            }
            child => child.unwrap(),
        };
        let program = Self { child };
        let limit = Instant::now() + Duration::from_secs(20);
        while TcpStream::connect(("127.0.0.1", port)).is_err() {
            assert!(Instant::now() < limit, "`{package}` does not listen");
            yield_now();
        }
        Some(program)
    }

    pub(crate) fn stop(&mut self) {
        // A program with workers ends them when it is told to end, and leaves them behind when it is killed.
        let _ = Command::new("kill").args(["-TERM", &self.child.id().to_string()]).status();
        let limit = Instant::now() + Duration::from_secs(5);
        while Instant::now() < limit {
            if !matches!(self.child.try_wait(), Ok(None)) {
                return;
            }
            yield_now();
        }
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

impl Drop for Program {
    fn drop(&mut self) {
        self.stop();
    }
}

/// Whether a missing program is a failure: where the machine was to install them all.
fn are_required() -> bool {
    std::env::var_os("REQUIRE_NEIGHBOURS").is_some_and(|value| value == "1")
}

/// A port that nobody uses at the moment, and that no other test was given.
pub(crate) fn free_port() -> u16 {
    static GIVEN: Mutex<BTreeSet<u16>> = Mutex::new(BTreeSet::new());
    loop {
        let port = TcpListener::bind(("127.0.0.1", 0)).unwrap().local_addr().unwrap().port();
        if GIVEN.lock().unwrap().insert(port) {
            return port;
        }
    }
}
