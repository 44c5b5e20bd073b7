//! When a pack is worn, and when it is given up.

use super::line::lines;

lines! { "wear" {
    /// A pack that gives less than this share of its label is worn.
    WORN "worn": f64 = 0.8, Share, Below, Standard, [Rescue, Test, Shelf, Run];
    /// One that gives less than this is retired.
    RETIRE "retire": f64 = 0.6, Share, Below, Practice, [Rescue, Test, Shelf, Run];
    /// A resistance grown by so many times is looked at.
    GROWN "grown": f64 = 1.5, Share, Above, Practice, [Shelf, Run];
    /// A capacity test tells for so long.
    TEST_DAYS "test_days": f64 = 365.0, Day, Above, Practice, [Shelf];
    /// So near to its next use nobody brings a pack to storage.
    EVE_DAYS "eve_days": f64 = 2.0, Day, Below, Choice, [Shelf];
    /// A charge that began at this state of charge or below …
    WHOLE_FROM "whole_from": f64 = 0.3, Share, Below, Choice, [Run];
    /// … and went on to this tells what a pack holds.
    WHOLE_TO "whole_to": f64 = 0.9, Share, Above, Choice, [Run];
    /// A discharge that begins at this state of charge or above began full.
    FROM_FULL "from_full": f64 = 0.95, Share, Above, Choice, [Run];
}}
