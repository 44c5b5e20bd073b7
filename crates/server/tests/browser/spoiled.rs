//! What comes by link and by storage is checked like a file: nothing in it keeps a screen from opening.

use serde_json::{Value, json};

use crate::bench::Bench;

/// Everything that is kept in this browser.
const KEYS: [&str; 12] = [
    "rumek.draft",
    "rumek.steps",
    "rumek.aside",
    "rumek.rescue",
    "rumek.case.steps",
    "rumek.starting",
    "rumek.cells",
    "rumek.preferences",
    "rumek.clock",
    "rumek.told",
    "rumek.scheme",
    "rumek.keys",
];

/// Texts that were never kept by Rumek, or by another version of it.
fn spoiled() -> Vec<String> {
    let plan = |pack: Value| json!({ "format": "rumek.plan/1", "pack": pack, "source": { "kind": "bench_supply" } });
    let draft = |document: Value| json!({ "document": document, "links": {} });
    let case = |rescue: Value| json!({ "id": "x", "links": {}, "document": { "format": "rumek.rescue-case/1", "rescue": rescue } });
    let shaped = [
        json!(null),
        json!(0),
        json!(1e300),
        json!("text"),
        json!([]),
        json!([null]),
        json!({}),
        json!({ "document": null, "links": null }),
        draft(json!({ "format": "rumek.plan/1", "pack": null, "source": [] })),
        draft(plan(json!({ "chemistry": "lipo", "series": "6" }))),
        draft(plan(json!({ "chemistry": "soup", "series": 6 }))),
        draft(plan(json!({ "chemistry": "lipo", "tags": 3, "start": { "cell_voltages_v": "3.7" } }))),
        json!({ "past": [{}], "future": null }),
        json!([{ "draft": {}, "at": 7 }]),
        case(json!({ "pack": { "series": "6" } })),
        case(json!({ "found": { "cell_voltages_v": {} } })),
        json!({ "plan": {}, "links": {}, "answers": [null] }),
        json!({ "cells": 7, "packs": null, "chemistry": "soup" }),
        json!({ "degrees": "K", "clock": [], "currency": {} }),
    ];
    ["", "{", "NaN", "undefined"].map(str::to_owned).into_iter().chain(shaped.map(|one| one.to_string())).collect()
}

const SCREENS: [&str; 7] = ["Bench", "Plan", "Rescue", "Run", "Shelf", "Gear", "Guide"];

async fn assert_opens(bench: &Bench, screen: &str, after: &str) {
    let script = "const text = document.querySelector('#main')?.innerText.trim() ?? '';
        return text === '' || text.startsWith('One moment') ? '' : `shows ${text.slice(0, 60)}`";
    let shown = bench.until_script(script, "shows").await;
    assert!(!shown.contains("This screen failed"), "{screen} after {after}: {shown}");
}

#[tokio::test]
async fn nothing_in_storage_keeps_a_screen_from_opening() {
    let bench = Bench::set_up(false).await;
    bench.open("/bench").await;
    for text in spoiled() {
        let script = "for (const storage of [localStorage, sessionStorage]) {
            storage.clear();
            for (const key of arguments[0]) storage.setItem(key, arguments[1]);
        }";
        bench.client().execute(script, vec![json!(KEYS), json!(text)]).await.unwrap();
        for path in ["/plan", "/shelf/cells"] {
            bench.open(path).await;
            assert_opens(&bench, path, &text).await;
        }
        for screen in SCREENS {
            bench.press(screen).await;
            assert_opens(&bench, screen, &text).await;
        }
    }
    bench.assert_no_complaints_but(&["422"]).await;
    bench.clear_up().await;
}

/// The fragment of a link that carries a document.
async fn link_with(bench: &Bench, document: &Value) -> String {
    let script = "const [text, done] = arguments;
        const stream = new Blob([text]).stream().pipeThrough(new CompressionStream('deflate-raw'));
        new Response(stream).arrayBuffer().then((packed) => done(btoa(String.fromCharCode(...new Uint8Array(packed)))
            .replaceAll('+', '-').replaceAll('/', '_').replace(/=+$/, '')));";
    let packed = bench.client().execute_async(script, vec![json!(document.to_string())]).await.unwrap();
    packed.as_str().unwrap().to_owned()
}

#[tokio::test]
async fn a_link_that_carries_no_plan_says_so_and_shows_nothing_else() {
    let bench = Bench::set_up(true).await;
    bench.open_plan("Tow-plane before the tow").await;
    bench.until_says(".card-figures", "25.16").await;
    let pack = json!({ "chemistry": "lipo", "series": "6", "capacity_ah": 4 });
    let text = json!({ "format": "rumek.plan/1", "pack": pack, "source": { "kind": "bench_supply" } });
    // Of the right shape, and past every bound: the core says what is wrong with it.
    let source = json!({ "kind": "bench_supply", "max_voltage_v": 30, "max_current_a": 5 });
    let pack = json!({ "chemistry": "lipo", "series": 6_000_000, "capacity_ah": 4 });
    let far = json!({ "format": "rumek.plan/1", "pack": pack, "source": source });
    let cut = "plan=rVbbbtswDP0V".to_owned();
    for (fragment, why) in [
        (format!("plan={}", link_with(&bench, &text).await), "does not carry a whole plan"),
        (format!("plan={}", link_with(&bench, &far).await), "out of range"),
        (cut, "does not carry a whole plan"),
    ] {
        // Another page first: a fragment alone loads nothing anew.
        bench.open("/guide").await;
        bench.open(&format!("/plan#{fragment}")).await;
        let said = bench.until_says("main", "This link opens no plan").await.to_lowercase();
        assert!(said.contains(why), "{said}");
        assert!(!said.contains("25.16"), "{said}");
        bench.client().refresh().await.unwrap();
        bench.until_says("main", "This link opens no plan").await;
        bench.press("Go back to “Tow-plane before the tow”").await;
        bench.until_says(".card-figures", "25.16").await;
    }
    bench.open("/plan/01960000-0000-7000-8000-00000000dead").await;
    bench.until_says("main", "This link opens no plan").await;
    bench.press("New plan").await;
    bench.until_says(".empty", "What do you want to charge").await;
    bench.assert_no_complaints_but(&["422", "404"]).await;
    bench.clear_up().await;
}
