//! The pictures of `docs/screenshots`, taken from the demo data: `make shots`.

use std::path::PathBuf;
use std::time::Duration;

use crate::bench::{Bench, DESK, PHONE};
use crate::files::drop_file;
use crate::logs::shed;

impl Bench {
    async fn shoot(&self, name: &str) {
        tokio::time::sleep(Duration::from_millis(700)).await;
        let folder = std::env::var_os("RUMEK_SHOTS").map_or_else(
            || PathBuf::from(concat!(env!("CARGO_MANIFEST_DIR"), "/../../docs/screenshots")),
            PathBuf::from,
        );
        std::fs::create_dir_all(&folder).unwrap();
        std::fs::write(folder.join(format!("{name}.png")), self.client().screenshot().await.unwrap()).unwrap();
    }

    /// Opens a saved plan by its name.
    pub(crate) async fn open_plan(&self, name: &str) {
        self.open("/plan").await;
        self.see(".card").await;
        self.press("Plans").await;
        self.see(".plan-list li").await;
        self.press(name).await;
        self.until(".plan-name", "is there", |_| true).await;
        tokio::time::sleep(Duration::from_millis(400)).await;
    }

    /// Begins a run of the first plan half an hour ago, with three readings; returns its id.
    pub(crate) async fn run_under_way(&self) -> String {
        let script = r"const done = arguments[0];
            const ask = (method, path, body) => fetch(path, { method, headers: { 'content-type': 'application/json' }, body: body && JSON.stringify(body) }).then((r) => r.json());
            (async () => {
                const plan = (await ask('GET', '/api/plans'))[0].document;
                const result = await ask('POST', '/api/plan', plan);
                const began = Date.now() - 31 * 60000;
                const at = (minutes) => new Date(began + minutes * 60000).toISOString();
                const document = { format: 'rumek.run/1', name: plan.name, plan: result.resolved, result, core_version: '0', started_at: at(0) };
                const run = await ask('POST', '/api/runs', { document });
                for (const [minute, terminal_v, source_a] of [[1, 22.65, 2.64], [15, 22.98, 2.61], [30, 23.42, 2.02]])
                    await ask('PUT', `/api/runs/${run.id}/readings/${crypto.randomUUID()}`, { taken_at: at(minute), reading: { terminal_v, source_a, source_v: terminal_v + 0.1 } });
                done(run.id);
            })()";
        let id = self.client().execute_async(script, vec![]).await.unwrap();
        id.as_str().unwrap().to_owned()
    }

    async fn move_cursor(&self, share: f64) {
        let script = r"const range = document.querySelector('.chart-cursor');
            Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(range, String(arguments[0] * 1000));
            range.dispatchEvent(new Event('input', { bubbles: true }))";
        self.client().execute(script, vec![share.into()]).await.unwrap();
    }
}

#[tokio::test]
#[ignore = "writes pictures: make shots"]
async fn take_every_picture() {
    let bench = Bench::set_up(true).await;
    bench.open_plan("Tow-plane before the tow").await;
    bench.move_cursor(0.35).await;
    bench.shoot("plan").await;
    bench.press("Tow-plane").await;
    bench.see(".panel").await;
    bench.shoot("plan-stage").await;
    bench.open_plan("Winch straight off the brick").await;
    bench.shoot("plan-stopped").await;
    bench.open_plan("Slope glider from the field battery").await;
    bench.press("How big, how many").await;
    bench.until_says(".sizing", "such charges").await;
    bench.shoot("sizing").await;
    bench.open_plan("Winch on the hall charger").await;
    bench.press("Compare").await;
    bench.fill("input[aria-label='Chains of these plans']", "turned up").await;
    bench.type_keys(&fantoccini::key::Key::Enter.to_string()).await;
    bench.until_says(".compare-columns", "Workshop adjustable").await;
    bench.client().execute("document.activeElement.blur()", vec![]).await.unwrap();
    bench.shoot("compare").await;
    bench.open("/guide").await;
    bench.see(".guide-words").await;
    bench.shoot("guide").await;
    bench.open_plan("Tow-plane before the tow").await;
    bench.fill(".quick-line", "12V 7Ah agm wobbly, 30 V 5 A bench").await;
    bench.until_says(".line-read", "on the label").await;
    bench.shoot("quick-line").await;
    bench.press("Back").await;
    bench.press("Dark").await;
    bench.shoot("plan-dark").await;
    bench.press("Light").await;
    let run = bench.run_under_way().await;
    bench.open("/bench").await;
    bench.until_says(".bench-runs", "Tow-plane before the tow").await;
    bench.until_says(".bench-runs", "done at").await;
    bench.shoot("bench").await;
    bench.open("/run/log").await;
    bench.until_says(".log-import", "drop the file here").await;
    drop_file(&bench, "shed-2026-11-24.csv", &shed(60)).await;
    bench.until_says(".log-table", "22.5 V terminals").await;
    bench.shoot("log").await;
    bench.open(&format!("/run/{run}")).await;
    bench.until_says(".learned", "From 3 readings").await;
    bench.shoot("run").await;
    bench.open("/rescue").await;
    bench.press("Siren after the winter").await;
    bench.until_says(".fits", "Doorbell adapter").await;
    bench.shoot("rescue").await;
    bench.press("Second slope glider").await;
    bench.press("Begin: precharge").await;
    bench.fill_labelled("Terminals", "8.05").await;
    bench.fill_labelled("Current", "0.11").await;
    bench.press("Enter").await;
    bench.until_says(".judged", "On track").await;
    bench.client().execute("document.activeElement.blur()", vec![]).await.unwrap();
    bench.shoot("rescue-run").await;
    bench.press("A pack in trouble").await;
    bench.press("LiPo").await;
    bench.fill_labelled("Cells in series", "4").await;
    bench.press("Next").await;
    bench.fill_labelled("Capacity", "3300 mAh").await;
    bench.press("Next").await;
    bench.press("It has none").await;
    bench.until_says(".ask", "look, feel and smell").await;
    bench.shoot("rescue-ask").await;
    bench.open("/shelf").await;
    bench.see(".shelf-item").await;
    bench.shoot("shelf").await;
    bench.press("Tow-plane").await;
    bench.until_says(".pack-page", "of its label a year").await;
    bench.shoot("pack").await;
    bench.open("/shelf/cells").await;
    bench.press("Show 24 cells").await;
    bench.press("Next swap").await;
    bench.until_says(".cells-now", "after 1 move").await;
    bench.shoot("cells").await;
    bench.open("/gear").await;
    bench.see(".shelf-item").await;
    bench.shoot("gear").await;
    bench.open_plan("Tow-plane off the laptop brick").await;
    bench.browser.resize(PHONE).await.unwrap();
    bench.open("/plan").await;
    bench.see(".card").await;
    bench.shoot("plan-narrow").await;
    bench.browser.resize(DESK).await.unwrap();
    bench.clear_up().await;
}
