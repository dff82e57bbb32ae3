//! Imported heightfields and pictures: kept in the database, read once into memory.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError};

use formats::{Heightfield, Limits, read_heightfield, read_picture};
use recipe::grow::Image;
use recipe::{Assets, Recipe};

use crate::error::ApiError;
use crate::store::Store;

/// All imported files; cheap to clone.
#[derive(Clone)]
pub(crate) struct AssetLibrary {
    store: Store,
    loaded: Arc<Mutex<HashMap<String, Arc<Image>>>>,
}

impl AssetLibrary {
    pub(crate) fn new(store: Store) -> Self {
        Self {
            store,
            loaded: Arc::default(),
        }
    }

    /// Reads a heightfield that was sent, and keeps it if it can be read.
    pub(crate) async fn import(
        &self,
        name: &str,
        bytes: Vec<u8>,
    ) -> Result<(String, Heightfield), ApiError> {
        let (bytes, heightfield) = read(bytes, read_heightfield).await?;
        let id = self.keep(name, &bytes).await?;
        let white = heightfield.units.white();
        self.remember(&id, Image::of(vec![heightfield.values.clone()], white));
        Ok((id, heightfield))
    }

    /// Reads a picture that was sent, and keeps it if it can be read.
    pub(crate) async fn import_picture(
        &self,
        name: &str,
        bytes: Vec<u8>,
    ) -> Result<(String, Arc<Image>), ApiError> {
        let (bytes, picture) = read(bytes, read_picture).await?;
        let id = self.keep(name, &bytes).await?;
        let image = Image::of(picture.channels, picture.units.white());
        let image = self.remember(&id, image);
        Ok((id, image))
    }

    /// Stores a file under the hash of its bytes.
    async fn keep(&self, name: &str, bytes: &[u8]) -> Result<String, ApiError> {
        let id = blake3::hash(bytes).to_hex().to_string();
        self.store.keep_asset(&id, name, bytes).await?;
        Ok(id)
    }

    /// What `recipe` needs, read and ready. Files that are not there are left
    /// out: growing names the step that misses them.
    pub(crate) async fn of(&self, recipe: &Recipe) -> Result<LoadedAssets, ApiError> {
        let mut ready = HashMap::new();
        for id in recipe.asset_names() {
            if let Some(image) = self.load(id).await? {
                ready.insert(id.to_owned(), image);
            }
        }
        Ok(LoadedAssets(ready))
    }

    /// Lowest and highest value of an imported file, if it is there.
    pub(crate) async fn range(&self, id: &str) -> Result<Option<(f32, f32)>, ApiError> {
        Ok(self.load(id).await?.map(|image| image.channels[0].range()))
    }

    async fn load(&self, id: &str) -> Result<Option<Arc<Image>>, ApiError> {
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
        let (_, picture) = read(bytes, read_picture).await?;
        let image = Image::of(picture.channels, picture.units.white());
        Ok(Some(self.remember(id, image)))
    }

    fn remember(&self, id: &str, image: Image) -> Arc<Image> {
        let mut loaded = self.loaded.lock().unwrap_or_else(PoisonError::into_inner);
        loaded
            .entry(id.to_owned())
            .or_insert_with(|| Arc::new(image))
            .clone()
    }
}

/// Reads a file off the async threads.
async fn read<T: Send + 'static>(
    bytes: Vec<u8>,
    with: fn(&[u8], Limits) -> Result<T, formats::ReadError>,
) -> Result<(Vec<u8>, T), ApiError> {
    let (bytes, read) = tokio::task::spawn_blocking(move || {
        let read = with(&bytes, Limits::default());
        (bytes, read)
    })
    .await
    .expect("reading does not panic");
    Ok((bytes, read?))
}

/// The files that one recipe needs.
pub(crate) struct LoadedAssets(HashMap<String, Arc<Image>>);

impl Assets for LoadedAssets {
    fn image(&self, id: &str) -> Option<Arc<Image>> {
        self.0.get(id).cloned()
    }
}
