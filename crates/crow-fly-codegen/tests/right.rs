//! What compiles, and what it says.

#![allow(clippy::unwrap_used, reason = "a test fails by panicking")]

use crow_fly::source::Overlay;
use crow_fly::typed::{Message, TypedTranslator};
use crow_fly::{Config, CrowFly, Money, Translator, source::Memory, testing::Strict};
use crow_fly_core::datetime::DateValue;
use crow_fly_core::number::Decimal;

#[path = "compile/messages.rs"]
mod msg;

use msg::{booking, sections, trip};

fn texts(t: &Translator, fare: &Money, time: &DateValue) -> Vec<String> {
    let ship = String::from("Curlew");
    vec![
        t.text(booking::Title),
        t.text(booking::SeatsLeft { seats: 3 }),
        t.text(booking::SeatsLeft { seats: 3_u64 }),
        t.text(booking::Departs { ship: &ship, time }),
        t.text(booking::Departs { ship: 7, time: time.clone() }),
        t.text(booking::Leaves { when: 1, crossing: std::time::Duration::from_mins(55) }),
        t.text(booking::Fare { fare }),
        t.text(booking::FareInEuros { fare: 12.5 }),
        t.text(booking::Stops { stops: ["Holm", "Sandwick"] }),
        t.text(booking::Notice { kind: booking::NoticeKind::Fog }),
        t.text(booking::Notice { kind: "ice".into() }),
        t.text(booking::Open { open: true }),
        t.text(booking::form::errors::TooLong { limit: 60 }),
        t.html(trip::Thanks { name: ship.as_str() }).into_string(),
        t.text(("booking.seats-left", crow_fly::args! { seats: 3 })),
        t.text(booking::Title.say().or("Book")),
    ]
}

fn of_one(t: &TypedTranslator<sections::Booking>) -> String {
    t.text(booking::Title)
}

fn of_two(t: &TypedTranslator<(sections::Booking, sections::Trip)>) -> String {
    format!("{} {}", t.text(booking::Title), t.text(trip::Thanks { name: "Mair" }))
}

#[tokio::test]
async fn types_say_their_messages() {
    // The texts that the types were made from lie below others.
    let polish = Memory::new([("pl", "booking", "title = 'Rezerwacja'")]);
    let config =
        Config::parse("default = 'en'\nlocales = ['en', 'pl']\n[messages]\nisolation = 'none'").unwrap();
    let crow = CrowFly::new(config, Overlay::new(polish).over(msg::texts()));
    crow.load_all().await.unwrap();
    let t = Strict::new(crow.translator_for("en").await);
    let fare = Money::new(Decimal::parse("12.50").unwrap(), "EUR".parse().unwrap());
    let texts = texts(&t, &fare, &DateValue::parse("09:30").unwrap()).join("\n");
    insta::assert_snapshot!(texts.replace('\u{202f}', " "));
    let evening = crow.translator_for("en").await.with_now("2026-05-01T20:00:00Z".parse().unwrap());
    let leaves = booking::Leaves { when: DateValue::parse("2026-05-02").unwrap(), crossing: 5400 };
    assert_eq!(evening.text(leaves), "Leaves tomorrow, takes 1 hour, 30 minutes");
    let polish = crow.translator_for("pl").await;
    assert_eq!(polish.text(booking::Title), "Rezerwacja");
    // A typed key is asked for by a hash that is computed when the program is compiled.
    assert_eq!(booking::Title::HASH, crow_fly_core::catalog::KeyHasher::fixed_hash("booking.title"));
    let _ = (of_one, of_two);
}

#[test]
fn keys_and_parameters_are_known() {
    assert!(msg::MESSAGES.contains(&("booking.departs", &["ship", "time"])));
    assert_eq!(<(sections::Booking, sections::Trip) as crow_fly::web::Sections>::NAMES, ["booking", "trip"]);
}
