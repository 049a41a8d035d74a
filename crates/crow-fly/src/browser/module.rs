//! The module for scripts in pages: its source, and its address.

use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::LazyLock;

use super::reply::DirectReply;
use crate::translator::Translator;
use crate::web::exchange::RequestHead;

/// The source of `crow-fly.js`, an ES module without dependencies: for those who bundle their scripts. The routes of texts serve
/// it, too.
pub const MODULE: &str = include_str!("crow-fly.js");

/// Its name without a hash: what scripts import.
const NAME: &str = "crow-fly.js";

/// What is sent: the source without comments and indents.
static SENT: LazyLock<String> = LazyLock::new(|| {
    let lines = MODULE.lines().map(str::trim_start);
    let code = lines.filter(|line| !line.is_empty() && !line.starts_with("//") && !line.starts_with("/**"));
    code.fold(String::new(), |code, line| code + line + "\n")
});

/// Its name with the hash of what is sent.
static HASHED: LazyLock<String> = LazyLock::new(|| {
    let mut hash = DefaultHasher::new();
    SENT.hash(&mut hash);
    format!("crow-fly.{:016x}.js", hash.finish())
});

/// Answers a request for the module; none where the name is another one.
pub(super) fn answer(head: &impl RequestHead, name: &str) -> Option<DirectReply> {
    const KIND: &str = "text/javascript; charset=utf-8";
    if name == *HASHED {
        return Some(DirectReply::for_ever(KIND, SENT.clone()));
    }
    if name == NAME {
        let body = format!("export * from \"./{}\";\n", *HASHED);
        return Some(DirectReply::tagged(KIND, body, &HASHED, head, "no-cache"));
    }
    // A page that was made by an older program, or a newer one: what it asks for is there, and is asked for again.
    let hash = name.strip_prefix("crow-fly.")?.strip_suffix(".js")?;
    let is_hash = hash.len() == 16 && hash.bytes().all(|byte| byte.is_ascii_hexdigit());
    is_hash.then(|| DirectReply::tagged(KIND, SENT.clone(), &HASHED, head, "no-cache"))
}

impl Translator {
    /// The address of the module for scripts, with a hash that changes with it: for `<link rel="modulepreload">`. Scripts import
    /// `crow-fly.js` beside it, which leads there. None where no section is public.
    ///
    /// ```
    /// # use crow_fly::{Config, CrowFly, source::Memory};
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), crow_fly::ConfigError> {
    /// let config = Config::parse("default = 'en'\nlocales = ['en']\n[browser]\nsections = ['booking']")?;
    /// let t = CrowFly::new(config, Memory::default()).translator_for("en").await;
    /// assert!(t.module_address().unwrap().starts_with("/texts/crow-fly."));
    /// # Ok(()) }
    /// ```
    pub fn module_address(&self) -> Option<String> {
        self.config().texts_address().map(|address| format!("{address}/{}", *HASHED))
    }
}
