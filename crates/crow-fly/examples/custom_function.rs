//! A function of the application's own.

#![allow(clippy::print_stdout, reason = "an example")]

use crow_fly::{
    Config, CrowFly, FunctionError, FunctionValue, Functions, Invocation, Value, args, source::Memory,
};

/// `{$level :harbour:tide}`: a level in centimetres, with an arrow.
fn tide(call: &Invocation<'_>) -> Result<FunctionValue, FunctionError> {
    let Some(Value::Integer(centimetres)) = call.operand() else {
        return Err(FunctionError::bad_operand().because("a level is an integer of centimetres"));
    };
    let arrow = if *centimetres < 0 { "↓" } else { "↑" };
    Ok(FunctionValue::text(format!("{arrow} {} cm", centimetres.abs())))
}

#[tokio::main(flavor = "current_thread")]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let catalogs = Memory::new([("en", "tide", "now = 'The tide: {$level :harbour:tide}'")]);
    let crow = CrowFly::builder(Config::parse("default = 'en'\nlocales = ['en']")?)
        .catalogs(catalogs)
        .functions(Functions::new().with("harbour:tide", tide))
        .build();
    let t = crow.translator_for("en").await;
    t.load(["tide"]).await?;
    println!("{}", t.text(("tide.now", args! { level: 35 })));
    println!("{}", t.text(("tide.now", args! { level: -120 })));
    // What the function cannot take shows as a fallback; an event says why.
    println!("{}", t.text(("tide.now", args! { level: "high" })));
    Ok(())
}
