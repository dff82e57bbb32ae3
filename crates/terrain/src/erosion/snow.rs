//! Snow: falls with height, slides off what is steep, gathers in hollows, melts
//! low down and in the sun.

use super::crumble::{Crumbling, crumble};
use super::{Ledger, Level};
use crate::grid::with_apron;
use crate::light::Sun;
use crate::reading::for_each_gradient;
use crate::smooth::smooth;
use crate::{Cancelled, Grid, Run};

/// One winter.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Winter {
    /// Snow that falls on the heights, metres.
    pub fall_m: f64,
    /// Half of it falls at this height, metres.
    pub line_m: f64,
    /// From hardly any to nearly all over this difference in height, metres.
    pub line_soft_m: f64,
    /// Tangent of the slope that snow slides off.
    pub slip: f64,
    /// How readily the wind carries it into hollows, 0 to 1.
    pub drift: f64,
    /// How much of it the sun takes where it shines square, 0 to 1.
    pub melt: f64,
    /// Where the sun stands.
    pub sun: Sun,
}

/// Snow as it lies.
#[derive(Clone, Debug, PartialEq)]
pub struct Snow {
    /// Depth, metres.
    pub depth: Grid,
    /// What fell, metres.
    pub fallen: Grid,
    /// What fell, what melted, and what lies.
    pub ledger: Ledger,
}

/// Share of the slipping slope that wind-blown snow comes to rest at.
const DRIFT_REST: f32 = 0.25;
/// Share of the steps that belong to the wind, when it is strongest.
const DRIFT_SHARE: f64 = 0.5;

/// Lets it snow on `heights`, on cells of `level.cell_m`.
///
/// # Errors
/// [`Cancelled`] when `run` was asked to stop.
pub fn snow(heights: &Grid, winter: Winter, level: Level, run: Run) -> Result<Snow, Cancelled> {
    let area_m2 = level.cell_m * level.cell_m;
    let (line, soft) = (winter.line_m as f32, winter.line_soft_m.max(1e-3) as f32);
    let fall = winter.fall_m as f32;
    let fallen = heights.map(|height| fall * smooth((height - line) / soft + 0.5));
    let slide = |cover: &Grid, slip: f32, iterations: usize| {
        let crumbling = Crumbling {
            talus: &Grid::filled(heights.cols(), heights.rows(), slip),
            sharpness: 0.0,
            cover: Some(cover),
        };
        let level = Level {
            iterations,
            ..level
        };
        let moved = crumble(heights, crumbling, level, run.quietly())?;
        let change = moved.deposit.zip_map(&moved.wear, |came, went| came - went);
        Ok::<_, Cancelled>(cover.zip_map(&change, |cover, change| (cover + change).max(0.0)))
    };
    let slip = winter.slip as f32;
    let mut lying = slide(&fallen, slip, level.iterations)?;
    run.report(0.5);
    if winter.drift > 0.0 {
        let steps = (DRIFT_SHARE * winter.drift * level.iterations as f64).round() as usize;
        lying = slide(&lying, slip * DRIFT_REST, steps.max(1))?;
    }
    run.report(0.8);
    let melted = melted(heights, &lying, winter, level.cell_m);
    let depth = lying.zip_map(&melted, |lying, melted| lying - melted);
    let ledger = Ledger {
        added_m3: fallen.sum() * area_m2,
        dropped_m3: depth.sum() * area_m2,
        gained_m3: depth.sum() * area_m2,
        carried_off_m3: melted.sum() * area_m2,
        ..Ledger::default()
    };
    run.report(1.0);
    Ok(Snow {
        depth,
        fallen,
        ledger,
    })
}

/// What the sun takes of `lying`, metres.
fn melted(heights: &Grid, lying: &Grid, winter: Winter, cell_m: f64) -> Grid {
    let [east_light, north_light, up_light] = winter.sun.direction();
    let facing = for_each_gradient(&with_apron(heights), cell_m, |east, north, out| {
        for (out, (&e, &n)) in out.iter_mut().zip(east.iter().zip(north)) {
            let facing = up_light - e * east_light - n * north_light;
            *out = (facing / (1.0 + e * e + n * n).sqrt()).max(0.0);
        }
    });
    let (melt, fall) = (winter.melt as f32, winter.fall_m as f32);
    // The sun takes a depth, not a share: thin snow goes, thick snow stays.
    lying.zip_map(&facing, |lying, facing| lying.min(melt * facing * fall))
}
