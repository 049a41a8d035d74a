#[path = "../messages.rs"]
mod msg;

use crow_fly::typed::TypedTranslator;

fn text(t: &TypedTranslator<(msg::sections::Booking,)>) -> String {
    t.text("booking.title")
}

fn main() {}
