//! Rows as SeaORM sees them, and what the shelves have in common.
#![allow(missing_docs, unreachable_pub, reason = "the derive macros make public items without comments")]

pub(crate) mod charger;

pub(crate) mod lead;
pub(crate) mod log_mapping;
pub(crate) mod pack;
pub(crate) mod plan;
pub(crate) mod record;
pub(crate) mod rescue;
pub(crate) mod run;
pub(crate) mod run_reading;
pub(crate) mod supply;

use sea_orm::{EntityTrait, Value};

use crate::rows::{Links, Origin, Stored};

/// A table of documents with a version.
pub trait Shelf: EntityTrait {
    /// What one row is called in a message.
    const ONE: &'static str;
    const ID: Self::Column;
    const VERSION: Self::Column;
    const DOCUMENT: Self::Column;
    const ARCHIVED_AT: Self::Column;
    const CREATED_AT: Self::Column;
    const UPDATED_AT: Self::Column;

    fn stored(model: Self::Model) -> Stored;

    /// Columns only this table has, filled from the links.
    fn link_columns(_links: &Links) -> Vec<(Self::Column, Value)> {
        Vec::new()
    }
}

macro_rules! shelf {
    ($module:ident, $one:literal, $links:expr $(, $link_columns:expr)?) => {
        impl Shelf for $module::Entity {
            const ONE: &'static str = $one;
            const ID: $module::Column = $module::Column::Id;
            const VERSION: $module::Column = $module::Column::Version;
            const DOCUMENT: $module::Column = $module::Column::Document;
            const ARCHIVED_AT: $module::Column = $module::Column::ArchivedAt;
            const CREATED_AT: $module::Column = $module::Column::CreatedAt;
            const UPDATED_AT: $module::Column = $module::Column::UpdatedAt;

            fn stored(model: $module::Model) -> Stored {
                let links: fn(&$module::Model) -> Links = $links;
                Stored {
                    links: links(&model),
                    id: model.id,
                    version: model.version,
                    created_at: model.created_at,
                    updated_at: model.updated_at,
                    archived_at: model.archived_at,
                    document: model.document,
                }
            }

            $(fn link_columns(links: &Links) -> Vec<(Self::Column, Value)> {
                let columns: fn(&Links) -> Vec<(Self::Column, Value)> = $link_columns;
                columns(links)
            })?
        }
    };
}

shelf!(pack, "pack", |_| Links::default());
shelf!(supply, "supply", |_| Links::default());
shelf!(charger, "charger", |_| Links::default());
shelf!(lead, "lead", |_| Links::default());
shelf!(log_mapping, "log mapping", |_| Links::default());
/// A shelf whose rows know the pack they are about.
macro_rules! pack_shelf {
    ($module:ident, $one:literal) => {
        shelf!(
            $module,
            $one,
            |model| Links { pack: Origin::from_columns(model.pack_id, model.pack_version), ..Links::default() },
            |links| {
                use $module::Column;
                vec![
                    (Column::PackId, links.pack.map(|o| o.id).into()),
                    (Column::PackVersion, links.pack.map(|o| o.version).into()),
                ]
            }
        );
    };
}

pack_shelf!(record, "record");
pack_shelf!(rescue, "rescue");
pack_shelf!(run, "run");
shelf!(
    plan,
    "plan",
    |model| Links {
        pack: Origin::from_columns(model.pack_id, model.pack_version),
        source: Origin::from_columns(model.source_id, model.source_version),
        charger: Origin::from_columns(model.charger_id, model.charger_version),
        input: Origin::from_columns(model.input_id, model.input_version),
        output: Origin::from_columns(model.output_id, model.output_version),
    },
    |links| {
        use plan::Column;
        [
            (links.pack, Column::PackId, Column::PackVersion),
            (links.source, Column::SourceId, Column::SourceVersion),
            (links.charger, Column::ChargerId, Column::ChargerVersion),
            (links.input, Column::InputId, Column::InputVersion),
            (links.output, Column::OutputId, Column::OutputVersion),
        ]
        .into_iter()
        .flat_map(|(origin, id, version)| {
            [(id, origin.map(|o| o.id).into()), (version, origin.map(|o| o.version).into())]
        })
        .collect()
    }
);
