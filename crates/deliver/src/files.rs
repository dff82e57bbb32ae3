//! Growing and writing.

use std::path::{Path, PathBuf};

use formats::{PixelKind, WriteError};
use recipe::{Assets, GrowError, Grower, Land, Recipe};
use serde_json::json;
use terrain::erosion::Ledger;
use terrain::light::{SKY_REACH_M, Sun, sky_seen};
use terrain::picture::{hillshade, light};
use terrain::reading::slope_deg;
use terrain::{Frame, Grid, Run};

use crate::folder::Folder;
use crate::ground_maps::GroundMaps;
use crate::meshes::{MadeMesh, write_meshes};
use crate::tiles::{TiledPng, Tiling};
use crate::{Layer, MeshOrder};

/// Why nothing, or not all, was delivered. No file is left half written.
#[derive(Debug, thiserror::Error)]
pub enum DeliverError {
    /// The recipe did not grow.
    #[error(transparent)]
    Grow(#[from] GrowError),
    /// No step of the land leaves what was ordered.
    #[error("no step of this land leaves ‘{0}’")]
    NotLeft(&'static str),
    /// A mesh was ordered that cannot be.
    #[error("{0}")]
    Mesh(String),
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

/// What is to be delivered.
#[derive(Clone, Copy)]
pub struct Order<'a> {
    /// The recipe.
    pub recipe: &'a Recipe,
    /// The imported files that it names.
    pub assets: &'a dyn Assets,
    /// Cells along the longer side of the land.
    pub cells: usize,
    /// Cells along each side of a tile, when maps are to be cut; tiles meet
    /// exactly and do not overlap.
    pub tile: Option<usize>,
    /// Which files.
    pub layers: &'a [Layer],
    /// How the land is put into triangles, when that is among them.
    pub mesh: MeshOrder,
}

/// What was delivered.
#[derive(Clone, Debug)]
pub struct Delivered {
    /// The files.
    pub files: Vec<PathBuf>,
    /// Ledgers of the steps that move ground, by step id.
    pub ledgers: Vec<(String, Ledger)>,
}

/// Grows what was ordered and writes it into the folder `dir`, which is made
/// when it is not there.
///
/// # Errors
/// [`DeliverError`]. Files that were finished before stay.
pub fn deliver(
    grower: &Grower,
    order: Order,
    dir: &Path,
    report: &(dyn Fn(f32) + Sync),
    run: Run,
) -> Result<Delivered, DeliverError> {
    let Order {
        recipe,
        assets,
        cells,
        tile,
        layers,
        mesh,
    } = order;
    let left = recipe.leaves();
    for layer in layers {
        match layer {
            Layer::Left(product) if !left.contains(product) => {
                return Err(DeliverError::NotLeft(product.name()));
            }
            _ => {}
        }
    }
    if layers.contains(&Layer::Mesh) {
        mesh.admit(recipe, cells, grower.budget().bytes)
            .map_err(DeliverError::Mesh)?;
    }
    let frame = Frame::with_cells(recipe.extent.into(), cells);
    let growing = |share| report(GROWING * share);
    let land = grower.land(recipe, assets, &frame, run.reporting(&growing))?;
    let mut folder = Folder::at(dir)?;
    let tiling = Tiling::of(recipe, &frame, tile);
    let (of_ground, of_land): (Vec<Layer>, Vec<Layer>) =
        layers.iter().partition(|layer| layer.is_ground());
    for (i, &layer) in of_land.iter().enumerate() {
        run.check().map_err(GrowError::from)?;
        if layer == Layer::Mesh {
            let of = (recipe, assets, &land);
            let made = write_meshes(&mut folder, grower, of, (&mesh, "land"), run)?;
            let made: Vec<_> = made.iter().map(MadeMesh::to_json).collect();
            folder.write_json("mesh.json", &json!({ "meshes": made }))?;
        } else {
            write_land(&mut folder, layer, recipe, &land, tiling)?;
        }
        let done = (i + 1) as f32 / of_land.len() as f32;
        report(GROWING + (1.0 - GROWING - GROUND) * done);
    }
    let lighting = recipe.lighting();
    let lit = of_ground.contains(&Layer::Plan);
    let maps = GroundMaps {
        recipe,
        land: &land,
        layers: &of_ground,
        tiling,
        light: lit.then(|| light(land.heights_with_apron(), frame.cell_m, lighting)),
    };
    if !of_ground.is_empty() {
        let laying = |share| report(1.0 - GROUND + GROUND * share);
        maps.write(&mut folder, &laying, run)?;
    }
    if tiling.side.is_some() {
        write_tiles(&mut folder, tiling, &frame)?;
    }
    report(1.0);
    Ok(Delivered {
        files: folder.written,
        ledgers: land.ledgers().to_vec(),
    })
}

/// Writes what does not ask what the ground is made of.
fn write_land(
    folder: &mut Folder,
    layer: Layer,
    recipe: &Recipe,
    land: &Land,
    tiling: Tiling,
) -> Result<(), DeliverError> {
    let frame = *land.frame();
    let wide = land.heights_with_apron();
    let byte = |share: f32| (share.clamp(0.0, 1.0) * 255.0).round() as u8;
    match layer {
        Layer::Height => write_tiff(folder, "height", &land.heights(), &frame, tiling, recipe),
        Layer::Height16 => write_height16(folder, &land.heights(), &frame, tiling),
        Layer::Slope => {
            let slope = slope_deg(wide, frame.cell_m);
            write_tiff(folder, "slope", &slope, &frame, tiling, recipe)
        }
        Layer::Occlusion => {
            let seen = sky_seen(wide, 1, SKY_REACH_M, frame.cell_m).map(byte);
            let mut png = TiledPng::new("occlusion".to_owned(), PixelKind::Grey8, tiling);
            png.push(folder, seen.values())
        }
        Layer::Hillshade => {
            let shade = hillshade(wide, frame.cell_m, Sun::from(recipe.sun), 1.0);
            let mut png = TiledPng::new("hillshade".to_owned(), PixelKind::Grey8, tiling);
            png.push(folder, shade.values())
        }
        Layer::Recipe => {
            let text = recipe.to_json();
            folder.write_text("recipe.json", &text)
        }
        Layer::Left(product) => {
            // A step that is set so that it leaves nothing has nothing of it everywhere.
            let none = || Grid::filled(frame.cols, frame.rows, 0.0);
            let field = land.product(product).unwrap_or_else(none);
            write_tiff(folder, product.name(), &field, &frame, tiling, recipe)
        }
        _ => unreachable!("a map of the ground"),
    }
}

fn write_tiff(
    folder: &mut Folder,
    stem: &str,
    values: &Grid,
    frame: &Frame,
    tiling: Tiling,
    recipe: &Recipe,
) -> Result<(), DeliverError> {
    let extent = recipe.extent.into();
    let on_earth = recipe.georeference.as_ref().map(|at| (at, extent));
    if tiling.side.is_none() {
        let name = format!("{stem}.tif");
        return folder.write(&name, |out| {
            formats::write_geotiff(out, values, frame, on_earth)
        });
    }
    for tile in tiling.tiles() {
        let name = tiling.name(stem, "tif", tile.at);
        let part = values.cropped(tile.col, tile.row, tile.cols, tile.rows);
        let window = frame.window(tile.col, tile.row, tile.cols, tile.rows);
        folder.write(&name, |out| {
            formats::write_geotiff(out, &part, &window, on_earth)
        })?;
    }
    Ok(())
}

fn write_height16(
    folder: &mut Folder,
    heights: &Grid,
    frame: &Frame,
    tiling: Tiling,
) -> Result<(), DeliverError> {
    let (low, high) = heights.range();
    let span = (high - low).max(f32::MIN_POSITIVE);
    let mut png = TiledPng::new("height".to_owned(), PixelKind::Grey16, tiling);
    let mut bytes = Vec::with_capacity(2 * heights.cols());
    for r in 0..heights.rows() {
        let steps = heights.row(r).iter();
        let steps = steps.map(|h| ((h - low) / span * 65_535.0).round() as u16);
        bytes.clear();
        bytes.extend(steps.flat_map(u16::to_be_bytes));
        png.push(folder, &bytes)?;
    }
    let side = json!({
        "file": "height.png",
        "black_m": low,
        "white_m": high,
        "cell_m": frame.cell_m,
        "cols": frame.cols,
        "rows": frame.rows,
        "note": "height = black_m + value / 65535 * (white_m - black_m); linear, no gamma",
    });
    folder.write_json("height.json", &side)
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
