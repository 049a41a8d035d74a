// Made by `crow-fly-codegen` from the catalogs: change those, not this.

declare module "*/crow-fly.js" {
    /** The messages that scripts may ask for, with their arguments. */
    export interface Messages {
        /**
         * The company's name. It is the same in every language.
         * Saltmarsh Ferries
         */
        "common.company": None;
        /**
         * The label of the language menu.
         * Language
         */
        "common.language": None;
        /** Skip to the content */
        "common.skip-to-content": None;
        /**
         * Behind the page's own title, in the browser's tab.
         * {$page} – Saltmarsh Ferries
         */
        "common.title": { "page": Argument };
        /** Saltmarsh Ferries is made up. No ferry sails. */
        "common.footer.about": None;
        /** See today's sailings */
        "common.missing.back": None;
        /** There is no page at this address. The ferry that went there may have been rerouted. */
        "common.missing.text": None;
        /** No such page */
        "common.missing.title": None;
        /** Today's sailings */
        "common.navigation.home": None;
        /** My trip */
        "common.navigation.trip": None;
        /**
         * The boats of the day, by name.
         * Sailing today: {$boats :crow:list}.
         */
        "home.boats": { "boats": readonly Argument[] };
        /**
         * How many sailings are still to come today.
         * .input {$count :integer}
         * .match $count
         * 0   {{No more sailings today.}}
         * one {{{#strong}One sailing{/strong} is still to come today.}}
         * *   {{{#strong}{$count} sailings{/strong} are still to come today.}}
         */
        "home.summary": { "count": Numeric };
        /** Today's sailings */
        "home.title": None;
        /** Boat */
        "home.table.boat": None;
        /** See sailing */
        "home.table.book": None;
        /** Departs */
        "home.table.departs": None;
        /**
         * A route: from one port to another. Both are names.
         * {$from} to {$to}
         */
        "home.table.from-to": { "from": Argument; "to": Argument };
        /** Route */
        "home.table.route": None;
        /** Seats */
        "home.table.seats": None;
        /**
         * When a boat departs.
         * {$time :time}
         */
        "home.table.time": { "time": DateOrTime };
        /**
         * .input {$minutes :integer}
         * .match $minutes
         * one {{The crossing takes {$minutes} minute.}}
         * *   {{The crossing takes {$minutes} minutes.}}
         */
        "sailing.crossing-time": { "minutes": Numeric };
        /** Departs at {$time :time} on the {$boat}. */
        "sailing.departs": { "boat": Argument; "time": DateOrTime };
        /**
         * The fare of one seat. Whole marsh crowns and shillings: a made-up currency.
         * {$crowns :number minimumFractionDigits=2} crowns a seat
         */
        "sailing.fare": { "crowns": Numeric };
        /**
         * How long it is until it departs, or since: "in 20 minutes", "2 hours ago".
         * Departure: {$moment :crow:relative}
         */
        "sailing.leaves": { "moment": Numeric | DateOrTime };
        /**
         * Which crossing of the day this is: the first, the second, …
         * .input {$place :integer select=ordinal}
         * .match $place
         * one {{The {$place}st crossing of the day}}
         * two {{The {$place}nd crossing of the day}}
         * few {{The {$place}rd crossing of the day}}
         * *   {{The {$place}th crossing of the day}}
         */
        "sailing.ordinal": { "place": Numeric };
        /**
         * .input {$seats :integer}
         * .match $seats
         * 0   {{Sold out}}
         * one {{Only {$seats} seat left}}
         * *   {{{$seats} seats left}}
         */
        "sailing.seats-left": { "seats": Numeric };
        /** {$from} to {$to} */
        "sailing.title": { "from": Argument; "to": Argument };
        /** Please book at least one seat. */
        "sailing.errors.no-seats": None;
        /**
         * The visitor asked for more seats than there are.
         * .input {$seats :integer}
         * .match $seats
         * 0   {{This crossing is sold out.}}
         * one {{There is only {$seats} seat left. Please book no more.}}
         * *   {{There are only {$seats} seats left. Please book no more.}}
         */
        "sailing.errors.too-many-seats": { "seats": Numeric };
        /** Book this crossing */
        "sailing.form.legend": None;
        /** Your name */
        "sailing.form.name": None;
        /** Seats */
        "sailing.form.seats": None;
        /** Book */
        "sailing.form.submit": None;
        /** See more sailings */
        "trip.again": None;
        /**
         * .input {$seats :integer}
         * .match $seats
         * one {{{$seats} seat from {$from} to {$to}}}
         * *   {{{$seats} seats from {$from} to {$to}}}
         */
        "trip.booked": { "from": Argument; "seats": Numeric; "to": Argument };
        /** The {$boat} departs at {$time :time}. Be at the quay {#strong}15 minutes{/strong} before. */
        "trip.departs": { "boat": Argument; "time": DateOrTime };
        /** You have not booked a trip yet. */
        "trip.none": None;
        /**
         * The name is what the visitor typed.
         * Thank you, {$name}. Your trip is booked.
         */
        "trip.thanks": { "name": Argument };
        /** Your trip */
        "trip.title": None;
        /** To pay on board: {$crowns :number minimumFractionDigits=2} crowns */
        "trip.total": { "crowns": Numeric };
    }

    export type Key = keyof Messages;
    export type None = Record<string, never>;
    /** The arguments of a message: none, or one object. */
    export type Given<K extends Key> = Messages[K] extends None ? [] : [given: Messages[K]];

    /** A number; as text where a script's numbers would lose digits. */
    export type Numeric = number | bigint | { number: string };
    export type Money = { amount: number | string; currency: string };
    /** A moment as `Date`, as seconds since 1970, or as ISO 8601 writes it: `2026-05-01`, `09:30`. */
    export type DateOrTime = Date | number | string | { date: string };
    /** Seconds, or as ISO 8601 writes it: `PT1H30M`. */
    export type Duration = number | string | { duration: string };
    /** A text of its own as an argument; its own arguments are plain. */
    export type Text = { text: Key; arguments?: { [name: string]: Argument } };
    export type Argument =
        | string
        | number
        | bigint
        | boolean
        | Money
        | Text
        | { number: string }
        | { date: string }
        | { duration: string }
        | readonly Argument[];

    export interface Language {
        readonly locale: string;
        readonly direction: "ltr" | "rtl";
        /** Its name in itself. */
        readonly name: string;
        /** The address that remembers it and leads to this page. */
        readonly address: string;
        /** The address of this page in it, where there is one. */
        readonly page?: string;
        readonly home: string;
        readonly current: boolean;
    }

    export interface Texts {
        /** The language of the page now, and which way it runs. */
        readonly locale: string;
        readonly direction: "ltr" | "rtl";
        readonly languages: readonly Language[];
        /** The text of a message. */
        text<K extends Key>(key: K, ...given: Given<K>): Promise<string>;
        /** Shows a message in an element; whether it did: what is asked for later goes before what comes late. */
        show<K extends Key>(element: Element, key: K, ...given: Given<K>): Promise<boolean>;
        /** The address of a page, by its bare path, in the language of the page now. */
        path(bare: string): string;
        /** Says what is marked on the page in another language, and remembers the choice. */
        change(locale: string): Promise<boolean | undefined>;
    }

    /** The texts of the page, by the `id` of what it hands over. */
    export function texts(id?: string): Texts;
}

interface DocumentEventMap {
    /** The language of the page has changed. */
    localechange: CustomEvent<{ locale: string; direction: "ltr" | "rtl" }>;
}
