//! Checks: every mistake that translators make is found, each by itself, at its place; and what is right is left alone.

use std::collections::{BTreeMap, BTreeSet};

use crow_fly_core::catalog::SectionSource;
use crow_fly_core::chain::Chains;
use crow_fly_core::check::{CheckSettings, Checker, Project, check};
use crow_fly_core::finding::Finding;
use crow_fly_core::locale_set::LocaleSet;
use crow_fly_core::rule::{Family, Rule, Severity};

/// The findings about a locale with these files, beside English ones.
fn findings(tag: &str, reference: &str, own: &str) -> Vec<Finding> {
    let set = LocaleSet::parse(["en", tag]).unwrap();
    let chains = Chains::new(&set, [], []).unwrap();
    let files =
        [reference, own].map(|text| BTreeMap::from([("home".to_owned(), SectionSource::from_toml(text))]));
    let project: Project = set.iter().map(|(id, _)| id).zip(files).collect();
    check(&set, &chains, &project)
}

/// A file with one message.
fn one(message: &str) -> String {
    format!("key = '''{message}'''\n")
}

/// What is found of a message beside the English one: `rule line:column`.
fn told(tag: &str, reference: &str, own: &str) -> Vec<String> {
    let found = findings(tag, &one(reference), &one(own)).into_iter();
    found.map(|finding| format!("{} {}", finding.rule, finding.place.unwrap())).collect()
}

#[test]
#[allow(clippy::too_many_lines, reason = "a table of cases")]
fn each_mistake_in_a_message_is_found_by_itself_and_at_its_place() {
    let forms = ".input {$n :integer} .match $n one {{{$n} seat}} * {{{$n} seats}}";
    let rides = ".input {$by :string} .match $by bus {{By bus}} ferry {{By ferry}} * {{On foot}}";
    let mut wrong = Vec::new();
    for (tag, reference, own, expected) in [
        // Syntax and the data model.
        ("pl", "Hello, {$name}", "Witaj, {$name", "unclosed-placeholder 1:17"),
        ("pl", "Hello", "Witaj }", "lone-brace 1:16"),
        ("pl", "Hello", "Witaj {}", "empty-placeholder 1:16"),
        ("pl", "Hello", r"Witaj \n", "bad-escape 1:16"),
        ("pl", "Hello", ".witaj", "unknown-keyword 1:10"),
        ("pl", "Hello", "{{Witaj", "unclosed-pattern 1:10"),
        ("pl", "Hello", "{{Witaj}} tam", "trailing-content 1:20"),
        ("pl", forms, ".input {$n :integer} .match $n one {{{$n} miejsce}}", "missing-fallback-variant 1:38"),
        ("pl", forms, ".match $n one {{{$n} miejsce}} * {{{$n} miejsc}}", "missing-selector-annotation 1:17"),
        ("pl", "{$n :number}", "{$n:number}", "missing-space 1:13"),
        // Functions, options, keys.
        ("pl", "{$n :number}", "{$n :nunber}", "unknown-function 1:14"),
        ("pl", "{$n :number}", "{$n :number minimumFractionDigit=2}", "wrong-option 1:22"),
        ("pl", "{$d :date}", "{$d :date length=longg}", "wrong-option 1:20"),
        (
            "de",
            forms,
            ".input {$n :integer} .match $n eins {{{$n} Platz}} one {{{$n} Platz}} * {{{$n} Plätze}}",
            "bad-variant-key 1:41",
        ),
        (
            "de",
            forms,
            ".input {$n :integer} .match $n oen {{{$n} Platz}} one {{{$n} Platz}} * {{{$n} Plätze}}",
            "bad-variant-key 1:41",
        ),
        (
            "de",
            forms,
            ".input {$n :integer} .match $n few {{{$n} Plätze}} one {{{$n} Platz}} * {{{$n} Plätze}}",
            "unused-plural-form 1:41",
        ),
        (
            "ja",
            forms,
            ".input {$n :integer} .match $n one {{{$n}席}} * {{{$n}席}}",
            "unused-plural-form 1:41",
        ),
        (
            "pl",
            forms,
            ".input {$n :integer} .match $n one {{{$n} miejsce}} many {{{$n} miejsc}} * {{{$n} miejsca}}",
            "missing-plural-form 1:38",
        ),
        ("de", forms, ".input {$n :integer} .match $n * {{{$n} Plätze}}", "missing-plural-form 1:38"),
        ("de", forms, "{$n :integer} Plätze", "missing-selection 1:10"),
        (
            "ru",
            forms,
            ".input {$n :integer} .match $n one {{Одно место}} few {{{$n} места}} many {{{$n} мест}} * {{{$n} места}}",
            "hidden-number 1:41",
        ),
        (
            "fr",
            forms,
            ".input {$n :integer} .match $n one {{Une place}} many {{{$n} de places}} * {{{$n} places}}",
            "hidden-number 1:41",
        ),
        // Parameters.
        ("pl", "Hello, {$name}!", "Witaj!", "missing-parameter 1:10"),
        ("pl", "Hello, {$name}!", "Witaj, {$imie}!", "surplus-parameter 1:17"),
        ("pl", "Hello, {$name}!", "Witaj, {$nmae}!", "surplus-parameter 1:17"),
        ("pl", "Hello, {$name}!", "Witaj, {$name} i {$boat}!", "surplus-parameter 1:27"),
        ("pl", "Hello, {$name}!", "Witaj, {name}!", "word-in-braces 1:17"),
        ("pl", "Hello, {$name}!", "Witaj, {nmae}!", "word-in-braces 1:17"),
        ("pl", "{$name}", "{{name}}", "other-notation 1:10"),
        ("pl", "At {$t :time}", "O {$t :number}", "parameter-kind 1:12"),
        ("pl", "{$n :number}", "{$n :percent}", "other-function 1:10"),
        ("pl", "{$d :date}", "{$d :datetime}", "other-function 1:10"),
        ("pl", "{$f :currency currency=EUR}", "{$f :currency currency=USD}", "other-option 1:10"),
        ("pl", "{$w :unit unit=knot}", "{$w :unit unit=kilometer-per-hour}", "other-option 1:10"),
        ("pl", "{$n :offset add=1}", "{$n :offset add=2}", "other-option 1:10"),
        ("pl", "{$d :date fields=month-day}", "{$d :date fields=year-month-day}", "other-option 1:10"),
        // Keys of choices.
        (
            "pl",
            rides,
            ".input {$by :string} .match $by autobus {{Autobusem}} ferry {{Promem}} * {{Pieszo}}",
            "surplus-select-key 1:42",
        ),
        (
            "pl",
            rides,
            ".input {$by :string} .match $by bus {{Autobusem}} fery {{Promem}} * {{Pieszo}}",
            "surplus-select-key 1:60",
        ),
        (
            "pl",
            rides,
            ".input {$by :string} .match $by bus {{Autobusem}} * {{Pieszo}}",
            "missing-select-key 1:10",
        ),
        // Markup.
        ("pl", "Read {#b}this{/b}", "Czytaj to", "missing-markup 1:10"),
        ("pl", "Read this", "Czytaj {#b}to{/b}", "surplus-markup 1:17"),
        ("pl", "Read {#strong}this{/strong}", "Czytaj {#em}to{/em}", "surplus-markup 1:17"),
        ("pl", "Read {#b}this{/b}", "Czytaj {#b}to", "unbalanced-markup 1:17"),
        ("pl", "Read {#b}this{/b}", "Czytaj {#b}to{/b}{/b}", "unbalanced-markup 1:27"),
        ("pl", "{#b}{#i}this{/i}{/b}", "{#b}{#i}to{/b}{/i}", "crossed-markup 1:20"),
        ("pl", "{#a href=|/trip|}this{/a}", "{#a href=|javascript:x|}to{/a}", "unsafe-address 1:14"),
        ("pl", "{#a href=|/trip|}this{/a}", "{#a href=|java script:x|}to{/a}", "unsafe-address 1:14"),
        ("pl", "{#b}this{/b}", "{#b onclick=x}to{/b}", "unsafe-attribute 1:14"),
        ("pl", "{#b}this{/b}", "{#b style=|color:red|}to{/b}", "unsafe-attribute 1:14"),
        // Wording.
        ("pl", "Your seats are booked", "Your seats are booked", "untranslated 1:10"),
        ("pl", "Your seats are booked", "YOUR SEATS ARE BOOKED", "untranslated 1:10"),
        ("pl", "Your seats are booked.", "your seats are booked", "end-mark 1:10, untranslated 1:10"),
        ("pl", "Seats", "", "blank-text 1:10"),
        ("pl", "Seats", "   ", "blank-text 1:10"),
        ("pl", "Seats", "Miejsca ", "white-space 1:17"),
        ("pl", "Seats", " Miejsca", "white-space 1:10"),
        ("pl", "Your seats", "Twoje  miejsca", "white-space 1:16"),
        ("pl", "Your seats", "Twoje\tmiejsca", "white-space 1:10"),
        ("pl", "Your seats", "Twoje\nmiejsca", "white-space 1:10"),
        ("pl", "Seats: ", "Miejsca:", "white-space 1:10"),
        ("pl", "Sold out?", "Brak miejsc.", "end-mark 1:10"),
        ("pl", "Name:", "Imię", "end-mark 1:10"),
        ("pl", "Loading…", "Ładowanie", "end-mark 1:10"),
        ("pl", "Booked!", "Zarezerwowano.", "end-mark 1:10"),
        ("pl", "Ferry", "Паром", "other-script 1:10"),
        ("ru", "Ferry", "渡船", "other-script 1:10"),
        ("pl", "Ferry", "Pr\u{43e}m", "look-alike 1:10"),
        ("ru", "Ferry", "П\u{61}ром", "look-alike 1:10"),
        ("el", "Ferry", "Φ\u{65}ριμποτ", "look-alike 1:10"),
        ("pl", "Seats", "TODO miejsca", "to-do 1:10"),
        ("pl", "Seats", "Miejsca (FIXME)", "to-do 1:19"),
        ("es", "Seats", "TODO: plazas", "to-do 1:10"),
        // Safety, and other notations.
        ("pl", "Sold out", "<b>Brak</b> miejsc", "html-in-text 1:10, html-in-text 1:17"),
        ("pl", "One line", "Wiersz<br/>drugi", "html-in-text 1:16"),
        ("pl", "Fish & chips", "Ryba &amp; frytki", "entity-in-text 1:15"),
        ("pl", "Price", "Cena&nbsp;biletu", "entity-in-text 1:14"),
        ("pl", "Price", "Cena&#160;biletu", "entity-in-text 1:14"),
        ("pl", "Seats", "Miej\u{200b}sca", "invisible-character 1:14"),
        ("pl", "Seats", "Miej\u{2060}sca", "invisible-character 1:14"),
        ("pl", "Seats", "Miejsca\u{200e}", "invisible-character 1:17"),
        ("pl", "Seats", "Miej\u{200d}sca", "invisible-character 1:14"),
        ("pl", "Seats", "Miejsca\u{202e}", "direction-character 1:17"),
        ("ar", "Seats", "مقاعد\u{202b}", "direction-character 1:15"),
        ("ar", "Seats", "\u{2068}مقاعد", "open-isolate 1:10"),
        ("ar", "Seats", "مقاعد\u{2069}", "open-isolate 1:15"),
        ("pl", "Hello, {$name}", "Witaj, %s", "other-notation 1:17"),
        ("pl", "{$n} seats", "%d miejsc", "other-notation 1:10"),
        ("pl", "{$n} seats", "%1$d miejsc", "other-notation 1:10"),
        ("pl", "{$n} seats", "%(n)s miejsc", "other-notation 1:10"),
        ("pl", "{$n} seats", "{0} miejsc", "other-notation 1:10"),
        ("pl", "{$name} seats", "${name} miejsc", "other-notation 1:10"),
        ("pl", "Hello, {$name}", "Witaj, $name", "other-notation 1:17"),
        ("pl", "Cafe", "CafÃ©", "mojibake 1:13"),
        ("pl", "It's full", "Toâ€™s", "mojibake 1:12"),
        ("pl", "Cafe", "Caf\u{fffd}", "replacement-character 1:13"),
        // Forms, declarations and options once each.
        (
            "pl",
            forms,
            ".input {$n :integer} .match $n one {{{$n} a}} one {{{$n} b}} few {{{$n} c}} many {{{$n} d}} * {{{$n} e}}",
            "duplicate-variant 1:56",
        ),
        (
            "pl",
            forms,
            ".input {$n :integer} .match $n one {{{$n} a}} fwe {{{$n} b}} few {{{$n} c}} many {{{$n} d}} * {{{$n} e}}",
            "bad-variant-key 1:56",
        ),
        (
            "pl",
            "{$n :number}",
            ".input {$n :number} .input {$n :number} {{{$n}}}",
            "duplicate-declaration 1:37",
        ),
        (
            "pl",
            "{$n :number}",
            "{$n :number minimumFractionDigits=1 minimumFractionDigits=2}",
            "duplicate-option-name 1:46",
        ),
        (
            "pl",
            forms,
            ".input {$n :integer} .match $n one one {{{$n} a}} * {{{$n} e}}",
            "variant-key-mismatch 1:41",
        ),
        ("pl", "{$f :currency currency=EUR}", "{$f :currency}", "other-option 1:10"),
        (
            "en-GB",
            ".input {$n :integer select=ordinal} .match $n one {{{$n}st}} two {{{$n}nd}} few {{{$n}rd}} * {{{$n}th}}",
            ".input {$n :integer select=ordinal} .match $n one {{{$n}st}} two {{{$n}nd}} * {{{$n}th}}",
            "missing-plural-form 1:53",
        ),
        ("pl", rides, "Jedź: {$by}", "missing-selection 1:10"),
        ("pl", "Hello, {$name}!", "Witaj, {$Name}!", "surplus-parameter 1:17"),
        ("pl", "Hello, {$name}!", "Witaj, {$ name}!", "expected-name 1:19"),
        ("pl", "Hello, {$name}!", "Witaj, %name%!", "other-notation 1:17"),
        ("pl", "Hello, {$name}!", "Witaj, [name]!", "other-notation 1:17"),
        ("pl", "Hello, {$name}!", "Witaj, #{name}!", "other-notation 1:17"),
        ("pl", "One{#br/}two", "Jeden dwa", "missing-markup 1:10"),
        ("pl", "{#a href=|/trip|}this{/a}", "{#a href=|data:text/html,x|}to{/a}", "unsafe-address 1:14"),
        ("pl", "{#a href=|/trip|}this{/a}", "{#a}to{/a}", "missing-markup-option 1:10"),
        ("pl", "One\ntwo", "Jeden dwa", "white-space 1:10"),
        ("pl", "One\ttwo", "Jeden dwa", "white-space 1:10"),
        ("pl", "Seats", "Miejsca\u{a0}", "white-space 1:17"),
        ("pl", "Seats", "Miejsca.", "end-mark 1:10"),
        ("pl", "Seats", "Miejsca XXX", "to-do 1:18"),
        ("pl", "Seats", "Miejsca\u{feff}", "invisible-character 1:17"),
        ("pl", "Seats", "Miejsca &quot;", "entity-in-text 1:18"),
        ("ar", "Seats", "There are seats left here", "other-script 1:10"),
        // Other notations, by the names of parameters where signs alone would be too many.
        ("pl", "To {$way}", "Do :way", "other-notation 1:13"),
        ("pl", "To {$way}", "Do {{way}} teraz", "other-notation 1:13"),
        ("pl", "To {$way}", "Do %{way}", "other-notation 1:13"),
        ("pl", "To {$way}", "Do @way", "other-notation 1:13"),
        ("pl", "To {$way}", "Do $way$", "other-notation 1:13"),
        ("pl", "To {$way}", "Do <way>", "other-notation 1:13"),
        ("pl", "To {$way}", "Do {$way} :way", "other-notation 1:20"),
        (
            "pl",
            "To {$way}",
            ".input {$way :string} .match $way a {{A}} * {{Do {way}}}",
            "word-in-braces 1:59",
        ),
        // Marks at the end, as each language writes them.
        ("pl", "Hello, {$name}!", "Witaj, {$name}", "end-mark 1:10"),
        ("pl", "It leaves at {$time}.", "Odjazd {$time}", "end-mark 1:10"),
        ("th", "Name:", "ชื่อ", "end-mark 1:10"),
        ("th", "Sold out.", "ขายหมดแล้วครับ.", "end-mark 1:24"),
        ("ar", "Is it open?", "هل هو مفتوح?", "end-mark 1:21"),
        ("fa", "Is it open?", "آیا باز است?", "end-mark 1:21"),
        ("el", "Is it open?", "Είναι ανοιχτό?", "end-mark 1:23"),
        ("ja", "Sold out.", "売り切れです.", "end-mark 1:16"),
        ("es", "Is it open?", "Está abierto?", "end-mark 1:22"),
        ("es", "Welcome!", "Bienvenidos!", "end-mark 1:21"),
        ("fr", "Is it open?", "C'est ouvert?", "end-mark 1:22"),
        ("fr", "Welcome, {$name}!", "Bienvenue, {$name}!", "end-mark 1:28"),
        // An offset.
        (
            "pl",
            ".local $rest = {$n :offset subtract=1} {{You and {$rest}}}",
            ".input {$n :integer} {{Ty i {$n}}}",
            "other-function 1:17",
        ),
        // What was left in the language of the default locale, in another script.
        ("ja", "Basket", "Basket", "untranslated 1:10"),
        ("uk", "My Basket", "My Basket", "untranslated 1:10"),
        ("pl", "{$d :date}", "{$d :date calendar=gregori}", "wrong-option 1:20"),
        ("pl", "{$d :time}", "{$d :time timeZone=|Europe/Warsow|}", "wrong-option 1:20"),
        (
            "pl",
            ".local $d = {|1500-01-01|} {{{$d :date}}}",
            ".local $d = {|1500-01-01|} {{{$d :date u:locale=fa}}}",
            "no-calendar 1:39",
        ),
        ("pl", "{|1500-01-01| :date}", "{|1500-01-01| :date calendar=persian}", "no-calendar 1:10"),
        (
            "fa",
            "{|1500-01-01| :crow:date fields=year}",
            "{|1500-01-01| :crow:date fields=year}",
            "no-calendar 1:10",
        ),
        ("pl", "{$d :unit unit=kilometer}", "{$d :unit unit=kilomter}", "wrong-option 1:20"),
        ("ja", "Seats", "There are seats left here", "other-script 1:10"),
    ] {
        let found = told(tag, reference, own).join(", ");
        if found != expected {
            wrong.push(format!("{tag}: {own}\n  found:    {found}\n  expected: {expected}"));
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[test]
#[allow(clippy::too_many_lines, reason = "a table of cases")]
fn what_is_right_is_left_alone() {
    let forms = ".input {$n :integer} .match $n one {{{$n} seat}} * {{{$n} seats}}";
    let rides = ".input {$by :string} .match $by bus {{By bus}} ferry {{By ferry}} * {{On foot}}";
    let mut wrong = Vec::new();
    for (tag, reference, own) in [
        // Names and brands, and words that are the same.
        ("pl", "Saltmarsh Ferries", "Saltmarsh Ferries"),
        ("de", "Name", "Name"),
        ("fr", "Menu", "Menu"),
        ("ja", "Wi-Fi", "Wi-Fi"),
        ("fr", "Saltmarsh Quay", "Saltmarsh Quay"),
        ("ru", "Open in iPhone", "Открыть на iPhone"),
        ("el", "Sign in with GitHub", "Σύνδεση με GitHub"),
        ("th", "Email", "อีเมล Email"),
        ("cy", "{$from} – {$to}", "{$from} – {$to}"),
        ("de", "{$from} – {$to}", "{$from} – {$to}"),
        ("pl", "{$name}", "{$name}"),
        ("fa", "{|2026-01-01| :date}", "{|2026-01-01| :date}"),
        ("fa", "{|1500-01-01| :date}", "{|1500-01-01| :date calendar=gregory}"),
        ("en-US", "{|1500-01-01| :date calendar=$calendar}", "{|1500-01-01| :date calendar=$calendar}"),
        // Punctuation as the language has it.
        ("es", "Sold out?", "¿No quedan plazas?"),
        ("es", "Booked!", "¡Reservado!"),
        ("es", "Everything included", "TODO INCLUIDO"),
        ("pt", "All", "TODO"),
        ("el", "Sold out?", "Εξαντλήθηκε;"),
        ("el", "Sold out?", "Εξαντλήθηκε\u{37e}"),
        ("ar", "Sold out?", "هل نفدت المقاعد؟"),
        ("ar", "Seats, boats", "مقاعد، قوارب"),
        ("fa", "Sold out?", "تمام شد؟"),
        ("ja", "Sold out.", "売り切れです。"),
        ("ja", "Really?", "本当ですか？"),
        ("zh-Hans", "Booked!", "已预订！"),
        ("zh-Hant", "Name:", "姓名："),
        ("hi", "Sold out.", "सीटें बिक गईं।"),
        ("ur", "Sold out.", "نشستیں ختم ہو گئیں۔"),
        ("hy", "Sold out?", "Վաճառվե՞լ է"),
        ("am", "Sold out.", "ተሽጧል።"),
        ("th", "The crossing is sold out.", "เที่ยวเรือนี้เต็มแล้ว"),
        ("th", "Do you want to go on?", "คุณต้องการดำเนินการต่อหรือไม่"),
        ("km", "Sold out.", "លក់អស់ហើយ"),
        ("fr", "Booked!", "Réservé\u{202f}!"),
        ("fr", "Sold out?", "Complet\u{a0}?"),
        ("fr", "Name:", "Nom\u{a0}:"),
        ("fr", "“Sold out”", "«\u{a0}Complet\u{a0}»"),
        ("de", "He said “no”.", "Er sagte „nein“."),
        ("de", "“No!”", "»Nein!«"),
        ("de", "Loading...", "Wird geladen..."),
        ("ru", "“Sold out”.", "«Распродано»."),
        ("ja", "“Sold out”", "「売り切れ」"),
        // Joiners and direction marks where the script uses them.
        ("fa", "I want", "می\u{200c}خواهم"),
        ("hi", "Letter", "क\u{94d}\u{200d}ष"),
        ("ar", "Version 2", "الإصدار 2\u{200f}"),
        ("he", "Version 2", "גרסה 2\u{200e}"),
        ("ar", "Boat {$name}", "القارب \u{2068}{$name}\u{2069}"),
        ("pl", "Family", "Rodzina 👨\u{200d}👩\u{200d}👧"),
        ("pl", "Go ahead", "Dalej ➡\u{fe0f}"),
        ("th", "The harbour", "ท่า\u{200b}เรือ"),
        ("my", "The harbour", "ဆိပ်\u{200b}ကမ်း"),
        ("de", "Ferry company", "Fähr\u{ad}gesellschaft"),
        // Signs as text.
        ("pl", "Boats < 10 m", "Łodzie < 10 m"),
        ("pl", "a <b", "a <b"),
        ("pl", "At :15", "O :15"),
        ("pl", "A 50:50 chance", "Szansa 50:50"),
        ("pl", "100% sure", "100% pewne"),
        ("de", "100 % sure", "100 % sicher"),
        ("tr", "100% free", "%100 ücretsiz"),
        ("pl", "Costs $5", "Kosztuje 5 $"),
        ("pl", "Berth #3", "Keja #3"),
        ("pl", "Fish & chips", "Ryba & frytki"),
        ("pl", "Q&A; more", "Pytania & odpowiedzi; więcej"),
        ("pl", "From A to B: 5 > 3", "Z A do B: 5 > 3"),
        // Plurals.
        ("ja", forms, "{$n :integer}席"),
        ("zh-Hans", forms, "{$n :integer} 个座位"),
        ("th", forms, "{$n :integer} ที่นั่ง"),
        ("hu", forms, ".input {$n :integer} .match $n one {{{$n} hely}} * {{{$n} hely}}"),
        (
            "ar",
            forms,
            ".input {$n :integer} .match $n zero {{لا مقاعد}} one {{مقعد واحد}} two {{مقعدان}} few {{{$n} مقاعد}} many {{{$n} مقعدًا}} * {{{$n} مقعد}}",
        ),
        (
            "de",
            forms,
            ".input {$n :integer} .match $n 0 {{Ausverkauft}} one {{Nur noch ein Platz}} * {{{$n} Plätze}}",
        ),
        (
            "ru",
            forms,
            ".input {$n :integer} .match $n 1 {{Одно место}} one {{{$n} место}} few {{{$n} места}} many {{{$n} мест}} * {{{$n} места}}",
        ),
        (
            "pl",
            ".input {$n :integer select=ordinal} .match $n one {{{$n}st}} two {{{$n}nd}} few {{{$n}rd}} * {{{$n}th}}",
            "{$n :integer select=ordinal}.",
        ),
        (
            "pl",
            ".input {$n :integer select=exact} .match $n 0 {{None}} * {{Some}}",
            ".input {$n :integer select=exact} .match $n 0 {{Brak}} * {{Kilka}}",
        ),
        (
            "pl",
            ".input {$n :integer} .match $n one {{A seat}} * {{Seats}}",
            ".input {$n :integer} .match $n one {{Miejsce}} few {{Miejsca}} many {{Miejsca}} * {{Miejsca}}",
        ),
        (
            "pl",
            ".input {$by :string} .match $by bus {{By bus}} * {{On foot}}",
            ".input {$by :string} .match $by bus {{Autobusem}} * {{Pieszo}}",
        ),
        // Units and words with letters of two scripts.
        ("de", "Resistance", "5 k\u{3a9}"),
        ("de", "A micrometre", "Ein \u{b5}m"),
        ("ru", "T-shirt", "T-shirt"),
        ("el", "Vitamin D", "Βιταμίνη D"),
        ("ja", "The letter α", "文字α"),
        ("pl", "Café «X»", "Kawiarnia «X»"),
        ("fr", "The café É", "Le «CAFÉ»"),
        ("pt", "No", "NÃO"),
        ("vi", "Yes", "Đã đặt chỗ"),
        ("ar", "Made with Saltmarsh Map Tiles", "Saltmarsh Map Tiles"),
        ("ja", "Type git push", "git push"),
        ("pl", rides, ".input {$by :string} .match $by bus {{Autobus}} ferry {{Prom}} * {{Pieszo}}"),
        ("pl", "By {$by}", "Jedź: {$by}"),
        ("pl", "{#a href=|/trip|}this{/a}", "{#a href=|/podroz|}to{/a}"),
        ("pl", "{#a href=|/trip|}this{/a}", "{#a title=x href=|/trip|}to{/a}"),
        // A regional locale repeats, or has its own spelling.
        ("en-GB", "Your seats are booked", "Your seats are booked"),
        ("en-GB", "Change the color here", "Change the colour here"),
        ("pl", "Read {#b}this{/b} now", "Teraz czytaj {#b}to{/b}"),
        ("de", "{$t :time} on {$d :date}", "{$d :date} um {$t :time}"),
        // Languages that need no mark, or another one.
        ("th", "Is it open?", "เปิดหรือไม่"),
        ("th", "It leaves at {$time}.", "ออกเวลา {$time}"),
        ("th", "At {$time}", "เวลา {$time} น."),
        ("ja", "Welcome!", "ようこそ。"),
        ("fr", "Is it open?", "Est-ce ouvert\u{202f}?"),
        ("fr-CA", "Is it open?", "Est-ce ouvert?"),
        ("fr", "Welcome, {$name}!", "Bienvenue, {$name} !"),
        ("es", "Is it open?", "¿Está abierto?"),
        ("es", "Sorry. Is it open?", "Perdone, ¿está abierto?"),
        // Signs that are no other notation.
        ("pl", "To {$way}", "Do {$way}: w drogę"),
        ("pl", "Write to {$way}", "Pisz do a@way.example, {$way}"),
        ("pl", "It costs {$way}", "Cena: ${$way}"),
        ("pl", "{$way} (50%)", "{$way} (50%)"),
        // Nouns that keep their form after a number.
        ("tr", forms, "{$n :integer} koltuk"),
        ("fa", forms, ".input {$n :integer} .match $n 0 {{تمام}} * {{{$n} صندلی}}"),
        // A form that only whole millions have.
        ("fr", forms, ".input {$n :integer} .match $n one {{{$n} place}} * {{{$n} places}}"),
    ] {
        let found = told(tag, reference, own);
        if !found.is_empty() {
            wrong.push(format!("{tag}: {own}: {found:?}"));
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[test]
fn files_and_keys_are_held_against_those_of_the_reference() {
    let reference = "title = 'Ferries'\n[seats]\nleft = 'Seats left'\nnone = 'Full'\n";
    let told = |own: &str| -> Vec<String> {
        let found = findings("pl", reference, own).into_iter();
        found.map(|finding| format!("{} {}", finding.rule, finding.key.unwrap_or_default())).collect()
    };
    for (own, expected) in [
        ("title = 'Promy'\n[seats]\nleft = 'Miejsca'\nnone = 'Brak'\n", &[][..]),
        ("title = 'Promy'\n[seats]\nleft = 'Miejsca'\n", &["missing-key seats.none"]),
        (
            "title = 'Promy'\n[seats]\nleft = 'Miejsca'\nnoen = 'Brak'\n",
            &["missing-key seats.none", "surplus-key seats.noen"],
        ),
        (
            "title = 'Promy'\n[seats]\nLeft = 'Miejsca'\nnone = 'Brak'\n",
            &["missing-key seats.left", "surplus-key seats.Left"],
        ),
        ("title = 'Promy'\nseats = 'Miejsca'\n", &["group-for-key seats"]),
        (
            "[title]\ntext = 'Promy'\n[seats]\nleft = 'Miejsca'\nnone = 'Brak'\n",
            &["group-for-key title.text"],
        ),
        (
            "title = 'Promy'\nextra = 'Coś'\n[seats]\nleft = 'Miejsca'\nnone = 'Brak'\n",
            &["surplus-key extra"],
        ),
        ("", &["empty-file "]),
        (
            "title = 'Promy'\n[seats]\n<<<<<<< main\nleft = 'Miejsca'\n=======\nleft = 'Wolne'\n>>>>>>> other\nnone = 'Brak'\n",
            &["merge-marker "],
        ),
        ("\u{feff}title = 'Promy'\n[seats]\nleft = 'Miejsca'\nnone = 'Brak'\n", &["byte-order-mark "]),
        ("title = Promy\n[seats]\nleft = 'Miejsca'\nnone = 'Brak'\n", &["file-syntax "]),
    ] {
        let found: Vec<String> = told(own)
            .into_iter()
            .filter(|told| !own.contains("<<<") || !told.starts_with("missing-key"))
            .collect();
        let found: Vec<&String> = found
            .iter()
            .filter(|told| !own.contains("= Promy") || !told.starts_with("missing-key"))
            .collect();
        assert_eq!(found, expected, "{own}");
    }
}

#[test]
fn notes_set_a_length_and_allow_what_is_meant() {
    let reference = "# max-length: 10\nshort = 'Go'\n# allow: end-mark, untranslated (as the harbour has it on its sign)\nsign = 'Mind the gap here'\n";
    let rules = |own: &str| -> Vec<String> {
        findings("pl", reference, own).iter().map(|finding| finding.rule.to_string()).collect()
    };
    assert_eq!(rules("short = 'Przejdź do treści'\nsign = 'Mind the gap here!'\n"), ["longer-than-noted"]);
    assert_eq!(
        rules("# allow: longer-than-noted\nshort = 'Przejdź do treści'\nsign = 'Mind the gap here'\n"),
        [""; 0]
    );
}

#[test]
fn rules_are_turned_down_or_off_and_names_of_the_application_are_known() {
    let set = LocaleSet::parse(["en", "pl"]).unwrap();
    let chains = Chains::new(&set, [], []).unwrap();
    let reference = BTreeMap::from([(
        "home".to_owned(),
        SectionSource::from_toml("a = 'Seats?'\nb = '{#boat}{$x :harbour:tide}{/boat}'\n"),
    )]);
    let own = BTreeMap::from([(
        "home".to_owned(),
        SectionSource::from_toml("a = 'Miejsca '\nb = '{#boat}{$x :harbour:tied}{/boat}'\n"),
    )]);
    let told = |settings: &CheckSettings| -> Vec<String> {
        let checker = Checker::new(&set, &chains, &reference, settings);
        let pl = set.iter().nth(1).unwrap().0;
        let report = checker.check(pl, &own, &[]);
        assert_eq!(checker.check_reference().coverage.translated, 2);
        report.findings.iter().map(|finding| format!("{} {}", finding.severity, finding.rule)).collect()
    };
    assert_eq!(
        told(&CheckSettings::new()),
        ["note end-mark", "warning white-space", "warning unknown-markup", "warning other-function"]
    );
    let settings = CheckSettings::new()
        .with_level(Rule::EndMark, None)
        .with_level(Rule::WhiteSpace, Some(Severity::Error))
        .with_functions(["harbour:tide"])
        .with_markup(["boat"]);
    assert_eq!(told(&settings), ["error white-space", "warning other-function", "error unknown-function"]);
}

#[test]
fn every_rule_is_told_in_plain_words() {
    let mut ids = BTreeSet::new();
    for rule in Rule::ALL {
        assert!(ids.insert(rule.id()), "{rule} is there twice");
        assert_eq!(Rule::named(rule.id()), Some(*rule));
        assert!(rule.id().bytes().all(|byte| byte.is_ascii_lowercase() || byte == b'-'), "{rule}");
        assert!(!rule.summary().is_empty() && !rule.about().is_empty(), "{rule}");
        assert!(!rule.summary().ends_with('.') && rule.about().ends_with('.'), "{rule}: {}", rule.about());
        assert_eq!(rule.wrong().is_empty(), rule.right().is_empty(), "{rule}");
    }
    for family in Family::ALL {
        assert!(Rule::ALL.iter().any(|rule| rule.family() == *family), "{family:?}");
    }
}

#[test]
fn a_note_allows_what_it_names_and_a_misspelled_rule_is_found() {
    let rules = |tag: &str, reference: &str, own: &str| -> Vec<String> {
        let told = |finding: &Finding| {
            let place = finding.place.map(|place| format!(" {place}")).unwrap_or_default();
            format!("{} {}{place}", finding.locale, finding.rule)
        };
        findings(tag, reference, own).iter().map(told).collect()
    };
    let nothing: &[&str] = &[];
    // What a locale lacks is allowed by the default locale's note, as every other rule is.
    let reference = "a = 'A'\n# allow: missing-key (only in English)\nb = 'B'\n";
    assert_eq!(rules("cy", reference, "a = 'Â'\n"), nothing);
    assert_eq!(rules("cy", "a = 'A'\nb = 'B'\n", "a = 'Â'\n"), ["cy missing-key"]);
    // A whole section, too, and no more of it than is allowed.
    let set = LocaleSet::parse(["en", "cy"]).unwrap();
    let chains = Chains::new(&set, [], []).unwrap();
    let section = |reference: &str| {
        let files = BTreeMap::from([("home".to_owned(), SectionSource::from_toml(reference))]);
        let found = check(&set, &chains, &BTreeMap::from([(set.default_locale(), files)]));
        found.iter().map(|finding| finding.text.clone()).collect::<Vec<_>>()
    };
    assert_eq!(section("# allow: missing-key\nb = 'B'\n"), nothing);
    assert_eq!(section(reference), ["the section, of one message, is not there"]);
    // What a locale has beyond the default locale is allowed by its own note.
    assert_eq!(rules("cy", "a = 'A'\n", "a = 'Â'\n# allow: surplus-key\nc = 'Ĉ'\n"), nothing);
    // A rule that does not exist allows nothing, and is found in the note.
    let misspelled = "# Kept short.\n# allow: end-mark, unsafe-adress (old)\na = 'A'\n";
    let told: Vec<_> = findings("cy", misspelled, "a = 'Â'\n");
    assert_eq!(
        told.iter().map(ToString::to_string).collect::<Vec<_>>(),
        ["en/home:2:20: the note allows `unsafe-adress`, and no rule has this name"]
    );
    assert_eq!(told[0].help, "did you mean `unsafe-address`?");
    assert_eq!(rules("cy", "a = 'A'\n", "# allow: nothing at all\na = 'Â'\n"), ["cy unknown-rule 1:10"]);
    assert_eq!(rules("cy", "# allow:\na = 'A'\n", "# allow: (because)\na = 'Â'\n"), nothing);
}

#[test]
fn an_address_that_is_not_known_yet_is_decided_when_it_is_formatted() {
    let nothing: &[&str] = &[];
    for (message, rules) in [
        ("See {#a href=$address}page{/a}", nothing),
        (".input {$address :string} {{See {#a href=$address}page{/a}}}", nothing),
        (".local $to = {$address} {{See {#a href=$to}page{/a}}}", nothing),
        (".local $to = {|/page|} {{See {#a href=$to}page{/a}}}", nothing),
        (".local $to = {|/page| :string} {{See {#a href=$to}page{/a}}}", nothing),
        ("See {#a href=$address title=$title class=$class}page{/a}", nothing),
        // What is known is checked.
        (".local $to = {|javascript:x|} {{See {#a href=$to}page{/a}}}", &["unsafe-address 1:50"]),
        (
            ".local $one = {|javascript:x|} .local $to = {$one} {{See {#a href=$to}page{/a}}}",
            &["unsafe-address 1:71"],
        ),
        ("See {#a onclick=$address}page{/a}", &["unsafe-attribute 1:18"]),
    ] {
        let found = told("cy", message, message);
        // The same in both languages.
        let found: BTreeSet<_> = found.iter().filter(|told| told.starts_with("unsafe")).collect();
        assert_eq!(found.into_iter().collect::<Vec<_>>(), rules, "{message}");
    }
}

#[test]
fn forms_are_asked_for_where_a_number_is_shown_by_them() {
    let nothing: &[&str] = &[];
    let english = ".input {$n :integer} .match $n one {{{$n} one}} * {{{$n} other}}";
    for (tag, own, expected) in [
        // 0 has a key of its own: `one` is 1 alone.
        ("fr", ".input {$n :integer} .match $n 0 {{rien}} one {{un}} many {{{$n} de}} * {{{$n}}}", nothing),
        (
            "fr",
            ".input {$n :integer} .match $n one {{un}} many {{{$n} de}} * {{{$n}}}",
            &["hidden-number 1:41"],
        ),
        ("fr", ".input {$n :integer} .match $n 1 {{un}} one {{rien}} many {{{$n} de}} * {{{$n}}}", nothing),
        // With others beside it, the key of its own is not for all of them.
        (
            "fr",
            ".input {$n :integer} .input {$by :string} .match $n $by 0 bus {{rien}} one bus {{un}} one * {{un}} many * {{{$n} de}} * * {{{$n}}}",
            &["hidden-number 1:96"],
        ),
        (
            "ru",
            ".input {$n :integer} .match $n 1 {{одно}} one {{одно}} few {{{$n} а}} many {{{$n} ов}} * {{{$n}}}",
            &["hidden-number 1:52"],
        ),
    ] {
        let found = told(tag, english, own);
        let about = |told: &&String| told.starts_with("hidden") || told.starts_with("missing-plural");
        assert_eq!(found.iter().filter(about).collect::<Vec<_>>(), expected, "{own}");
    }
    // An exact key beside a number that is made from it: only that one needs forms.
    for (tag, variants, expected) in [
        ("de", "1 * {{Du}} * one {{Du und noch jemand}} * * {{Du und {$rest} weitere}}", nothing),
        (
            "pl",
            "1 * {{Ty}} * one {{Ty i jedna osoba}} * few {{Ty i {$rest} osoby}} * many {{Ty i {$rest} osób}} * * {{Ty i {$rest} osoby}}",
            nothing,
        ),
        ("pl", "1 * {{Ty}} * one {{Ty i jedna osoba}} * * {{Ty i {$rest} osoby}}", &["few", "many"]),
        // Where the first is shown itself, its forms are asked for.
        ("de", "0 * {{Niemand}} * one {{{$n} im Ganzen}} * * {{{$n} im Ganzen, {$rest} weitere}}", &["one"]),
    ] {
        let own = one(&format!(
            ".input {{$n :integer}} .local $rest = {{$n :offset subtract=1}} .match $n $rest {variants}"
        ));
        let found = findings(tag, &own, &own);
        let forms = found.iter().filter(|finding| finding.rule == Rule::MissingPluralForm);
        let forms = forms.filter(|finding| finding.locale == tag);
        let forms: BTreeSet<_> =
            forms.map(|finding| finding.text.split('`').nth(3).unwrap().to_owned()).collect();
        assert_eq!(forms, expected.iter().map(ToString::to_string).collect(), "{variants}");
    }
}
