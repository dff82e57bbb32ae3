//! Many copies of a small shape.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::Extent;
use terrain::grid::{Beyond, Pyramid, Sampler};
use terrain::shape::{self, Layout, Overlap, Profile};

use super::pattern::STRAND_CELLS;
use super::pattern::check_named;
use super::primitive::PrimitiveForm;
use super::products::ROCK_BROWN;
use super::{Kind, StepOutput, Unfit};
use crate::document::{Declared, Form, Measure, Product};
use crate::grow::{GrowError, Products, Site, Size};

/// Strews copies of a small shape over the land: rocks, craters, slabs. The
/// same seed gives the same layout at any resolution. Leaves a trace of what
/// is covered.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Strew {
    /// What is strewn.
    pub stamp: StrewStamp,
    /// The imported file.
    #[schemars(length(max = 200), extend("x-editor" = "asset", "x-when" = ["stamp", "image"]))]
    pub asset: String,
    /// The value of white in the file: 255 for 8 bits, 65535 for 16.
    #[schemars(range(min = 0.000_001, max = 1_000_000), extend("x-slider" = [1.0, 65535.0], "x-when" = ["stamp", "image"], "x-more" = true))]
    pub white: f64,
    /// The strand, as it looks over the whole land; its highest point counts
    /// as full height.
    #[schemars(length(max = 200), extend("x-editor" = "strand", "x-when" = ["stamp", "strand"]))]
    pub strand: String,
    /// How many copies on the whole land.
    #[schemars(range(min = 1, max = 200_000), extend("x-slider" = [10, 3000], "x-scale" = "log"))]
    pub count: u32,
    /// Width of the smallest.
    #[schemars(range(min = 0.01, max = 100_000), extend("x-unit" = "m", "x-slider" = [5.0, 1500.0], "x-scale" = "log"))]
    pub least_m: f64,
    /// Width of the largest.
    #[schemars(range(min = 0.01, max = 100_000), extend("x-unit" = "m", "x-slider" = [5.0, 3000.0], "x-scale" = "log"))]
    pub greatest_m: f64,
    /// 1 spreads sizes evenly; above, small ones are more common.
    #[schemars(range(min = 0.1, max = 20), extend("x-slider" = [0.5, 6.0]))]
    pub size_power: f64,
    /// Height of a copy of the largest size; smaller ones are lower in
    /// proportion. Below 0 they are dug.
    #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m", "x-slider" = [-200.0, 400.0]))]
    pub height_m: f64,
    /// How much copies of one size differ in height.
    #[schemars(range(min = 0, max = 1))]
    pub height_spread: f64,
    /// How far copies are turned at random, as a share of a full turn.
    #[schemars(range(min = 0, max = 1))]
    pub turn: f64,
    /// All copies are turned clockwise by this.
    #[schemars(range(min = -360, max = 360), extend("x-unit" = "°", "x-slider" = [-180.0, 180.0], "x-more" = true))]
    pub bearing_deg: f64,
    /// How deep a copy is for its width.
    #[schemars(range(min = 0.02, max = 1), extend("x-slider" = [0.1, 1.0], "x-more" = true))]
    pub slimness: f64,
    /// How copies are laid out.
    pub layout: StrewLayout,
    /// How far copies stray from their place in the grid.
    #[schemars(range(min = 0, max = 1), extend("x-when" = ["layout", "grid"]))]
    pub jitter: f64,
    /// Share of a copy's half width over which it fades out.
    #[schemars(range(min = 0, max = 1))]
    pub soft_edge: f64,
    /// Keep the ground's own form under each copy; otherwise a copy stands
    /// level, on the height of the ground at its centre.
    pub keep_ground: bool,
    /// Where copies overlap: the highest shows, or they pile up.
    #[schemars(extend("x-more" = true))]
    pub overlap: Overlap,
    /// Looks along each side of a cell: more keep small copies clean.
    #[schemars(range(min = 1, max = 6), extend("x-slider" = [1, 4], "x-more" = true))]
    pub looks: u32,
    /// Which of the endless layouts.
    #[schemars(extend("x-slider" = [0, 99]))]
    pub seed: u32,
}

/// What is strewn.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum StrewStamp {
    /// Rounded rocks.
    #[default]
    Dome,
    /// Peaks.
    Cone,
    /// Slabs.
    Plateau,
    /// Long backs.
    Ridge,
    /// Craters.
    Crater,
    /// An imported image.
    Image,
    /// Another strand.
    Strand,
}

/// How copies are laid out.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum StrewLayout {
    /// Anywhere.
    #[default]
    Random,
    /// On a grid, more or less.
    Grid,
}

impl Default for Strew {
    fn default() -> Self {
        Self {
            stamp: StrewStamp::Dome,
            asset: String::new(),
            white: 255.0,
            strand: String::new(),
            count: 300,
            least_m: 60.0,
            greatest_m: 300.0,
            size_power: 2.5,
            height_m: 60.0,
            height_spread: 0.4,
            turn: 1.0,
            bearing_deg: 0.0,
            slimness: 1.0,
            layout: StrewLayout::Random,
            jitter: 0.8,
            soft_edge: 0.25,
            keep_ground: true,
            overlap: Overlap::Highest,
            looks: 1,
            seed: 1,
        }
    }
}

impl Strew {
    fn strew(&self) -> shape::Strew {
        shape::Strew {
            count: self.count as usize,
            layout: match self.layout {
                StrewLayout::Random => Layout::Random,
                StrewLayout::Grid => Layout::Grid {
                    jitter: self.jitter,
                },
            },
            least_m: self.least_m,
            greatest_m: self.greatest_m,
            size_power: self.size_power,
            turn: self.turn,
            bearing_deg: self.bearing_deg,
            slimness: self.slimness,
            height_spread: self.height_spread,
            soft_edge: self.soft_edge,
            overlap: self.overlap,
            looks: self.looks as usize,
            seed: self.seed,
        }
    }

    fn form(&self) -> Option<shape::Form> {
        /// How deep a strewn crater's bowl is, and how much of a slab is flat.
        const BOWL: f64 = 0.8;
        const TOP: f64 = 0.7;
        let form = match self.stamp {
            StrewStamp::Dome => PrimitiveForm::Dome,
            StrewStamp::Cone => PrimitiveForm::Cone,
            StrewStamp::Plateau => PrimitiveForm::Plateau,
            StrewStamp::Ridge => PrimitiveForm::Ridge,
            StrewStamp::Crater => PrimitiveForm::Crater,
            StrewStamp::Image | StrewStamp::Strand => return None,
        };
        Some(form.with(BOWL, TOP))
    }

    /// The image that is strewn, and what brings its full value to 1.
    fn image(&self, site: &Site) -> Result<Option<(std::sync::Arc<Pyramid>, f32)>, GrowError> {
        Ok(match self.stamp {
            StrewStamp::Image => {
                let image = site.image(&self.asset, [0.0; 4], 0.0)?;
                Some((image, (1.0 / self.white) as f32))
            }
            StrewStamp::Strand => {
                let image = site.strand_image(&self.strand, STRAND_CELLS, 0.0)?;
                let (_, high) = image.image().range();
                Some((image, 1.0 / high.max(f32::MIN_POSITIVE)))
            }
            _ => None,
        })
    }
}

/// Where copies were strewn.
pub const STREWN: Product = Product::of(&Declared {
    name: "strewn",
    title: "Strewn copies",
    about: "Where copies were strewn, 0 to 1.",
    form: Form::field(Measure::share(), ROCK_BROWN, 1.0),
});

impl Kind for Strew {
    fn means_hollows(&self) -> bool {
        self.stamp == StrewStamp::Crater
    }

    fn example(self) -> Option<Self> {
        Some(Self {
            count: 160,
            least_m: 250.0,
            greatest_m: 900.0,
            height_m: 220.0,
            ..self
        })
    }

    fn asset(&self) -> Option<&str> {
        (self.stamp == StrewStamp::Image).then_some(&self.asset)
    }

    fn takes_in(&self) -> Option<&str> {
        (self.stamp == StrewStamp::Strand).then_some(&self.strand)
    }

    fn products(&self) -> &'static [Product] {
        &[STREWN]
    }

    fn margin(&self, cell_m: f64) -> usize {
        match self.keep_ground {
            true => 0,
            // The ground at the centre of a copy that reaches in from outside.
            false => (self.greatest_m.max(self.least_m) / cell_m).ceil() as usize + 2,
        }
    }

    fn takes_in_on(&self) -> Option<usize> {
        Some(STRAND_CELLS)
    }

    /// As many copies as lie over each other on the mean, each looked at as often as
    /// it is for one cell, and each looked up for every row.
    fn passes(&self, size: Size, extent: Extent) -> f64 {
        let mean_m = 0.5 * (self.least_m + self.greatest_m);
        // Copies may stand beyond the border, and reach in.
        let over_m2 = (extent.width_m + mean_m) * (extent.depth_m + mean_m);
        let layers = f64::from(self.count) * mean_m * mean_m * self.slimness / over_m2;
        let looks = f64::from(self.looks * self.looks);
        // A copy is looked at where it is turned to, which is as much as ten plain looks.
        4.0 + 10.0 * looks * layers + f64::from(self.count) / size.cols
    }

    fn check(&self) -> Result<(), Unfit> {
        if self.least_m > self.greatest_m {
            let reason = format!(
                "it must not be above ‘greatest_m’, which is {}",
                self.greatest_m
            );
            return Err(("least_m", self.least_m.to_string(), reason));
        }
        check_named(self.asset(), self.takes_in())
    }

    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        let strew = self.strew();
        let (extent, frame) = (site.extent(), site.frame());
        let image = self.image(site)?;
        let form = self.form();
        let stamp = |copy: &shape::StrewnCopy, u: f64, v: f64| match (&image, form) {
            (Some((image, scale)), _) => {
                let pixels = frame.cell_m / copy.size_m * image.image().cols() as f64;
                let (u, v) = (0.5 * (u + 1.0), 0.5 * (1.0 - v));
                (image.at(u, v, pixels, Beyond::Edge) * scale).clamp(0.0, 1.0)
            }
            (None, Some(form)) => form.at(u as f32, v as f32, Profile::Smooth),
            (None, None) => 0.0,
        };
        let below = site.below_here();
        let (land, cover) = match self.keep_ground {
            true => {
                let (heights, cover) =
                    strew.fill(extent, frame, self.height_m, stamp, site.run())?;
                let raised = below.zip_map(&heights, |below, height| below + height);
                (raised, cover)
            }
            false => {
                let (ground, wide) = site.below();
                let sampler = Sampler::new(ground, wide);
                let ground = |copy: &shape::StrewnCopy| sampler.bicubic(copy.x_m, copy.y_m);
                let land = (below, frame);
                strew.stand(extent, land, self.height_m, stamp, ground, site.run())?
            }
        };
        Ok(StepOutput {
            heights: land,
            products: Products::default().with(STREWN, cover),
            ledger: None,
        })
    }
}
