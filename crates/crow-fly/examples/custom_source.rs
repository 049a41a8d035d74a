//! Catalogs from where an application has them: here a table of rows, as a database may hold them.

#![allow(clippy::print_stdout, reason = "an example")]

use std::fmt::Write as _;

use crow_fly::source::{Answer, CatalogSource, Changed, FileFormat, ListedFile, Listing, Watching};
use crow_fly::{Config, CrowFly};

/// Locale, section, key, text.
type Row = (&'static str, &'static str, &'static str, &'static str);

#[derive(Debug)]
struct Table(Vec<Row>);

impl CatalogSource for Table {
    fn list<'a>(&'a self, locales: &'a [String]) -> Answer<'a, Listing> {
        let wanted = self.0.iter().filter(|row| locales.iter().any(|locale| locale == row.0));
        // The last part is the version: where it is another one, the file is read again.
        let mut files: Vec<_> = wanted.map(|row| (row.0, row.1)).collect();
        files.sort_unstable();
        files.dedup();
        let listed = files.into_iter().map(|(locale, section)| {
            ListedFile::section(locale, section, FileFormat::Toml, self.0.len() as u64)
        });
        Answer::ready(Ok(Listing::new(listed)))
    }

    fn read(&self, file: &ListedFile) -> Answer<'_, Vec<u8>> {
        let is_in = |row: &&Row| row.0 == file.locale() && Some(row.1) == file.section_name();
        let mut text = String::new();
        for (.., key, message) in self.0.iter().filter(is_in) {
            let _ = writeln!(text, "{key} = {message:?}");
        }
        Answer::ready(Ok(text.into_bytes()))
    }

    /// Nobody tells of changes: `crow.reload()` does.
    fn watch(&self, _: Changed) -> Option<Watching> {
        None
    }
}

#[tokio::main(flavor = "current_thread")]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let table =
        Table(vec![("en", "home", "title", "Today's sailings"), ("cy", "home", "title", "Hwyliadau heddiw")]);
    let crow = CrowFly::new(Config::parse("default = 'en'\nlocales = ['en', 'cy']")?, table);
    for locale in ["en", "cy"] {
        let t = crow.translator_for(locale).await;
        t.load(["home"]).await?;
        println!("{}", t.text("home.title"));
    }
    Ok(())
}
