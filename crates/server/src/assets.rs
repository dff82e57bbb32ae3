//! Imported heightfields: kept in the database, read once into memory.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError};

use formats::{Heightfield, Limits, read_heightfield};
use recipe::{Assets, Recipe};
use terrain::Grid;

use crate::error::ApiError;
use crate::store::Store;

/// All imported heightfields; cheap to clone.
#[derive(Clone)]
pub(crate) struct AssetLibrary {
    store: Store,
    loaded: Arc<Mutex<HashMap<String, Arc<Grid>>>>,
}

impl AssetLibrary {
    pub(crate) fn new(store: Store) -> Self {
        Self {
            store,
            loaded: Arc::default(),
        }
    }

    /// Reads a file that was sent, and keeps it if it can be read.
    pub(crate) async fn import(
        &self,
        name: &str,
        bytes: Vec<u8>,
    ) -> Result<(String, Heightfield), ApiError> {
        let (bytes, read) = tokio::task::spawn_blocking(move || {
            let read = read_heightfield(&bytes, Limits::default());
            (bytes, read)
        })
        .await
        .expect("reading does not panic");
        let heightfield = read?;
        let id = blake3::hash(&bytes).to_hex().to_string();
        self.store.keep_asset(&id, name, &bytes).await?;
        self.remember(&id, heightfield.values.clone());
        Ok((id, heightfield))
    }

    /// What `recipe` needs, read and ready. Files that are not there are left
    /// out: growing names the step that misses them.
    pub(crate) async fn of(&self, recipe: &Recipe) -> Result<LoadedAssets, ApiError> {
        let mut ready = HashMap::new();
        for id in recipe.asset_names() {
            if let Some(grid) = self.load(id).await? {
                ready.insert(id.to_owned(), grid);
            }
        }
        Ok(LoadedAssets(ready))
    }

    /// Lowest and highest value of an imported file, if it is there.
    pub(crate) async fn range(&self, id: &str) -> Result<Option<(f32, f32)>, ApiError> {
        Ok(self.load(id).await?.map(|grid| grid.range()))
    }

    async fn load(&self, id: &str) -> Result<Option<Arc<Grid>>, ApiError> {
        let known = self
            .loaded
            .lock()
            .unwrap_or_else(PoisonError::into_inner)
            .get(id)
            .cloned();
        if known.is_some() {
            return Ok(known);
        }
        let Some(bytes) = self.store.asset(id).await? else {
            return Ok(None);
        };
        let read = tokio::task::spawn_blocking(move || read_heightfield(&bytes, Limits::default()));
        let heightfield = read.await.expect("reading does not panic")?;
        Ok(Some(self.remember(id, heightfield.values)))
    }

    fn remember(&self, id: &str, grid: Grid) -> Arc<Grid> {
        let mut loaded = self.loaded.lock().unwrap_or_else(PoisonError::into_inner);
        loaded
            .entry(id.to_owned())
            .or_insert_with(|| Arc::new(grid))
            .clone()
    }
}

/// The heightfields that one recipe needs.
pub(crate) struct LoadedAssets(HashMap<String, Arc<Grid>>);

impl Assets for LoadedAssets {
    fn heightfield(&self, id: &str) -> Option<Arc<Grid>> {
        self.0.get(id).cloned()
    }
}
