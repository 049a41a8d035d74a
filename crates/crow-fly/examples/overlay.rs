//! Texts of one harbour above those of all: merged by key, so that the upper ones say only what differs.

#![allow(clippy::print_stdout, reason = "an example")]

use crow_fly::source::{Memory, Overlay};
use crow_fly::{Config, CrowFly};

#[tokio::main(flavor = "current_thread")]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let all = Memory::new([
        ("en", "common", "company = 'Saltmarsh Ferries'\nhelp = 'Ask at the quay'"),
        ("cy", "common", "company = 'Fferïau Saltmarsh'\nhelp = 'Holwch wrth y cei'"),
    ]);
    let tern_island = Memory::new([("en", "common", "help = 'Ring the bell'")]);
    let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']")?;
    let crow = CrowFly::new(config, Overlay::new(tern_island).over(all));
    for locale in ["en", "cy"] {
        let t = crow.translator_for(locale).await;
        t.load(["common"]).await?;
        println!("{}: {}", t.text("common.company"), t.text("common.help"));
    }
    Ok(())
}
