//! Messages as types: a wrong key, parameter or kind does not compile. `build.rs` makes them of the English texts.

#![allow(clippy::print_stdout, reason = "an example")]

use crow_fly::{Config, CrowFly};
use ferry_messages as msg;

#[tokio::main(flavor = "current_thread")]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let config = Config::builder(["en", "cy"]).build()?;
    let t = CrowFly::new(config, msg::texts()).translator_for("en").await;
    t.load(["sailing", "trip"]).await?;
    println!("{}", t.text(msg::sailing::SeatsLeft { seats: 3 }));
    println!("{}", t.html(msg::trip::Thanks { name: "Mair & Siôn" }));
    // Keys and types meet in one call.
    println!("{}", t.text("sailing.form.submit"));
    Ok(())
}
