use actix_web::{App, HttpServer, web};
use crow_fly::{CrowFly, Translator, args};

async fn home(t: Translator) -> String {
    t.text(("home.messages", args! { count: 3 }))
}

#[actix_web::main]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let crow = CrowFly::from_file("crow-fly.toml")?;
    let pages = move || App::new().route("/", web::get().to(home)).wrap(crow.middleware());
    Ok(HttpServer::new(pages).bind("127.0.0.1:3000")?.run().await?)
}
