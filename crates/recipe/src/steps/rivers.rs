//! River networks.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::erosion::{
    FlowDirections, Ledger, Level, RiverLaw, Schedule, river_lines, river_step,
};
use terrain::{Extent, Frame, Grid};

use super::products::{RIVERS, WATER_BLUE, WEAR};
use super::{Kind, Made};
use crate::document::{Declared, Form, Mask, Measure, Product};
use crate::grow::{GrowError, Products, Site, Stage, Worked};

/// Whole drainage basins: rivers cut down into rising land until both are in
/// balance (stream power law, Braun and Willett 2013). What they cut leaves
/// with them.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Rivers {
    /// Cell size of the coarsest grid: the valleys that all grids share.
    #[schemars(range(min = 0.1, max = 10_000), extend("x-unit" = "m", "x-slider" = [30.0, 400.0], "x-scale" = "log"))]
    pub scale_m: f64,
    /// How long rivers cut.
    #[schemars(range(min = 1, max = 100_000), extend("x-unit" = "kyr", "x-slider" = [50.0, 3000.0], "x-scale" = "log"))]
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
    /// Exponent of the drainage area: higher gathers cutting in large rivers.
    #[schemars(range(min = 0.1, max = 1.5), extend("x-slider" = [0.3, 0.7], "x-more" = true))]
    pub area_exponent: f64,
    /// Exponent of the slope: higher makes steeper reaches cut more.
    #[schemars(range(min = 0.5, max = 3), extend("x-slider" = [0.7, 2.0], "x-more" = true))]
    pub slope_exponent: f64,
    /// Which way water goes on from each place.
    #[schemars(extend("x-more" = true))]
    pub directions: RiversDirections,
    /// A river begins where so much land drains through.
    #[schemars(range(min = 1, max = 1e12), extend("x-unit" = "m²", "x-slider" = [10_000.0, 4_000_000.0], "x-scale" = "log", "x-more" = true))]
    pub source_m2: f64,
    /// Where the ground is hard: rivers do not cut where the mask is full.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schemars(extend("x-editor" = "mask"))]
    pub hard: Option<Mask>,
}

/// Which way water goes on from each place.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum RiversDirections {
    /// Down the steepest way: sharp valleys.
    #[default]
    Steepest,
    /// Over all that is lower: broader, softer valleys.
    Spread,
}

impl Default for Rivers {
    fn default() -> Self {
        Self {
            scale_m: 120.0,
            duration_kyr: 600.0,
            strength: 1.0,
            uplift_m_kyr: 0.4,
            creep: 0.02,
            area_exponent: 0.45,
            slope_exponent: 1.0,
            directions: RiversDirections::Steepest,
            source_m2: 250_000.0,
            hard: None,
        }
    }
}

impl Rivers {
    /// Erodibility at strength 1 for m = 0.45, in m^(1−2m) per year: middling
    /// rock has a few millionths (Stock and Montgomery 1999, table 2, from
    /// memory).
    const ERODIBILITY: f64 = 6e-6;
    /// Time steps on the coarsest grid.
    const STEPS: usize = 40;
    /// The share of the whole time that each finer grid goes on for: a little,
    /// so that the balance reached before is kept.
    const FINER_SHARE: f64 = 0.06;

    fn law(&self, site: &Site) -> RiverLaw {
        RiverLaw {
            erodibility: self.strength * Self::ERODIBILITY,
            area_exponent: self.area_exponent,
            slope_exponent: self.slope_exponent,
            diffusivity: self.creep,
            base_level_m: site.sea_level_m(),
            directions: match self.directions {
                RiversDirections::Steepest => FlowDirections::Single,
                RiversDirections::Spread => FlowDirections::Multiple,
            },
        }
    }

    fn work(&self, site: &Site, stage: Stage) -> Result<Worked, GrowError> {
        let law = self.law(site);
        let frame = stage.frame;
        let first = stage.coarse.is_none();
        let years = 1000.0 * self.duration_kyr * if first { 1.0 } else { Self::FINER_SHARE };
        let steps = stage.level.iterations;
        let hard = match &self.hard {
            Some(mask) => Some(site.mask_below(mask, &frame)?),
            None => None,
        };
        let uplift = uplift(&frame, self.uplift_m_kyr / 1000.0);
        let begun = stage.begun();
        let mut heights = begun.clone();
        let mut drainage = None;
        for step in 0..steps {
            let dt = years / steps as f64;
            let run = stage.run.quietly();
            let cell_m = frame.cell_m;
            drainage = Some(river_step(
                &mut heights,
                &uplift,
                hard.as_ref(),
                law,
                cell_m,
                dt,
                run,
            )?);
            stage.run.report((step + 1) as f32 / steps as f32);
        }
        let risen = uplift.map(|rate| rate * years as f32);
        let cut = begun.zip_map(&risen, |height, risen| height + risen);
        let cut = cut.zip_map(&heights, |before, after| before - after);
        let area_m2 = frame.cell_area_m2();
        let volume = cut.sum() * area_m2;
        let ledger = Ledger {
            worn_m3: volume,
            carried_off_m3: volume,
            ..Ledger::default()
        };
        let wear = stage.so_far(WEAR);
        let wear = wear.zip_map(&cut, |before, cut| (before + cut).max(0.0));
        let (area, lines) = match &drainage {
            Some(drainage) => {
                let area = drainage.area_cells();
                let lines = river_lines(drainage, &area, &frame, self.source_m2);
                let spread = drainage.area_by(law.directions);
                (Grid::from_vec(frame.cols, frame.rows, spread).ok(), lines)
            }
            None => (None, Vec::new()),
        };
        let area = area.unwrap_or_else(|| Grid::filled(frame.cols, frame.rows, 0.0));
        Ok(Worked {
            frame,
            change: heights.zip_map(&stage.heights, |after, before| after - before),
            products: Products::default()
                .with(WEAR, wear)
                .with(
                    DRAINAGE,
                    area.map(|cells| (f64::from(cells) * area_m2) as f32),
                )
                .with(RIVERS, lines),
            ledger: stage.ledger().and(ledger),
        })
    }
}

/// The land rises everywhere but at its border, which rivers leave over.
fn uplift(frame: &Frame, m_per_year: f64) -> Grid {
    let (cols, rows) = (frame.cols, frame.rows);
    Grid::by_rows(cols, rows, |r, row| {
        for (c, rate) in row.iter_mut().enumerate() {
            let border = r == 0 || c == 0 || r + 1 == rows || c + 1 == cols;
            *rate = if border { 0.0 } else { m_per_year as f32 };
        }
    })
}

/// Land that drains through a place.
pub const DRAINAGE: Product = Product::of(&Declared {
    name: "drainage",
    title: "Drainage area",
    about: "Land that drains through a place, m².",
    form: Form::field(Measure::amount("m²", 2e6), WATER_BLUE, 0.25),
});

impl Kind for Rivers {
    fn levels(&self, cell_m: f64, _extent: Extent) -> Vec<Level> {
        let schedule = Schedule {
            coarsest_cell_m: self.scale_m,
            iterations: Self::STEPS,
        };
        schedule.levels(cell_m)
    }

    /// All water is routed anew.
    fn passes_in_step(&self) -> f64 {
        12.0
    }

    /// Routing, heights before and after, uplift and hardness.
    fn fields(&self) -> f64 {
        20.0
    }

    fn products(&self) -> &'static [Product] {
        &[WEAR, DRAINAGE, RIVERS]
    }

    fn masks(&self) -> Vec<&Mask> {
        self.hard.iter().collect()
    }

    fn grow(&self, site: &Site) -> Result<Made, GrowError> {
        site.cascade(self, &|stage| self.work(site, stage))
    }
}
