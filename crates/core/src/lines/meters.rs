//! What meters and dials may be off.

use super::line::lines;

lines! { "meters" {
    /// A hand meter on one cell.
    CELL_V "cell_v": f64 = 0.02, VoltACell, Above, Meters, [Plan, Rescue, Match, Shelf];
    /// One meter read twice, at the terminals.
    AGAIN_V "again_v": f64 = 0.01, Volt, Above, Meters, [Rescue];
    /// One meter read twice, at a cell.
    AGAIN_CELL_V "again_cell_v": f64 = 0.005, VoltACell, Above, Meters, [Rescue];
    /// Rest readings of a pack weeks apart: noise, warmth, the last digit.
    SHELF_V "shelf_v": f64 = 0.008, VoltACell, Above, Meters, [Shelf];
    /// … of one cell against its neighbours.
    SHELF_CELL_V "shelf_cell_v": f64 = 0.006, VoltACell, Above, Meters, [Shelf];
}}
