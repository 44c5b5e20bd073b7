//! When something is wrong, nothing typed is lost and it is said where.

use crate::bench::Bench;

#[tokio::test]
async fn bad_input_is_named_at_its_field_and_the_last_answer_stays_in_sight() {
    let bench = Bench::set_up(true).await;
    bench.open_plan("Tow-plane before the tow").await;
    bench.until_says(".card-figures", "25.16").await;
    bench.fill("input[aria-label='Capacity']", "four").await;
    bench.until_says(".chain-fields .field-problem", "Write a capacity, such as 4 Ah or 4000 mAh").await;
    bench.fill("input[aria-label='Capacity']", "0").await;
    bench.until_says(".chain-fields .field-problem", "0 is out of range").await;
    bench.until_says("ul.trouble", "pack/capacity_ah").await;
    assert!(bench.text(".card.dimmed").await.contains("25.16"));
    bench.fill("input[aria-label='Capacity']", "4,1").await;
    bench.until("ul.trouble", "goes away", str::is_empty).await;
    bench.assert_no_complaints_but(&["422"]).await;
    bench.clear_up().await;
}

#[tokio::test]
async fn without_its_database_the_plan_still_answers_and_saving_says_so() {
    let bench = Bench::set_up(true).await;
    bench.open_plan("Tow-plane before the tow").await;
    bench.until_says(".card-figures", "25.16").await;
    bench.database.lose().await.unwrap();
    bench.fill("input[aria-label='Rated power']", "40").await;
    bench.until_says(".summary", "full in 1 h 50").await;
    bench.press("Save").await;
    bench.until_says(".ant-message", "Nothing you typed is lost").await;
    bench.database.bring_back().await.unwrap();
    bench.press("Save").await;
    bench.until_says(".plan-file", "Saved").await;
    bench.clear_up().await;
}

#[tokio::test]
async fn without_its_server_what_was_typed_stays_and_is_answered_once_it_is_back() {
    let mut bench = Bench::set_up(true).await;
    bench.open_plan("Tow-plane before the tow").await;
    bench.until_says(".card-figures", "25.16").await;
    bench.stop_server().await;
    bench.fill("input[aria-label='Rated power']", "45").await;
    bench.until_says("p.trouble", "cannot be reached").await;
    assert!(bench.text(".card.dimmed").await.contains("25.16"));
    bench.start_server().await;
    bench.until_says(".summary", "limited by the supply's watts").await;
    let power = "return document.querySelector(\"input[aria-label='Rated power']\")?.value ?? ''";
    bench.until_script(power, "45").await;
    bench.clear_up().await;
}

#[tokio::test]
async fn of_two_windows_the_later_save_loses_nothing() {
    let bench = Bench::set_up(true).await;
    bench.open_plan("Tow-plane before the tow").await;
    bench.until_says(".card-figures", "25.16").await;
    let other = "const rows = await (await fetch('/api/plans')).json();
        const row = rows.find((one) => one.document.name === 'Tow-plane before the tow');
        await fetch(`/api/plans/${row.id}`, { method: 'PUT', headers: { 'content-type': 'application/json' },
            body: JSON.stringify({ version: row.version, links: row.links, document: { ...row.document, ambient_c: 7 } }) })";
    let script = format!("const done = arguments[arguments.length - 1]; (async () => {{ {other} }})().then(done)");
    bench.client().execute_async(&script, vec![]).await.unwrap();
    bench.fill("input[aria-label='Rated power']", "45").await;
    bench.press("Save").await;
    bench.until_says(".ant-modal", "saved elsewhere in between").await;
    bench.press("Keep mine as a new plan").await;
    bench.until_says(".plan-file", "Saved").await;
    bench.press("Plans").await;
    bench.until_says(".plan-list", "Tow-plane before the tow, again").await;
    bench.clear_up().await;
}
