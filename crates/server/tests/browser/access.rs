//! By keyboard alone, by ear, in both schemes, on a phone.

use fantoccini::key::Key;
use serde_json::json;

use crate::bench::{Bench, PHONE};
use crate::files::drop_file;
use crate::logs::shed;

/// What axe-core finds on the page, in words.
async fn findings(bench: &Bench) -> Vec<String> {
    let axe = concat!(env!("CARGO_MANIFEST_DIR"), "/../../web/node_modules/axe-core/axe.min.js");
    bench.client().execute(&std::fs::read_to_string(axe).unwrap(), vec![]).await.unwrap();
    let run = "const done = arguments[0];
        axe.run(document, { runOnly: ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'] }).then((found) => done(
            found.violations.flatMap((v) => v.nodes.map((n) => `${v.id}: ${n.target.join(' ')}: ${n.any.concat(n.all)[0]?.message ?? ''}`))))";
    let found = bench.client().execute_async(run, vec![]).await.unwrap();
    serde_json::from_value(found).unwrap()
}

#[tokio::test]
async fn every_screen_is_accessible_in_both_schemes() {
    let bench = Bench::set_up(true).await;
    for scheme in ["Dark", "Light"] {
        bench.open_plan("Tow-plane before the tow").await;
        bench.press(scheme).await;
        bench.settle().await;
        assert_eq!(findings(&bench).await, Vec::<String>::new(), "plan, from {scheme}");
        bench.press("Small bench supply: ").await;
        bench.see(".panel").await;
        bench.settle().await;
        assert_eq!(findings(&bench).await, Vec::<String>::new(), "panel, from {scheme}");
        for name in ["Winch turned up by hand", "Slope glider from the field battery", "Tow-plane off the laptop brick"]
        {
            bench.open_plan(name).await;
            assert_eq!(findings(&bench).await, Vec::<String>::new(), "{name}, from {scheme}");
        }
        bench.press("How big, how many").await;
        bench.until_says(".sizing", "Packs at once").await;
        bench.settle().await;
        assert_eq!(findings(&bench).await, Vec::<String>::new(), "sizing, from {scheme}");
        bench.open("/compare").await;
        bench.until_says(".compare", "Time").await;
        assert_eq!(findings(&bench).await, Vec::<String>::new(), "compare, from {scheme}");
        bench.open_plan("Winch straight off the brick").await;
        assert_eq!(findings(&bench).await, Vec::<String>::new(), "stopped, from {scheme}");
        for (name, action) in [("Siren after", "Take this"), ("Second slope", "Begin"), ("A pack in trouble", "LiPo")] {
            bench.open("/rescue").await;
            bench.press(name).await;
            bench.see(".verdict").await;
            bench.settle().await;
            assert_eq!(findings(&bench).await, Vec::<String>::new(), "rescue of {name}, from {scheme}");
            // From the second scheme on the stage is under way already.
            if scheme == "Dark" || name == "A pack in trouble" {
                bench.press(action).await;
            }
            bench.settle().await;
            assert_eq!(findings(&bench).await, Vec::<String>::new(), "rescue of {name} going on, from {scheme}");
        }
        bench.open_plan("Tow-plane before the tow").await;
        bench.press("Start").await;
        bench.until_says(".preflight", "How warm").await;
        assert_eq!(findings(&bench).await, Vec::<String>::new(), "the list before, from {scheme}");
        bench.open(&format!("/run/{}", bench.run_under_way().await)).await;
        bench.until_says(".learned", "From 3 readings").await;
        bench.settle().await;
        assert_eq!(findings(&bench).await, Vec::<String>::new(), "run, from {scheme}");
        bench.open("/bench").await;
        bench.until_says(".bench-runs", "done at").await;
        assert_eq!(findings(&bench).await, Vec::<String>::new(), "bench, from {scheme}");
        bench.open("/run/log").await;
        bench.until_says(".log-import", "drop the file here").await;
        drop_file(&bench, "shed.csv", &(shed(20) + "00:04:00;OVER;2,6;21,5;\n")).await;
        bench.until_says(".log-table", "22.5 V terminals").await;
        bench.press("One of its first lines").await;
        bench.press("Narrow down").await;
        assert_eq!(findings(&bench).await, Vec::<String>::new(), "a log, from {scheme}");
        bench.press("Winch on the hall charger").await;
        bench.until_says(".account", "into the pack").await;
        assert_eq!(findings(&bench).await, Vec::<String>::new(), "a past run, from {scheme}");
        for path in ["/shelf", "/gear", "/gear?part=chargers", "/gear?part=leads", "/guide"] {
            bench.open(path).await;
            bench.see(".shelf-item, .guide-words").await;
            bench.settle().await;
            assert_eq!(findings(&bench).await, Vec::<String>::new(), "{path}, from {scheme}");
        }
    }
    bench.clear_up().await;
}

#[tokio::test]
async fn the_keyboard_alone_does_the_main_job() {
    let bench = Bench::set_up(false).await;
    bench.open("/plan").await;
    bench.until_says(".empty", "What do you want to charge").await;
    bench.type_keys("/").await;
    bench.type_keys("6S 4000 lipo, 30 V 5 A bench").await;
    bench.until_says(".card-figures", "25.20").await;
    bench.type_keys(&Key::Enter.to_string()).await;
    bench.until(".line-read", "goes away", str::is_empty).await;
    // From the quick line on, by Tab, to the supply's amps.
    bench.tab_to("Rated current").await;
    bench.type_keys("2").await;
    bench.until_says(".summary", "limited by the supply's amps").await;
    bench.tab_to("Pack temperature").await;
    bench.tab_to("As a table").await;
    // A digit or a letter beside a field leads nowhere.
    for key in ["5", "2", "s", "c"] {
        bench.type_keys(key).await;
    }
    bench.until_says(".summary", "limited by the supply's amps").await;
    bench.tab_to("Moment of the charge").await;
    bench.type_keys(&Key::End.to_string()).await;
    bench.until_says(".chain-feet", "the pinch: charge voltage").await;
    bench.type_keys(&format!("{}s{}", Key::Control, Key::Null)).await;
    bench.until_says(".plan-file", "Saved").await;
    bench.type_keys("?").await;
    bench.until_says(".key-map", "the quick line").await;
    bench.type_keys(&Key::Escape.to_string()).await;
    bench.until(".ant-modal", "goes away", str::is_empty).await;
    bench.clear_up().await;
}

#[tokio::test]
async fn a_settled_answer_is_spoken_and_the_chain_is_a_list() {
    let bench = Bench::set_up(true).await;
    bench.open_plan("Tow-plane before the tow").await;
    bench
        .until_script("return document.querySelector('[aria-live=polite]').textContent", "Answer: full in 1 h 15")
        .await;
    let names =
        "return [...document.querySelectorAll('.chain-heads button.chain-name')].map((b) => b.ariaLabel).join('|')";
    let spoken = bench.until_script(names, "the pinch").await;
    assert!(spoken.contains("A to spare") && spoken.contains("Tow-plane"), "{spoken}");
    let value = "return document.querySelector('.chart-cursor').getAttribute('aria-valuetext')";
    bench.until_script(value, "limited by the supply's watts").await;
    bench.clear_up().await;
}

#[tokio::test]
async fn a_phone_shows_every_screen_without_scrolling_sideways() {
    let bench = Bench::set_up(true).await;
    bench.browser.resize(PHONE).await.unwrap();
    for path in ["/bench", "/plan", "/rescue", "/run", "/run/log", "/shelf", "/gear"] {
        bench.open(path).await;
        bench.see(".bench-head, .card, .work-row, .teach, .log-import, .shelf-item").await;
        bench.settle().await;
        let wide = "return document.documentElement.scrollWidth - innerWidth";
        let wide = bench.client().execute(wide, vec![]).await.unwrap();
        assert!(wide.as_i64().unwrap() <= 0, "{path}: {wide}");
    }
    bench.clear_up().await;
}

/// Where nothing may be wider than the window.
const WIDE: &str = "return document.documentElement.scrollWidth - innerWidth";
/// The main screens, and what says that each is there.
const MAIN: [(&str, &str); 6] = [
    ("/bench", ".bench-head"),
    ("/plan", ".card-figures"),
    ("/rescue", ".worklist"),
    ("/run", ".run-table"),
    ("/shelf", ".shelf-item"),
    ("/guide", ".guide-words"),
];

#[tokio::test]
async fn colours_that_the_system_chooses_hide_nothing() {
    let bench = Bench::set_up(true).await;
    let forced = json!({ "features": [{ "name": "forced-colors", "value": "active" }] });
    bench.browser.devtools("Emulation.setEmulatedMedia", forced).await.unwrap();
    for (path, there) in MAIN {
        bench.open(path).await;
        bench.see(there).await;
        bench.settle().await;
        let active = "return String(matchMedia('(forced-colors: active)').matches)";
        bench.until_script(active, "true").await;
        assert_eq!(findings(&bench).await, Vec::<String>::new(), "{path}");
    }
    bench.clear_up().await;
}

#[tokio::test]
async fn at_twice_the_size_and_at_320_nothing_is_cut_off() {
    let bench = Bench::set_up(true).await;
    // A window of 1280 × 800 at 200 % is one of 640 × 400; the narrowest that must do is 320.
    for (width, height) in [(640, 400), (320, 640)] {
        let metrics = json!({ "width": width, "height": height, "deviceScaleFactor": 1, "mobile": false });
        bench.browser.devtools("Emulation.setDeviceMetricsOverride", metrics).await.unwrap();
        for (path, there) in MAIN {
            bench.open(path).await;
            bench.see(there).await;
            bench.settle().await;
            let wide = bench.client().execute(WIDE, vec![]).await.unwrap();
            assert!(wide.as_i64().unwrap() <= 0, "{path} at {width}: {wide}");
            assert_eq!(findings(&bench).await, Vec::<String>::new(), "{path} at {width}");
        }
    }
    bench.clear_up().await;
}

#[tokio::test]
async fn a_run_is_followed_by_keyboard_alone() {
    let bench = Bench::set_up(true).await;
    bench.open("/bench").await;
    bench.open(&format!("/run/{}", bench.run_under_way().await)).await;
    bench.until_says(".follow", "predicted now").await;
    // The first Tab leads past the navigation.
    bench.type_keys(&Key::Tab.to_string()).await;
    bench.until_script("return document.activeElement.className", "skip-link").await;
    bench.type_keys(&Key::Enter.to_string()).await;
    bench.until_script("return document.activeElement.id", "main").await;
    bench.client().execute("document.querySelector('.reading input').focus()", vec![]).await.unwrap();
    // From field to field with one Tab each, and Enter ends it.
    let mut keys = 0;
    for typed in ["24.1", "2.4"] {
        bench.type_keys(typed).await;
        keys += typed.len();
        if typed == "24.1" {
            bench.type_keys(&Key::Tab.to_string()).await;
            keys += 1;
        }
    }
    bench.type_keys(&Key::Enter.to_string()).await;
    println!("a reading by keyboard: {} keys", keys + 1);
    bench.until_says(".readings", "24.1 V terminals").await;
    bench.assert_no_complaints().await;
    bench.clear_up().await;
}
