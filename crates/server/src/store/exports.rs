//! Exports: who makes them and what became of them.

use deliver::Wish;
use sqlx::types::Json;
use uuid::Uuid;

use super::Store;

/// What became of an export.
#[derive(Clone, Copy, Debug, PartialEq, Eq, sqlx::Type, serde::Serialize, utoipa::ToSchema)]
#[sqlx(type_name = "text", rename_all = "snake_case")]
#[serde(rename_all = "snake_case")]
pub(crate) enum ExportState {
    /// It waits for its turn.
    Queued,
    /// It is being made.
    Running,
    /// It can be fetched.
    Done,
    /// It went wrong.
    Failed,
    /// Someone stopped it.
    Stopped,
    /// It was done, and newer ones have taken its place on the disk.
    Expired,
}

/// An export.
pub(crate) struct ExportRow {
    pub(crate) landscape: Uuid,
    pub(crate) state: ExportState,
    pub(crate) share: f32,
    pub(crate) message: Option<String>,
}

/// An export that is wanted.
pub(crate) struct NewExport<'a> {
    pub(crate) landscape: Uuid,
    pub(crate) revision: i64,
    pub(crate) wish: Json<&'a Wish>,
}

/// An export that is ours to make.
#[derive(Debug)]
pub(crate) struct TakenExport {
    pub(crate) id: Uuid,
    pub(crate) landscape: Uuid,
    pub(crate) revision: i64,
    pub(crate) wish: serde_json::Value,
    /// How often it was begun, this time included.
    pub(crate) attempts: i32,
}

/// An export among those of its landscape.
#[derive(Debug, serde::Serialize, utoipa::ToSchema)]
pub(crate) struct ListedExport {
    /// Its id.
    pub(crate) id: Uuid,
    /// The revision that it is of.
    pub(crate) revision: i64,
    /// What is wanted.
    #[schema(value_type = Wish)]
    pub(crate) wish: Json<Wish>,
    /// What became of it.
    pub(crate) state: ExportState,
    /// Size of its file, bytes.
    pub(crate) bytes: Option<i64>,
    /// When it was wanted.
    pub(crate) created_at: chrono::DateTime<chrono::Utc>,
}

impl Store {
    /// Notes that an export is wanted, unless `most` are waiting or being made.
    pub(crate) async fn queue_export(
        &self,
        id: Uuid,
        new: NewExport<'_>,
        most: i64,
    ) -> sqlx::Result<bool> {
        let done = sqlx::query!(
            "insert into exports (id, landscape, revision, wish, state)
             select $1, $2, $3, $4, 'queued'
             where (select count(*) from exports where state in ('queued', 'running')) < $5",
            id,
            new.landscape,
            new.revision,
            new.wish as _,
            most,
        )
        .execute(&self.pool)
        .await?;
        Ok(done.rows_affected() > 0)
    }

    /// Takes the export that waits longest, or one for which nobody has been alive
    /// for `after_s` seconds.
    pub(crate) async fn take_export(
        &self,
        by: Uuid,
        after_s: f64,
    ) -> sqlx::Result<Option<TakenExport>> {
        sqlx::query_as!(
            TakenExport,
            "update exports set state = 'running', taken_by = $1, alive_at = now(), share = 0,
                 attempts = attempts + 1
             where id = (
                 select id from exports
                 where state = 'queued'
                    or (state = 'running' and alive_at < now() - make_interval(secs => $2))
                 order by created_at limit 1 for update skip locked)
             returning id, landscape, revision, wish, attempts",
            by,
            after_s,
        )
        .fetch_optional(&self.pool)
        .await
    }

    /// The newest exports of a landscape, the newest first.
    pub(crate) async fn exports_of(
        &self,
        landscape: Uuid,
        most: i64,
    ) -> sqlx::Result<Vec<ListedExport>> {
        sqlx::query_as!(
            ListedExport,
            r#"select id, revision, wish as "wish: Json<Wish>", state as "state: ExportState",
                bytes, created_at
             from exports where landscape = $1 order by created_at desc limit $2"#,
            landscape,
            most,
        )
        .fetch_all(&self.pool)
        .await
    }

    /// Says that an export is still being made, and how far it is; whether it is
    /// still ours and wanted.
    pub(crate) async fn keep_export(&self, id: Uuid, by: Uuid, share: f32) -> sqlx::Result<bool> {
        let wanted = sqlx::query_scalar!(
            "update exports set alive_at = now(), share = $3
             where id = $1 and taken_by = $2 and state = 'running' returning not stopping",
            id,
            by,
            share,
        )
        .fetch_optional(&self.pool)
        .await?;
        Ok(wanted.flatten().unwrap_or(false))
    }

    /// Notes what became of an export of ours.
    pub(crate) async fn end_export(
        &self,
        id: Uuid,
        by: Uuid,
        (state, message): (ExportState, Option<&str>),
        bytes: i64,
    ) -> sqlx::Result<()> {
        sqlx::query!(
            "update exports set state = $3, message = $4, bytes = $5, ended_at = now()
             where id = $1 and taken_by = $2 and state = 'running'",
            id,
            by,
            state as _,
            message,
            bytes,
        )
        .execute(&self.pool)
        .await?;
        Ok(())
    }

    /// Gives back what is being made by a service that stops: others begin it anew, and it
    /// does not count as an attempt.
    pub(crate) async fn give_back_exports(&self, by: Uuid) -> sqlx::Result<()> {
        sqlx::query!(
            "update exports set state = 'queued', taken_by = null, attempts = attempts - 1
             where taken_by = $1 and state = 'running'",
            by,
        )
        .execute(&self.pool)
        .await?;
        Ok(())
    }

    /// Stops an export that waits, and asks for a stop of one that is being made;
    /// whether there was either.
    pub(crate) async fn stop_export(&self, id: Uuid) -> sqlx::Result<bool> {
        let done = sqlx::query!(
            "update exports set stopping = true,
                state = case state when 'queued' then 'stopped' else state end
             where id = $1 and state in ('queued', 'running')",
            id,
        )
        .execute(&self.pool)
        .await?;
        Ok(done.rows_affected() > 0)
    }

    /// An export.
    pub(crate) async fn export(&self, id: Uuid) -> sqlx::Result<Option<ExportRow>> {
        sqlx::query_as!(
            ExportRow,
            r#"select landscape, state as "state: ExportState", share, message from exports
               where id = $1"#,
            id,
        )
        .fetch_optional(&self.pool)
        .await
    }

    /// Of the exports that are done only the newest are kept: at most `most`, and
    /// at most `most_bytes` together. The ids of those whose files may go.
    pub(crate) async fn expire_exports(
        &self,
        most: i64,
        most_bytes: i64,
    ) -> sqlx::Result<Vec<Uuid>> {
        sqlx::query_scalar!(
            "update exports set state = 'expired' where id in (
                 select id from (
                     select id, row_number() over newest as place, sum(bytes) over newest as sum
                     from exports where state = 'done'
                     window newest as (order by ended_at desc, id)
                 ) kept where place > $1 or (place > 1 and sum > $2::bigint))
             returning id",
            most,
            most_bytes,
        )
        .fetch_all(&self.pool)
        .await
    }
}
