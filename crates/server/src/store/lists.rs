//! Long lists of points, each kept once for a landscape.

use sqlx::{Postgres, Transaction};
use uuid::Uuid;

use super::Store;

/// A list of points and its name.
pub(crate) struct KeptList {
    pub(crate) name: String,
    /// As JSON.
    pub(crate) points: String,
}

impl Store {
    /// Those of the lists called `names` that a landscape has.
    pub(crate) async fn lists(
        &self,
        landscape: Uuid,
        names: &[String],
    ) -> sqlx::Result<Vec<KeptList>> {
        sqlx::query_as!(
            KeptList,
            r#"select name, points::text as "points!" from lists
               where landscape = $1 and name = any($2)"#,
            landscape,
            names,
        )
        .fetch_all(&self.pool)
        .await
    }

    /// Keeps a list for an edit that is to come, for a day; whether there is such a
    /// landscape.
    pub(crate) async fn lay_ready(&self, landscape: Uuid, list: &KeptList) -> sqlx::Result<bool> {
        sqlx::query!("delete from lists where not used and made_at < now() - interval '1 day'")
            .execute(&self.pool)
            .await?;
        let kept = sqlx::query!(
            "insert into lists (landscape, name, points, used)
             select id, $2, $3::text::json, false from landscapes where id = $1
             on conflict (landscape, name) do update set made_at = now()",
            landscape,
            list.name,
            list.points,
        )
        .execute(&self.pool)
        .await?;
        Ok(kept.rows_affected() > 0)
    }
}

/// Keeps the lists of a revision, with it.
pub(super) async fn keep(
    transaction: &mut Transaction<'_, Postgres>,
    landscape: Uuid,
    lists: &[KeptList],
) -> sqlx::Result<()> {
    if lists.is_empty() {
        return Ok(());
    }
    let names: Vec<_> = lists.iter().map(|list| list.name.clone()).collect();
    let points: Vec<_> = lists.iter().map(|list| list.points.clone()).collect();
    sqlx::query!(
        "insert into lists (landscape, name, points, used)
         select $1, name, points::json, true
         from unnest($2::text[], $3::text[]) as given (name, points)
         on conflict (landscape, name) do update set used = true where not lists.used",
        landscape,
        &names,
        &points,
    )
    .execute(&mut **transaction)
    .await?;
    Ok(())
}
