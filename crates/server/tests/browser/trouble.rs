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
    bench.until_says("ul.trouble", "The pack, capacity").await;
    let before = bench.text(".card.dimmed").await;
    assert!(before.contains("25.16") && before.contains("not to go by") && !before.contains("Print"), "{before}");
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
    bench.until_says(".summary", "full in 1 h 51").await;
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

/// Saves something of this name with another note, as a second window would.
async fn change_elsewhere(bench: &Bench, shelf: &str, name: &str) {
    let script = "const [shelf, name, done] = arguments; (async () => {
        const rows = await (await fetch(`/api/${shelf}`)).json();
        const row = rows.find((one) => one.document.name === name);
        const field = shelf === 'plans' ? 'ambient_c' : 'health';
        await fetch(`/api/${shelf}/${row.id}`, { method: 'PUT', headers: { 'content-type': 'application/json' },
            body: JSON.stringify({ version: row.version, links: row.links, document: { ...row.document, [field]: 0.9 } }) });
        })().then(done)";
    bench.client().execute_async(script, vec![shelf.into(), name.into()]).await.unwrap();
}

#[tokio::test]
async fn a_pack_changed_elsewhere_is_put_over_only_knowingly() {
    let bench = Bench::set_up(true).await;
    bench.open("/shelf").await;
    bench.press("Edit Tow-plane").await;
    bench.fill_labelled("Capacity", "5 Ah").await;
    change_elsewhere(&bench, "packs", "Tow-plane").await;
    bench.press("Save").await;
    bench.until_says(".ant-message", "changed elsewhere in between").await;
    bench.press("Save").await;
    bench.until_says(".shelf-rows", "6S · 5 Ah").await;
    bench.clear_up().await;
}

#[tokio::test]
async fn of_two_windows_the_later_save_loses_nothing() {
    let bench = Bench::set_up(true).await;
    bench.open_plan("Tow-plane before the tow").await;
    bench.until_says(".card-figures", "25.16").await;
    change_elsewhere(&bench, "plans", "Tow-plane before the tow").await;
    bench.fill("input[aria-label='Rated power']", "45").await;
    bench.press("Save").await;
    bench.until_says(".ant-modal", "saved elsewhere in between").await;
    bench.press("Keep mine as a new plan").await;
    bench.until_says(".plan-file", "Saved").await;
    bench.press("Plans").await;
    bench.until_says(".plan-list", "Tow-plane before the tow, again").await;
    bench.clear_up().await;
}

#[tokio::test]
async fn no_card_of_another_plan_stands_where_the_new_one_still_lacks_something() {
    let bench = Bench::set_up(true).await;
    bench.open_plan("Tow-plane before the tow").await;
    bench.until_says(".card-figures", "25.16").await;
    bench.fill(".quick-line", "4S 100Ah lfp, 20 V 10 A buck module").await;
    bench.until_says(".card.no-card", "No card yet").await;
    bench.until_says(".query", "What feeds the charger?").await;
    let page = bench.text("body").await;
    assert!(!page.contains("25.16") && !page.contains("Print") && !page.contains("Start"), "{page}");
    bench.fill(".quick-line", "4S 100Ah lfp, 15 V 10 A adjustable").await;
    bench.until_says(".card-figures", "never past").await;
    bench.press("Keep").await;
    bench.assert_no_complaints_but(&["422"]).await;
    bench.clear_up().await;
}
