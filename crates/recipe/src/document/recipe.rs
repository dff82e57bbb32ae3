//! The recipe as a whole.

use std::collections::BTreeSet;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::Extent;
use terrain::grid::Georeference;
use terrain::light::Sun;
use terrain::picture::Lighting;

use super::declared;
use super::{
    Cover, CoverMaterial, Finish, Mask, NamedMask, Product, Reading, RecipeError, Step, check,
    versions,
};

/// The strand that ends as the terrain.
pub const LAND: &str = "land";

/// One landscape, as a document.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Recipe {
    /// Version of this format.
    #[schemars(range(min = 1, max = Recipe::VERSION))]
    pub version: u32,
    /// What the landscape is called.
    #[schemars(length(max = 200))]
    pub name: String,
    /// How large the land is.
    pub extent: LandExtent,
    /// Water stands up to here, metres above the datum.
    #[serde(default)]
    #[schemars(range(min = -12_000, max = 12_000), extend("x-unit" = "m"))]
    pub sea_level_m: f64,
    /// What heights are counted from, such as the mean level of the sea.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    #[schemars(length(max = 200))]
    pub datum: String,
    /// Where it lies on earth, when it was made of a model that says so.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub georeference: Option<Georeference>,
    /// What the artist wants to remember of this landscape.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    #[schemars(length(max = 10_000))]
    pub note: String,
    /// Where the sun stands.
    #[serde(default)]
    pub sun: SunPosition,
    /// Runs of steps; `land` is the one that ends as the terrain.
    #[schemars(length(min = 1, max = 64))]
    pub strands: Vec<Strand>,
    /// Masks with a name, to be used in many places.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[schemars(length(max = 256))]
    pub masks: Vec<NamedMask>,
    /// The ground, bottom layer first.
    #[serde(default)]
    #[schemars(length(max = 32))]
    pub covers: Vec<Cover>,
    /// What is done to the ground as a whole, once its covers lie.
    #[serde(default, skip_serializing_if = "Finish::is_empty")]
    pub finish: Finish,
}

/// Size of the land in metres.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct LandExtent {
    /// From west to east.
    #[schemars(range(min = 1, max = 1_000_000), extend("x-unit" = "m"))]
    pub width_m: f64,
    /// From south to north.
    #[schemars(range(min = 1, max = 1_000_000), extend("x-unit" = "m"))]
    pub depth_m: f64,
}

impl From<LandExtent> for Extent {
    fn from(LandExtent { width_m, depth_m }: LandExtent) -> Self {
        Self { width_m, depth_m }
    }
}

/// Where the sun stands.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct SunPosition {
    /// Compass bearing of the sun.
    #[schemars(range(min = 0, max = 360), extend("x-unit" = "°"))]
    pub bearing_deg: f64,
    /// Height above the horizon.
    #[schemars(range(min = 1, max = 90), extend("x-unit" = "°"))]
    pub altitude_deg: f64,
}

impl Default for SunPosition {
    /// From the upper left: the light that map readers expect.
    fn default() -> Self {
        Self {
            bearing_deg: 315.0,
            altitude_deg: 40.0,
        }
    }
}

impl From<SunPosition> for Sun {
    fn from(
        SunPosition {
            bearing_deg,
            altitude_deg,
        }: SunPosition,
    ) -> Self {
        Self {
            bearing_deg,
            altitude_deg,
        }
    }
}

/// A named run of steps that grows one field.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Strand {
    /// The name that other strands know it by.
    #[schemars(length(max = 200))]
    pub name: String,
    /// The steps, first one first.
    #[schemars(length(max = 500))]
    pub steps: Vec<Step>,
}

impl Recipe {
    /// The version of the format that this program writes.
    pub const VERSION: u32 = 8;

    /// A flat, empty land.
    pub fn flat(name: &str, extent: LandExtent) -> Self {
        Self {
            version: Self::VERSION,
            name: name.to_owned(),
            extent,
            sea_level_m: 0.0,
            datum: String::new(),
            georeference: None,
            note: String::new(),
            sun: SunPosition::default(),
            strands: vec![Strand {
                name: LAND.to_owned(),
                steps: Vec::new(),
            }],
            masks: Vec::new(),
            covers: Vec::new(),
            finish: Finish::default(),
        }
    }

    /// Reads and checks a recipe.
    ///
    /// # Errors
    /// [`RecipeError`] names the step or cover, the parameter, its value and
    /// what would be allowed.
    pub fn from_json(text: &str) -> Result<Self, RecipeError> {
        let value = serde_json::from_str(text).map_err(RecipeError::not_json)?;
        Self::from_value(value)
    }

    /// Reads and checks a recipe that is JSON already.
    ///
    /// # Errors
    /// As [`Recipe::from_json`].
    pub fn from_value(value: serde_json::Value) -> Result<Self, RecipeError> {
        let value = versions::brought_up(value)?;
        declared::check_lengths(&value)?;
        let recipe: Self = serde_path_to_error::deserialize(&value)
            .map_err(|error| RecipeError::unreadable(&value, &error))?;
        check::check(&recipe, &value)?;
        Ok(recipe)
    }

    /// The recipe as JSON that people can read.
    pub fn to_json(&self) -> String {
        serde_json::to_string_pretty(self).expect("a recipe has no map with odd keys")
    }

    /// The strand that has the step called `id`, and which of its steps it is.
    pub fn place_of(&self, id: &str) -> Option<(&Strand, usize)> {
        self.strands.iter().find_map(|strand| {
            let at = strand.steps.iter().position(|step| step.id == id)?;
            Some((strand, at))
        })
    }

    /// The recipe with only the step called `id` on in its strand, and that
    /// strand's name.
    pub fn with_only(&self, id: &str) -> Option<(String, Self)> {
        let strand = self.place_of(id)?.0.name.clone();
        let mut alone = self.clone();
        let steps = alone.strands.iter_mut().filter(|s| s.name == strand);
        for step in steps.flat_map(|s| &mut s.steps) {
            step.on = step.id == id;
        }
        Some((strand, alone))
    }

    /// The recipe with only the cover called `id` on, over bare grey where it is
    /// not; the rest of the ground is as it was.
    pub fn with_only_cover(&self, id: &str) -> Option<Self> {
        let cover = self.covers.iter().find(|cover| cover.id == id)?;
        let mut rest = Cover::bare("bare", "Not this ground");
        while rest.id == cover.id {
            rest.id.push('_');
        }
        let cover = Cover {
            on: true,
            ..cover.clone()
        };
        Some(Self {
            covers: vec![rest, cover],
            finish: Finish::default(),
            ..self.clone()
        })
    }

    /// Every mask of the recipe.
    pub fn all_masks(&self) -> impl Iterator<Item = &Mask> {
        let steps = self.strands.iter().flat_map(|strand| &strand.steps);
        let of_steps = steps.flat_map(|step| step.mask.iter().chain(step.operation.masks()));
        let named = self.masks.iter().map(|named| &named.mask);
        of_steps.chain(self.ground_masks()).chain(named)
    }

    /// The masks of covers and of washes.
    pub(crate) fn ground_masks(&self) -> impl Iterator<Item = &Mask> {
        let of_covers = self.covers.iter().filter_map(|cover| cover.mask.as_ref());
        of_covers.chain(self.finish.washes.iter().map(|wash| &wash.mask))
    }

    /// What the colours of covers read of the land.
    pub(crate) fn ground_readings(&self) -> impl Iterator<Item = &Reading> {
        let gradients = self
            .covers
            .iter()
            .filter_map(|cover| cover.gradient.as_ref());
        gradients.map(|gradient| &gradient.by)
    }

    /// Fields that the steps of the land leave for others, in the order of their names.
    pub fn leaves(&self) -> BTreeSet<Product> {
        let steps = self.strand(LAND).map_or(&[][..], |land| &land.steps);
        let on = steps.iter().filter(|step| step.on);
        let left = on.flat_map(|step| step.operation.products().iter().copied());
        left.filter(|product| product.field().is_some()).collect()
    }

    /// Every imported file that the recipe names.
    pub fn asset_names(&self) -> BTreeSet<&str> {
        let steps = self.strands.iter().flat_map(|strand| &strand.steps);
        let of_steps = steps.filter_map(|step| step.operation.asset());
        let terms = self.all_masks().flat_map(|mask| &mask.terms);
        let readings = terms.map(|term| &term.of).chain(self.ground_readings());
        let materials = self
            .covers
            .iter()
            .filter_map(|cover| match &cover.material {
                Some(CoverMaterial::Images(images)) => Some(images.assets()),
                _ => None,
            });
        of_steps
            .chain(readings.filter_map(|reading| reading.asset()))
            .chain(materials.flatten())
            .collect()
    }

    /// What the land is lit by.
    pub fn lighting(&self) -> Lighting {
        Lighting {
            sun: self.sun.into(),
            sea_level_m: self.sea_level_m as f32,
        }
    }

    /// The strand called `name`.
    pub fn strand(&self, name: &str) -> Option<&Strand> {
        self.strands.iter().find(|strand| strand.name == name)
    }
}
