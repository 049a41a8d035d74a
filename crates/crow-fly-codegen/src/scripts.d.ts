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
