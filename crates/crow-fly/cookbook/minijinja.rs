//! The translator in templates of `minijinja`: an object with the methods it has in Rust.

#![allow(clippy::print_stdout, reason = "an example")]

use crow_fly::{Config, CrowFly, source::Memory};
use minijinja::value::Value;
use minijinja::{Environment, context};

const PAGE: &str = r#"<html lang="{{ t.locale }}" dir="{{ t.direction }}">
<h1>{{ t.html("home.title") }}</h1>
<p>{{ t.html("home.welcome", name=name) }}</p>
<p title="{{ t.text("home.title") }}">{{ t.text("home.seats", seats=3) }}</p>"#;

const WELSH: &str = "
title = 'Hwyliadau & chychod'
welcome = 'Croeso, {#strong}{$name}{/strong}'
seats = '{$seats :integer} sedd ar ôl'";

#[tokio::main(flavor = "current_thread")]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let config = Config::parse("default = 'en'\nlocales = ['en', 'cy']")?;
    let crow = CrowFly::new(config, Memory::new([("cy", "home", WELSH)]));
    let t = crow.translator_for("cy").await;
    t.load(["home"]).await?;
    let mut templates = Environment::new();
    templates.add_template("home.html", PAGE)?;
    let page = templates.get_template("home.html")?;
    // What a visitor typed stays text.
    println!("{}", page.render(context! { t => Value::from_object(t), name => "<b>Mair</b>" })?);
    Ok(())
}
