//! The browser's half: what a page hands to its scripts, texts by address, and the module that asks for them.
//!
//! The server decides the locale and makes the texts; scripts begin with what the page hands them, so that nothing changes
//! when they wake. What they need later has an address. No front-end framework is assumed.
//!
//! - [`Translator::hand_off`](crate::Translator::hand_off): a block of JSON in the page, with ready-made texts and, by
//!   choice, whole sections.
//! - [`CrowFly::answer_texts`](crate::CrowFly::answer_texts): public sections and formatted texts by address. For axum,
//!   [`CrowFly::texts_router`](crate::CrowFly::texts_router).
//! - [`MODULE`]: the scripts' own half, `crow-fly.js`, which the routes of texts serve.
//! - [`Translator::marked`](crate::Translator::marked): a text whose element says which text it is, so that the module can say
//!   it in another language.

mod address;
mod hand_off;
mod marked;
mod module;
mod reply;

pub(crate) use address::answer;
pub use hand_off::HandOff;
pub use marked::MarkedText;
pub use module::MODULE;
pub use reply::DirectReply;
