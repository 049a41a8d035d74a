#[path = "../messages.rs"]
mod msg;

struct Ship;

fn text(t: &crow_fly::Translator) -> String {
    t.text(msg::trip::Thanks { name: Ship })
}

fn main() {}
