#[path = "../messages.rs"]
mod msg;

fn text(t: &crow_fly::Translator) -> String {
    t.text(msg::booking::SeatsLeftt { seats: 3 })
}

fn main() {}
