//! What is to be formatted: a key, its arguments, and a text for as long as nothing is translated yet.

use std::borrow::Cow;

use crow_fly_core::catalog::KeyHasher;
use crow_fly_core::message::Isolation;
use crow_fly_core::value::Args;

use crate::config::MissingText;

/// A message to be formatted. Made from a key, from a key and arguments, or by [`say`].
///
/// ```
/// use crow_fly::{args, say, MessageRef};
///
/// let plain: MessageRef = "booking.title".into();
/// let counted: MessageRef = ("booking.seats-left", args! { seats: 3 }).into();
/// let new = say("booking.bicycles").with(args! { count: 2 }).or("Bicycles: {$count}");
/// assert_eq!(new.key(), "booking.bicycles");
/// ```
#[derive(Clone, Debug)]
pub struct MessageRef<'a> {
    pub(crate) key: Cow<'a, str>,
    /// The fixed hash of the key, where it is known already.
    hash: Option<u64>,
    pub(crate) args: Args<'a>,
    pub(crate) default: Option<&'a str>,
    pub(crate) isolation: Option<Isolation>,
    pub(crate) missing: Option<MissingText>,
}

/// A message to be formatted, by its key: `section.name` or `section.group.name`.
///
/// ```
/// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
/// # use crow_fly::{args, Config, CrowFly, source::Memory};
/// # let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']\norigin = 'https://ferries.example'")?;
/// # let home = ("en", "home", "title = 'Sailings'\nnext = 'The next is {#strong}{$ship}{/strong}'\nseats = '{$seats :integer} seats'");
/// # let crow = CrowFly::new(config, Memory::new([home, ("cy", "home", "title = 'Hwyliadau'")]));
/// # let t = crow.translator_for("en").await;
/// use crow_fly::say;
///
/// // The text given in code is used until a catalog has the message.
/// assert_eq!(t.text(say("home.bicycles").with(args! { count: 2 }).or("Bicycles: {$count :integer}")), "Bicycles: 2");
/// # Ok(()) }
/// ```
pub fn say(key: &str) -> MessageRef<'_> {
    MessageRef::of(Cow::Borrowed(key))
}

impl<'a> MessageRef<'a> {
    fn of(key: Cow<'a, str>) -> Self {
        Self { key, hash: None, args: Args::new(), default: None, isolation: None, missing: None }
    }

    /// A message whose key is hashed already.
    pub(crate) fn of_known_hash(key: &'a str, hash: u64) -> Self {
        Self { hash: Some(hash), ..Self::of(Cow::Borrowed(key)) }
    }

    /// The fixed hash of the key.
    pub(crate) fn hash(&self) -> u64 {
        self.hash.unwrap_or_else(|| KeyHasher::fixed_hash(&self.key))
    }

    /// Gives the message its arguments.
    #[must_use]
    pub fn with(mut self, args: Args<'a>) -> Self {
        self.args = args;
        self
    }

    /// The text, a message source in the default locale, that is used where no catalog of the chain has the key.
    #[must_use]
    pub const fn or(mut self, source: &'a str) -> Self {
        self.default = Some(source);
        self
    }

    /// Sets how this text's placeholders are isolated: [`Isolation::None`] for a subject or a title, where invisible
    /// characters would be in the way.
    #[must_use]
    pub const fn isolation(mut self, isolation: Isolation) -> Self {
        self.isolation = Some(isolation);
        self
    }

    /// Sets the text that is shown where the message is missing, in place of the one in the configuration.
    #[must_use]
    pub const fn missing(mut self, missing: MissingText) -> Self {
        self.missing = Some(missing);
        self
    }

    /// The key.
    pub fn key(&self) -> &str {
        &self.key
    }
}

impl<'a> From<&'a str> for MessageRef<'a> {
    fn from(key: &'a str) -> Self {
        say(key)
    }
}

impl<'a> From<&'a String> for MessageRef<'a> {
    fn from(key: &'a String) -> Self {
        say(key)
    }
}

impl From<String> for MessageRef<'_> {
    fn from(key: String) -> Self {
        Self::of(Cow::Owned(key))
    }
}

impl<'a> From<Cow<'a, str>> for MessageRef<'a> {
    fn from(key: Cow<'a, str>) -> Self {
        Self::of(key)
    }
}

impl<'a> From<(String, Args<'a>)> for MessageRef<'a> {
    fn from((key, args): (String, Args<'a>)) -> Self {
        Self::of(Cow::Owned(key)).with(args)
    }
}

impl<'a> From<(&'a String, Args<'a>)> for MessageRef<'a> {
    fn from((key, args): (&'a String, Args<'a>)) -> Self {
        say(key).with(args)
    }
}

impl<'a> From<(&'a str, Args<'a>)> for MessageRef<'a> {
    fn from((key, args): (&'a str, Args<'a>)) -> Self {
        say(key).with(args)
    }
}

/// For template engines that hand arguments on by reference; the arguments are cloned.
impl<'a> From<&(&'a str, Args<'a>)> for MessageRef<'a> {
    fn from((key, args): &(&'a str, Args<'a>)) -> Self {
        say(key).with(args.clone())
    }
}
