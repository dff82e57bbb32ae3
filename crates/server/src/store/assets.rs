//! Imported files.

use super::Store;

impl Store {
    /// Keeps a file under the name of its content; keeping it twice is fine.
    pub(crate) async fn keep_asset(&self, id: &str, name: &str, bytes: &[u8]) -> sqlx::Result<()> {
        sqlx::query!(
            "insert into assets (id, name, bytes) values ($1, $2, $3) on conflict (id) do nothing",
            id,
            name,
            bytes,
        )
        .execute(&self.pool)
        .await?;
        Ok(())
    }

    /// The name that a file came with.
    pub(crate) async fn asset_name(&self, id: &str) -> sqlx::Result<Option<String>> {
        sqlx::query_scalar!("select name from assets where id = $1", id)
            .fetch_optional(&self.pool)
            .await
    }

    /// The content of a file that was kept.
    pub(crate) async fn asset(&self, id: &str) -> sqlx::Result<Option<Vec<u8>>> {
        sqlx::query_scalar!("select bytes from assets where id = $1", id)
            .fetch_optional(&self.pool)
            .await
    }
}
