//! The demo as a program on a port of its own.

use std::io::{BufRead, BufReader};
use std::process::{Child, Command, Stdio};
use std::sync::Mutex;
use std::sync::mpsc::{Receiver, channel};

/// The running program; stopped when it is dropped.
pub(crate) struct Site {
    program: Child,
    address: String,
    lines: Mutex<Receiver<String>>,
}

impl Site {
    /// Starts the demo on a port the system gives.
    #[allow(dead_code, reason = "some tests have options for it")]
    pub(crate) fn open() -> Self {
        Self::run(&mut Command::new(env!("CARGO_BIN_EXE_ferry")))
    }

    /// Starts the demo by a command, which lacks only the port.
    pub(crate) fn run(command: &mut Command) -> Self {
        let mut program =
            command.args(["--port", "0"]).env("RUST_LOG", "error").stdout(Stdio::piped()).spawn().unwrap();
        let mut lines = BufReader::new(program.stdout.take().unwrap()).lines();
        let line = lines.find_map(|line| line.ok().filter(|line| line.contains("  en "))).unwrap();
        let address = line.trim().trim_start_matches("en").trim().trim_end_matches('/').to_owned();
        // The rest is read away, so that the program never waits for a reader.
        let (sender, receiver) = channel();
        std::thread::spawn(move || lines.map_while(Result::ok).for_each(|line| drop(sender.send(line))));
        Self { program, address, lines: Mutex::new(receiver) }
    }

    /// Sends the program a signal, such as `HUP`, and waits for a line with a word in it.
    #[allow(dead_code, reason = "not every test sends one")]
    pub(crate) fn answer_to(&self, signal: &str, word: &str) -> String {
        let id = self.program.id().to_string();
        Command::new("kill").args([format!("-{signal}"), id]).status().unwrap();
        let lines = self.lines.lock().unwrap();
        lines.iter().find(|line| line.contains(word)).unwrap()
    }

    pub(crate) fn at(&self, path: &str) -> String {
        format!("{}{path}", self.address)
    }
}

impl Drop for Site {
    fn drop(&mut self) {
        let _ = self.program.kill();
        let _ = self.program.wait();
    }
}
