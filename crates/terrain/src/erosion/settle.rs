//! Fine sediment that comes to rest in hollows and flats.

use super::drainage::drain;
use super::{Ledger, Level};
use crate::shape::blurred_to_the_edge;
use crate::{Cancelled, Grid, Run};

/// How sediment settles.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Settling {
    /// Hollows are filled up to this share of their depth, 0 to 1.
    pub fill: f64,
    /// No more than this is laid down, metres.
    pub most_m: f64,
    /// Over how much the shore of a fill is smoothed, metres.
    pub smooth_m: f64,
    /// Water stands up to here: nothing settles by draining to it, metres.
    pub sea_level_m: f64,
}

/// Sediment as it has settled.
#[derive(Clone, Debug, PartialEq)]
pub struct Settled {
    /// What was laid down, metres.
    pub deposit: Grid,
    /// What was brought in, and where it lies.
    pub ledger: Ledger,
}

/// Lays fine sediment into the hollows of `heights`: what Priority-Flood fills
/// to the brim, in part.
///
/// # Errors
/// [`Cancelled`] when `run` was asked to stop.
pub fn settle(
    heights: &Grid,
    settling: Settling,
    level: Level,
    run: Run,
) -> Result<Settled, Cancelled> {
    let drainage = drain(heights, settling.sea_level_m as f32, run)?;
    let (fill, most) = (settling.fill as f32, settling.most_m as f32);
    let deep = drainage
        .filled
        .zip_map(heights, |brim, ground| brim - ground);
    let laid = deep.map(|depth| (fill * depth).min(most));
    run.check()?;
    let deposit = match settling.smooth_m > 0.0 {
        false => laid,
        true => {
            let soft = blurred_to_the_edge(&laid, settling.smooth_m, level.cell_m);
            // Never above the brim, never outside the hollow.
            soft.zip_map(&deep, |soft, deep| soft.min(deep))
        }
    };
    let volume = deposit.sum() * level.cell_m * level.cell_m;
    let ledger = Ledger {
        added_m3: volume,
        dropped_m3: volume,
        gained_m3: volume,
        ..Ledger::default()
    };
    Ok(Settled { deposit, ledger })
}
