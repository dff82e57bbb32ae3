//! The chain of revisions of a landscape.

use recipe::Recipe;
use sqlx::types::Json;
use sqlx::{Postgres, Transaction};
use uuid::Uuid;

use super::Store;

/// The current revision of a landscape and its neighbours.
#[derive(Clone, Debug)]
pub(crate) struct HeadRow {
    pub(crate) revision: i64,
    pub(crate) label: String,
    pub(crate) recipe: Json<Recipe>,
    pub(crate) parent: Option<i64>,
    pub(crate) redo_to: Option<i64>,
    pub(crate) redo_label: Option<String>,
}

/// What became of a wish to change the head.
pub(crate) enum Moved {
    /// It is done and committed.
    To(Box<HeadRow>),
    /// There is no such landscape.
    Missing,
    /// The head is another one by now.
    Stale(i64),
    /// There is nothing on that side.
    Nothing,
}

impl Store {
    /// The current revision.
    pub(crate) async fn head(&self, landscape: Uuid) -> sqlx::Result<Option<HeadRow>> {
        sqlx::query_as!(
            HeadRow,
            r#"select r.id as revision, r.label, r.recipe as "recipe: Json<Recipe>", r.parent,
                      r.redo_to, n.label as "redo_label?"
               from landscapes l
               join revisions r on r.id = l.head
               left join revisions n on n.id = r.redo_to
               where l.id = $1"#,
            landscape,
        )
        .fetch_optional(&self.pool)
        .await
    }

    /// The recipe at one revision of a landscape.
    pub(crate) async fn recipe_at(
        &self,
        landscape: Uuid,
        revision: i64,
    ) -> sqlx::Result<Option<Recipe>> {
        let recipe = sqlx::query_scalar!(
            r#"select recipe as "recipe: Json<Recipe>" from revisions
               where landscape = $1 and id = $2"#,
            landscape,
            revision,
        )
        .fetch_optional(&self.pool)
        .await?;
        Ok(recipe.map(|Json(recipe)| recipe))
    }

    /// Adds a revision after `base`, if that is still the head.
    pub(crate) async fn append(
        &self,
        landscape: Uuid,
        base: i64,
        label: &str,
        recipe: &Recipe,
    ) -> sqlx::Result<Moved> {
        let mut transaction = self.pool.begin().await?;
        match locked_head(&mut transaction, landscape).await? {
            None => return Ok(Moved::Missing),
            Some(head) if head != base => return Ok(Moved::Stale(head)),
            Some(_) => {}
        }
        let revision = sqlx::query_scalar!(
            "insert into revisions (landscape, parent, label, recipe) values ($1, $2, $3, $4)
             returning id",
            landscape,
            base,
            label,
            Json(recipe) as _,
        )
        .fetch_one(&mut *transaction)
        .await?;
        self.move_head(transaction, landscape, revision).await
    }

    /// Goes back to the revision before the head.
    pub(crate) async fn undo(&self, landscape: Uuid) -> sqlx::Result<Moved> {
        let mut transaction = self.pool.begin().await?;
        let Some(head) = locked_head(&mut transaction, landscape).await? else {
            return Ok(Moved::Missing);
        };
        let parent = sqlx::query_scalar!("select parent from revisions where id = $1", head)
            .fetch_one(&mut *transaction)
            .await?;
        let Some(parent) = parent else {
            return Ok(Moved::Nothing);
        };
        sqlx::query!(
            "update revisions set redo_to = $1 where id = $2",
            head,
            parent
        )
        .execute(&mut *transaction)
        .await?;
        self.move_head(transaction, landscape, parent).await
    }

    /// Goes forth again to the revision that was undone last.
    pub(crate) async fn redo(&self, landscape: Uuid) -> sqlx::Result<Moved> {
        let mut transaction = self.pool.begin().await?;
        let Some(head) = locked_head(&mut transaction, landscape).await? else {
            return Ok(Moved::Missing);
        };
        let next = sqlx::query_scalar!("select redo_to from revisions where id = $1", head)
            .fetch_one(&mut *transaction)
            .await?;
        let Some(next) = next else {
            return Ok(Moved::Nothing);
        };
        self.move_head(transaction, landscape, next).await
    }

    async fn move_head(
        &self,
        mut transaction: Transaction<'_, Postgres>,
        landscape: Uuid,
        revision: i64,
    ) -> sqlx::Result<Moved> {
        sqlx::query!(
            "update landscapes set head = $1, updated_at = now() where id = $2",
            revision,
            landscape,
        )
        .execute(&mut *transaction)
        .await?;
        transaction.commit().await?;
        Ok(self
            .head(landscape)
            .await?
            .map_or(Moved::Missing, |row| Moved::To(Box::new(row))))
    }
}

/// The head, which nobody else can move until the transaction is over.
async fn locked_head(
    transaction: &mut Transaction<'_, Postgres>,
    landscape: Uuid,
) -> sqlx::Result<Option<i64>> {
    sqlx::query_scalar!(
        "select head from landscapes where id = $1 for update",
        landscape
    )
    .fetch_optional(&mut **transaction)
    .await
}
