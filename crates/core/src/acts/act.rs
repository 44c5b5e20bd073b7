//! An act: something that somebody is told to do with amps or volts.

use crate::chain::may::Subject;

/// What is done.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum ActKind {
    /// A charge, by whatever it is set and turned.
    Charge,
    /// A deep-discharged pack is brought up.
    Precharge,
    /// Charge is taken out.
    Discharge,
}

impl ActKind {
    /// Whether current goes into the pack.
    pub(crate) fn charges(self) -> bool {
        !matches!(self, Self::Discharge)
    }
}

/// What is done with one pack.
#[derive(Clone, Debug)]
pub(crate) struct Act<'a> {
    pub(crate) kind: ActKind,
    pub(crate) subject: Subject<'a>,
    /// How warm it is where it is done, °C.
    pub(crate) around_c: f64,
    /// Whether somebody sets the current.
    pub(crate) dials: bool,
    /// The current that is judged, A: what is set where somebody sets it, else the most that flows.
    pub(crate) asked_a: f64,
    /// The most that flows at any voltage on the way, A.
    pub(crate) most_a: f64,
    /// The most by the likeliest course, a load across the pack taken off, A.
    pub(crate) likely_a: f64,
    /// What the pack gets once a load across it is off, A; `None` where there is none.
    pub(crate) unloaded_a: Option<f64>,
    /// The highest voltage that hands can reach, V.
    pub(crate) highest_v: f64,
    /// How long it takes, s; infinite where nothing ends it.
    pub(crate) lasts_s: f64,
}
