//! Leads: resistance, what the wire and its plugs carry, what guards it.

use crate::formats::{Connector, FuseAt, Insulation, Laid, LeadDoc, Problems, Wires};
use crate::parts::problems::Checked;
use crate::physics::wire::{Lying, area_of_awg, largest_fuse, wire_ohm};
use crate::units::trimmed;

/// Sums are not exact: a rating counts as passed above this share of it.
pub(crate) const SLACK: f64 = 1.001;

/// A lead ready to be computed with.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Lead {
    pub(crate) name: Option<String>,
    pub(crate) area_mm2: f64,
    pub(crate) length_m: f64,
    /// There and back, plugs included, Ω.
    pub(crate) ohm: f64,
    pub(crate) fuse: Option<Fuse>,
    pub(crate) lying: Lying,
    pub(crate) connector: Option<Connector>,
    /// As the person wrote it.
    gauge: String,
}

/// A lead's fuse.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Fuse {
    pub(crate) rated_a: f64,
    pub(crate) rated_v: Option<f64>,
    pub(crate) at: FuseAt,
}

impl Lead {
    /// What the wire carries for hours, A.
    pub(crate) fn wire_a(&self) -> f64 {
        self.lying.carries_a(self.area_mm2)
    }

    /// What wire and plugs carry for hours, A.
    pub(crate) fn carries_a(&self) -> f64 {
        self.wire_a().min(self.plug_a())
    }

    /// What its plugs carry for hours, A.
    pub(crate) fn plug_a(&self) -> f64 {
        self.connector.and_then(Connector::carries_a).unwrap_or(f64::INFINITY)
    }

    /// What its fuse carries with its margin, A.
    pub(crate) fn fuse_carries_a(&self) -> f64 {
        self.fuse.map_or(f64::INFINITY, |fuse| fuse.rated_a / self.lying.fuse_margin())
    }

    /// The most to plan for: what wire, plugs and fuse carry, A.
    pub(crate) fn most_a(&self) -> f64 {
        self.carries_a().min(self.fuse_carries_a())
    }

    /// The smallest fuse one can buy for a current that this wire bears, A; `None` where its wire is too thin.
    pub(crate) fn fuse_for(&self, current_a: f64) -> Option<f64> {
        self.lying.fuse_for(current_a).filter(|fuse_a| *fuse_a <= self.wire_a() * SLACK)
    }

    /// The largest fuse one can buy that this wire bears, A; `None` where it bears none.
    pub(crate) fn largest_fuse(&self) -> Option<f64> {
        largest_fuse(self.wire_a() * SLACK)
    }

    /// Its rating in short, such as `18 AWG · 1.5 m · 10 A fuse`.
    pub(crate) fn describe(&self) -> String {
        let fuse = self.fuse.map_or(String::new(), |fuse| format!(" · {} A fuse", trimmed(fuse.rated_a, 1)));
        let connector = self.connector.map_or(String::new(), |one| format!(" · {}", one.words()));
        format!("{} · {} m{connector}{fuse}", self.gauge, trimmed(self.length_m, 2))
    }
}

/// Reads a lead out of its (resolved) document; `around_c` where it does not say how warm it lies.
pub(crate) fn read(doc: &LeadDoc, around_c: f64, at: &str, problems: &mut Problems) -> Option<Lead> {
    let mut check = Checked::new(at, problems);
    let awg = check.within("awg", doc.awg, -3.0, 36.0);
    let area = check.within("area_mm2", doc.area_mm2, 0.01, 300.0);
    if doc.awg.is_some() && doc.area_mm2.is_some() {
        check.add("area_mm2", "the wire is given twice", "awg or area_mm2, not both");
    }
    if doc.awg.is_none() && doc.area_mm2.is_none() {
        check.lacks("awg", "how thick the wire is, is not said", "awg −3 (4/0) to 36, or area_mm2");
    }
    let length = check.within("length_m", doc.length_m, 0.01, 200.0);
    let length = check.required("length_m", length, "0.01 to 200 m, one way");
    let connector_mohm = check.within("connector_mohm", doc.connector_mohm, 0.0, 1000.0).unwrap_or(0.0);
    let fuse_a = check.within("fuse_a", doc.fuse_a, 0.1, 1000.0);
    let fuse_v = check.within("fuse_v", doc.fuse_v, 1.0, 1500.0);
    let ambient_c = check.within("ambient_c", doc.ambient_c, -60.0, 120.0);
    if doc.fuse_at == Some(FuseAt::None) && doc.fuse_a.is_some() {
        check.add("fuse_a", "a fuse is rated but there is none", "no fuse_a, or fuse_at source, pack or both");
    }
    if doc.fuse_a.is_none() && (doc.fuse_v.is_some() || doc.fuse_at.is_some_and(|at| at != FuseAt::None)) {
        check.lacks("fuse_a", "the fuse's rating is not said", "0.1 to 1000 A, or fuse_at none");
    }
    let area_mm2 = area.or(awg.map(area_of_awg))?;
    let length_m = length?;
    let gauge = match (doc.awg, doc.area_mm2) {
        (Some(awg), _) if awg < 0.5 => format!("{}/0 AWG", trimmed(1.0 - awg, 0)),
        (Some(awg), _) => format!("{} AWG", trimmed(awg, 0)),
        _ => format!("{} mm²", trimmed(area_mm2, 2)),
    };
    Some(Lead {
        name: doc.name.clone(),
        area_mm2,
        length_m,
        ohm: wire_ohm(area_mm2, length_m) + connector_mohm / 1e3,
        fuse: fuse_a.map(|rated_a| Fuse { rated_a, rated_v: fuse_v, at: doc.fuse_at.unwrap_or(FuseAt::Pack) }),
        lying: Lying {
            wires: doc.wires.unwrap_or(Wires::Pair),
            insulation: doc.insulation.unwrap_or(Insulation::Pvc),
            laid: doc.laid.unwrap_or(Laid::Open),
            ambient_c: ambient_c.unwrap_or(around_c),
        },
        connector: doc.connector,
        gauge,
    })
}
