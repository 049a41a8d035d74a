//! A translator that fails its test.

use std::ops::Deref;

use crate::translator::Translator;

/// A translator for a test: where a text was missing, was in another language, or had an error, the test fails as soon as
/// this is dropped. What may be in another language is said by the configuration: `inherits`, `may-fall-back`.
///
/// ```should_panic
/// # #[tokio::main(flavor = "current_thread")] async fn main() {
/// let t = crow_fly::testing::translator("en", [("home", "title = 'Ferries'")]).await;
/// t.text("home.titel");
/// // The test fails here: no text for `home.titel` in `en`; did you mean `home.title`?
/// # }
/// ```
#[derive(Debug)]
pub struct Strict {
    translator: Translator,
}

impl Strict {
    /// A strict translator from any: of the application's own catalogs, for example.
    pub fn new(translator: Translator) -> Self {
        translator.keep_failures();
        Self { translator }
    }

    /// What has failed until now, one sentence each; it is taken, and no longer fails the test.
    pub fn take_failures(&self) -> Vec<String> {
        self.translator.take_failures()
    }
}

impl Deref for Strict {
    type Target = Translator;

    fn deref(&self) -> &Translator {
        &self.translator
    }
}

impl Drop for Strict {
    fn drop(&mut self) {
        // A test that fails already says why.
        if std::thread::panicking() {
            return;
        }
        let failures = self.take_failures();
        assert!(failures.is_empty(), "texts are missing or have errors:\n  {}", failures.join("\n  "));
    }
}
