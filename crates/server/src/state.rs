//! What all handlers share.

use std::sync::Arc;

use recipe::Grower;
use sqlx::PgPool;

use crate::assets::AssetLibrary;
use crate::compute::Compute;
use crate::config::Config;
use crate::documents::Documents;
use crate::exports::Exports;
use crate::gallery::Gallery;
use crate::limits::Limits;
use crate::live::Live;
use crate::store::Store;

/// What all handlers share; cheap to clone.
#[derive(Clone)]
pub(crate) struct AppState {
    pub(crate) store: Store,
    pub(crate) documents: Documents,
    pub(crate) grower: Arc<Grower>,
    pub(crate) assets: AssetLibrary,
    pub(crate) compute: Compute,
    pub(crate) live: Live,
    pub(crate) exports: Exports,
    pub(crate) gallery: Gallery,
    pub(crate) limits: Limits,
}

impl AppState {
    pub(crate) fn new(pool: PgPool, config: &Config) -> Self {
        let store = Store::new(pool);
        let compute = Compute::new();
        let folder = config.cache_dir.join("exports");
        Self {
            assets: AssetLibrary::new(store.clone(), compute.clone()),
            documents: Documents::new(store.clone()),
            store,
            grower: Arc::new(Grower::within(config.work, config.cache_bytes)),
            compute,
            live: Live::new(),
            gallery: Gallery::default(),
            limits: config.limits,
            exports: Exports::new(folder, config.archives),
        }
    }
}
