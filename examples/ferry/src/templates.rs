//! What the pages look like. Each text is one call of the translator: `t.marked(…)` among the HTML, so that the menu can change the
//! language of the page where it stands. A site without such a script writes `t.html(…)`, and `t.text(…)` in attributes.

use crow_fly::browser::{HandOff, MarkedText};
use crow_fly::{Html, MenuItem, MessageRef, Translator};
use ferry_messages as msg;
use maud::{DOCTYPE, Markup, html};

use crate::pages::{Booking, COUNTED_EVERY, Errors, Trip};
use crate::site::ORIGIN;
use crate::timetable::Sailing;

/// A text among the HTML.
fn text<'t>(t: &'t Translator, message: impl Into<MessageRef<'t>>) -> Html {
    t.marked(message).to_html()
}

/// What stands around every page.
fn page(t: &Translator, title: MarkedText<'_>, hand_off: &HandOff<'_>, content: &Markup) -> Markup {
    let title = t.marked(msg::common::Title { page: title });
    let language_menu = t.marked(msg::common::Language);
    html! {
        (DOCTYPE)
        html lang=(t.locale()) dir=(t.direction()) {
            head {
                meta charset="utf-8";
                meta name="viewport" content="width=device-width, initial-scale=1";
                title data-text=[title.key()] data-arguments=[title.arguments()] { (title.text()) }
                (t.alternates(ORIGIN).to_html())
                link rel="icon" href="data:,";
                link rel="stylesheet" href="/assets/ferry.css";
                link rel="modulepreload" href=[t.module_address()];
            }
            body {
                a.skip href="#content" { (text(t, msg::common::SkipToContent)) }
                header {
                    p.company { a href=(t.path("/")) data-path="/" { (text(t, msg::common::Company)) } }
                    nav {
                        a href=(t.path("/")) data-path="/" { (text(t, msg::common::navigation::Home)) } " "
                        a href=(t.path("/trip")) data-path="/trip" { (text(t, msg::common::navigation::Trip)) }
                    }
                    nav.languages aria-label=(language_menu.text()) data-text-aria-label=[language_menu.key()] {
                        ul {
                            @for item in t.menu() { li { (language(&item)) } " " }
                        }
                    }
                }
                main #content { (content) }
                footer { (text(t, msg::common::footer::About)) " " (t.inspector()) }
                (hand_off.to_html())
                script type="module" src="/assets/language.js" {}
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
        h1 { (text(t, msg::home::Title)) }
        p.lead { (text(t, msg::home::Summary { count: sailings.len() })) }
        p { (text(t, msg::home::Boats { boats: boats.to_vec() })) }
        table {
            thead {
                tr {
                    th scope="col" { (text(t, msg::home::table::Departs)) }
                    th scope="col" { (text(t, msg::home::table::Route)) }
                    th scope="col" { (text(t, msg::home::table::Boat)) }
                    th scope="col" { (text(t, msg::home::table::Seats)) }
                    th {}
                }
            }
            tbody {
                @for sailing in sailings { (departure(t, sailing)) }
            }
        }
    };
    page(t, t.marked(msg::home::Title), &t.hand_off(), &content)
}

fn departure(t: &Translator, sailing: &Sailing) -> Markup {
    html! {
        tr {
            td {
                time datetime=(sailing.departs) {
                    (text(t, msg::home::table::Time { time: sailing.departs }))
                }
            }
            td { (text(t, msg::home::table::FromTo { from: sailing.from, to: sailing.to })) }
            td { a href={ (t.path("/")) "?boat=" (sailing.boat) } data-path={ "/?boat=" (sailing.boat) } translate="no" { (sailing.boat) } }
            td { (text(t, msg::sailing::SeatsLeft { seats: sailing.seats_left() })) }
            td { a.button href=(t.path(sailing.path())) data-path=(sailing.path()) { (text(t, msg::home::table::Book)) } }
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
        .text(msg::sailing::errors::TooManySeats { seats: sailing.seats_left() });
    // An element of its own, which a script finds.
    let left = t.marked(msg::sailing::SeatsLeft { seats: sailing.seats_left() });
    let content = html! {
        p.kicker { (text(t, msg::sailing::Ordinal { place: sailing.id })) }
        h1 { (text(t, msg::sailing::Title { from: sailing.from, to: sailing.to })) }
        p.lead { (text(t, msg::sailing::Departs { time: sailing.departs, boat: sailing.boat })) }
        ul.facts {
            li #seats-left data-text=[left.key()] data-arguments=[left.arguments()] { (left.html()) }
            li { (text(t, msg::sailing::Leaves { moment: sailing.leaves() })) }
            li { (text(t, msg::sailing::CrossingTime { minutes: sailing.minutes })) }
            li { (text(t, msg::sailing::Fare { crowns: sailing.crowns })) }
        }
        form.booking method="post" action=(t.path(sailing.path())) data-path=(sailing.path())
            data-left=(sailing.seats_left()) data-fare=(sailing.crowns)
            data-seats={ (sailing.path()) "/seats" } data-every=(COUNTED_EVERY) {
            fieldset {
                legend { (text(t, msg::sailing::form::Legend)) }
                label {
                    (text(t, msg::sailing::form::Name)) " "
                    input name="name" value=(form.name) autocomplete="name";
                }
                (error(errors.name.as_ref()))
                label {
                    (text(t, msg::sailing::form::Seats)) " "
                    input name="seats" inputmode="numeric" value=(form.seats);
                }
                (error(errors.seats.as_ref()))
                output #total hidden {}
                button { (text(t, msg::sailing::form::Submit)) }
            }
        }
        script type="module" src="/assets/booking.js" {}
    };
    page(t, t.marked(title), &hand_off, &content)
}

/// What is wrong with a field.
fn error(text: Option<&Html>) -> Markup {
    html! {
        @if let Some(text) = text { p.error role="alert" { (text) } }
    }
}

pub(crate) fn trip(t: &Translator, trip: Option<&(Trip, &Sailing)>) -> Markup {
    let content = html! {
        h1 { (text(t, msg::trip::Title)) }
        @if let Some((trip, sailing)) = trip {
            p.lead { (text(t, msg::trip::Thanks { name: &trip.name })) }
            ul.facts {
                li { (text(t, msg::trip::Booked { seats: trip.seats, from: sailing.from, to: sailing.to })) }
                li { (text(t, msg::trip::Departs { boat: sailing.boat, time: sailing.departs })) }
                li { (text(t, msg::trip::Total { crowns: sailing.crowns * f64::from(trip.seats) })) }
            }
        } @else {
            p.lead { (text(t, msg::trip::None)) }
        }
        p { a.button href=(t.path("/")) data-path="/" { (text(t, msg::trip::Again)) } }
    };
    page(t, t.marked(msg::trip::Title), &t.hand_off(), &content)
}

pub(crate) fn missing(t: &Translator) -> Markup {
    let content = html! {
        h1 { (text(t, msg::common::missing::Title)) }
        p.lead { (text(t, msg::common::missing::Text)) }
        p { a.button href=(t.path("/")) data-path="/" { (text(t, msg::common::missing::Back)) } }
    };
    page(t, t.marked(msg::common::missing::Title), &t.hand_off(), &content)
}
