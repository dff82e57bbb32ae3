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
}

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

    /// Makes a landscape with its first revision, which `document` is as JSON.
    pub(crate) async fn create_landscape(
        &self,
        label: &str,
        document: &str,
        lists: &[KeptList],
        summary: Summary<'_>,
    ) -> sqlx::Result<Uuid> {
        let id = Uuid::now_v7();
        let mut transaction = self.pool.begin().await?;
        // The landscape's row is looked for when the transaction ends.
        sqlx::query!(
            "insert into revisions (landscape, number, label, snapshot)
             values ($1, 1, $2, $3::text::json)",
            id,
            label,
            document,
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

    /// All landscapes, the one worked on last first.
    pub(crate) async fn landscapes(&self) -> sqlx::Result<Vec<LandscapeRow>> {
        sqlx::query_as!(
            LandscapeRow,
            "select id, head as revision, name, width_m, depth_m, steps, updated_at
             from landscapes order by updated_at desc, id"
        )
        .fetch_all(&self.pool)
        .await
    }

    /// Takes a landscape and all its revisions away; whether it was there.
    pub(crate) async fn delete_landscape(&self, id: Uuid) -> sqlx::Result<bool> {
        let mut transaction = self.pool.begin().await?;
        let gone = sqlx::query!("delete from landscapes where id = $1", id)
            .execute(&mut *transaction)
            .await?;
        sqlx::query!("select pg_notify($1, $2)", HEADS, id.to_string())
            .execute(&mut *transaction)
            .await?;
        transaction.commit().await?;
        Ok(gone.rows_affected() > 0)
    }
}
