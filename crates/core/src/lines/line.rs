//! What a line of judgement is: a figure with a name, a unit, the kind of its source, the rooms that use it and why.

use crate::physics::cell::Profile;

/// In what a line is measured.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Unit {
    Volt,
    VoltACell,
    VoltACellADay,
    Ampere,
    Celsius,
    Kelvin,
    KelvinAMinute,
    Ohm,
    /// Amps as a multiple of the capacity.
    CRate,
    Share,
    Hour,
    Day,
    Watt,
    /// How often something has happened.
    Times,
}

impl Unit {
    /// As it is printed behind a number.
    pub(crate) const fn symbol(self) -> &'static str {
        match self {
            Self::Volt => "V",
            Self::VoltACell => "V a cell",
            Self::VoltACellADay => "V a cell and day",
            Self::Ampere => "A",
            Self::Celsius => "°C",
            Self::Kelvin => "K",
            Self::KelvinAMinute => "K a minute",
            Self::Ohm => "Ω",
            Self::CRate => "C",
            Self::Share => "times",
            Self::Times => "times over",
            Self::Hour => "h",
            Self::Day => "days",
            Self::Watt => "W",
        }
    }
}

/// On which side of a line something is said.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Past {
    Above,
    Below,
}

/// What kind of source a line has.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Basis {
    /// A published standard or code of practice.
    Standard,
    /// What makers' data sheets commonly say.
    DataSheets,
    /// Textbooks and handbooks.
    Handbook,
    /// What people who do this for years do.
    Practice,
    /// Follows from how good usual meters and dials are.
    Meters,
    /// Rumek's own choice, on the careful side.
    Choice,
}

impl Basis {
    pub(crate) const fn words(self) -> &'static str {
        match self {
            Self::Standard => "standard",
            Self::DataSheets => "data sheets",
            Self::Handbook => "handbooks",
            Self::Practice => "practice",
            Self::Meters => "usual meters",
            Self::Choice => "our choice",
        }
    }
}

/// Where a line is judged by.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) enum Room {
    Plan,
    Rescue,
    Test,
    Match,
    Shelf,
    Run,
}

impl Room {
    pub(crate) const fn words(self) -> &'static str {
        match self {
            Self::Plan => "plan",
            Self::Rescue => "rescue",
            Self::Test => "test",
            Self::Match => "match",
            Self::Shelf => "shelf",
            Self::Run => "run",
        }
    }
}

/// The figure of a family of cells; `None` where a family has none.
pub(crate) type OfFamily = fn(&Profile) -> Option<f64>;

/// One line of judgement.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Line<V: Copy + 'static = f64> {
    /// Its subject and name, such as `volts.lethal_v`.
    pub(crate) name: &'static str,
    /// The figure.
    pub(crate) at: V,
    pub(crate) unit: Unit,
    pub(crate) past: Past,
    pub(crate) basis: Basis,
    pub(crate) rooms: &'static [Room],
    pub(crate) why: &'static str,
}

impl Line<OfFamily> {
    /// The figure of one kind of cell.
    pub(crate) fn of(&self, profile: &Profile) -> Option<f64> {
        (self.at)(profile)
    }
}

/// A line of either kind.
pub(crate) trait AnyLine: Sync {
    /// The figure for a kind of cell.
    fn figure(&self, profile: &Profile) -> Option<f64>;
    /// Whether it differs by the kind of cell.
    fn by_family(&self) -> bool;
    fn name(&self) -> &'static str;
    fn unit(&self) -> Unit;
    fn past(&self) -> Past;
    fn basis(&self) -> Basis;
    fn rooms(&self) -> &'static [Room];
    fn why(&self) -> &'static str;
}

macro_rules! any_line {
    ($of:ty, $by_family:literal, |$line:ident, $profile:ident| $figure:expr) => {
        impl AnyLine for Line<$of> {
            fn figure(&self, $profile: &Profile) -> Option<f64> {
                let $line = self;
                $figure
            }
            fn by_family(&self) -> bool {
                $by_family
            }
            fn name(&self) -> &'static str {
                self.name
            }
            fn unit(&self) -> Unit {
                self.unit
            }
            fn past(&self) -> Past {
                self.past
            }
            fn basis(&self) -> Basis {
                self.basis
            }
            fn rooms(&self) -> &'static [Room] {
                self.rooms
            }
            fn why(&self) -> &'static str {
                self.why
            }
        }
    };
}

any_line!(f64, false, |line, _profile| Some(line.at));
any_line!(OfFamily, true, |line, profile| line.of(profile));

/// Declares the lines of a subject; the comment above a line is why it stands where it does.
macro_rules! lines {
    ($subject:literal { $($(#[doc = $why:literal])+ $name:ident $code:literal: $of:ty = $at:expr, $unit:ident, $past:ident, $basis:ident, [$($room:ident),+];)+ }) => {
        $(
            $(#[doc = $why])+
            pub(crate) const $name: $crate::lines::line::Line<$of> = $crate::lines::line::Line {
                name: concat!($subject, ".", $code),
                at: $at,
                unit: $crate::lines::line::Unit::$unit,
                past: $crate::lines::line::Past::$past,
                basis: $crate::lines::line::Basis::$basis,
                rooms: &[$($crate::lines::line::Room::$room),+],
                why: concat!($($why),+),
            };
        )+

        /// Every line of the subject.
        pub(super) const ALL: &[&'static dyn $crate::lines::line::AnyLine] = &[$(&$name),+];
    };
}

pub(crate) use lines;
