//! A mail: no request, so the locale is the member's. Isolates are for pages, and the address is a whole one.

#![allow(clippy::print_stdout, reason = "an example")]

use crow_fly::{Config, CrowFly, Isolation, args, say, source::Memory};

struct Member {
    name: &'static str,
    language: &'static str,
}

#[tokio::main(flavor = "current_thread")]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let config = Config::parse(
        "default = 'en'\nlocales = ['en', 'cy']\norigin = 'https://saltmarsh-ferries.example'",
    )?;
    let catalogs = Memory::new([
        ("en", "mail", "subject = 'Your trip, {$name}'\nbody = 'All about it: {$address}'"),
        ("cy", "mail", "subject = 'Eich taith, {$name}'\nbody = 'Y manylion: {$address}'"),
    ]);
    let crow = CrowFly::new(config, catalogs);
    // What is stored is a tag that the member chose years ago: the closest locale is taken.
    for member in [Member { name: "Mair", language: "cy-GB" }, Member { name: "Jan", language: "pl" }] {
        let t = crow.translator_for(member.language).await;
        t.load(["mail"]).await?;
        let plain = |key, args| t.text(say(key).with(args).isolation(Isolation::None));
        println!("Subject: {}", plain("mail.subject", args! { name: member.name }));
        println!("{}\n", plain("mail.body", args! { address: t.url("/trip") }));
    }
    Ok(())
}
