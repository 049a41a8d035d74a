//! What a loaded message is made of: its source, its data model, its parameters.

use crow_fly_core::catalog::SourceEntry;
use crow_fly_core::message::{Message, Parameter};

use super::Translator;
use super::sections::Origin;

/// The source of a message, with what stands beside it in its file. Made by [`Translator::source`].
#[derive(Clone, Debug)]
pub struct MessageSource {
    origin: Origin,
    text: String,
    note: Option<String>,
    message: Message,
}

impl MessageSource {
    /// The source text, as the file has it.
    pub fn text(&self) -> &str {
        &self.text
    }

    /// The comment above the message: a note to translators.
    pub fn note(&self) -> Option<&str> {
        self.note.as_deref()
    }

    /// The data model (UTS #35 part 9, "Interchange Data Model").
    pub const fn message(&self) -> &Message {
        &self.message
    }

    /// The parameters it asks for, sorted by name.
    pub fn parameters(&self) -> Vec<Parameter> {
        self.message.parameters()
    }

    /// The locale, which may be another one of the chain, the file and the line.
    pub const fn origin(&self) -> &Origin {
        &self.origin
    }
}

impl Translator {
    /// The source of a message that is in memory: for tools, editors and pages that show how a text is made.
    ///
    /// Sources are not kept in memory: the file is read again, within the limits of a load. None where there is no text,
    /// or the file cannot be read or has changed since; a warning tells why.
    ///
    /// ```
    /// # use crow_fly::{Config, CrowFly, source::Memory};
    /// # #[tokio::main(flavor = "current_thread")] async fn main() -> Result<(), Box<dyn std::error::Error>> {
    /// # let config = Config::parse("default = 'en'\nlocales = ['en']")?;
    /// let catalogs = [("en", "booking", "# On the button.\nseats = 'Book {$seats :integer} seats'")];
    /// let t = CrowFly::new(config, Memory::new(catalogs)).translator_for("en").await;
    /// let source = t.source("booking.seats").await.ok_or("no such text")?;
    /// assert_eq!(source.text(), "Book {$seats :integer} seats");
    /// assert_eq!(source.note(), Some("On the button."));
    /// assert_eq!(&*source.parameters()[0].name, "seats");
    /// assert_eq!(serde_json::to_value(source.message())?["type"], "message");
    /// # Ok(()) }
    /// ```
    pub async fn source(&self, key: &str) -> Option<MessageSource> {
        let (origin, file) = self.place_of(key)?;
        let in_file = |entry: &&SourceEntry| entry.key() == origin.name_in_file();
        let sections = self.inner.site.store().read_source(file).await?;
        let entry = sections.entries().iter().rfind(in_file)?;
        Some(MessageSource {
            text: entry.text().to_owned(),
            note: entry.note().map(str::to_owned),
            message: Message::parse(entry.text()).ok()?,
            origin,
        })
    }
}
