#[path = "../messages.rs"]
mod msg;

use crow_fly::typed::TypedTranslator;

fn text(t: &TypedTranslator<msg::sections::Booking>) -> String {
    t.text(msg::trip::Thanks { name: "Mair" })
}

fn main() {}
