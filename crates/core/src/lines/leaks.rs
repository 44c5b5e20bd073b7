//! What a cell loses while nothing is connected.

use super::line::{OfFamily, lines};

lines! { "leaks" {
    /// A sound cell loses less than this a day once it has settled.
    SOUND_A_DAY_V "sound_a_day_v": OfFamily = |p| p.leaks.map(|leaks| leaks.sound_v), VoltACellADay, Above, Practice, [Rescue, Match];
    /// A cell that loses more than this a day is shorted inside.
    SHORTED_A_DAY_V "shorted_a_day_v": OfFamily = |p| p.leaks.map(|leaks| leaks.shorted_v), VoltACellADay, Above, Practice, [Rescue, Match, Shelf];
    /// Of cells that were not read all but one are taken to lose this share of what a sound one may.
    OTHERS "others": f64 = 0.5, Share, Above, Choice, [Rescue];
    /// A cell with a flat curve falls by itself at its very top: so much of it is taken out before a leak is looked for.
    OFF_ITS_TOP "off_its_top": f64 = 0.1, Share, Above, Practice, [Rescue];
    /// A pack that loses so many times what is usual for its kind is looked at.
    TIMES_USUAL "times_usual": f64 = 3.0, Share, Above, Choice, [Shelf];
}}
