//! Plans and curves as files.

use serde_json::Value;

use crate::bench::Bench;

/// Drops a file of this text onto the page.
pub(crate) async fn drop_file(bench: &Bench, name: &str, text: &str) {
    let script = "const data = new DataTransfer(); data.items.add(new File([arguments[1]], arguments[0]));
        window.dispatchEvent(new DragEvent('drop', { dataTransfer: data, cancelable: true }))";
    bench.client().execute(script, vec![name.into(), text.into()]).await.unwrap();
}

#[tokio::test]
async fn a_plan_file_is_dropped_and_a_broken_one_says_where_it_is_broken() {
    let bench = Bench::set_up(false).await;
    bench.open("/plan").await;
    bench.until_says(".empty", "What do you want to charge").await;
    let plan = r#"{"format": "rumek.plan/1", "name": "Dropped", "pack": {"chemistry": "lipo", "series": 3, "capacity_ah": 2.2},
        "source": {"kind": "bench_supply", "max_voltage_v": 30, "max_current_a": 5}}"#;
    drop_file(&bench, "dropped.json", plan).await;
    bench.until_says(".card-figures", "12.60").await;
    drop_file(&bench, "torn.json", &plan[..60]).await;
    bench.until_says(".ant-modal", "this is not JSON").await;
    bench.press("OK").await;
    bench.until(".ant-modal", "goes away", str::is_empty).await;
    drop_file(&bench, "odd.json", &plan.replace("series\": 3", "series\": 3, \"colour\": 1")).await;
    let said = bench.until_says(".ant-modal", "/pack/colour").await;
    assert!(said.contains("there is no field") && said.contains("odd.json"), "{said}");
    assert!(bench.text(".card-figures").await.contains("12.60"), "the plan on screen stays");
    bench.assert_no_complaints_but(&["422", "400"]).await;
    bench.clear_up().await;
}

#[tokio::test]
async fn the_curve_is_exported_as_numbers_drawing_and_picture_and_the_plan_as_a_file() {
    let bench = Bench::set_up(true).await;
    bench.open_plan("Tow-plane before the tow").await;
    bench.until_says(".card-figures", "25.16").await;
    let listen = "window.files = []; const make = URL.createObjectURL.bind(URL);
        URL.createObjectURL = (blob) => { window.files.push(blob); return make(blob); }";
    bench.client().execute(listen, vec![]).await.unwrap();
    for kind in ["CSV", "SVG", "PNG"] {
        bench.press("Export").await;
        bench.press(kind).await;
        bench.settle().await;
    }
    bench.press("More").await;
    bench.press("Export as a file").await;
    bench.settle().await;
    let read = "const done = arguments[0];
        Promise.all(window.files.map(async (f) => [f.type, f.size, await f.text()])).then(done)";
    let files = bench.client().execute_async(read, vec![]).await.unwrap();
    let of = |kind: &str| -> Vec<(u64, String)> {
        let files = files.as_array().unwrap().iter().filter(|file| file[0] == kind);
        files.map(|file| (file[1].as_u64().unwrap(), file[2].as_str().unwrap().to_owned())).collect()
    };
    assert!(of("text/csv")[0].1.starts_with("t_s,pack_v,current_a,power_w,soc,limit,source_a,pack_a\n0,"));
    let svg = &of("image/svg+xml")[0].1;
    assert!(svg.contains("SoC 99 %") && svg.contains("stroke=\"rgb(") && !svg.contains("class="), "{svg}");
    assert!(of("image/png")[0].0 > 10_000);
    let plan: Value = serde_json::from_str(&of("application/json")[0].1).unwrap();
    assert_eq!((&plan["format"], &plan["name"]), (&"rumek.plan/1".into(), &"Tow-plane before the tow".into()));
    bench.assert_no_complaints().await;
    bench.clear_up().await;
}
