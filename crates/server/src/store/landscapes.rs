//! Landscapes as a whole.

use chrono::{DateTime, Utc};
use recipe::Recipe;
use uuid::Uuid;

use super::Store;
use super::lists::{KeptList, keep};
use super::revisions::HEADS;

/// A landscape on the shelf.
pub(crate) struct LandscapeRow {
    pub(crate) id: Uuid,
    pub(crate) revision: i64,
    pub(crate) name: String,
    pub(crate) width_m: f64,
    pub(crate) depth_m: f64,
    pub(crate) steps: i32,
    pub(crate) updated_at: DateTime<Utc>,
    pub(crate) opened_at: Option<DateTime<Utc>>,
    pub(crate) deleted_at: Option<DateTime<Utc>>,
    pub(crate) tags: Vec<String>,
}

/// Days for which a landscape that was deleted can be brought back.
pub(crate) const DAYS_KEPT: i32 = 30;

/// What the shelf shows of a document.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Summary<'a> {
    pub(crate) name: &'a str,
    pub(crate) width_m: f64,
    pub(crate) depth_m: f64,
    pub(crate) steps: i32,
}

impl<'a> From<&'a Recipe> for Summary<'a> {
    fn from(recipe: &'a Recipe) -> Self {
        let steps: usize = recipe.strands.iter().map(|strand| strand.steps.len()).sum();
        Self {
            name: &recipe.name,
            width_m: recipe.extent.width_m,
            depth_m: recipe.extent.depth_m,
            steps: i32::try_from(steps).unwrap_or(i32::MAX),
        }
    }
}

impl Store {
    /// Whether a landscape was ever made here, even if it is gone now.
    pub(crate) async fn was_ever_used(&self) -> sqlx::Result<bool> {
        let last = sqlx::query_scalar!(
            r#"select last_value from pg_sequences where sequencename = 'revisions_id_seq'"#
        )
        .fetch_one(&self.pool)
        .await?;
        Ok(last.is_some())
    }

    /// Makes a landscape with its first revision, which `document` is as JSON, in this
    /// version of the format.
    pub(crate) async fn create_landscape(
        &self,
        label: &str,
        document: &str,
        format: i32,
        lists: &[KeptList],
        summary: Summary<'_>,
    ) -> sqlx::Result<Uuid> {
        let id = Uuid::now_v7();
        let mut transaction = self.pool.begin().await?;
        // The landscape's row is looked for when the transaction ends.
        sqlx::query!(
            "insert into revisions (landscape, number, label, snapshot, format)
             values ($1, 1, $2, $3::text::json, $4)",
            id,
            label,
            document,
            format,
        )
        .execute(&mut *transaction)
        .await?;
        sqlx::query!(
            "insert into landscapes
                 (id, head, version, made, document, name, width_m, depth_m, steps)
             values ($1, 1, 1, 1, $2::text::json, $3, $4, $5, $6)",
            id,
            document,
            summary.name,
            summary.width_m,
            summary.depth_m,
            summary.steps,
        )
        .execute(&mut *transaction)
        .await?;
        keep(&mut transaction, id, lists).await?;
        transaction.commit().await?;
        Ok(id)
    }

    /// All landscapes, or all that were deleted and can be brought back, the one worked on
    /// last first.
    pub(crate) async fn landscapes(&self, deleted: bool) -> sqlx::Result<Vec<LandscapeRow>> {
        sqlx::query_as!(
            LandscapeRow,
            "select id, head as revision, name, width_m, depth_m, steps, updated_at, opened_at,
                    deleted_at, tags
             from landscapes where (deleted_at is not null) = $1
             order by updated_at desc, id",
            deleted
        )
        .fetch_all(&self.pool)
        .await
    }

    /// Notes that somebody looks at a landscape.
    pub(crate) async fn opened(&self, id: Uuid) -> sqlx::Result<()> {
        sqlx::query!("update landscapes set opened_at = now() where id = $1", id)
            .execute(&self.pool)
            .await?;
        Ok(())
    }

    /// Says what a landscape is tagged with; whether it was there.
    pub(crate) async fn tag(&self, id: Uuid, tags: &[String]) -> sqlx::Result<bool> {
        let tagged = sqlx::query!(
            "update landscapes set tags = $2 where id = $1 and deleted_at is null",
            id,
            tags
        )
        .execute(&self.pool)
        .await?;
        Ok(tagged.rows_affected() > 0)
    }

    /// Brings back a landscape that was deleted; whether it could be.
    pub(crate) async fn bring_back(&self, id: Uuid) -> sqlx::Result<bool> {
        let back = sqlx::query!(
            "update landscapes set deleted_at = null where id = $1 and deleted_at is not null",
            id
        )
        .execute(&self.pool)
        .await?;
        Ok(back.rows_affected() > 0)
    }

    /// Takes away for good what was deleted long ago; how many landscapes that were.
    pub(crate) async fn clear_deleted(&self) -> sqlx::Result<u64> {
        let gone = sqlx::query!(
            "delete from landscapes where deleted_at < now() - make_interval(days => $1)",
            DAYS_KEPT
        )
        .execute(&self.pool)
        .await?;
        Ok(gone.rows_affected())
    }

    /// Takes a landscape off the shelf; whether it was there. It can be brought back.
    pub(crate) async fn delete_landscape(&self, id: Uuid) -> sqlx::Result<bool> {
        let mut transaction = self.pool.begin().await?;
        let gone = sqlx::query!(
            "update landscapes set deleted_at = now() where id = $1 and deleted_at is null",
            id
        )
        .execute(&mut *transaction)
        .await?;
        sqlx::query!("select pg_notify($1, $2)", HEADS, id.to_string())
            .execute(&mut *transaction)
            .await?;
        transaction.commit().await?;
        Ok(gone.rows_affected() > 0)
    }
}
