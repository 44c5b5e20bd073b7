//! Packs, supplies and plans kept.

use crate::bench::Bench;

#[tokio::test]
async fn a_plan_is_saved_survives_a_reload_and_is_reopened() {
    let bench = Bench::set_up(false).await;
    bench.open("/plan").await;
    bench.press("Show me an example").await;
    bench.until_says(".card-figures", "25.20").await;
    bench.fill(".plan-name", "Evening tow").await;
    bench.fill("input[aria-label='Capacity']", "4100mAh").await;
    bench.press("Save").await;
    bench.until_says(".plan-file", "Saved").await;
    bench.client().refresh().await.unwrap();
    bench.until_says(".plan-file", "Saved").await;
    bench.press("More").await;
    bench.press("New plan").await;
    bench.until_says(".empty", "What do you want to charge").await;
    bench.press("Open a saved plan").await;
    bench.until_says(".plan-list", "Evening tow").await;
    bench.press("Evening tow").await;
    let capacity = "return document.querySelector(\"input[aria-label='Capacity']\")?.value ?? ''";
    bench.until_script(capacity, "4.1 Ah").await;
    bench.press("Plans").await;
    bench.press("Delete Evening tow").await;
    bench.until_says(".plan-list, .drawer-note", "No plan is saved yet").await;
    bench.see(".ant-message button").await.click().await.unwrap();
    bench.until_says(".plan-list", "Evening tow").await;
    bench.assert_no_complaints_but(&["422"]).await;
    bench.clear_up().await;
}

#[tokio::test]
async fn a_pack_is_added_changed_copied_put_away_and_taken_out_again() {
    let bench = Bench::set_up(false).await;
    bench.open("/shelf").await;
    bench.until_says(".shelf-empty", "Your packs live here").await;
    bench.press("Add a pack").await;
    bench.press("Save").await;
    bench.until_says(".ant-drawer .trouble", "series").await;
    bench.press("Close").await;
    bench.press("Fill in an example").await;
    bench.press("Save").await;
    bench.until_says(".shelf-rows", "3S · 2.2 Ah · LiPo").await;
    bench.press("Edit Slope glider").await;
    bench.fill_labelled("Capacity", "2400 mAh").await;
    bench.press("Save").await;
    bench.until_says(".shelf-rows", "2.4 Ah").await;
    bench.press("Duplicate Slope glider").await;
    bench.press("Save").await;
    bench.until_says(".shelf-rows", "Slope glider, second").await;
    bench.press("Put the pack Slope glider, second away").await;
    bench.until(".shelf-rows", "loses it", |text| !text.contains("second")).await;
    bench.press("Undo").await;
    bench.until_says(".shelf-rows", "second").await;
    bench.press("Plan with Slope glider").await;
    // No supply was said, and none is made up.
    bench.until_says(".query", "What do you charge it from?").await;
    bench.press("Something else").await;
    bench.until_says(".panel", "Highest voltage").await;
    bench.fill_labelled("Highest voltage", "30 V").await;
    bench.fill_labelled("Rated current", "5 A").await;
    bench.choose("Kind of supply", "Bench supply").await;
    bench.until_says(".card-figures", "12.60").await;
    bench.assert_no_complaints_but(&["422"]).await;
    bench.clear_up().await;
}

#[tokio::test]
async fn a_plan_says_when_the_shelf_has_moved_on_and_takes_it_over() {
    let bench = Bench::set_up(true).await;
    bench.open_plan("Tow-plane before the tow").await;
    bench.until_says(".card-figures", "25.16").await;
    bench.open("/shelf").await;
    bench.press("Edit Tow-plane").await;
    bench.fill_labelled("Capacity", "5 Ah").await;
    bench.press("Save").await;
    bench.until_says(".shelf-rows", "6S · 5 Ah").await;
    bench.open("/plan").await;
    bench.until_says(".newer", "newer").await;
    bench.press("Take it over").await;
    bench.until_script("return document.querySelector(\"input[aria-label='Capacity']\")?.value ?? ''", "5 Ah").await;
    bench.clear_up().await;
}

#[tokio::test]
async fn a_pack_is_picked_from_the_shelf_and_one_is_kept_there() {
    let bench = Bench::set_up(true).await;
    bench.open_plan("Tow-plane before the tow").await;
    bench.press("Tow-plane: ").await;
    bench.fill("input[aria-label='Pick from the shelf']", "Siren").await;
    bench.type_keys(&fantoccini::key::Key::Enter.to_string()).await;
    bench.until_says(".chain-heads", "Siren").await;
    bench.until_says(".checks", "Lead-acid gives off hydrogen").await;
    bench.fill_labelled("Name", "Spare siren").await;
    bench.press("Keep on the shelf").await;
    bench.until_says(".ant-message", "Kept on the shelf").await;
    bench.open("/shelf").await;
    bench.until_says(".shelf-rows", "Spare siren").await;
    bench.clear_up().await;
}

#[tokio::test]
async fn a_supply_is_added_and_picked_into_the_plan() {
    let bench = Bench::set_up(true).await;
    bench.open_plan("Tow-plane before the tow").await;
    bench.open("/gear").await;
    bench.press("Add a supply").await;
    bench.fill_labelled("Name", "Lamp-room supply").await;
    bench.fill_labelled("Highest voltage", "60 V").await;
    bench.fill_labelled("Rated current", "8 A").await;
    bench.press("Save").await;
    bench.until_says(".shelf-rows", "Lamp-room supply").await;
    bench.press("Plan with Lamp-room supply").await;
    bench.until_says(".chain-heads", "Lamp-room supply").await;
    bench.clear_up().await;
}
