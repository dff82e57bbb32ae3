//! The database: SQL alone, no rules of the job.

mod assets;
mod exports;
mod landscapes;
mod moments;
mod revisions;

use sqlx::PgPool;

pub(crate) use exports::ExportState;
pub(crate) use landscapes::LandscapeRow;
pub(crate) use moments::{MomentRow, RevisionRow};
pub(crate) use revisions::{HeadRow, Moved};

/// Access to the database; cheap to clone.
#[derive(Clone)]
pub(crate) struct Store {
    pool: PgPool,
}

impl Store {
    pub(crate) fn new(pool: PgPool) -> Self {
        Self { pool }
    }
}
