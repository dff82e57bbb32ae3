//! A wish that was found to be sound.

use recipe::Recipe;
use terrain::Frame;

use super::packed::Channel;
use super::stems::{is_taken, stems};
use super::{ValueRange, Wish};
use crate::fields::{ColourFormat, FieldFormat};
use crate::{Layer, MeshOrder};

/// Cells along the longer side, and along a side of a tile.
const CELLS: std::ops::RangeInclusive<usize> = 2..=16_384;
const TILE: std::ops::RangeInclusive<usize> = 16..=16_384;
/// More pictures of packed channels, or more layers, are a mistake.
const MOST_PACKED: usize = 16;
const MOST_LAYERS: usize = 1_000;

/// What is to be delivered of one landscape.
#[derive(Clone, Debug, PartialEq)]
pub struct Order {
    /// Cells along the longer side of the land.
    pub cells: usize,
    /// Cells along each side of a tile, when maps are to be cut; tiles meet
    /// exactly and do not overlap.
    pub tile: Option<usize>,
    /// Which files.
    pub layers: Vec<Layer>,
    /// What the files of each layer are called, without ending.
    stems: Vec<String>,
    /// In which format fields are written.
    pub fields: FieldFormat,
    /// Between which values formats of steps are spread.
    pub range: ValueRange,
    /// In which format colour without light is written.
    pub colour: ColourFormat,
    /// Pictures that hold a map in each channel, by name.
    pub(crate) packed: Vec<(String, Vec<Channel>)>,
    /// How the land is put into triangles, when that is among the layers.
    pub mesh: MeshOrder,
}

impl Order {
    /// What is wished of this landscape.
    ///
    /// # Errors
    /// What cannot be, and what is allowed.
    pub fn of(wish: &Wish, recipe: &Recipe) -> Result<Self, String> {
        within("cells", wish.cells, CELLS)?;
        if let Some(tile) = wish.tile {
            within("tile", tile, TILE)?;
        }
        within("packed", wish.packed.len(), 0..=MOST_PACKED)?;
        within("layers", wish.layers.len(), 0..=MOST_LAYERS)?;
        wish.range.check()?;
        let packed = wish.packed.iter();
        let packed = packed.map(|packed| Ok((packed.name.clone(), packed.resolved(recipe)?)));
        let packed: Vec<(String, Vec<Channel>)> = packed.collect::<Result<_, String>>()?;
        for (at, (name, _)) in packed.iter().enumerate() {
            if is_taken(name) {
                return Err(format!("packed: another file is called {name}"));
            }
            let same = |(other, _): &(String, _)| other.eq_ignore_ascii_case(name);
            if packed[..at].iter().any(same) {
                return Err(format!("packed: two pictures are called {name}"));
            }
        }
        let mut layers = Vec::new();
        for name in &wish.layers {
            let layer =
                Layer::named(name).ok_or_else(|| format!("there is no layer called ‘{name}’"))?;
            // What is said twice is written once.
            if !layers.contains(&layer) {
                layers.push(layer);
            }
        }
        if layers.is_empty() && packed.is_empty() {
            layers = Layer::usual(recipe);
        }
        let mesh = wish.mesh.as_ref().map(|mesh| mesh.order(wish.tile));
        let mesh = mesh.transpose()?.unwrap_or_default();
        let order = Self {
            cells: wish.cells,
            tile: wish.tile,
            stems: stems(&layers, wish.fields),
            layers,
            fields: wish.fields,
            range: wish.range,
            colour: wish.colour,
            packed,
            mesh,
        };
        order.check(recipe)?;
        Ok(order)
    }

    /// Cells along the longer side of the finest grid that it takes: of its maps, or of the
    /// textures of its meshes.
    pub fn finest_cells(&self) -> usize {
        self.cells.max(self.mesh.textures.unwrap_or_default())
    }

    /// Whether this landscape has all that is ordered.
    ///
    /// # Errors
    /// What it has not, in words.
    pub fn check(&self, recipe: &Recipe) -> Result<(), String> {
        for layer in &self.layers {
            layer.check(recipe)?;
        }
        for (name, channels) in &self.packed {
            for channel in channels {
                channel
                    .check(recipe)
                    .map_err(|why| format!("packed: {name}: {why}"))?;
            }
        }
        match &self.mesh.cliffs {
            Some(cliffs) => cliffs.of.check(recipe),
            None => Ok(()),
        }
    }

    /// What the files of a layer are called, without ending.
    pub(crate) fn stem(&self, layer: &Layer) -> &str {
        let at = self.layers.iter().position(|ordered| ordered == layer);
        &self.stems[at.expect("among those that are ordered")]
    }

    /// The name of the file, when one is all that is ordered: what lies beside it, such as the
    /// meaning of its steps, is not counted.
    ///
    /// # Errors
    /// That there are more.
    pub fn only_file(&self, recipe: &Recipe) -> Result<String, String> {
        let frame = Frame::with_cells(recipe.extent.into(), self.cells);
        let whole = self
            .tile
            .is_none_or(|side| side >= frame.cols.max(frame.rows));
        let more = || "only one file can be sent; order one layer, in one file".to_owned();
        let (layer, packed) = match (self.layers.as_slice(), self.packed.as_slice()) {
            ([layer], []) if whole => (Some(layer), None),
            ([], [(name, _)]) if whole => (None, Some(name)),
            _ => return Err(more()),
        };
        let Some(layer) = layer else {
            return Ok(format!("{}.png", packed.expect("one of both")));
        };
        let covers = recipe.covers.iter().filter(|cover| cover.on).count();
        Ok(match layer {
            Layer::Mesh if self.mesh.levels == 1 && self.mesh.cliffs.is_none() => {
                format!("land.{}", self.mesh.format.name())
            }
            Layer::Weights if covers <= 4 => "weights-1.png".to_owned(),
            Layer::Mesh | Layer::Weights | Layer::Covers => return Err(more()),
            Layer::Recipe => "recipe.json".to_owned(),
            Layer::Albedo if self.colour != ColourFormat::Png => "albedo.exr".to_owned(),
            Layer::Height | Layer::Slope | Layer::Product(_) | Layer::Mask(_) => {
                format!("{}.{}", self.stem(layer), self.fields.ending())
            }
            _ => format!("{}.png", self.stem(layer)),
        })
    }
}

fn within(
    name: &str,
    value: usize,
    allowed: std::ops::RangeInclusive<usize>,
) -> Result<(), String> {
    if allowed.contains(&value) {
        return Ok(());
    }
    let (low, high) = (allowed.start(), allowed.end());
    Err(format!("{name} is {value}, allowed is {low} to {high}"))
}
