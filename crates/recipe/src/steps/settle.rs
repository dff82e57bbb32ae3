//! Fine sediment in hollows.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::Extent;
use terrain::erosion::{Level, Schedule, Settling, settle};

use super::products::DEPOSIT;
use super::{Kind, StepOutput};
use crate::document::Product;
use crate::grow::{GrowError, ProcessOutput, Products, Site, Stage};

/// Fine sediment comes to rest in hollows: level floors where water would
/// stand. Leaves a trace of what was laid down.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Settle {
    /// How full hollows become: 1 to the brim.
    #[schemars(range(min = 0, max = 1))]
    pub fill: f64,
    /// No more than this is laid down.
    #[schemars(range(min = 0, max = 20_000), extend("x-unit" = "m", "x-slider" = [0.0, 200.0]))]
    pub most_m: f64,
    /// Over how much the shore is smoothed.
    #[schemars(range(min = 0, max = 20_000), extend("x-unit" = "m", "x-slider" = [0.0, 200.0]))]
    pub smooth_m: f64,
    /// Cell size on which hollows are looked for; finer ones are left.
    #[schemars(range(min = 0.1, max = 10_000), extend("x-unit" = "m", "x-slider" = [5.0, 200.0], "x-scale" = "log"))]
    pub scale_m: f64,
}

impl Default for Settle {
    fn default() -> Self {
        Self {
            fill: 0.9,
            most_m: 60.0,
            smooth_m: 30.0,
            scale_m: 30.0,
        }
    }
}

impl Settle {
    fn work(&self, site: &Site, stage: Stage) -> Result<ProcessOutput, GrowError> {
        let settling = Settling {
            fill: self.fill,
            most_m: self.most_m,
            smooth_m: self.smooth_m,
            sea_level_m: site.sea_level_m(),
        };
        let settled = settle(&stage.heights, settling, stage.level, stage.run)?;
        let mut books = stage.open_books(&stage.heights);
        books.added(&settled.deposit);
        Ok(ProcessOutput {
            frame: stage.frame,
            account: books.close(&settled.deposit),
            change: settled.deposit.clone(),
            products: Products::default().with(DEPOSIT, settled.deposit),
        })
    }
}

impl Kind for Settle {
    fn products(&self) -> &'static [Product] {
        &[DEPOSIT]
    }

    /// One grid, the same for any resolution asked for.
    fn levels(&self, _cell_m: f64, extent: Extent) -> Vec<Level> {
        let schedule = Schedule {
            coarsest_cell_m: self.scale_m,
            iterations: 1,
        };
        vec![Level {
            cell_m: schedule.first_cell_m(extent),
            iterations: 1,
        }]
    }

    /// Routing, and what is laid, as deep and as soft.
    fn fields(&self) -> f64 {
        16.0
    }

    /// All water is routed once.
    fn passes_in_step(&self) -> f64 {
        20.0
    }

    /// What is laid down lies level over what it covers.
    fn buries_m(&self) -> Option<f64> {
        Some(0.02)
    }

    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        site.cascade(self, &|stage| self.work(site, stage))
    }
}
