//! Debian's Chromium, headless, driven by the W3C WebDriver protocol.

use std::io::{BufRead, BufReader};
use std::process::{Child, Command, Stdio};

use reqwest::Client;
use serde_json::{Value, json};

/// The driver that opens browsers; stopped when it is dropped.
pub(crate) struct Driver {
    program: Child,
    /// Profiles and whatever else browsers leave behind; removed with the driver.
    _folder: tempfile::TempDir,
    pub(crate) address: String,
    pub(crate) client: Client,
}

/// One browser with a profile of its own; it forgets everything when it is closed.
pub(crate) struct Browser<'d> {
    driver: &'d Driver,
    pub(crate) session: String,
}

impl Driver {
    /// None where it is not installed.
    pub(crate) fn start() -> Option<Self> {
        let folder = tempfile::tempdir().unwrap();
        // A driver that is started beside others may find the port taken that it has chosen, and ends.
        for _ in 0..5 {
            let mut command = Command::new("chromedriver");
            command.arg("--port=0").env("TMPDIR", folder.path()).stdout(Stdio::piped()).stderr(Stdio::null());
            let Ok(mut program) = command.spawn() else {
                let required = std::env::var_os("REQUIRE_NEIGHBOURS").is_some_and(|value| value == "1");
                assert!(!required, "`chromium-driver` is not installed, and REQUIRE_NEIGHBOURS=1 is set");
                eprintln!("skipped: install Debian's package `chromium-driver` to run this test");
                return None;
            };
            let mut lines = BufReader::new(program.stdout.take().unwrap()).lines();
            let port = lines.find_map(|line| {
                let line = line.ok()?;
                Some(line.split_once("successfully on port ")?.1.trim_end_matches('.').to_owned())
            });
            let Some(port) = port else {
                program.wait().unwrap();
                continue;
            };
            std::thread::spawn(move || lines.for_each(drop));
            let address = format!("http://127.0.0.1:{port}");
            let client = Client::builder().no_proxy().build().unwrap();
            return Some(Self { program, _folder: folder, address, client });
        }
        panic!("the driver has not started in five trials");
    }

    pub(crate) async fn post(&self, path: &str, body: Value) -> Value {
        let request = self.client.post(format!("{}{path}", self.address));
        let answer = request.header("content-type", "application/json").body(body.to_string());
        let answer: Value =
            serde_json::from_str(&answer.send().await.unwrap().text().await.unwrap()).unwrap();
        assert!(answer["value"]["error"].is_null(), "{path}: {answer}");
        answer["value"].clone()
    }

    pub(crate) async fn open(&self, languages: &str) -> Browser<'_> {
        let arguments = ["--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run"];
        let arguments: Vec<String> =
            arguments.iter().map(ToString::to_string).chain([format!("--accept-lang={languages}")]).collect();
        let wanted = json!({ "capabilities": { "alwaysMatch": { "goog:chromeOptions": { "args": arguments }, "goog:loggingPrefs": { "browser": "ALL" } } } });
        let session = self.post("/session", wanted).await["sessionId"].as_str().unwrap().to_owned();
        Browser { driver: self, session }
    }
}

impl Drop for Driver {
    fn drop(&mut self) {
        let _ = self.program.kill();
        let _ = self.program.wait();
    }
}

impl Browser<'_> {
    pub(crate) async fn post(&self, command: &str, body: Value) -> Value {
        self.driver.post(&format!("/session/{}/{command}", self.session), body).await
    }

    pub(crate) async fn visit(&self, address: &str) {
        self.post("url", json!({ "url": address })).await;
    }

    /// Waits until the page is in a language.
    #[allow(dead_code, reason = "not every test needs it")]
    pub(crate) async fn is_in(&self, language: &str) {
        self.until(&format!("return document.documentElement.lang === '{language}'")).await;
    }

    pub(crate) async fn click(&self, selector: &str) {
        let element = self.post("element", json!({ "using": "css selector", "value": selector })).await;
        let id = element.as_object().unwrap().values().next().unwrap().as_str().unwrap().to_owned();
        self.post(&format!("element/{id}/click"), json!({})).await;
    }

    pub(crate) async fn close(self) {
        let address = format!("{}/session/{}", self.driver.address, self.session);
        self.driver.client.delete(address).send().await.unwrap();
    }
}

impl Browser<'_> {
    /// The value of a script.
    pub(crate) async fn run(&self, script: &str) -> Value {
        self.post("execute/sync", json!({ "script": script, "args": [] })).await
    }

    /// A command of the browser's own protocol.
    #[allow(dead_code, reason = "not every test needs it")]
    pub(crate) async fn command(&self, name: &str, params: Value) {
        self.post("goog/cdp/execute", json!({ "cmd": name, "params": params })).await;
    }

    /// Waits until a script says that something is so.
    pub(crate) async fn until(&self, script: &str) {
        for _ in 0..400 {
            if self.run(script).await == json!(true) {
                return;
            }
            tokio::time::sleep(std::time::Duration::from_millis(25)).await;
        }
        panic!("it never came: {script}");
    }

    /// What the browser's console has to complain about.
    pub(crate) async fn complaints(&self) -> Vec<String> {
        let log = self.post("se/log", json!({ "type": "browser" })).await;
        log.as_array().unwrap().iter().map(ToString::to_string).collect()
    }
}
