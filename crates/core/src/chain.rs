//! The operating point: the least of all limits at one moment, and its name.

use crate::document::Place;
use crate::document::read::codes;

codes! {
    /// What can hold the current down.
    pub enum LimitCode {
        /// The pack's recommended or rated current.
        PackRating = "pack_rating",
        /// The pack's protection board.
        Bms = "bms",
        /// The current the person set.
        SetCurrent = "set_current",
        /// The charge voltage: the pack has come up to it.
        SetVoltage = "set_voltage",
        /// The supply's rated current.
        SourceCurrent = "source_current",
        /// The supply's rated power.
        SourcePower = "source_power",
        /// The supply cannot reach the wanted charge voltage.
        SourceVoltage = "source_voltage",
        /// Nothing feeds the pack; its load draws what it draws.
        Load = "load",
    }
}

impl LimitCode {
    /// The stage the limit belongs to.
    #[must_use]
    pub const fn place(self) -> Place {
        match self {
            Self::PackRating | Self::Bms | Self::SetVoltage => Place::Pack,
            Self::SetCurrent | Self::SourceCurrent | Self::SourcePower | Self::SourceVoltage => Place::Source,
            Self::Load => Place::Load,
        }
    }

    /// Whether a bigger thing could be bought against it.
    pub(crate) const fn purchasable(self) -> bool {
        matches!(self, Self::SourceCurrent | Self::SourcePower | Self::SourceVoltage)
    }
}

/// What draws from the pack meanwhile.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) enum LoadDraw {
    None,
    CurrentA(f64),
    /// Watts, down to a voltage below which a converter draws no more amps than there.
    PowerW {
        watts: f64,
        floor_v: f64,
    },
}

impl LoadDraw {
    /// What it draws at a voltage, A.
    pub(crate) fn current_a(self, pack_v: f64) -> f64 {
        match self {
            Self::None => 0.0,
            Self::CurrentA(a) => a,
            Self::PowerW { watts, floor_v } => watts / pack_v.max(floor_v),
        }
    }
}

/// What the supply does to the pack's terminals: total amps, watts and volts it holds to.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Feed {
    pub(crate) current_a: f64,
    pub(crate) current_code: LimitCode,
    pub(crate) power_w: f64,
    pub(crate) voltage_v: f64,
    pub(crate) voltage_code: LimitCode,
}

/// The pack seen from its terminals at one moment: `v = e_v + r_ohm · i`.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Thevenin {
    pub(crate) e_v: f64,
    pub(crate) r_ohm: f64,
}

/// Current into the pack (A) and what holds it there.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct OperatingPoint {
    pub(crate) pack_a: f64,
    pub(crate) limit: LimitCode,
}

/// The operating point of a pack on a feed with a load across it.
///
/// Each limit is solved alone, in closed form, for the current into the pack; the least holds.
/// Without a feed the load alone drives the pack.
#[inline]
pub(crate) fn operating_point(pack: Thevenin, feed: Option<&Feed>, load: LoadDraw) -> OperatingPoint {
    let Some(feed) = feed else {
        return OperatingPoint { pack_a: at_total_current(pack, 0.0, load), limit: LimitCode::Load };
    };
    let mut best = OperatingPoint { pack_a: at_total_current(pack, feed.current_a, load), limit: feed.current_code };
    let mut offer = |pack_a: f64, limit: LimitCode| {
        if pack_a < best.pack_a {
            best = OperatingPoint { pack_a, limit };
        }
    };
    if feed.power_w.is_finite() {
        offer(at_power(pack, feed.power_w, load), LimitCode::SourcePower);
    }
    offer((feed.voltage_v - pack.e_v) / pack.r_ohm, feed.voltage_code);
    // A supply takes no current back: below nothing the load alone drives the pack.
    if best.pack_a < 0.0 {
        best.pack_a = best.pack_a.max(at_total_current(pack, 0.0, load));
    }
    best
}

/// Current into the pack where the supply gives a fixed total.
fn at_total_current(pack: Thevenin, total_a: f64, load: LoadDraw) -> f64 {
    match load {
        LoadDraw::None => total_a,
        LoadDraw::CurrentA(a) => total_a - a,
        LoadDraw::PowerW { watts, floor_v } => {
            // i = total − W/(e + r·i): the root on the side of the pack's own voltage.
            larger_root(pack.r_ohm, pack.e_v - pack.r_ohm * total_a, watts - total_a * pack.e_v)
                .filter(|i| pack.e_v + pack.r_ohm * i >= floor_v)
                .unwrap_or(total_a - watts / floor_v)
        }
    }
}

/// Current into the pack where the supply gives a fixed total power.
fn at_power(pack: Thevenin, power_w: f64, load: LoadDraw) -> f64 {
    // (e + r·i)(i + L) = P for a load of L amps; always has a root for P ≥ 0.
    let beside = |load_a: f64| {
        larger_root(pack.r_ohm, pack.e_v + pack.r_ohm * load_a, pack.e_v * load_a - power_w).unwrap_or(-load_a)
    };
    match load {
        LoadDraw::None => beside(0.0),
        LoadDraw::CurrentA(a) => beside(a),
        LoadDraw::PowerW { watts, floor_v } => larger_root(pack.r_ohm, pack.e_v, watts - power_w)
            .filter(|i| pack.e_v + pack.r_ohm * i >= floor_v)
            .unwrap_or_else(|| beside(watts / floor_v)),
    }
}

/// The larger root of `a·x² + b·x + c` with `a > 0`; `None` where there is none: a load that
/// asks for more than the pack can give.
fn larger_root(a: f64, b: f64, c: f64) -> Option<f64> {
    let discriminant = b * b - 4.0 * a * c;
    if discriminant < 0.0 {
        return None;
    }
    let root = discriminant.sqrt();
    // The form that does not cancel.
    Some(if b > 0.0 { -2.0 * c / (b + root) } else { (root - b) / (2.0 * a) })
}
