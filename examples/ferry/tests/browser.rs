//! The demo in a real browser: Debian's Chromium, headless, driven by the W3C WebDriver protocol. Skipped, with a
//! word, where `chromedriver` is not installed.

#![allow(
    clippy::unwrap_used,
    clippy::print_stderr,
    reason = "a test fails by panicking, and says why it does not run"
)]

mod program;
#[path = "../../../tests/webdriver.rs"]
mod webdriver;

use program::Site;
use reqwest::Client;
use serde_json::{Value, json};
use webdriver::{Browser, Driver};

impl Browser<'_> {
    /// Follows the link to a language in the page's own menu.
    async fn choose(&self, language: &str) {
        self.click(&format!("a[hreflang={language}], a[lang={language}]")).await;
        self.is_in(language).await;
    }

    /// Books two seats on the sailing that is shown.
    async fn book(&self) {
        let script = "const form = document.querySelector('form[method=post]').elements; \
            form.name.value = 'Mair'; form.seats.value = '2'";
        self.post("execute/sync", json!({ "script": script, "args": [] })).await;
        self.click("form[method=post] button").await;
    }

    /// The path shown, the language and direction of the page, its title, and the colour-free facts a reader sees.
    async fn page(&self) -> String {
        let script = "const page = document.documentElement; \
            const start = document.querySelector('h1').getBoundingClientRect().left < innerWidth / 2 && \
                getComputedStyle(page).direction === 'ltr'; \
            return [location.pathname, page.lang, page.dir, start ? 'from the left' : 'from the right', document.title].join(' | ')";
        let page = self.post("execute/sync", json!({ "script": script, "args": [] })).await;
        page.as_str().unwrap().to_owned()
    }

    /// What a reader sees of the page.
    async fn text(&self) -> String {
        let text = self.run("return document.body.innerText").await;
        text.as_str().unwrap().to_owned()
    }

    /// Types into a field of the booking form.
    async fn type_into(&self, field: &str, text: &str) {
        let script = format!(
            "const field = document.querySelector('form.booking').elements['{field}']; field.value = '{text}'; \
             field.dispatchEvent(new Event('input'))"
        );
        self.run(&script).await;
    }
}

#[tokio::test]
async fn a_first_visit_goes_to_the_visitors_language() {
    let Some(driver) = Driver::start() else { return };
    let site = Site::open();
    let mut seen = Vec::new();
    for languages in ["pl,en", "ar-EG,en", "cy-GB", "en-AU", "ja", "en-US,pl"] {
        let browser = driver.open(languages).await;
        browser.visit(&site.at("/")).await;
        seen.push(format!("{languages}: {}", browser.page().await));
        browser.close().await;
    }
    insta::assert_snapshot!(seen.join("\n"));
}

#[tokio::test]
async fn a_choice_holds_through_links_the_back_button_and_a_session() {
    let Some(driver) = Driver::start() else { return };
    let site = Site::open();
    let browser = driver.open("pl,en").await;
    let mut seen = Vec::new();
    let mut note = |what: &str, page: String| seen.push(format!("{what}: {page}"));
    browser.visit(&site.at("/")).await;
    note("first visit", browser.page().await);
    browser.visit(&site.at("/pl/sailings/3")).await;
    browser.choose("cy").await;
    note("Welsh chosen on a page", browser.page().await);
    browser.post("back", json!({})).await;
    browser.is_in("pl").await;
    note("back", browser.page().await);
    browser.post("forward", json!({})).await;
    browser.is_in("cy").await;
    note("forward", browser.page().await);
    browser.visit(&site.at("/")).await;
    note("the root, later", browser.page().await);
    browser.visit(&site.at("/ar/trip")).await;
    note("an address that names its language", browser.page().await);

    // Without a session the cookie remembers a choice. A booking opens a session, which remembers the next one, too.
    let forget = async |name: &str| {
        let address = format!("{}/session/{}/cookie/{name}", driver.address, browser.session);
        driver.client.delete(address).send().await.unwrap();
    };
    browser.visit(&site.at("/cy/sailings/3")).await;
    browser.book().await;
    note("booked", browser.page().await);
    browser.choose("en-GB").await;
    note("British English chosen on a page", browser.page().await);
    forget("saltmarsh-locale").await;
    browser.visit(&site.at("/")).await;
    note("without the cookie", browser.page().await);
    forget("saltmarsh-session").await;
    browser.visit(&site.at("/")).await;
    note("without either", browser.page().await);
    browser.close().await;
    insta::assert_snapshot!(seen.join("\n"));
}

const AWAKE: &str = "return document.documentElement.dataset.awake === 'true'";

#[tokio::test]
async fn no_text_changes_when_the_script_wakes() {
    let Some(driver) = Driver::start() else { return };
    let site = Site::open();
    for page in ["/sailings/3", "/pl/sailings/3", "/ar/sailings/2", "/cy/sailings/5"] {
        let browser = driver.open("en").await;
        browser.command("Network.enable", json!({})).await;
        // Off.
        browser.command("Network.setBlockedURLs", json!({ "urls": ["*.js"] })).await;
        browser.visit(&site.at(page)).await;
        let without = browser.text().await;
        assert_eq!(browser.run(AWAKE).await, json!(false));
        let blocked = browser.complaints().await;
        assert!(blocked.iter().all(|line| line.contains("ERR_BLOCKED_BY_CLIENT")), "{blocked:?}");
        // On, on a slow line. Every change of the page's text is noted, from the moment it is read.
        let note = "document.addEventListener('readystatechange', () => { \
            if (document.readyState !== 'interactive') return; \
            window.changes = []; \
            new MutationObserver((list) => window.changes.push(...list.map((change) => change.target.nodeName))) \
                .observe(document.body, { subtree: true, childList: true, characterData: true }); })";
        browser.command("Page.addScriptToEvaluateOnNewDocument", json!({ "source": note })).await;
        browser.command("Network.setBlockedURLs", json!({ "urls": [] })).await;
        let slow = json!({ "offline": false, "latency": 300, "downloadThroughput": 40_000, "uploadThroughput": 40_000 });
        browser.command("Network.emulateNetworkConditions", slow).await;
        browser.visit(&site.at(page)).await;
        browser.until(AWAKE).await;
        assert_eq!(browser.run("return window.changes").await, json!([]), "{page}");
        browser.until("return document.readyState === 'complete'").await;
        assert_eq!(browser.text().await, without, "{page}");
        assert_eq!(browser.complaints().await, Vec::<String>::new(), "{page}");
        browser.close().await;
    }
}

#[tokio::test]
async fn the_form_says_in_the_visitors_language_what_is_wrong_and_what_it_costs() {
    let Some(driver) = Driver::start() else { return };
    let site = Site::open();
    let browser = driver.open("pl").await;
    browser.visit(&site.at("/pl/sailings/5")).await;
    browser.until(AWAKE).await;
    let mut seen = Vec::new();
    // Before it is sent.
    browser.type_into("seats", "many").await;
    browser.click("form.booking button").await;
    let errors =
        "return [...document.querySelectorAll('.error')].map((error) => error.innerText).join(' / ')";
    seen.push(browser.run(errors).await);
    browser.type_into("seats", "70").await;
    browser.click("form.booking button").await;
    seen.push(browser.run(errors).await);
    // While it is typed.
    browser.type_into("name", "Mair <b>").await;
    browser.type_into("seats", "3").await;
    let total = "return !document.getElementById('total').hidden";
    browser.until(total).await;
    seen.push(browser.run("return document.getElementById('total').innerText").await);
    // What is typed stays when the language changes.
    browser.choose("ar").await;
    browser.until(AWAKE).await;
    browser.until(total).await;
    let typed = "const { name, seats } = document.querySelector('form.booking').elements; \
        return [document.documentElement.lang, name.value, seats.value, document.getElementById('total').innerText].join(' | ')";
    seen.push(browser.run(typed).await);
    // Somebody else books: the count follows.
    let client = Client::builder().no_proxy().build().unwrap();
    let count = "return document.getElementById('seats-left').innerText";
    let before = browser.run(count).await;
    let booking =
        client.post(site.at("/sailings/5")).header("content-type", "application/x-www-form-urlencoded");
    assert!(booking.body("name=Olwen&seats=2").send().await.unwrap().status().is_success());
    browser.until(&format!("return document.getElementById('seats-left').innerText !== {before}")).await;
    seen.push(before);
    seen.push(browser.run(count).await);
    assert_eq!(browser.complaints().await, Vec::<String>::new());
    browser.close().await;
    let seen: Vec<&str> = seen.iter().map(|value| value.as_str().unwrap()).collect();
    insta::assert_snapshot!(seen.join("\n"));
}

#[tokio::test]
async fn no_text_breaks_out_of_what_a_page_hands_over() {
    let Some(driver) = Driver::start() else { return };
    let hostile = "</script><script>window.broken = true</script><!-- <script> ]]> \u{2028} & ' end";
    let catalog = format!("hostile = {}", json!(hostile));
    let config = crow_fly::Config::parse("default = 'en'\nlocales = ['en']").unwrap();
    let crow = crow_fly::CrowFly::new(config, crow_fly::source::Memory::new([("en", "home", catalog)]));
    let t = crow.translator_for("en").await;
    let block = t.hand_off().text("home.hostile").section("home").await.unwrap().to_html();
    let page = format!("<!doctype html><title>x</title><p>before</p>{}<p>behind</p>", block.as_str());
    let folder = tempfile::tempdir().unwrap();
    let file = folder.path().join("page.html");
    std::fs::write(&file, page).unwrap();
    let browser = driver.open("en").await;
    browser.visit(&format!("file://{}", file.display())).await;
    let script = "const page = JSON.parse(document.getElementById('texts').textContent); \
        return [window.broken === undefined, document.scripts.length, document.body.innerText.replace(/\\s+/g, ' '), \
            page.texts['home.hostile'], page.sections.home.messages.hostile]";
    assert_eq!(browser.run(script).await, json!([true, 1, "before behind", hostile, hostile]));
    browser.close().await;
}

impl Browser<'_> {
    /// The value of a script with `t`, the texts of the page; what it throws is `error: …`.
    async fn with_texts(&self, script: &str) -> Value {
        let script = format!(
            "const done = arguments[arguments.length - 1]; import('/texts/crow-fly.js').then(async ({{ texts }}) => {{ \
             const t = texts(); {script} }}).then(done, (error) => done('error: ' + error.message))"
        );
        self.post("execute/async", json!({ "script": script, "args": [] })).await
    }

    /// The addresses of texts that were asked for since the last time.
    async fn requests(&self) -> Vec<String> {
        let script = "const all = performance.getEntriesByType('resource').map((one) => one.name); \
            performance.clearResourceTimings(); return all.filter((name) => name.includes('/texts/') && name.includes('?'))";
        let all = self.run(script).await;
        all.as_array().unwrap().iter().map(|one| one.as_str().unwrap().to_owned()).collect()
    }
}

#[tokio::test]
async fn the_language_changes_fifty_times_on_one_page_and_nothing_is_left_behind() {
    let Some(driver) = Driver::start() else { return };
    let site = Site::open();
    let browser = driver.open("en").await;
    browser.visit(&site.at("/sailings/5")).await;
    browser.until(AWAKE).await;
    browser.type_into("name", "Mair <b>").await;
    browser.type_into("seats", "3").await;
    browser.until("return !document.getElementById('total').hidden").await;
    browser.run("window.mark = 'the same page'; window.said = []; document.addEventListener('localechange', (event) => said.push(event.detail.locale))").await;
    let whole = "return document.documentElement.outerHTML";
    let used = async || {
        browser.command("HeapProfiler.collectGarbage", json!({})).await;
        let metrics = json!({ "cmd": "Performance.getMetrics", "params": {} });
        let metrics = browser.post("goog/cdp/execute", metrics).await;
        let of = |name: &str| {
            let all = metrics["metrics"].as_array().unwrap();
            all.iter().find(|one| one["name"] == name).unwrap()["value"].as_f64().unwrap()
        };
        (of("JSHeapUsedSize"), of("Nodes"), of("JSEventListeners"))
    };
    browser.command("Performance.enable", json!({})).await;
    let languages = ["pl", "ar", "cy", "en-GB", "en"];
    for language in languages {
        assert_eq!(browser.with_texts(&format!("return t.change('{language}')")).await, json!(true));
    }
    let (english, before) = (browser.run(whole).await, used().await);
    for language in languages.iter().cycle().take(45) {
        assert_eq!(browser.with_texts(&format!("return t.change('{language}')")).await, json!(true));
    }
    let after = used().await;
    assert_eq!(browser.run(whole).await, english);
    assert!(
        after.0 < before.0 + 300_000.0 && after.1 < before.1 + 200.0 && after.2 <= before.2 + 1.0,
        "{before:?} {after:?}"
    );
    let kept = "const { name, seats } = document.querySelector('form.booking').elements; \
        return [window.mark, said.length, name.value, seats.value, location.pathname, document.querySelectorAll('b').length].join(' | ')";
    assert_eq!(browser.run(kept).await, json!("the same page | 50 | Mair <b> | 3 | /sailings/5 | 0"));
    // The page that the server makes says the same.
    let said = browser.text().await;
    browser.visit(&site.at("/en-GB/sailings/5")).await;
    browser.visit(&site.at("/sailings/5")).await;
    let made = browser.text().await;
    assert!(said.starts_with(made.split("Book this crossing").next().unwrap()), "{said}\n\n{made}");
    assert_eq!(browser.complaints().await, Vec::<String>::new());
    browser.close().await;
}

#[tokio::test]
async fn a_change_is_whole_or_nothing_is_changed() {
    let Some(driver) = Driver::start() else { return };
    let site = Site::open();
    let browser = driver.open("pl").await;
    browser.command("Network.enable", json!({})).await;
    browser.visit(&site.at("/pl/sailings/3")).await;
    browser.until(AWAKE).await;
    let (whole, cookies) = ("return document.documentElement.outerHTML", "return document.cookie");
    let before = browser.run(whole).await;
    let mut seen = Vec::new();
    // Texts that cannot be had, a choice that is not remembered, a language that is none, a mark that is wrong.
    for blocked in ["*/texts/*", "*/locale?*"] {
        browser.command("Network.setBlockedURLs", json!({ "urls": [blocked] })).await;
        seen.push(browser.with_texts("return t.change('cy')").await);
        assert_eq!(
            (browser.run(whole).await, browser.run(cookies).await),
            (before.clone(), json!("")),
            "{blocked}"
        );
    }
    browser.command("Network.setBlockedURLs", json!({ "urls": [] })).await;
    for script in [
        "return t.change('de')",
        "return t.text('trip.nothing')",
        "return t.text('board.title')",
        "return t.text('sailing.seats-left', { seats: 'many' })",
        "return t.show(document.querySelector('form'), 'trip.none')",
        "const p = document.querySelector('h1 span'); p.dataset.text = 'sailing.nothing'; return t.change('ar')",
    ] {
        seen.push(browser.with_texts(script).await);
    }
    assert_eq!(browser.run("return document.documentElement.lang").await, json!("pl"));
    // What is not marked stays, and the console names it in development.
    browser.visit(&site.at("/pl/trip")).await;
    browser.until(AWAKE).await;
    browser.complaints().await;
    browser.run("document.querySelector('main').append('Pozostaje po polsku')").await;
    browser.choose("cy").await;
    let complaints = browser.complaints().await;
    assert!(complaints.len() == 1 && complaints[0].contains("not marked with data-text"), "{complaints:?}");
    browser.close().await;
    let seen: Vec<String> = seen.iter().map(|value| value.to_string().replace(&site.at(""), "")).collect();
    insta::assert_snapshot!(seen.join("\n"));
}

#[tokio::test]
async fn texts_of_one_moment_come_in_one_answer_and_hostile_ones_become_no_elements() {
    let Some(driver) = Driver::start() else { return };
    let site = Site::open();
    let browser = driver.open("en").await;
    browser.visit(&site.at("/")).await;
    browser.until(AWAKE).await;
    browser.requests().await;
    let script = "const element = document.createElement('p'); document.body.append(element); \
        const some = await Promise.all([t.text('trip.title'), t.text('sailing.seats-left', { seats: 1 }), \
            t.text('sailing.seats-left', { seats: 1 }), t.text('trip.booked', { to: 'B', seats: 2, from: 'A' }), \
            t.text('trip.booked', { seats: 2, from: 'A', to: 'B' })]); \
        await t.show(element, 'trip.departs', { boat: '<img src=x onerror=alert(1)>&lt;b&gt; \"\\' </bdi>', time: '09:30' }); \
        const shown = element.innerHTML; \
        const late = t.show(element, 'trip.total', { crowns: 1 }); \
        const overtaken = [t.show(element, 'trip.none'), t.show(element, 'trip.again')]; \
        return [...some, shown, element.querySelectorAll('img, b').length, await late, ...await Promise.all(overtaken), element.outerHTML, \
            t.path('/trip'), t.path('/'), t.path('/?boat=Curlew')]";
    let seen = browser.with_texts(script).await;
    let requests = browser.requests().await;
    assert_eq!(requests.len(), 3, "{requests:?}");
    // A change of language is one request for texts, however many there are; many elements take as few as the limits allow.
    assert_eq!(browser.with_texts("await t.change('ar'); return t.path('/trip')").await, json!("/ar/trip"));
    let change = browser.requests().await;
    assert!(change.len() <= 2, "{change:?}");
    let script = "return (await Promise.all([...Array(100).keys()].map((more) => t.text('sailing.seats-left', { seats: 100 + more })))).length";
    assert_eq!(browser.with_texts(script).await, json!(100));
    let hundred = browser.requests().await;
    assert_eq!(hundred.len(), 4, "{hundred:?}");
    assert_eq!(browser.complaints().await, Vec::<String>::new());
    browser.close().await;
    let seen: Vec<String> = seen.as_array().unwrap().iter().map(ToString::to_string).collect();
    insta::assert_snapshot!(seen.join("\n"));
}

/// The accessibility engine, as a script; none where it is not installed.
fn engine() -> Option<String> {
    let path = concat!(env!("CARGO_MANIFEST_DIR"), "/../../target/npm/node_modules/axe-core/axe.min.js");
    let script = std::fs::read_to_string(path).ok();
    if script.is_none() {
        let required = std::env::var_os("REQUIRE_NPM").is_some_and(|value| value == "1");
        assert!(!required, "{path} is not there, and REQUIRE_NPM=1 is set");
        eprintln!("skipped: npm install --prefix target/npm axe-core@4.14.1");
    }
    script
}

#[tokio::test]
async fn an_accessibility_engine_finds_nothing_serious_in_five_languages() {
    let (Some(engine), Some(driver)) = (engine(), Driver::start()) else { return };
    let site = Site::open();
    let browser = driver.open("en").await;
    let mut found = Vec::new();
    for language in ["", "/en-GB", "/cy", "/pl", "/ar"] {
        for page in ["", "/sailings/3", "/trip", "/nowhere"] {
            let address = format!("{language}{page}");
            browser.visit(&site.at(if address.is_empty() { "/" } else { &address })).await;
            // The form with its mistakes, too.
            if page == "/sailings/3" {
                browser.until(AWAKE).await;
                browser.click("form.booking button").await;
            }
            found.extend(
                browser.findings(&engine).await.into_iter().map(|finding| format!("{address}: {finding}")),
            );
        }
    }
    browser.visit(&site.at("/inspector")).await;
    found.extend(browser.findings(&engine).await);
    browser.visit(&site.at("/inspector/1")).await;
    found.extend(browser.findings(&engine).await);
    assert!(found.is_empty(), "{}", found.join("\n"));
    browser.close().await;
}

impl Browser<'_> {
    /// What the engine finds on the page that is serious or critical.
    async fn findings(&self, engine: &str) -> Vec<String> {
        let script = format!(
            "const done = arguments[arguments.length - 1]; {engine}; axe.run().then((results) => done(results.passes.length < 5 ? ['nothing was looked at'] : results.violations \
             .filter((one) => ['serious', 'critical'].includes(one.impact)) \
             .map((one) => one.id + ' ' + one.nodes.map((node) => node.html).join(' '))))"
        );
        let found = self.post("execute/async", json!({ "script": script, "args": [] })).await;
        found.as_array().unwrap().iter().map(|one| one.as_str().unwrap().to_owned()).collect()
    }
}
