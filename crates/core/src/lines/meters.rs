//! What meters and dials may be off.

use super::line::lines;

lines! { "meters" {
    /// A hand meter on one cell.
    CELL_V "cell_v": f64 = 0.02, VoltACell, Above, Meters, [Plan, Rescue, Match, Shelf, Run];
    /// One meter read twice, at the terminals.
    AGAIN_V "again_v": f64 = 0.01, Volt, Above, Meters, [Rescue];
    /// One meter read twice, at a cell.
    AGAIN_CELL_V "again_cell_v": f64 = 0.005, VoltACell, Above, Meters, [Rescue, Run];
    /// Rest readings of a pack weeks apart: noise, warmth, the last digit.
    SHELF_V "shelf_v": f64 = 0.008, VoltACell, Above, Meters, [Shelf];
    /// … of one cell against its neighbours.
    SHELF_CELL_V "shelf_cell_v": f64 = 0.006, VoltACell, Above, Meters, [Shelf];
    /// What is set by a hand meter is off by no more.
    SET_V "set_v": f64 = 0.01, VoltACell, Above, Meters, [Run];
    /// What a display of amps leaves open while a current limit is set.
    SET_A "set_a": f64 = 0.02, Ampere, Above, Meters, [Run];
    /// A current limit that is set to less than this share of what was planned is another one …
    SET_LEAST "set_least": f64 = 0.5, Share, Below, Choice, [Run];
    /// … and so is one of more than this.
    SET_MOST "set_most": f64 = 1.05, Share, Above, Choice, [Run];
    /// A meter at a pack's terminals, and the dial it is compared with, are off by this share …
    TERMINALS "terminals": f64 = 0.006, Share, Above, Meters, [Run];
    /// … and by this.
    TERMINALS_V "terminals_v": f64 = 0.02, Volt, Above, Meters, [Run];
    /// A display of amps is off by this share …
    AMPS "amps": f64 = 0.06, Share, Above, Meters, [Run];
    /// … and by this.
    AMPS_A "amps_a": f64 = 0.03, Ampere, Above, Meters, [Run];
}}
