//! The database's shape, one step a file.

use sea_orm_migration::prelude::*;

/// Every migration, oldest first.
pub(crate) struct Migrator;

#[async_trait::async_trait]
impl MigratorTrait for Migrator {
    fn migrations() -> Vec<Box<dyn MigrationTrait>> {
        vec![Box::new(Shelves), Box::new(Chain), Box::new(Rescues), Box::new(Runs), Box::new(Logs), Box::new(Sums)]
    }
}

/// Packs, gear and plans.
struct Shelves;

impl MigrationName for Shelves {
    fn name(&self) -> &str {
        "m20261124_000001_shelves"
    }
}

#[async_trait::async_trait]
impl MigrationTrait for Shelves {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager.get_connection().execute_unprepared(include_str!("m20261124_000001_shelves.sql")).await?;
        Ok(())
    }

    async fn down(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager.get_connection().execute_unprepared("DROP TABLE plans, gear, packs").await?;
        Ok(())
    }
}

/// Chargers and leads.
struct Chain;

impl MigrationName for Chain {
    fn name(&self) -> &str {
        "m20261125_000001_chain"
    }
}

#[async_trait::async_trait]
impl MigrationTrait for Chain {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager.get_connection().execute_unprepared(include_str!("m20261125_000001_chain.sql")).await?;
        Ok(())
    }

    async fn down(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        let columns = ["charger", "input", "output"].map(|of| format!("DROP COLUMN {of}_id, DROP COLUMN {of}_version"));
        let undo = format!("ALTER TABLE plans {}; DROP TABLE chargers, leads", columns.join(", "));
        manager.get_connection().execute_unprepared(&undo).await?;
        Ok(())
    }
}

/// Packs in trouble.
struct Rescues;

impl MigrationName for Rescues {
    fn name(&self) -> &str {
        "m20261125_000002_rescues"
    }
}

#[async_trait::async_trait]
impl MigrationTrait for Rescues {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager.get_connection().execute_unprepared(include_str!("m20261125_000002_rescues.sql")).await?;
        Ok(())
    }

    async fn down(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager.get_connection().execute_unprepared("DROP TABLE rescues").await?;
        Ok(())
    }
}

/// Runs and their readings.
struct Runs;

impl MigrationName for Runs {
    fn name(&self) -> &str {
        "m20261125_000003_runs"
    }
}

#[async_trait::async_trait]
impl MigrationTrait for Runs {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager.get_connection().execute_unprepared(include_str!("m20261125_000003_runs.sql")).await?;
        Ok(())
    }

    async fn down(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager.get_connection().execute_unprepared("DROP TABLE run_readings, runs").await?;
        Ok(())
    }
}

/// Logs of other instruments, overviews of long ones, and announcements of every change.
struct Logs;

impl MigrationName for Logs {
    fn name(&self) -> &str {
        "m20261125_000004_logs"
    }
}

#[async_trait::async_trait]
impl MigrationTrait for Logs {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager.get_connection().execute_unprepared(include_str!("m20261125_000004_logs.sql")).await?;
        Ok(())
    }

    async fn down(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager.get_connection().execute_unprepared(include_str!("m20261125_000004_logs_undo.sql")).await?;
        Ok(())
    }
}

/// What the readings of a run come to.
struct Sums;

impl MigrationName for Sums {
    fn name(&self) -> &str {
        "m20261126_000001_sums"
    }
}

#[async_trait::async_trait]
impl MigrationTrait for Sums {
    async fn up(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        manager.get_connection().execute_unprepared(include_str!("m20261126_000001_sums.sql")).await?;
        Ok(())
    }

    async fn down(&self, manager: &SchemaManager) -> Result<(), DbErr> {
        let undo = "DROP TRIGGER run_replanned ON runs; DROP FUNCTION run_replanned; DROP TABLE run_sums";
        manager.get_connection().execute_unprepared(undo).await?;
        Ok(())
    }
}
