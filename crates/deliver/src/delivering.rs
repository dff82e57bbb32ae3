//! Growing and writing.

use std::path::{Path, PathBuf};

use formats::WriteError;
use recipe::{Assets, GrowError, Grower, Recipe};
use serde_json::json;
use terrain::erosion::Ledger;
use terrain::picture::light;
use terrain::{Frame, Run};

use crate::folder::Folder;
use crate::ground_maps::GroundMaps;
use crate::land_maps::LandMaps;
use crate::meshes::{MadeMesh, write_meshes};
use crate::packed::PackedMap;
use crate::tiles::Tiling;
use crate::{Layer, Order};

/// Why nothing, or not all, was delivered. No file is left half written.
#[derive(Debug, thiserror::Error)]
pub enum DeliverError {
    /// The recipe did not grow.
    #[error(transparent)]
    Grow(#[from] GrowError),
    /// Something was ordered that cannot be.
    #[error("{0}")]
    Order(String),
    /// A file could not be written.
    #[error("{}: {source}", path.display())]
    Write {
        /// The file.
        path: PathBuf,
        /// Why.
        source: WriteError,
    },
}

/// Growing is this share of the work, and the maps of the ground another; the
/// rest is writing the other files.
const GROWING: f32 = 0.6;
const GROUND: f32 = 0.3;

/// What was delivered.
#[derive(Clone, Debug)]
pub struct Delivered {
    /// The files.
    pub files: Vec<PathBuf>,
    /// Ledgers of the steps that move ground, by step id.
    pub ledgers: Vec<(String, Ledger)>,
}

/// Grows a recipe as it was ordered and writes what comes of it into the folder `dir`, which
/// is made when it is not there; the list of all files last.
///
/// # Errors
/// [`DeliverError`]. Files that were finished before stay.
pub fn deliver(
    grower: &Grower,
    (recipe, assets): (&Recipe, &dyn Assets),
    order: &Order,
    dir: &Path,
    report: &(dyn Fn(f32) + Sync),
    run: Run,
) -> Result<Delivered, DeliverError> {
    order.check(recipe).map_err(DeliverError::Order)?;
    if order.layers.contains(&Layer::Mesh) {
        let bytes = grower.budget().bytes;
        let admitted = order.mesh.admit(recipe, order.cells, bytes);
        admitted.map_err(DeliverError::Order)?;
    }
    let frame = Frame::with_cells(recipe.extent.into(), order.cells);
    let growing = |share| report(GROWING * share);
    let land = grower.land(recipe, assets, &frame, run.reporting(&growing))?;
    let mut folder = Folder::at(dir)?;
    let tiling = Tiling::of(recipe, &frame, order.tile);
    let (of_ground, of_land): (Vec<Layer>, Vec<Layer>) = order
        .layers
        .iter()
        .cloned()
        .partition(|layer| layer.is_ground());
    let maps = LandMaps::of((recipe, &land), order, tiling);
    for (i, layer) in of_land.iter().enumerate() {
        run.check().map_err(GrowError::from)?;
        if *layer == Layer::Mesh {
            let of = (recipe, assets, &land);
            let made = write_meshes(&mut folder, grower, of, (&order.mesh, "land"), run)?;
            let made: Vec<_> = made.iter().map(MadeMesh::to_json).collect();
            folder.write_json("mesh.json", &json!({ "meshes": made }))?;
        } else {
            maps.write(&mut folder, layer, run)?;
        }
        let done = (i + 1) as f32 / of_land.len() as f32;
        report(GROWING + (1.0 - GROWING - GROUND) * done);
    }
    let packed = PackedMap::all_of(&maps, run)?;
    let lit = of_ground.contains(&Layer::Plan);
    let lighting = recipe.lighting();
    let ground = GroundMaps {
        recipe,
        land: &land,
        layers: &of_ground,
        tiling,
        light: lit.then(|| light(land.heights_with_apron(), frame.cell_m, lighting)),
        colour: order.colour,
        packed: &packed,
    };
    if !of_ground.is_empty() || !packed.is_empty() {
        let laying = |share| report(1.0 - GROUND + GROUND * share);
        ground.write(&mut folder, &laying, run)?;
    }
    if tiling.side.is_some() {
        write_tiles(&mut folder, tiling, &frame)?;
    }
    folder.write_manifest(json!({
        "recipe": recipe.name,
        "width_m": recipe.extent.width_m,
        "depth_m": recipe.extent.depth_m,
        "cols": frame.cols,
        "rows": frame.rows,
        "cell_m": frame.cell_m,
    }))?;
    report(1.0);
    Ok(Delivered {
        files: folder.written,
        ledgers: land.ledgers().to_vec(),
    })
}

/// Says how the tiles lie.
fn write_tiles(folder: &mut Folder, tiling: Tiling, frame: &Frame) -> Result<(), DeliverError> {
    let tiles = tiling.tiles();
    let tiles = tiles.iter().map(|tile| {
        json!({
            "x": tile.at.0,
            "y": tile.at.1,
            "first_col": tile.col,
            "first_row": tile.row,
            "cols": tile.cols,
            "rows": tile.rows,
        })
    });
    let side = json!({
        "cols": frame.cols,
        "rows": frame.rows,
        "cell_m": frame.cell_m,
        "tiles": tiles.collect::<Vec<_>>(),
        "note": "x counts from the west, y from the north; tiles meet and do not overlap",
    });
    folder.write_json("tiles.json", &side)
}
