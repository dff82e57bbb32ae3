//! First half of a step: how much water goes through each pipe.

use super::ghosts::Around;
use super::{COURANT, TINY_M};

/// How pipes answer to a difference in level.
#[derive(Clone, Copy)]
pub(super) struct PipeRates {
    /// Share of the flow that friction leaves from one step to the next.
    pub(super) friction_leaves: f32,
    /// Water deeper than this moves as if it were this deep, metres.
    pub(super) deepest_m: f32,
}

/// One row. The slices are arguments of their own and not fields of a struct:
/// the compiler then knows that they do not overlap, and uses SIMD lanes.
#[allow(clippy::too_many_arguments)]
#[multiversion::multiversion(targets = "simd")]
pub(super) fn open_pipes_row(
    rates: PipeRates,
    bed: Around,
    depth: Around,
    west: &mut [f32],
    east: &mut [f32],
    north: &mut [f32],
    south: &mut [f32],
) {
    let n = bed.here.len();
    let (bed, depth) = (bed.of_length(n), depth.of_length(n));
    let (west, east) = (&mut west[..n], &mut east[..n]);
    let (north, south) = (&mut north[..n], &mut south[..n]);
    let thicker = COURANT / rates.deepest_m;
    for i in 0..n {
        let here = depth.here[i];
        let surface = bed.here[i] + here;
        let push = thicker * here.min(rates.deepest_m);
        let through = |pipe: f32, other: f32| {
            (rates.friction_leaves * pipe + push * (surface - other)).max(0.0)
        };
        let w = through(west[i], bed.west[i] + depth.west[i]);
        let e = through(east[i], bed.east[i] + depth.east[i]);
        let no = through(north[i], bed.north[i] + depth.north[i]);
        let s = through(south[i], bed.south[i] + depth.south[i]);
        // No more may leave than is there (Mei et al. 2007, eq. 4).
        let scale = (here / (w + e + no + s).max(TINY_M)).min(1.0);
        west[i] = w * scale;
        east[i] = e * scale;
        north[i] = no * scale;
        south[i] = s * scale;
    }
}
