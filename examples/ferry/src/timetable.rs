//! The sailings of a day at Saltmarsh. It is always the same day, and, if nothing else is said, nine o'clock in the morning.

use std::sync::atomic::{AtomicU32, Ordering};

use jiff::Timestamp;
use jiff::civil::{Date, Time, date, time};
use jiff::tz::TimeZone;

/// One sailing.
#[derive(Clone, Debug)]
pub(crate) struct Sailing {
    pub(crate) id: u32,
    pub(crate) departs: Time,
    pub(crate) from: &'static str,
    pub(crate) to: &'static str,
    pub(crate) boat: &'static str,
    /// How many seats there are; some may be booked.
    seats: u32,
    pub(crate) minutes: u32,
    /// The fare of one seat in marsh crowns.
    pub(crate) crowns: f64,
}

impl Sailing {
    /// How many seats are left.
    pub(crate) fn seats_left(&self) -> u32 {
        self.seats.saturating_sub(self.booked().load(Ordering::Relaxed))
    }

    /// Takes seats; whether there were so many.
    pub(crate) fn take(&self, seats: u32) -> bool {
        let take = |booked: u32| booked.checked_add(seats).filter(|booked| *booked <= self.seats);
        self.booked().fetch_update(Ordering::Relaxed, Ordering::Relaxed, take).is_ok()
    }

    fn booked(&self) -> &'static AtomicU32 {
        static NONE: AtomicU32 = AtomicU32::new(0);
        (self.id as usize).checked_sub(1).and_then(|at| BOOKED.get(at)).unwrap_or(&NONE)
    }

    /// The moment at which it departs.
    pub(crate) fn leaves(&self) -> Timestamp {
        at(self.departs)
    }

    /// The bare path of the sailing's page.
    pub(crate) fn path(&self) -> String {
        format!("/sailings/{}", self.id)
    }
}

/// The day.
const DAY: Date = date(2026, 5, 1);

/// A time of the day at Saltmarsh, whose clocks are those of London.
pub(crate) fn at(time: Time) -> Timestamp {
    let zone = TimeZone::get("Europe/London").unwrap_or(TimeZone::UTC);
    zone.to_timestamp(DAY.to_datetime(time)).unwrap_or_default()
}

const fn sailing(
    id: u32,
    departs: (i8, i8),
    route: (&'static str, &'static str),
    boat: &'static str,
    seats: u32,
    minutes: u32,
    crowns: f64,
) -> Sailing {
    let departs = time(departs.0, departs.1, 0, 0);
    Sailing { id, departs, from: route.0, to: route.1, boat, seats, minutes, crowns }
}

const OUT: (&str, &str) = ("Saltmarsh Quay", "Heron Point");
const BACK: (&str, &str) = ("Heron Point", "Saltmarsh Quay");
const ISLAND: (&str, &str) = ("Saltmarsh Quay", "Tern Island");

/// How many seats of each sailing are booked, as long as the program runs.
static BOOKED: [AtomicU32; 7] = [const { AtomicU32::new(0) }; 7];

/// Today's sailings, in the order they depart.
pub(crate) static SAILINGS: [Sailing; 7] = [
    sailing(1, (9, 30), OUT, "Curlew", 42, 55, 12.5),
    sailing(2, (10, 15), ISLAND, "Avocet", 1, 31, 8.0),
    sailing(3, (11, 40), BACK, "Curlew", 3, 55, 12.5),
    sailing(4, (13, 5), OUT, "Sandpiper", 0, 72, 9.75),
    sailing(5, (15, 20), ISLAND, "Avocet", 6, 31, 8.0),
    sailing(6, (16, 45), BACK, "Sandpiper", 22, 72, 9.75),
    sailing(7, (19, 0), OUT, "Curlew", 1250, 55, 11.0),
];

/// The sailing of a number.
pub(crate) fn find(id: u32) -> Option<&'static Sailing> {
    SAILINGS.iter().find(|sailing| sailing.id == id)
}
