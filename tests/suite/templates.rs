//! Texts in templates: what an argument says is never markup, in any engine and any place; what is HTML needs no filter.

use askama::Template;
use crow_fly::source::Memory;
use crow_fly::{Config, CrowFly, Html, MessageRef, Translator, args};
use maud::html;
use minijinja::{Environment, ErrorKind, context, value::Value};

const CATALOG: &str = r#"
hello = "Hello, {$name}!"
marked = "{#strong}Hello{/strong}, {$name} & co"
link = "{#a href=$to}See it{/a}"
stops = "From {$stops :crow:list}"
fare = "It costs {$fare :currency}"
day = "On {$day :date length=long}"
full = ".input {$full :string} .match $full true {{Sold out}} * {{Seats left}}"
seats = ".input {$n :integer} .match $n one {{One seat}} * {{{$n} seats}}"
"#;

async fn translator() -> Translator {
    let config = Config::parse("default = 'en'\nlocales = ['en']\norigin = 'https://ferries.example'\n[messages]\nisolation = 'none'\n[browser]\nsections = ['home']\n").unwrap();
    CrowFly::new(config, Memory::new([("en", "home", CATALOG)])).translator_for("en").await
}

/// What visitors type.
const HOSTILE: [&str; 8] = [
    "<script>alert(1)</script>",
    "\"><img src=x onerror=alert(1)>",
    "' onmouseover='alert(1)",
    "&lt;b&gt;",
    "{{ 7 * 7 }}",
    "{$name} {#b}x{/b}",
    "javascript:alert(1)",
    "</title><script>",
];

#[derive(Template)]
#[template(
    source = r#"<p title="{{ t.text(("home.hello", args! { name: self.name })) }}">{{ t.html(("home.marked", args! { name: self.name })) }}</p><i>{{ t.text(("home.hello", args! { name: self.name })) }}</i><b>{{ t.html(("home.link", args! { to: self.name })) }}</b>"#,
    ext = "html"
)]
struct Page<'a> {
    t: &'a Translator,
    name: &'a str,
}

fn with_maud(t: &Translator, name: &str) -> String {
    html! {
        p title=(t.text(("home.hello", args! { name }))) { (t.html(("home.marked", args! { name }))) }
        i { (t.text(("home.hello", args! { name }))) }
        b { (t.html(("home.link", args! { to: name }))) }
    }
    .into_string()
}

fn with_minijinja(t: &Translator, name: &str) -> String {
    let source = r#"<p title="{{ t.text("home.hello", name=name) }}">{{ t.html("home.marked", name=name) }}</p><i>{{ t.text("home.hello", name=name) }}</i><b>{{ t.html("home.link", to=name) }}</b>"#;
    render(t, source, context! { name }).unwrap()
}

fn render(t: &Translator, source: &str, values: Value) -> Result<String, minijinja::Error> {
    let all = context! { t => Value::from_object(t.clone()), ..values };
    Environment::new().render_named_str("page.html", source, all)
}

/// The elements and attributes of a page, as a parser of HTML sees them, and its text.
fn elements(page: &str) -> Vec<String> {
    let mut found = Vec::new();
    let mut rest = page;
    while let Some((_, tag)) = rest.split_once('<') {
        // An attribute in quotes may have `>`: here every quote in a value is escaped.
        let mut quoted = false;
        let end = tag.find(|letter| {
            quoted ^= letter == '"';
            letter == '>' && !quoted
        });
        let (inside, after) = tag.split_at(end.unwrap());
        let names = inside.split('"').step_by(2).collect::<String>();
        found.push(names.trim_end_matches('=').trim().to_owned());
        rest = after;
    }
    found
}

#[tokio::test]
async fn an_argument_is_never_markup() {
    let t = translator().await;
    for name in HOSTILE {
        let askama = Page { t: &t, name }.render().unwrap();
        let pages = [askama, with_maud(&t, name), with_minijinja(&t, name)];
        for page in pages {
            let found = elements(&page);
            assert_eq!(found.len(), 10, "{page}");
            for element in found {
                let known = ["p title", "strong", "/strong", "/p", "i", "/i", "b", "/b", "a", "a href", "/a"];
                assert!(known.contains(&element.as_str()), "{element} in {page}");
            }
            assert!(!page.contains("href=\"javascript:"), "{page}");
        }
    }
}

#[tokio::test]
async fn html_is_escaped_once_and_texts_too() {
    let t = translator().await;
    let expected =
        r#"<p title="Hello, Mair &#38; Owen!"><strong>Hello</strong>, Mair &amp; Owen &amp; co</p>"#;
    let pages = [
        Page { t: &t, name: "Mair & Owen" }.render().unwrap(),
        with_maud(&t, "Mair & Owen"),
        with_minijinja(&t, "Mair & Owen"),
    ];
    for page in pages {
        let page = page.split_once("<i>").unwrap().0.replace("&amp; Owen!", "&#38; Owen!");
        assert_eq!(page, expected);
    }
}

#[tokio::test]
async fn minijinja_takes_what_rust_takes() {
    let t = translator().await;
    let values = || {
        context! {
            stops => ["Holm", "Ness & Quay"], fare => context! { amount => "12.50", currency => "EUR" }, day => "2026-06-01",
            full => true, n => 1, none => Value::from(()), bold => Value::from_safe_string("<b>Mair</b>".to_owned()),
        }
    };
    for (source, expected) in [
        ("{{ t.text('home.stops', stops=stops) }}", "From Holm and Ness &amp; Quay"),
        ("{{ t.html('home.stops', stops=stops) }}", "From Holm and Ness &amp; Quay"),
        ("{{ t.text('home.fare', fare=fare) }}", "It costs €12.50"),
        ("{{ t.text('home.fare', fare={'amount': 3, 'currency': 'gbp'}) }}", "It costs £3.00"),
        ("{{ t.text('home.day', day=day) }}", "On June 1, 2026"),
        ("{{ t.text('home.full', full=full) }}", "Sold out"),
        ("{{ t.text('home.seats', n=n) }}", "One seat"),
        ("{{ t.text('home.hello', name=none) }}", "Hello, !"),
        ("{{ t.html('home.hello', name=bold) }}", "Hello, <b>Mair</b>!"),
        ("{{ t.text('home.hello', name=bold) }}", "Hello, Mair!"),
        ("{{ t.say('home.new', n=2).or('New <{$n}>').text() }}", "New &lt;2&gt;"),
        ("{{ t.say('home.new', n=2).or('{#b}New{/b} <{$n}>').html() }}", "<b>New</b> &lt;2&gt;"),
        ("{{ t.say('home.new', n=2).or('<{$n}>') }}", "&lt;2&gt;"),
        ("{{ t.say('home.hello', name='x').or('not used').html() }}", "Hello, x!"),
        (
            "{{ t.marked('home.full', full=full) }}",
            "<span data-text=\"home.full\" data-arguments=\"{&quot;full&quot;:&quot;true&quot;}\">Sold out</span>",
        ),
        (
            "{{ t.marked('home.hello', name=bold) }}{{ t.say('home.seats', n=n).marked() | length }}",
            "Hello, <b>Mair</b>!79",
        ),
        (
            "{% for part in t.parts('home.seats', n=n) %}{{ part.type }} {{ part.value }}{% endfor %}",
            "text One seat",
        ),
        ("{% if t.has('home.hello') and not t.has('home.nosuch') %}yes{% endif %}", "yes"),
        ("{{ t.time_zone }} {{ t.url('/trip') }}", "UTC https:&#x2f;&#x2f;ferries.example&#x2f;trip"),
    ] {
        assert_eq!(render(&t, source, values()).unwrap(), expected, "{source}");
    }
}

#[tokio::test]
async fn minijinja_says_which_argument_is_wrong() {
    let t = translator().await;
    for (source, expected) in [
        (
            "{{ t.text('home.hello', name=nosuch) }}",
            "the argument `name` of `home.hello` is undefined; give it to the template, or leave it out",
        ),
        (
            "{{ t.text('home.hello', name={'a': 1}) }}",
            "the argument `name` of `home.hello` is a map; an object is money, a number, a date or a duration: `{ \"amount\": \"12.50\", \"currency\": \"EUR\" }`, `{ \"number\": \"12.50\" }`, `{ \"date\": \"2026-06-01\" }`, `{ \"duration\": \"PT1H30M\" }`",
        ),
        (
            "{{ t.text('home.fare', fare={'amount': 'x', 'currency': 'EUR'}) }}",
            "the argument `fare` of `home.fare` is a map; the amount `x` is not a number; write it with a full stop: `12.50`",
        ),
    ] {
        let error = render(&t, source, context! {}).unwrap_err();
        assert_eq!(
            (error.kind(), error.detail().unwrap()),
            (ErrorKind::InvalidOperation, expected),
            "{source}"
        );
    }
    let error = render(&t, "{{ t.speak('x') }}", context! {}).unwrap_err();
    assert_eq!(
        error.detail().unwrap(),
        "a translator has `text`, `html`, `marked`, `parts`, `say`, `has`, `path`, `url`, `alternates` and `menu`, but no `speak`"
    );
}

#[tokio::test]
async fn keys_and_arguments_come_as_they_are() {
    let t = translator().await;
    let (key, name, missing) = (String::from("home.hello"), String::from("Mair"), None::<String>);
    assert_eq!(t.text((&key, args! { name: &name })), "Hello, Mair!");
    assert_eq!(t.text((key.clone(), args! { name })), "Hello, Mair!");
    assert_eq!(t.text(MessageRef::from(key).with(args! { name: missing })), "Hello, !");
    let (n, full, stops) = (&2, true, vec!["Holm", "Ness"]);
    assert_eq!(t.text(("home.seats", args! { n })), "2 seats");
    assert_eq!(t.text(("home.full", args! { full: full })), "Sold out");
    assert_eq!(t.text(("home.stops", args! { stops: &stops })), "From Holm and Ness");
    let trusted = Html::escape("<Mair>");
    assert_eq!(t.html(("home.hello", args! { name: &trusted })).as_str(), "Hello, &lt;Mair&gt;!");
}
