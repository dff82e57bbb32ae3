//! Exports and what became of them.

use uuid::Uuid;

use super::Store;

/// What became of an export.
#[derive(Clone, Copy, Debug, PartialEq, Eq, sqlx::Type, serde::Serialize, utoipa::ToSchema)]
#[sqlx(type_name = "text", rename_all = "snake_case")]
#[serde(rename_all = "snake_case")]
pub(crate) enum ExportState {
    /// It is being made.
    Running,
    /// It can be fetched.
    Done,
    /// It went wrong.
    Failed,
    /// Someone stopped it.
    Stopped,
}

/// An export.
pub(crate) struct ExportRow {
    pub(crate) landscape: Uuid,
    pub(crate) state: ExportState,
    pub(crate) message: Option<String>,
}

impl Store {
    /// Notes that an export has begun.
    pub(crate) async fn begin_export(
        &self,
        id: Uuid,
        landscape: Uuid,
        revision: i64,
    ) -> sqlx::Result<()> {
        sqlx::query!(
            "insert into exports (id, landscape, revision, state) values ($1, $2, $3, 'running')",
            id,
            landscape,
            revision,
        )
        .execute(&self.pool)
        .await?;
        Ok(())
    }

    /// Notes what became of an export.
    pub(crate) async fn end_export(
        &self,
        id: Uuid,
        state: ExportState,
        message: Option<&str>,
    ) -> sqlx::Result<()> {
        sqlx::query!(
            "update exports set state = $1, message = $2 where id = $3",
            state as _,
            message,
            id,
        )
        .execute(&self.pool)
        .await?;
        Ok(())
    }

    /// An export.
    pub(crate) async fn export(&self, id: Uuid) -> sqlx::Result<Option<ExportRow>> {
        sqlx::query_as!(
            ExportRow,
            r#"select landscape, state as "state: ExportState", message from exports
               where id = $1"#,
            id,
        )
        .fetch_optional(&self.pool)
        .await
    }

    /// Exports that were running when the service stopped will not end.
    pub(crate) async fn fail_interrupted_exports(&self) -> sqlx::Result<()> {
        sqlx::query!(
            "update exports set state = 'failed',
                message = 'the service was stopped meanwhile; please export again'
             where state = 'running'"
        )
        .execute(&self.pool)
        .await?;
        Ok(())
    }
}
