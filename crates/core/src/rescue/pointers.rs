//! The fields that a rescue asks for.

/// Every question, by the field it fills, in the order of asking.
pub(crate) const POINTERS: &[&str] = &[
    "/pack/chemistry",
    "/pack/series",
    "/pack/capacity_ah",
    "/pack/capacitance_f",
    "/found/bms",
    "/found/signs",
    "/found/temperature_c",
    "/found/terminal_v",
    "/found/cells_reachable",
    "/found/cell_voltages_v",
    "/found/low_for",
    "/source",
    "/handover",
];
