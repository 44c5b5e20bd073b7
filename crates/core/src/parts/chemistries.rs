//! The chemistries as they are offered.

use crate::formats::ChemistryDoc;
use crate::physics::cell::{Chemistry, profile};

/// Every chemistry, in the order of the format.
#[must_use]
pub fn chemistries() -> Vec<ChemistryDoc> {
    Chemistry::ALL
        .iter()
        .map(|&chemistry| match profile(chemistry) {
            Some(p) => ChemistryDoc {
                chemistry,
                name: p.name.to_owned(),
                nominal_v: (!p.traits.farads).then_some(p.nominal_v),
                full_v: Some(p.full_v),
                standard_c_rate: (!p.traits.farads).then_some(p.rates.standard),
            },
            None => ChemistryDoc {
                chemistry,
                name: "Custom cell".to_owned(),
                nominal_v: None,
                full_v: None,
                standard_c_rate: None,
            },
        })
        .collect()
}
