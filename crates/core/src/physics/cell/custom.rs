//! A cell the person describes: an oxide cell's shape between the given end voltages.
//!
//! Source: none but the person's figures; the shape between them is borrowed from
//! the Li-ion cell's, so the estimates carry a wide uncertainty.

use super::lithium::li_ion;
use super::profile::{ChargeWindow, Floors, Profile, Proof, Rates};
use super::traits::Traits;
use crate::codes::Chemistry;

/// What somebody says of a cell of their own, V a cell; rates in C, temperatures in °C.
#[derive(Clone, Copy, Debug, Default)]
pub(crate) struct CustomCell {
    pub(crate) nominal_v: Option<f64>,
    pub(crate) full_v: Option<f64>,
    pub(crate) empty_v: Option<f64>,
    pub(crate) storage_v: Option<f64>,
    pub(crate) precharge_below_v: Option<f64>,
    pub(crate) rescue_floor_v: Option<f64>,
    pub(crate) max_c_rate: Option<f64>,
    pub(crate) charge_min_c: Option<f64>,
    pub(crate) charge_max_c: Option<f64>,
}

/// The figures of a `custom` cell; `None` while any of the three required voltages is missing
/// or they do not rise from empty over nominal to full.
pub(crate) fn custom_profile(cell: CustomCell) -> Option<Profile> {
    let base = li_ion();
    let (empty, nominal, full) = (cell.empty_v?, cell.nominal_v?, cell.full_v?);
    if !(0.0 < empty && empty < nominal && nominal < full) {
        return None;
    }
    let line_v = cell.precharge_below_v.unwrap_or(empty * 0.9);
    let refuse_above = cell.max_c_rate.unwrap_or(1.0);
    Some(Profile {
        chemistry: Chemistry::Custom,
        name: "Custom cell",
        named: &[],
        sold: None,
        traits: Traits::UNKNOWN,
        nominal_v: nominal,
        full_v: full,
        ceiling_v: full,
        gentle_v: None,
        makers_v: None,
        storage_v: cell.storage_v,
        float_v: None,
        precharge_below_v: line_v,
        // Of a cell nobody here knows, nothing below its line is brought back unless its maker says so.
        rescue_floors_v: Some(Floors {
            cautious_v: cell.rescue_floor_v.unwrap_or(line_v).min(line_v),
            experienced_v: cell.rescue_floor_v.unwrap_or(line_v).min(line_v),
        }),
        usual_ah: (0.0, f64::INFINITY),
        label_readings_v: &[],
        rates: Rates {
            standard: refuse_above.min(0.5),
            hurry: refuse_above,
            refuse_above,
            last_word: 5.0,
            taper: 0.05,
        },
        window: ChargeWindow {
            min_c: cell.charge_min_c.unwrap_or(0.0),
            max_c: cell.charge_max_c.unwrap_or(45.0),
            compensation_v: 0.0,
        },
        ocv: base.ocv.stretched(empty, full),
        hysteresis_v: 0.02,
        curve_spread_v: 0.05,
        proof: Proof { to_v: line_v, ..base.proof },
        ..base
    })
}
