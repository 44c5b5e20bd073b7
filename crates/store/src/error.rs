//! What can go wrong with the store.

use sea_orm::{DbErr, RuntimeErr, SqlErr};

use crate::rows::Stored;

/// Why the store did not do as asked.
#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    /// There is no such row.
    #[error("there is no such {0}")]
    NotFound(&'static str),
    /// Somebody saved in between; here is what stands now.
    #[error("it was changed in between: version {} stands now", .0.version)]
    Conflict(Box<Stored>),
    /// The id is taken.
    #[error("a {0} with this id exists already")]
    Exists(&'static str),
    /// It would be mixed with what is there.
    #[error("the database is not empty")]
    NotEmpty,
    /// The database holds a rule that the document breaks.
    #[error("the database refuses it: {0}")]
    Refused(String),
    /// A newer version shaped the database.
    #[error("the database was made by a newer version of Rumek")]
    Newer,
    /// The database cannot be reached.
    #[error("the database cannot be reached")]
    Unavailable(#[source] DbErr),
    /// Anything else.
    #[error("the database failed")]
    Failed(#[source] DbErr),
}

impl StoreError {
    /// Sorts a database error about one kind of row.
    pub(crate) fn of(error: DbErr, one: &'static str) -> Self {
        match error.sql_err() {
            Some(SqlErr::UniqueConstraintViolation(_)) => return Self::Exists(one),
            Some(SqlErr::ForeignKeyConstraintViolation(_)) => {
                return Self::Refused("it refers to something that does not exist".to_owned());
            }
            _ => {}
        }
        if let DbErr::Exec(RuntimeErr::SqlxError(sqlx)) | DbErr::Query(RuntimeErr::SqlxError(sqlx)) = &error
            && let Some(database) = sqlx.as_database_error()
        {
            return match database.code().as_deref() {
                // Class 23 is a broken constraint, class 22 a value the column cannot hold.
                Some(code) if code.starts_with("23") || code.starts_with("22") => {
                    Self::Refused(database.message().to_owned())
                }
                // Class 57 is a server going down, class 08 a lost connection, 3D000 no such database.
                Some(code) if code.starts_with("57") || code.starts_with("08") || code == "3D000" => {
                    Self::Unavailable(error)
                }
                _ => Self::Failed(error),
            };
        }
        match error {
            DbErr::Conn(_) | DbErr::ConnectionAcquire(_) => Self::Unavailable(error),
            DbErr::Exec(_) | DbErr::Query(_) => Self::Unavailable(error),
            other => Self::Failed(other),
        }
    }
}
