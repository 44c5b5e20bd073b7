//! Copper, what guards it, and what warms on purpose.

/// A lead: two wires with their plugs, and a fuse where there is one.
#[derive(Clone, Debug)]
pub struct Wire {
    /// There and back, Ω.
    pub ohm: f64,
    /// What it carries for hours, A.
    pub carries_a: f64,
    /// Its fuse's rating, A.
    pub fuse_a: Option<f64>,
    melted: f64,
    broken: bool,
}

impl Wire {
    /// A cold lead.
    #[must_use]
    pub fn cold(ohm: f64, carries_a: f64, fuse_a: Option<f64>) -> Self {
        Self { ohm, carries_a, fuse_a, melted: 0.0, broken: false }
    }

    /// Whether it still conducts.
    #[must_use]
    pub fn whole(&self) -> bool {
        !self.broken
    }

    /// Warms it for a while; whether it parted.
    pub(crate) fn carry(&mut self, current_a: f64, for_s: f64) -> bool {
        /// At twice its rating an ordinary fuse melts within some ten seconds.
        const MELTS_S: f64 = 30.0;
        if self.broken || for_s <= 0.0 {
            return false;
        }
        if let Some(fuse_a) = self.fuse_a {
            let over = (current_a / fuse_a).powi(2) - 1.2;
            self.melted = (self.melted + for_s * over / MELTS_S).max(0.0);
        }
        self.broken = self.melted >= 1.0 || current_a.abs() > 3.0 * self.carries_a;
        self.broken
    }
}

/// Tungsten lamps side by side. The current of a hot one grows with the 0.55th power of its volts; cold it is a
/// resistance of an eleventh.
#[derive(Clone, Copy, Debug)]
pub struct Lamp {
    /// Of one, V.
    pub rated_v: f64,
    /// Of all, A.
    pub rated_a: f64,
}

impl Lamp {
    /// What flows at some volts, A, and its slope, A/V.
    pub(crate) fn at(&self, volts: f64) -> (f64, f64) {
        const POWER: f64 = 0.55;
        let cold = 11.0 * self.rated_a / self.rated_v;
        let v = volts.max(0.0);
        let hot_a = self.rated_a * (v / self.rated_v).powf(POWER);
        if v * cold <= hot_a || v <= 0.0 { (volts * cold, cold) } else { (hot_a, POWER * hot_a / v) }
    }

    /// What flows for a moment when it is switched on cold, A.
    #[must_use]
    pub fn cold_a(&self, volts: f64) -> f64 {
        11.0 * self.rated_a / self.rated_v * volts.max(0.0)
    }
}
