//! The chemistries and kinds of gear as they are offered.

use super::{charger, source};
use crate::codes::Practice;
use crate::formats::{ChemistryDoc, KindsDoc, OwnFieldDoc, PracticeDoc};
use crate::physics::cell::{Chemistry, Profile, Traits, profile};

/// Every chemistry, in the order of the format.
#[must_use]
pub fn chemistries() -> Vec<ChemistryDoc> {
    Chemistry::ALL.iter().map(|&chemistry| offered(chemistry, profile(chemistry))).collect()
}

fn offered(chemistry: Chemistry, known: Option<&Profile>) -> ChemistryDoc {
    let traits = known.map_or(Traits::UNKNOWN, |p| p.traits);
    let by_charge = known.filter(|_| !traits.farads);
    ChemistryDoc {
        chemistry,
        name: known.map_or("Custom cell", |p| p.name).to_owned(),
        nominal_v: by_charge.map(|p| p.nominal_v),
        full_v: known.map(|p| p.full_v),
        standard_c_rate: by_charge.map(|p| p.rates.standard),
        practices: known.filter(|_| !traits.farads).map(practices).unwrap_or_default(),
        cells_read: !traits.in_blocks,
        label_says_volts: traits.absorbs,
        holds_acid: known.is_some_and(|p| p.freezes_c.is_some()),
        own_fields: own_fields(traits, known.is_none()).into_iter().map(str::to_owned).collect(),
    }
}

/// How hard each practice charges a chemistry where no label speaks.
fn practices(profile: &Profile) -> Vec<PracticeDoc> {
    let rates = profile.rates;
    let figures = |practice, c_rate| PracticeDoc { practice, c_rate, full_v: profile.practice_v(practice) };
    vec![
        figures(Practice::Gentle, profile.gentle_share() * rates.standard),
        figures(Practice::Standard, rates.standard),
        figures(Practice::Hurry, rates.hurry),
    ]
}

/// The fields of a pack that only some chemistries have.
fn own_fields(traits: Traits, custom: bool) -> Vec<&'static str> {
    let holds: &[&str] =
        if traits.farads { &["capacitance_f", "capacitance_spread"] } else { &["capacity_ah", "energy_wh"] };
    let cell: &[&str] = if custom { &["cell"] } else { &[] };
    [holds, cell].concat()
}

/// What forms are built by.
#[must_use]
pub fn kinds() -> KindsDoc {
    fn documents<K: Copy + 'static>(fields: impl Iterator<Item = (&'static str, &'static [K])>) -> Vec<OwnFieldDoc<K>> {
        fields.map(|(field, kinds)| OwnFieldDoc { field: field.to_owned(), kinds: kinds.to_vec() }).collect()
    }
    KindsDoc {
        chemistries: chemistries(),
        source_fields: documents(source::own_fields()),
        charger_fields: documents(charger::own_fields()),
    }
}
