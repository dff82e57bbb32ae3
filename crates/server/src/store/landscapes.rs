//! Landscapes as a whole.

use chrono::{DateTime, Utc};
use recipe::Recipe;
use sqlx::types::Json;
use uuid::Uuid;

use super::Store;

/// A landscape on the shelf.
pub(crate) struct LandscapeRow {
    pub(crate) id: Uuid,
    pub(crate) revision: i64,
    pub(crate) recipe: Json<Recipe>,
    pub(crate) updated_at: DateTime<Utc>,
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

    /// Makes a landscape with its first revision.
    pub(crate) async fn create_landscape(
        &self,
        label: &str,
        recipe: &Recipe,
    ) -> sqlx::Result<Uuid> {
        let id = Uuid::now_v7();
        let mut transaction = self.pool.begin().await?;
        let revision = sqlx::query_scalar!(
            "insert into revisions (landscape, label, recipe) values ($1, $2, $3) returning id",
            id,
            label,
            Json(recipe) as _,
        )
        .fetch_one(&mut *transaction)
        .await?;
        sqlx::query!(
            "insert into landscapes (id, head) values ($1, $2)",
            id,
            revision
        )
        .execute(&mut *transaction)
        .await?;
        transaction.commit().await?;
        Ok(id)
    }

    /// All landscapes, the one worked on last first.
    pub(crate) async fn landscapes(&self) -> sqlx::Result<Vec<LandscapeRow>> {
        sqlx::query_as!(
            LandscapeRow,
            r#"select l.id, l.head as revision, r.recipe as "recipe: Json<Recipe>", l.updated_at
               from landscapes l join revisions r on r.id = l.head
               order by l.updated_at desc, l.id"#
        )
        .fetch_all(&self.pool)
        .await
    }

    /// Takes a landscape and all its revisions away; whether it was there.
    pub(crate) async fn delete_landscape(&self, id: Uuid) -> sqlx::Result<bool> {
        let gone = sqlx::query!("delete from landscapes where id = $1", id)
            .execute(&self.pool)
            .await?;
        Ok(gone.rows_affected() > 0)
    }
}
