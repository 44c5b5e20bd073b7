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
}}
