//! Every chemistry that has figures.

use std::sync::LazyLock;

use super::profile::Profile;
use super::{capacitor, lead, lithium, nickel, sodium};
use crate::codes::Chemistry;

static PROFILES: LazyLock<Vec<Profile>> = LazyLock::new(|| {
    [lithium::profiles(), sodium::profiles(), nickel::profiles(), lead::profiles(), capacitor::profiles()].concat()
});

/// The chemistry that a word of a label names, what is no letter and no figure left out.
pub(crate) fn named(word: &str) -> Option<Chemistry> {
    let plain: String = word.chars().filter(char::is_ascii_alphanumeric).collect();
    PROFILES.iter().find(|profile| profile.named.contains(&plain.as_str())).map(|profile| profile.chemistry)
}

/// The figures of a chemistry; `None` for `custom`, whose figures come with the pack.
pub(crate) fn profile(chemistry: Chemistry) -> Option<&'static Profile> {
    PROFILES.iter().find(|p| p.chemistry == chemistry)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_code_but_custom_has_a_profile_and_its_table_figures() {
        for &code in Chemistry::ALL {
            assert_eq!(profile(code).is_some(), code != Chemistry::Custom, "{}", code.code());
        }
    }

    #[test]
    fn open_circuit_curves_rise_and_invert() {
        for p in PROFILES.iter() {
            let mut last = f64::NEG_INFINITY;
            for step in 0..=1000 {
                let soc = f64::from(step) / 1000.0;
                let (v, _) = p.ocv.at(soc);
                assert!(v >= last, "{} falls at {soc}", p.name);
                last = v;
                assert!((p.ocv.soc_at(v) - soc).abs() < 6e-3, "{} at {soc}", p.name);
            }
            assert!(p.ocv.at(1.0).0 <= p.full_v + 1e-9, "{} rests above full", p.name);
        }
    }

    #[test]
    fn fast_response_is_less_than_the_ten_second_resistance() {
        for p in PROFILES.iter() {
            let fast: f64 = p.rc.iter().map(|rc| rc.ratio * (1.0 - (-10.0 / rc.tau_s).exp())).sum();
            assert!(fast < 0.9, "{}: {fast}", p.name);
        }
    }

    /// No kind lies near the line between those whose voltage falls at the very top and those whose does not.
    #[test]
    fn a_kind_falls_at_its_top_or_plainly_does_not() {
        for profile in PROFILES.iter() {
            let steeper = profile.ocv.at(1.0).1 / profile.ocv.at(0.9).1;
            let falls = profile.falls_at_its_top();
            let plain = if falls { steeper > 3.3 } else { !profile.traits.burns || steeper < 2.7 };
            assert!(plain, "{}: {steeper} times as steep, and falls: {falls}", profile.name);
        }
    }
}
