//! Snow.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::Extent;
use terrain::erosion::{Level, Schedule, Winter, snow};
use terrain::ground::Colour;
use terrain::light::Sun;

use super::{Kind, StepOutput};
use crate::document::{Declared, Form, Measure, Product};
use crate::grow::{GrowError, ProcessOutput, Products, Site, Stage};

/// Snow falls on the heights, slides off what is steep, gathers in hollows,
/// melts low down and in the sun. It adds height, and leaves its depth.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Snow {
    /// How much falls on the heights.
    #[schemars(range(min = 0, max = 1000), extend("x-unit" = "m", "x-slider" = [0.0, 20.0]))]
    pub fall_m: f64,
    /// At this height half of it falls.
    #[schemars(range(min = -20_000, max = 20_000), extend("x-unit" = "m", "x-slider" = [0.0, 2500.0]))]
    pub line_m: f64,
    /// From hardly any to nearly all over this difference in height.
    #[schemars(range(min = 0.01, max = 20_000), extend("x-unit" = "m", "x-slider" = [10.0, 1000.0]))]
    pub line_soft_m: f64,
    /// Slides off what is steeper than this.
    #[schemars(range(min = 1, max = 89), extend("x-unit" = "°", "x-slider" = [25.0, 60.0]))]
    pub slip_deg: f64,
    /// How readily the wind carries it into hollows.
    #[schemars(range(min = 0, max = 1))]
    pub drift: f64,
    /// How much the sun takes where it shines square.
    #[schemars(range(min = 0, max = 1))]
    pub melt: f64,
    /// Compass bearing of the sun that melts it.
    #[schemars(range(min = 0, max = 360), extend("x-unit" = "°", "x-slider" = [0.0, 360.0], "x-more" = true))]
    pub sun_bearing_deg: f64,
    /// Height of that sun.
    #[schemars(range(min = 1, max = 90), extend("x-unit" = "°", "x-slider" = [5.0, 90.0], "x-more" = true))]
    pub sun_altitude_deg: f64,
    /// Cell size of the grid that it slides on.
    #[schemars(range(min = 0.1, max = 10_000), extend("x-unit" = "m", "x-slider" = [5.0, 100.0], "x-scale" = "log", "x-more" = true))]
    pub scale_m: f64,
}

impl Default for Snow {
    fn default() -> Self {
        Self {
            fall_m: 4.0,
            line_m: 700.0,
            line_soft_m: 400.0,
            slip_deg: 42.0,
            drift: 0.4,
            melt: 0.35,
            sun_bearing_deg: 180.0,
            sun_altitude_deg: 40.0,
            scale_m: 40.0,
        }
    }
}

impl Snow {
    /// Steps that snow slides on the coarsest grid.
    const STEPS: usize = 60;

    fn work(&self, stage: Stage) -> Result<ProcessOutput, GrowError> {
        let winter = Winter {
            fall_m: self.fall_m,
            line_m: self.line_m,
            line_soft_m: self.line_soft_m,
            slip: self.slip_deg.to_radians().tan(),
            drift: self.drift,
            melt: self.melt,
            sun: Sun {
                bearing_deg: self.sun_bearing_deg,
                altitude_deg: self.sun_altitude_deg,
            },
        };
        // Each grid has a winter of its own; the finest one is what lies.
        let lies = snow(&stage.heights, winter, stage.level, stage.run)?;
        let mut books = stage.open_books(&stage.heights);
        books.added(&lies.fallen);
        books.carried_off(lies.ledger.carried_off_m3);
        Ok(ProcessOutput {
            frame: stage.frame,
            account: books.close(&lies.depth),
            change: lies.depth.clone(),
            products: Products::default().with(SNOW, lies.depth),
        })
    }
}

/// Snow that lies.
pub const SNOW: Product = Product::of(&Declared {
    name: "snow",
    title: "Snow",
    about: "Depth of snow, metres.",
    form: Form::field(Measure::amount("m", 10.0), WHITE, 0.6),
});

const WHITE: Colour = Colour {
    r: 0.95,
    g: 0.97,
    b: 1.0,
};

impl Kind for Snow {
    fn example(self) -> Option<Self> {
        Some(Self {
            line_m: 400.0,
            ..self
        })
    }

    fn products(&self) -> &'static [Product] {
        &[SNOW]
    }

    /// Only the finest grid counts, but on as many steps as the coarsest: snow has
    /// the same way to go.
    fn levels(&self, cell_m: f64, extent: Extent) -> Vec<Level> {
        let schedule = Schedule {
            coarsest_cell_m: self.scale_m,
            iterations: Self::STEPS,
        };
        let levels = schedule.levels(cell_m, extent);
        let finest = levels.len() - 1;
        vec![Level {
            iterations: Self::STEPS << finest.min(3),
            ..levels[finest]
        }]
    }

    /// What has fallen and slides, and the sun on it.
    fn fields(&self) -> f64 {
        10.0
    }

    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        site.cascade(self, &|stage| self.work(stage))
    }
}
