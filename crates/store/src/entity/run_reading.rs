//! Rows of `run_readings`.

use sea_orm::entity::prelude::*;

#[derive(Clone, Debug, PartialEq, DeriveEntityModel)]
#[sea_orm(table_name = "run_readings")]
pub struct Model {
    #[sea_orm(primary_key, auto_increment = false)]
    pub run_id: Uuid,
    #[sea_orm(primary_key, auto_increment = false)]
    pub n: i32,
    pub client_id: Option<Uuid>,
    pub taken_at: TimeDateTimeWithTimeZone,
    pub received_at: TimeDateTimeWithTimeZone,
    pub clock_offset_ms: i64,
    pub struck_at: Option<TimeDateTimeWithTimeZone>,
    #[sea_orm(column_type = "JsonBinary")]
    pub document: Json,
}

#[derive(Copy, Clone, Debug, EnumIter, DeriveRelation)]
pub enum Relation {}

impl ActiveModelBehavior for ActiveModel {}
