//! What a cell loses while nothing is connected.

use super::line::{OfFamily, lines};

lines! { "leaks" {
    /// A sound cell loses less than this a day once it has settled.
    SOUND_A_DAY_V "sound_a_day_v": OfFamily = |p| p.leaks.map(|leaks| leaks.sound_v), VoltACellADay, Above, Practice, [Match];
    /// A cell that loses more than this a day is shorted inside.
    SHORTED_A_DAY_V "shorted_a_day_v": OfFamily = |p| p.leaks.map(|leaks| leaks.shorted_v), VoltACellADay, Above, Practice, [Rescue, Match, Shelf];
    /// A pack that loses so many times what is usual for its kind is looked at.
    TIMES_USUAL "times_usual": f64 = 3.0, Share, Above, Choice, [Shelf];
}}
