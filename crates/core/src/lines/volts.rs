//! Volts that hurt.

use super::line::lines;

lines! { "volts" {
    /// Extra-low voltage ends here: above it a touch kills, and an arc does not go out by itself.
    LETHAL_V "lethal_v": f64 = 120.0, Volt, Above, Standard, [Plan, Rescue, Test, Match];
    /// From here on both poles in two hands can kill; below it dry skin protects.
    TOUCH_V "touch_v": f64 = 60.0, Volt, Above, Standard, [Plan, Rescue, Test, Match];
    /// A touch that drives more than this pits contacts, and startles whoever holds them.
    SPARK_A "spark_a": f64 = 60.0, Ampere, Above, Choice, [Plan];
    /// An arc between contacts that part under current burns on above this.
    ARC_V "arc_v": f64 = 30.0, Volt, Above, Handbook, [Plan];
}}
