//! Logs of other instruments, the logbook, and the whole workshop as one file.

use fantoccini::key::Key;

use crate::bench::Bench;
use crate::files::drop_file;

/// What the first line is read as.
const READ: &str = ".log-table tbody tr:first-child td:last-child";

/// A log of a pack being charged, as a logger in the shed writes it.
pub(crate) fn shed(lines: u32) -> String {
    let line = |k: u32| {
        let volts = 22.5 + f64::from(k) * 2.5 / f64::from(lines);
        format!("00:{:02}:{:02};{volts:.2};2.60;21.5;\n", k / 6, k % 6 * 10).replace('.', ",")
    };
    let head = "Shed logger, channel 2\n\nTime;Voltage;Current;Temp;\nhh:mm:ss;V;A;°C;\n";
    head.to_owned() + &(0..lines).map(line).collect::<String>()
}

async fn bring_in(bench: &Bench, name: &str, text: &str, read_as: &str) {
    bench.open("/run/log").await;
    bench.until_says(".log-import", "drop the file here").await;
    drop_file(bench, name, text).await;
    bench.until_says(READ, read_as).await;
    // Nobody has said yet whose log it is; those whose volts fit stand first.
    bench.choose("Pack", "").await;
    bench.press("Bring it in").await;
}

#[tokio::test]
async fn three_kinds_of_file_become_runs_and_a_broken_one_nothing() {
    let bench = Bench::set_up(true).await;
    bring_in(&bench, "shed.csv", &shed(60), "22.5 V terminals · 2.6 A into the pack · 21.5 °C").await;
    bench.until_says(".follow", "Brought in from “shed.csv”").await;
    bench.until_says(".account", "into the pack").await;
    bench.until_says(".learned", "From 60 readings").await;
    // Its columns are known from then on, and its likeliest pack comes first.
    bench.open("/run/log").await;
    bench.until_says(".log-import", "drop the file here").await;
    drop_file(&bench, "again.csv", &shed(30)).await;
    bench.until_says(".log-file", "as the last file with these columns").await;
    bench.choose("Pack", "").await;
    bench.until_says(".log-bring", "Tow-plane").await;
    // That can be forgotten, and taken back.
    let known = "as the last file with these columns";
    bench.press("Forget that").await;
    bench.until(".log-file", "no longer reads it as the last", |text| !text.contains(known)).await;
    bench.press("Undo").await;
    bench.until_says(".log-file", known).await;

    let board = "Date,Time,Cell 1 (mV),Cell 2 (mV),Cell 3 (mV),Current (mA)\n\
        24.11.2026,23:59:50,3741,3739,3745,-1300\n25.11.2026,00:00:00,3742,3740,3746,-1298\n";
    bring_in(&bench, "board.txt", board, "1.3 A into the pack · cells 3.741 3.739 3.745 V").await;
    bench.until_says(".follow", "Brought in from “board.txt”").await;
    bench.until_says(".readings", "cells 3.742 3.74 3.746 V").await;

    let standard = "test_time_second\tvoltage_volt\tcurrent_ampere\tunix_time_second\n\
        0\t13.1\t2\t1795600000\n60\t13.2\t2\t1795600060\n120\t13.3\t1.9\t1795600120\n";
    bring_in(&bench, "bench.bdf.csv", standard, "13.1 V terminals · 2 A into the pack").await;
    bench.until_says(".follow", "Brought in from “bench.bdf.csv”").await;

    let broken = shed(30).replace("00:02:00;23,50", "00:02:00;OVER");
    bring_in(&bench, "broken.csv", &broken, "22.5 V terminals").await;
    let said = bench.until_says(".log-bring [role=alert]", "One line cannot be read; nothing was brought in").await;
    assert!(said.contains("line 17") && said.contains("“OVER” is no reading for “Voltage”"), "{said}");
    bench.press("pass over").await;
    bench.press("Bring it in").await;
    bench.until_says(".follow", "Brought in from “broken.csv”").await;
    bench.until_says(".learned", "From 29 readings").await;
    assert_eq!(bench.text(".logbook ul").await.matches("a log").count(), 4, "the refused one left nothing");
    bench.assert_no_complaints_but(&["422"]).await;
    bench.clear_up().await;
}

#[tokio::test]
async fn a_long_file_shows_its_progress_and_one_that_is_stopped_leaves_nothing() {
    let bench = Bench::set_up(true).await;
    let long = "const lines = ['Time (s),Voltage (V),Current (A)\\n'];
        for (let k = 0; k < 400000; k++) lines.push(`${k / 10},${(22.5 + k / 160000).toFixed(3)},2.600\\n`);
        const data = new DataTransfer(); data.items.add(new File(lines, arguments[0]));
        window.dispatchEvent(new DragEvent('drop', { dataTransfer: data, cancelable: true }))";
    let drop_long = async |name: &str| {
        bench.open("/run/log").await;
        bench.until_says(".log-import", "drop the file here").await;
        bench.client().execute(long, vec![name.into()]).await.unwrap();
        bench.until_says(READ, "22.5 V terminals").await;
        bench.choose("Pack", "").await;
        bench.press("Bring it in").await;
    };
    drop_long("stopped.csv").await;
    bench.see(".sending progress").await;
    bench.press("Stop").await;
    bench.until_says(".ant-message", "nothing was taken in").await;
    drop_long("whole.csv").await;
    bench.until(".follow", "is the run", |text| text.contains("Brought in from “whole.csv”")).await;
    bench.until_says(".follow", "of 400 000 readings").await;
    assert!(!bench.text(".logbook ul").await.contains("stopped"), "what was stopped left nothing");
    // Its last tenth is looked at closer: of so few as are drawn of the whole, forty would be left.
    let from = bench.see(".run-slider [role=slider]").await;
    from.send_keys(&Key::Right.to_string().repeat(450)).await.unwrap();
    bench.until_says(".run-span", "10:00:00 to 11:06:40").await;
    let read = "return String(Number(document.querySelector('.run-chart svg').getAttribute('aria-label').match(/read (\\d+)/)[1]) > 300)";
    bench.until_script(read, "true").await;
    bench.press("The whole run").await;
    bench.until_says(".run-span", "0:00 to 11:06:40").await;
    bench.assert_no_complaints().await;
    bench.clear_up().await;
}

#[tokio::test]
async fn what_a_column_is_taken_for_is_corrected() {
    let bench = Bench::set_up(true).await;
    bench.open("/run/log").await;
    bench.until_says(".log-import", "drop the file here").await;
    drop_file(&bench, "odd.csv", "A,B,C\n0,12.61,3.9\n1,12.62,3.9\n").await;
    bench.until_says(".log-import", "No column says when").await;
    bench.choose("What “A” is", "time").await;
    bench.until_says(".log-import", "No column holds volts or amps").await;
    bench.choose("What “B” is", "volts, charger").await;
    bench.until_says(READ, "12.61 V charger").await;
    bench.choose("What “B” counts in", "mV").await;
    bench.until_says(READ, "0.013 V charger").await;
    bench.assert_no_complaints().await;
    bench.clear_up().await;
}

#[tokio::test]
async fn the_logbook_is_searched() {
    let bench = Bench::set_up(true).await;
    bench.open("/run").await;
    bench.until_says(".logbook", "Siren back to float").await;
    bench.fill(".logbook [type=search]", "clear until").await;
    bench.until(".logbook ul", "shows one", |text| text.contains("Mount battery") && !text.contains("Siren")).await;
    bench.fill(".logbook [type=search]", "nowhere").await;
    bench.until_says(".logbook", "No run is like that").await;
    bench.press("Narrow").await;
    bench.press("Show every run").await;
    bench.choose("How it ended", "by hand").await;
    bench.until(".logbook ul", "shows one", |text| text.contains("field battery") && !text.contains("Siren")).await;
    bench.choose("How it ended", "going on").await;
    bench.until(".logbook ul", "shows one", |text| text.contains("to storage") && !text.contains("field")).await;
    bench.assert_no_complaints().await;
    bench.clear_up().await;
}

#[tokio::test]
async fn a_workshop_is_taken_out_of_one_and_put_into_another() {
    let from = Bench::set_up(true).await;
    from.open("/bench").await;
    from.until_says(".bench-workshop", "Take it out").await;
    assert!(!from.text(".bench-workshop").await.contains("Put an archive in"), "this one is not empty");
    let fetch = "const done = arguments[0]; fetch(document.querySelector('.bench-workshop a').href).then((r) => r.text()).then(done)";
    let archive = from.client().execute_async(fetch, vec![]).await.unwrap();
    let into = Bench::set_up(false).await;
    into.open("/bench").await;
    into.until_says(".bench-idle", "Begin one").await;
    into.until_says(".bench-workshop", "Put an archive in").await;
    let chosen = "const text = arguments[0]; HTMLInputElement.prototype.click = function () {
        const data = new DataTransfer(); data.items.add(new File([text], 'workshop.json'));
        this.files = data.files; this.dispatchEvent(new Event('change')); }";
    into.client().execute(chosen, vec![archive.clone()]).await.unwrap();
    into.press("Put an archive in").await;
    into.until_says(".bench-runs", "Slope glider to storage").await;
    let again = into.client().execute_async(fetch, vec![]).await.unwrap();
    let content = |text: &serde_json::Value| {
        let mut all: serde_json::Value = serde_json::from_str(text.as_str().unwrap()).unwrap();
        all["made_at"] = serde_json::Value::Null;
        all
    };
    assert!(content(&archive) == content(&again));
    into.assert_no_complaints().await;
    into.clear_up().await;
    from.clear_up().await;
}
