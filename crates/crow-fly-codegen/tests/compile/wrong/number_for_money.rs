#[path = "../messages.rs"]
mod msg;

fn text(t: &crow_fly::Translator) -> String {
    t.text(msg::booking::Fare { fare: 12.5 })
}

fn main() {}
