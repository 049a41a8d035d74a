//! What the pages look like. Each text is one call of the translator: `t.html(…)` among the HTML, `t.text(…)` in attributes.

use crow_fly::{MenuItem, Translator};
use ferry_messages as msg;
use maud::{DOCTYPE, Markup, html};

use crate::pages::{Booking, COUNTED_EVERY, Errors, Trip};
use crate::site::ORIGIN;
use crate::timetable::Sailing;

/// What stands around every page.
fn page(t: &Translator, title: &str, content: &Markup) -> Markup {
    html! {
        (DOCTYPE)
        html lang=(t.locale()) dir=(t.direction()) {
            head {
                meta charset="utf-8";
                meta name="viewport" content="width=device-width, initial-scale=1";
                title { (t.text(msg::common::Title { page: title })) }
                (t.alternates(ORIGIN).to_html())
                link rel="icon" href="data:,";
                link rel="stylesheet" href="/assets/ferry.css";
            }
            body {
                a.skip href="#content" { (t.text(msg::common::SkipToContent)) }
                header {
                    p.company { a href=(t.path("/")) { (t.html(msg::common::Company)) } }
                    nav {
                        a href=(t.path("/")) { (t.html(msg::common::navigation::Home)) } " "
                        a href=(t.path("/trip")) { (t.html(msg::common::navigation::Trip)) }
                    }
                    nav.languages aria-label=(t.text(msg::common::Language)) {
                        ul {
                            @for item in t.menu() { li { (language(&item)) } " " }
                        }
                    }
                }
                main #content { (content) }
                footer { (t.html(msg::common::footer::About)) " " (t.inspector()) }
            }
        }
    }
}

/// The link to this page in one language: its name in itself, and in the language of the page where that is another.
fn language(item: &MenuItem) -> Markup {
    html! {
        // The title is in the language of the page, the name within is not.
        a href=(item.address) hreflang=(item.locale) title=[&item.name] aria-current=[item.current.then_some("true")] {
            span lang=(item.locale) dir=(item.direction) { (item.own_name) }
        }
    }
}

pub(crate) fn home(t: &Translator, sailings: &[&Sailing], boats: &[&str]) -> Markup {
    let content = html! {
        h1 { (t.html(msg::home::Title)) }
        p.lead { (t.html(msg::home::Summary { count: sailings.len() })) }
        p { (t.html(msg::home::Boats { boats: boats.to_vec() })) }
        table {
            thead {
                tr {
                    th scope="col" { (t.html(msg::home::table::Departs)) }
                    th scope="col" { (t.html(msg::home::table::Route)) }
                    th scope="col" { (t.html(msg::home::table::Boat)) }
                    th scope="col" { (t.html(msg::home::table::Seats)) }
                    th {}
                }
            }
            tbody {
                @for sailing in sailings { (departure(t, sailing)) }
            }
        }
    };
    page(t, &t.text(msg::home::Title), &content)
}

fn departure(t: &Translator, sailing: &Sailing) -> Markup {
    html! {
        tr {
            td {
                time datetime=(sailing.departs) {
                    (t.html(msg::home::table::Time { time: sailing.departs }))
                }
            }
            td { (t.html(msg::home::table::FromTo { from: sailing.from, to: sailing.to })) }
            td { a href={ (t.path("/")) "?boat=" (sailing.boat) } { (sailing.boat) } }
            td { (t.html(msg::sailing::SeatsLeft { seats: sailing.seats_left() })) }
            td { a.button href=(t.path(sailing.path())) { (t.html(msg::home::table::Book)) } }
        }
    }
}

/// A sailing and its form, with what the visitor typed, to be shown again, and what is wrong with it.
pub(crate) fn sailing(t: &Translator, sailing: &Sailing, form: &Booking, errors: &Errors) -> Markup {
    let title = msg::sailing::Title { from: sailing.from, to: sailing.to };
    // What the form may have to say before it is sent.
    let hand_off = t
        .hand_off()
        .text("basics.form.required")
        .text("basics.form.not-a-number")
        .text(msg::sailing::errors::NoSeats)
        .text(msg::sailing::errors::TooManySeats { seats: sailing.seats_left() })
        .to_html();
    let content = html! {
        p.kicker { (t.html(msg::sailing::Ordinal { place: sailing.id })) }
        h1 { (t.html(msg::sailing::Title { from: sailing.from, to: sailing.to })) }
        p.lead { (t.html(msg::sailing::Departs { time: sailing.departs, boat: sailing.boat })) }
        ul.facts {
            li #seats-left { (t.html(msg::sailing::SeatsLeft { seats: sailing.seats_left() })) }
            li { (t.html(msg::sailing::Leaves { moment: sailing.leaves() })) }
            li { (t.html(msg::sailing::CrossingTime { minutes: sailing.minutes })) }
            li { (t.html(msg::sailing::Fare { crowns: sailing.crowns })) }
        }
        form.booking method="post" action=(t.path(sailing.path())) data-sailing=(sailing.id)
            data-left=(sailing.seats_left()) data-fare=(sailing.crowns)
            data-seats={ (sailing.path()) "/seats" } data-every=(COUNTED_EVERY) {
            fieldset {
                legend { (t.html(msg::sailing::form::Legend)) }
                label {
                    (t.html(msg::sailing::form::Name)) " "
                    input name="name" value=(form.name) autocomplete="name";
                }
                (error(errors.name.as_deref()))
                label {
                    (t.html(msg::sailing::form::Seats)) " "
                    input name="seats" inputmode="numeric" value=(form.seats);
                }
                (error(errors.seats.as_deref()))
                output #total hidden {}
                button { (t.html(msg::sailing::form::Submit)) }
            }
        }
        (hand_off)
        script type="module" src="/assets/booking.js" {}
    };
    page(t, &t.text(title), &content)
}

/// What is wrong with a field.
fn error(text: Option<&str>) -> Markup {
    html! {
        @if let Some(text) = text { p.error role="alert" { (text) } }
    }
}

pub(crate) fn trip(t: &Translator, trip: Option<&(Trip, &Sailing)>) -> Markup {
    let content = html! {
        h1 { (t.html(msg::trip::Title)) }
        @if let Some((trip, sailing)) = trip {
            p.lead { (t.html(msg::trip::Thanks { name: &trip.name })) }
            ul.facts {
                li { (t.html(msg::trip::Booked { seats: trip.seats, from: sailing.from, to: sailing.to })) }
                li { (t.html(msg::trip::Departs { boat: sailing.boat, time: sailing.departs })) }
                li { (t.html(msg::trip::Total { crowns: sailing.crowns * f64::from(trip.seats) })) }
            }
        } @else {
            p.lead { (t.html(msg::trip::None)) }
        }
        p { a.button href=(t.path("/")) { (t.html(msg::trip::Again)) } }
    };
    page(t, &t.text(msg::trip::Title), &content)
}

pub(crate) fn missing(t: &Translator) -> Markup {
    let content = html! {
        h1 { (t.html(msg::common::missing::Title)) }
        p.lead { (t.html(msg::common::missing::Text)) }
        p { a.button href=(t.path("/")) { (t.html(msg::common::missing::Back)) } }
    };
    page(t, &t.text(msg::common::missing::Title), &content)
}
