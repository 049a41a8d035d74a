//! The pages. Each handler takes a [`Translator`]; each text is one call of it, with the type of a message: the crate
//! `ferry-messages` is made of the English texts.

use axum::Form;
use axum::extract::{Path, Query};
use axum::http::StatusCode;
use axum::http::header::{CACHE_CONTROL, CONTENT_TYPE};
use axum::response::{Html, IntoResponse, Redirect, Response};
use crow_fly::{MessageRef, Translator, args};
use ferry_messages as msg;
use maud::Markup;
use serde::{Deserialize, Serialize};
use tower_sessions::Session;

use crate::templates;
use crate::timetable::{SAILINGS, Sailing, find};

/// A booked trip, as the session keeps it.
#[derive(Clone, Deserialize, Serialize)]
pub(crate) struct Trip {
    sailing: u32,
    pub(crate) name: String,
    pub(crate) seats: u32,
}

/// The booking form as it was sent.
#[derive(Clone, Default, Deserialize)]
pub(crate) struct Booking {
    #[serde(default)]
    pub(crate) name: String,
    #[serde(default)]
    pub(crate) seats: String,
}

/// The texts of what is wrong with a booking, by field.
#[derive(Default)]
pub(crate) struct Errors {
    pub(crate) name: Option<crow_fly::Html>,
    pub(crate) seats: Option<crow_fly::Html>,
}

#[derive(Deserialize)]
pub(crate) struct Filter {
    boat: Option<String>,
}

/// How many characters a name has at most.
const LONGEST_NAME: usize = 60;

/// The key of the trip in the session.
const TRIP: &str = "trip";

pub(crate) async fn home(t: Translator, Query(filter): Query<Filter>) -> Response {
    let wanted = |sailing: &&Sailing| filter.boat.as_deref().is_none_or(|boat| sailing.boat == boat);
    let sailings: Vec<&Sailing> = SAILINGS.iter().filter(wanted).collect();
    let mut boats: Vec<&str> = Vec::new();
    for sailing in &sailings {
        if !boats.contains(&sailing.boat) {
            boats.push(sailing.boat);
        }
    }
    show(StatusCode::OK, templates::home(&t, &sailings, &boats))
}

pub(crate) async fn sailing(t: Translator, Path(id): Path<String>) -> Response {
    match id.parse().ok().and_then(find) {
        Some(sailing) => {
            let page = templates::sailing(&t, sailing, &Booking::default(), &Errors::default());
            show(StatusCode::OK, page)
        }
        None => missing(t).await,
    }
}

pub(crate) async fn book(
    t: Translator,
    session: Session,
    Path(id): Path<String>,
    Form(form): Form<Booking>,
) -> Response {
    let Some(sailing) = id.parse().ok().and_then(find) else { return missing(t).await };
    let (name, seats) = (check_name(&form), check_seats(&form, sailing));
    if name.is_some() || seats.is_some() {
        // Errors are messages like any other: by key, with their parameters.
        let text = |error: MessageRef<'static>| t.marked(error).to_html();
        let errors = Errors { name: name.map(text), seats: seats.map(text) };
        return show(StatusCode::UNPROCESSABLE_ENTITY, templates::sailing(&t, sailing, &form, &errors));
    }
    let wanted = form.seats.trim().parse().unwrap_or(1);
    if !sailing.take(wanted) {
        let seats = t.marked(msg::sailing::errors::TooManySeats { seats: sailing.seats_left() });
        let errors = Errors { name: None, seats: Some(seats.to_html()) };
        return show(StatusCode::UNPROCESSABLE_ENTITY, templates::sailing(&t, sailing, &form, &errors));
    }
    let trip = Trip { sailing: sailing.id, name: form.name.trim().to_owned(), seats: wanted };
    match session.insert(TRIP, trip).await {
        Ok(()) => Redirect::to(&t.path("/trip")).into_response(),
        Err(_) => StatusCode::SERVICE_UNAVAILABLE.into_response(),
    }
}

/// What is wrong with the name. The mistakes that every form has come ready-made.
fn check_name(form: &Booking) -> Option<MessageRef<'static>> {
    match form.name.trim().chars().count() {
        0 => Some("basics.form.required".into()),
        1..=LONGEST_NAME => None,
        _ => Some(("basics.form.too-long", args! { limit: LONGEST_NAME }).into()),
    }
}

/// What is wrong with the number of seats.
fn check_seats(form: &Booking, sailing: &Sailing) -> Option<MessageRef<'static>> {
    match form.seats.trim().parse::<u32>() {
        Err(_) => Some("basics.form.not-a-number".into()),
        Ok(0) => Some(msg::sailing::errors::NoSeats.into()),
        Ok(seats) if seats > sailing.seats_left() => {
            Some(msg::sailing::errors::TooManySeats { seats: sailing.seats_left() }.into())
        }
        Ok(_) => None,
    }
}

/// How many seats are left: the page's script asks now and then.
pub(crate) async fn seats(Path(id): Path<String>) -> Response {
    match id.parse().ok().and_then(find) {
        Some(sailing) => {
            let count = format!("{{\"left\":{}}}", sailing.seats_left());
            ([(CONTENT_TYPE, "application/json"), (CACHE_CONTROL, "no-store")], count).into_response()
        }
        None => StatusCode::NOT_FOUND.into_response(),
    }
}

/// How often it asks, in milliseconds.
pub(crate) const COUNTED_EVERY: u32 = 3_000;

pub(crate) async fn trip(t: Translator, session: Session) -> Response {
    let trip = session.get::<Trip>(TRIP).await.ok().flatten();
    let trip = trip.and_then(|trip| find(trip.sailing).map(|sailing| (trip, sailing)));
    show(StatusCode::OK, templates::trip(&t, trip.as_ref()))
}

pub(crate) async fn missing(t: Translator) -> Response {
    show(StatusCode::NOT_FOUND, templates::missing(&t))
}

fn show(status: StatusCode, page: Markup) -> Response {
    (status, Html(page.into_string())).into_response()
}
