//! What all handlers share.

use std::sync::Arc;

use recipe::{Grower, Recipe};
use sqlx::PgPool;
use terrain::Frame;

use crate::admission::{Class, Need};
use crate::assets::AssetLibrary;
use crate::compute::Compute;
use crate::config::Config;
use crate::desk::Desk;
use crate::documents::Documents;
use crate::error::ApiError;
use crate::exports::Exports;
use crate::gallery::Gallery;
use crate::limits::Limits;
use crate::live::{Flights, Live};
use crate::store::Store;

/// What all handlers share; cheap to clone.
#[derive(Clone)]
pub(crate) struct AppState {
    pub(crate) store: Store,
    pub(crate) documents: Documents,
    pub(crate) grower: Arc<Grower>,
    pub(crate) assets: AssetLibrary,
    pub(crate) compute: Compute,
    pub(crate) desk: Desk,
    pub(crate) flights: Flights,
    pub(crate) live: Live,
    pub(crate) exports: Exports,
    pub(crate) gallery: Gallery,
    pub(crate) limits: Limits,
}

/// What a piece of work may take is this part of the machine's memory.
const MACHINE: f64 = 4.0;

impl AppState {
    /// What it takes to grow `recipe` on so many cells along the longer side. What is too
    /// costly is refused once it is its turn, by whoever grows it: a part of it may do.
    pub(crate) async fn need(
        &self,
        class: Class,
        recipe: &Arc<Recipe>,
        cells: usize,
    ) -> Result<Need, ApiError> {
        let (grower, recipe) = (self.grower.clone(), recipe.clone());
        let counted = self.desk.run(move || {
            let frame = Frame::with_cells(recipe.extent.into(), cells);
            let takes = grower.takes(&recipe, &frame);
            takes.map_or(grower.budget().bytes, |takes| takes.bytes)
        });
        Ok(class.taking(counted.await?))
    }

    pub(crate) fn new(pool: PgPool, config: &Config) -> Self {
        let store = Store::new(pool);
        let (compute, desk) = (Compute::within(MACHINE * config.work.bytes), Desk::new());
        let folder = config.cache_dir.join("exports");
        Self {
            assets: AssetLibrary::new(store.clone(), compute.clone()),
            documents: Documents::new(store.clone(), desk.clone()),
            store,
            grower: Arc::new(Grower::within(config.work, config.cache_bytes)),
            compute,
            desk,
            flights: Flights::default(),
            live: Live::new(),
            gallery: Gallery::default(),
            limits: config.limits,
            exports: Exports::new(folder, config.archives),
        }
    }
}
