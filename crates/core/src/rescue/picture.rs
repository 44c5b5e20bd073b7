//! The picture of a whole rescue document.

use super::found::{self, Picture};
use crate::codes::RescuePractice;
use crate::formats::{Problems, RESCUE_FORMAT, RescueDoc, StartDoc};
use crate::parts::{pack, plan};

/// Reads the document; `None` while the pack is not described.
pub(super) fn picture(doc: &RescueDoc) -> Result<Option<Picture>, Problems> {
    let mut problems = Problems::default();
    if doc.format.as_deref() != Some(RESCUE_FORMAT) {
        let said = doc.format.as_deref().unwrap_or("nothing");
        problems.add("/format", format!("the format says {said}"), RESCUE_FORMAT);
    }
    let mut pack_doc = doc.pack.clone().unwrap_or_default();
    if !found::unidentified(&pack_doc).is_empty() {
        return problems.into_result(None);
    }
    let found = doc.found.clone().unwrap_or_default();
    pack_doc.start = Some(StartDoc { soc: Some(0.0), ..StartDoc::default() });
    pack_doc.temperature_c = found.temperature_c.or(doc.ambient_c).or(pack_doc.temperature_c);
    plan::fill_pack(&mut pack_doc, doc.ambient_c.unwrap_or(plan::ROOM_C), &mut Vec::new());
    let pack = pack::read(&pack_doc, "/pack", &mut problems);
    if let Some(source) = &doc.source {
        problems.extend_at("/source", plan::check_source(source));
    }
    for (charger, at) in [(&doc.charger, "/charger"), (&doc.handover, "/handover")] {
        if let Some(charger) = charger {
            problems.extend_at(at, plan::check_charger(charger));
        }
    }
    if let Some(donor) = &doc.donor {
        problems.extend_at("/donor", plan::check_source(donor));
    }
    let practice = doc.practice.unwrap_or(RescuePractice::Cautious);
    let picture = {
        let around_c = doc.ambient_c.unwrap_or(plan::ROOM_C);
        pack.and_then(|pack| found::read(&found, pack, practice, around_c, doc.handover.as_ref(), &mut problems))
    };
    problems.into_result(picture)
}
