//! Packs in trouble: asked about, judged, brought back or given up.

use std::time::Duration;

use crate::bench::{Bench, PHONE};

/// From nothing to the terminals of a 4S pack.
async fn describe(bench: &Bench, board: &str, looks: &str) {
    bench.press("A pack in trouble").await;
    bench.until_says(".ask", "What is it?").await;
    bench.press("Li-ion").await;
    bench.until_says(".ask", "How many cells").await;
    bench.fill_labelled("Cells in series", "4").await;
    bench.press("Next").await;
    bench.until_says(".ask", "How much does it hold").await;
    bench.fill_labelled("Capacity", "5 Ah").await;
    bench.press("Next").await;
    bench.until_says(".ask", "protection board").await;
    bench.press(board).await;
    bench.until_says(".ask", "look, feel and smell").await;
    bench.press(looks).await;
}

async fn read_low(bench: &Bench, volts: &str) {
    bench.until_says(".ask", "How warm").await;
    bench.fill_labelled("Temperature", "19").await;
    bench.press("Next").await;
    bench.until_says(".ask", "terminals read").await;
    bench.fill_labelled("At the terminals", volts).await;
    bench.press("Next").await;
}

async fn name_gear(bench: &Bench) {
    bench.until_says(".ask", "to feed it with").await;
    bench.choose("Supply", "Borrowed bench supply").await;
    bench.press("Next").await;
    bench.until_says(".ask", "normally charges it").await;
    bench.press("I can’t tell").await;
}

#[tokio::test]
async fn a_sleeping_pack_is_woken_precharged_and_handed_over() {
    let bench = Bench::set_up(true).await;
    bench.open("/rescue").await;
    describe(&bench, "It has one", "Nothing out of the ordinary").await;
    read_low(&bench, "0.3").await;
    bench.until_says(".ask", "single cells").await;
    bench.press("No").await;
    bench.until_says(".verdict", "Wake its board").await;
    name_gear(&bench).await;
    bench.press("Begin: wake").await;
    bench.fill_labelled("Current", "0.25").await;
    bench.press("Enter").await;
    bench.until_says(".judged", "It has woken").await;
    bench.fill_labelled("Terminals, supply parted", "11.2").await;
    bench.press("Go on with this").await;
    bench.until_says(".verdict", "Bring it up gently").await;
    bench.press("Begin: precharge").await;
    bench.fill_labelled("Terminals", "11.5").await;
    bench.fill_labelled("Current", "0.25").await;
    bench.press("Enter").await;
    bench.until_says(".judged", "On track").await;
    // Nobody reads its cells: it stops where one shorted group would overcharge the others.
    bench.fill_labelled("Terminals", "12.58").await;
    bench.fill_labelled("Current", "0.25").await;
    bench.press("Enter").await;
    bench.until_says(".judged", "hand it over").await;
    bench.press("Go on: hand over").await;
    bench.fill_labelled("Terminals", "12.5").await;
    bench.press("Enter").await;
    bench.until_says(".judged", "each cell").await;
    bench.fill_labelled("Terminals", "12.5").await;
    bench.fill_labelled("Each cell, V", "3.12 3.13 3.12 3.13").await;
    bench.press("Enter").await;
    bench.until_says(".judged", "take over").await;
    bench.press("Go on: first charge").await;
    bench.until_says(".run", "First charge").await;
    bench.assert_no_complaints_but(&["422"]).await;
    bench.clear_up().await;
}

#[tokio::test]
async fn a_swollen_pack_is_refused_in_both_practices_and_retired() {
    let bench = Bench::set_up(true).await;
    bench.open("/rescue").await;
    describe(&bench, "It has none", "swollen").await;
    bench.press("That is what I see").await;
    bench.until_says(".verdict", "Retire it").await;
    bench.press("experienced").await;
    bench.until_says(".verdict", "Retire it").await;
    bench.until_says(".verdict", "Where it goes").await;
    bench.press("Retire it").await;
    bench.until_says(".over", "retired").await;
    bench.until_says(".work-row.current", "retired").await;
    bench.assert_no_complaints_but(&["422"]).await;
    bench.clear_up().await;
}

#[tokio::test]
async fn a_closed_browser_in_the_middle_of_a_stage_continues_and_an_abort_ends_it() {
    let bench = Bench::set_up(true).await;
    bench.open("/rescue").await;
    bench.press("Second slope glider").await;
    bench.press("Begin: precharge").await;
    bench.fill_labelled("Terminals", "8.1").await;
    bench.fill_labelled("Current", "0.11").await;
    bench.press("Enter").await;
    bench.until_says(".readings", "8.1 V").await;
    bench.until_says(".rescue-kept", "kept").await;
    // Another browser: nothing of this one's memory.
    bench.client().execute("sessionStorage.clear(); localStorage.clear()", vec![]).await.unwrap();
    tokio::time::sleep(Duration::from_millis(1500)).await;
    bench.browser.resize(PHONE).await.unwrap();
    bench.open("/rescue").await;
    bench.press("Second slope glider").await;
    bench.until_says(".readings", "8.1 V").await;
    let clock = bench.text(".run-clock").await;
    assert_ne!(clock, "0:00");
    let wide = "return document.documentElement.scrollWidth - innerWidth";
    assert_eq!(bench.client().execute(wide, vec![]).await.unwrap(), 0);
    bench.fill_labelled("Terminals", "8.3").await;
    bench.fill_labelled("Warmth", "31").await;
    bench.press("Enter").await;
    bench.until_says(".judged", "pull the plug").await;
    bench.press("It is unplugged").await;
    bench.until_says(".history", "31 °C").await;
    bench.press("Retire it").await;
    bench.until_says(".over", "retired").await;
    bench.open("/shelf").await;
    bench.until_says(".shelf-rows", "Retired: not to be charged again").await;
    bench.assert_no_complaints_but(&["422"]).await;
    bench.clear_up().await;
}

#[tokio::test]
async fn a_plan_that_stops_at_a_low_pack_leads_here_and_gentler_gear_is_found() {
    let bench = Bench::set_up(true).await;
    bench.open_plan("Lesson: a siren too flat to start").await;
    bench.press("Take it to Rescue").await;
    bench.until_says(".known", "12 V · 7 Ah · Lead, gel").await;
    bench.press("Siren after the winter").await;
    bench.until_says(".verdict", "Store-room supply does not do").await;
    bench.until_says(".fits", "Doorbell adapter").await;
    bench.press("Take this").await;
    bench.until_says(".verdict", "does. Output off").await;
    bench.assert_no_complaints_but(&["422"]).await;
    bench.clear_up().await;
}

#[tokio::test]
async fn a_reading_entered_while_the_server_is_away_is_kept_once_it_is_back() {
    let mut bench = Bench::set_up(true).await;
    bench.open("/rescue").await;
    bench.press("Second slope glider").await;
    bench.press("Begin: precharge").await;
    bench.until_says(".rescue-kept", "kept").await;
    bench.stop_server().await;
    bench.fill_labelled("Terminals", "8.1").await;
    bench.press("Enter").await;
    bench.until_says(".rescue-head", "the server cannot be reached").await;
    bench.until_says(".readings", "8.1 V").await;
    bench.start_server().await;
    bench.until_says(".rescue-kept", "kept").await;
    bench.client().execute("sessionStorage.clear(); localStorage.clear()", vec![]).await.unwrap();
    bench.open("/rescue").await;
    bench.press("Second slope glider").await;
    let readings = bench.until_says(".readings", "8.1 V").await;
    assert_eq!(readings.matches("take back").count(), 1, "{readings}");
    bench.clear_up().await;
}
