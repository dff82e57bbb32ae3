//! Pictures that never change, each drawn once.

use std::collections::HashMap;
use std::sync::Arc;

use recipe::GrowError;
use tokio::sync::Mutex;

use crate::compute::Compute;

/// Pictures that never change; cheap to clone.
#[derive(Clone, Default)]
pub(crate) struct Gallery {
    drawn: Arc<Mutex<HashMap<String, Vec<u8>>>>,
}

impl Gallery {
    /// The picture called `name`; `draw` makes it when it is wanted for the
    /// first time. One is drawn at a time, so that editing stays quick.
    pub(crate) async fn get_or_draw(
        &self,
        name: &str,
        compute: &Compute,
        draw: impl FnOnce() -> Result<Vec<u8>, GrowError> + Send + 'static,
    ) -> Result<Vec<u8>, GrowError> {
        let mut drawn = self.drawn.lock().await;
        if let Some(png) = drawn.get(name) {
            return Ok(png.clone());
        }
        let png = compute.run(draw).await?;
        drawn.insert(name.to_owned(), png.clone());
        Ok(png)
    }
}
