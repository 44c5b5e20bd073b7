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
}}
