//! The operating point: the least of all limits at one moment, and its name.

use crate::codes::{LimitCode, Place};

/// Which stages the limits belong to where that depends on the chain.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) struct Places {
    /// Where the person dials.
    pub(crate) dial: Place,
    /// The thinner lead.
    pub(crate) lead: Place,
}

impl Places {
    /// The stage a limit belongs to.
    pub(crate) const fn of(self, limit: LimitCode) -> Place {
        match limit {
            LimitCode::PackRating
            | LimitCode::Temperature
            | LimitCode::Bms
            | LimitCode::Balance
            | LimitCode::SetVoltage => Place::Pack,
            LimitCode::SetCurrent | LimitCode::Nudge => self.dial,
            LimitCode::Lead => self.lead,
            LimitCode::ChargerOutputCurrent
            | LimitCode::ChargerOutputPower
            | LimitCode::ChargerOutputVoltage
            | LimitCode::ChargerInputCurrent
            | LimitCode::ChargerInputPower
            | LimitCode::ChargerInputVoltage
            | LimitCode::Limiter
            | LimitCode::Thermal => Place::Charger,
            LimitCode::SourceCurrent | LimitCode::SourcePower | LimitCode::SourceVoltage => Place::Source,
            LimitCode::Load => Place::Load,
        }
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

/// A voltage that is held behind a resistance: `v + I·ohm ≤ volts` at the pack's terminals.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Line {
    pub(crate) volts: f64,
    pub(crate) ohm: f64,
    pub(crate) code: LimitCode,
}

/// Incandescent lamps side by side: a hot filament's current grows with the 0.55th power of its
/// voltage; a cold one is a resistance a tenth of the hot one.
///
/// Source: the usual power law of tungsten filaments and the resistance ratio of tungsten between
/// room temperature and about 2700 K.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Lamps {
    pub(crate) rated_v: f64,
    /// All of them together.
    pub(crate) rated_a: f64,
}

impl Lamps {
    const EXPONENT: f64 = 0.55;
    const COLD_SHARE: f64 = 1.0 / 11.0;

    /// Resistance of the cold filaments, Ω.
    pub(crate) fn cold_ohm(self) -> f64 {
        self.rated_v / self.rated_a * Self::COLD_SHARE
    }

    /// Current at a voltage across them, A.
    pub(crate) fn current_a(self, volts: f64) -> f64 {
        let v = volts.max(0.0);
        (self.rated_a * (v / self.rated_v).powf(Self::EXPONENT)).min(v / self.cold_ohm())
    }

    /// Voltage across them at a current, V, and what each ampere more adds, Ω.
    fn tangent(self, current_a: f64) -> (f64, f64) {
        let i = current_a.max(1e-9 * self.rated_a);
        let hot_v = self.rated_v * (i / self.rated_a).powf(1.0 / Self::EXPONENT);
        let cold_v = i * self.cold_ohm();
        if hot_v > cold_v { (hot_v, hot_v / i / Self::EXPONENT) } else { (cold_v, self.cold_ohm()) }
    }

    /// Voltage across them at a current, V.
    pub(crate) fn drop_v(self, current_a: f64) -> f64 {
        let i = current_a.max(0.0);
        (self.rated_v * (i / self.rated_a).powf(1.0 / Self::EXPONENT)).max(i * self.cold_ohm())
    }
}

/// A capacitor pack's balancing: above a pack voltage no more than the balancer shunts.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Balance {
    pub(crate) from_v: f64,
    pub(crate) current_a: f64,
}

/// A supply that has folded back: so many amps into a short, and so many more for each volt its terminals stand at.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Folds {
    pub(crate) shorted_a: f64,
    pub(crate) per_v: f64,
}

impl Folds {
    /// The whole of it, where its amps had been counted at a share of their rating.
    pub(crate) fn at_rating(self, share: f64) -> Self {
        Self { shorted_a: self.shorted_a / share, per_v: self.per_v / share }
    }
}

/// How the source's current follows from the current at the pack.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) enum Path {
    /// Wire alone: the supply holds the voltage itself.
    Direct,
    /// A stage in series (resistor, lamp, linear module, diode): the same current flows in.
    Series,
    /// A converter: power in = power out ÷ efficiency.
    Switching { efficiency: f64 },
    /// A switch: duty × current flows in.
    Duty(f64),
}

/// The source as its user sees it.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Supply {
    /// With nothing connected, V.
    pub(crate) open_v: f64,
    /// Inside it, Ω.
    pub(crate) ohm: f64,
    /// Of the lead to the charger, Ω.
    pub(crate) lead_ohm: f64,
}

impl Supply {
    fn total_ohm(self) -> f64 {
        self.ohm + self.lead_ohm
    }

    /// What arrives at the charger when this current is drawn, W; never more than the greatest there is.
    pub(crate) fn power_at_current(self, current_a: f64) -> f64 {
        let ohm = self.total_ohm();
        let most_a = if ohm > 0.0 { self.open_v / (2.0 * ohm) } else { f64::INFINITY };
        let i = current_a.min(most_a);
        (self.open_v - i * ohm) * i
    }

    /// What arrives at the charger when the source gives this power at its own terminals, W.
    pub(crate) fn power_at_output(self, source_w: f64) -> f64 {
        self.power_at_current(self.current_for(source_w, self.ohm))
    }

    /// What arrives at the charger as its voltage has sagged to this, W; infinite where nothing sags.
    pub(crate) fn power_down_to(self, volts: f64) -> f64 {
        let ohm = self.total_ohm();
        if ohm <= 0.0 {
            return f64::INFINITY;
        }
        self.power_at_current(((self.open_v - volts) / ohm).max(0.0))
    }

    /// The current at which `power_w` is drawn behind `ohm`, A; at the greatest power where it asks for more.
    fn current_for(self, power_w: f64, ohm: f64) -> f64 {
        let v = self.open_v;
        let root = (v * v - 4.0 * ohm * power_w).max(0.0).sqrt();
        2.0 * power_w / (v + root)
    }
}

/// What the chain before the pack does to its terminals: total amps, watts and volts it holds to.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Feed {
    pub(crate) current_a: f64,
    pub(crate) current_code: LimitCode,
    /// Watts where they are counted, `power_ohm` before the pack.
    pub(crate) power_w: f64,
    pub(crate) power_code: LimitCode,
    pub(crate) power_ohm: f64,
    /// The charge voltage.
    pub(crate) hold: Line,
    /// What the source's own voltage can drive through everything in between.
    pub(crate) drive: Option<Line>,
    pub(crate) lamps: Option<Lamps>,
    /// What a linear module may turn to heat, W.
    pub(crate) heat_w: Option<f64>,
    /// Where a supply has folded back.
    pub(crate) folds: Option<Folds>,
    pub(crate) balance: Option<Balance>,
    pub(crate) path: Path,
    pub(crate) supply: Supply,
    /// Of the lead to the pack, Ω.
    pub(crate) out_ohm: f64,
    /// Series diodes before the pack, V.
    pub(crate) diode_v: f64,
    /// What a converter's input allows, where it keeps to it by itself.
    pub(crate) inputs: Option<Inputs>,
}

/// What binds the power of a converter; infinite where nothing is said, or where nothing keeps to it.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Inputs {
    pub(crate) efficiency: f64,
    pub(crate) output_w: f64,
    pub(crate) input_w: f64,
    pub(crate) input_a: f64,
    pub(crate) input_min_v: f64,
    pub(crate) source_a: f64,
    pub(crate) source_w: f64,
    /// The source's watts as the amps that an input limit is set to for them.
    pub(crate) source_w_as_a: f64,
    pub(crate) lead_a: f64,
}

impl Inputs {
    /// Of a converter that keeps to no limit by itself: only what its source can give at all holds it.
    pub(crate) fn none(efficiency: f64) -> Self {
        let none = f64::INFINITY;
        Self {
            efficiency,
            output_w: none,
            input_w: none,
            input_a: none,
            input_min_v: 0.0,
            source_a: none,
            source_w: none,
            source_w_as_a: none,
            lead_a: none,
        }
    }

    /// Each limit as watts at the converter's output; infinite where it says nothing.
    pub(crate) fn each(&self, supply: Supply) -> [(LimitCode, f64); 8] {
        let through = |w: f64| w * self.efficiency;
        let at_amps = |a: f64| if a.is_finite() { through(supply.power_at_current(a)) } else { a };
        let at_watts = |w: f64| if w.is_finite() { through(supply.power_at_output(w)) } else { w };
        let sags = supply.total_ohm() > 0.0;
        [
            (LimitCode::ChargerOutputPower, self.output_w),
            (LimitCode::ChargerInputPower, through(self.input_w)),
            (LimitCode::ChargerInputCurrent, at_amps(self.input_a)),
            (LimitCode::ChargerInputVoltage, through(supply.power_down_to(self.input_min_v))),
            (LimitCode::SourceCurrent, at_amps(self.source_a)),
            (LimitCode::SourcePower, at_watts(self.source_w).min(at_amps(self.source_w_as_a))),
            (LimitCode::Lead, at_amps(self.lead_a)),
            // Even without a rating a source that sags has a greatest power.
            (
                LimitCode::SourceVoltage,
                if sags { through(supply.power_at_current(f64::INFINITY)) } else { f64::INFINITY },
            ),
        ]
    }

    /// The least of them.
    pub(crate) fn least(&self, supply: Supply) -> (LimitCode, f64) {
        let first = (LimitCode::SourcePower, f64::INFINITY);
        self.each(supply).into_iter().fold(first, |least, next| if next.1 < least.1 { next } else { least })
    }
}

/// What flows where at one moment, W, and what the source gives, A.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub(crate) struct Flows {
    pub(crate) source_a: f64,
    /// Lost inside a source that sags.
    pub(crate) inside_w: f64,
    /// At the source's terminals.
    pub(crate) source_w: f64,
    /// Into whatever regulates.
    pub(crate) input_w: f64,
    /// Out of it.
    pub(crate) output_w: f64,
    /// At the pack's terminals, load included.
    pub(crate) pack_w: f64,
}

impl Flows {
    /// Adds a span of `h_s` seconds by Simpson's rule from its start, middle and end.
    pub(crate) fn add(&mut self, h_s: f64, start: Self, middle: Self, end: Self) {
        let mean = |pick: fn(&Self) -> f64| h_s * (pick(&start) + 4.0 * pick(&middle) + pick(&end)) / 6.0;
        self.source_a += mean(|f| f.source_a);
        self.inside_w += mean(|f| f.inside_w);
        self.source_w += mean(|f| f.source_w);
        self.input_w += mean(|f| f.input_w);
        self.output_w += mean(|f| f.output_w);
        self.pack_w += mean(|f| f.pack_w);
    }
}

impl Feed {
    /// Lets everything that hangs on the source's voltage follow it, as it is set now.
    pub(crate) fn follow(&mut self, open_v: f64) {
        let sunk_v = self.supply.open_v - open_v;
        self.supply.open_v = open_v;
        if let Some(inputs) = self.inputs {
            (self.power_code, self.power_w) = inputs.least(self.supply);
        }
        let follows_hold = matches!(self.path, Path::Direct | Path::Series) && self.heat_w.is_none();
        if follows_hold {
            self.hold.volts -= sunk_v;
        }
        if let Some(drive) = &mut self.drive {
            let share = if let Path::Duty(duty) = self.path { duty } else { 1.0 };
            drive.volts -= sunk_v * share;
        }
    }

    /// Whether each of its limits is found at once beside such a load, whatever current it is sought from.
    pub(crate) fn is_straight(&self, load: LoadDraw) -> bool {
        let behind_wire = self.power_w.is_finite() && self.power_ohm > 0.0;
        self.lamps.is_none() && !(behind_wire && matches!(load, LoadDraw::PowerW { .. }))
    }

    /// Between a switch at some duty and the pack, Ω: its own path, and the source's side as seen behind it.
    pub(crate) fn ohm_at_duty(&self, duty: f64) -> f64 {
        let (Path::Duty(now), Some(drive)) = (self.path, self.drive) else { return 0.0 };
        drive.ohm + (duty * duty - now * now) * self.supply.total_ohm()
    }

    /// Turns a switch to another duty.
    pub(crate) fn turn_duty(&mut self, duty: f64) {
        let ohm = self.ohm_at_duty(duty);
        if let (Path::Duty(before), Some(drive)) = (self.path, &mut self.drive) {
            drive.volts += (duty - before) * self.supply.open_v;
            drive.ohm = ohm;
            self.path = Path::Duty(duty);
        }
    }

    /// What flows where while `total_a` reaches the pack's terminals at `pack_v`.
    pub(crate) fn flows(&self, pack_v: f64, total_a: f64) -> Flows {
        let out_v = pack_v + total_a * self.out_ohm;
        let output_w = out_v * total_a;
        let supply = self.supply;
        let from_source = |source_a: f64, source_v: f64| Flows {
            source_a,
            inside_w: source_a * source_a * supply.ohm,
            source_w: source_v * source_a,
            input_w: (source_v - source_a * supply.lead_ohm) * source_a,
            output_w,
            pack_w: pack_v * total_a,
        };
        match self.path {
            Path::Direct => from_source(total_a, out_v + self.diode_v + total_a * supply.lead_ohm),
            Path::Series => from_source(total_a, supply.open_v - total_a * supply.ohm),
            Path::Duty(duty) => from_source(duty * total_a, supply.open_v - duty * total_a * supply.ohm),
            Path::Switching { efficiency } => {
                let source_a = supply.current_for(output_w / efficiency, supply.total_ohm());
                from_source(source_a, supply.open_v - source_a * supply.ohm)
            }
        }
    }
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

/// What stands at the terminals at a moment close to the one sought.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Near {
    /// The pack's share and its load's, A.
    pub(crate) total_a: f64,
    pub(crate) pack_v: f64,
}

/// The pack with its load, as the chain before it sees them.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Terminals {
    pack: Thevenin,
    load: LoadDraw,
}

impl Terminals {
    pub(crate) fn new(pack: Thevenin, load: LoadDraw) -> Self {
        Self { pack, load }
    }

    /// Pack and a load of fixed current together are another Thevenin source.
    fn with_current_load(&self, load_a: f64) -> Thevenin {
        Thevenin { e_v: self.pack.e_v - self.pack.r_ohm * load_a, r_ohm: self.pack.r_ohm }
    }

    /// Current into the pack where a fixed total comes in, A.
    #[inline]
    fn pack_a(&self, total_a: f64) -> f64 {
        let pack = self.pack;
        match self.load {
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

    /// Terminal volts where a fixed total comes in.
    pub(crate) fn volts(&self, total_a: f64) -> f64 {
        self.pack.e_v + self.pack.r_ohm * self.pack_a(total_a)
    }

    /// The total at which `v + I·ohm = volts`, A.
    #[inline]
    pub(crate) fn at_line(&self, volts: f64, ohm: f64) -> f64 {
        let beside = |load_a: f64| {
            let pack = self.with_current_load(load_a);
            (volts - pack.e_v) / (pack.r_ohm + ohm)
        };
        match self.load {
            LoadDraw::None => beside(0.0),
            LoadDraw::CurrentA(a) => beside(a),
            LoadDraw::PowerW { watts, floor_v } => {
                // v²·(r + R) − v·(R·e + r·V) + R·r·W = 0, from i = (v − e)/r and I = i + W/v.
                let (e, r) = (self.pack.e_v, self.pack.r_ohm);
                larger_root(r + ohm, -(ohm * e + r * volts), ohm * r * watts)
                    .filter(|v| *v >= floor_v)
                    .map_or_else(|| beside(watts / floor_v), |v| (v - e) / r + watts / v)
            }
        }
    }

    /// The total at which `(v + I·ohm)·I = power`, A.
    #[inline]
    pub(crate) fn at_power(&self, power_w: f64, ohm: f64, near: Option<Near>) -> f64 {
        let beside = |load_a: f64| {
            let pack = self.with_current_load(load_a);
            larger_root(pack.r_ohm + ohm, pack.e_v, -power_w).unwrap_or(0.0)
        };
        match self.load {
            LoadDraw::None => beside(0.0),
            LoadDraw::CurrentA(a) => beside(a),
            LoadDraw::PowerW { watts, floor_v } => {
                let pack = self.pack;
                if let Some(near) = near.filter(|_| ohm > 0.0) {
                    return beside(watts / near.pack_v.max(floor_v));
                }
                let at_pack = larger_root(pack.r_ohm, pack.e_v, watts - power_w)
                    .map(|i| (i, pack.e_v + pack.r_ohm * i))
                    .filter(|(_, v)| *v >= floor_v)
                    .map_or_else(|| beside(watts / floor_v), |(i, v)| i + watts / v);
                if ohm <= 0.0 {
                    return at_pack;
                }
                rising_root(0.0, at_pack.max(0.0), |i| (self.volts(i) + i * ohm) * i - power_w)
            }
        }
    }

    /// The total that a source drives through lamps, A; near a known total by the lamps' tangent there.
    fn at_lamps(&self, drive: Line, lamps: Lamps, near: Option<Near>) -> f64 {
        let short = self.at_line(drive.volts, drive.ohm);
        if short <= 0.0 {
            return short;
        }
        let by_tangent = |from_a: f64| {
            let (drop_v, ohm) = lamps.tangent(from_a);
            self.at_line(drive.volts - drop_v + ohm * from_a, drive.ohm + ohm).min(short)
        };
        if let Some(near) = near {
            return by_tangent(near.total_a.clamp(0.0, short));
        }
        // The filaments' drop bends upwards: from above, each tangent comes closer and none goes past it.
        let mut total_a = short;
        for _ in 0..60 {
            let next_a = by_tangent(total_a).max(0.0);
            let moved_a = total_a - next_a;
            total_a = next_a;
            if moved_a.abs() <= 1e-12 * total_a {
                break;
            }
        }
        total_a
    }

    /// What a supply that has folded back gives, A: `I = a + b·v`, counted at the pack's terminals.
    fn at_fold(&self, folds: Folds) -> f64 {
        let pack = self.with_current_load(self.load.current_a(self.volts(0.0)));
        (folds.shorted_a + folds.per_v * pack.e_v) / (1.0 - folds.per_v * pack.r_ohm).max(0.1)
    }

    /// The most that flows before a linear stage, dropping from `volts` behind `ohm`, turns more
    /// than `heat_w` to heat, A; infinite where it never does.
    fn at_heat(&self, volts: f64, ohm: f64, heat_w: f64) -> f64 {
        // A load of constant power is taken as what it draws at rest: it draws less, and the module
        // drops less, once the charge lifts the voltage.
        let pack = self.with_current_load(self.load.current_a(self.volts(0.0)));
        let (a, b) = (pack.r_ohm + ohm, volts - pack.e_v);
        let discriminant = b * b - 4.0 * a * heat_w;
        if discriminant < 0.0 || b <= 0.0 { f64::INFINITY } else { 2.0 * heat_w / (b + discriminant.sqrt()) }
    }
}

/// Every limit of a feed by itself, as total amps at the pack's terminals.
///
/// `near`: a moment close to the one sought, for what has no closed form; who asks again with the
/// answer comes to it in a step or two. Without it such a limit is followed to its end.
#[inline]
pub(crate) fn each_limit(
    terminals: &Terminals,
    feed: &Feed,
    near: Option<Near>,
    mut offer: impl FnMut(LimitCode, f64),
) {
    if feed.current_a.is_finite() {
        offer(feed.current_code, feed.current_a);
    }
    if feed.power_w.is_finite() {
        offer(feed.power_code, terminals.at_power(feed.power_w, feed.power_ohm, near));
    }
    offer(feed.hold.code, terminals.at_line(feed.hold.volts, feed.hold.ohm));
    if let Some(drive) = feed.drive {
        let total_a = match feed.lamps {
            None => terminals.at_line(drive.volts, drive.ohm),
            Some(lamps) => terminals.at_lamps(drive, lamps, near),
        };
        offer(drive.code, total_a);
    }
    if let Some(heat_w) = feed.heat_w {
        let supply = feed.supply;
        offer(LimitCode::Thermal, terminals.at_heat(supply.open_v, supply.total_ohm() + feed.out_ohm, heat_w));
    }
    if let Some(folds) = feed.folds {
        offer(LimitCode::SourceCurrent, terminals.at_fold(folds));
    }
    if let Some(balance) = feed.balance {
        let shunted_a = balance.current_a + terminals.load.current_a(balance.from_v);
        offer(LimitCode::Balance, terminals.at_line(balance.from_v, 0.0).max(shunted_a));
    }
}

/// The operating point of a pack on a feed with a load across it.
///
/// Each limit is solved alone, in closed form or bracketed; the least holds. Without a feed the
/// load alone drives the pack. `near_a`: the current into the pack of an answer close by.
#[inline]
pub(crate) fn operating_point(
    pack: Thevenin,
    feed: Option<&Feed>,
    load: LoadDraw,
    near_a: Option<f64>,
) -> OperatingPoint {
    let terminals = Terminals::new(pack, load);
    let Some(feed) = feed else {
        return OperatingPoint { pack_a: terminals.pack_a(0.0), limit: LimitCode::Load };
    };
    let (mut total_a, mut limit) = (f64::INFINITY, feed.current_code);
    let near = near_a.map(|a| {
        let pack_v = pack.e_v + pack.r_ohm * a;
        Near { total_a: a + load.current_a(pack_v), pack_v }
    });
    each_limit(&terminals, feed, near, |code, a| {
        if a < total_a {
            (total_a, limit) = (a, code);
        }
    });
    // A supply takes no current back: below nothing the load alone drives the pack.
    if total_a <= 0.0 {
        return OperatingPoint { pack_a: terminals.pack_a(0.0), limit };
    }
    let unlit = feed.drive.filter(|_| feed.lamps.is_none());
    let held = [Some(feed.hold), unlit].into_iter().flatten().find(|line| line.code == limit);
    // Under a load of constant power a total belongs to two voltages: where one is held, it is that.
    let pack_a = match held.filter(|_| matches!(load, LoadDraw::PowerW { .. }) && pack.r_ohm > 0.0) {
        Some(line) => (line.volts - line.ohm * total_a - pack.e_v) / pack.r_ohm,
        None => terminals.pack_a(total_a),
    };
    OperatingPoint { pack_a, limit }
}

/// The current that carries some watts through a resistance to terminals at a voltage, A: `(v + I·R)·I = P`.
pub(crate) fn amps_into(watts: f64, terminal_v: f64, ohm: f64) -> f64 {
    let v = terminal_v.max(0.1);
    2.0 * watts / (v + (v * v + 4.0 * ohm * watts).sqrt())
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

/// The zero of a rising function between two brackets, by false position that halves a stale end's
/// weight; at most 60 steps.
fn rising_root(mut low: f64, mut high: f64, f: impl Fn(f64) -> f64) -> f64 {
    let (mut f_low, mut f_high) = (f(low), f(high));
    if f_low >= 0.0 {
        return low;
    }
    if f_high <= 0.0 {
        return high;
    }
    for _ in 0..60 {
        let x = (low * f_high - high * f_low) / (f_high - f_low);
        let f_x = f(x);
        if f_x < 0.0 {
            (low, f_low, f_high) = (x, f_x, f_high * 0.5);
        } else {
            (high, f_high, f_low) = (x, f_x, f_low * 0.5);
        }
        if high - low <= 1e-12 * high || f_x == 0.0 {
            return x;
        }
    }
    0.5 * (low + high)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn lamps_invert_and_take_their_inrush_cold() {
        let lamps = Lamps { rated_v: 12.0, rated_a: 21.0 / 12.0 };
        for v in [0.01, 0.3, 2.0, 12.0, 24.0] {
            assert!((lamps.drop_v(lamps.current_a(v)) - v).abs() < 1e-9 * v.max(1.0));
        }
        assert!((lamps.current_a(12.0) - 1.75).abs() < 1e-12);
        // Cold, the filament would take eleven times its rated current for a moment.
        assert!((12.0 / lamps.cold_ohm() / 1.75 - 11.0).abs() < 1e-9);
    }

    #[test]
    fn a_supply_gives_no_more_than_its_greatest_power() {
        let supply = Supply { open_v: 12.0, ohm: 0.5, lead_ohm: 0.1 };
        assert!((supply.power_at_current(1e6) - 60.0).abs() < 1e-9);
        assert!((supply.power_at_current(2.0) - 2.0 * (12.0 - 1.2)).abs() < 1e-12);
        assert!((supply.power_down_to(11.4) - 11.4).abs() < 1e-9);
    }
}
