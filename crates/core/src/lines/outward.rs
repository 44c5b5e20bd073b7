//! Packs that give: discharges, tests and loads.

use super::line::lines;

lines! { "outward" {
    /// Above this no pack is discharged.
    OUT_MAX_C "out_max_c": f64 = 60.0, Celsius, Above, DataSheets, [Test, Run];
    /// A label is obeyed up to this.
    OVER_GIVES "over_gives": f64 = 1.005, Share, Above, Meters, [Test];
    /// More than this is a caution where no label says what a pack may give.
    UNLABELLED_C "unlabelled_c": f64 = 2.0, CRate, Above, Practice, [Test, Plan];
    /// Colder than this what a test gives cannot be compared …
    COMPARED_FROM_C "compared_from_c": f64 = 0.0, Celsius, Below, DataSheets, [Test];
    /// … nor warmer than this.
    COMPARED_TO_C "compared_to_c": f64 = 45.0, Celsius, Above, DataSheets, [Test];
    /// A cut-off so much above the usual one leaves some in.
    CUT_OFF_HIGH "cut_off_high": f64 = 1.08, Share, Above, Choice, [Test];
    /// Lead under a large current falls so far below its line without harm.
    LEAD_UNDER_LOAD "lead_under_load": f64 = 0.9, Share, Below, DataSheets, [Test, Run];
    /// From this share of its rating on a resistor is too hot for what lies by it.
    HOT_SHARE "hot_share": f64 = 0.6, Share, Above, Practice, [Test];
    /// From so many watts on a surface burns skin.
    HOT_W "hot_w": f64 = 5.0, Watt, Above, Practice, [Test];
    /// A lamp bears so many times its rated volts: one of 12 V stands in a vehicle at 14.4 V.
    OUT_LAMP_OVER "out_lamp_over": f64 = 1.2, Share, Above, Practice, [Test];
    /// A discharge of more hours than this is told to be long.
    LONG_H "long_h": f64 = 24.0, Hour, Above, Choice, [Test];
}}
