//! What all handlers share.

use std::path::PathBuf;
use std::sync::Arc;

use recipe::Grower;
use sqlx::PgPool;

use crate::assets::AssetLibrary;
use crate::compute::Compute;
use crate::exports::Exports;
use crate::gallery::Gallery;
use crate::live::Live;
use crate::store::Store;

/// What all handlers share; cheap to clone.
#[derive(Clone)]
pub(crate) struct AppState {
    pub(crate) store: Store,
    pub(crate) grower: Arc<Grower>,
    pub(crate) assets: AssetLibrary,
    pub(crate) compute: Compute,
    pub(crate) live: Live,
    pub(crate) exports: Exports,
    pub(crate) gallery: Gallery,
}

impl AppState {
    pub(crate) fn new(pool: PgPool, cache_dir: PathBuf, cache_bytes: usize) -> Self {
        let store = Store::new(pool);
        Self {
            assets: AssetLibrary::new(store.clone()),
            store,
            grower: Arc::new(Grower::new(cache_bytes)),
            compute: Compute::new(),
            live: Live::new(),
            gallery: Gallery::default(),
            exports: Exports::new(cache_dir.join("exports")),
        }
    }
}
