//! What a cell loses while nothing is connected.

use super::line::{OfFamily, lines};

lines! { "leaks" {
    /// A sound cell loses less than this a day once it has settled.
    SOUND_A_DAY_V "sound_a_day_v": OfFamily = |p| p.leaks.map(|leaks| leaks.sound_v), VoltACellADay, Above, Practice, [Rescue, Match];
    /// A cell that loses more than this a day is shorted inside.
    SHORTED_A_DAY_V "shorted_a_day_v": OfFamily = |p| p.leaks.map(|leaks| leaks.shorted_v), VoltACellADay, Above, Practice, [Rescue, Match, Shelf];
    /// Of cells that were not read all but one are taken to lose this share of what a sound one may.
    OTHERS "others": f64 = 0.5, Share, Above, Choice, [Rescue];
    /// Where the voltage falls by itself at the very top a leak is looked for a tenth below it, and where the curve is flat,
    /// near empty.
    LOOKED_FOR_AT "looked_for_at": OfFamily = |p| p.shows_a_leak_at(), Share, Above, Practice, [Rescue];
    /// A pack that loses so many times what is usual for its kind is looked at.
    TIMES_USUAL "times_usual": f64 = 3.0, Share, Above, Choice, [Shelf];
}}
