//! Who ends a charge, and when it has to be ended.

use super::line::lines;

lines! { "ends" {
    /// Up to this nickel bears being forgotten on charge.
    FORGIVING_C "forgiving_c": f64 = 0.12, CRate, Above, DataSheets, [Plan];
    /// From this on a full nickel cell shows it by falling volts.
    FALLS_FROM_C "falls_from_c": f64 = 0.5, CRate, Above, DataSheets, [Plan, Run];
    /// A charge of more hours than this is one that nobody stays with.
    DAYS_H "days_h": f64 = 36.0, Hour, Above, Choice, [Plan];
    /// Lead that was left too low is charged for so long before it is read again, which tells whether a cell is dead.
    FIRST_HOUR_H "first_hour_h": f64 = 1.0, Hour, Above, Practice, [Plan, Rescue];
    /// A charge that a clock ends gives so many times the capacity: some of it is always lost as warmth.
    TIMED_GIVES "timed_gives": f64 = 1.5, Share, Above, DataSheets, [Plan, Rescue];
    /// … and a fast one, which loses less.
    FAST_TIMED_GIVES "fast_timed_gives": f64 = 1.25, Share, Above, DataSheets, [Plan];
    /// A precharge that has come to its end so often and rested too low each time keeps nothing.
    ROUNDS "rounds": f64 = 3.0, Times, Above, Choice, [Rescue];
    /// What shows no life within this has none: a living lithium cell rises within it at a twentieth of its capacity.
    LIFE_H "life_h": f64 = 1.0, Hour, Above, Practice, [Rescue];
    /// Lead that takes no current at full voltage is given this long: hardened sulphate dissolves in hours to a day.
    SULPHATED_H "sulphated_h": f64 = 24.0, Hour, Above, Practice, [Rescue];
    /// … and as long again while what it takes has grown to so many times what it took half way.
    LOOSENS "loosens": f64 = 1.5, Share, Below, Choice, [Rescue];
    /// A rest that a meter cannot decide sooner is decided after so many days.
    REST_DAYS "rest_days": f64 = 6.5, Day, Above, Choice, [Rescue];
    /// A board is tried for so long at a time.
    WAKE_TRY_H "wake_try_h": f64 = 1.0 / 60.0, Hour, Above, Practice, [Rescue];
    /// Below this state of charge the volts fall so steeply that they tell nothing of a missing cell.
    STEEP "steep": f64 = 0.15, Share, Below, Choice, [Run];
    /// A pack that is found ended by itself and rests at this state of charge or below has come to its cut-off.
    RUN_DOWN "run_down": f64 = 0.25, Share, Below, Choice, [Run];
}}
