//! Cells and packs apart from one another.

use super::line::{OfFamily, lines};

lines! { "cells" {
    /// Joined from further apart than this, what flows between them is worth waiting for.
    JOIN_V "join_v": f64 = 0.05, VoltACell, Above, Practice, [Plan, Match];
    /// Further apart than this nothing is joined.
    JOIN_STOP_V "join_stop_v": f64 = 0.10, VoltACell, Above, Practice, [Plan, Match];
    /// Cells so far apart are told of.
    APART_V "apart_v": f64 = 0.010, VoltACell, Above, Meters, [Plan];
    /// Sound cells of one pack do not stand so far apart at rest.
    ILL_V "ill_v": f64 = 0.10, VoltACell, Above, Practice, [Plan, Shelf];
    /// A cell so far behind its neighbours has failed; of lithium that is told while it is deeply discharged.
    FAILED_V "failed_v": OfFamily = |p| p.failed_behind_v(), VoltACell, Above, Handbook, [Plan, Rescue];
    /// A setting above full by less than this is what a dial is off.
    OVER_FULL_V "over_full_v": f64 = 0.006, VoltACell, Above, Meters, [Plan];
    /// Where the voltage is Rumek's own choice the highest cell is followed to this near its ceiling: nobody dials nearer.
    NEAR_CEILING_V "near_ceiling_v": f64 = 0.01, VoltACell, Above, Meters, [Plan];
    /// What flows at the first touch of two cells is harmless up to so many times their capacity.
    TOUCH_C "touch_c": f64 = 1.0, CRate, Below, Practice, [Match];
    /// A cell of more resistance than so many times the others' middle is worn.
    RESISTANCE "resistance": f64 = 2.0, Share, Above, Practice, [Match];
    /// A cell of less capacity than this share of the others' middle ends their charge early.
    CAPACITY "capacity": f64 = 0.7, Share, Below, Practice, [Match];
    /// While current flows a cell so far below the others is empty or has failed.
    BEHIND_V "behind_v": f64 = 0.3, VoltACell, Above, Practice, [Run];
    /// Near full a cell so far above the others is full before them.
    AHEAD_V "ahead_v": f64 = 0.03, VoltACell, Above, Practice, [Run];
    /// While a pack is run down a cell so far below the others comes to its end first …
    FIRST_V "first_v": f64 = 0.1, VoltACell, Above, Practice, [Run];
    /// … once it is this near to the cut-off.
    NEAR_END_V "near_end_v": f64 = 0.15, VoltACell, Below, Choice, [Run];
    /// Volts that are missing are a cell's from this share of a cell's nominal volts on.
    MISSING "missing": f64 = 0.5, Share, Above, Choice, [Run];
    /// A pack that falls at once by at least this share of a cell's nominal volts …
    LOST_LEAST "lost_least": f64 = 0.6, Share, Above, Choice, [Run];
    /// … and by no more than this has lost a cell.
    LOST_MOST "lost_most": f64 = 1.25, Share, Below, Choice, [Run];
}}
