//! Named revisions, and the list of all.

use chrono::{DateTime, Utc};
use uuid::Uuid;

use super::Store;

/// A revision that was given a name.
pub(crate) struct MomentRow {
    pub(crate) id: Uuid,
    pub(crate) revision: i64,
    pub(crate) name: String,
    pub(crate) created_at: DateTime<Utc>,
}

/// One edit of a landscape.
pub(crate) struct RevisionRow {
    pub(crate) number: i64,
    pub(crate) parent: Option<i64>,
    pub(crate) label: String,
    pub(crate) author: String,
    pub(crate) created_at: DateTime<Utc>,
}

impl Store {
    /// The newest `most` revisions of a landscape, newest first.
    pub(crate) async fn revisions(
        &self,
        landscape: Uuid,
        most: i64,
    ) -> sqlx::Result<Vec<RevisionRow>> {
        sqlx::query_as!(
            RevisionRow,
            "select number, parent, label, author, created_at from revisions
             where landscape = $1 order by number desc limit $2",
            landscape,
            most,
        )
        .fetch_all(&self.pool)
        .await
    }

    /// The named moments of a landscape, newest first.
    pub(crate) async fn moments(&self, landscape: Uuid) -> sqlx::Result<Vec<MomentRow>> {
        sqlx::query_as!(
            MomentRow,
            "select id, revision, name, created_at from moments
             where landscape = $1 order by created_at desc",
            landscape,
        )
        .fetch_all(&self.pool)
        .await
    }

    /// Names a revision; `None` when the landscape has no such revision.
    pub(crate) async fn name_moment(
        &self,
        landscape: Uuid,
        revision: i64,
        name: &str,
    ) -> sqlx::Result<Option<Uuid>> {
        let id = Uuid::now_v7();
        sqlx::query_scalar!(
            "insert into moments (id, landscape, revision, name)
             select $1, landscape, number, $4 from revisions
             where landscape = $2 and number = $3
             returning id",
            id,
            landscape,
            revision,
            name,
        )
        .fetch_optional(&self.pool)
        .await
    }

    /// Takes a name away again; whether there was one. The revision stays.
    pub(crate) async fn forget_moment(&self, landscape: Uuid, moment: Uuid) -> sqlx::Result<bool> {
        let done = sqlx::query!(
            "delete from moments where landscape = $1 and id = $2",
            landscape,
            moment,
        )
        .execute(&self.pool)
        .await?;
        Ok(done.rows_affected() > 0)
    }
}
