//! The chain of revisions of a landscape.
//!
//! Every move of the head is told to all services on the database as part of its
//! transaction: PostgreSQL delivers what is told in the order of commits.

use sqlx::{Postgres, Transaction};
use uuid::Uuid;

use super::lists::{KeptList, keep};
use super::{Store, Summary};

/// The current revision of a landscape and its neighbours.
#[derive(Clone, Debug)]
pub(crate) struct HeadRow {
    /// Counts the moves of the head.
    pub(crate) version: i64,
    pub(crate) revision: i64,
    pub(crate) label: String,
    pub(crate) parent: Option<i64>,
    pub(crate) redo_label: Option<String>,
    /// How whoever made it marked it.
    pub(crate) mark: Option<Uuid>,
    /// Who that was, as far as they said.
    pub(crate) author: String,
}

/// A revision without its document.
#[derive(Clone, Debug)]
pub(crate) struct RevisionMeta {
    pub(crate) label: String,
    pub(crate) parent: Option<i64>,
    pub(crate) redo_to: Option<i64>,
    pub(crate) redo_label: Option<String>,
    /// The patch from its parent, as JSON.
    pub(crate) patch: Option<String>,
    pub(crate) mark: Option<Uuid>,
    pub(crate) author: String,
}

/// One link of the chain that leads to a revision: the whole document, or what
/// changed.
pub(crate) struct Link {
    pub(crate) number: i64,
    pub(crate) snapshot: Option<String>,
    pub(crate) patch: Option<String>,
}

/// A revision to be added.
pub(crate) struct NewRevision<'a> {
    pub(crate) landscape: Uuid,
    pub(crate) base: i64,
    pub(crate) label: &'a str,
    /// By which it is known when it is sent again.
    pub(crate) mark: Option<Uuid>,
    /// Who makes it.
    pub(crate) author: &'a str,
    /// The patch from its base, as JSON.
    pub(crate) patch: &'a str,
    /// The document that comes of it, as JSON.
    pub(crate) document: &'a str,
    /// The version of the format that document and patch are in.
    pub(crate) format: i32,
    /// Lists that it has and its base has not.
    pub(crate) lists: &'a [KeptList],
    pub(crate) summary: Summary<'a>,
}

/// How the head of a landscape moved, committed.
#[derive(Clone, Debug)]
pub(crate) struct Move {
    pub(crate) version: i64,
    pub(crate) from: i64,
    pub(crate) to: i64,
}

/// What became of a wish to change the head.
pub(crate) enum Moved {
    /// It is done and committed.
    To(Move),
    /// There is no such landscape.
    Missing,
    /// The head is another one by now.
    Stale(i64),
}

/// What became of a revision that was to be added.
pub(crate) enum Appended {
    /// It was added, or refused.
    Now(Moved),
    /// It was added before, with the same mark, as this one.
    Before(i64),
}

/// The channel on which moves of heads are told: landscape, version, from, to; or
/// a landscape alone, when it was deleted.
pub(crate) const HEADS: &str = "morphogen_heads";

impl Store {
    /// The current revision.
    pub(crate) async fn head(&self, landscape: Uuid) -> sqlx::Result<Option<HeadRow>> {
        sqlx::query_as!(
            HeadRow,
            r#"select l.version, r.number as revision, r.label, r.parent, n.label as "redo_label?", r.mark, r.author
               from landscapes l
               join revisions r on r.landscape = l.id and r.number = l.head
               left join revisions n on n.landscape = l.id and n.number = r.redo_to
               where l.id = $1 and l.deleted_at is null"#,
            landscape,
        )
        .fetch_optional(&self.pool)
        .await
    }

    /// The document of a landscape as JSON, if `revision` is its head.
    pub(crate) async fn head_text(
        &self,
        landscape: Uuid,
        revision: i64,
    ) -> sqlx::Result<Option<String>> {
        sqlx::query_scalar!(
            r#"select document::text as "document!" from landscapes where id = $1 and head = $2"#,
            landscape,
            revision,
        )
        .fetch_optional(&self.pool)
        .await
    }

    /// A revision without its document.
    pub(crate) async fn revision(
        &self,
        landscape: Uuid,
        number: i64,
    ) -> sqlx::Result<Option<RevisionMeta>> {
        sqlx::query_as!(
            RevisionMeta,
            r#"select r.label, r.parent, r.redo_to, n.label as "redo_label?",
                      r.patch::text as patch, r.mark, r.author
               from revisions r
               left join revisions n on n.landscape = r.landscape and n.number = r.redo_to
               where r.landscape = $1 and r.number = $2"#,
            landscape,
            number,
        )
        .fetch_optional(&self.pool)
        .await
    }

    /// The revision that was made with `mark`.
    pub(crate) async fn marked(&self, landscape: Uuid, mark: Uuid) -> sqlx::Result<Option<i64>> {
        sqlx::query_scalar!(
            "select number from revisions where landscape = $1 and mark = $2",
            landscape,
            mark,
        )
        .fetch_optional(&self.pool)
        .await
    }

    /// What leads to a revision: the last whole document before it, and every patch
    /// since, oldest first; empty when there is no such revision.
    pub(crate) async fn chain(&self, landscape: Uuid, number: i64) -> sqlx::Result<Vec<Link>> {
        sqlx::query_as!(
            Link,
            r#"with recursive chain as (
                   select number, parent, snapshot, patch, 0 as back from revisions
                   where landscape = $1 and number = $2
                   union all
                   select r.number, r.parent, r.snapshot, r.patch, c.back + 1
                   from chain c join revisions r on r.landscape = $1 and r.number = c.parent
                   where c.snapshot is null
               )
               select number as "number!", snapshot::text as snapshot, patch::text as patch
               from chain order by back desc"#,
            landscape,
            number,
        )
        .fetch_all(&self.pool)
        .await
    }

    /// Adds a revision after its base, if that is still the head.
    pub(crate) async fn append(&self, new: NewRevision<'_>) -> sqlx::Result<Appended> {
        let mut transaction = self.pool.begin().await?;
        let locked = sqlx::query!(
            "select head, version, made from landscapes
             where id = $1 and deleted_at is null for update",
            new.landscape,
        )
        .fetch_optional(&mut *transaction)
        .await?;
        let Some(locked) = locked else {
            return Ok(Appended::Now(Moved::Missing));
        };
        let made = sqlx::query_scalar!(
            "select number from revisions where landscape = $1 and mark = $2",
            new.landscape,
            new.mark,
        )
        .fetch_optional(&mut *transaction)
        .await?;
        if let Some(made) = made {
            return Ok(Appended::Before(made));
        }
        if locked.head != new.base {
            return Ok(Appended::Now(Moved::Stale(locked.head)));
        }
        // Only now: what was joined before the lock would be of an older head.
        let base = sqlx::query!(
            "select patched, format from revisions where landscape = $1 and number = $2",
            new.landscape,
            new.base,
        )
        .fetch_one(&mut *transaction)
        .await?;
        let patched = base.patched + new.patch.len() as i64;
        // As much as the document itself was typed since the last whole one; or the patch
        // would not fit the base as it is stored.
        let whole = patched >= new.document.len() as i64 || base.format != new.format;
        let snapshot = whole.then_some(new.document);
        let number = locked.made + 1;
        sqlx::query!(
            "insert into revisions (landscape, number, parent, label, patch, snapshot, patched, mark, format,
                                    author)
             values ($1, $2, $3, $4, $5::text::json, $6::text::json, $7, $8, $9, $10)",
            new.landscape,
            number,
            new.base,
            new.label,
            new.patch,
            snapshot,
            if whole { 0 } else { patched },
            new.mark,
            new.format,
            new.author,
        )
        .execute(&mut *transaction)
        .await?;
        keep(&mut transaction, new.landscape, new.lists).await?;
        sqlx::query!(
            "update landscapes set made = $1 where id = $2",
            number,
            new.landscape
        )
        .execute(&mut *transaction)
        .await?;
        let moved = Move {
            version: locked.version + 1,
            from: new.base,
            to: number,
        };
        let moved = move_head(transaction, new.landscape, moved, new.document, new.summary);
        Ok(Appended::Now(moved.await?))
    }

    /// Moves the head from `from` to `to`, whose document is given, if it is still
    /// there; going back notes where redo leads. `lists` are those that may not be kept yet.
    pub(crate) async fn go(
        &self,
        landscape: Uuid,
        (from, to): (i64, i64),
        document: &str,
        lists: &[KeptList],
        summary: Summary<'_>,
    ) -> sqlx::Result<Moved> {
        let mut transaction = self.pool.begin().await?;
        let locked = sqlx::query!(
            "select head, version from landscapes
             where id = $1 and deleted_at is null for update",
            landscape
        )
        .fetch_optional(&mut *transaction)
        .await?;
        let Some(locked) = locked else {
            return Ok(Moved::Missing);
        };
        if locked.head != from {
            return Ok(Moved::Stale(locked.head));
        }
        sqlx::query!(
            "update revisions r set redo_to = $2 from revisions child
             where child.landscape = $1 and child.number = $2 and child.parent = $3
               and r.landscape = $1 and r.number = $3",
            landscape,
            from,
            to,
        )
        .execute(&mut *transaction)
        .await?;
        keep(&mut transaction, landscape, lists).await?;
        let version = locked.version + 1;
        move_head(
            transaction,
            landscape,
            Move { version, from, to },
            document,
            summary,
        )
        .await
    }
}

async fn move_head(
    mut transaction: Transaction<'_, Postgres>,
    landscape: Uuid,
    moved: Move,
    document: &str,
    summary: Summary<'_>,
) -> sqlx::Result<Moved> {
    sqlx::query!(
        "update landscapes set head = $1, version = $2, document = $3::text::json, name = $4,
                width_m = $5, depth_m = $6, steps = $7, updated_at = now()
         where id = $8",
        moved.to,
        moved.version,
        document,
        summary.name,
        summary.width_m,
        summary.depth_m,
        summary.steps,
        landscape,
    )
    .execute(&mut *transaction)
    .await?;
    let told = format!("{landscape} {} {} {}", moved.version, moved.from, moved.to);
    sqlx::query!("select pg_notify($1, $2)", HEADS, told)
        .execute(&mut *transaction)
        .await?;
    transaction.commit().await?;
    Ok(Moved::To(moved))
}
