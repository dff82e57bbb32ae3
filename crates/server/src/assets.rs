//! Imported heightfields and pictures: kept in the database, read once into memory.

use std::collections::HashMap;
use std::sync::Arc;

use axum::body::Bytes;
use formats::{Heights, Limits, is_raw16, raw16_as_png, read_heights, read_picture};
use moka::future::Cache;
use recipe::grow::Image;
use recipe::{Assets, Recipe};

use crate::admission::Class;
use crate::compute::Compute;
use crate::error::ApiError;
use crate::store::Store;

/// All imported files; cheap to clone.
#[derive(Clone)]
pub(crate) struct AssetLibrary {
    store: Store,
    compute: Compute,
    /// Decoded files, by the memory that they take, KiB.
    loaded: Cache<String, Arc<Image>>,
}

/// The most that reading a file takes, bytes: four channels of as many values as are allowed,
/// and what they are read from.
const READING_BYTES: f64 = 1.5e9;
/// Memory for decoded files, KiB.
const MOST_KIB: u64 = 1 << 20;

impl AssetLibrary {
    pub(crate) fn new(store: Store, compute: Compute) -> Self {
        let kib = |_: &String, image: &Arc<Image>| {
            let cells: usize = image.channels.iter().map(|c| c.cols() * c.rows()).sum();
            u32::try_from(cells * size_of::<f32>() / 1024).unwrap_or(u32::MAX)
        };
        let loaded = Cache::builder().max_capacity(MOST_KIB).weigher(kib).build();
        Self {
            store,
            compute,
            loaded,
        }
    }

    /// Reads heights that were sent, and keeps them if they can be read: raw ones, with so many
    /// steps in a row, as a picture that says so itself.
    pub(crate) async fn import(
        &self,
        name: &str,
        bytes: Bytes,
        raw_cols: Option<usize>,
    ) -> Result<(String, Heights), ApiError> {
        let bytes = match is_raw16(name) {
            false => bytes,
            true => {
                let picture = move |bytes: &[u8], limits| raw16_as_png(bytes, raw_cols, limits);
                self.read(bytes, picture).await?.1.into()
            }
        };
        let (bytes, heights) = self.read(bytes, read_heights).await?;
        let id = self.keep(name, &bytes).await?;
        let image = Image::of(heights.channels.clone(), heights.units.white());
        self.loaded.insert(id.clone(), Arc::new(image)).await;
        Ok((id, heights))
    }

    /// Reads a picture that was sent, and keeps it if it can be read.
    pub(crate) async fn import_picture(
        &self,
        name: &str,
        bytes: Bytes,
    ) -> Result<(String, Arc<Image>), ApiError> {
        let (bytes, picture) = self.read(bytes, read_picture).await?;
        let id = self.keep(name, &bytes).await?;
        let image = Arc::new(Image::of(picture.channels, picture.units.white()));
        self.loaded.insert(id.clone(), image.clone()).await;
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

    /// Lowest and highest value of a channel of an imported file, if it is there.
    pub(crate) async fn range(
        &self,
        id: &str,
        channel: u32,
    ) -> Result<Option<(f32, f32)>, ApiError> {
        let image = self.load(id).await?;
        Ok(image.and_then(|image| Some(image.channels.get(channel as usize)?.range())))
    }

    /// A file, decoded once however many ask for it.
    pub(crate) async fn load(&self, id: &str) -> Result<Option<Arc<Image>>, ApiError> {
        if let Some(known) = self.loaded.get(id).await {
            return Ok(Some(known));
        }
        let Some(bytes) = self.store.asset(id).await? else {
            return Ok(None);
        };
        let read = async {
            let (_, picture) = self.read(bytes.into(), read_picture).await?;
            let image = Image::of(picture.channels, picture.units.white());
            Ok::<_, ApiError>(Arc::new(image))
        };
        let image = self.loaded.try_get_with_by_ref(id, read).await;
        image
            .map(Some)
            .map_err(|error| match Arc::try_unwrap(error) {
                Ok(error) => error,
                // Several asked for it, and all are told.
                Err(shared) => ApiError::Unfit(shared.to_string()),
            })
    }

    /// Reads a file on the computing threads, when there is room: a small file may
    /// hold a large picture.
    async fn read<T: Send + 'static>(
        &self,
        bytes: Bytes,
        with: impl FnOnce(&[u8], Limits) -> Result<T, formats::ReadError> + Send + 'static,
    ) -> Result<(Bytes, T), ApiError> {
        let reading = self
            .compute
            .run(Class::Study.taking(READING_BYTES), move |_| {
                let read = with(&bytes, Limits::default());
                (bytes, read)
            });
        let (bytes, read) = reading.await?;
        Ok((bytes, read?))
    }
}

/// The files that one recipe needs.
pub(crate) struct LoadedAssets(HashMap<String, Arc<Image>>);

impl Assets for LoadedAssets {
    fn image(&self, id: &str) -> Option<Arc<Image>> {
        self.0.get(id).cloned()
    }
}
