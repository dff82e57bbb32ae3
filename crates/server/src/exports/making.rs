//! Making exports, one after the other.

use std::fs::File;
use std::io;
use std::path::{Path, PathBuf};
use std::sync::Arc;
use std::time::Duration;

use deliver::{DeliverError, Layer, Order, Wish, deliver};
use recipe::GrowError;
use terrain::{Cancel, Frame, Run};
use tokio::sync::watch;
use uuid::Uuid;

use super::{Exports, Wanted};
use crate::admission::Class;
use crate::config::Archives;
use crate::error::ApiError;
use crate::live::Live;
use crate::state::AppState;
use crate::store::{ExportState, NewExport, TakenExport};

/// An export that has ended its service so often is given up.
const MOST_ATTEMPTS: i32 = 3;
/// More at once are refused.
const MOST_WAITING: i64 = 16;
/// Who makes an export says so often that it is alive.
const ALIVE_EVERY: Duration = Duration::from_secs(1);
/// Who has not said so for this long is dead, seconds.
const DEAD_AFTER_S: f64 = 15.0;
/// How often is looked for what others have left.
const LOOK_EVERY: Duration = Duration::from_secs(3);

/// Wants a landscape exported.
pub(crate) async fn begin(
    state: &AppState,
    landscape: Uuid,
    wanted: Wanted,
) -> Result<Uuid, ApiError> {
    let Wanted { revision, mut wish } = wanted;
    let (revision, document) = state.documents.at_or_head(landscape, revision).await?;
    let grower = state.grower.allowing(state.grower.budget().of_export());
    let order = Order::of(&wish, &document.recipe).map_err(ApiError::BadRequest)?;
    if order.layers.contains(&Layer::Mesh) {
        let bytes = grower.budget().bytes;
        let admitted = order.mesh.admit(&document.recipe, order.cells, bytes);
        admitted.map_err(|why| ApiError::TooLarge(format!("mesh: {why}")))?;
    }
    // What is usual now is what is wanted, whatever is usual once it is made.
    wish.layers = order
        .layers
        .iter()
        .map(|layer| layer.name().into())
        .collect();
    let largest = order.finest_cells();
    let allowed = state.desk.run(move || {
        let recipe = &document.recipe;
        grower.takes(recipe, &Frame::with_cells(recipe.extent.into(), largest))
    });
    allowed.await?.map_err(GrowError::from)?;
    let id = Uuid::now_v7();
    let new = NewExport {
        landscape,
        revision,
        wish: sqlx::types::Json(&wish),
    };
    if !state.store.queue_export(id, new, MOST_WAITING).await? {
        let detail = format!("{MOST_WAITING} exports are waiting already; wait for one");
        return Err(ApiError::TooLarge(detail));
    }
    state.exports.wanted.notify_one();
    Ok(id)
}

/// Makes what is to be made, one after the other, until all is to end.
pub(crate) async fn work(state: AppState) {
    let exports = state.exports.clone();
    let mut closing = state.live.closing();
    loop {
        match state.store.take_export(exports.me, DEAD_AFTER_S).await {
            Ok(Some(taken)) => {
                exports.make(&state, taken, &mut closing).await;
                // There may be another.
                exports.wanted.notify_one();
            }
            Ok(None) => {}
            Err(source) => tracing::warn!(%source, "exports cannot be looked up"),
        }
        tokio::select! {
            () = exports.wanted.notified() => {}
            () = tokio::time::sleep(LOOK_EVERY) => {}
            () = Live::closed(&mut closing) => return,
        }
    }
}

impl Exports {
    async fn make(
        &self,
        state: &AppState,
        taken: TakenExport,
        closing: &mut watch::Receiver<bool>,
    ) {
        let id = taken.id;
        let cancel = Cancel::new();
        self.shares().insert(id, 0.0);
        let making = self.made(state, &taken, cancel.clone());
        let mut making = std::pin::pin!(making);
        let mut alive = tokio::time::interval(ALIVE_EVERY);
        let ended = loop {
            tokio::select! {
                ended = &mut making => break ended,
                _ = alive.tick() => {
                    let share = self.share(id).unwrap_or(0.0);
                    // While the database is away, nobody else can take it either.
                    if let Ok(false) = state.store.keep_export(id, self.me, share).await {
                        cancel.cancel();
                    }
                }
                () = Live::closed(closing) => {
                    if let Err(source) = state.store.give_back_exports(self.me).await {
                        tracing::warn!(%source, "an export was not given back");
                    }
                    cancel.cancel();
                    let _ = (&mut making).await;
                    break Err(ApiError::Grow(GrowError::Cancelled(terrain::Cancelled)));
                }
            }
        };
        self.shares().remove(&id);
        let bytes = ended.as_ref().map_or(0, |bytes| *bytes);
        let (outcome, message) = match ended {
            Ok(_) => (ExportState::Done, None),
            Err(ApiError::Grow(GrowError::Cancelled(_))) => (ExportState::Stopped, None),
            Err(error) => {
                tracing::error!(%error, export = %id, "an export failed");
                (ExportState::Failed, Some(error.to_string()))
            }
        };
        let outcome = (outcome, message.as_deref());
        if let Err(source) = state.store.end_export(id, self.me, outcome, bytes).await {
            tracing::error!(%source, "an export's end was not noted");
        }
        self.expire(state).await;
    }

    /// Grows and packs an export; the size of its file.
    async fn made(
        &self,
        state: &AppState,
        taken: &TakenExport,
        cancel: Cancel,
    ) -> Result<i64, ApiError> {
        if taken.attempts > MOST_ATTEMPTS {
            let detail = format!(
                "it was begun {MOST_ATTEMPTS} times, and each time the service ended before it \
                 did: it may take more memory than there is. Please order fewer cells or fewer \
                 layers at once"
            );
            return Err(ApiError::Unfit(detail));
        }
        let document = state.documents.at(taken.landscape, taken.revision).await?;
        let document = document.ok_or(ApiError::NotFound("revision of this landscape"))?;
        let assets = state.assets.of(&document.recipe).await?;
        let wish: Wish = serde_json::from_value(taken.wish.clone())
            .map_err(|error| ApiError::Unfit(format!("what is wanted cannot be read: {error}")))?;
        let order = Order::of(&wish, &document.recipe).map_err(ApiError::BadRequest)?;
        let grower = Arc::new(state.grower.allowing(state.grower.budget().of_export()));
        let need = {
            let (grower, document, cells) =
                (grower.clone(), document.clone(), order.finest_cells());
            let counted = state.desk.run(move || {
                let frame = Frame::with_cells(document.recipe.extent.into(), cells);
                grower.takes(&document.recipe, &frame)
            });
            Class::Export.taking(counted.await?.map_err(GrowError::from)?.bytes)
        };
        let exports = self.clone();
        let id = taken.id;
        let made = state.compute.run_until(need, cancel, move |cancel| {
            let report = |share: f32| {
                if let Some(known) = exports.shares().get_mut(&id) {
                    *known = known.max(share);
                }
            };
            let folder = exports.folder.join(id.to_string());
            let land = (&*document.recipe, &assets as &dyn recipe::Assets);
            let run = Run::until(cancel);
            let made =
                deliver(&grower, land, &order, &folder, &report, run).and_then(|delivered| {
                    let path = exports.file(id);
                    let packed = pack(&path, &delivered.files);
                    packed.map_err(|source| DeliverError::Write {
                        path,
                        source: source.into(),
                    })
                });
            // What is packed, or failed, is not needed loose.
            let _ = std::fs::remove_dir_all(&folder);
            made
        });
        made.await?
            .map(|bytes| bytes as i64)
            .map_err(ApiError::from)
    }

    /// Lets the oldest archives go when there are too many.
    async fn expire(&self, state: &AppState) {
        let Archives { most, bytes } = self.archives;
        match state.store.expire_exports(most, bytes).await {
            Ok(gone) => {
                for id in gone {
                    // Another service's folder may hold it; then it is not ours to take.
                    let _ = tokio::fs::remove_file(self.file(id)).await;
                }
            }
            Err(source) => tracing::warn!(%source, "old exports stay"),
        }
    }
}

/// Packs files into a zip archive, which appears once it is complete; its size.
fn pack(path: &Path, files: &[PathBuf]) -> io::Result<u64> {
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
    std::fs::rename(&partial, path)?;
    Ok(std::fs::metadata(path)?.len())
}
