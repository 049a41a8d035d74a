use crow_fly::args;

struct User {
    name: String,
}

fn main() {
    let user = User { name: "Mair".to_owned() };
    let _ = args! { count: 3, user.name };
}
