//! Erosion by running water.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::erosion::{Eroded, Level, Schedule, Storm, begin, refine};
use terrain::grid::resample;
use terrain::{Frame, Run};

use super::{Kind, Made};
use crate::document::Trace;
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
            Ok(if coarser.is_empty() {
                let heights = site.below_on(&frame)?;
                begin(&heights, frame, *level, storm, run)?
            } else {
                let coarse = self.eroded(site, coarser, run.quietly())?;
                let heights = site.below_on(&frame)?;
                refine(&coarse, &heights, frame, *level, storm, run)?
            })
        })
    }
}

impl Kind for Water {
    fn traces(&self) -> &'static [Trace] {
        &[Trace::Wear, Trace::Deposit, Trace::Flow]
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
            ],
            ledger: Some(eroded.ledger),
        })
    }
}
