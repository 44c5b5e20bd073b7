//! The shelf: from a test to its trend, a log of many cycles, swaps by keyboard, a label whose code leads back.

use fantoccini::Locator;
use fantoccini::key::Key;
use std::fmt::Write as _;

use crate::bench::Bench;
use crate::files::drop_file;

/// A pack of the demo's whose page is opened.
const MOUNT: &str = "/shelf/01960000-0000-7000-8000-000000000003";
const TOW_PLANE: &str = "/shelf/01960000-0000-7000-8000-000000000001";

#[tokio::test]
async fn from_a_test_planned_to_the_trend() {
    let bench = Bench::set_up(true).await;
    bench.open("/shelf").await;
    bench.until_says(".shelf-rows", "Telescope mount").await;
    bench.press("Telescope mount").await;
    bench.until_says(".pack-page", "What it holds").await;
    assert!(bench.text(".pack-standing").await.contains("It takes three measurements"), "two tests are no trend yet");
    bench.press("Plan a capacity test").await;
    bench.choose("It is full", "yes").await;
    bench.fill_labelled("Discharge current", "10 A").await;
    bench.until_says(".test-sum", "As good as its label it gives 1").await;
    assert!(bench.text(".test-checks").await.contains("weakest cell falls first"), "each cell is to be read");
    let field = ".ant-drawer form[aria-label='A capacity test'] .field:nth-child";
    bench.fill(&format!("{field}(1) input"), "19.6 Ah").await;
    bench.fill(&format!("{field}(2) input"), "10 A").await;
    bench.fill(&format!("{field}(3) input"), "21 °C").await;
    bench.type_keys(&Key::Enter.to_string()).await;
    bench.until_says(".pack-known", "gave 19.6 Ah at 10 A at 21 °C").await;
    let trend = bench.until(".pack-standing", "tells a trend", |text| text.contains("of its label a year")).await;
    assert!(trend.contains("Comes to"), "{trend}");
    // Before it is said that it is full, nothing feeds the charge.
    bench.assert_no_complaints_but(&["422"]).await;
    bench.clear_up().await;
}

/// A capacity test carried out: the list before it, its readings, its end, and what is kept.
#[tokio::test]
async fn a_capacity_test_is_followed_as_a_run_and_kept() {
    let bench = Bench::set_up(true).await;
    bench.open(MOUNT).await;
    bench.until_says(".pack-page", "What it holds").await;
    bench.press("Plan a capacity test").await;
    bench.choose("It is full", "yes").await;
    bench.fill_labelled("Discharge current", "10 A").await;
    bench.until_says(".test-sum", "As good as its label it gives 1").await;
    bench.press("Start the discharge").await;
    bench.until_says(".preflight", "The load, its input off, is set to 10 A and ends at 10 V.").await;
    for tick in ["It lies on a surface", "The load, its input off", "Plus and minus read"] {
        bench.press(tick).await;
    }
    bench.fill_labelled("The pack’s terminals at rest.", "13.0").await;
    bench.until_says(".preflight", "outside 13.").await;
    bench.fill_labelled("The pack’s terminals at rest.", "13.5").await;
    bench.fill_labelled("Each cell at rest, at the balance plug.", "3.375 3.375 3.376 3.374").await;
    bench.fill_labelled("How warm the pack is itself.", "21").await;
    bench
        .until_script("return String(document.querySelector('.preflight .run-actions button').disabled)", "false")
        .await;
    bench.press("Current flows: begin").await;
    bench.until_says(".follow", "predicted now").await;
    // What comes out is read without a sign, and the weakest cell is told.
    bench.fill_labelled("Terminals, by meter", "13.1").await;
    bench.fill_labelled("Out of the pack", "10").await;
    bench.press("Enter").await;
    bench.until_says(".said", "As computed.").await;
    let shown = bench.text(".run-figures").await;
    assert!(!shown.contains('−') && !shown.contains("-1"), "amps without a sign: {shown}");
    bench.fill_labelled("Terminals, by meter", "10.4").await;
    bench.fill_labelled("Out of the pack", "10").await;
    bench.fill_labelled("Each cell, V, from minus", "2.63 2.64 2.63 2.5").await;
    bench.press("Enter").await;
    bench.until_says(".said", "It is where it was to come to").await;
    bench.press("It has ended").await;
    bench.fill_labelled("Came out", "19.2").await;
    bench.press("Keep it in the logbook").await;
    bench.until_says(".follow", "19.2 Ah came out").await;
    bench.press("Keep the test with the pack").await;
    bench.until_says(".follow", "Kept as a test of the pack").await;
    bench.open("/run").await;
    bench.until_says(".run-table", "19.2 Ah out").await;
    // Before it is said that it is full, nothing feeds the charge.
    bench.assert_no_complaints_but(&["422"]).await;
    bench.clear_up().await;
}

/// A logger's file of some cycles of a 4S pack of 20 Ah at 10 A, a line every ten seconds.
fn cycles(count: usize) -> String {
    let mut text = String::from("Unix time (s),Pack V,Current A,Temp °C\n");
    let (mut t_s, mut soc) = (1_790_000_000, 0.1_f64);
    let mut line = |text: &mut String, soc: f64, amps: f64| {
        let cell =
            2.5 + 0.75 * (soc / 0.1).min(1.0) + 0.1 * (soc - 0.1).max(0.0) + 0.25 * ((soc - 0.97) / 0.03).max(0.0);
        let volts = 4.0 * (cell + 0.0025 * amps);
        writeln!(text, "{t_s},{volts:.3},{amps:.2},22.0").unwrap();
        t_s += 10;
    };
    for _ in 0..count {
        (0..60).for_each(|_| line(&mut text, soc, 0.0));
        while soc < 1.0 {
            let amps = if soc < 0.95 { 10.0 } else { (1.0 - soc) * 200.0 + 0.5 };
            line(&mut text, soc, amps);
            soc += amps * 10.0 / 3600.0 / 20.0;
        }
        (0..90).for_each(|_| line(&mut text, soc, 0.0));
        while soc > 0.0 {
            line(&mut text, soc, -10.0);
            soc -= 100.0 / 3600.0 / 20.0;
        }
        (0..90).for_each(|_| line(&mut text, soc, 0.0));
    }
    text
}

#[tokio::test]
async fn a_log_of_many_cycles_becomes_tests_of_its_pack() {
    let bench = Bench::set_up(true).await;
    bench.open(MOUNT).await;
    bench.press("History from a log").await;
    bench.see(".ant-drawer .history-drop").await;
    drop_file(&bench, "winter.csv", &cycles(2)).await;
    bench.until_says(".history-head", "2 discharges, 2 of them whole").await;
    // A part is looked at alone.
    bench.client().execute("document.querySelector('.part-discharge .history-part').click()", vec![]).await.unwrap();
    bench.until_says(".history-more", "At 25 °C and the reference rate").await;
    // One of them is passed over.
    bench
        .client()
        .execute("document.querySelector('.history-table input[type=checkbox]').click()", vec![])
        .await
        .unwrap();
    bench.press("Keep this test").await;
    bench.until_says(".pack-known", "gave 20").await;
    bench.assert_no_complaints().await;
    bench.clear_up().await;
}

#[tokio::test]
async fn a_swap_list_is_carried_out_by_keyboard() {
    let bench = Bench::set_up(true).await;
    bench.open("/shelf").await;
    bench.press("Cells").await;
    bench.press("Show 24 cells").await;
    let first = bench.until(".cells-now", "is there", |text| text.contains("after 0 moves")).await;
    assert!(bench.text(".cells-matched").await.contains("N3 is not to be used"));
    bench.client().execute("document.getElementById('cells-step').focus()", vec![]).await.unwrap();
    bench.type_keys(&Key::Right.to_string()).await;
    bench.until_says(".cells-now", "after 1 move").await;
    assert!(bench.text(".cells-matched").await.contains("Swap "));
    bench.type_keys(&Key::End.to_string()).await;
    let last = bench.until(".cells-now", "ends", |text| text.contains("arrangement is more even")).await;
    let spread = |text: &str| text.split_whitespace().next().unwrap().parse::<f64>().unwrap();
    assert!(spread(&last) < 0.2 * spread(&first), "{first} became {last}");
    bench.assert_no_complaints().await;
    bench.clear_up().await;
}

#[tokio::test]
async fn what_a_pack_reads_at_rest_is_entered_in_one_line() {
    let bench = Bench::set_up(true).await;
    bench.open("/shelf").await;
    let line = "input[aria-label='Tow-plane reads at rest, V']";
    bench.fill(line, "22.9 22.9").await;
    bench.type_keys(&Key::Enter.to_string()).await;
    bench.until_says(".rest-line .field-problem", "6 cells in series, and 2 are written").await;
    bench.fill(line, "22,85 V").await;
    bench.type_keys(&Key::Enter.to_string()).await;
    bench.until_says(".ant-message", "at rest").await;
    bench.open(TOW_PLANE).await;
    bench.until_says(".pack-known", "at rest 22.85 V").await;
    // Storage was what it needed, and that is where it stands now.
    bench.until(".pack-standing .need", "needs nothing", |text| text.starts_with("Nothing to do")).await;
    bench.press("Take back: at rest").await;
    bench.until(".pack-standing .need", "needs storage again", |text| text.starts_with("To storage")).await;
    bench.assert_no_complaints().await;
    bench.clear_up().await;
}

#[tokio::test]
async fn a_printed_label_leads_back_to_its_pack() {
    let bench = Bench::set_up(true).await;
    bench.open(TOW_PLANE).await;
    bench.see(".pack-label svg").await;
    let label = bench.client().find(Locator::Css(".pack-label")).await.unwrap();
    bench.client().execute("document.querySelector('.pack-label').scrollIntoView()", vec![]).await.unwrap();
    let picture = image::load_from_memory(&label.screenshot().await.unwrap()).unwrap();
    // A phone holds it closer.
    let near =
        picture.resize(picture.width() * 3, picture.height() * 3, image::imageops::FilterType::Nearest).to_luma8();
    let mut seen = rqrr::PreparedImage::prepare(near);
    let codes = seen.detect_grids();
    let (_, address) = codes.first().expect("a code is seen").decode().unwrap();
    let here = bench.client().current_url().await.unwrap();
    assert_eq!(address, here.as_str());
    assert!(bench.text(".pack-label").await.contains("Tow-plane"));
    bench.clear_up().await;
}

#[tokio::test]
async fn the_shelf_is_searched_sorted_and_grouped() {
    let bench = Bench::set_up(true).await;
    bench.open("/shelf").await;
    bench.until_says(".shelf-rows", "Boat lantern").await;
    let names = || async {
        let script = "return [...document.querySelectorAll('.shelf-item h2')].map((e) => e.innerText).join('|')";
        bench.client().execute(script, vec![]).await.unwrap().as_str().unwrap().to_owned()
    };
    assert!(
        names().await.starts_with("Old tow-plane|Second slope glider"),
        "what is worst comes first: {}",
        names().await
    );
    bench.fill("input[aria-label='Search the shelf']", "glider").await;
    bench
        .until(".shelf-rows", "finds gliders only", |text| text.contains("Night glider") && !text.contains("Winch"))
        .await;
    bench.fill("input[aria-label='Search the shelf']", "nothing like it").await;
    bench.until_says(".shelf", "No pack has these words").await;
    bench.fill("input[aria-label='Search the shelf']", " ").await;
    bench.choose("With the tag", "observing (3)").await;
    bench.until(".shelf-rows", "shows the tag", |text| text.contains("Dew heater") && !text.contains("Winch")).await;
    bench.assert_no_complaints().await;
    bench.clear_up().await;
}
