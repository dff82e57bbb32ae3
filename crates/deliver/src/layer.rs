//! What can be delivered.

use std::borrow::Cow;

use recipe::Recipe;
use recipe::document::{Form, NamedMask, Product};

/// One thing that can be delivered.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Layer {
    /// `height.tif`: heights in metres, as all fields a GeoTIFF of floats when no other
    /// format is ordered.
    Height,
    /// `height.png`: heights in 65,536 steps; their range is in `height.json`.
    Height16,
    /// `slope.tif`: slope in degrees.
    Slope,
    /// `weights-1.png` …: weights of four covers each; `weights.json` says which.
    Weights,
    /// `albedo.png`: colour without light, sRGB.
    Albedo,
    /// `normal.png`: surface directions, the ground's relief included; green
    /// towards north.
    Normal,
    /// `normal-down.png`: the same with green towards south, as DirectX has it.
    NormalDown,
    /// `roughness.png`: 255 is chalk.
    Roughness,
    /// `displacement.png`: how far the ground's relief stands above the land, in
    /// 65,536 steps; mid-grey is neutral, the range is in `displacement.json`.
    Displacement,
    /// `occlusion.png`: share of the sky that is seen, 255 is all of it.
    Occlusion,
    /// `id.png`: the cover with the greatest weight; `id.json` says which.
    Id,
    /// `cover-1.png` …: the weight of each cover in 65,535 steps; over all
    /// files those of a cell sum to 65,535. `covers.json` says which is which.
    Covers,
    /// `hillshade.png`: shaded relief.
    Hillshade,
    /// `plan.png`: the land from above under its sun, as the studio shows it.
    Plan,
    /// `land.glb`, or what else is ordered: the land as triangles, with `mesh.json`.
    Mesh,
    /// `recipe.json`: the recipe itself.
    Recipe,
    /// `wear.tif`, `depth.tif` …: a field that the land's steps have left, in its own
    /// unit.
    Product(Product),
    /// `mask-….tif`: the mask with this name, of the land as it is at the end, 0 to 1.
    Mask(String),
}

/// What stands before the name of a mask in the name of its layer.
const MASK: &str = "mask:";

impl Layer {
    /// What can be delivered of every landscape, in the order in which it is written.
    pub const ALL: [Self; 16] = [
        Self::Height,
        Self::Height16,
        Self::Slope,
        Self::Weights,
        Self::Albedo,
        Self::Normal,
        Self::NormalDown,
        Self::Roughness,
        Self::Displacement,
        Self::Occlusion,
        Self::Id,
        Self::Covers,
        Self::Hillshade,
        Self::Plan,
        Self::Mesh,
        Self::Recipe,
    ];

    /// All that can be delivered of some landscape, but for masks.
    pub fn known() -> impl Iterator<Item = Self> {
        let left = Product::fields().map(Self::Product);
        Self::ALL.into_iter().chain(left)
    }

    /// What is delivered of this landscape when nothing is said: all but masks, and but
    /// meshes, which take much more than maps of the same size.
    pub fn usual(recipe: &Recipe) -> Vec<Self> {
        let left = recipe.leaves().into_iter().map(Self::Product);
        let all = Self::ALL.into_iter().chain(left);
        all.filter(|layer| *layer != Self::Mesh).collect()
    }

    /// Whether this landscape has it.
    ///
    /// # Errors
    /// That it has not, in words.
    pub fn check(&self, recipe: &Recipe) -> Result<(), String> {
        match self {
            Self::Product(product) if !recipe.leaves().contains(product) => {
                Err(format!("no step of this land leaves ‘{}’", product.name()))
            }
            Self::Mask(name) if Self::mask_called(name, recipe).is_none() => {
                Err(format!("no mask of this land is called ‘{name}’"))
            }
            _ => Ok(()),
        }
    }

    /// The mask of that name.
    pub(crate) fn mask_called<'r>(name: &str, recipe: &'r Recipe) -> Option<&'r NamedMask> {
        recipe.masks.iter().find(|mask| mask.name == name)
    }

    /// Its name on the command line and in requests.
    pub fn name(&self) -> Cow<'static, str> {
        let name = match self {
            Self::Mask(name) => return format!("{MASK}{name}").into(),
            Self::Height => "height",
            Self::Height16 => "height16",
            Self::Slope => "slope",
            Self::Weights => "weights",
            Self::Albedo => "albedo",
            Self::Normal => "normal",
            Self::NormalDown => "normal_down",
            Self::Roughness => "roughness",
            Self::Displacement => "displacement",
            Self::Occlusion => "occlusion",
            Self::Id => "id",
            Self::Covers => "covers",
            Self::Hillshade => "hillshade",
            Self::Plan => "plan",
            Self::Mesh => "mesh",
            Self::Recipe => "recipe",
            Self::Product(product) => product.name(),
        };
        name.into()
    }

    /// The name of its files, without ending; [`Order`](crate::Order) knows those of masks.
    pub(crate) fn stem(&self) -> String {
        match self {
            Self::Height16 => "height".to_owned(),
            Self::NormalDown => "normal-down".to_owned(),
            other => other.name().into_owned(),
        }
    }

    /// The unit of its values; empty for a share, a count or a colour.
    pub(crate) fn unit(&self) -> &'static str {
        match self {
            Self::Height | Self::Height16 | Self::Displacement => "m",
            Self::Slope => "°",
            Self::Product(product) => match &product.declared().form {
                Form::Field(field) => field.measure.unit,
                _ => "",
            },
            _ => "",
        }
    }

    /// What it is, for people.
    pub fn title(&self) -> &str {
        match self {
            Self::Mask(name) => name,
            Self::Height => "Heights in metres",
            Self::Height16 => "Heights, 16-bit PNG, with its range",
            Self::Slope => "Slope in degrees",
            Self::Weights => "Weights of the ground, RGBA PNG",
            Self::Albedo => "Albedo, PNG",
            Self::Normal => "Normal map, PNG",
            Self::NormalDown => "Normal map, Y down, PNG",
            Self::Roughness => "Roughness, PNG",
            Self::Displacement => "Relief of the ground, 16-bit PNG",
            Self::Occlusion => "Occlusion, PNG",
            Self::Id => "Ground index, PNG",
            Self::Covers => "A mask for each ground, 16-bit PNG",
            Self::Hillshade => "Hillshade, PNG",
            Self::Plan => "Plan under the sun, PNG",
            Self::Mesh => "Mesh",
            Self::Recipe => "The recipe, JSON",
            Self::Product(product) => product.declared().title,
        }
    }

    /// Whether it asks what the ground is made of.
    pub(crate) fn is_ground(&self) -> bool {
        matches!(
            self,
            Self::Weights
                | Self::Covers
                | Self::Id
                | Self::Albedo
                | Self::Roughness
                | Self::Displacement
                | Self::Normal
                | Self::NormalDown
                | Self::Plan
        )
    }

    /// Whether only some landscapes have it.
    pub(crate) fn is_of_one(&self) -> bool {
        matches!(self, Self::Product(_) | Self::Mask(_))
    }

    /// Whether it is one number a cell, which a channel of a picture can hold.
    pub fn is_one_number(&self) -> bool {
        matches!(
            self,
            Self::Height
                | Self::Slope
                | Self::Occlusion
                | Self::Hillshade
                | Self::Roughness
                | Self::Displacement
                | Self::Product(_)
                | Self::Mask(_)
        )
    }

    /// The layer called `name`; masks are called so by the landscape.
    pub fn named(name: &str) -> Option<Self> {
        if let Some(mask) = name.strip_prefix(MASK) {
            return Some(Self::Mask(mask.to_owned()));
        }
        Self::known().find(|layer| layer.name() == name)
    }
}
