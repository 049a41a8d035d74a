#[path = "../messages.rs"]
mod msg;

fn text(t: &crow_fly::Translator) -> String {
    t.text(msg::booking::SeatsLeft { seat: 3 })
}

fn main() {}
