//! Dates, times and money: one moment as visitors in several places read it.

#![allow(clippy::print_stdout, reason = "an example")]

use crow_fly::{Config, CrowFly, TimeZoneName, args, source::Memory};

const ENGLISH: &str = "
departs = 'Departs {$at :datetime dateFields=month-day-weekday}'
fare = '{$fare :currency currency=EUR}, on {$at :date length=long}'";

#[tokio::main(flavor = "current_thread")]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let config = Config::parse("default = 'en'\nlocales = ['en', 'en-GB', 'pl']")?;
    let crow = CrowFly::new(config, Memory::new([("en", "trip", ENGLISH)]));
    let at: jiff::Timestamp = "2026-07-09T22:30:00Z".parse()?;
    for (locale, zone) in [("en", "America/New_York"), ("en-GB", "Europe/London"), ("pl", "Europe/Warsaw")] {
        // A request's translator has the visitor's zone, where the configuration says `time-zone = "visitor"`.
        let t = crow.translator_for(locale).await.with_time_zone(zone.parse::<TimeZoneName>()?);
        t.load(["trip"]).await?;
        println!("{locale}, {zone}: {}", t.text(("trip.departs", args! { at: at })));
        // Without a Polish text the English one is said, with English formats.
        println!("  {}", t.text(("trip.fare", args! { at: at, fare: 12.5 })));
    }
    Ok(())
}
