//! Making meshes of a land, and their files.

use std::path::{Path, PathBuf};

use formats::model::{Laid, Model, write_glb, write_mtl, write_obj, write_ply, write_stl};
use recipe::{Assets, GrowError, Grower, Land, Recipe};
use serde_json::{Value, json};
use terrain::mesh::{Distance, Edges, Goal, Lattice, Mesh, closed, refined_in_levels, tiled};
use terrain::{Frame, Run};

use super::textures::Pictures;
use super::{Detail, MeshFormat, MeshOrder};
use crate::DeliverError;
use crate::folder::Folder;
use crate::manifest::Facts;

/// Triangles of a level for each one of the next coarser.
const FEWER: usize = 4;
/// The floor lies this share of the longer side below the lowest place, when nothing is said.
const THICKNESS: f64 = 0.05;
/// Vertices are floats.
const ROUNDING_M: f64 = 1e-2;

/// One mesh that was made.
#[derive(Clone, Debug)]
pub struct MadeMesh {
    /// Its file.
    pub file: PathBuf,
    /// Level of detail, 0 is the finest.
    pub level: usize,
    /// Whether it is the cliffs of the land, and how long their edges are.
    pub cliffs: Option<Edges>,
    /// Its place among the tiles, from the west and from the north.
    pub tile: Option<(usize, usize)>,
    /// How many.
    pub vertices: usize,
    /// How many, with sides and floor.
    pub triangles: usize,
    /// How far the land is from it.
    pub distance: Distance,
    /// Edges with one triangle.
    pub open_edges: usize,
    /// What a solid holds, in its own unit cubed: metres, or millimetres of a print.
    pub volume: Option<f64>,
}

impl MadeMesh {
    /// For programs.
    pub fn to_json(&self) -> Value {
        let name = self.file.file_name().map(|name| name.to_string_lossy());
        json!({
            "file": name,
            "level": self.level,
            "tile": self.tile.map(|(x, y)| json!({ "x": x, "y": y })),
            "part": if self.cliffs.is_some() { "cliffs" } else { "land" },
            "edges_m": self.cliffs.map(|edges| json!({
                "mean": edges.mean_m,
                "one_in_a_hundred_shorter": edges.short_m,
                "one_in_a_hundred_longer": edges.long_m,
            })),
            "vertices": self.vertices,
            "triangles": self.triangles,
            "greatest_distance_m": self.distance.greatest_m,
            "rms_distance_m": self.distance.rms_m,
            "open_edges": self.open_edges,
            "volume": self.volume,
        })
    }
}

/// Grows a recipe with `cells` along its longer side, and writes it as triangles into the
/// folder `dir`; files are called `stem`.
///
/// # Errors
/// [`DeliverError`].
pub fn deliver_meshes(
    grower: &Grower,
    (recipe, assets, cells): (&Recipe, &dyn Assets, usize),
    order: &MeshOrder,
    (dir, stem): (&Path, &str),
    run: Run,
) -> Result<Vec<MadeMesh>, DeliverError> {
    order
        .admit(recipe, cells, grower.budget().bytes)
        .map_err(DeliverError::Order)?;
    let frame = Frame::with_cells(recipe.extent.into(), cells);
    let land = grower.land(recipe, assets, &frame, run)?;
    let mut folder = Folder::at(dir)?;
    let of = (recipe, assets, &land);
    write_meshes(&mut folder, grower, of, (order, stem), run)
}

/// Writes a grown land as triangles, under a name, with what is laid on it, within what the
/// grower may take.
pub(crate) fn write_meshes(
    folder: &mut Folder,
    grower: &Grower,
    (recipe, assets, land): (&Recipe, &dyn Assets, &Land),
    (order, stem): (&MeshOrder, &str),
    run: Run,
) -> Result<Vec<MadeMesh>, DeliverError> {
    let pictures = Pictures::ordered(grower, recipe, assets, order, run.quietly())?;
    let extent = recipe.extent.into();
    let lattice = Lattice::of(land.heights_with_apron(), land.frame(), extent);
    let writer = Writer {
        name: &recipe.name,
        order,
        stem,
        longest_m: extent.longest_m(),
        laid: pictures.as_ref().map_or_else(
            || over(order.repeat_m, extent.width_m, extent.depth_m),
            Pictures::laid,
        ),
        pictures,
        lowest_m: f64::from(lattice.range_m().0),
    };
    let fit = MeshOrder::most_triangles(land.frame().cells(), grower.budget().bytes);
    let goals: Vec<Goal> = (0..order.levels)
        .map(|level| goal(order, &lattice, level, fit))
        .collect();
    let stopped = |cancelled| DeliverError::from(GrowError::from(cancelled));
    let mut made = Vec::new();
    if let Some(side) = order.tile {
        for (level, goal) in goals.iter().enumerate() {
            for tile in tiled(&lattice, side, *goal, run.quietly()).map_err(stopped)? {
                let place = Some(tile.at);
                made.push(writer.write(folder, (level, place), (tile.mesh, &tile.of))?);
            }
        }
        return Ok(made);
    }
    // The finest may have every place; those before it are stages on one way.
    let whole = goals[0].most_triangles >= lattice.most_triangles() && goals[0].error_m == 0.0;
    let coarser: Vec<Goal> = goals[usize::from(whole)..].iter().rev().copied().collect();
    let mut levels = refined_in_levels(&lattice, &coarser, run.quietly()).map_err(stopped)?;
    if whole {
        levels.push(lattice.whole());
    }
    for (level, mesh) in levels.into_iter().rev().enumerate() {
        run.check().map_err(stopped)?;
        let cliffs = order.cliffs.as_ref();
        let parted = cliffs.map(|cliffs| cliffs.part((recipe, land, &lattice), &mesh, run));
        match parted.transpose()?.flatten() {
            None => made.push(writer.write(folder, (level, None), (mesh, &lattice))?),
            Some(parted) => {
                let around = (parted.land, &lattice);
                made.push(writer.write(folder, (level, None), around)?);
                let edges = parted.edges;
                made.push(writer.write_cliffs(folder, edges, (parted.cliffs, &lattice))?);
            }
        }
    }
    Ok(made)
}

/// What a level is to reach; `fit` triangles fit into memory.
pub(super) fn goal(order: &MeshOrder, lattice: &Lattice, level: usize, fit: usize) -> Goal {
    let all = lattice.most_triangles();
    let fewer = FEWER.pow(level as u32);
    let (most, error_m) = match order.detail {
        // Sides and floor of a whole are not counted: it is all that there is.
        Detail::Whole if level == 0 => (usize::MAX, 0.0),
        Detail::Whole => (all / fewer, 0.0),
        Detail::Triangles(most) => (most / fewer, 0.0),
        Detail::Ratio(ratio) => ((all as f64 * ratio) as usize / fewer, 0.0),
        Detail::Within(_) => (fit, error_m(order, level)),
    };
    Goal {
        most_triangles: most,
        error_m,
        closed: order.solid.is_some(),
    }
}

/// How far the land may be from a level, metres, where a distance is what was asked for.
fn error_m(order: &MeshOrder, level: usize) -> f64 {
    match order.detail {
        Detail::Within(error_m) => error_m * (1 << level) as f64,
        _ => f64::INFINITY,
    }
}

/// The land with sides and a floor, when they are ordered: in metres, the lowest place and
/// the longer side of the land.
pub(super) fn solid_of(
    order: &MeshOrder,
    land: &Mesh,
    (lowest_m, longest_m): (f64, f64),
) -> Option<Mesh> {
    let solid = order.solid?;
    let thickness_m = solid.thickness_m.unwrap_or(THICKNESS * longest_m);
    Some(closed(land, lowest_m - thickness_m))
}

/// One texture over the whole land, or over each `repeat_m`.
fn over(repeat_m: Option<f64>, width_m: f64, depth_m: f64) -> Laid {
    Laid {
        west_north: [0.0, depth_m],
        reach: repeat_m.map_or([width_m, depth_m], |repeat_m| [repeat_m; 2]),
    }
}

/// What all files of an order share.
struct Writer<'a> {
    name: &'a str,
    order: &'a MeshOrder,
    stem: &'a str,
    longest_m: f64,
    laid: Laid,
    pictures: Option<Pictures>,
    lowest_m: f64,
}

impl Writer<'_> {
    fn write(
        &self,
        folder: &mut Folder,
        (level, tile): (usize, Option<(usize, usize)>),
        land: (Mesh, &Lattice),
    ) -> Result<MadeMesh, DeliverError> {
        let stem = self.stem(level, tile);
        self.write_as(folder, &stem, (level, tile, None), land)
    }

    fn write_cliffs(
        &self,
        folder: &mut Folder,
        edges: Edges,
        cliffs: (Mesh, &Lattice),
    ) -> Result<MadeMesh, DeliverError> {
        let stem = format!("{}-cliffs", self.stem(0, None));
        self.write_as(folder, &stem, (0, None, Some(edges)), cliffs)
    }

    fn write_as(
        &self,
        folder: &mut Folder,
        stem: &str,
        (level, tile, cliffs): (usize, Option<(usize, usize)>, Option<Edges>),
        (land, lattice): (Mesh, &Lattice),
    ) -> Result<MadeMesh, DeliverError> {
        let format = self.order.format;
        let file = format!("{stem}.{}", format.name());
        let distance = Distance::of(&land, lattice);
        if distance.greatest_m > error_m(self.order, level) + ROUNDING_M {
            let (allowed, far) = (error_m(self.order, level), distance.greatest_m);
            return Err(DeliverError::Order(format!(
                "within {allowed} m takes more triangles than memory holds; {} of them are within \
                 {far:.2} m",
                land.triangles.len()
            )));
        }
        let textures = self.pictures.as_ref().map(|pictures| pictures.on(&land));
        let textures = textures.transpose().map_err(|source| DeliverError::Write {
            path: PathBuf::from(&file),
            source,
        })?;
        let mesh = self.closed(land);
        let mut laid = self.laid;
        let scale = self.scale();
        laid.west_north = laid.west_north.map(|at| at * scale);
        laid.reach = laid.reach.map(|at| at * scale);
        let model = Model {
            name: self.name,
            mesh: &mesh,
            smooth: self.order.smooth,
            laid,
            textures: textures.as_ref(),
        };
        folder.write(&file, |out| match format {
            MeshFormat::Glb => write_glb(out, &model),
            MeshFormat::Obj => write_obj(out, &model, &format!("{stem}.mtl")),
            MeshFormat::Ply => write_ply(out, &model),
            MeshFormat::Stl => write_stl(out, &model),
        })?;
        folder.note(&file, Facts::mesh(mesh.triangles.len()));
        let file = folder.written.last().cloned().unwrap_or_default();
        if format == MeshFormat::Obj {
            folder.write(&format!("{stem}.mtl"), |out| write_mtl(out))?;
        }
        Ok(MadeMesh {
            file,
            level,
            tile,
            cliffs,
            vertices: mesh.vertices.len(),
            triangles: mesh.triangles.len(),
            distance,
            open_edges: match self.order.cliffs {
                // A seam is a border too, often in several pieces.
                Some(_) => mesh.open().border,
                None => mesh.open_edges(),
            },
            volume: self.order.solid.map(|_| mesh.volume_m3()),
        })
    }

    fn stem(&self, level: usize, tile: Option<(usize, usize)>) -> String {
        let mut stem = self.stem.to_owned();
        if let Some((x, y)) = tile {
            stem += &format!("-x{x}-y{y}");
        }
        if self.order.levels > 1 {
            stem += &format!("-level-{level}");
        }
        stem
    }

    fn closed(&self, land: Mesh) -> Mesh {
        match solid_of(self.order, &land, (self.lowest_m, self.longest_m)) {
            Some(solid) => solid.scaled(self.scale()),
            None => land,
        }
    }

    /// Units of the file for each metre.
    fn scale(&self) -> f64 {
        let print_mm = self.order.solid.and_then(|solid| solid.print_mm);
        print_mm.map_or(1.0, |print_mm| print_mm / self.longest_m)
    }
}
