//! What pages ask of a translator and of the store behind it: texts, menus, sections that are not in memory.

use std::fmt::Write as _;
use std::hint::black_box;

use crow_fly::source::{Answer, CatalogSource, Changed, Directory, ListedFile, Listing, Memory, Watching};
use crow_fly::{Config, CrowFly, Presence, args};
use crow_fly_core::catalog::FileFormat;
use tokio::runtime::Runtime;

use super::Table;

pub(super) fn translators(table: &Table<'_>) {
    let runtime = tokio::runtime::Builder::new_multi_thread()
        .worker_threads(2)
        .enable_all()
        .build()
        .expect("a runtime can be made");
    lookup(table, &runtime);
    page(table, &runtime);
    menu(table, &runtime);
    typed(table, &runtime);
    swaps(table, &runtime);
    cold_section(table);
}

/// A section of so many messages, as TOML.
fn section(messages: usize) -> String {
    (0..messages).fold(String::new(), |mut text, at| {
        let _ = writeln!(text, "message-{at} = 'The ferry number {at} leaves in the morning'");
        text
    })
}

/// An application whose Welsh has one message of its own, and its English two hundred in each of ten sections.
fn two_steps() -> CrowFly {
    let sections = (0..10).map(|at| ("en", format!("section-{at}"), section(200)));
    let welsh = (0..10).map(|at| ("cy", format!("section-{at}"), "own = 'x'".to_owned()));
    let config = Config::parse("development = false\ndefault = 'en'\nlocales = ['en', 'cy']");
    CrowFly::new(config.expect("it is a configuration"), Memory::new(sections.chain(welsh)))
}

fn lookup(table: &Table<'_>, runtime: &Runtime) {
    let keys: Vec<String> =
        (0..10).flat_map(|one| (0..200).map(move |two| format!("section-{one}.message-{two}"))).collect();
    // The hasher that catalogs use.
    let map: hashbrown::HashMap<String, usize> =
        keys.iter().enumerate().map(|(place, key)| (key.clone(), place)).collect();
    let t = runtime.block_on(two_steps().translator_for("cy"));
    assert_eq!(t.has("section-7.message-77"), Presence::Yes);
    table.row(
        "2,000 keys found at the second step of a chain; one `HashMap` with all of them",
        1.5,
        || {
            for key in black_box(&keys) {
                black_box(t.has(key));
            }
        },
        || {
            for key in black_box(&keys) {
                black_box(map.get(key));
            }
        },
    );
}

/// The language menu of a page.
fn menu(table: &Table<'_>, runtime: &Runtime) {
    let tags = "af ar az be bg bn ca cs cy da de el en es et eu fa fi fr ga gl gu he hi hr hu hy id is it ja ka kk km kn ko lt lv mk mn";
    let tags: Vec<&str> = tags.split(' ').collect();
    let config =
        Config::parse(&format!("default = 'en'\nlocales = {tags:?}")).expect("it is a configuration");
    let crow = CrowFly::new(config, Memory::new([("en", "home", "title = 'Sailings'")]));
    let t = runtime.block_on(crow.translator_for("cy"));
    let names: Vec<_> = t.menu().into_iter().map(|item| (item.own_name, item.name)).collect();
    assert_eq!(names.len(), 40);
    table.row(
        "a menu of 40 languages; their names copied, and `format!` of the addresses",
        2.5,
        || {
            black_box(t.menu());
        },
        || {
            let item = |(tag, (own, name)): (&&str, &(String, Option<String>))| {
                (own.clone(), name.clone(), format!("/locale?to={tag}&return=%2F"), format!("/{tag}"))
            };
            black_box(black_box(&tags).iter().zip(&names).map(item).collect::<Vec<_>>());
        },
    );
}

/// Texts as a page says them: of the first locale of a chain, and of the third.
fn page(table: &Table<'_>, runtime: &Runtime) {
    let english = (0..200).fold(String::new(), |mut text, at| {
        let _ = writeln!(text, "message-{at} = 'Ferry {at} leaves for {{$harbour}}'");
        text
    });
    let files =
        [("en", "board", english.as_str()), ("en-GB", "board", "own = 'x'"), ("cy", "board", "own = 'x'")];
    let config = Config::parse(
        "development = false\ndefault = 'en'\nlocales = ['en', 'en-GB', 'cy']\n[chains]\ncy = ['en-GB']",
    );
    let crow = CrowFly::new(config.expect("it is a configuration"), Memory::new(files));
    let translator = |tag| runtime.block_on(crow.translator_for(tag));
    let (first, third) = (translator("en"), translator("cy"));
    assert_eq!(third.text("board.own"), "x");
    let keys: Vec<String> = (0..200).map(|at| format!("board.message-{at}")).collect();
    let map = |first: usize| {
        let texts = keys.iter().enumerate().skip(first).map(|(at, key)| (key.clone(), at));
        texts.collect::<hashbrown::HashMap<String, usize>>()
    };
    let (own, none) = (map(0), map(200));
    table.row(
        "a text of the third locale of a chain; three `HashMap`s and `format!`",
        3.5,
        || {
            black_box(third.text((black_box("board.message-7"), args! { harbour: "Heron Point" })));
        },
        || {
            let key = black_box("board.message-7");
            let found = [&none, &none, &own].into_iter().find_map(|map| map.get(key));
            black_box(format!(
                "Ferry {} leaves for {}",
                found.copied().unwrap_or_default(),
                black_box("Heron Point")
            ));
        },
    );
    table.row(
        "a page of 200 texts; a `HashMap` and `write!`",
        4.0,
        || {
            let mut page = String::with_capacity(8 << 10);
            for key in black_box(&keys) {
                page.push_str(&first.text((key.as_str(), args! { harbour: black_box("Heron Point") })));
            }
            black_box(page);
        },
        || {
            let mut page = String::with_capacity(8 << 10);
            for key in black_box(&keys) {
                let found = own.get(key).copied().unwrap_or_default();
                let _ = write!(page, "Ferry {found} leaves for {}", black_box("Heron Point"));
            }
            black_box(page);
        },
    );
}

/// A message by its type, whose key is hashed when the program is compiled, and by its key.
fn typed(table: &Table<'_>, runtime: &Runtime) {
    let config = Config::parse("development = false\ndefault = 'en'\nlocales = ['en']");
    let crow = CrowFly::new(config.expect("it is a configuration"), ferry_messages::texts());
    let t = runtime.block_on(async {
        crow.load_all().await.expect("the demo's texts are well");
        crow.translator_for("en").await
    });
    table.row(
        "a typed message with a name; the same by its key",
        1.05,
        || {
            black_box(t.text(ferry_messages::trip::Thanks { name: black_box("Mair") }));
        },
        || {
            black_box(t.text(("trip.thanks", args! { name: black_box("Mair") })));
        },
    );
}

fn swaps(table: &Table<'_>, runtime: &Runtime) {
    let name = "texts said while a hundred generations a second are swapped; while none is";
    if !table.has(name) || !table.is_timed() {
        return;
    }
    let source = Swapped::default();
    let config = Config::parse("development = false\ndefault = 'en'\nlocales = ['en']");
    let crow = CrowFly::new(config.expect("it is a configuration"), source.clone());
    let page = || {
        let t = runtime.block_on(crow.translator_for("en"));
        for _ in 0..200 {
            black_box(t.text("home.message-7"));
        }
    };
    page();
    let swapping = std::sync::Arc::new(std::sync::atomic::AtomicBool::new(false));
    let (task, flag) = (crow.clone(), std::sync::Arc::clone(&swapping));
    let swapper = runtime.spawn(async move {
        loop {
            tokio::time::sleep(std::time::Duration::from_millis(10)).await;
            if flag.load(std::sync::atomic::Ordering::Relaxed) {
                source.next();
                task.reload().await.expect("it is well");
            }
        }
    });
    let set = |on: bool| swapping.store(on, std::sync::atomic::Ordering::Relaxed);
    // Long enough for several swaps in each.
    let pages = |on: bool| {
        set(on);
        (0..2_000).for_each(|_| page());
    };
    table.row(name, 1.0 / 0.95, || pages(true), || pages(false));
    swapper.abort();
}

/// A source of one small section that is another one each time it is asked to be.
#[derive(Clone, Debug, Default)]
struct Swapped(std::sync::Arc<std::sync::atomic::AtomicU64>);

impl Swapped {
    fn next(&self) {
        self.0.fetch_add(1, std::sync::atomic::Ordering::Relaxed);
    }

    fn version(&self) -> u64 {
        self.0.load(std::sync::atomic::Ordering::Relaxed)
    }
}

impl CatalogSource for Swapped {
    fn list<'a>(&'a self, _: &'a [String]) -> Answer<'a, Listing> {
        let file = ListedFile::section("en", "home", FileFormat::Toml, self.version());
        Answer::ready(Ok(Listing::new([file])))
    }

    fn read(&self, _: &ListedFile) -> Answer<'_, Vec<u8>> {
        Answer::ready(Ok(section(10).into_bytes()))
    }

    fn watch(&self, _: Changed) -> Option<Watching> {
        None
    }
}

fn cold_section(table: &Table<'_>) {
    // The thread of a handler is the one that its load begins on, as in a server.
    let runtime = tokio::runtime::Builder::new_current_thread().enable_all().build();
    let runtime = runtime.expect("a runtime can be made");
    let name = "a cold section of 200 messages from a disk; read and parsed by hand";
    if !table.has(name) {
        return;
    }
    let folder = std::env::temp_dir().join(format!("bench-{}", std::process::id()));
    let locale = folder.join("en");
    let file = locale.join("home.toml");
    std::fs::create_dir_all(&locale).expect("the folder can be made");
    std::fs::write(&file, section(200)).expect("the file can be written");
    std::fs::write(locale.join("trip.toml"), section(200)).expect("the file can be written");
    // Each of two leaves memory when the other one comes, so that the next one finds it cold again.
    let text =
        "development = false\ndefault = 'en'\nlocales = ['en']\n[catalogs]\neager = []\nmax-megabytes = 0";
    let crow = CrowFly::new(Config::parse(text).expect("it is a configuration"), Directory::new(&folder));
    let turn = std::cell::Cell::new(false);
    let cold = || {
        let section = if turn.replace(!turn.get()) { "home" } else { "trip" };
        runtime.block_on(async {
            let t = crow.translator_for("en").await;
            t.load([section]).await.expect("it is there");
            black_box(t.has("home.message-7"));
        });
    };
    let by_hand = || {
        let text = std::fs::read_to_string(black_box(&file)).expect("it is there");
        black_box(toml::from_str::<toml::Table>(&text).expect("it is TOML"));
    };
    let before = crow.health().loads;
    for _ in 0..4 {
        cold();
    }
    assert_eq!(crow.health().loads, before + 4, "each is read from the disk");
    // Another thread reads it, and the system wakes that sooner or later.
    table.row(name, 2.0, cold, by_hand);
    let _ = std::fs::remove_dir_all(folder);
}
