//! From a pack's label to what to set.

use fantoccini::Locator;
use fantoccini::key::Key;
use fantoccini::wd::PrintConfiguration;

use crate::bench::Bench;

#[tokio::test]
async fn the_demo_opens_on_a_computed_plan_that_fits_the_screen() {
    let bench = Bench::set_up(true).await;
    bench.open("/plan").await;
    bench.until_says(".card-figures", "25.16").await;
    let name = bench.client().execute("return document.querySelector('.plan-name').value", vec![]).await.unwrap();
    assert_eq!(name, "Tow-plane before the tow");
    let overflow = "return [document.documentElement.scrollHeight - innerHeight, document.documentElement.scrollWidth - innerWidth]";
    let overflow = bench.client().execute(overflow, vec![]).await.unwrap();
    assert!(overflow.as_array().unwrap().iter().all(|pixels| pixels.as_i64().unwrap() <= 0), "{overflow}");
    bench.assert_no_complaints().await;
    bench.clear_up().await;
}

#[tokio::test]
async fn a_quick_line_gives_the_right_settings_and_says_what_it_made_of_it() {
    let bench = Bench::set_up(false).await;
    bench.open("/plan").await;
    bench.until_says(".empty", "What do you want to charge").await;
    bench.fill(".quick-line", "6S 4000 lipo wobbly, 30 V 5 A bench").await;
    bench.until_says(".line-read", "6 cells in series").await;
    bench.until_says(".line-read", "not understood: “wobbly”").await;
    let card = bench.until_says(".card-figures", "25.20").await;
    assert!(card.contains("4.00"), "{card}");
    // Two numbers of cells are as likely: asked, and the answer is written into the line.
    bench.fill(".quick-line", "25.2 V 5 Ah li-ion, 30 V 5 A bench").await;
    bench.until_says(".query", "How many cells are in series?").await;
    bench.press("7 cells in series").await;
    bench.until_says(".card-figures", "29.40").await;
    bench.until_script("return document.querySelector('.quick-line').value", "7S").await;
    bench.press("Keep").await;
    bench.until(".line-read", "goes away", str::is_empty).await;
    bench.assert_no_complaints().await;
    bench.clear_up().await;
}

#[tokio::test]
async fn what_a_line_leaves_open_is_asked_one_thing_at_a_time() {
    let bench = Bench::set_up(false).await;
    bench.open("/plan").await;
    bench.fill(".quick-line", "6S 4000 lipo 22.8V, 28V 12A, 2x 24V 21W bulb, 30V\u{e007}").await;
    bench.until_says(".query", "What is set on the supply?").await;
    assert_eq!(bench.client().find_all(Locator::Css(".query")).await.unwrap().len(), 1);
    bench.press("Only volts").await;
    bench.until_says(".query", "“28V” and “30V” were each read as what the supply reaches. Which is it?").await;
    bench.press("30V").await;
    bench.until_says(".query", "22.8 V: what it reads now, or what its label says?").await;
    bench.press("It reads that").await;
    bench.until(".query", "goes away", str::is_empty).await;
    bench.until_says(".card-figures", "25.20").await;
    bench.until_says(".card", "Expect 22.8 V as noted").await;
    // Where nothing would flow there is no curve, and nothing to start.
    bench.fill(".quick-line", "4S 50Ah lfp, 12V 20A supply, 24V 55W bulb\u{e007}").await;
    bench.until_says(".card", "Above 12 V leave it unconnected").await;
    bench.until(".chart", "is not there", str::is_empty).await;
    let card = bench.text(".card").await;
    assert!(!card.contains("Start") && card.contains("Nothing to set"), "{card}");
    bench.assert_no_complaints().await;
    bench.clear_up().await;
}

/// A reading of 9.8 V beside a full card of 25.2 V: one of its answers forbids the charge.
#[tokio::test]
async fn a_reading_that_is_open_withholds_the_card_its_print_and_its_start_until_it_is_answered() {
    let bench = Bench::set_up(false).await;
    bench.open("/plan").await;
    bench.fill(".quick-line", "6S 3Ah li-ion 9.8 V, 30 V 5 A bench\u{e007}").await;
    bench.until_says(".query", "9.8 V: what it reads now, or what its label says?").await;
    bench.until_says(".no-card", "Answer the question first").await;
    let withheld = "const told = [...document.querySelectorAll('button')].some((b) => /^(Print|Start)/.test(b.innerText)); return told || document.querySelector('.card-figures') || document.body.innerText.includes('1.5 A into') ? 'told' : 'withheld'";
    bench.until_script(withheld, "withheld").await;
    let save =
        "return [...document.querySelectorAll('.plan-file button')].find((b) => b.innerText === 'Save').disabled";
    assert_eq!(bench.client().execute(save, vec![]).await.unwrap(), true);
    // It is still open after a reload.
    bench.client().refresh().await.unwrap();
    bench.until_says(".query", "9.8 V: what it reads now").await;
    bench.until_script(withheld, "withheld").await;
    // With the focus in it a digit chooses.
    bench.client().execute("document.querySelector('.query-choice').focus()", vec![]).await.unwrap();
    bench.type_keys("1").await;
    bench.until_says(".card", "No settings").await;
    bench.until_says(".checks", "1.633 V a cell is under 3 V").await;
    bench.until_script("return document.querySelector('.quick-line').value", "reads 9.8 V").await;
    bench.assert_no_complaints().await;
    bench.clear_up().await;
}

#[tokio::test]
async fn an_edit_in_place_recomputes_and_the_cursor_moves_curve_and_pipe_alike() {
    let bench = Bench::set_up(true).await;
    bench.open_plan("Tow-plane before the tow").await;
    bench.until_says(".summary", "limited by the supply's watts").await;
    bench.until_says(".chain-feet", "the pinch: supply's watts").await;
    bench.see(".chart-cursor").await.send_keys(&Key::End).await.unwrap();
    bench.until_says(".chain-feet", "the pinch: charge voltage").await;
    bench.until_says(".chart-reading", "0.4 A").await;
    bench.fill("input[aria-label='Rated power']", "200").await;
    bench.until_says(".summary", "limited by the supply's amps").await;
    bench.until_says(".plan-file", "Save").await;
    bench.press("As a table").await;
    bench.until_says(".curve-table", "Limited by").await;
    bench.clear_up().await;
}

#[tokio::test]
async fn a_stop_withholds_the_settings_until_it_is_accepted_where_it_may_be() {
    let bench = Bench::set_up(true).await;
    bench.open_plan("Winch straight off the brick").await;
    bench.until_says(".card", "No settings").await;
    assert_eq!(bench.text(".card-figures").await, "");
    bench.open_plan("Tow-plane before the tow").await;
    bench.press("Set your own").await;
    bench.fill(".panel input", "25.6").await;
    bench.until_says(".card", "No settings").await;
    bench.fill(".panel input", "25.0").await;
    bench.until_says(".card-figures", "25.00").await;
    bench.fill("input[aria-label='Rated current']", "20").await;
    bench.fill("input[aria-label='Rated power']", "600").await;
    bench.fill(".panel .field:nth-child(2) input", "9").await;
    bench.until_says(".card", "No settings").await;
    bench.see(".check-accept input").await.click().await.unwrap();
    bench.until_says(".card-figures", "9.00").await;
    bench.until_says(".card", "You accepted this stop (pack.rate_too_high)").await;
    bench.clear_up().await;
}

#[tokio::test]
async fn a_load_and_a_runtime_are_asked_for_in_place() {
    let bench = Bench::set_up(true).await;
    bench.open_plan("Tow-plane before the tow").await;
    bench.press("Add to the chain").await;
    bench.press("Load").await;
    bench.fill_labelled("It draws", "0.5 A").await;
    bench.until_says(".chain-tee", "Load 0.5 A").await;
    bench.until_says(".checks", "The supply's display shows pack and load together").await;
    bench.press("Close").await;
    bench.press("Small bench supply: ").await;
    bench.press("Take the supply away").await;
    bench.until_says(".summary", "runs for").await;
    bench.until_says(".card", "the pack runs its load").await;
    bench.clear_up().await;
}

#[tokio::test]
async fn the_bench_card_prints_on_one_page() {
    let bench = Bench::set_up(true).await;
    // One with every turn of its knob on it, too.
    for (plan, volts) in [("Tow-plane before the tow", "25.16"), ("Winch turned up by hand", "14.68")] {
        bench.open_plan(plan).await;
        bench.until_says(".card-figures", volts).await;
        let pdf = bench.client().print(PrintConfiguration::default()).await.unwrap();
        let text = String::from_utf8_lossy(&pdf);
        let pages = text.matches("/Type /Page").count() - text.matches("/Type /Pages").count();
        assert_eq!(pages, 1, "{plan}");
    }
    bench.clear_up().await;
}
