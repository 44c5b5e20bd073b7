//! Supplies and chargers.

use super::line::lines;

lines! { "gear" {
    /// What a converter gives on of what it draws, where nobody says.
    EFFICIENCY "efficiency": f64 = 0.87, Share, Below, DataSheets, [Plan, Test];
    /// A supply that does not hold its current is used up to this share of its rating.
    HEADROOM "headroom": f64 = 0.9, Share, Above, Practice, [Plan];
    /// A lamp in series bears so many times its rated volts.
    LAMP_OVER "lamp_over": f64 = 1.1, Share, Above, DataSheets, [Plan];
    /// A bench supply's knob cannot be set to less than this.
    LEAST_SET_A "least_set_a": f64 = 0.02, Ampere, Below, Meters, [Rescue];
    /// … nor to less than this share of its largest current, which its display may be off.
    OFFSET "offset": f64 = 0.005, Share, Below, DataSheets, [Rescue];
    /// A knob's step of more than this a cell is told.
    STEP_V "step_v": f64 = 0.02, VoltACell, Above, Choice, [Plan];
}}
