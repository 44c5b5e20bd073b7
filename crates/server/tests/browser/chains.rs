//! Whole chains, built and asked in the page.

use fantoccini::key::Key;

use crate::bench::Bench;

#[tokio::test]
async fn a_chain_is_built_from_nothing() {
    let bench = Bench::set_up(true).await;
    bench.open("/plan").await;
    bench.see(".card").await;
    bench.press("More").await;
    bench.press("New plan").await;
    bench.until_says(".empty", "What do you want to charge").await;
    bench.fill(".quick-line", "6S 4000 lipo, 19 V 90 W, 8 A charger").await;
    bench.until_says(".line-read", "the charger gives 8 A").await;
    bench.until_says(".card-figures", "25.20").await;
    bench.press("Keep").await;
    bench.until_says(".chain-feet", "the pinch: supply's watts").await;
    bench.press("Add to the chain").await;
    bench.press("Lead to the pack").await;
    bench.until_says(".query", "How thick is the cable?").await;
    bench.fill_labelled("Wire, AWG", "26awg").await;
    bench.fill_labelled("Length, one way", "30 cm").await;
    bench.until_says(".chain-feet", "the pinch: lead").await;
    bench.until_says(".checks", "what is set is set for that").await;
    bench.press("Close").await;
    bench.press("Add to the chain").await;
    bench.press("Cut-off relay").await;
    bench.fill_labelled("Opens at", "25 V").await;
    bench.fill_labelled("Closes below", "24 V").await;
    bench.until_says(".chain-heads", "Cut-off relay").await;
    bench.press("Take the relay away").await;
    bench.until(".chain-heads", "loses it", |text| !text.contains("Cut-off")).await;
    bench.assert_no_complaints_but(&["422"]).await;
    bench.clear_up().await;
}

#[tokio::test]
async fn the_cursor_moves_past_the_change_of_pinch() {
    let bench = Bench::set_up(true).await;
    bench.open_plan("Headlamp on the one-cell board").await;
    bench.until_says(".chain-feet", "the pinch: module's heat").await;
    let cursor = bench.see(".chart-cursor").await;
    // Past the heat the charger's own amps bind, then the voltage.
    cursor.send_keys(&Key::PageUp.to_string().repeat(7)).await.unwrap();
    bench.until_says(".chain-feet", "the pinch: charger's amps").await;
    bench.until_says(".chart-reading", "charger's amps").await;
    cursor.send_keys(&Key::End.to_string()).await.unwrap();
    bench.until_says(".chain-feet", "the pinch: charge voltage").await;
    bench.clear_up().await;
}

#[tokio::test]
async fn a_boost_before_a_low_pack_is_stopped() {
    let bench = Bench::set_up(true).await;
    bench.open_plan("Dew heater on the boost board").await;
    bench.until_says(".card", "No settings").await;
    bench.until_says(".checks", "A boost cannot go below its input").await;
    bench.press("charger →").await;
    bench.until_says(".panel", "Moves the voltage").await;
    bench.choose("Moves the voltage", "buck-boost").await;
    bench.until_says(".card-figures", "12.60").await;
    bench.assert_no_complaints().await;
    bench.clear_up().await;
}

#[tokio::test]
async fn a_nudge_plan_follows_the_visiting_interval() {
    let bench = Bench::set_up(true).await;
    bench.open_plan("Winch turned up by hand").await;
    bench.until_says(".turns", "30 min").await;
    let many = bench.text(".turns-more").await;
    bench.until_says(".checks", "while nothing charges").await;
    bench.press("Workshop adjustable: ").await;
    bench.fill_labelled("I can look every, min", "60").await;
    bench.until(".turns", "waits an hour", |text| text.contains("1 h 00") && !text.contains("30 min")).await;
    assert_ne!(bench.text(".turns-more").await, many);
    bench.press("All ").await;
    bench.until_says(".turns-more", "Fewer").await;
    bench.assert_no_complaints().await;
    bench.clear_up().await;
}

#[tokio::test]
async fn readings_of_a_display_change_what_to_dial() {
    let bench = Bench::set_up(true).await;
    bench.open_plan("Slope glider on the blue board").await;
    // The board shows more than there is: 12.6 V stand at its terminals when it shows 12.7.
    bench.until_says(".card-figures", "true 12.6 V").await;
    bench.until_says(".checks", "when the terminals stand at 12.6 V").await;
    bench.open("/gear?part=chargers").await;
    bench.press("Edit Boost board").await;
    bench.press("Add a reading of volts").await;
    bench.fill_labelled("Volts, it shows", "20").await;
    bench.fill_labelled("Volts, the meter reads", "19.8").await;
    bench.press("Save").await;
    bench.until_says(".shelf-rows", "shows 20 V at 19.8 V").await;
    bench.clear_up().await;
}

#[tokio::test]
async fn reverse_questions_are_answered_beside_the_plan() {
    let bench = Bench::set_up(true).await;
    bench.open_plan("Slope glider from the field battery").await;
    bench.press("How big, how many").await;
    bench.until_says(".sizing", "such charges").await;
    bench.until_says(".sizing", "Wire and fuse").await;
    bench.fill_labelled("To be done in", "10 min").await;
    bench.until_says(".sizing", "Not in 10 min").await;
    bench.assert_no_complaints().await;
    bench.clear_up().await;
}

#[tokio::test]
async fn chains_for_the_same_pack_stand_side_by_side() {
    let bench = Bench::set_up(true).await;
    bench.open_plan("Winch on the hall charger").await;
    bench.press("Compare").await;
    bench.until_says(".compare", "Hall charger").await;
    bench.fill("input[aria-label='Chains of these plans']", "turned up").await;
    bench.type_keys(&Key::Enter.to_string()).await;
    bench.until_says(".compare-columns", "Workshop adjustable").await;
    bench.until_says(".compare-columns", "Nothing holds the current").await;
    bench.until_says(".compare-columns", "(−").await;
    bench.press("Plan with this chain").await;
    bench.until_says(".chain-heads", "Workshop adjustable").await;
    bench.assert_no_complaints().await;
    bench.clear_up().await;
}
