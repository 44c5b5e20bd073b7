//! What a gauge by volts means.

use rumek_core::formats::{GaugeAskDoc, GaugeDoc, Problems, from_value};
use rumek_core::gauge;
use serde_json::json;

fn of(chemistry: &str, series: u32, volts: &[f64]) -> Result<GaugeDoc, Problems> {
    let ask: GaugeAskDoc = from_value(&json!({
        "pack": { "chemistry": chemistry, "series": series, "capacity_ah": 10 }, "thresholds_v": volts
    }))?;
    gauge(&ask)
}

#[test]
fn on_a_flat_curve_it_says_little_and_says_so() {
    let found = of("lfp", 4, &[12.8, 13.0, 13.2, 13.4]).unwrap();
    assert!(found.says[0].contains("flat"), "{:?}", found.says);
    assert!(found.marks.iter().any(|mark| mark.at_rest.high - mark.at_rest.low > 0.3));
}

#[test]
fn a_load_shows_less_and_a_charge_more_than_there_is() {
    for (chemistry, series, volts) in
        [("li_ion", 3, [10.5, 11.1, 11.7, 12.3]), ("lead_agm", 6, [11.9, 12.2, 12.5, 12.8])]
    {
        let found = of(chemistry, series, &volts).unwrap();
        for mark in &found.marks {
            // The same volts mean more charge under a load, less while it is charged.
            assert!(
                mark.under_load.value >= mark.at_rest.value && mark.charging.value <= mark.at_rest.value,
                "{mark:?}"
            );
            assert!(mark.at_rest.low <= mark.at_rest.value && mark.at_rest.value <= mark.at_rest.high);
        }
        assert!(found.marks.windows(2).all(|w| w[0].at_rest.value <= w[1].at_rest.value));
    }
}

#[test]
fn where_volts_tell_nothing_it_is_of_no_use() {
    let found = of("nimh", 6, &[7.0, 7.5, 8.0]).unwrap();
    assert!(found.says[0].contains("no such gauge"), "{:?}", found.says);
}

#[test]
fn blocks_without_volts_are_asked_for() {
    let pointer = |volts: &[f64]| of("lipo", 3, volts).unwrap_err().problems[0].pointer.clone();
    assert_eq!(pointer(&[]), "/thresholds_v");
    assert_eq!(pointer(&[0.05]), "/thresholds_v");
    assert!(of("lipo", 3, &[0.11]).is_ok());
}
