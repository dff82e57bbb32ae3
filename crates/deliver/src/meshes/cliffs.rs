//! Which parts of a land are cliffs, when they are to be a mesh apart.

use recipe::{Land, Recipe};
use terrain::mesh::{Lattice, Mesh, Parted, parted};
use terrain::{Grid, Run};

use crate::Layer;
use crate::land_maps::field;

/// Cliffs as a mesh apart.
#[derive(Clone, Debug, PartialEq)]
pub struct Cliffs {
    /// What is one.
    pub of: CliffsOf,
    /// Edges of their quads are so long, metres; two cells when absent.
    pub edge_m: Option<f64>,
}

/// What is a cliff.
#[derive(Clone, Debug, PartialEq)]
pub enum CliffsOf {
    /// Ground steeper than this, degrees.
    Steeper(f32),
    /// Where a field that the land's steps leave, as rock outcrops are, or a mask is a half or
    /// more.
    Of(Layer),
}

/// What stands before the degrees in the name of what is steeper.
const STEEPER: &str = "steeper:";
/// Degrees that may stand there.
const DEGREES: std::ops::RangeInclusive<f32> = 1.0..=89.0;
/// Cells that an edge is long when nothing is said.
const USUAL_CELLS: f64 = 2.0;
/// Finer than this share of a cell there is nothing to be seen.
const FINEST: f64 = 0.25;

impl CliffsOf {
    /// What a name means: `steeper:` and degrees, `mask:` and a name, or a field.
    ///
    /// # Errors
    /// That it means nothing, in words.
    pub fn named(name: &str) -> Result<Self, String> {
        if let Some(degrees) = name.strip_prefix(STEEPER) {
            let degrees = degrees.parse().ok().filter(|deg| DEGREES.contains(deg));
            let (low, high) = (DEGREES.start(), DEGREES.end());
            return degrees
                .map(Self::Steeper)
                .ok_or_else(|| format!("cliffs: {name}: steeper than {low} to {high} degrees"));
        }
        match Layer::named(name) {
            Some(layer @ (Layer::Product(_) | Layer::Mask(_))) => Ok(Self::Of(layer)),
            _ => Err(format!(
                "cliffs: ‘{name}’ is neither a field, nor mask: and a name, nor steeper: and degrees"
            )),
        }
    }

    /// Whether this landscape has it.
    ///
    /// # Errors
    /// That it has not, in words.
    pub(crate) fn check(&self, recipe: &Recipe) -> Result<(), String> {
        match self {
            Self::Steeper(_) => Ok(()),
            Self::Of(layer) => layer.check(recipe),
        }
        .map_err(|why| format!("cliffs: {why}"))
    }

    fn mask(&self, recipe: &Recipe, land: &Land, run: Run) -> Result<Grid, recipe::GrowError> {
        let of = (recipe, land);
        Ok(match self {
            Self::Steeper(degrees) => {
                field(of, &Layer::Slope, run)?.map(|slope| if slope > *degrees { 1.0 } else { 0.0 })
            }
            Self::Of(layer) => field(of, layer, run)?,
        })
    }
}

impl Cliffs {
    /// Parts a mesh of a land; nothing when the land has none of them.
    pub(super) fn part(
        &self,
        (recipe, land, lattice): (&Recipe, &Land, &Lattice),
        mesh: &Mesh,
        run: Run,
    ) -> Result<Option<Parted>, recipe::GrowError> {
        let mask = self.of.mask(recipe, land, run)?;
        let cell_m = land.frame().cell_m;
        let edge_m = self.edge_m.unwrap_or(USUAL_CELLS * cell_m);
        let edge_m = edge_m.max(FINEST * cell_m);
        Ok(parted(lattice, mesh, (&mask, land.frame()), edge_m, run)?)
    }
}
