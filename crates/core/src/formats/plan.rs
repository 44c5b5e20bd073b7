//! `rumek.plan/1`: what a person asks.

use super::charger::ChargerDoc;
use super::lead::{CutOffDoc, LeadsDoc};
use super::meter::MeterDoc;
use super::pack::PackDoc;
use super::read::document;
use super::source::SourceDoc;
use crate::codes::{CheckCode, Practice};

/// The name of the plan format, with its version.
pub const PLAN_FORMAT: &str = "rumek.plan/1";

document! {
    /// A question about one charge: pack, what feeds it, and what is wanted.
    pub struct PlanDoc {
        /// Always `rumek.plan/1`.
        pub format: String,
        /// What the person calls this plan.
        pub name: String,
        /// How hard to charge; standard where absent.
        pub practice: Practice,
        /// Air temperature, °C.
        #[schemars(range(min = -60.0, max = 80.0))]
        pub ambient_c: f64,
        /// The pack (one of `packs_in_parallel`).
        pub pack: PackDoc,
        /// Unlike packs in parallel with it.
        pub other_packs: Vec<OtherPackDoc>,
        /// What feeds the chain; absent: the pack runs its load.
        pub source: SourceDoc,
        /// What regulates between source and pack; absent: the source is on the pack directly.
        pub charger: ChargerDoc,
        /// The leads on both sides; absent: too good to matter.
        pub leads: LeadsDoc,
        /// What draws from the pack meanwhile.
        pub load: LoadDoc,
        /// A voltage cut-off relay before the pack.
        pub cut_off: CutOffDoc,
        /// What displays read against a meter; before what stands with the device itself.
        pub meters: Vec<MeterDoc>,
        /// What the person wants set; recommended where absent.
        pub settings: SettingsDoc,
        /// How often the person can look, min; matters where nothing holds the current.
        #[schemars(range(min = 1.0, max = 10_080.0))]
        pub visit_every_min: f64,
        /// How long somebody stays at the start of a charge that is turned up by hand, min; an hour where they
        /// then come less often than that.
        #[schemars(range(min = 0.0, max = 10_080.0))]
        pub attended_first_min: f64,
        /// The outlet's circuit.
        pub mains: MainsDoc,
        /// Price of a kWh from the wall, in the person's currency.
        #[schemars(range(min = 0.0, max = 1e4))]
        pub price_per_kwh: f64,
        /// Stops accepted for this one computation.
        pub accept: Vec<CheckCode>,
        /// Stops accepted in a saved plan, with the values they were accepted at.
        pub accepted: Vec<AcceptedDoc>,
    }

    /// A pack in parallel that is not like the plan's own; same chemistry and cell count.
    pub struct OtherPackDoc {
        /// Nameplate capacity, Ah.
        #[schemars(range(min = 0.005, max = 10_000.0))]
        pub capacity_ah: f64,
        /// Terminal voltage at rest, V.
        #[schemars(range(min = 0.0, max = 1000.0))]
        pub rest_voltage_v: f64,
        /// DC resistance after 10 s, mΩ.
        #[schemars(range(min = 0.001, max = 1e6))]
        pub resistance_mohm: f64,
        /// The label's charge current, A.
        #[schemars(range(min = 0.001, max = 10_000.0))]
        pub rated_charge_a: f64,
    }

    /// The outlet's circuit.
    pub struct MainsDoc {
        /// Its voltage, V rms.
        #[schemars(range(min = 80.0, max = 500.0))]
        pub voltage_v: f64,
        /// What its breaker or fuse allows, A.
        #[schemars(range(min = 1.0, max = 200.0))]
        pub circuit_a: f64,
    }

    /// A load across the pack: one of the two.
    pub struct LoadDoc {
        /// A steady current, A.
        #[schemars(range(min = 0.0, max = 10_000.0))]
        pub current_a: f64,
        /// A steady power, W.
        #[schemars(range(min = 0.0, max = 1e6))]
        pub power_w: f64,
    }

    /// What the person wants set.
    pub struct SettingsDoc {
        /// Charge voltage at the pack's terminals, V.
        #[schemars(range(min = 0.1, max = 1000.0))]
        pub voltage_v: f64,
        /// Charge current, A.
        #[schemars(range(min = 0.001, max = 10_000.0))]
        pub current_a: f64,
        /// Stop when the current has fallen to this, A.
        #[schemars(range(min = 0.0001, max = 10_000.0))]
        pub stop_current_a: f64,
        /// Stop when the terminals reach this, V.
        #[schemars(range(min = 0.1, max = 1000.0))]
        pub stop_voltage_v: f64,
        /// Stop after this long, h.
        #[schemars(range(min = 0.01, max = 480.0))]
        pub time_limit_h: f64,
        /// A charger's input limit, A.
        #[schemars(range(min = 0.05, max = 1000.0))]
        pub input_limit_a: f64,
    }

    /// A stop that was accepted, and the values it was accepted at.
    pub struct AcceptedDoc {
        /// Which stop.
        pub code: CheckCode,
        /// The check's values then.
        pub values: std::collections::BTreeMap<String, f64>,
        /// When, RFC 3339 UTC.
        pub at: String,
    }
}
