//! Quantities: typed SI values inside, and the text people write for them.
//!
//! Inside the core a quantity is a [`uom`] type. At the edge it is a plain number in the unit
//! its field is named for (`_v`, `_a`, `_ah`, …), and on screen it is what [`show`] makes of it.

pub use uom::si::f64::{
    Capacitance, ElectricCharge, ElectricCurrent, ElectricPotential, ElectricalResistance, Energy, Power,
    TemperatureInterval, ThermodynamicTemperature, Time,
};
use uom::si::{
    capacitance::farad, electric_charge::ampere_hour, electric_current::ampere, electric_potential::volt,
    electrical_resistance::ohm, energy::watt_hour, power::watt, thermodynamic_temperature::degree_celsius,
    time::second,
};

macro_rules! quantity_helpers {
    ($($make:ident, $value:ident, $type:ident, $unit:ident, $doc:literal;)*) => {$(
        #[doc = concat!("A quantity from its number of ", $doc, ".")]
        #[must_use]
        pub fn $make(value: f64) -> $type { $type::new::<$unit>(value) }

        #[doc = concat!("A quantity's number of ", $doc, ".")]
        #[must_use]
        pub fn $value(quantity: $type) -> f64 { quantity.get::<$unit>() }
    )*};
}

quantity_helpers! {
    volts, in_volts, ElectricPotential, volt, "volts";
    amps, in_amps, ElectricCurrent, ampere, "amperes";
    ohms, in_ohms, ElectricalResistance, ohm, "ohms";
    amp_hours, in_amp_hours, ElectricCharge, ampere_hour, "ampere-hours";
    watts, in_watts, Power, watt, "watts";
    watt_hours, in_watt_hours, Energy, watt_hour, "watt-hours";
    farads, in_farads, Capacitance, farad, "farads";
    seconds, in_seconds, Time, second, "seconds";
    celsius, in_celsius, ThermodynamicTemperature, degree_celsius, "degrees Celsius";
}

/// A charge rate: current over nameplate capacity, 1/h.
#[derive(Clone, Copy, Debug, PartialEq, PartialOrd)]
pub struct CRate(pub f64);

impl CRate {
    /// The current this rate means for a capacity.
    #[must_use]
    pub fn current(self, capacity: ElectricCharge) -> ElectricCurrent {
        amps(self.0 * in_amp_hours(capacity))
    }

    /// The rate a current means for a capacity.
    #[must_use]
    pub fn of(current: ElectricCurrent, capacity: ElectricCharge) -> Self {
        Self(in_amps(current) / in_amp_hours(capacity))
    }
}

/// What a text is to be read as.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Kind {
    /// Volts.
    Voltage,
    /// Amperes.
    Current,
    /// Ampere-hours; a bare number is in the unit shown.
    Charge,
    /// Watt-hours.
    Energy,
    /// Watts.
    Power,
    /// Milliohms.
    Resistance,
    /// Farads.
    Capacitance,
    /// Degrees Celsius.
    Temperature,
    /// Hours.
    Hours,
    /// A fraction; a bare number over 1 is a percentage.
    Fraction,
    /// C-rate.
    Rate,
    /// A whole number.
    Count,
    /// A number without a unit, such as a price.
    Number,
    /// A wire's gauge; 1/0 is 0, 2/0 is −1.
    Gauge,
    /// Square millimetres.
    Area,
    /// Metres.
    Length,
}

impl Kind {
    /// Every kind, with the name `docs/formats/quantities.csv` uses for it.
    pub const NAMES: &'static [(&'static str, Self)] = &[
        ("voltage", Self::Voltage),
        ("current", Self::Current),
        ("charge", Self::Charge),
        ("energy", Self::Energy),
        ("power", Self::Power),
        ("resistance", Self::Resistance),
        ("capacitance", Self::Capacitance),
        ("temperature", Self::Temperature),
        ("hours", Self::Hours),
        ("fraction", Self::Fraction),
        ("rate", Self::Rate),
        ("count", Self::Count),
        ("number", Self::Number),
        ("gauge", Self::Gauge),
        ("area", Self::Area),
        ("length", Self::Length),
    ];

    /// The units a text may carry, in lower case, and what each multiplies by; the first is shown.
    fn suffixes(self) -> &'static [(&'static str, f64)] {
        match self {
            Self::Voltage => &[("v", 1.0), ("mv", 1e-3), ("kv", 1e3), ("volt", 1.0), ("volts", 1.0)],
            Self::Current => &[("a", 1.0), ("ma", 1e-3), ("amp", 1.0), ("amps", 1.0)],
            Self::Charge => &[("ah", 1.0), ("mah", 1e-3)],
            Self::Energy => &[("wh", 1.0), ("kwh", 1e3), ("mwh", 1e-3)],
            Self::Power => &[("w", 1.0), ("mw", 1e-3), ("kw", 1e3), ("watt", 1.0), ("watts", 1.0)],
            Self::Resistance => &[("mω", 1.0), ("mohm", 1.0), ("ω", 1e3), ("ohm", 1e3)],
            Self::Capacitance => &[("f", 1.0), ("kf", 1e3), ("mf", 1e-3)],
            Self::Temperature => &[("°c", 1.0), ("c", 1.0), ("°", 1.0)],
            Self::Hours => &[("h", 1.0), ("min", 1.0 / 60.0), ("s", 1.0 / 3600.0)],
            Self::Fraction => &[("%", 0.01)],
            Self::Rate => &[("c", 1.0)],
            Self::Count => &[("s", 1.0), ("p", 1.0)],
            Self::Number => &[],
            Self::Gauge => &[("awg", 1.0), ("ga", 1.0)],
            Self::Area => &[("mm²", 1.0), ("mm2", 1.0)],
            Self::Length => &[("m", 1.0), ("cm", 0.01), ("mm", 1e-3)],
        }
    }
}

/// Reads a quantity as people write it, into the unit its document field is named for.
///
/// A decimal comma is accepted, as is no unit at all.
///
/// # Errors
/// A sentence saying what would be allowed.
pub fn parse(kind: Kind, text: &str) -> Result<f64, String> {
    let compact: String = text
        .trim()
        .to_lowercase()
        .chars()
        .filter(|c| !c.is_whitespace())
        .map(|c| match c {
            '−' => '-',
            'Ω' | '\u{2126}' => 'ω',
            other => other,
        })
        .collect();
    let allowed = || format!("write {}", example(kind));
    if kind == Kind::Hours
        && let Some(hours) = hours_and_minutes(&compact)
    {
        return Ok(hours);
    }
    // 1/0, 2/0 … are the gauges thicker than 1.
    let noughts = compact.strip_suffix("awg").unwrap_or(&compact).strip_suffix("/0").and_then(|n| n.parse::<u8>().ok());
    if let (Kind::Gauge, Some(n @ 1..=4)) = (kind, noughts) {
        return Ok(1.0 - f64::from(n));
    }
    // A rate's two ends: the upper one counts.
    if kind == Kind::Rate
        && let Some((low, high)) = compact.split_once(['-', '–'])
        && !low.is_empty()
    {
        parse(kind, low)?;
        return parse(kind, high);
    }
    let split = compact.find(|c: char| !is_of_number(c)).unwrap_or(compact.len());
    let (digits, suffix) = compact.split_at(split);
    let number = match written(digits, suffix, kind).ok_or_else(allowed)? {
        Written::One(number) => number,
        Written::Either { grouped, decimal } => {
            return Err(format!(
                "{digits} may be {} or {}: write one of them",
                trimmed(grouped, 0),
                trimmed(decimal, 3)
            ));
        }
    };
    let value = if suffix.is_empty() {
        match kind {
            Kind::Fraction if number > 1.0 => number / 100.0,
            _ => number,
        }
    } else if kind == Kind::Temperature && matches!(suffix, "f" | "°f") {
        from_fahrenheit(number)
    } else {
        let factor =
            kind.suffixes().iter().find(|(unit, _)| *unit == suffix).map(|(_, factor)| factor).ok_or_else(allowed)?;
        number * factor
    };
    let whole = matches!(kind, Kind::Count | Kind::Gauge);
    if !value.is_finite() || (whole && value.fract() != 0.0) {
        return Err(allowed());
    }
    Ok(value)
}

/// Whether a character may stand in a number.
pub(crate) fn is_of_number(c: char) -> bool {
    matches!(c, '0'..='9' | '.' | ',' | '-' | '+' | '\'' | '’')
}

/// A number as it was written.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) enum Written {
    One(f64),
    /// `5,000`: five thousand to some, five to others.
    Either {
        grouped: f64,
        decimal: f64,
    },
}

/// What digits with points, commas or apostrophes among them mean before a unit; `None` where they make
/// no number.
///
/// The last of two unlike marks is the decimal one. One mark before exactly three digits groups thousands
/// before a thousandth of a unit (nobody writes thousandths of a mAh); a comma there before Ah, Wh, W or F
/// may mean either; else it is a decimal mark.
pub(crate) fn written(digits: &str, suffix: &str, kind: Kind) -> Option<Written> {
    let plain: String = digits.chars().filter(|c| !matches!(c, '\'' | '’')).collect();
    let (sign, body) = match plain.strip_prefix(['-', '+']) {
        Some(body) => (if plain.starts_with('-') { -1.0 } else { 1.0 }, body),
        None => (1.0, plain.as_str()),
    };
    let value =
        |text: &str| text.parse::<f64>().ok().map(|n| sign * n).filter(|_| text.chars().any(|c| c.is_ascii_digit()));
    let Some(last) = body.rfind([',', '.']) else { return value(body).map(Written::One) };
    let mark = body.as_bytes()[last] as char;
    let (before, after) = (&body[..last], &body[last + 1..]);
    let grouped = body.replace([',', '.'], "");
    let groups = body.split([',', '.']).collect::<Vec<_>>();
    let thousands = groups[1..].iter().all(|group| group.len() == 3) && matches!(groups[0].len(), 1..=3);
    if before.contains([',', '.']) {
        if !before.contains(mark) {
            let whole: Vec<&str> = before.split([',', '.']).collect();
            let fine = whole[1..].iter().all(|group| group.len() == 3);
            return value(&format!("{}.{after}", whole.concat())).filter(|_| fine).map(Written::One);
        }
        let alike = body.chars().filter(|c| matches!(c, ',' | '.')).all(|c| c == mark);
        return value(&grouped).filter(|_| thousands && alike).map(Written::One);
    }
    let decimal = value(&format!("{before}.{after}"))?;
    if !thousands || before == "0" {
        return Some(Written::One(decimal));
    }
    let milli = matches!(suffix, "mah" | "ma" | "mv" | "mw" | "mwh");
    let either = mark == ',' && matches!(kind, Kind::Charge | Kind::Energy | Kind::Power | Kind::Capacitance);
    let grouped = value(&grouped)?;
    Some(match (milli, either) {
        (true, _) => Written::One(grouped),
        (false, true) => Written::Either { grouped, decimal },
        (false, false) => Written::One(decimal),
    })
}

/// `1h30`, `1:30`, `1h30min`.
fn hours_and_minutes(text: &str) -> Option<f64> {
    let (hours, minutes) = text.split_once(['h', ':'])?;
    let minutes = minutes.trim_end_matches("min").trim_end_matches('m');
    if minutes.is_empty() {
        return None;
    }
    let minutes: f64 = minutes.parse().ok().filter(|m| (0.0..60.0).contains(m))?;
    let hours: f64 = hours.parse().ok().filter(|h| *h >= 0.0)?;
    Some(hours + minutes / 60.0)
}

fn example(kind: Kind) -> &'static str {
    match kind {
        Kind::Voltage => "volts, such as 25.2 V or 850 mV",
        Kind::Current => "amps, such as 4 A or 350 mA",
        Kind::Charge => "a capacity, such as 4 Ah or 4000 mAh",
        Kind::Energy => "an energy, such as 74 Wh",
        Kind::Power => "watts, such as 90 W",
        Kind::Resistance => "a resistance, such as 12 mΩ",
        Kind::Capacitance => "a capacitance, such as 3000 F",
        Kind::Temperature => "a temperature, such as 20 °C",
        Kind::Hours => "a time, such as 1h30, 90 min or 1.5 h",
        Kind::Fraction => "a share, such as 80 % or 0.8",
        Kind::Rate => "a rate, such as 1C or 0.5",
        Kind::Count => "a whole number",
        Kind::Number => "a number, such as 0.30",
        Kind::Gauge => "a gauge, such as 16 AWG or 2/0",
        Kind::Area => "a cross-section, such as 2.5 mm²",
        Kind::Length => "a length, such as 1.5 m or 30 cm",
    }
}

/// Shows a value of a kind, normalised, with its unit.
#[must_use]
pub fn show(kind: Kind, value: f64) -> String {
    match kind {
        Kind::Voltage => format!("{} V", trimmed(value, 3)),
        Kind::Current => format!("{} A", trimmed(value, 3)),
        Kind::Charge => format!("{} Ah", trimmed(value, 3)),
        Kind::Energy => format!("{} Wh", trimmed(value, 2)),
        Kind::Power => format!("{} W", trimmed(value, 2)),
        Kind::Resistance => format!("{} mΩ", trimmed(value, 2)),
        Kind::Capacitance => format!("{} F", trimmed(value, 2)),
        Kind::Temperature => format!("{} °C", trimmed(value, 1)),
        Kind::Hours => show_hours(value),
        Kind::Fraction => format!("{} %", trimmed(value * 100.0, 1)),
        Kind::Rate => format!("{}C", trimmed(value, 3)),
        Kind::Count => trimmed(value, 0),
        Kind::Number => trimmed(value, 4),
        Kind::Gauge if value < 0.5 => format!("{}/0 AWG", trimmed(1.0 - value, 0)),
        Kind::Gauge => format!("{} AWG", trimmed(value, 0)),
        Kind::Area => format!("{} mm²", trimmed(value, 2)),
        Kind::Length => format!("{} m", trimmed(value, 2)),
    }
}

/// A number with at most `places` decimals and no trailing zeros; the minus is a true minus sign.
#[must_use]
pub fn trimmed(value: f64, places: usize) -> String {
    let mut text = format!("{value:.places$}");
    if text.contains('.') {
        text.truncate(text.trim_end_matches('0').trim_end_matches('.').len());
    }
    if text == "-0" {
        text.remove(0);
    }
    text.replace('-', "−")
}

/// A time as `43 min` or `1 h 02`.
#[must_use]
pub fn show_hours(hours: f64) -> String {
    let minutes = (hours * 60.0).round().max(0.0);
    if minutes < 60.0 {
        format!("{minutes:.0} min")
    } else {
        format!("{:.0} h {:02.0}", (minutes / 60.0).floor(), minutes % 60.0)
    }
}

/// Down to a whole number of steps.
pub(crate) fn floor_to(value: f64, step: f64) -> f64 {
    let steps = (value / step + 1e-6).floor();
    // Through the decimal text, so that 25.2 does not show as 25.200000000000003.
    (steps * step * 1e6).round() / 1e6
}

/// Degrees Fahrenheit as °C.
pub(crate) fn from_fahrenheit(degrees: f64) -> f64 {
    (degrees - 32.0) / 1.8
}

/// A number to six significant digits.
pub(crate) fn significant(value: f64) -> f64 {
    if value == 0.0 || !value.is_finite() {
        return value;
    }
    let size = value.abs();
    let places = 5 - decade(size);
    // Six digits fit a whole number, and cutting that off is cheaper than a call that rounds.
    let whole = |digits: f64| f64::from((digits + 0.5) as i32);
    let rounded = match TENS.get(places.unsigned_abs() as usize) {
        Some(tens) if places >= 0 => whole(size * tens) / tens,
        Some(tens) => whole(size / tens) * tens,
        None => return value,
    };
    rounded.copysign(value)
}

/// Powers of ten that are exact.
const TENS: [f64; 23] = [
    1e0, 1e1, 1e2, 1e3, 1e4, 1e5, 1e6, 1e7, 1e8, 1e9, 1e10, 1e11, 1e12, 1e13, 1e14, 1e15, 1e16, 1e17, 1e18, 1e19, 1e20,
    1e21, 1e22,
];

/// The power of ten that a normal number above nothing lies at or above. A curve has thousands of numbers: its binary
/// exponent says which of two it is, at a tenth of a logarithm's cost.
fn decade(value: f64) -> i32 {
    let binary = ((value.to_bits() >> 52) & 0x7ff) as i32 - 1023;
    // log₁₀ 2 as a fraction of 2³², which is near enough for any exponent.
    let low = ((i64::from(binary) * 1_292_913_986) >> 32) as i32;
    let reached = match TENS.get((low + 1).unsigned_abs() as usize) {
        Some(tens) if low + 1 >= 0 => value >= *tens,
        Some(tens) => value * tens >= 1.0,
        None => false,
    };
    low + i32::from(reached)
}

#[cfg(test)]
mod tests {
    use super::significant;

    #[test]
    fn six_digits_are_those_that_the_number_is_written_with() {
        for place in -16..=16 {
            for mantissa in [1.0, 1.000_000_4, 1.234_567_8, 9.999_994_9, 9.999_995_1, 7.389_056_1, 2.0_f64.sqrt()] {
                let value = mantissa * 10f64.powi(place);
                let written: f64 = format!("{value:.5e}").parse().unwrap_or(f64::NAN);
                for sign in [1.0, -1.0] {
                    let told = significant(sign * value);
                    assert!((told - sign * written).abs() <= 1e-13 * written, "{value} became {told}, not {written}");
                }
            }
        }
        assert_eq!(significant(0.0), 0.0);
        assert_eq!(significant(f64::INFINITY), f64::INFINITY);
    }
}
