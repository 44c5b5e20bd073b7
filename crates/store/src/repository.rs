//! Reading and writing one shelf, each write guarded by the version it was based on.

use std::marker::PhantomData;

use sea_orm::sea_query::{Expr, ExprTrait, Query};
use sea_orm::{
    ColumnTrait, ConnectionTrait, DatabaseConnection, DbErr, FromQueryResult, QueryFilter, QueryOrder, QuerySelect,
};
use time::OffsetDateTime;
use uuid::Uuid;

use crate::entity::Shelf;
use crate::error::StoreError;
use crate::rows::{Change, Draft, Listing, Stored};

/// More rows than this are never listed at once.
const LIST_LIMIT: u64 = 1000;

/// One shelf.
#[derive(Debug)]
pub struct Repository<E> {
    connection: DatabaseConnection,
    shelf: PhantomData<E>,
}

impl<E: Shelf> Repository<E> {
    pub(crate) fn new(connection: DatabaseConnection) -> Self {
        Self { connection, shelf: PhantomData }
    }

    fn error(error: DbErr) -> StoreError {
        StoreError::of(error, E::ONE)
    }

    /// Everything in use, or everything put away, last changed first.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] or [`StoreError::Failed`].
    pub async fn list(&self, listing: Listing) -> Result<Vec<Stored>, StoreError> {
        let rows = E::find()
            .filter(match listing {
                Listing::Active => E::ARCHIVED_AT.is_null(),
                Listing::Archived => E::ARCHIVED_AT.is_not_null(),
            })
            .order_by_desc(E::UPDATED_AT)
            .limit(LIST_LIMIT)
            .all(&self.connection)
            .await
            .map_err(Self::error)?;
        Ok(rows.into_iter().map(E::stored).collect())
    }

    /// One row, in use or put away.
    ///
    /// # Errors
    /// [`StoreError::NotFound`], [`StoreError::Unavailable`] or [`StoreError::Failed`].
    pub async fn get(&self, id: Uuid) -> Result<Stored, StoreError> {
        let row = E::find().filter(E::ID.eq(id)).one(&self.connection).await.map_err(Self::error)?;
        row.map(E::stored).ok_or(StoreError::NotFound(E::ONE))
    }

    /// Whether there is no row at all, put away or not.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] or [`StoreError::Failed`].
    pub async fn is_empty(&self) -> Result<bool, StoreError> {
        Ok(E::find().one(&self.connection).await.map_err(Self::error)?.is_none())
    }

    /// Saves a new row.
    ///
    /// # Errors
    /// [`StoreError::Exists`], [`StoreError::Refused`], [`StoreError::Unavailable`] or [`StoreError::Failed`].
    pub async fn create(&self, id: Uuid, draft: Draft) -> Result<Stored, StoreError> {
        let links = E::link_columns(&draft.links);
        let columns: Vec<E::Column> =
            [E::ID, E::DOCUMENT].into_iter().chain(links.iter().map(|(column, _)| *column)).collect();
        let values = [Expr::value(id), Expr::value(draft.document)]
            .into_iter()
            .chain(links.into_iter().map(|(_, value)| Expr::value(value)));
        let mut insert = Query::insert();
        insert.into_table(E::default()).columns(columns);
        let complete = insert.values(values).map_err(|error| StoreError::Failed(DbErr::Custom(error.to_string())))?;
        complete.returning_all();
        let row = self.connection.query_one(&insert).await.map_err(Self::error)?;
        let row = row.ok_or(StoreError::NotFound(E::ONE))?;
        Ok(E::stored(E::Model::from_query_result(&row, "").map_err(Self::error)?))
    }

    /// Saves a row over the version it was based on.
    ///
    /// # Errors
    /// [`StoreError::Conflict`] with what stands now, [`StoreError::NotFound`], [`StoreError::Refused`],
    /// [`StoreError::Unavailable`] or [`StoreError::Failed`].
    pub async fn update(&self, id: Uuid, version: i32, draft: Draft) -> Result<Stored, StoreError> {
        self.update_with(&self.connection, Change { id, version, draft }).await
    }

    /// Saves a row as part of a transaction.
    pub(crate) async fn update_with(
        &self,
        connection: &impl ConnectionTrait,
        change: Change,
    ) -> Result<Stored, StoreError> {
        let links = E::link_columns(&change.draft.links);
        let mut columns = vec![(E::DOCUMENT, Expr::value(change.draft.document))];
        columns.extend(links.into_iter().map(|(column, value)| (column, Expr::value(value))));
        self.write(connection, change.id, change.version, columns).await
    }

    /// Puts a row away, or takes it out again.
    ///
    /// # Errors
    /// As [`Repository::update`].
    pub async fn put_away(&self, id: Uuid, version: i32, listing: Listing) -> Result<Stored, StoreError> {
        let value = match listing {
            Listing::Archived => Expr::current_timestamp(),
            Listing::Active => Expr::value(None::<OffsetDateTime>),
        };
        self.write(&self.connection, id, version, vec![(E::ARCHIVED_AT, value)]).await
    }

    async fn write(
        &self,
        connection: &impl ConnectionTrait,
        id: Uuid,
        version: i32,
        columns: Vec<(E::Column, Expr)>,
    ) -> Result<Stored, StoreError> {
        let update =
            columns.into_iter().fold(E::update_many(), |update, (column, value)| update.col_expr(column, value));
        let written = update
            .col_expr(E::VERSION, Expr::col(E::VERSION).add(1))
            .col_expr(E::UPDATED_AT, Expr::current_timestamp())
            .filter(E::ID.eq(id))
            .filter(E::VERSION.eq(version))
            .exec_with_returning(connection)
            .await
            .map_err(Self::error)?;
        match written.into_iter().next() {
            Some(row) => Ok(E::stored(row)),
            None => Err(StoreError::Conflict(Box::new(self.get(id).await?))),
        }
    }
}
