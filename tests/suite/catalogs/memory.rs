//! Sections leave memory where nobody uses them.

use std::time::Duration;

use tokio::time::sleep;

use crate::catalogs::controlled::Controlled;
use crate::catalogs::{ask, crow};

fn sections() -> Controlled {
    let source = Controlled::new(&[("cy", "home", ""), ("pl", "home", "")]);
    for section in ["home", "booking", "news"] {
        let lines: Vec<String> =
            (0..200).map(|line| format!("line-{line} = 'Some words of {section}'")).collect();
        source.write("en", section, &lines.join("\n"));
    }
    source
}

/// The English sections in memory.
fn in_memory(crow: &crow_fly::CrowFly) -> Vec<String> {
    let health = crow.health();
    let sections = health.locales.iter().find(|locale| locale.locale == "en").unwrap().sections.iter();
    sections.filter(|section| section.messages.is_some()).map(|section| section.section.clone()).collect()
}

#[tokio::test(start_paused = true)]
async fn a_section_that_nobody_uses_is_dropped_and_a_declared_one_stays() {
    let source = sections();
    let crow = crow(source.clone(), "eager = ['home']\nidle-minutes = 10");
    let app = crow.router(crate::catalogs::pages());
    ask(&app, "/").await;
    let t = crow.translator(&"en".parse().unwrap()).await.unwrap();
    t.load(["booking", "news"]).await.unwrap();
    for _ in 0..12 {
        sleep(Duration::from_secs(150)).await;
        t.text("news.line-1");
        // A translator of today keeps what it has, so another one is asked.
        crow.translator(&"en".parse().unwrap()).await.unwrap().text("news.line-1");
    }
    assert_eq!(in_memory(&crow), ["home", "news"]);
    assert_eq!(crow.health().drops, 1);
    // Who still has it goes on, and who wants it again gets it.
    assert_eq!(t.text("booking.line-7"), "Some words of booking");
    source.reads();
    let again = crow.translator(&"en".parse().unwrap()).await.unwrap();
    again.load(["booking"]).await.unwrap();
    assert_eq!(
        (again.text("booking.line-7").as_str(), source.reads()),
        ("Some words of booking", vec!["en/booking".to_owned()])
    );
    assert_eq!(crow.health().generation, Some(1), "it is the same generation");
}

#[tokio::test(start_paused = true)]
async fn a_section_stays_for_its_idle_time_and_is_gone_after_one_and_a_half() {
    let crow = crow(sections(), "eager = []\nidle-minutes = 10");
    let t = crow.translator(&"en".parse().unwrap()).await.unwrap();
    t.load(["home"]).await.unwrap();
    // A pass every five minutes looks what was not used.
    sleep(Duration::from_secs(299)).await;
    crow.translator(&"en".parse().unwrap()).await.unwrap().text("home.line-1");
    sleep(Duration::from_secs(599)).await;
    assert_eq!(in_memory(&crow), ["home"]);
    sleep(Duration::from_secs(303)).await;
    assert_eq!(in_memory(&crow), [""; 0]);
}

#[tokio::test]
async fn a_budget_drops_what_was_used_longest_ago() {
    // 200 messages are some 30 kB: two of the three sections fit into no megabyte.
    let source = sections();
    let crow = crow(source, "eager = []\nmax-megabytes = 0");
    let t = crow.translator(&"en".parse().unwrap()).await.unwrap();
    for section in ["home", "booking", "news"] {
        t.load([section]).await.unwrap();
        assert_eq!(t.text(format!("{section}.line-1").as_str()), format!("Some words of {section}"));
    }
    // What somebody has waited for stays until the next load.
    assert_eq!(in_memory(&crow), ["news"]);
    assert!(crow.health().drops >= 2 && crow.health().bytes > 0, "{:?}", crow.health());
}

#[tokio::test]
async fn under_a_budget_what_has_just_been_loaded_stays() {
    // Two of the three sections fit into one megabyte.
    let source = Controlled::new(&[]);
    let lines: Vec<String> =
        (0..5000).map(|line| format!("line-{line} = 'Some words, so that it takes its room'")).collect();
    for section in ["booking", "home", "news"] {
        source.write("en", section, &lines.join("\n"));
    }
    let crow = crow(source.clone(), "eager = []\nmax-megabytes = 1");
    let t = crow.translator(&"en".parse().unwrap()).await.unwrap();
    for section in ["home", "news"] {
        t.load([section]).await.unwrap();
    }
    assert_eq!(in_memory(&crow), ["home", "news"]);
    assert!(crow.health().bytes > 600_000, "{}", crow.health().bytes);
    crow.translator(&"en".parse().unwrap()).await.unwrap().text("home.line-1");
    t.load(["booking"]).await.unwrap();
    // `news` was loaded before `home` was used, and `booking` has come after both.
    assert_eq!((in_memory(&crow), crow.health().drops), (vec!["booking".to_owned(), "home".to_owned()], 1));
    assert!(crow.health().bytes <= 1 << 20);
    // A larger one takes the room of both.
    let more: Vec<String> = lines.iter().take(4000).map(|line| format!("more-{line}")).collect();
    source.write("en", "long", &format!("{}\n{}", lines.join("\n"), more.join("\n")));
    crow.reload().await.unwrap();
    t.load(["home"]).await.unwrap();
    crow.translator(&"en".parse().unwrap()).await.unwrap().load(["long"]).await.unwrap();
    assert_eq!(in_memory(&crow), ["long"]);
}

#[tokio::test(start_paused = true)]
async fn loads_under_a_budget_do_not_make_others_idle() {
    let source = sections();
    let crow = crow(source, "eager = []\nidle-minutes = 10\nmax-megabytes = 1");
    let t = crow.translator(&"en".parse().unwrap()).await.unwrap();
    t.load(["home"]).await.unwrap();
    // Many loads begin many epochs, and none of them is ten minutes long.
    for section in ["booking", "news"] {
        sleep(Duration::from_secs(200)).await;
        crow.translator(&"en".parse().unwrap()).await.unwrap().load([section]).await.unwrap();
    }
    sleep(Duration::from_secs(160)).await;
    assert_eq!(in_memory(&crow), ["home", "booking", "news"]);
}

/// A budget below what a page needs: each request has its texts, and nobody waits for the limit.
#[tokio::test(start_paused = true)]
async fn a_budget_below_one_chain_is_said_and_the_site_serves() {
    let (log, _guard) = crate::mistakes::Log::begin();
    let source = sections();
    source.write("pl", "booking", "line-1 = 'Kilka słów'");
    for catalogs in [
        "max-megabytes = 0",
        "eager = ['home']\nmax-megabytes = 0\n[catalogs.needs]\n'/say/{key}' = ['booking', 'news']",
    ] {
        let crow = crow(source.clone(), catalogs);
        let app = crow.router(crate::catalogs::pages());
        let begun = tokio::time::Instant::now();
        source.reads();
        let paths = ["/say/booking.line-1", "/cy/say/booking.line-1", "/pl/say/booking.line-1"];
        for _ in 0..4 {
            let asked = paths.iter().cycle().take(60).map(|path| ask(&app, path));
            for (answer, path) in futures_util::future::join_all(asked).await.iter().zip(paths.iter().cycle())
            {
                let words = if path.starts_with("/pl") { "Kilka słów" } else { "Some words of booking" };
                assert_eq!((answer.status, answer.body.as_str()), (200, words), "{path}");
                assert_eq!(answer.cache_control, "", "{path}: it is the page as it should be");
            }
        }
        assert_eq!(begun.elapsed(), Duration::ZERO, "{catalogs}");
        // Each round of a locale loads what the rounds of the others have dropped, and not more than a few times.
        let reads = source.reads().len();
        assert!(reads < 400, "{catalogs}: {reads}");
        let health = crow.health();
        assert_eq!(health.status, crow_fly::HealthStatus::Degraded, "{catalogs}");
        let said =
            health.findings.iter().filter(|text| text.starts_with("`max-megabytes` is less than `cy`"));
        assert_eq!(said.count(), 1, "{:?}", health.findings);
    }
    for locale in ["en", "cy", "pl"] {
        let line =
            format!("are larger than `max-megabytes`: they are loaded again and again locale={locale} ");
        assert_eq!(log.text().matches(&line).count(), 2, "once for each of the two sites\n{}", log.text());
    }
}
