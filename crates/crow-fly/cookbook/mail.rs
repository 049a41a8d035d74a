//! A mail in text and HTML, with `lettre`: no request, so that language and time zone are the member's, and addresses are whole.

#![allow(clippy::print_stdout, reason = "an example")]

use crow_fly::{Config, CrowFly, Isolation, args, source::Memory};
use lettre::Message;
use lettre::message::MultiPart;
use lettre::message::header::Subject;

struct Member {
    address: &'static str,
    /// What is stored is what the member chose years ago: the closest locale is taken.
    language: &'static str,
    time_zone: &'static str,
}

const ENGLISH: &str = "subject = 'Your trip on the {$boat}'\nbody = 'It sails at {$moment :time}. {#a href=|/trip|}Your trip{/a}'";
const HEBREW: &str = "subject = 'הנסיעה שלך ב-{$boat}'\nbody = 'היא מפליגה ב-{$moment :time}. {#a href=|/trip|}הנסיעה שלך{/a}'";

#[tokio::main(flavor = "current_thread")]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let origin = "origin = 'https://saltmarsh-ferries.example'";
    let config = Config::parse(&format!("default = 'en'\nlocales = ['en', 'he']\n{origin}"))?;
    let crow = CrowFly::new(config, Memory::new([("en", "mail", ENGLISH), ("he", "mail", HEBREW)]));
    let moment: jiff::Timestamp = "2026-07-01T09:30:00Z".parse()?;
    for member in [
        Member { address: "jan@ferries.example", language: "en-NL", time_zone: "Europe/Amsterdam" },
        Member { address: "noa@ferries.example", language: "he-IL", time_zone: "Asia/Jerusalem" },
    ] {
        let t = crow.translator_for_mail(member.language, member.time_zone).await;
        t.load(["mail"]).await?;
        // Programs read a subject, and people copy addresses: they have no invisible characters.
        let subject = t.text(("mail.subject", args! { boat: "Curlew" }));
        let text = format!("{}\n{}", t.text(("mail.body", args! { moment })), t.path("/trip"));
        // In HTML values are set apart from the text around them, by `<bdi>`.
        let page = t.clone().with_isolation(Isolation::Default);
        let (language, direction) = (t.locale(), t.direction());
        let body = page.html(("mail.body", args! { moment }));
        let html = format!("<!doctype html>\n<html lang=\"{language}\" dir=\"{direction}\">\n<p>{body}</p>");
        let mail = Message::builder()
            .from("Saltmarsh Ferries <trips@saltmarsh-ferries.example>".parse()?)
            .to(member.address.parse()?)
            .subject(subject)
            .multipart(MultiPart::alternative_plain_html(text.clone(), html.clone()))?;
        // A transport of `lettre` would send it.
        let bytes = mail.formatted();
        assert!(bytes.is_ascii(), "headers and bodies are encoded for their way");
        let subject = mail.headers().get::<Subject>().unwrap_or_else(|| Subject::from(String::new()));
        println!("To: {}\nSubject: {}\n\n{text}\n\n{html}\n", member.address, subject.as_ref());
    }
    Ok(())
}
