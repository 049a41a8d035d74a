//! Catalogs in the binary. A build script writes the list of a whole folder: `crow_fly_embed::catalogs("catalogs")`.

#![allow(clippy::print_stdout, reason = "an example")]

use crow_fly::source::{Embedded, EmbeddedFile};
use crow_fly::{Config, CrowFly};

// In an application: `include!(concat!(env!("OUT_DIR"), "/catalogs.rs"))`, and `include_str!` in place of the texts.
static FILES: &[EmbeddedFile] = &[
    EmbeddedFile::new("en/board.toml", "title = 'Departures'"),
    EmbeddedFile::new("cy/board.toml", "title = 'Ymadawiadau'"),
];

#[tokio::main(flavor = "current_thread")]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let config = Config::builder(["en", "cy"]).build()?;
    let crow = CrowFly::new(config, Embedded::new(FILES));
    // Every file is read and checked before the first request: a mistake is found when the program starts.
    let findings = crow.load_all().await?;
    println!("{} findings", findings.len());
    println!("{}", crow.translator_for("cy").await.text("board.title"));
    Ok(())
}
