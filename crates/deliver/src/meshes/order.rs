//! What can be ordered of a land as triangles.

use std::ops::RangeInclusive;

use recipe::Recipe;
use terrain::Frame;

use super::Cliffs;

/// In which format a mesh is written.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum MeshFormat {
    /// glTF 2.0 in one file, with textures.
    #[default]
    Glb,
    /// OBJ, with MTL.
    Obj,
    /// PLY, binary.
    Ply,
    /// STL, binary, for printers.
    Stl,
}

impl MeshFormat {
    /// All of them.
    pub const ALL: [Self; 4] = [Self::Glb, Self::Obj, Self::Ply, Self::Stl];

    /// Its name, and the ending of its files.
    pub fn name(self) -> &'static str {
        match self {
            Self::Glb => "glb",
            Self::Obj => "obj",
            Self::Ply => "ply",
            Self::Stl => "stl",
        }
    }

    /// The format called `name`, in capitals or not.
    pub fn named(name: &str) -> Option<Self> {
        let name = name.to_ascii_lowercase();
        Self::ALL.into_iter().find(|format| format.name() == name)
    }
}

/// How much of the land a mesh has.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Detail {
    /// Every place of the grid.
    Whole,
    /// So many triangles at most, those of sides and floor among them.
    Triangles(usize),
    /// This share of the triangles of the whole.
    Ratio(f64),
    /// No place is farther than this from the land, upright, metres.
    Within(f64),
}

/// Sides and a floor.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Solid {
    /// The floor lies so far below the lowest place, metres; a twentieth of the longer side
    /// when absent.
    pub thickness_m: Option<f64>,
    /// Longer side of a print, millimetres; coordinates are metres of the land when absent.
    pub print_mm: Option<f64>,
}

/// A land as triangles.
#[derive(Clone, Debug, PartialEq)]
pub struct MeshOrder {
    /// Into what files.
    pub format: MeshFormat,
    /// How much of the land.
    pub detail: Detail,
    /// Closed, with sides and a floor.
    pub solid: Option<Solid>,
    /// Shaded smoothly, or each triangle for itself.
    pub smooth: bool,
    /// So many levels of detail; each has a quarter of the triangles of the finer one, or
    /// may be twice as far from the land.
    pub levels: usize,
    /// Cells along each side of a tile, when the land is to be cut into tiles.
    pub tile: Option<usize>,
    /// One texture reaches over so many metres; over the whole land when absent.
    pub repeat_m: Option<f64>,
    /// Cells along the longer side of textures of the ground that are laid on it; only in
    /// GLB.
    pub textures: Option<usize>,
    /// Cliffs as a mesh apart, in quads.
    pub cliffs: Option<Cliffs>,
}

impl Default for MeshOrder {
    fn default() -> Self {
        Self {
            format: MeshFormat::default(),
            detail: Detail::Ratio(0.25),
            solid: None,
            smooth: true,
            levels: 1,
            tile: None,
            repeat_m: None,
            textures: None,
            cliffs: None,
        }
    }
}

/// Memory that each cell of the land takes while it becomes triangles, bytes: measured, and
/// rounded up.
const CELL_BYTES: f64 = 24.0;
/// The same for each triangle of a mesh that has every place, and of a reduced one.
const WHOLE_BYTES: f64 = 48.0;
const REDUCED_BYTES: f64 = 128.0;
const GIB: f64 = (1u64 << 30) as f64;

impl MeshOrder {
    /// Refuses what would take more than `bytes` of memory, before anything is grown; `cells`
    /// lie along the longer side of the land.
    ///
    /// # Errors
    /// How much it would take, and what would fit.
    pub fn admit(&self, recipe: &Recipe, cells: usize, bytes: f64) -> Result<(), String> {
        self.check()?;
        if let Some(cliffs) = &self.cliffs {
            cliffs.of.check(recipe)?;
        }
        let frame = Frame::with_cells(recipe.extent.into(), cells);
        let all = 2.0 * (frame.cols + 1) as f64 * (frame.rows + 1) as f64;
        let (triangles, each) = match self.detail {
            Detail::Whole => (all, WHOLE_BYTES),
            Detail::Triangles(most) => (all.min(most as f64), REDUCED_BYTES),
            Detail::Ratio(ratio) => (ratio * all, REDUCED_BYTES),
            // Nobody knows before: as many as fit, and refused if these are not enough.
            Detail::Within(_) => (0.0, REDUCED_BYTES),
        };
        let of_cells = CELL_BYTES * frame.cells() as f64;
        let wanted = of_cells + each * triangles;
        if wanted <= bytes {
            return Ok(());
        }
        let fit = ((bytes - of_cells) / each).max(0.0).floor();
        Err(format!(
            "about {triangles:.0} triangles of {} × {} cells take {:.1} GiB of memory, allowed \
             are {:.1}: {}",
            frame.cols,
            frame.rows,
            wanted / GIB,
            bytes / GIB,
            match fit > 1000.0 {
                true => format!("ask for {fit:.0} triangles at most, or for fewer cells"),
                false => "ask for fewer cells".to_owned(),
            }
        ))
    }

    /// The most triangles that fit into `bytes` beside a land of so many cells.
    pub(crate) fn most_triangles(cells: usize, bytes: f64) -> usize {
        ((bytes - CELL_BYTES * cells as f64) / REDUCED_BYTES).max(2.0) as usize
    }

    /// What is wrong with it, in words.
    ///
    /// # Errors
    /// The name of the value, the value, and what is allowed; or what does not go together.
    pub fn check(&self) -> Result<(), String> {
        match self.detail {
            Detail::Whole => {}
            // A solid of a plane: two of the land, and three for each of its four edges.
            Detail::Triangles(count) => {
                let least = if self.solid.is_some() { 14 } else { 2 };
                within("triangles", count as f64, least as f64..=1e9)?;
            }
            Detail::Ratio(ratio) => within("ratio", ratio, 1e-6..=1.0)?,
            Detail::Within(error_m) => within("error_m", error_m, 1e-3..=1e5)?,
        }
        within("levels", self.levels as f64, 1.0..=8.0)?;
        if let Some(side) = self.tile {
            within("tile", side as f64, 16.0..=16_384.0)?;
        }
        if let Some(repeat_m) = self.repeat_m {
            within("repeat_m", repeat_m, 0.01..=1e6)?;
        }
        if let Some(cells) = self.textures {
            within("textures", cells as f64, 2.0..=8192.0)?;
        }
        if let Some(solid) = self.solid {
            if let Some(thickness_m) = solid.thickness_m {
                within("thickness_m", thickness_m, 1e-3..=1e5)?;
            }
            if let Some(print_mm) = solid.print_mm {
                within("print_mm", print_mm, 1.0..=1e5)?;
            }
        }
        if let Some(edge_m) = self.cliffs.as_ref().and_then(|cliffs| cliffs.edge_m) {
            within("edge_m", edge_m, 0.01..=1e4)?;
        }
        let one = self.levels == 1 && self.tile.is_none() && self.solid.is_none();
        let apart = [
            (
                self.cliffs.is_some() && !one,
                "cliffs apart go with one open land: no levels, no tiles, no floor",
            ),
            (
                self.solid.is_some() && self.tile.is_some(),
                "tiles are not closed: a solid has no tiles",
            ),
            (
                self.textures.is_some() && self.format != MeshFormat::Glb,
                "only GLB has textures inside; other formats take the maps beside them",
            ),
            (
                self.textures.is_some() && self.repeat_m.is_some(),
                "textures of the ground lie over the whole land: they do not repeat",
            ),
        ];
        match apart.into_iter().find(|(wrong, _)| *wrong) {
            Some((_, why)) => Err(why.to_owned()),
            None => Ok(()),
        }
    }
}

fn within(name: &str, value: f64, allowed: RangeInclusive<f64>) -> Result<(), String> {
    if allowed.contains(&value) {
        return Ok(());
    }
    let (low, high) = (allowed.start(), allowed.end());
    Err(format!("{name} is {value}, allowed is {low} to {high}"))
}
