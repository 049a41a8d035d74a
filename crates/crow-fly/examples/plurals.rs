//! Plurals: the language decides how many forms there are, and which one a number takes.

#![allow(clippy::print_stdout, reason = "an example")]

use crow_fly::{Config, CrowFly, args, source::Memory};

const ENGLISH: &str = "
left = '.input {$seats :integer} .match $seats 0 {{Sold out}} one {{One seat left}} * {{{$seats} seats left}}'
place = '.input {$n :integer select=ordinal} .match $n one {{{$n}st}} two {{{$n}nd}} few {{{$n}rd}} * {{{$n}th}}'";

const POLISH: &str = "
left = '.input {$seats :integer} .match $seats 0 {{Brak miejsc}} one {{Zostało {$seats} miejsce}} few {{Zostały {$seats} miejsca}} * {{Zostało {$seats} miejsc}}'
place = '{$n}.'";

#[tokio::main(flavor = "current_thread")]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let config = Config::parse("default = 'en'\nlocales = ['en', 'pl']")?;
    let crow = CrowFly::new(config, Memory::new([("en", "seats", ENGLISH), ("pl", "seats", POLISH)]));
    for locale in ["en", "pl"] {
        let t = crow.translator_for(locale).await;
        t.load(["seats"]).await?;
        for seats in [0, 1, 3, 12, 1250] {
            println!("{}", t.text(("seats.left", args! { seats: seats })));
        }
        println!("{}", t.text(("seats.place", args! { n: 22 })));
    }
    Ok(())
}
