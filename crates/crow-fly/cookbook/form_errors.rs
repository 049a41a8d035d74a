//! The errors of a form as messages, with the field's own name in them: by hand, and by the crate `validator`.

#![allow(clippy::print_stdout, reason = "an example")]

use crow_fly::{Args, Config, CrowFly, Translator, args, json_argument, source::Memory};
use validator::{Validate, ValidationErrors};

const ENGLISH: &str = r#"
fields = { email = "Email", seats = "Number of seats" }
errors.email = "{$field}: that is not an email address."
errors.range = "{$field}: choose from {$min :integer} to {$max :integer}."
errors.sold-out = "{$field}: none is left."
"#;

const POLISH: &str = r#"
fields = { email = "E-mail", seats = "Liczba miejsc" }
errors.email = "{$field}: to nie jest adres e-mail."
errors.range = "{$field}: wybierz od {$min :integer} do {$max :integer}."
errors.sold-out = "{$field}: nie ma wolnych."
"#;

#[derive(Validate)]
struct Booking {
    #[validate(email)]
    email: String,
    #[validate(range(min = 1, max = 9))]
    seats: u32,
}

fn told(t: &Translator, code: &str, field: &str, args: Args<'_>) -> String {
    let name = t.text(format!("booking.fields.{field}"));
    t.text((format!("booking.errors.{code}"), args.with("field", name)))
}

fn told_by_validator(t: &Translator, errors: &ValidationErrors) -> Vec<String> {
    let fields = errors.field_errors();
    let all = fields.iter().flat_map(|(field, errors)| errors.iter().map(move |error| (field, error)));
    let texts = all.map(|(field, error)| {
        let params = error.params.iter().filter(|(name, _)| *name != "value");
        let args = params.filter_map(|(name, value)| Some((&**name, json_argument(value).ok()?)));
        told(t, &error.code, field, args.collect::<Args<'_>>())
    });
    texts.collect::<std::collections::BTreeSet<_>>().into_iter().collect()
}

#[tokio::main(flavor = "current_thread")]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let config = Config::parse("default = 'en'\nlocales = ['en', 'pl']")?;
    let crow = CrowFly::new(config, Memory::new([("en", "booking", ENGLISH), ("pl", "booking", POLISH)]));
    let booking = Booking { email: "mair at harbour".into(), seats: 12 };
    for locale in ["en", "pl"] {
        let t = crow.translator_for(locale).await;
        t.load(["booking"]).await?;
        if let Err(errors) = booking.validate() {
            println!("{}", told_by_validator(&t, &errors).join("\n"));
        }
        println!("{}", told(&t, "sold-out", "seats", args! {}));
    }
    Ok(())
}
