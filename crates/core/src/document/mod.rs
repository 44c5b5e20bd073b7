//! The open formats as they are on disk: plain numbers with unit suffixes, every field optional,
//! every problem reported with its JSON pointer.

mod charger;
mod lead;
mod log;
mod meter;
mod pack;
mod plan;
pub(crate) mod read;
mod rescue;
mod result;
mod run;
mod sizing;
mod source;

pub use charger::{ChargerDoc, ChargerKind, MaxSeriesDoc, Topology};
pub use lead::{Connector, CutOffDoc, FuseAt, Insulation, Laid, LeadDoc, LeadsDoc, Wires};
pub use log::{
    BadLineDoc, LOG_MAPPING_FORMAT, LogColumn, LogColumnDoc, LogDecimal, LogDelimiter, LogLookAskDoc, LogLookDoc,
    LogMappingDoc, LogReadingDoc, LogTime, LogUnit,
};
pub use meter::{MeterAt, MeterDoc, MeterPointDoc, MeterQuantity};
pub use pack::{
    Balancer, BmsDoc, CustomCellDoc, GoalDoc, GoalKind, LabelVoltageDoc, LastUse, PackDoc, PackMark, StartDoc,
};
pub use plan::{AcceptedDoc, LoadDoc, MainsDoc, OtherPackDoc, PLAN_FORMAT, PlanDoc, Practice, SettingsDoc};
pub use read::{Problem, Problems, Read, from_bytes, from_value};
pub use rescue::{
    AbortCode, AbortDoc, AfterwardsDoc, AtHandDoc, BmsFound, CaseEventDoc, CaseReadingDoc, CorridorPoint, DonorDoc,
    FitDoc, FoundDoc, JudgeAskDoc, JudgeState, JudgementDoc, LowFor, QuestionDoc, RESCUE_CASE_FORMAT, RESCUE_FORMAT,
    RESCUE_RESULT_FORMAT, ReasonCode, ReasonDoc, RescueCaseDoc, RescueDoc, RescueOutcome, RescuePractice,
    RescueReadingDoc, RescueResultDoc, RescueStageDoc, RescueStageKind, Sign, UntilDoc, Verdict,
};
pub use result::{
    CellDoc, CheckDoc, CurvePoint, DeliveredDoc, EndDoc, EndReason, LimitDoc, NudgeDoc, PinchDoc, Place, RESULT_FORMAT,
    ResultDoc, ResultSettingsDoc, Severity, StageDoc, StartResultDoc, StepDoc, StepWhen, TimeDoc, WhatIfDoc,
};
pub use run::{
    AccountDoc, FittedDoc, KeepDoc, PreflightAnswerDoc, PreflightAskDoc, PreflightCode, PreflightDoc, PreflightItemDoc,
    PreflightKind, RUN_FORMAT, RunAskDoc, RunDoc, RunEnd, RunReadingDoc, RunStateDoc, RunWay, SayingCode, SayingDoc,
};
pub use sizing::{DoneInDoc, FieldBatteryDoc, PacksDoc, SizingAskDoc, SizingDoc, WireDoc};
pub use source::{Overload, RangeDoc, SourceDoc, SourceKind, TransformerType, Wiring};
