//! Ages: rivers, slopes and sediment together.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::erosion::{AgeLaw, Beds, FlowDirections, Level, Outlets, Side};
use terrain::grid::resample;
use terrain::noise::{Basis, FractalNoise};
use terrain::shape::blurred_to_the_edge;
use terrain::{Extent, Frame, Grid, Run};

use super::aged::{
    AROUND, Aged, BURIES_M, Bedding, FIELDS, Fields, PASSES_IN_STEP, Phase, ROCK, ROCKS, SPACINGS,
    UPLIFT, ashore, but_firm, jointed, outlets, patched, varied,
};
use super::products::{DEPOSIT, RIVERS, WEAR};
use super::{Kind, StepOutput};
use crate::document::{Mask, Product};
use crate::grow::{GridBelow, GrowError, ProcessOutput, Site, Stage};

/// A million years of erosion: high ground is uplifted, rivers incise it, slopes fail, and
/// the sediment is deposited in valleys, fans and the sea. One step turns whatever lies
/// below it into ranges and basins with all their valleys.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Ages {
    /// How far the land has aged: 0.3 is young, 1 mature, where rivers and uplift are
    /// in balance; beyond, nothing rises any more, and 2 is old and worn down.
    #[schemars(range(min = 0.01, max = 5), extend("x-slider" = [0.05, 2.5]))]
    pub age: f64,
    /// From one small valley to the next: wide makes rounded hills, narrow makes
    /// gullied slopes.
    #[schemars(range(min = 1, max = 20_000), extend("x-unit" = "m", "x-slider" = [40.0, 1500.0], "x-scale" = "log"))]
    pub spacing_m: f64,
    /// From the valleys to the tops when mature; 0 keeps what the land has.
    #[schemars(range(min = 0, max = 20_000), extend("x-unit" = "m", "x-slider" = [0.0, 3000.0]))]
    pub relief_m: f64,
    /// Hard rock stands steeply: 0 is clay, 1 sound granite.
    #[schemars(range(min = 0, max = 1))]
    pub hardness: f64,
    /// How readily rivers lay down what they carry: 0 leaves bare valleys, more makes
    /// fans and broad floors.
    #[schemars(range(min = 0, max = 5), extend("x-slider" = [0.0, 2.0]))]
    pub sediment: f64,
    /// How wide rivers make the floors of their valleys where 1 km² of land drains: ten times
    /// the land makes them near three times as wide, steep rivers narrower. 0 leaves notches.
    #[schemars(range(min = 0, max = 5000), extend("x-unit" = "m", "x-slider" = [0.0, 300.0], "x-more" = true))]
    pub floors_m: f64,
    /// How deeply rivers bury their valleys in the end where 1 km² of land drains: floors
    /// reach into side valleys, and hills stand in them like islands. 0 leaves bare beds.
    #[schemars(range(min = 0, max = 500), extend("x-unit" = "m", "x-slider" = [0.0, 20.0], "x-more" = true))]
    pub fill_m: f64,
    /// How much of that fill rivers cut away again where they wander: the rest stands beside
    /// them in terraces.
    #[schemars(range(min = 0, max = 1), extend("x-more" = true))]
    pub terraces: f64,
    /// How much rock and uplift differ from place to place.
    #[schemars(range(min = 0, max = 2), extend("x-slider" = [0.0, 1.5], "x-more" = true))]
    pub variety: f64,
    /// How much harder every other patch of rock is, each a few small valleys wide: spurs
    /// and side valleys of uneven size.
    #[schemars(range(min = 0, max = 1), extend("x-more" = true))]
    pub patches: f64,
    /// How much harder every other belt of upright rock is: ridges and valleys along one
    /// line, at right angles to the bearing of dip, as in folded hills.
    #[schemars(range(min = 0, max = 1), extend("x-more" = true))]
    pub belts: f64,
    /// How much harder every other bed of rock is: ledges, benches, table mountains;
    /// 0 for rock that lies in no beds.
    #[schemars(range(min = 0, max = 1), extend("x-more" = true))]
    pub beds: f64,
    /// Thickness of a soft and a hard bed together.
    #[schemars(range(min = 0.1, max = 20_000), extend("x-unit" = "m", "x-slider" = [20.0, 600.0], "x-scale" = "log", "x-more" = true))]
    pub beds_m: f64,
    /// How steeply the beds dip: a few degrees make scarps with long backs.
    #[schemars(range(min = 0, max = 80), extend("x-unit" = "°", "x-slider" = [0.0, 20.0], "x-more" = true))]
    pub dip_deg: f64,
    /// Compass bearing to which they dip.
    #[schemars(range(min = 0, max = 360), extend("x-unit" = "°", "x-more" = true))]
    pub dips_to_deg: f64,
    /// Which side water leaves the country over.
    #[schemars(extend("x-more" = true))]
    pub leaves: Side,
    /// Random seed.
    #[schemars(extend("x-slider" = [0, 99], "x-more" = true))]
    pub seed: u32,
    /// A river begins where so much land drains through.
    #[schemars(range(min = 1, max = 1e12), extend("x-unit" = "m²", "x-slider" = [10_000.0, 4_000_000.0], "x-scale" = "log", "x-more" = true))]
    pub source_m2: f64,
    /// Another strand that rises by its heights: a ridge drawn there becomes a range.
    #[serde(skip_serializing_if = "String::is_empty")]
    #[schemars(length(max = 200), extend("x-editor" = "strand", "x-optional" = true, "x-more" = true))]
    pub strand: String,
    /// Where the land rises, instead of where it is high.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schemars(extend("x-editor" = "mask"))]
    pub rises: Option<Mask>,
    /// Where water leaves the land, instead of over its border: along a drawn line, into
    /// a basin. What it leaves into stays as it is.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schemars(extend("x-editor" = "mask", "x-more" = true))]
    pub course: Option<Mask>,
    /// Where the ground is firm: it stays as it is where the mask is full.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schemars(extend("x-editor" = "mask"))]
    pub hard: Option<Mask>,
}

impl Default for Ages {
    fn default() -> Self {
        Self {
            age: 1.0,
            spacing_m: 140.0,
            relief_m: 0.0,
            hardness: 0.5,
            sediment: 0.35,
            floors_m: 60.0,
            fill_m: 3.0,
            terraces: 0.4,
            variety: 1.0,
            patches: 0.3,
            belts: 0.25,
            beds: 0.0,
            beds_m: 120.0,
            dip_deg: 0.0,
            dips_to_deg: 120.0,
            leaves: Side::Anywhere,
            seed: 1,
            source_m2: 250_000.0,
            strand: String::new(),
            rises: None,
            course: None,
            hard: None,
        }
    }
}

/// Erodibility K of common rock, m^0.1 per year (Stock and Montgomery 1999: a few
/// millionths for granitic and metamorphic rock, from memory).
const ERODIBILITY: f64 = 5e-6;
/// Exponent m of the drainage area: with the slope's 1, the concavity of rivers (Whipple
/// and Tucker 1999: 0.35 to 0.6).
const AREA_EXPONENT: f64 = 0.45;
/// ∫A^−m dx up a trunk stream of length L is this times L to the power [`CHI_EXPONENT`],
/// with Hack's (1957) law L = 1.4·A^0.6, in kilometres (Perron and Royden 2013).
const CHI: f64 = 1.87;
/// See [`CHI`]: 1 − 1.67·m.
const CHI_EXPONENT: f64 = 0.25;
/// A trunk stream takes this share of the land's longer side to fall to its outlet.
const TRUNK: f64 = 0.7;
/// Debris flows cut where less land drains than the square of this share of the spacing of
/// small valleys; with common spacings a few hectares (Stock and Dietrich 2003: 0.1 to
/// 1 km² for the largest of them, from memory).
const DEBRIS: f64 = 0.2;
/// Mature is this many times what a wave of cutting takes from the outlets to the
/// divides.
const MATURE: f64 = 1.5;
/// The share of what such a wave takes that each finer grid gets, in which nothing rises but what
/// the coarser grid cuts: its own small valleys need no more.
const FINER_SHARE: f64 = 0.08;
/// Small valleys are cut as if the land were no younger than this: gullies come first.
const YOUNGEST: f64 = 0.25;
/// Cells of the first grid along the longer side of the land: enough for the trunk
/// valleys.
const FIRST_CELLS: f64 = 64.0;
/// Time steps on the first grid, and on the finer ones.
const STEPS: usize = 32;
const FINER_STEPS: usize = 3;
/// Time steps in which an old land is worn down.
const OLD_STEPS: usize = 16;
/// The finest grid has at most so many cells along the longer side, and cells of at least this
/// share of the spacing of small valleys: those are cut by then.
const FINEST_CELLS: f64 = 4096.0;
const FINEST_SPACING: f64 = 24.0;
/// Chutes and rills go on to finer cells, where that takes no more cells than these: it weighs
/// the more, the finer the land is.
const RILLS_CELLS: f64 = 2048.0;
const RILLS_SPACING: f64 = 64.0;
/// In so few steps: they are short.
const RILLS_STEPS: usize = 2;
/// The share of what comes to a place on the sea floor in a step that stays there:
/// little, so that deltas have long fronts.
const SEA_TAKES: f64 = 0.1;
/// Belts of upright rock are about so many spacings of small valleys wide, and so many times
/// as long.
const BELT_SPACINGS: f64 = 4.0;
const BELT_STRETCH: f64 = 6.0;
/// How much more the softest of them give than the mean, as a power of e: some ten times as
/// much as the hardest, less than from shale to quartzite (Sklar and Dietrich 2001,
/// from memory).
const BELT_CONTRAST: f32 = 1.5;
/// Stable slopes of the softest and the hardest rock, degrees.
const STANDS_DEG: (f64, f64) = (22.0, 46.0);

/// What holds for the whole land, told by its coarsest grid.
struct Land {
    /// Blurred heights on `frame`: what is high rises.
    soft: Grid,
    frame: Frame,
    low_m: f64,
    high_m: f64,
    /// How fast the highest ground rises, metres per year.
    uplift: f64,
    /// The lowest and the highest of the strand that says where the land rises.
    strand: (f32, f32),
}

impl Ages {
    fn first_cell_m(extent: Extent) -> f64 {
        extent.longest_m() / FIRST_CELLS
    }

    fn law(&self, site: &Site, first: bool) -> AgeLaw {
        let even_m = self.spacing_m / SPACINGS;
        AgeLaw {
            erodibility: ERODIBILITY,
            area_exponent: AREA_EXPONENT,
            slope_exponent: 1.0,
            debris_m2: (DEBRIS * self.spacing_m).powi(2),
            directions: FlowDirections::Steepest,
            deposition: self.sediment,
            floors_m: self.floors_m,
            fill_m: self.fill_m,
            terraces: self.terraces,
            // What the sea took on the first grid lies there already.
            sea_takes: if first { SEA_TAKES } else { 0.0 },
            diffusivity: ERODIBILITY * even_m.powf(1.0 + 2.0 * AREA_EXPONENT),
            sea_level_m: site.sea_level_m(),
        }
    }

    fn land(&self, site: &Site) -> Result<Land, GrowError> {
        /// What is high is told of land blurred by this share of its longer side.
        const BLUR: f64 = 0.04;
        /// Shares of the land below what counts as low, and as high.
        const LOW: f64 = 0.05;
        const HIGH: f64 = 0.97;
        const TOP: f64 = 0.99;
        /// The low ground of land is raised by so many times what fills valleys where 1 km²
        /// drains; by so much of the relief at most.
        const FILLED: f64 = 1.6;
        const MOST_FILLED: f64 = 0.05;
        let (extent, cell_m) = (site.extent(), Self::first_cell_m(site.extent()));
        let frame = Frame::covering(extent, cell_m).grown((AROUND * FIRST_CELLS) as usize);
        let heights = site.below_on(&frame)?;
        let longest_m = extent.longest_m();
        let soft = blurred_to_the_edge(&heights, BLUR * longest_m, cell_m);
        let sea = site.sea_level_m();
        let low_m = share_below(&soft, LOW).max(sea);
        let own_m = share_below(&heights, TOP) - share_below(&heights, LOW).max(sea);
        let own_m = own_m.max(0.0);
        let relief_m = match self.relief_m > 0.0 {
            true => self.relief_m,
            // What fills its valleys is made up for.
            false => own_m + (FILLED * self.fill_m).min(MOST_FILLED * own_m),
        };
        let strand = match self.takes_in() {
            Some(name) => site.strand_on(name, &frame)?.range(),
            None => (0.0, 0.0),
        };
        Ok(Land {
            strand,
            low_m,
            high_m: share_below(&soft, HIGH).max(low_m),
            soft,
            frame,
            uplift: relief_m / chi(extent) * ERODIBILITY,
        })
    }

    fn fields(&self, site: &Site, land: &Land, grid: &GridBelow) -> Result<Fields, GrowError> {
        /// The least that rises, against the highest ground: a lowland is not a sink.
        const LEAST: f32 = 0.1;
        /// Land that is level rises as a block.
        const LEVEL_M: f64 = 1.0;
        /// By which stable slopes differ, as [`ROCKS`] say it of rock.
        const SLOPES: (f64, f32) = (0.1, 0.25);
        let (frame, run) = (&grid.frame, grid.run);
        let variety = self.variety as f32;
        let vary = |(feature, amount): (f64, f32), salt: u32| {
            let seed = self.seed.wrapping_add(salt);
            varied(site, frame, (feature, amount * variety), seed, run)
        };
        let soft = resample(&land.soft, &land.frame, frame);
        let span_m = land.high_m - land.low_m;
        let (low, span) = (land.low_m as f32, span_m as f32);
        let pattern = match (self.takes_in(), span_m < LEVEL_M) {
            (Some(name), _) => {
                let (low, high) = land.strand;
                let span = (high - low).max(f32::MIN_POSITIVE);
                site.strand_on(name, frame)?
                    .map(|height| ((height - low) / span).clamp(0.0, 1.0))
            }
            (None, true) => Grid::filled(frame.cols, frame.rows, 1.0),
            (None, false) => soft.map(|h| ((h - low) / span).clamp(0.0, 1.3)),
        };
        let pattern = match (&self.rises, self.takes_in()) {
            (None, _) => pattern,
            (Some(mask), None) => site.mask_below(mask, frame)?,
            (Some(mask), Some(_)) => pattern.zip_map(&site.mask_below(mask, frame)?, |a, b| a * b),
        };
        let uplift = land.uplift as f32;
        let uplift = pattern.zip_map(&vary(UPLIFT, 0x51)?, |high, v| {
            uplift * (LEAST + (1.0 - LEAST) * high) * (1.0 + v).max(LEAST)
        });
        let sea = site.sea_level_m() as f32;
        let ashore = soft.zip_map(&grid.heights, |soft, near| ashore(soft.min(near), sea));
        let seed = self.seed.wrapping_add(0x56);
        let rocks = vary(ROCKS, 0x52)?;
        let rocks = patched(rocks, frame, self.spacing_m, self.patches, seed, run)?;
        let erodibility = match self.belts > 0.0 {
            true => rocks.zip_map(&self.belted(frame, run)?, |a, b| (a + b).exp()),
            false => rocks.map(f32::exp),
        };
        let (soft_deg, hard_deg) = STANDS_DEG;
        let angle = (soft_deg + (hard_deg - soft_deg) * self.hardness) as f32;
        let most = hard_deg as f32 + 10.0;
        let seed = self.seed.wrapping_add(0x57);
        let joints = jointed(frame, self.spacing_m, variety, seed, run)?;
        let critical = vary(SLOPES, 0x53)?.zip_map(&joints, |a, b| a + b);
        Ok(Fields {
            uplift: uplift.zip_map(&ashore, |uplift, ashore| uplift * ashore),
            erodibility: but_firm(site, frame, self.hard.as_ref(), erodibility)?,
            critical_deg: critical.map(|v| (angle * (1.0 + v)).clamp(5.0, most)),
            bedding: self.bedding(site, frame, run)?,
        })
    }

    /// By how much belts of upright rock give more than the mean, as powers of e.
    fn belted(&self, frame: &Frame, run: Run) -> Result<Grid, GrowError> {
        let noise = FractalNoise {
            basis: Basis::Simplex,
            feature_m: BELT_SPACINGS * self.spacing_m,
            octaves: 3.0,
            stretch: BELT_STRETCH,
            // They strike at right angles to the dip.
            bearing_deg: self.dips_to_deg + 90.0,
            seed: self.seed.wrapping_add(0x55),
            ..FractalNoise::default()
        };
        let amount = BELT_CONTRAST * self.belts as f32;
        Ok(noise.fill(frame, run)?.map(|v| amount * v))
    }

    /// The beds in which the rock lies, if it does: they dip, and lie in gentle folds, so
    /// that no ledge is a contour line.
    fn bedding(&self, site: &Site, frame: &Frame, run: Run) -> Result<Option<Bedding>, GrowError> {
        /// Size of the folds as a share of the longer side, and their height as one of a
        /// pair of beds.
        const FOLDS: f64 = 0.25;
        const FOLDED: f64 = 0.35;
        if self.beds == 0.0 {
            return Ok(None);
        }
        let seed = self.seed.wrapping_add(0x54);
        let folded = (FOLDED * self.beds_m) as f32;
        let folds = varied(site, frame, (FOLDS, folded), seed, run)?;
        let (east, north) = self.dips_to_deg.to_radians().sin_cos();
        let fall = self.dip_deg.to_radians().tan();
        let lies = Grid::by_rows(frame.cols, frame.rows, |r, row| {
            for (c, lies) in row.iter_mut().enumerate() {
                let along = east * frame.x_m(c) + north * frame.y_m(r);
                *lies = folds.at(c, r) - (fall * along) as f32;
            }
        });
        let beds = Beds {
            thickness_m: self.beds_m,
            seed,
        };
        Ok(Some(Bedding {
            beds,
            lies,
            amount: self.beds as f32,
        }))
    }

    fn look(
        &self,
        site: &Site,
        land: &Land,
        grid: &GridBelow,
    ) -> Result<(Fields, Outlets), GrowError> {
        grid.run.check()?;
        let (sea_level_m, course) = (site.sea_level_m(), self.course.as_ref());
        let outlets = outlets(site, grid, sea_level_m, self.leaves, course)?;
        Ok((self.fields(site, land, grid)?, outlets))
    }

    fn work(
        &self,
        site: &Site,
        stage: Stage,
        (fields, outlets): (Fields, Outlets),
    ) -> Result<ProcessOutput, GrowError> {
        // Years that a wave of cutting takes from the outlets to the divides.
        let span = chi(site.extent()) / ERODIBILITY;
        let mature = Phase {
            years: MATURE * span * self.age.min(1.0),
            steps: STEPS,
            uplift: true,
        };
        let old = Phase {
            years: (self.age - 1.0) * span,
            steps: OLD_STEPS,
            uplift: false,
        };
        let mut phases = vec![mature];
        phases.extend((self.age > 1.0).then_some(old));
        let aged = Aged {
            law: self.law(site, stage.coarse.is_none()),
            fields,
            outlets,
            phases,
            finer_years: FINER_SHARE * span * self.age.clamp(YOUNGEST, 1.0),
            firm: self.hard.is_some(),
            source_m2: self.source_m2,
            drains: false,
        };
        aged.work(site, stage)
    }
}

/// χ from the outlets to the divides (Perron and Royden 2013) of a land so large, metres to
/// the power [`CHI_EXPONENT`].
fn chi(extent: Extent) -> f64 {
    CHI * (TRUNK * extent.longest_m()).powf(CHI_EXPONENT)
}

/// The height that `share` of the land is below.
fn share_below(heights: &Grid, share: f64) -> f64 {
    let mut values = heights.values().to_vec();
    let place = ((values.len() - 1) as f64 * share) as usize;
    f64::from(*values.select_nth_unstable_by(place, f32::total_cmp).1)
}

impl Kind for Ages {
    fn levels(&self, cell_m: f64, extent: Extent) -> Vec<Level> {
        let first = Level {
            cell_m: Self::first_cell_m(extent),
            iterations: STEPS + if self.age > 1.0 { OLD_STEPS } else { 0 },
        };
        let longest_m = extent.longest_m();
        let valleys_m = (longest_m / FINEST_CELLS).max(self.spacing_m / FINEST_SPACING);
        let rills_m = (longest_m / RILLS_CELLS).max(self.spacing_m / RILLS_SPACING);
        let finest_m = valleys_m.min(rills_m).max(cell_m * Level::SLACK);
        let finer = (1..).map(|k| {
            let cell_m = first.cell_m / f64::powi(2.0, k);
            let iterations = match cell_m >= valleys_m {
                true => FINER_STEPS,
                false => RILLS_STEPS,
            };
            Level { cell_m, iterations }
        });
        let mut levels = vec![first];
        levels.extend(finer.take_while(|level| level.cell_m >= finest_m));
        levels
    }

    fn beyond_m(&self, extent: Extent) -> f64 {
        AROUND * extent.longest_m()
    }

    fn buries_m(&self) -> Option<f64> {
        Some(BURIES_M)
    }

    fn passes_in_step(&self) -> f64 {
        PASSES_IN_STEP
    }

    fn fields(&self) -> f64 {
        FIELDS
    }

    fn products(&self) -> &'static [Product] {
        &[WEAR, DEPOSIT, ROCK, RIVERS]
    }

    fn leaves(&self, product: Product) -> bool {
        product != ROCK || self.beds > 0.0
    }

    fn masks(&self) -> Vec<&Mask> {
        let masks = [&self.rises, &self.course, &self.hard];
        masks.into_iter().flatten().collect()
    }

    fn takes_in(&self) -> Option<&str> {
        (!self.strand.is_empty()).then_some(&self.strand)
    }

    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        let land = self.land(site)?;
        let look = |grid: GridBelow| self.look(site, &land, &grid);
        site.cascade_looking(self, &look, &|stage, known| self.work(site, stage, known))
    }
}
