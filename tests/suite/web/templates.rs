//! The translator in `minijinja` templates.

use crow_fly::source::Memory;
use crow_fly::{Config, CrowFly};
use minijinja::value::Value;
use minijinja::{Environment, context};

async fn rendered(locale: &str, template: &str) -> Result<String, String> {
    let config =
        Config::parse("default = 'en'\nlocales = ['en', 'cy', 'ar']\n[messages]\nisolation = 'none'")
            .unwrap();
    let catalogs = Memory::new([
        (
            "en",
            "home",
            "hello = 'Hello, {#b}{$name}{/b}'\nseats = '.input {$n :number} .match $n one {{one seat}} * {{{$n} seats}}'",
        ),
        ("cy", "home", "hello = 'Helo, {#b}{$name}{/b}'"),
    ]);
    let t = CrowFly::new(config, catalogs).translator(&locale.parse().unwrap()).await.unwrap();
    let context = context! { t => Value::from_object(t), visitor => "<Mair>" };
    Environment::new().render_named_str("page.html", template, context).map_err(|error| format!("{error:#}"))
}

#[tokio::test]
async fn templates_say_messages_with_named_arguments() {
    for (locale, template, expected) in [
        ("cy", "{{ t.text('home.hello', name='Mair') }}", "Helo, Mair"),
        ("cy", "{{ t.text('home.hello', name=visitor) }}", "Helo, &lt;Mair&gt;"),
        ("cy", "{{ t.html('home.hello', name=visitor) }}", "Helo, <b>&lt;Mair&gt;</b>"),
        ("en", "{{ t.text('home.seats', n=1) }}", "one seat"),
        ("en", "{{ t.text('home.seats', n=1234.5) }}", "1,234.5 seats"),
        ("en", "{{ t.text('home.seats', n=9007199254740993) }}", "9,007,199,254,740,993 seats"),
        ("en", "{{ t.text('home.seats', n='many') }}", "{$n} seats"),
        ("cy", "{{ t.html('home.seats', n=2) }}", "<span lang=\"en\" dir=\"ltr\">2 seats</span>"),
        ("ar", "<html lang=\"{{ t.locale }}\" dir=\"{{ t.direction }}\">", "<html lang=\"ar\" dir=\"rtl\">"),
        ("ar", "{{ t.path('/sailings?a=b') }}", "&#x2f;ar&#x2f;sailings?a=b"),
        (
            "cy",
            "{% for item in t.menu() %}{{ item.own_name }}{% if item.current %}!{% endif %} {% endfor %}",
            "English Cymraeg! العربية ",
        ),
    ] {
        assert_eq!(rendered(locale, template).await.as_deref(), Ok(expected), "{template}");
    }
    let links = rendered("cy", "{{ t.alternates('https://ferries.example') }}").await.unwrap();
    assert!(
        links.contains("<link rel=\"alternate\" hreflang=\"x-default\" href=\"https://ferries.example/\">"),
        "{links}"
    );
}

#[tokio::test]
async fn mistakes_in_templates_are_named() {
    for (template, part) in [
        ("{{ t.speak('home.hello') }}", "but no `speak`"),
        ("{{ t.text() }}", "missing argument"),
        ("{{ t.text('home.hello', 'Mair') }}", "too many arguments"),
        ("{{ t.path(1) }}", "not a string"),
    ] {
        let error = rendered("en", template).await.unwrap_err();
        assert!(error.contains(part), "{template}: {error}");
    }
}
