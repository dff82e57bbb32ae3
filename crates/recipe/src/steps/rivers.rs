//! River networks.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::Extent;
use terrain::erosion::{AgeLaw, FlowDirections, Level, Outlets, Schedule, Side};

use super::aged::{
    AROUND, Aged, BURIES_M, FIELDS, Fields, PASSES_IN_STEP, Phase, ROCKS, SPACINGS, UPLIFT, ashore,
    bedding_below, but_firm, jointed, outlets, patched, varied,
};
use super::products::{DEPOSIT, DRAINAGE, RIVERS, WEAR};
use super::{Kind, StepOutput};
use crate::document::{Mask, Product};
use crate::grow::{GridBelow, GrowError, ProcessOutput, Site, Stage};

/// Whole drainage basins: rivers cut down into rising land until both are in
/// balance (stream power law, Braun and Willett 2013). What they cut leaves
/// with them, but for what fills lakes; slopes stand at most at one angle.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Rivers {
    /// Cell size of the coarsest grid: the valleys that all grids share.
    #[schemars(range(min = 0.1, max = 10_000), extend("x-unit" = "m", "x-slider" = [30.0, 400.0], "x-scale" = "log"))]
    pub scale_m: f64,
    /// How long rivers cut.
    #[schemars(range(min = 1, max = 100_000), extend("x-unit" = "kyr", "x-slider" = [50.0, 5000.0], "x-scale" = "log"))]
    pub duration_kyr: f64,
    /// How readily they cut: 1 for middling rock.
    #[schemars(range(min = 0, max = 100), extend("x-slider" = [0.0, 4.0]))]
    pub strength: f64,
    /// How fast the land rises meanwhile. None leaves only what is there.
    #[schemars(range(min = 0, max = 100), extend("x-unit" = "m/kyr", "x-slider" = [0.0, 2.0]))]
    pub uplift_m_kyr: f64,
    /// How much hillslopes creep: rounds off crests.
    #[schemars(range(min = 0, max = 10), extend("x-unit" = "m²/yr", "x-slider" = [0.0, 0.2]))]
    pub creep: f64,
    /// Slopes give way where they are steeper.
    #[schemars(range(min = 1, max = 89), extend("x-unit" = "°", "x-slider" = [20.0, 60.0]))]
    pub steepest_deg: f64,
    /// How wide rivers make the floors of their valleys where 1 km² of land drains: ten times
    /// the land makes them near three times as wide, steep rivers narrower. 0 leaves notches.
    #[schemars(range(min = 0, max = 5000), extend("x-unit" = "m", "x-slider" = [0.0, 300.0], "x-more" = true))]
    pub floors_m: f64,
    /// How much rock and uplift differ from place to place.
    #[schemars(range(min = 0, max = 2), extend("x-slider" = [0.0, 1.5], "x-more" = true))]
    pub variety: f64,
    /// How much harder every other patch of rock is, each a few small valleys wide: spurs
    /// and side valleys of uneven size.
    #[schemars(range(min = 0, max = 1), extend("x-more" = true))]
    pub patches: f64,
    /// Exponent of the drainage area: higher gathers cutting in large rivers.
    #[schemars(range(min = 0.1, max = 1.5), extend("x-slider" = [0.3, 0.7], "x-more" = true))]
    pub area_exponent: f64,
    /// Exponent of the slope: higher makes steeper reaches cut more.
    #[schemars(range(min = 0.5, max = 3), extend("x-slider" = [0.7, 2.0], "x-more" = true))]
    pub slope_exponent: f64,
    /// How much harder the hard beds of rock are that ages have left below, at whatever
    /// depth they are cut; 0 takes no notice of them.
    #[schemars(range(min = 0, max = 1), extend("x-more" = true))]
    pub beds: f64,
    /// Which way water goes on from each place.
    #[schemars(extend("x-more" = true))]
    pub directions: FlowDirections,
    /// Which side water leaves the country over.
    #[schemars(extend("x-more" = true))]
    pub leaves: Side,
    /// A river begins where so much land drains through.
    #[schemars(range(min = 1, max = 1e12), extend("x-unit" = "m²", "x-slider" = [10_000.0, 4_000_000.0], "x-scale" = "log", "x-more" = true))]
    pub source_m2: f64,
    /// Random seed of rock and uplift.
    #[schemars(extend("x-slider" = [0, 99], "x-more" = true))]
    pub seed: u32,
    /// Where the land rises: not at all where the mask is empty.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schemars(extend("x-editor" = "mask"))]
    pub rises: Option<Mask>,
    /// Where water leaves the land, instead of over its border: along a drawn line, into
    /// a basin. What it leaves into stays as it is.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schemars(extend("x-editor" = "mask", "x-more" = true))]
    pub course: Option<Mask>,
    /// Where the ground is hard: rivers do not cut where the mask is full.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schemars(extend("x-editor" = "mask"))]
    pub hard: Option<Mask>,
}

impl Default for Rivers {
    fn default() -> Self {
        Self {
            scale_m: 120.0,
            duration_kyr: 3000.0,
            strength: 2.2,
            uplift_m_kyr: 0.4,
            creep: 0.005,
            steepest_deg: 44.0,
            floors_m: 60.0,
            variety: 1.0,
            patches: 0.3,
            area_exponent: 0.45,
            slope_exponent: 1.0,
            beds: 0.8,
            directions: FlowDirections::Steepest,
            leaves: Side::Anywhere,
            source_m2: 250_000.0,
            seed: 1,
            rises: None,
            course: None,
            hard: None,
        }
    }
}

impl Rivers {
    /// Erodibility at strength 1 for m = 0.45, in m^(1−2m) per year: middling
    /// rock has a few millionths (Stock and Montgomery 1999, table 2, from
    /// memory).
    const ERODIBILITY: f64 = 6e-6;
    /// Debris flows cut where less land drains, m² (Stock and Dietrich 2003: a few hectares
    /// and more).
    const DEBRIS_M2: f64 = 5e3;
    /// Small valleys are at most so many cells of the coarsest grid apart.
    const WIDEST: f64 = 20.0;
    /// Time steps on the coarsest grid.
    const STEPS: usize = 40;
    /// The share of the time that each finer grid gets for its own small valleys.
    const FINER_SHARE: f64 = 0.06;

    fn schedule(&self) -> Schedule {
        Schedule {
            coarsest_cell_m: self.scale_m,
            iterations: Self::STEPS,
        }
    }

    /// From one small valley to the next, as far as creep and cutting say; no less than
    /// the coarsest grid can show.
    fn spacing_m(&self) -> f64 {
        let erodibility = (self.strength * Self::ERODIBILITY).max(f64::MIN_POSITIVE);
        let even_m = (self.creep / erodibility).powf(1.0 / (1.0 + 2.0 * self.area_exponent));
        let most_m = Self::WIDEST * self.scale_m;
        (SPACINGS * even_m).clamp(self.scale_m, most_m)
    }

    fn law(&self, site: &Site) -> AgeLaw {
        AgeLaw {
            erodibility: self.strength * Self::ERODIBILITY,
            area_exponent: self.area_exponent,
            slope_exponent: self.slope_exponent,
            debris_m2: Self::DEBRIS_M2,
            directions: self.directions,
            deposition: 0.0,
            floors_m: self.floors_m,
            fill_m: 0.0,
            terraces: 0.0,
            sea_takes: 0.0,
            diffusivity: self.creep,
            sea_level_m: site.sea_level_m(),
        }
    }

    fn fields(&self, site: &Site, grid: &GridBelow) -> Result<Fields, GrowError> {
        let (frame, run) = (&grid.frame, grid.run);
        let variety = self.variety as f32;
        let vary = |(feature, amount): (f64, f32), salt: u32| {
            let seed = self.seed.wrapping_add(salt);
            varied(site, frame, (feature, amount * variety), seed, run)
        };
        let (rate, sea) = (
            (self.uplift_m_kyr / 1000.0) as f32,
            site.sea_level_m() as f32,
        );
        let uplift = vary(UPLIFT, 0x61)?.zip_map(&grid.heights, |v, height| {
            rate * (1.0 + v).max(0.0) * ashore(height, sea)
        });
        let (rocks, seed) = (vary(ROCKS, 0x62)?, self.seed.wrapping_add(0x63));
        let rocks = patched(rocks, frame, self.spacing_m(), self.patches, seed, run)?;
        let erodibility = rocks.map(f32::exp);
        let (steepest, seed) = (self.steepest_deg as f32, self.seed.wrapping_add(0x64));
        let critical_deg = jointed(frame, self.spacing_m(), variety, seed, run)?
            .map(|v| (steepest * (1.0 + v)).clamp(1.0, 89.0));
        let mut fields = Fields {
            uplift: match &self.rises {
                None => uplift,
                Some(mask) => {
                    let share = site.mask_below(mask, frame)?;
                    uplift.zip_map(&share, |rate, share| rate * share)
                }
            },
            erodibility: but_firm(site, frame, self.hard.as_ref(), erodibility)?,
            critical_deg,
            bedding: None,
        };
        if let Some(mut bedding) = bedding_below(site, frame, self.beds)? {
            // They rise with the rock.
            let risen = fields.risen(self.years());
            bedding
                .lies
                .zip_in_place(&risen, |lies, risen| lies + risen);
            fields.bedding = Some(bedding);
        }
        Ok(fields)
    }

    fn years(&self) -> f64 {
        1000.0 * self.duration_kyr
    }

    fn look(&self, site: &Site, grid: &GridBelow) -> Result<(Fields, Outlets), GrowError> {
        let (sea_level_m, course) = (site.sea_level_m(), self.course.as_ref());
        let outlets = outlets(site, grid, sea_level_m, self.leaves, course)?;
        Ok((self.fields(site, grid)?, outlets))
    }

    fn work(
        &self,
        site: &Site,
        stage: Stage,
        (fields, outlets): (Fields, Outlets),
    ) -> Result<ProcessOutput, GrowError> {
        let years = self.years();
        let aged = Aged {
            law: self.law(site),
            fields,
            outlets,
            phases: vec![Phase {
                years,
                steps: Self::STEPS,
                uplift: true,
            }],
            finer_years: Self::FINER_SHARE * years,
            firm: self.hard.is_some(),
            source_m2: self.source_m2,
            drains: true,
        };
        aged.work(site, stage)
    }
}

impl Kind for Rivers {
    fn levels(&self, cell_m: f64, extent: Extent) -> Vec<Level> {
        self.schedule().levels(cell_m, extent)
    }

    fn beyond_m(&self, extent: Extent) -> f64 {
        let first_m = self.schedule().first_cell_m(extent);
        (AROUND * extent.longest_m() / first_m).ceil() * first_m
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
        &[WEAR, DEPOSIT, DRAINAGE, RIVERS]
    }

    fn masks(&self) -> Vec<&Mask> {
        let masks = [&self.rises, &self.course, &self.hard];
        masks.into_iter().flatten().collect()
    }

    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        let look = |grid: GridBelow| self.look(site, &grid);
        site.cascade_looking(self, &look, &|stage, known| self.work(site, stage, known))
    }
}
