//! Nothing typed is lost: undo, what is put aside, addresses, links, readings taken back.

use serde_json::json;

use crate::bench::Bench;

const PATH: &str = "return location.pathname";

#[tokio::test]
async fn a_plan_has_an_address_its_changes_go_back_and_forth_and_what_is_left_unsaved_is_one_press_away() {
    let bench = Bench::set_up(true).await;
    bench.open_plan("Tow-plane before the tow").await;
    bench.until_says(".card-figures", "25.16").await;
    let path = bench.until_script(PATH, "/plan/").await;

    bench.press("gentle").await;
    bench.until_says(".card-figures", "24.57").await;
    bench.press("Undo").await;
    bench.until_says(".card-figures", "25.16").await;
    bench.press("Redo").await;
    bench.until_says(".card-figures", "24.57").await;

    // What the line could not read stays to be seen once it is kept, and the plan before is put aside.
    bench.fill(".quick-line", "12V 18Ah agm cycle 14.4-15.0V wobbly, 20V 5A bench").await;
    bench.until_says(".line-read", "14.4 V to 15 V to charge with").await;
    bench.type_keys("\u{e007}").await;
    bench.until_script("return document.querySelector('.quick-line').value === '' ? 'empty' : 'full'", "empty").await;
    bench.until_says(".query-notes", "Not understood, and not used: “wobbly”").await;
    bench.until_says(".card-figures", "14.80").await;
    bench.until_says(".put-aside", "was not saved").await;
    bench.until_script("return location.pathname === '/plan' ? 'unsaved' : location.pathname", "unsaved").await;
    bench.press("Back to it").await;
    bench.until_says(".card-figures", "24.57").await;
    bench.until_script(PATH, &path).await;

    // Back is what was open before.
    bench.client().back().await.unwrap();
    bench.until_says(".card-figures", "14.80").await;
    bench.client().forward().await.unwrap();
    bench.until_says(".card-figures", "24.57").await;

    // Its address alone opens a saved plan.
    bench.open("/gear").await;
    bench.open(&path).await;
    bench.until_script("return document.querySelector('.plan-name').value", "Tow-plane before the tow").await;
    bench.assert_no_complaints().await;
    bench.clear_up().await;
}

#[tokio::test]
async fn a_line_entered_before_it_was_read_counts_as_it_stands() {
    let bench = Bench::set_up(false).await;
    bench.open("/plan").await;
    bench.until_says(".empty", "What do you want to charge").await;
    // Every letter and Enter at once, as fast as the browser takes them.
    bench.fill(".quick-line", "6S 4000 lipo, 30 V 5 A bench\u{e007}").await;
    let card = bench.until_says(".card-figures", "25.20").await;
    assert!(card.contains("4.00"), "{card}");
    bench.assert_no_complaints().await;
    bench.clear_up().await;
}

#[tokio::test]
async fn an_unsaved_plan_travels_in_its_link() {
    let bench = Bench::set_up(false).await;
    bench.open("/plan").await;
    bench.until_says(".empty", "What do you want to charge").await;
    // What is put on the clipboard is kept here: a browser without a head has none.
    let listen = "navigator.clipboard.writeText = (text) => { window.copied = text; return Promise.resolve(); }";
    bench.client().execute(listen, vec![]).await.unwrap();
    bench.fill(".quick-line", "12V 18Ah agm cycle 14.4-15.0V, 20V 5A bench\u{e007}").await;
    bench.until_says(".card-figures", "14.80").await;
    let copied = "return window.copied";
    bench.press("More").await;
    bench.press("Copy as a quick line").await;
    bench.until_says("body", "Its quick line").await;
    let line = bench.client().execute(copied, vec![]).await.unwrap();
    assert_eq!(line, json!("6S agm 18 Ah 12 V cycle 14.4-15 V, 20 V 5 A bench"));
    bench.press("More").await;
    bench.press("Copy a link to it").await;
    bench.until_says("body", "A link that carries the plan").await;
    let link = bench.client().execute(copied, vec![]).await.unwrap().as_str().unwrap().to_owned();
    assert!(link.len() < 2000, "{link}");
    let (_, fragment) = link.split_once("/plan").unwrap();

    // Elsewhere: nothing of it is there.
    bench.client().execute("localStorage.clear(); sessionStorage.clear()", vec![]).await.unwrap();
    bench.open("/bench").await;
    bench.open(&format!("/plan{fragment}")).await;
    bench.until_says(".card-figures", "14.80").await;
    bench.until_script(PATH, "/plan").await;
    bench.open("/bench").await;
    bench.client().execute("localStorage.clear(); sessionStorage.clear()", vec![]).await.unwrap();
    bench.open(&format!("/plan{}", &fragment[..fragment.len() - 12])).await;
    bench.until_says("main", "The link does not carry a whole plan").await;
    bench.assert_no_complaints().await;
    bench.clear_up().await;
}

#[tokio::test]
async fn a_mistyped_reading_is_corrected_and_the_mistake_stays_struck_through() {
    let bench = Bench::set_up(true).await;
    bench.open("/run").await;
    bench.until_says(".run-table", "How it ended").await;
    bench.press("Slope glider to storage").await;
    bench.until_says(".follow", "predicted now").await;
    bench.fill_labelled("Terminals, by meter", "2.29").await;
    bench.press("Enter").await;
    bench.until_says(".readings", "2.29 V terminals").await;
    // The next is typed at once: the first field has the focus.
    let focused = "return document.activeElement.closest('.reading') ? 'in the form' : document.activeElement.tagName";
    bench.until_script(focused, "in the form").await;
    // Once it is kept it can be corrected, in its own row: the demo's last reading may be as late as this one.
    let own =
        "const row = [...document.querySelectorAll('.readings li')].find((li) => li.innerText.includes('2.29 V'));
        const button = [...(row?.querySelectorAll('button') ?? [])].find((b) => b.ariaLabel?.startsWith('Correct'));
        button?.click();
        return button ? 'pressed' : 'not yet'";
    bench.until_script(own, "pressed").await;
    let field = ".readings .reading input";
    bench.fill(field, "11.9").await;
    bench.press("Correct it").await;
    bench.until_says(".readings", "11.9 V terminals").await;
    let struck = bench.until_says(".readings s", "2.29").await;
    assert!(struck.contains("2.29 V terminals"));
    bench.client().refresh().await.unwrap();
    bench.until_says(".readings s", "2.29").await;
    bench.press("Count the reading of").await;
    bench.until(".readings", "counts it again", |list| !list.contains("taken back")).await;
    bench.assert_no_complaints().await;
    bench.clear_up().await;
}

#[tokio::test]
async fn a_drawer_that_is_closed_keeps_what_was_typed() {
    let bench = Bench::set_up(true).await;
    bench.open("/shelf").await;
    bench.press("Edit Winch").await;
    bench.until_script(PATH, "/shelf/").await;
    bench.fill_labelled("Capacity", "34").await;
    bench.type_keys("\u{e00c}").await;
    // The first Escape gives the field back, the second closes the drawer.
    bench.fill_labelled("Capacity", "35").await;
    bench.press("Close").await;
    bench.until_script("return location.pathname === '/shelf' ? 'closed' : 'open'", "closed").await;
    bench.press("Edit Winch").await;
    bench.until_says(".ant-drawer", "What you typed here before is here again").await;
    bench.press("Show what is saved").await;
    bench
        .until_script(
            "return [...document.querySelectorAll('.ant-drawer input')].map((i) => i.value).join(' ')",
            "33 Ah",
        )
        .await;
    bench.assert_no_complaints().await;
    bench.clear_up().await;
}
