//! Erosion by running water.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::Extent;
use terrain::erosion::{Country, Level, Schedule, Storm, Washed, Water as Flood};

use super::products::{DEPOSIT, DEPTH, WATER_BLUE, WEAR};
use super::{Kind, Made};
use crate::document::{Declared, Form, Mask, Measure, Product};
use crate::grow::{GrowError, Products, Site, Stage, Worked};

/// Rain gathers, cuts gullies and valleys, carries the ground off and drops
/// it in fans and flats. Coarse grids first, finer ones on top: a preview and
/// a final share their valleys.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Water {
    /// Size of the widest valleys: the cell size of the coarsest grid.
    #[schemars(range(min = 0.1, max = 10_000), extend("x-unit" = "m", "x-slider" = [20.0, 400.0], "x-scale" = "log"))]
    pub scale_m: f64,
    /// How long it rains: steps on the coarsest grid; finer ones take fewer.
    #[schemars(range(min = 1, max = 5000), extend("x-slider" = [20, 600]))]
    pub duration: u32,
    /// How hard it rains.
    #[schemars(range(min = 0, max = 100_000), extend("x-unit" = "mm/h", "x-slider" = [10.0, 600.0]))]
    pub rain_mm_h: f64,
    /// How much the water can carry: higher cuts deeper.
    #[schemars(range(min = 0, max = 100), extend("x-slider" = [0.0, 4.0]))]
    pub strength: f64,
    /// How hard the ground is: 0 loose soil, 1 rock that does not give.
    #[schemars(range(min = 0, max = 1))]
    pub hardness: f64,
    /// How readily the water lets go of what it carries.
    #[schemars(range(min = 0, max = 1))]
    pub dropping: f64,
    /// Share of what is worn that is too coarse to float: it rolls along the
    /// bed and comes to rest first, as fans at the foot of slopes.
    #[schemars(range(min = 0, max = 1), extend("x-more" = true))]
    pub coarse: f64,
    /// How much harder every other bed of rock is: ledges and benches.
    #[schemars(range(min = 0, max = 1), extend("x-more" = true))]
    pub strata: f64,
    /// Thickness of a soft and a hard bed together.
    #[schemars(range(min = 0.1, max = 20_000), extend("x-unit" = "m", "x-slider" = [10.0, 400.0], "x-more" = true))]
    pub strata_m: f64,
    /// Water works as if the ground were at least this steep.
    #[schemars(range(min = 0, max = 45), extend("x-unit" = "°", "x-slider" = [0.0, 5.0], "x-more" = true))]
    pub least_slope_deg: f64,
    /// Where it rains; everywhere when absent.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schemars(extend("x-editor" = "mask", "x-more" = true))]
    pub rain: Option<Mask>,
    /// Where the ground is hard: no wear where the mask is full.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schemars(extend("x-editor" = "mask", "x-more" = true))]
    pub hard: Option<Mask>,
}

impl Default for Water {
    fn default() -> Self {
        Self {
            scale_m: 90.0,
            duration: 160,
            rain_mm_h: 150.0,
            strength: 1.0,
            hardness: 0.4,
            dropping: 0.3,
            coarse: 0.25,
            strata: 0.0,
            strata_m: 100.0,
            least_slope_deg: 0.0,
            rain: None,
            hard: None,
        }
    }
}

impl Water {
    /// Capacity at strength 1, metres of sediment per metre of water and
    /// metre per second of stream power. Set by eye: far above nature's, since
    /// a few hundred steps stand in for ten thousand years.
    const CAPACITY: f64 = 30.0;
    /// Share of the standing water that dries up per second.
    const EVAPORATION_S: f64 = 1e-4;

    fn storm(&self, sea_level_m: f64) -> Storm {
        const MM_H_IN_M_S: f64 = 1e-3 / 3600.0;
        Storm {
            rain_m_s: self.rain_mm_h * MM_H_IN_M_S,
            evaporation_s: Self::EVAPORATION_S,
            capacity: self.strength * Self::CAPACITY,
            take: 1.0 - self.hardness,
            drop: self.dropping,
            coarse: self.coarse,
            least_slope: self.least_slope_deg.to_radians().tan(),
            strata: self.strata,
            strata_m: self.strata_m,
            sea_level_m,
            ..Storm::default()
        }
    }

    fn schedule(&self) -> Schedule {
        Schedule {
            coarsest_cell_m: self.scale_m,
            iterations: self.duration as usize,
        }
    }

    fn work(&self, site: &Site, mut stage: Stage) -> Result<Worked, GrowError> {
        let frame = stage.frame;
        let taken = |mask: &Option<Mask>| match mask {
            Some(mask) => site.mask_below(mask, &frame).map(Some),
            None => Ok(None),
        };
        let (hardness, rain) = (taken(&self.hard)?, taken(&self.rain)?);
        let country = Country {
            hardness: hardness.as_ref(),
            rain: rain.as_ref(),
        };
        let first = stage.coarse.is_none();
        let before = (!first).then(|| Washed {
            wear: stage.take(WEAR),
            deposit: stage.take(DEPOSIT),
            flow: stage.take(FLOW),
            depth: stage.take(DEPTH),
            suspended: stage.take(SUSPENDED),
            ledger: stage.ledger(),
        });
        drop(stage.coarse.take());
        let Stage {
            level,
            heights,
            run,
            ..
        } = stage;
        let storm = self.storm(site.sea_level_m());
        let mut flood = Flood::on(&heights, before, frame.cell_m, storm, country);
        drop(heights);
        flood.run(level.iterations, run)?;
        let left = flood.stop();
        Ok(Worked {
            frame,
            change: left.deposit.zip_map(&left.wear, |laid, worn| laid - worn),
            products: Products::default()
                .with(WEAR, left.wear)
                .with(DEPOSIT, left.deposit)
                .with(FLOW, left.flow)
                .with(DEPTH, left.depth)
                .with(SUSPENDED, left.suspended),
            ledger: left.ledger,
        })
    }
}

/// Running water.
pub const FLOW: Product = Product::of(&Declared {
    name: "flow",
    title: "Flow",
    about: "Running water, m²/s.",
    form: Form::field(Measure::amount("m²/s", 5.0), WATER_BLUE, 0.35),
});

/// Sediment in the water.
pub const SUSPENDED: Product = Product::of(&Declared {
    name: "suspended",
    title: "Suspended load",
    about: "Sediment in the water, metres of ground.",
    form: Form::field(Measure::amount("m", 1.0), WATER_BLUE, 0.5),
});

impl Kind for Water {
    fn levels(&self, cell_m: f64, _extent: Extent) -> Vec<Level> {
        self.schedule().levels(cell_m)
    }

    /// Ground, bed and next bed, depth, four pipes, wear, deposit, and silt, gravel
    /// and discharge twice each; and the land below it.
    fn fields(&self) -> f64 {
        19.0
    }

    fn products(&self) -> &'static [Product] {
        &[WEAR, DEPOSIT, FLOW, DEPTH, SUSPENDED]
    }

    fn masks(&self) -> Vec<&Mask> {
        self.rain.iter().chain(&self.hard).collect()
    }

    fn grow(&self, site: &Site) -> Result<Made, GrowError> {
        site.cascade(self, &|stage| self.work(site, stage))
    }
}
