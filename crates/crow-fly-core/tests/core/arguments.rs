//! Arguments of messages give back all memory that their values hold.

use std::sync::Arc;

use crow_fly_core::datetime::DateValue;
use crow_fly_core::function_context::FunctionContext;
use crow_fly_core::html::Html;
use crow_fly_core::number::{Currency, Decimal};
use crow_fly_core::value::{Args, CustomValue, FunctionValue, Money, Value};

/// A quay, as an application's own type.
#[derive(Debug)]
struct Quay(String);

impl CustomValue for Quay {
    fn format(&self, _: &FunctionContext) -> FunctionValue {
        FunctionValue::text(self.0.clone())
    }
}

const LONG: &str = "a text that is too long to be kept without memory of its own, 0123456789";

/// Values of all kinds, with memory of their own and without.
fn value(kind: usize) -> Option<Value<'static>> {
    let digits = "1234567890".repeat(8);
    Some(match kind {
        0 => Value::from("Mair"),
        1 => Value::from(String::from("Mair")),
        2 => Value::from(String::new()),
        3 => Value::from(3),
        4 => Value::from(12.5),
        5 => Value::from(Decimal::parse(&digits).unwrap()),
        6 => Value::from(Money::new(Decimal::parse(&digits).unwrap(), Currency::parse("PLN").unwrap())),
        7 => Value::from(DateValue::parse("2026-03-01").unwrap()),
        8 => Value::from(DateValue::parse("2026-03-01T10:00:00+01:00[Europe/Warsaw]").unwrap()),
        9 => Value::from(vec![LONG.to_owned(), LONG.to_owned()]),
        10 => Value::from(Html::escape(LONG)),
        11 => Value::Custom(Arc::new(Quay(LONG.to_owned()))),
        _ => return None,
    })
}

/// How many pieces of memory are left when what was made is dropped.
fn left<T>(make: impl Fn() -> T) -> i64 {
    // Zones and the like are read once, and kept.
    drop(make());
    allocation_counter::measure(|| drop(make())).count_current
}

#[test]
fn arguments_of_all_kinds_of_values_leave_no_memory_behind() {
    let kinds = (0..).map_while(value).count();
    assert_eq!(kinds, 12);
    for one in 0..kinds {
        assert_eq!(left(|| Args::of([("a", value(one).unwrap())])), 0, "{one}");
        for other in 0..kinds {
            let [one, other] = [one, other].map(|kind| move || value(kind).unwrap());
            let made: [&dyn Fn() -> Args<'static>; 6] = [
                &|| Args::of([("a", one()), ("b", other())]),
                &|| Args::of([("a", one()), ("b", other()), ("c", one())]),
                &|| Args::new().with("a", one()).with("b", other()),
                &|| Args::of([("a", one()), ("b", other())]).with("c", other()).with("d", one()),
                &|| [("a", one()), ("b", other()), ("c", one())].into_iter().collect(),
                &|| Args::of([("a", one())]).with("b", other()).clone(),
            ];
            for (at, make) in made.iter().enumerate() {
                assert_eq!(left(make), 0, "{at}: {:?}", make());
            }
        }
    }
}

/// A destructor of its own for the arguments would forbid it.
#[test]
fn arguments_may_outlive_what_they_borrow() {
    let mut args = Args::new();
    let name = String::from("Mair");
    args = args.with("name", &name);
    assert_eq!(args.get("name"), Some(&Value::from("Mair")));
}

#[test]
fn arguments_show_their_names_and_values_to_programmers() {
    let args = Args::new().with("name", "Mair").with("seats", 3);
    assert_eq!(format!("{args:?}"), r#"{"name": Text("Mair"), "seats": Integer(3)}"#);
}
