//! What can be delivered.

use recipe::Recipe;
use recipe::document::Product;

/// One thing that can be delivered.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Layer {
    /// `height.tif`: heights in metres, float32 GeoTIFF.
    Height,
    /// `height.png`: heights in 65,536 steps; their range is in `height.json`.
    Height16,
    /// `slope.tif`: slope in degrees, float32 GeoTIFF.
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
    /// unit, float32 GeoTIFF.
    Left(Product),
}

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

    /// All that can be delivered of some landscape.
    pub fn known() -> impl Iterator<Item = Self> {
        let left = Product::fields().map(Self::Left);
        Self::ALL.into_iter().chain(left)
    }

    /// All that can be delivered of this landscape.
    pub fn of(recipe: &Recipe) -> Vec<Self> {
        let left = recipe.leaves().into_iter().map(Self::Left);
        Self::ALL.into_iter().chain(left).collect()
    }

    /// What is delivered of this landscape when nothing is said: all but meshes, which take
    /// much more than maps of the same size.
    pub fn usual(recipe: &Recipe) -> Vec<Self> {
        let mut usual = Self::of(recipe);
        usual.retain(|layer| *layer != Self::Mesh);
        usual
    }

    /// Its name on the command line and in requests.
    pub fn name(self) -> &'static str {
        match self {
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
            Self::Left(product) => product.name(),
        }
    }

    /// What it is, for people.
    pub fn title(self) -> &'static str {
        match self {
            Self::Height => "Heights, float32 GeoTIFF",
            Self::Height16 => "Heights, 16-bit PNG, with its range",
            Self::Slope => "Slope in degrees, GeoTIFF",
            Self::Weights => "Weights of the ground, RGBA PNG",
            Self::Albedo => "Colour without light, PNG",
            Self::Normal => "Normal map, PNG",
            Self::NormalDown => "Normals with green downwards, PNG",
            Self::Roughness => "Roughness, PNG",
            Self::Displacement => "Relief of the ground, 16-bit PNG",
            Self::Occlusion => "Occlusion, PNG",
            Self::Id => "Which ground, PNG",
            Self::Covers => "A mask for each ground, 16-bit PNG",
            Self::Hillshade => "Hillshade, PNG",
            Self::Plan => "Plan under the sun, PNG",
            Self::Mesh => "The land as triangles",
            Self::Recipe => "The recipe, JSON",
            Self::Left(product) => product.declared().title,
        }
    }

    /// Whether it asks what the ground is made of.
    pub(crate) fn is_ground(self) -> bool {
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

    /// The layer called `name`.
    pub fn named(name: &str) -> Option<Self> {
        Self::known().find(|layer| layer.name() == name)
    }
}
