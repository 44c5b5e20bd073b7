//! Packs that were left too low.

use super::line::{OfFamily, lines};

lines! { "deep" {
    /// Below this a cell is deeply discharged and is not charged as usual.
    LINE_V "line_v": OfFamily = |p| (p.precharge_below_v > 0.0).then_some(p.precharge_below_v), VoltACell, Below, DataSheets, [Plan, Rescue, Shelf, Match];
    /// Where only the mean of several cells is known one of them may stand lower: below empty the mean counts as deep.
    MEAN_V "mean_v": OfFamily = |p| p.mean_line_v(), VoltACell, Below, Choice, [Plan, Rescue];
    /// Lead resting lower than this begins with an hour of little current: flat for long, or one cell dead.
    SOFT_V "soft_v": OfFamily = |p| p.traits.in_blocks.then_some(11.6 / 6.0), VoltACell, Below, Practice, [Plan, Rescue, Shelf];
    /// Lead that is not above this after that hour has a dead cell.
    RECOVERED_V "recovered_v": f64 = 11.5 / 6.0, VoltACell, Below, Practice, [Plan, Rescue];
    /// Charged lead rests between this …
    CHARGED_LOW_V "charged_low_v": f64 = 2.06, VoltACell, Above, Handbook, [Plan, Rescue];
    /// … and this: so many of them and a dead one have the same sum as a flat battery.
    CHARGED_HIGH_V "charged_high_v": f64 = 2.18, VoltACell, Below, Handbook, [Plan, Rescue];
    /// Terminals that read less than this a cell behind a board are not joined to the cells.
    ASLEEP_V "asleep_v": f64 = 0.3, VoltACell, Below, Practice, [Plan];
    /// Terminals below this share of the cells' sum are not joined to them.
    JOINED "joined": f64 = 0.8, Share, Below, Meters, [Rescue];
    /// Cautious: lithium under this for longer than hours is given up.
    CAUTIOUS_V "cautious_v": OfFamily = |p| p.rescue_floors_v.map(|floors| floors.cautious_v), VoltACell, Below, Practice, [Rescue];
    /// Under this no practice brings lithium back.
    EXPERIENCED_V "experienced_v": OfFamily = |p| p.rescue_floors_v.map(|floors| floors.experienced_v), VoltACell, Below, Practice, [Rescue];
    /// Its charger takes over so many times its start voltage: a meter and a dial are that far off.
    START_OVER "start_over": f64 = 1.02, Share, Above, Meters, [Rescue];
    /// While current flows out a cell so far under its line, as a share of its nominal volts, was run down too far.
    UNDER_LOAD "under_load": f64 = 0.03, Share, Below, Choice, [Run];
    /// A precharge is set at least so far above where the pack stands, so that it comes to its end.
    PRECHARGE_OVER_V "precharge_over_v": f64 = 0.1, VoltACell, Above, Choice, [Rescue];
}}
