//! The database: SQL alone, no rules of the job.

mod assets;
mod exports;
mod landscapes;
mod lists;
mod moments;
mod revisions;
mod targets;

use sqlx::PgPool;

pub(crate) use exports::{ExportState, ListedExport, NewExport, TakenExport};
pub(crate) use landscapes::{DAYS_KEPT, Summary};
pub(crate) use lists::KeptList;
pub(crate) use moments::{MomentRow, RevisionRow};
pub(crate) use revisions::{Appended, HEADS, Link, Move, Moved, NewRevision};

/// Access to the database; cheap to clone.
#[derive(Clone)]
pub(crate) struct Store {
    pool: PgPool,
}

impl Store {
    pub(crate) fn new(pool: PgPool) -> Self {
        Self { pool }
    }

    /// Whether the database answers.
    pub(crate) async fn answers(&self) -> bool {
        sqlx::query_scalar!("select 1 as one")
            .fetch_one(&self.pool)
            .await
            .is_ok()
    }

    /// All connections.
    pub(crate) fn pool(&self) -> &PgPool {
        &self.pool
    }
}
