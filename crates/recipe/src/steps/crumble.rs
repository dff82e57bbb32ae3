//! Dry crumbling.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::Extent;
use terrain::Grid;
use terrain::erosion::{Crumbling, Level, Schedule, crumble};

use super::aged::{Bedding, bedding_below};
use super::products::{DEPOSIT, WEAR};
use super::{Kind, StepOutput};
use crate::document::{Mask, Product};
use crate::grow::{GrowError, ProcessOutput, Products, Site, Stage, balanced};

/// Slopes steeper than the angle of repose crumble and come to rest below: faceted faces with
/// scree at their foot. Nothing leaves the land.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, default)]
pub struct Crumble {
    /// What crumbles: each rests at an angle of its own.
    pub material: CrumbleMaterial,
    /// The stable angle, unless the material says so; scree rests at 30 to 40
    /// degrees.
    #[schemars(range(min = 1, max = 89), extend("x-unit" = "°", "x-slider" = [20.0, 60.0]))]
    pub talus_deg: f64,
    /// How far it goes: steps on the finest grids, more on coarse ones, or until
    /// everything is at rest.
    #[schemars(range(min = 1, max = 5000), extend("x-slider" = [5, 300]))]
    pub duration: u32,
    /// 1 for plane faces with edges between them, 0 rounds all that is steep.
    #[schemars(range(min = 0, max = 1))]
    pub sharpness: f64,
    /// Cell size of the coarsest grid: how far debris comes to lie.
    #[schemars(range(min = 0.1, max = 10_000), extend("x-unit" = "m", "x-slider" = [5.0, 200.0], "x-scale" = "log"))]
    pub scale_m: f64,
    /// Where rock holds at a steeper angle.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schemars(extend("x-editor" = "mask"))]
    pub firm: Option<Mask>,
    /// The angle that it holds at there.
    #[schemars(range(min = 1, max = 89), extend("x-unit" = "°", "x-slider" = [40.0, 85.0], "x-more" = true))]
    pub firm_deg: f64,
    /// How much more steeply the hard beds of rock stand that ages have left below, at
    /// whatever depth they are bared; 0 takes no notice of them.
    #[schemars(range(min = 0, max = 1), extend("x-more" = true))]
    pub beds: f64,
}

/// What crumbles, by the angle at which it comes to rest. Dry and loose;
/// middling values of engineers' handbooks, from memory.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum CrumbleMaterial {
    /// Whatever rests at the angle below.
    #[default]
    OwnAngle,
    /// Dry sand, 34°.
    Sand,
    /// Rounded gravel, 36°.
    Gravel,
    /// Broken rock, 39°.
    BrokenRock,
    /// Loose earth, 32°.
    Soil,
    /// Dry clay, 27°.
    Clay,
}

impl CrumbleMaterial {
    fn talus_deg(self) -> Option<f64> {
        match self {
            CrumbleMaterial::OwnAngle => None,
            CrumbleMaterial::Sand => Some(34.0),
            CrumbleMaterial::Gravel => Some(36.0),
            CrumbleMaterial::BrokenRock => Some(39.0),
            CrumbleMaterial::Soil => Some(32.0),
            CrumbleMaterial::Clay => Some(27.0),
        }
    }
}

impl Default for Crumble {
    fn default() -> Self {
        Self {
            material: CrumbleMaterial::OwnAngle,
            talus_deg: 35.0,
            duration: 120,
            sharpness: 0.4,
            scale_m: 60.0,
            firm: None,
            firm_deg: 70.0,
            beds: 0.8,
        }
    }
}

impl Crumble {
    /// The first grid has so many times the steps of the finest ones, each next one half
    /// as many.
    const FIRST_LONGER: usize = 16;

    /// The angle at which what it is made of comes to rest, degrees.
    pub(crate) fn rests_deg(&self) -> f64 {
        self.material.talus_deg().unwrap_or(self.talus_deg)
    }

    fn work(&self, site: &Site, mut stage: Stage) -> Result<ProcessOutput, GrowError> {
        let frame = stage.frame;
        let (loose, firm) = (self.rests_deg() as f32, self.firm_deg as f32);
        let mut rests_deg = Grid::filled(frame.cols, frame.rows, loose);
        let begun = stage.begin();
        let mut books = stage.open_books(&begun);
        if let Some(bedding) = bedding_below(site, &frame, self.beds)? {
            let amount = bedding.amount;
            rests_deg = bedding
                .hard_at(&begun)
                .map(|hard| Bedding::critical_deg(amount, loose, hard));
        }
        if let Some(mask) = &self.firm {
            let share = site.mask_below(mask, &frame)?;
            rests_deg = rests_deg.zip_map(&share, |rests, share| rests + share * (firm - rests));
        }
        let talus = rests_deg.map(|degrees| degrees.to_radians().tan());
        let crumbling = Crumbling {
            talus: &talus,
            sharpness: self.sharpness as f32,
            cover: None,
        };
        let moved = crumble(&begun, crumbling, stage.level, stage.run)?;
        let add = |product: Product, grid: &Grid| stage.so_far(product).zip_map(grid, |a, b| a + b);
        let change = moved.deposit.zip_map(&moved.wear, |came, went| came - went);
        let after = begun.zip_map(&change, |before, change| before + change);
        let (mut wear, mut deposit) = (add(WEAR, &moved.wear), add(DEPOSIT, &moved.deposit));
        let change = after.zip_map(&stage.heights, |after, before| after - before);
        balanced(&change, None, &mut wear, &mut deposit);
        // Its border is closed.
        books.moved(&after, moved.ledger.carried_off_m3);
        Ok(ProcessOutput {
            frame,
            account: books.close(&change),
            change,
            products: Products::default().with(WEAR, wear).with(DEPOSIT, deposit),
        })
    }
}

impl Kind for Crumble {
    fn products(&self) -> &'static [Product] {
        &[WEAR, DEPOSIT]
    }

    fn levels(&self, cell_m: f64, extent: Extent) -> Vec<Level> {
        let schedule = Schedule {
            coarsest_cell_m: self.scale_m,
            iterations: self.duration as usize,
        };
        // What falls far does so on the coarse grids, where steps are many and cheap.
        let levels = schedule.levels(cell_m, extent).into_iter();
        let longer = |(k, level): (usize, Level)| Level {
            iterations: self.duration as usize * (Self::FIRST_LONGER >> k).max(1),
            ..level
        };
        levels.enumerate().map(longer).collect()
    }

    /// Heights, angles, what moves, wear and deposit, and both from before.
    fn fields(&self) -> f64 {
        12.0
    }

    fn masks(&self) -> Vec<&Mask> {
        self.firm.iter().collect()
    }

    fn grow(&self, site: &Site) -> Result<StepOutput, GrowError> {
        site.cascade(self, &|stage| self.work(site, stage))
    }
}
