//! Closed sets: what documents spell in lower case, and what the rules tell apart. They know nothing but themselves.

/// Declares a closed set of codes that a document spells in lower case.
macro_rules! codes {
    ($($(#[$meta:meta])* pub enum $name:ident { $($(#[$variant_meta:meta])* $variant:ident = $code:literal,)* })*) => {$(
        $(#[$meta])*
        #[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, serde::Serialize, serde::Deserialize, schemars::JsonSchema)]
        pub enum $name { $($(#[$variant_meta])* #[serde(rename = $code)] $variant,)* }

        impl $name {
            /// Every value, in the order of the format.
            pub const ALL: &'static [Self] = &[$(Self::$variant),*];

            /// The code as documents spell it.
            #[must_use]
            pub const fn code(self) -> &'static str {
                match self { $(Self::$variant => $code,)* }
            }

            /// The value a code stands for.
            #[must_use]
            pub fn from_code(code: &str) -> Option<Self> {
                Self::ALL.iter().copied().find(|value| value.code() == code)
            }
        }

        impl $crate::codes::Code for $name {
            const ALL: &'static [Self] = Self::ALL;

            fn code(self) -> &'static str {
                self.code()
            }
        }
    )*};
}

mod charger;
mod check;
mod chemistry;
mod lead;
mod limit;
mod log;
mod meter;
mod pack;
mod plan;
mod rescue;
mod result;
mod run;
mod shelf;
mod source;

pub use charger::{ChargerKind, Topology};
pub use check::CheckCode;
pub use chemistry::Chemistry;
pub use lead::{Connector, CutOffStarts, FuseAt, Insulation, Laid, Wires};
pub use limit::LimitCode;
pub use log::{LogColumn, LogColumns, LogDecimal, LogDelimiter, LogTime, LogUnit};
pub use meter::{MeterAt, MeterQuantity};
pub use pack::{Balancer, GoalKind, LastUse, PackMark};
pub use plan::Practice;
pub use rescue::{
    AbortCode, BmsFound, JudgeState, LowFor, ReasonCode, RescueOutcome, RescuePractice, RescueStageKind, Sign, Verdict,
};
pub use result::{AmpsMeaning, EndReason, Place, Severity, StepWhen, VoltsMeaning};
pub use run::{PreflightCode, PreflightKind, RunEnd, RunWay, SayingCode};
pub use shelf::{
    AfterTest, DischargeBy, DischargeLimit, FigureFrom, MissingCode, NeedCode, NeedWhy, RecordKind, SegmentEnd,
    SegmentKind, SignFound, TestCheckCode, TestPlace, UnfitCode,
};
pub use source::{Overload, SourceKind, TransformerType, Wiring};

/// A closed set.
pub trait Code: Copy + 'static {
    /// Every value, in the order of the format.
    const ALL: &'static [Self];

    /// The code as documents spell it.
    fn code(self) -> &'static str;
}
