//! What the readings of a charge that is watched say.

use super::line::lines;

lines! { "readings" {
    /// A current below this share of what is expected is next to none.
    NONE "none": f64 = 0.1, Share, Below, Choice, [Rescue];
    /// … and above this share it flows.
    FLOWS "flows": f64 = 0.3, Share, Above, Choice, [Rescue];
    /// Lead that took so much of its capacity, however slowly, is not sulphated through.
    TAKEN "taken": f64 = 0.1, Share, Above, Choice, [Rescue];
    /// A pack that reads emptier than this may also be a fuller one of fewer cells.
    NEARLY_EMPTY "nearly_empty": f64 = 0.08, Share, Below, Choice, [Plan];
    /// A cell is given this long before it counts as staying behind.
    SETTLING_H "settling_h": f64 = 600.0 / 3600.0, Hour, Above, Choice, [Rescue];
    /// A reading decides about the longest time only if it is no older than this.
    FRESH_H "fresh_h": f64 = 120.0 / 3600.0, Hour, Below, Choice, [Rescue];
    /// What flowed over a longer silence between two readings is not known.
    SILENCE_H "silence_h": f64 = 0.5, Hour, Above, Choice, [Run];
    /// A reading of a resting pack counts from this share of its time on.
    EARLY "early": f64 = 0.83, Share, Below, Choice, [Rescue];
    /// Once this share of a pack has come out with only the pack's volts read, its cells are to be read.
    UNREAD "unread": f64 = 0.3, Share, Above, Choice, [Run];
    /// Readings that settle less than this share of what was uncertain teach nothing that is worth keeping.
    TEACHES "teaches": f64 = 0.15, Share, Below, Choice, [Run];
}}
