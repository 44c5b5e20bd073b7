//! The chain as stages: what each is called, what it heats.

use crate::chain::reckoning::Reckoning;
use crate::formats::{Place, StageDoc};
use crate::physics::charge::Charge;
use crate::physics::operating::LoadDraw;
use crate::units::trimmed;

/// The chain, source first; a load across the pack comes last. Nothing heats while the settings
/// are withheld.
pub(crate) fn stages(reckoning: &Reckoning<'_>, charge: &Charge, refused: bool) -> Vec<StageDoc> {
    let plan = reckoning.plan;
    let pack = &plan.pack;
    let flowed = charge.flowed;
    let stage = |at: Place, label: Option<&String>, kind: &str, rating: String, joules: f64| StageDoc {
        at,
        label: label.cloned().unwrap_or_else(|| kind.to_owned()),
        rating,
        heat_wh: if refused { 0.0 } else { joules / 3600.0 },
    };
    let mut stages = Vec::with_capacity(7);
    if let Some(source) = &plan.source {
        let inside =
            if source.battery.is_some() { flowed.inside_w } else { flowed.source_w * (1.0 / source.efficiency - 1.0) };
        stages.push(stage(Place::Source, source.name.as_ref(), source.kind_name(), source.describe(), inside));
    }
    if let Some(lead) = &plan.input {
        let heat = flowed.source_w - flowed.input_w;
        stages.push(stage(Place::InputLead, lead.name.as_ref(), "Input lead", lead.describe(), heat));
    }
    if let Some(charger) = &plan.charger {
        let heat = flowed.input_w - flowed.output_w;
        stages.push(stage(Place::Charger, charger.name.as_ref(), charger.kind_name(), charger.describe(), heat));
    }
    if let Some(relay) = &plan.cut_off {
        let rating = format!("{}–{} V", trimmed(relay.low_v, 2), trimmed(relay.high_v, 2));
        stages.push(stage(Place::CutOff, None, "Cut-off relay", rating, 0.0));
    }
    if let Some(lead) = &plan.output {
        let heat = flowed.output_w - flowed.pack_w;
        stages.push(stage(Place::OutputLead, lead.name.as_ref(), "Pack lead", lead.describe(), heat));
    }
    let kind = format!("{} pack", pack.profile.name);
    stages.push(stage(Place::Pack, pack.name.as_ref(), &kind, pack.rating(), charge.pack_heat_j));
    let draws = match plan.load {
        LoadDraw::None => return stages,
        LoadDraw::CurrentA(a) => format!("{} A", trimmed(a, 2)),
        LoadDraw::PowerW { watts, .. } => format!("{} W", trimmed(watts, 1)),
    };
    stages.push(stage(Place::Load, None, "Load", draws, 0.0));
    stages
}
