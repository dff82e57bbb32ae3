//! Growing and writing.

use std::cell::OnceCell;
use std::fs::{self, File};
use std::io::{self, BufWriter, Write};
use std::path::{Path, PathBuf};

use formats::WriteError;
use recipe::grow::Ground;
use recipe::{Assets, GrowError, Grower, Land, Recipe};
use serde_json::json;
use terrain::erosion::Ledger;
use terrain::ground::Weights;
use terrain::picture::{Lighting, Sun, hillshade, lit, normal_map, sky_view};
use terrain::reading::slope_deg;
use terrain::{Frame, Grid, Run};

use crate::Layer;

/// Why nothing, or not all, was delivered. No file is left half written.
#[derive(Debug, thiserror::Error)]
pub enum DeliverError {
    /// The recipe did not grow.
    #[error(transparent)]
    Grow(#[from] GrowError),
    /// A file could not be written.
    #[error("{}: {source}", path.display())]
    Write {
        /// The file.
        path: PathBuf,
        /// Why.
        source: WriteError,
    },
}

/// Growing is this share of the work; writing the files is the rest.
const GROWING: f32 = 0.7;

/// What is to be delivered.
#[derive(Clone, Copy)]
pub struct Order<'a> {
    /// The recipe.
    pub recipe: &'a Recipe,
    /// The imported files that it names.
    pub assets: &'a dyn Assets,
    /// Cells along the longer side of the land.
    pub cells: usize,
    /// Which files.
    pub layers: &'a [Layer],
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
        layers,
    } = order;
    let frame = Frame::with_cells(recipe.extent.into(), cells);
    let growing = |share| report(GROWING * share);
    let land = grower.land(recipe, assets, &frame, run.reporting(&growing))?;
    fs::create_dir_all(dir).map_err(|error| DeliverError::Write {
        path: dir.to_owned(),
        source: error.into(),
    })?;
    let mut folder = Folder {
        dir,
        written: Vec::new(),
    };
    let lie = OnceCell::new();
    let ground = || -> Result<&Ground, GrowError> {
        if lie.get().is_none() {
            let _ = lie.set(land.ground(recipe, run)?);
        }
        Ok(lie.get().expect("just laid"))
    };
    for (i, &layer) in layers.iter().enumerate() {
        run.check().map_err(GrowError::from)?;
        write_layer(&mut folder, layer, recipe, &land, &ground)?;
        report(GROWING + (1.0 - GROWING) * (i + 1) as f32 / layers.len() as f32);
    }
    Ok(Delivered {
        files: folder.written,
        ledgers: land.ledgers().to_vec(),
    })
}

fn write_layer<'g>(
    folder: &mut Folder,
    layer: Layer,
    recipe: &Recipe,
    land: &Land,
    ground: &dyn Fn() -> Result<&'g Ground<'g>, GrowError>,
) -> Result<(), DeliverError> {
    let frame = *land.frame();
    let wide = land.heights_with_apron();
    match layer {
        Layer::Height => {
            let heights = land.heights();
            folder.write("height.tif", |out| {
                formats::write_geotiff(out, &heights, &frame)
            })
        }
        Layer::Height16 => write_height16(folder, &land.heights(), &frame),
        Layer::Slope => {
            let slope = slope_deg(wide, frame.cell_m);
            folder.write("slope.tif", |out| {
                formats::write_geotiff(out, &slope, &frame)
            })
        }
        Layer::Weights => {
            let ground = ground()?;
            write_weights(folder, &ground.weights, &names(ground))
        }
        Layer::Albedo => {
            let albedo = ground()?.albedo.map(|colour| colour.to_srgb8());
            folder.write("albedo.png", |out| formats::write_rgb8(out, &albedo))
        }
        Layer::Normal => {
            let normals = normal_map(wide, frame.cell_m);
            folder.write("normal.png", |out| formats::write_rgb8(out, &normals))
        }
        Layer::NormalDown => {
            let normals = normal_map(wide, frame.cell_m).map(|[x, y, z]| [x, 255 - y, z]);
            folder.write("normal-down.png", |out| formats::write_rgb8(out, &normals))
        }
        Layer::Roughness => {
            let roughness = ground()?.roughness.map(byte);
            folder.write("roughness.png", |out| formats::write_grey8(out, &roughness))
        }
        Layer::Occlusion => {
            let seen = sky_view(&land.heights(), frame.cell_m).map(byte);
            folder.write("occlusion.png", |out| formats::write_grey8(out, &seen))
        }
        Layer::Id => {
            let ground = ground()?;
            let ids = ground.weights.dominant();
            folder.write("id.png", |out| formats::write_grey8(out, &ids))?;
            let side = json!({ "file": "id.png", "covers": names(ground) });
            folder.write_json("id.json", &side)
        }
        Layer::Covers => write_covers(folder, ground()?),
        Layer::Hillshade => {
            let shade = hillshade(wide, frame.cell_m, Sun::from(recipe.sun), 1.0);
            folder.write("hillshade.png", |out| formats::write_grey8(out, &shade))
        }
        Layer::Plan => {
            let albedo = &ground()?.albedo;
            let lighting = Lighting {
                sun: Sun::from(recipe.sun),
                sea_level_m: recipe.sea_level_m as f32,
            };
            let plan = lit(wide, albedo, frame.cell_m, lighting);
            folder.write("plan.png", |out| formats::write_rgb8(out, &plan))
        }
        Layer::Recipe => {
            let text = recipe.to_json();
            folder.write("recipe.json", |out| Ok(out.write_all(text.as_bytes())?))
        }
    }
}

fn names<'a>(ground: &'a Ground) -> Vec<&'a str> {
    ground.covers.iter().map(|c| c.name.as_str()).collect()
}

fn byte(share: f32) -> u8 {
    (share.clamp(0.0, 1.0) * 255.0).round() as u8
}

/// A file for each cover, in steps that sum to exactly 65,535 in each cell.
fn write_covers(folder: &mut Folder, ground: &Ground) -> Result<(), DeliverError> {
    let mut files = Vec::new();
    let names = names(ground);
    for (i, layer) in ground.weights.in_steps(u16::MAX).iter().enumerate() {
        let file = format!("cover-{}.png", i + 1);
        folder.write(&file, |out| formats::write_grey16(out, layer))?;
        files.push(json!({ "file": file, "cover": names.get(i) }));
    }
    let side = json!({
        "files": files,
        "note": "over all files the values of a cell sum to 65535; linear, no gamma",
    });
    folder.write_json("covers.json", &side)
}

fn write_height16(folder: &mut Folder, heights: &Grid, frame: &Frame) -> Result<(), DeliverError> {
    let (low, high) = heights.range();
    let span = (high - low).max(f32::MIN_POSITIVE);
    let steps = heights.map(|h| ((h - low) / span * 65_535.0).round() as u16);
    folder.write("height.png", |out| formats::write_grey16(out, &steps))?;
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

/// Four covers a picture, in red, green, blue and alpha. Over all pictures
/// the weights of a cell sum to exactly 255.
fn write_weights(
    folder: &mut Folder,
    weights: &Weights,
    names: &[&str],
) -> Result<(), DeliverError> {
    let bytes = weights.quantised();
    let mut pictures = Vec::new();
    for (i, four) in bytes.chunks(4).enumerate() {
        let (cols, rows) = (four[0].cols(), four[0].rows());
        let packed = Grid::by_rows(cols, rows, |r, out: &mut [[u8; 4]]| {
            for (channel, grid) in four.iter().enumerate() {
                for (out, &value) in out.iter_mut().zip(grid.row(r)) {
                    out[channel] = value;
                }
            }
        });
        let file = format!("weights-{}.png", i + 1);
        folder.write(&file, |out| formats::write_rgba8(out, &packed))?;
        let covers: Vec<&str> = names.iter().skip(4 * i).take(4).copied().collect();
        pictures.push(json!({ "file": file, "red_green_blue_alpha": covers }));
    }
    let side = json!({
        "pictures": pictures,
        "note": "over all pictures the values of a cell sum to 255; alpha is a weight too",
    });
    folder.write_json("weights.json", &side)
}

/// A folder being filled. A file appears under its name once it is complete.
struct Folder<'a> {
    dir: &'a Path,
    written: Vec<PathBuf>,
}

impl Folder<'_> {
    fn write(
        &mut self,
        name: &str,
        fill: impl FnOnce(&mut BufWriter<File>) -> Result<(), WriteError>,
    ) -> Result<(), DeliverError> {
        let path = self.dir.join(name);
        let partial = self.dir.join(format!("{name}.partial"));
        let written = (|| {
            let mut out = BufWriter::new(File::create(&partial)?);
            fill(&mut out)?;
            out.into_inner()
                .map_err(io::IntoInnerError::into_error)?
                .sync_all()?;
            fs::rename(&partial, &path)?;
            Ok(())
        })();
        written.map_err(|source| {
            // The complaint about the write matters, not one about tidying up.
            let _ = fs::remove_file(&partial);
            DeliverError::Write {
                path: path.clone(),
                source,
            }
        })?;
        self.written.push(path);
        Ok(())
    }

    fn write_json(&mut self, name: &str, value: &serde_json::Value) -> Result<(), DeliverError> {
        let text = serde_json::to_string_pretty(value).expect("plain data");
        self.write(name, |out| Ok(out.write_all(text.as_bytes())?))
    }
}
