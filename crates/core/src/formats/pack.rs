//! A pack as its label and a meter describe it.

use super::read::document;
use crate::codes::{Balancer, Chemistry, GoalKind, LastUse, PackMark};

document! {
    /// One pack. With `packs_in_parallel` the chain sees that many of it.
    pub struct PackDoc {
        /// What the person calls it.
        pub name: String,
        /// Anything worth remembering about it.
        pub notes: String,
        /// Its chemistry.
        pub chemistry: Chemistry,
        /// Cells in series.
        #[schemars(range(min = 1, max = 200))]
        pub series: u32,
        /// The label's voltage; S is derived from it where `series` is absent.
        #[schemars(range(min = 0.5, max = 1000.0))]
        pub label_v: f64,
        /// Nameplate capacity, Ah.
        #[schemars(range(min = 0.005, max = 10_000.0))]
        pub capacity_ah: f64,
        /// Nameplate energy, Wh, where no capacity is given.
        #[schemars(range(min = 0.01, max = 100_000.0))]
        pub energy_wh: f64,
        /// Capacitance of one series position, F (`supercap`).
        #[schemars(range(min = 0.01, max = 1e6))]
        pub capacitance_f: f64,
        /// How many identical packs are joined in parallel.
        #[schemars(range(min = 1, max = 50))]
        pub packs_in_parallel: u32,
        /// What it may give, as a rate; a lone high C number on a label. Never what it is charged with.
        #[schemars(range(min = 0.01, max = 1000.0))]
        pub discharge_c_rate: f64,
        /// The label's charge rate, C (1/h of nameplate Ah).
        #[schemars(range(min = 0.001, max = 300.0))]
        pub rated_c_rate: f64,
        /// The label's charge current, A.
        #[schemars(range(min = 0.001, max = 10_000.0))]
        pub rated_charge_a: f64,
        /// What its data sheet allows at its present temperature, A; it goes before what is usual for the cold.
        #[schemars(range(min = 0.001, max = 10_000.0))]
        pub sheet_charge_a: f64,
        /// DC resistance after 10 s, mΩ.
        #[schemars(range(min = 0.001, max = 1e6))]
        pub resistance_mohm: f64,
        /// Usable share of the nameplate Ah, 0…1.
        #[schemars(range(min = 0.05, max = 1.2))]
        pub health: f64,
        /// The pack's own temperature, °C.
        #[schemars(range(min = -60.0, max = 100.0))]
        pub temperature_c: f64,
        /// Its protection board.
        pub bms: BmsDoc,
        /// What levels its cells.
        pub balancer: Balancer,
        /// What the balancer can shunt, A.
        #[schemars(range(min = 0.001, max = 100.0))]
        pub balance_current_a: f64,
        /// Where the balancer starts, V a cell.
        #[schemars(range(min = 0.5, max = 5.0))]
        pub balance_start_v: f64,
        /// Spread of capacitance between positions, as a fraction (`supercap`).
        #[schemars(range(min = 0.0, max = 0.9))]
        pub capacitance_spread: f64,
        /// The label's charge voltages for the whole pack.
        pub label_voltage_v: LabelVoltageDoc,
        /// Figures of a `custom` cell.
        pub cell: CustomCellDoc,
        /// Where it starts.
        pub start: StartDoc,
        /// What the charge is for.
        pub goal: GoalDoc,
        /// A lasting mark.
        pub mark: PackMark,
        /// When it was bought, a date.
        pub bought_on: String,
        /// Free words it is grouped by on the shelf.
        pub tags: Vec<String>,
        /// How warm it is where it is kept, °C.
        #[schemars(range(min = -40.0, max = 60.0))]
        pub kept_at_c: f64,
        /// When it will next be used, RFC 3339; until two days before nobody is asked to bring it to storage.
        pub next_use: String,
    }

    /// A pack's protection board.
    pub struct BmsDoc {
        /// The charge current it allows, A.
        #[schemars(range(min = 0.001, max = 10_000.0))]
        pub max_charge_a: f64,
        /// Whether it balances.
        pub balances: bool,
    }

    /// Charge voltages printed on a label, for the whole pack.
    pub struct LabelVoltageDoc {
        /// Cyclic use, low and high.
        pub cycle: [f64; 2],
        /// Standby use, low and high.
        pub standby: [f64; 2],
    }

    /// One cell of a chemistry Rumek has no figures for.
    pub struct CustomCellDoc {
        /// Nominal, V.
        #[schemars(range(min = 0.1, max = 10.0))]
        pub nominal_v: f64,
        /// Full, V; also the refusal ceiling.
        #[schemars(range(min = 0.1, max = 10.0))]
        pub full_v: f64,
        /// Empty at rest, V.
        #[schemars(range(min = 0.1, max = 10.0))]
        pub empty_v: f64,
        /// Storage, V.
        #[schemars(range(min = 0.1, max = 10.0))]
        pub storage_v: f64,
        /// Deeply discharged below this, V.
        #[schemars(range(min = 0.0, max = 10.0))]
        pub precharge_below_v: f64,
        /// The lowest its maker lets it be brought back from, V; the precharge line where absent.
        #[schemars(range(min = 0.0, max = 10.0))]
        pub rescue_floor_v: f64,
        /// The highest charge rate, C.
        #[schemars(range(min = 0.001, max = 50.0))]
        pub max_c_rate: f64,
        /// Coldest it may be charged, °C.
        #[schemars(range(min = -60.0, max = 100.0))]
        pub charge_min_c: f64,
        /// Hottest it may be charged, °C.
        #[schemars(range(min = -60.0, max = 100.0))]
        pub charge_max_c: f64,
    }

    /// Where a pack starts: one of the first four.
    pub struct StartDoc {
        /// State of charge, 0…1.
        #[schemars(range(min = 0.0, max = 1.0))]
        pub soc: f64,
        /// Terminal voltage at rest, V.
        pub rest_voltage_v: f64,
        /// Each series position at rest, V.
        pub cell_voltages_v: Vec<f64>,
        /// Blocks of cells at rest, V.
        pub block_voltages_v: Vec<f64>,
        /// Cells in each block.
        #[schemars(range(min = 1, max = 100))]
        pub cells_per_block: u32,
        /// How long it has rested, min.
        #[schemars(range(min = 0.0, max = 1e7))]
        pub rested_min: f64,
        /// What it did before it rested.
        pub last: LastUse,
    }

    /// What the charge is for.
    pub struct GoalDoc {
        /// Which goal.
        pub kind: GoalKind,
        /// The state of charge wanted, for `soc`.
        #[schemars(range(min = 0.01, max = 1.0))]
        pub soc: f64,
    }
}
