//! Twelve things a newcomer comes to do, each with how many presses and keys it takes; printed, and bounded.

use std::cell::Cell;

use fantoccini::key::Key;
use serde_json::json;

use crate::bench::{Bench, PHONE};

/// Somebody who presses and types, and is counted. Only what is in sight can be pressed.
struct Person {
    bench: Bench,
    presses: Cell<usize>,
    keys: Cell<usize>,
}

impl Person {
    async fn at(path: &str, demo: bool) -> Self {
        let bench = Bench::set_up(demo).await;
        bench.open(path).await;
        Self { bench, presses: Cell::new(0), keys: Cell::new(0) }
    }

    async fn press(&self, name: &str) {
        self.presses.set(self.presses.get() + 1);
        self.bench.press(name).await;
    }

    /// Presses into a field and types.
    async fn fill(&self, css: &str, text: &str) {
        self.presses.set(self.presses.get() + 1);
        self.keys.set(self.keys.get() + text.chars().count());
        self.bench.fill(css, text).await;
    }

    async fn fill_labelled(&self, label: &str, text: &str) {
        self.presses.set(self.presses.get() + 1);
        self.keys.set(self.keys.get() + text.chars().count());
        self.bench.fill_labelled(label, text).await;
    }

    async fn choose(&self, list: &str, option: &str) {
        self.presses.set(self.presses.get() + 2);
        self.bench.choose(list, option).await;
    }

    /// Types where the focus is already.
    async fn keys(&self, keys: &str) {
        self.keys.set(self.keys.get() + keys.chars().count());
        self.bench.type_keys(keys).await;
    }

    /// The count, and that it is no more than allowed.
    async fn done(self, task: &str, most: usize) {
        let (presses, keys) = (self.presses.get(), self.keys.get());
        println!("{task}: {presses} presses, {keys} keys");
        assert!(presses <= most, "{task}: {presses} presses, allowed {most}");
        // A value half typed may be no plan yet.
        self.bench.assert_no_complaints_but(&["422"]).await;
        self.bench.clear_up().await;
    }
}

#[tokio::test]
async fn a_label_to_numbers() {
    let person = Person::at("/bench", false).await;
    person.fill(".quick-line", "6S 4000 lipo, 30 V 5 A bench").await;
    person.bench.until_says(".card-figures", "25.20").await;
    person.done("a label to numbers", 2).await;
}

#[tokio::test]
async fn a_lead_battery_by_its_whole_label() {
    let person = Person::at("/bench", false).await;
    person
        .fill(".quick-line", "12V 18Ah lead acid, cycle use 14.4-15.0V, initial current less than 5.4A, 20V 5A bench")
        .await;
    person.bench.until_says(".card-figures", "14.80").await;
    person.done("a lead battery by its label", 2).await;
}

/// Everyday things: what is typed, the answers that are pressed, what the card says, and how many steps that may take.
#[rstest::rstest]
#[case("36V e-bike battery 10Ah, its 42V 2A charger", &[], "42.00", 2)]
#[case("40V max mower battery 4Ah, bench 60V 5A", &[], "42.00", 2)]
#[case("car battery 12V 60Ah, bench 15V 10A", &[], "14.2", 2)]
#[case("drill battery 18V 4Ah, bench 30V 10A", &[], "21.00", 2)]
#[case("12V 7Ah alarm battery, bench 15V 2A", &[], "14.2", 2)]
#[case("one 18650, usb charger board", &[], "4.2", 2)]
#[case("4S 1500 drone pack, bench 20V 5A", &[], "16.80", 2)]
#[case("12V 100Ah leisure battery, bench 15V 20A", &["LFP, 4 cells"], "14.60", 3)]
#[case("two 6S 5000 lipos, bench 30V 20A", &["One by one"], "25.20", 3)]
#[case("18650 3000mAh, bench 5V 2A", &["One cell"], "4.20", 3)]
#[tokio::test]
async fn everyday_things(#[case] line: &str, #[case] answers: &[&str], #[case] volts: &str, #[case] steps: usize) {
    let person = Person::at("/bench", false).await;
    person.fill(".quick-line", line).await;
    for answer in answers {
        person.press(answer).await;
    }
    person.bench.until_says(".card-figures", volts).await;
    person.done(line, steps).await;
}

#[tokio::test]
async fn a_swollen_pack_to_its_verdict() {
    let person = Person::at("/bench", false).await;
    person.press("Rescue").await;
    person.press("A pack in trouble").await;
    person.press("It is swollen, leaks").await;
    person.press("swollen").await;
    person.press("That is what I see").await;
    person.bench.until_says(".verdict", "not to be charged again").await;
    person.done("a swollen pack to its verdict", 6).await;
}

#[tokio::test]
async fn a_reading_on_a_phone() {
    let person = Person::at("/bench", true).await;
    let run = person.bench.run_under_way().await;
    person.bench.browser.resize(PHONE).await.unwrap();
    person.bench.browser.devtools("Emulation.setTouchEmulationEnabled", json!({ "enabled": true })).await.unwrap();
    person.bench.open(&format!("/run/{run}")).await;
    person.bench.until_says(".follow", "predicted now").await;
    person.fill_labelled("Terminals, by meter", "24.1").await;
    person.fill_labelled("Supply’s amps", "2.4").await;
    person.press("Enter").await;
    person.bench.until_says(".readings", "24.1 V terminals").await;
    person.done("a reading on a phone", 4).await;
}

#[tokio::test]
async fn a_pack_to_storage() {
    let person = Person::at("/plan", true).await;
    person.bench.until_says(".card-figures", "25.16").await;
    person.press("Tow-plane").await;
    person.choose("Charge to", "storage").await;
    person.bench.until(".card-figures", "is set lower", |card| !card.contains("25.16")).await;
    person.done("a pack to storage", 4).await;
}

#[tokio::test]
async fn a_pack_kept_on_the_shelf_like_a_usual_one() {
    let person = Person::at("/shelf", false).await;
    person.press("Like a usual one").await;
    person.press("Lead AGM, 12 V 7 Ah").await;
    person.press("Save").await;
    person.bench.until_says(".shelf-rows", "Lead AGM").await;
    person.done("a usual pack onto the shelf", 4).await;
}

#[tokio::test]
async fn a_change_taken_back() {
    let person = Person::at("/plan", true).await;
    person.bench.until_says(".card-figures", "25.16").await;
    person.press("gentle").await;
    person.bench.until_says(".card-figures", "24.57").await;
    person.press("Undo").await;
    person.bench.until_says(".card-figures", "25.16").await;
    person.done("a change taken back", 2).await;
}

#[tokio::test]
async fn what_a_word_means() {
    let person = Person::at("/plan", true).await;
    person.bench.until_says(".card-figures", "25.16").await;
    person.press("Tow-plane").await;
    person.press("What “Rated charge rate” means").await;
    person.bench.until_says(".explained:popover-open", "share of capacity").await;
    person.press("More in the guide").await;
    person.bench.until_script("return document.activeElement.id", "c-rate").await;
    person.done("what a word means", 3).await;
}

#[tokio::test]
async fn two_chains_compared() {
    let person = Person::at("/plan", true).await;
    person.bench.until_says(".card-figures", "25.16").await;
    person.press("Compare with other chains").await;
    person.fill("input[aria-label='Chains of these plans']", "laptop").await;
    person.keys(&Key::Enter.to_string()).await;
    person.bench.until_says(".compare-columns", "Plan with this chain").await;
    person.done("two chains compared", 3).await;
}

#[tokio::test]
async fn the_same_charge_again() {
    let person = Person::at("/run", true).await;
    person.bench.until_says(".run-table", "How it ended").await;
    person.press("Tow-plane before the tow").await;
    person.press("Plan it again").await;
    person.bench.until_says(".card-figures", "25.16").await;
    person.done("the same charge again", 3).await;
}

#[tokio::test]
async fn amps_typed_into_a_rate() {
    let person = Person::at("/plan", true).await;
    person.bench.until_says(".card-figures", "25.16").await;
    person.press("Tow-plane").await;
    person.fill_labelled("Rated charge rate", "12 A").await;
    person.keys(&Key::Tab.to_string()).await;
    person.bench.until_says("body", "12 A stands under “or charge current” now").await;
    let stands = "return [...document.querySelectorAll('.panel input')].map((input) => input.value).join(' ')";
    person.bench.until_script(stands, "12 A").await;
    person.done("amps typed into a rate", 3).await;
}

#[tokio::test]
async fn degrees_set_once() {
    let person = Person::at("/plan", true).await;
    person.bench.until_says(".card-figures", "25.16").await;
    person.press("Guide").await;
    person.press("°F").await;
    person.press("Plan").await;
    let air = "return document.querySelector('[aria-label=\"Air temperature\"]')?.value ?? ''";
    person.bench.until_script(air, "68 °F").await;
    person.fill("[aria-label='Air temperature']", "77").await;
    person.keys(&Key::Tab.to_string()).await;
    person.bench.until_script(air, "77 °F").await;
    let warm = "return JSON.parse(sessionStorage.getItem('rumek.draft')).document.ambient_c.toFixed(1)";
    person.bench.until_script(warm, "25.0").await;
    person.done("degrees set once", 4).await;
}
