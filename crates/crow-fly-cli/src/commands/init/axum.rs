use axum::{Router, routing::get};
use crow_fly::{CrowFly, Translator, args};

async fn home(t: Translator) -> String {
    t.text(("home.messages", args! { count: 3 }))
}

#[tokio::main]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let pages = CrowFly::from_file("crow-fly.toml")?.router(Router::new().route("/", get(home)));
    Ok(axum::serve(tokio::net::TcpListener::bind("127.0.0.1:3000").await?, pages).await?)
}
