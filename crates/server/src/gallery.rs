//! Small pictures of what does not change, each drawn once while it is remembered.

use std::sync::Arc;

use axum::body::Bytes;
use moka::future::Cache;
use recipe::GrowError;
use terrain::Cancel;
use tokio::sync::Mutex;

use crate::admission::Class;
use crate::compute::Compute;
use crate::error::ApiError;

/// Small pictures; cheap to clone.
#[derive(Clone)]
pub(crate) struct Gallery {
    drawn: Cache<String, Bytes>,
    /// One is drawn at a time, so that editing stays quick.
    drawing: Arc<Mutex<()>>,
}

/// What growing the land of a small picture takes at most, bytes.
const DRAWING_BYTES: f64 = 64e6;
/// Memory that pictures may take, bytes.
const MOST_BYTES: u64 = 64 << 20;

impl Default for Gallery {
    fn default() -> Self {
        let bytes = |_: &String, png: &Bytes| u32::try_from(png.len()).unwrap_or(u32::MAX);
        Self {
            drawn: Cache::builder()
                .max_capacity(MOST_BYTES)
                .weigher(bytes)
                .build(),
            drawing: Arc::default(),
        }
    }
}

impl Gallery {
    /// The picture called `name`; `draw` makes it when it is not remembered.
    pub(crate) async fn get_or_draw(
        &self,
        name: &str,
        compute: &Compute,
        draw: impl FnOnce(&Cancel) -> Result<Vec<u8>, GrowError> + Send + 'static,
    ) -> Result<Bytes, ApiError> {
        if let Some(png) = self.drawn.get(name).await {
            return Ok(png);
        }
        let _drawing = self.drawing.lock().await;
        // Drawn for somebody else while we waited.
        if let Some(png) = self.drawn.get(name).await {
            return Ok(png);
        }
        let png: Bytes = compute
            .run(Class::Study.taking(DRAWING_BYTES), draw)
            .await??
            .into();
        self.drawn.insert(name.to_owned(), png.clone()).await;
        Ok(png)
    }
}
