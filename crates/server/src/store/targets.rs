//! What other programs take, beside what ships with the product.

use deliver::Target;
use sqlx::types::Json;
use uuid::Uuid;

use super::Store;

/// A target that somebody has added.
pub(crate) struct TargetRow {
    pub(crate) id: Uuid,
    pub(crate) target: Json<Target>,
}

impl Store {
    /// All that were added, by name.
    pub(crate) async fn targets(&self) -> sqlx::Result<Vec<TargetRow>> {
        sqlx::query_as!(
            TargetRow,
            r#"select id, target as "target: Json<Target>" from targets order by name"#
        )
        .fetch_all(&self.pool)
        .await
    }

    /// Keeps a target, in the place of one of its name; its id, or nothing when there are
    /// `most` others already.
    pub(crate) async fn keep_target(
        &self,
        id: Uuid,
        target: &Target,
        most: i64,
    ) -> sqlx::Result<Option<Uuid>> {
        sqlx::query_scalar!(
            "insert into targets (id, name, target)
             select $1, $2, $3 where (select count(*) from targets where name <> $2) < $4
             on conflict (name) do update set target = excluded.target
             returning id",
            id,
            target.name,
            Json(target) as _,
            most,
        )
        .fetch_optional(&self.pool)
        .await
    }

    /// Takes a target away; whether it was there.
    pub(crate) async fn drop_target(&self, id: Uuid) -> sqlx::Result<bool> {
        let done = sqlx::query!("delete from targets where id = $1", id)
            .execute(&self.pool)
            .await?;
        Ok(done.rows_affected() > 0)
    }
}
