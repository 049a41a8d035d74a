// Made by `crow-fly-codegen` from the catalogs: change those, not this.

/// The section `booking`.
#[allow(
    clippy::all,
    clippy::pedantic,
    dead_code,
    missing_debug_implementations,
    unreachable_pub,
    reason = "this code is made from catalogs"
)]
pub mod booking {
    /// `booking.departs`, in `tests/compile/catalogs/en/booking.toml`, line 8.
    ///
    /// ```text
    /// {$ship} departs at {$time :time}
    /// ```
    pub struct Departs<T0, T1>
    where
        T1: ::crow_fly::typed::Date,
    {
        /// `$ship`: any value.
        pub ship: T0,
        /// `$time`: a date or a time.
        pub time: T1,
    }

    impl<'a, T0, T1> ::crow_fly::typed::Message<'a> for Departs<T0, T1>
    where
        T0: ::core::convert::Into<::crow_fly::Value<'a>>,
        T1: ::crow_fly::typed::Date + ::core::convert::Into<::crow_fly::Value<'a>>,
    {
        type Section = super::sections::Booking;
        const KEY: &'static str = "booking.departs";

        fn arguments(self) -> ::crow_fly::Args<'a> {
            let ship = self.ship.into();
            let time = self.time.into();
            ::crow_fly::Args::of([("ship", ship), ("time", time)])
        }
    }

    /// `booking.fare`, in `tests/compile/catalogs/en/booking.toml`, line 10.
    ///
    /// ```text
    /// Fare: {$fare :currency}
    /// ```
    pub struct Fare<T0>
    where
        T0: ::crow_fly::typed::Amount,
    {
        /// `$fare`: an amount of money.
        pub fare: T0,
    }

    impl<'a, T0> ::crow_fly::typed::Message<'a> for Fare<T0>
    where
        T0: ::crow_fly::typed::Amount + ::core::convert::Into<::crow_fly::Value<'a>>,
    {
        type Section = super::sections::Booking;
        const KEY: &'static str = "booking.fare";

        fn arguments(self) -> ::crow_fly::Args<'a> {
            let fare = self.fare.into();
            ::crow_fly::Args::of([("fare", fare)])
        }
    }

    /// `booking.fare-in-euros`, in `tests/compile/catalogs/en/booking.toml`, line 11.
    ///
    /// ```text
    /// Fare: {$fare :currency currency=EUR}
    /// ```
    pub struct FareInEuros<T0>
    where
        T0: ::crow_fly::typed::Number,
    {
        /// `$fare`: a number.
        pub fare: T0,
    }

    impl<'a, T0> ::crow_fly::typed::Message<'a> for FareInEuros<T0>
    where
        T0: ::crow_fly::typed::Number + ::core::convert::Into<::crow_fly::Value<'a>>,
    {
        type Section = super::sections::Booking;
        const KEY: &'static str = "booking.fare-in-euros";

        fn arguments(self) -> ::crow_fly::Args<'a> {
            let fare = self.fare.into();
            ::crow_fly::Args::of([("fare", fare)])
        }
    }

    /// `booking.leaves`, in `tests/compile/catalogs/en/booking.toml`, line 9.
    ///
    /// ```text
    /// Leaves {$when :crow:relative unit=day}, takes {$crossing :crow:duration}
    /// ```
    pub struct Leaves<T0, T1>
    where
        T0: ::crow_fly::typed::Duration,
        T1: ::crow_fly::typed::Relative,
    {
        /// `$crossing`: a duration.
        pub crossing: T0,
        /// `$when`: a number or a date.
        pub when: T1,
    }

    impl<'a, T0, T1> ::crow_fly::typed::Message<'a> for Leaves<T0, T1>
    where
        T0: ::crow_fly::typed::Duration + ::core::convert::Into<::crow_fly::Value<'a>>,
        T1: ::crow_fly::typed::Relative + ::core::convert::Into<::crow_fly::Value<'a>>,
    {
        type Section = super::sections::Booking;
        const KEY: &'static str = "booking.leaves";

        fn arguments(self) -> ::crow_fly::Args<'a> {
            let crossing = self.crossing.into();
            let when = self.when.into();
            ::crow_fly::Args::of([("crossing", crossing), ("when", when)])
        }
    }

    /// `booking.notice`, in `tests/compile/catalogs/en/booking.toml`, line 13.
    ///
    /// ```text
    /// .input {$kind :string}
    /// .match $kind
    /// fog   {{Fog: expect delays.}}
    /// storm {{Storm: no crossings today.}}
    /// *     {{Please mind: {$kind}.}}
    /// ```
    pub struct Notice<'a> {
        /// `$kind`: one of some words.
        pub kind: NoticeKind<'a>,
    }

    /// What `booking.notice` tells apart.
    pub enum NoticeKind<'a> {
        /// `fog`
        Fog,
        /// `storm`
        Storm,
        /// Anything else.
        Other(&'a str),
    }

    impl<'a> ::core::convert::From<NoticeKind<'a>> for ::crow_fly::Value<'a> {
        fn from(value: NoticeKind<'a>) -> Self {
            match value {
                NoticeKind::Fog => "fog".into(),
                NoticeKind::Storm => "storm".into(),
                NoticeKind::Other(other) => other.into(),
            }
        }
    }

    impl<'a> ::core::convert::From<&'a str> for NoticeKind<'a> {
        fn from(text: &'a str) -> Self {
            match text {
                "fog" => Self::Fog,
                "storm" => Self::Storm,
                other => Self::Other(other),
            }
        }
    }

    impl<'a> ::crow_fly::typed::Message<'a> for Notice<'a> {
        type Section = super::sections::Booking;
        const KEY: &'static str = "booking.notice";

        fn arguments(self) -> ::crow_fly::Args<'a> {
            let kind = self.kind.into();
            ::crow_fly::Args::of([("kind", kind)])
        }
    }

    /// `booking.open`, in `tests/compile/catalogs/en/booking.toml`, line 19.
    ///
    /// ```text
    /// .input {$open :string}
    /// .match $open
    /// true {{Open}}
    /// *    {{Closed}}
    /// ```
    pub struct Open {
        /// `$open`: yes or no.
        pub open: bool,
    }

    impl<'a> ::crow_fly::typed::Message<'a> for Open {
        type Section = super::sections::Booking;
        const KEY: &'static str = "booking.open";

        fn arguments(self) -> ::crow_fly::Args<'a> {
            let open = self.open.into();
            ::crow_fly::Args::of([("open", open)])
        }
    }

    /// `booking.seats-left`, in `tests/compile/catalogs/en/booking.toml`, line 3.
    ///
    /// ```text
    /// .input {$seats :integer}
    /// .match $seats
    /// one {{One seat left}}
    /// *   {{{$seats} seats left}}
    /// ```
    pub struct SeatsLeft<T0>
    where
        T0: ::crow_fly::typed::Number,
    {
        /// `$seats`: a number.
        pub seats: T0,
    }

    impl<'a, T0> ::crow_fly::typed::Message<'a> for SeatsLeft<T0>
    where
        T0: ::crow_fly::typed::Number + ::core::convert::Into<::crow_fly::Value<'a>>,
    {
        type Section = super::sections::Booking;
        const KEY: &'static str = "booking.seats-left";

        fn arguments(self) -> ::crow_fly::Args<'a> {
            let seats = self.seats.into();
            ::crow_fly::Args::of([("seats", seats)])
        }
    }

    /// `booking.stops`, in `tests/compile/catalogs/en/booking.toml`, line 12.
    ///
    /// ```text
    /// Calls at {$stops :crow:list}
    /// ```
    pub struct Stops<T0>
    where
        T0: ::crow_fly::typed::List,
    {
        /// `$stops`: a list.
        pub stops: T0,
    }

    impl<'a, T0> ::crow_fly::typed::Message<'a> for Stops<T0>
    where
        T0: ::crow_fly::typed::List + ::core::convert::Into<::crow_fly::Value<'a>>,
    {
        type Section = super::sections::Booking;
        const KEY: &'static str = "booking.stops";

        fn arguments(self) -> ::crow_fly::Args<'a> {
            let stops = self.stops.into();
            ::crow_fly::Args::of([("stops", stops)])
        }
    }

    /// `booking.title`, in `tests/compile/catalogs/en/booking.toml`, line 2.
    ///
    /// ```text
    /// # Behind the page's own title.
    /// Book a crossing
    /// ```
    pub struct Title;

    impl<'a> ::crow_fly::typed::Message<'a> for Title {
        type Section = super::sections::Booking;
        const KEY: &'static str = "booking.title";

        fn arguments(self) -> ::crow_fly::Args<'a> {
            ::crow_fly::Args::new()
        }
    }

    /// The group `booking.form`.
    pub mod form {
        /// `booking.form.name`, in `tests/compile/catalogs/en/booking.toml`, line 26.
        ///
        /// ```text
        /// Your name
        /// ```
        pub struct Name;

        impl<'a> ::crow_fly::typed::Message<'a> for Name {
            type Section = super::super::sections::Booking;
            const KEY: &'static str = "booking.form.name";

            fn arguments(self) -> ::crow_fly::Args<'a> {
                ::crow_fly::Args::new()
            }
        }

        /// The group `booking.form.errors`.
        pub mod errors {
            /// `booking.form.errors.too-long`, in `tests/compile/catalogs/en/booking.toml`, line 27.
            ///
            /// ```text
            /// At most {$limit :integer} characters
            /// ```
            pub struct TooLong<T0>
            where
                T0: ::crow_fly::typed::Number,
            {
                /// `$limit`: a number.
                pub limit: T0,
            }

            impl<'a, T0> ::crow_fly::typed::Message<'a> for TooLong<T0>
            where
                T0: ::crow_fly::typed::Number + ::core::convert::Into<::crow_fly::Value<'a>>,
            {
                type Section = super::super::super::sections::Booking;
                const KEY: &'static str = "booking.form.errors.too-long";

                fn arguments(self) -> ::crow_fly::Args<'a> {
                    let limit = self.limit.into();
                    ::crow_fly::Args::of([("limit", limit)])
                }
            }
        }
    }
}

/// The section `trip`.
#[allow(
    clippy::all,
    clippy::pedantic,
    dead_code,
    missing_debug_implementations,
    unreachable_pub,
    reason = "this code is made from catalogs"
)]
pub mod trip {
    /// `trip.thanks`, in `tests/compile/catalogs/en/trip.toml`, line 1.
    ///
    /// ```text
    /// Thank you, {$name}.
    /// ```
    pub struct Thanks<T0> {
        /// `$name`: any value.
        pub name: T0,
    }

    impl<'a, T0> ::crow_fly::typed::Message<'a> for Thanks<T0>
    where
        T0: ::core::convert::Into<::crow_fly::Value<'a>>,
    {
        type Section = super::sections::Trip;
        const KEY: &'static str = "trip.thanks";

        fn arguments(self) -> ::crow_fly::Args<'a> {
            let name = self.name.into();
            ::crow_fly::Args::of([("name", name)])
        }
    }
}

/// The sections, for extractors that load them.
#[allow(
    clippy::all,
    clippy::pedantic,
    dead_code,
    missing_debug_implementations,
    unreachable_pub,
    reason = "this code is made from catalogs"
)]
pub mod sections {
    /// `booking`
    pub struct Booking;

    impl ::crow_fly::typed::Section for Booking {
        const NAME: &'static str = "booking";
    }

    /// `trip`
    pub struct Trip;

    impl ::crow_fly::typed::Section for Trip {
        const NAME: &'static str = "trip";
    }
}

/// Every message with its parameters: what this program uses, for `CrowFlyBuilder::requiring`.
#[allow(
    clippy::all,
    clippy::pedantic,
    dead_code,
    missing_debug_implementations,
    unreachable_pub,
    reason = "this code is made from catalogs"
)]
#[rustfmt::skip]
pub const MESSAGES: &[(&str, &[&str])] = &[
    ("booking.departs", &["ship", "time"]),
    ("booking.fare", &["fare"]),
    ("booking.fare-in-euros", &["fare"]),
    ("booking.form.errors.too-long", &["limit"]),
    ("booking.form.name", &[]),
    ("booking.leaves", &["crossing", "when"]),
    ("booking.notice", &["kind"]),
    ("booking.open", &["open"]),
    ("booking.seats-left", &["seats"]),
    ("booking.stops", &["stops"]),
    ("booking.title", &[]),
    ("trip.thanks", &["name"]),
];

/// The catalogs that these types were made from: the last resort below other sources.
#[allow(
    clippy::all,
    clippy::pedantic,
    dead_code,
    missing_debug_implementations,
    unreachable_pub,
    reason = "this code is made from catalogs"
)]
pub fn texts() -> impl ::crow_fly::source::CatalogSource {
    #[rustfmt::skip]
    static LAYER_0: &[::crow_fly::source::EmbeddedFile] = &[
        ::crow_fly::source::EmbeddedFile::new("en/booking.toml", "# Behind the page's own title.\ntitle = \"Book a crossing\"\nseats-left = \"\"\"\n.input {$seats :integer}\n.match $seats\none {{One seat left}}\n*   {{{$seats} seats left}}\"\"\"\ndeparts = \"{$ship} departs at {$time :time}\"\nleaves = \"Leaves {$when :crow:relative unit=day}, takes {$crossing :crow:duration}\"\nfare = \"Fare: {$fare :currency}\"\nfare-in-euros = \"Fare: {$fare :currency currency=EUR}\"\nstops = \"Calls at {$stops :crow:list}\"\nnotice = \"\"\"\n.input {$kind :string}\n.match $kind\nfog   {{Fog: expect delays.}}\nstorm {{Storm: no crossings today.}}\n*     {{Please mind: {$kind}.}}\"\"\"\nopen = \"\"\"\n.input {$open :string}\n.match $open\ntrue {{Open}}\n*    {{Closed}}\"\"\"\n\n[form]\nname = \"Your name\"\nerrors.too-long = \"At most {$limit :integer} characters\"\n"),
        ::crow_fly::source::EmbeddedFile::new("en/trip.toml", "thanks = \"Thank you, {$name}.\"\n"),
    ];
    ::crow_fly::source::Embedded::new(LAYER_0).partial()
}
