//! The open formats as they are on disk: plain numbers with unit suffixes, every field optional,
//! every problem reported with its JSON pointer.

mod ask;
mod card;
mod charger;
mod chemistry;
mod gauge;
mod history;
mod lead;
mod line;
mod log;
mod matching;
mod meter;
pub(crate) mod moment;
mod named;
mod pack;
mod plan;
pub(crate) mod read;
mod record;
mod rescue;
mod result;
mod run;
mod sizing;
mod source;
mod standing;
mod test;

pub use ask::{
    AskChoiceDoc, AskDoc, AssumedDoc, Leftover, PlanAnswerDoc, QuickLine, ReadingDoc, Understood, UnfinishedDoc,
};
pub use card::{CheckDoc, LiftDoc, ResultSettingsDoc};
pub use charger::{ChargerDoc, MaxSeriesDoc};
pub use chemistry::{ChemistryDoc, KindsDoc, OwnFieldDoc, PracticeDoc};
pub use gauge::{GaugeAskDoc, GaugeDoc, GaugeMarkDoc};
pub use history::{LOG_RESULT_FORMAT, LogCycleDoc, LogResistanceDoc, LogResultDoc, LogTestDoc, MissingDoc, SegmentDoc};
pub use lead::{CutOffDoc, LeadDoc, LeadsDoc};
pub use line::{JudgementLineDoc, LineFigureDoc, LinesDoc};
pub use log::{BadLineDoc, LOG_MAPPING_FORMAT, LogColumnDoc, LogLookAskDoc, LogLookDoc, LogMappingDoc, LogReadingDoc};
pub use matching::{
    JoinDoc, LevelDoc, MATCH_FORMAT, MATCH_RESULT_FORMAT, MatchCellDoc, MatchDoc, MatchPackDoc, MatchPlaceDoc,
    MatchResultDoc, MatchStepDoc, MatchedPackDoc, UnfitDoc,
};
pub use meter::{MeterDoc, MeterPointDoc};
pub use pack::{BmsDoc, CustomCellDoc, GoalDoc, LabelVoltageDoc, PackDoc, StartDoc};
pub use plan::{AcceptedDoc, LoadDoc, MainsDoc, OtherPackDoc, PLAN_FORMAT, PlanDoc, SettingsDoc};
pub use read::{Problem, Problems, Read, from_bytes, from_value};
pub use record::{RECORD_FORMAT, RecordDoc};
pub use rescue::{
    AbortDoc, AfterwardsDoc, AtHandDoc, CaseEventDoc, CaseReadingDoc, CorridorPoint, DonorDoc, FitDoc, FoundDoc,
    JudgeAskDoc, JudgementDoc, QuestionDoc, RESCUE_CASE_FORMAT, RESCUE_FORMAT, RESCUE_RESULT_FORMAT, ReasonDoc,
    RescueCaseDoc, RescueDoc, RescueReadingDoc, RescueResultDoc, RescueStageDoc, UntilDoc, WayDoc,
};
pub use result::{
    CellDoc, CurvePoint, DeliveredDoc, EndDoc, LimitDoc, NextSizeDoc, NudgeDoc, PinchDoc, RESULT_FORMAT, ResultDoc,
    StageDoc, StartResultDoc, StepDoc, TimeDoc, WhatIfDoc,
};
pub use run::{
    AccountDoc, FittedDoc, KeepDoc, PreflightAnswerDoc, PreflightAskDoc, PreflightDoc, PreflightItemDoc, RUN_FORMAT,
    RefitDoc, RunAskDoc, RunDoc, RunReadingDoc, RunStateDoc, SayingDoc,
};
pub use sizing::{DoneInDoc, FieldBatteryDoc, PacksDoc, SizingAskDoc, SizingDoc, WireDoc};
pub use source::{RangeDoc, SourceDoc};
pub use standing::{
    CapacityPointDoc, ChargeNowDoc, FigureDoc, NeedDoc, ReachesDoc, ResistancePointDoc, SpanDoc, StandingAskDoc,
    StandingDoc, TrendDoc,
};
pub use test::{
    DischargeAskDoc, DischargeDoc, LedgerRowDoc, TEST_FORMAT, TEST_RESULT_FORMAT, TestCheckDoc, TestDoc, TestPhaseDoc,
    TestPinchDoc, TestPoint, TestResultDoc, TestStepDoc,
};

pub use crate::codes::*;
pub(crate) use named::named;
