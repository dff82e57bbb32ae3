//! Exports: grown in the background, packed into one file to download.

use std::collections::HashMap;
use std::fs::File;
use std::io;
use std::path::{Path, PathBuf};
use std::sync::{Arc, Mutex, PoisonError};

use deliver::{DeliverError, Layer, Order, deliver};
use recipe::{GrowError, Recipe};
use terrain::{Cancel, Run};
use uuid::Uuid;

use crate::error::ApiError;
use crate::state::AppState;
use crate::store::ExportState;

/// The exports that are running; cheap to clone.
#[derive(Clone)]
pub(crate) struct Exports {
    folder: Arc<Path>,
    running: Arc<Mutex<HashMap<Uuid, Running>>>,
}

#[derive(Clone)]
struct Running {
    cancel: Cancel,
    share: f32,
}

/// How large an export is.
#[derive(Clone, Copy)]
pub(crate) struct Size {
    /// Cells along the longer side.
    pub(crate) cells: usize,
    /// Cells along each side of a tile.
    pub(crate) tile: Option<usize>,
}

impl Exports {
    /// More at once are refused: each may take gigabytes.
    const MOST: usize = 4;

    pub(crate) fn new(folder: PathBuf) -> Self {
        Self {
            folder: folder.into(),
            running: Arc::default(),
        }
    }

    /// The packed file of an export that is done.
    pub(crate) fn file(&self, id: Uuid) -> PathBuf {
        self.folder.join(format!("{id}.zip"))
    }

    fn running(&self) -> std::sync::MutexGuard<'_, HashMap<Uuid, Running>> {
        self.running.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// How far an export is, 0 to 1, while it runs.
    pub(crate) fn share(&self, id: Uuid) -> Option<f32> {
        self.running().get(&id).map(|running| running.share)
    }

    /// Asks an export to stop; whether it was running.
    pub(crate) fn stop(&self, id: Uuid) -> bool {
        let running = self.running();
        running
            .get(&id)
            .inspect(|running| running.cancel.cancel())
            .is_some()
    }

    /// Begins to export `recipe`, which is what `revision` holds.
    pub(crate) async fn begin(
        state: &AppState,
        landscape: Uuid,
        revision: i64,
        recipe: Recipe,
        size: Size,
        layers: Vec<Layer>,
    ) -> Result<Uuid, ApiError> {
        let assets = state.assets.of(&recipe).await?;
        let id = Uuid::now_v7();
        let cancel = Cancel::new();
        {
            let mut running = state.exports.running();
            if running.len() >= Self::MOST {
                let detail = format!("{} exports are running already; wait for one", Self::MOST);
                return Err(ApiError::TooLarge(detail));
            }
            running.insert(
                id,
                Running {
                    cancel: cancel.clone(),
                    share: 0.0,
                },
            );
        }
        if let Err(error) = state.store.begin_export(id, landscape, revision).await {
            state.exports.running().remove(&id);
            return Err(error.into());
        }
        let state = state.clone();
        tokio::spawn(async move {
            let (exports, grower) = (state.exports.clone(), state.grower.clone());
            let made = state.compute.run(move || {
                let report = |share: f32| {
                    if let Some(running) = exports.running().get_mut(&id) {
                        running.share = running.share.max(share);
                    }
                };
                let folder = exports.folder.join(id.to_string());
                let run = Run::until(&cancel);
                let order = Order {
                    recipe: &recipe,
                    assets: &assets,
                    cells: size.cells,
                    tile: size.tile,
                    layers: &layers,
                };
                let made = deliver(&grower, order, &folder, &report, run).and_then(|delivered| {
                    let path = exports.file(id);
                    pack(&path, &delivered.files).map_err(|source| DeliverError::Write {
                        path,
                        source: source.into(),
                    })
                });
                // What is packed, or failed, is not needed loose.
                let _ = std::fs::remove_dir_all(&folder);
                made
            });
            let (outcome, message) = match made.await {
                Ok(()) => (ExportState::Done, None),
                Err(DeliverError::Grow(GrowError::Cancelled(_))) => (ExportState::Stopped, None),
                Err(error) => (ExportState::Failed, Some(error.to_string())),
            };
            let noted = state
                .store
                .end_export(id, outcome, message.as_deref())
                .await;
            state.exports.running().remove(&id);
            if let Err(source) = noted {
                tracing::error!(%source, "an export's end was not noted");
            }
        });
        Ok(id)
    }
}

/// Packs files into a zip archive, which appears once it is complete.
fn pack(path: &Path, files: &[PathBuf]) -> io::Result<()> {
    let partial = path.with_extension("partial");
    let mut archive = zip::ZipWriter::new(File::create(&partial)?);
    // Pictures are packed already; floats hardly shrink.
    let options = zip::write::SimpleFileOptions::default()
        .compression_method(zip::CompressionMethod::Stored)
        .large_file(true);
    for file in files {
        let name = file.file_name().unwrap_or_default().to_string_lossy();
        archive.start_file(name, options)?;
        io::copy(&mut File::open(file)?, &mut archive)?;
    }
    archive.finish()?;
    std::fs::rename(&partial, path)
}
