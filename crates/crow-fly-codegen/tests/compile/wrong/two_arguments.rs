use crow_fly::args;

fn text(t: &crow_fly::Translator) -> String {
    t.text("booking.seats-left", args! { seats: 3 })
}

fn main() {}
