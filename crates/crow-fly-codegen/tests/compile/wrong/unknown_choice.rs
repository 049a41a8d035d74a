#[path = "../messages.rs"]
mod msg;

fn text(t: &crow_fly::Translator) -> String {
    t.text(msg::booking::Notice { kind: msg::booking::NoticeKind::Frog })
}

fn main() {}
