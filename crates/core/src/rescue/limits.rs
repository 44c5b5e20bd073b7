//! The lines that a rescue is decided by: what is told and what readings are judged by are the same.

/// Lithium hotter than this with nothing connected is feeding itself, °C: what lies in the sun comes to 50 °C,
/// the first layers of a cell break down from 70 to 90 °C.
pub(super) const RUNAWAY_C: f64 = 60.0;
/// Terminals that read less than this share of the cells' sum are not joined to them.
pub(super) const JOINED: f64 = 0.8;
/// The most a deep-discharged pack is fed with, C.
pub(super) const GENTLE: f64 = 0.05;
/// The charger's start threshold is passed by this much before it takes over.
pub(super) const START_MARGIN: f64 = 1.02;
/// What gives less than this share of its capacity is not worth the risk.
pub(super) const WORTH: f64 = 0.6;
/// How much warmer than at the start a pack may become, K: a twentieth of its capacity warms it by 1 or 2.
pub(super) const WARMING_K: f64 = 10.0;
/// What a meter may be off, V a cell.
pub(super) const METER_V: f64 = 0.02;
/// More than the most that is told by this factor is no meter's error but another current.
pub(super) const OVER_CURRENT: f64 = 1.3;
