//! How cold and how warm a pack may be.

use super::line::{OfFamily, lines};

lines! { "warmth" {
    /// Colder than this the kind is not charged, by its data sheets.
    CHARGE_MIN_C "charge_min_c": OfFamily = |p| Some(p.window.min_c), Celsius, Below, DataSheets, [Plan, Rescue];
    /// Warmer than this the kind is not charged, and a charge is broken off.
    CHARGE_MAX_C "charge_max_c": OfFamily = |p| Some(p.window.max_c), Celsius, Above, DataSheets, [Plan, Rescue, Run];
    /// A charge that begins as warm as this hardly ends before it has to be broken off.
    HOT_FROM_C "hot_from_c": OfFamily = |p| p.warmth.hot_from_c.is_finite().then_some(p.warmth.hot_from_c), Celsius, Above, DataSheets, [Plan, Rescue];
    /// So close under it somebody is told to let it cool.
    NEARLY_HOT_K "nearly_hot_k": f64 = 5.0, Kelvin, Below, Choice, [Plan];
    /// A pack that begins so near to what breaks it off is broken off at once.
    START_UNDER_K "start_under_k": f64 = 2.0, Kelvin, Below, Choice, [Plan, Rescue];
    /// A sound lithium pack warms by some kelvin over its surroundings; by this much only one that is failing.
    WARMER_K "warmer_k": f64 = 10.0, Kelvin, Above, Practice, [Plan, Rescue, Run];
    /// What the data sheets allow in the cold, taken so many times, plates for certain.
    COLD_OVER "cold_over": f64 = 2.0, Share, Above, Handbook, [Plan];
    /// A charge may take so many times as long as is likely.
    MAY_TAKE "may_take": f64 = 1.25, Share, Above, Choice, [Plan];
    /// Lithium so hot with nothing connected feeds on itself: the sun makes 50 °C, the first layers of a cell break down from 70 °C on.
    RUNAWAY_C "runaway_c": f64 = 60.0, Celsius, Above, Handbook, [Rescue];
    /// Charged with a fast current, a full nickel pack warms so much a minute; any other pack that does is in trouble.
    WARMING_K_MIN "warming_k_min": f64 = 1.0, KelvinAMinute, Above, Practice, [Run];
    /// Below this rate a full nickel pack warms half as fast.
    WARMS_SLOWER_C "warms_slower_c": f64 = 0.75, CRate, Below, Practice, [Run];
    /// A discharge at 1C warms a pack by about ten; one of twice that is too fast for the pack.
    OUT_WARMER_K "out_warmer_k": f64 = 20.0, Kelvin, Above, Practice, [Run];
}}
