//! The database's shape, one step a file.

use sea_orm_migration::prelude::*;

/// Every migration, oldest first.
pub(crate) struct Migrator;

#[async_trait::async_trait]
impl MigratorTrait for Migrator {
    fn migrations() -> Vec<Box<dyn MigrationTrait>> {
        vec![Box::new(Shelves)]
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
