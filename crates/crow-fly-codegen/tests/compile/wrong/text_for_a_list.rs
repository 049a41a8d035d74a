#[path = "../messages.rs"]
mod msg;

fn text(t: &crow_fly::Translator) -> String {
    t.text(msg::booking::Stops { stops: "Holm" })
}

fn main() {}
