//! Bench, many tabs, and a page without its server.

use fantoccini::wd::WindowHandle;

use crate::bench::{Bench, PHONE};

const RUN: &str = "Slope glider to storage";

async fn tab(bench: &Bench, path: &str) -> WindowHandle {
    let handle = bench.client().new_window(true).await.unwrap().handle;
    bench.client().switch_to_window(handle.clone()).await.unwrap();
    bench.open(path).await;
    handle
}

async fn look(bench: &Bench, tab: &WindowHandle) {
    bench.client().switch_to_window(tab.clone()).await.unwrap();
}

/// Opens the run under way, in the tab that is looked at.
async fn open_run(bench: &Bench) {
    bench.open("/run").await;
    bench.press(RUN).await;
    bench.until_says(".follow", "predicted now").await;
}

async fn enter(bench: &Bench, volts: &str) {
    bench.fill_labelled("Terminals, by meter", volts).await;
    bench.press("Enter").await;
    bench.until_says(".readings", &format!("{volts} V terminals")).await;
}

#[tokio::test]
async fn bench_shows_every_charge_and_what_another_tab_does() {
    let bench = Bench::set_up(true).await;
    bench.open("/").await;
    bench.until_says(".bench-runs", RUN).await;
    bench.until_says(".bench-runs .emergency", "If it smokes, hisses or burns").await;
    bench.until_says(".bench-count", "to your next look").await;
    bench.until_script("return document.title", "· Rumek").await;
    let first = bench.client().window().await.unwrap();
    tab(&bench, "/run").await;
    open_run(&bench).await;
    // A voltage of a pack that cannot be: something is wrong, look now.
    enter(&bench, "12.9").await;
    look(&bench, &first).await;
    bench.until_says(".bench-runs", "Look now").await;
    bench.until_says(".bench-needs", "■").await;
    bench.browser.resize(PHONE).await.unwrap();
    let wide = "return document.documentElement.scrollWidth - innerWidth";
    assert_eq!(bench.client().execute(wide, vec![]).await.unwrap(), 0);
    bench.assert_no_complaints().await;
    bench.clear_up().await;
}

#[tokio::test]
async fn eight_tabs_work_and_two_that_write_lose_nothing() {
    let bench = Bench::set_up(true).await;
    bench.open("/bench").await;
    let mut tabs = vec![bench.client().window().await.unwrap()];
    for _ in 0..5 {
        tabs.push(tab(&bench, "/bench").await);
    }
    for volts in ["11.61", "11.62"] {
        tabs.push(tab(&bench, "/run").await);
        open_run(&bench).await;
        bench.fill_labelled("Terminals, by meter", volts).await;
    }
    for tab in &tabs[6..] {
        look(&bench, tab).await;
        bench.press("Enter").await;
    }
    for tab in &tabs[6..] {
        look(&bench, tab).await;
        bench.until(".readings", "has both", |text| text.contains("11.61") && text.contains("11.62")).await;
    }
    bench.press("It has ended").await;
    bench.press("Keep it in the logbook").await;
    for tab in &tabs[..6] {
        look(&bench, tab).await;
        bench.until_says(".bench-head", "Nothing is charging").await;
    }
    // The one that heard for all is closed; another takes its place.
    look(&bench, &tabs[0]).await;
    bench.client().close_window().await.unwrap();
    look(&bench, &tabs[1]).await;
    bench.run_under_way().await;
    for tab in &tabs[2..4] {
        look(&bench, tab).await;
        bench.until_says(".bench-runs", "Tow-plane before the tow").await;
    }
    bench.clear_up().await;
}

#[tokio::test]
async fn a_page_reloaded_while_the_server_is_away_still_takes_readings() {
    let mut bench = Bench::set_up(true).await;
    open_run(&bench).await;
    bench.until_says(".learned", "From 3 readings").await;
    let kept = "const done = arguments[0]; (async () => {
        for (let n = 0; n < 100; n++) {
            const shell = await caches.open('rumek-shell');
            const db = await indexedDB.databases();
            if ((await shell.match('/')) && db.some((d) => d.name === 'rumek')) break;
            await new Promise((go) => setTimeout(go, 100));
        }
        const kept = (await (await caches.open('rumek-shell')).keys()).map(({ url }) => new URL(url).pathname);
        setTimeout(() => done(kept), 1500);
    })()";
    let kept = bench.client().execute_async(kept, vec![]).await.unwrap();
    let kept: Vec<String> = serde_json::from_value(kept).unwrap();
    assert!(kept.contains(&"/".to_owned()) && !kept.iter().any(|path| path.starts_with("/api")), "{kept:?}");
    bench.stop_server().await;
    bench.client().refresh().await.unwrap();
    bench.until_says(".away", "cannot be reached").await;
    bench.until_says(".follow", RUN).await;
    bench.until_says(".learned", "From 3 readings").await;
    bench.fill_labelled("Terminals, by meter", "11.58").await;
    bench.press("Enter").await;
    bench.until_says(".follow", "One reading waits").await;
    bench.start_server().await;
    bench.until(".readings", "has arrived", |text| text.contains("11.58") && !text.contains("waits")).await;
    bench.until(".away", "goes away", str::is_empty).await;
    bench.client().refresh().await.unwrap();
    let readings = bench.until_says(".readings", "11.58").await;
    assert_eq!(readings.matches("11.58").count(), 1, "{readings}");
    bench.clear_up().await;
}

#[tokio::test]
async fn a_look_that_is_due_is_told_where_the_person_allows_it() {
    let bench = Bench::set_up(true).await;
    bench.open("/bench").await;
    bench.allow("notifications").await;
    bench.until_says(".bench-runs", RUN).await;
    bench.see(".bench-told button").await.click().await.unwrap();
    bench.until_script("return localStorage.getItem('rumek.tell')", "on").await;
    // Whichever screen is open.
    open_run(&bench).await;
    enter(&bench, "12.9").await;
    // Asked for while one is on its way to the screen, the browser takes it for one put away: seldom, and not at once.
    let told = "const done = arguments[0]; (async () => {
        const wait = (ms) => new Promise((go) => setTimeout(go, ms));
        for (let n = 0; n < 100 && !localStorage.getItem('rumek.told'); n++) await wait(100);
        const { active } = await navigator.serviceWorker.ready;
        for (let n = 0; n < 8; n++) {
            await wait(1000);
            const all = await (await navigator.serviceWorker.ready).getNotifications();
            if (all.length > 0) return done(all.map((one) => one.title).join());
        }
        const dues = [...document.querySelectorAll('.follow')].map((e) => e.textContent.slice(0, 400));
        done(['never', localStorage.getItem('rumek.told'), localStorage.getItem('rumek.tell'), Notification.permission, active?.state, ...dues].join(' | '));
    })()";
    let told = bench.client().execute_async(told, vec![]).await.unwrap();
    assert_eq!(told.as_str().unwrap(), format!("{RUN}: look now"));
    bench.assert_no_complaints().await;
    bench.clear_up().await;
}
