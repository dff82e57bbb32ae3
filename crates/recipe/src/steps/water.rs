//! Erosion by running water.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::erosion::{Country, Eroded, Level, Schedule, Storm, begin, refine};
use terrain::grid::resample;
use terrain::{Frame, Run};

use super::{Kind, Made};
use crate::document::{Mask, Trace};
use crate::grow::{GrowError, Site};

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
            least_slope: self.least_slope_deg.to_radians().tan(),
            strata: self.strata,
            strata_m: self.strata_m,
            sea_level_m,
        }
    }

    fn schedule(&self) -> Schedule {
        Schedule {
            coarsest_cell_m: self.scale_m,
            iterations: self.duration as usize,
        }
    }

    /// Grids up to the `k`th, each one remembered on its own: a finer result
    /// goes on from the coarser ones.
    fn eroded(
        &self,
        site: &Site,
        levels: &[Level],
        run: Run,
    ) -> Result<std::sync::Arc<Eroded>, GrowError> {
        let (level, coarser) = levels
            .split_last()
            .expect("a schedule has at least one level");
        site.remembered(self, levels.len(), || {
            let storm = self.storm(site.sea_level_m());
            let frame = Frame::covering(site.extent(), level.cell_m);
            let taken = |mask: &Option<Mask>| match mask {
                Some(mask) => site.mask_below(mask, &frame).map(Some),
                None => Ok(None),
            };
            let (hardness, rain) = (taken(&self.hard)?, taken(&self.rain)?);
            let country = Country {
                hardness: hardness.as_ref(),
                rain: rain.as_ref(),
            };
            Ok(if coarser.is_empty() {
                let heights = site.below_on(&frame)?;
                begin(&heights, frame, *level, storm, country, run)?
            } else {
                let coarse = self.eroded(site, coarser, run.quietly())?;
                let heights = site.below_on(&frame)?;
                refine(&coarse, &heights, frame, *level, storm, country, run)?
            })
        })
    }
}

impl Kind for Water {
    fn traces(&self) -> &'static [Trace] {
        &[
            Trace::Wear,
            Trace::Deposit,
            Trace::Flow,
            Trace::Depth,
            Trace::Suspended,
        ]
    }

    fn masks(&self) -> Vec<&Mask> {
        self.rain.iter().chain(&self.hard).collect()
    }

    fn grow(&self, site: &Site) -> Result<Made, GrowError> {
        let frame = site.frame();
        let levels = self.schedule().levels(frame.cell_m);
        let eroded = self.eroded(site, &levels, site.run())?;
        let here = |grid| resample(grid, &eroded.frame, frame);
        let change = eroded.change();
        let change = here(&change);
        let positive = |grid| here(grid).map(|v| v.max(0.0));
        Ok(Made {
            heights: site
                .below_here()
                .zip_map(&change, |height, change| height + change),
            traces: vec![
                (Trace::Wear, positive(&eroded.wear)),
                (Trace::Deposit, positive(&eroded.deposit)),
                (Trace::Flow, positive(&eroded.flow)),
                (Trace::Depth, positive(&eroded.depth)),
                (Trace::Suspended, positive(&eroded.suspended)),
            ],
            ledger: Some(eroded.ledger),
        })
    }
}
