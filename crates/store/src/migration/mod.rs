//! The database's shape, one step a file.

use sea_orm::{ConnectionTrait, DbBackend, Statement};
use sea_orm_migration::prelude::*;

/// Every migration, oldest first.
pub(crate) struct Migrator;

#[async_trait::async_trait]
impl MigratorTrait for Migrator {
    fn migrations() -> Vec<Box<dyn MigrationTrait>> {
        STEPS.iter().map(|step| Box::new(*step) as Box<dyn MigrationTrait>).collect()
    }
}

/// One step: its name, and the statements that make and undo it.
#[derive(Clone, Copy)]
struct Step {
    name: &'static str,
    up: &'static str,
    down: &'static str,
}

/// Whether a newer version has shaped this database: by a step that is not known here.
pub(crate) async fn is_newer(connection: &impl ConnectionTrait) -> Result<bool, DbErr> {
    let there = "SELECT to_regclass('seaql_migrations') IS NOT NULL AS there";
    let there = connection.query_one_raw(Statement::from_string(DbBackend::Postgres, there)).await?;
    if !there.map(|row| row.try_get("", "there")).transpose()?.unwrap_or(false) {
        return Ok(false);
    }
    let applied = Statement::from_string(DbBackend::Postgres, "SELECT version FROM seaql_migrations");
    let applied = connection.query_all_raw(applied).await?;
    let names: Vec<String> = applied.iter().map(|row| row.try_get("", "version")).collect::<Result<_, _>>()?;
    Ok(names.iter().any(|name| STEPS.iter().all(|step| step.name != name)))
}

const STEPS: &[Step] = &[
    // Packs, gear and plans.
    Step {
        name: "m20261124_000001_shelves",
        up: include_str!("m20261124_000001_shelves.sql"),
        down: "DROP TABLE plans, gear, packs",
    },
    // Chargers and leads.
    Step {
        name: "m20261125_000001_chain",
        up: include_str!("m20261125_000001_chain.sql"),
        down: "ALTER TABLE plans DROP COLUMN charger_id, DROP COLUMN charger_version, DROP COLUMN input_id, \
               DROP COLUMN input_version, DROP COLUMN output_id, DROP COLUMN output_version; \
               DROP TABLE chargers, leads",
    },
    // Packs in trouble.
    Step {
        name: "m20261125_000002_rescues",
        up: include_str!("m20261125_000002_rescues.sql"),
        down: "DROP TABLE rescues",
    },
    // Runs and their readings.
    Step {
        name: "m20261125_000003_runs",
        up: include_str!("m20261125_000003_runs.sql"),
        down: "DROP TABLE run_readings, runs",
    },
    // Logs of other instruments, overviews of long ones, and announcements of every change.
    Step {
        name: "m20261125_000004_logs",
        up: include_str!("m20261125_000004_logs.sql"),
        down: include_str!("m20261125_000004_logs_undo.sql"),
    },
    // What the readings of a run come to.
    Step {
        name: "m20261126_000001_sums",
        up: include_str!("m20261126_000001_sums.sql"),
        down: "DROP TRIGGER run_replanned ON runs; DROP FUNCTION run_replanned; DROP TABLE run_sums",
    },
    // Gear is supplies, chargers and leads.
    Step {
        name: "m20261126_000002_supplies",
        up: include_str!("m20261126_000002_supplies.sql"),
        down: "ALTER INDEX supplies_listed RENAME TO gear_listed; ALTER TABLE supplies RENAME TO gear",
    },
    // Readings that were taken back.
    Step {
        name: "m20261126_000003_struck",
        up: include_str!("m20261126_000003_struck.sql"),
        down: "DROP TRIGGER reading_struck ON run_readings; DROP FUNCTION reading_struck; \
               ALTER TABLE run_readings DROP COLUMN struck_at",
    },
    // What is known of packs, and what they are worth.
    Step {
        name: "m20261126_000004_shelf",
        up: include_str!("m20261126_000004_shelf.sql"),
        down: include_str!("m20261126_000004_shelf_undo.sql"),
    },
    // How often what is known of a pack has changed.
    Step {
        name: "m20261202_000001_known",
        up: include_str!("m20261202_000001_known.sql"),
        down: include_str!("m20261202_000001_known_undo.sql"),
    },
];

impl MigrationName for Step {
    fn name(&self) -> &str {
        self.name
    }
}

#[async_trait::async_trait]
impl MigrationTrait for Step {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager.get_connection().execute_unprepared(self.up).await.map(|_| ())
    }

    async fn down(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager.get_connection().execute_unprepared(self.down).await.map(|_| ())
    }
}
