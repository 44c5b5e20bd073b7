//! A charge as it happens: the list, readings, what they mean, the end.

use crate::bench::{Bench, PHONE};

/// From the demo's first plan to the moment current flows.
async fn begin(bench: &Bench) {
    bench.open_plan("Tow-plane before the tow").await;
    bench.press("Start").await;
    bench.until_says(".preflight", "Before current flows").await;
    bench.press("It lies on a surface").await;
    bench.press("Plus and minus").await;
    bench.fill_labelled("The current limit, as its menu shows it", "2.6").await;
    bench.fill_labelled("Nothing connected, by meter: set 25.16 V.", "26.4").await;
    bench.until_says(".preflight", "Set it again").await;
    let disabled = "return String([...document.querySelectorAll('.preflight button')].find((b) => b.innerText.startsWith('Current flows')).disabled)";
    bench.until_script(disabled, "true").await;
    bench.fill_labelled("Nothing connected, by meter: set 25.16 V.", "25.16").await;
    bench.fill_labelled("The pack’s terminals at rest; 22.45 V is noted.", "22.45").await;
    bench.fill_labelled("Each cell at rest, at the balance plug.", "3.74 3.74 3.75 3.76 3.74 3.72").await;
    bench.fill_labelled("How warm the pack is itself.", "22").await;
    bench.until_script(disabled, "false").await;
    bench.press("Current flows").await;
    bench.until_says(".follow", "predicted now").await;
}

#[tokio::test]
async fn a_wrong_voltage_stops_the_list_and_readings_are_told_refitted_and_kept() {
    let bench = Bench::set_up(true).await;
    begin(&bench).await;
    bench.until_says(".follow", "done at").await;
    bench.browser.resize(PHONE).await.unwrap();
    bench.fill_labelled("Terminals, by meter", "22.7").await;
    bench.fill_labelled("Supply’s amps", "1.2").await;
    bench.press("Enter").await;
    bench.until_says(".said", "where 2.6").await;
    bench.until_says(".learned", "From 1 reading").await;
    let wide = "return document.documentElement.scrollWidth - innerWidth";
    assert_eq!(bench.client().execute(wide, vec![]).await.unwrap(), 0);
    bench.client().refresh().await.unwrap();
    bench.until_says(".readings", "1.2 A supply").await;
    bench.press("It has ended").await;
    bench.fill_labelled("Note", "Borrowed the supply for the siren").await;
    bench.press("Keep it in the logbook").await;
    bench.until_says(".follow", "Borrowed the supply").await;
    bench.press("What happened").await;
    let told = bench.until_says(".run-events", "Ended, by hand").await;
    assert!(told.contains("nothing connected 25.16 V") && told.contains("Current began to flow"), "{told}");
    bench.fill_labelled("Rests at, an hour later", "24.9").await;
    bench.press("Keep it").await;
    bench.until_says(".follow", "It rests at 24.9 V").await;
    bench.until_says(".worklist", "by hand, early").await;
    bench.assert_no_complaints_but(&["422"]).await;
    bench.clear_up().await;
}

#[tokio::test]
async fn a_reading_taken_while_the_server_is_away_arrives_once() {
    let mut bench = Bench::set_up(true).await;
    begin(&bench).await;
    bench.stop_server().await;
    bench.fill_labelled("Terminals, by meter", "22.7").await;
    bench.fill_labelled("Supply’s amps", "2.6").await;
    bench.press("Enter").await;
    bench.until_says(".follow", "One reading waits").await;
    bench.until_says(".readings", "waits").await;
    bench.start_server().await;
    bench.until(".readings", "has arrived", |text| text.contains("2.6 A supply") && !text.contains("waits")).await;
    bench.client().refresh().await.unwrap();
    let readings = bench.until_says(".readings", "2.6 A supply").await;
    assert_eq!(readings.matches("2.6 A supply").count(), 1, "{readings}");
    bench.clear_up().await;
}

#[tokio::test]
async fn a_past_run_is_laid_over_earlier_ones_and_what_it_taught_goes_to_the_pack() {
    let bench = Bench::set_up(true).await;
    bench.open("/run").await;
    bench.press("Tow-plane before the tow").await;
    bench.until_says(".overlay", "Beside earlier runs").await;
    let lines = "return String(document.querySelectorAll('.overlay svg[role=img] .overlay-line').length)";
    bench.until_script(lines, "2").await;
    let table = bench.until(".overlay-table", "tells what each came to", |text| text.matches("mΩ").count() == 2).await;
    assert!(table.contains("rising") && table.matches(" Ah").count() >= 4, "{table}");
    let at_zero = "return String(document.querySelectorAll('.overlay .run-now').length)";
    bench.until_script(at_zero, "0").await;
    bench.press("from its charge voltage").await;
    bench.until_script(at_zero, "1").await;
    bench.until_script(lines, "2").await;
    bench.until_says(".take", "of its label").await;
    bench.press("Keep it with the pack").await;
    bench.until_says(".follow", "carries these figures").await;
    bench.open_plan("Tow-plane before the tow").await;
    bench.until_says(".newer", "newer").await;
    bench.assert_no_complaints().await;
    bench.clear_up().await;
}

/// A reading that does not fit is asked about, corrected by one press, and counted then.
#[tokio::test]
async fn ten_times_the_amps_are_asked_about_and_no_current_is_said_first() {
    let bench = Bench::set_up(true).await;
    begin(&bench).await;
    bench.until_says(".run-set", "25.16 V").await;
    bench.fill_labelled("Terminals, by meter", "22.7").await;
    bench.fill_labelled("Supply’s amps", "26").await;
    bench.press("Enter").await;
    bench.until_says(".query", "26 A, or 2.6 A?").await;
    bench.press("2.6 A").await;
    bench.until_says(".readings", "2.6 A supply").await;
    bench.until_says(".said", "As predicted").await;
    bench.fill_labelled("Supply’s amps", "0").await;
    bench.press("Enter").await;
    let said = bench.until_says(".said", "No current flows").await;
    assert!(said.contains("clips and plugs"), "{said}");
    bench.until_says(".look", "It does not charge").await;
    bench.assert_no_complaints_but(&["422"]).await;
    bench.clear_up().await;
}
