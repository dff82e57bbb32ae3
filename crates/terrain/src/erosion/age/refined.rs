//! What is done to a grid of ages beside what rivers, slopes and sediment do to it: rounding
//! that stands in for what happens between floods, and keeping to the heights of the grid
//! before.

use super::FIRM;
use crate::Grid;
use crate::shape::{blurred_to_the_edge, mean_around};

/// Rounds the bottoms of valleys: what creeps down from both sides comes to rest there
/// between floods. Rivers alone would leave creases far sharper than any crest.
pub fn round_bottoms(heights: &mut Grid, erodibility: &Grid, sea: f32) {
    /// How much of the way to the mean around it a bottom is raised.
    const ROUNDED: f32 = 0.5;
    let around = mean_around(heights);
    heights.for_each_row(|r, row| {
        let cells = row.iter_mut().zip(around.row(r)).zip(erodibility.row(r));
        for ((height, around), erodibility) in cells {
            if *erodibility > FIRM && *height >= sea {
                *height += ROUNDED * (around - *height).max(0.0);
            }
        }
    });
}

/// Takes off by how much `heights` have strayed from where they `begun` over more than
/// the cells of the coarser grid: a finer grid adds detail, and moves no mountain.
pub fn keep_means(heights: &mut Grid, begun: &Grid, erodibility: &Grid, cell_m: f64) {
    /// Standard deviation of the blur that tells detail from the rest, in cells.
    const DETAIL_CELLS: f64 = 3.0;
    let strayed = heights.zip_map(begun, |after, before| after - before);
    let strayed = blurred_to_the_edge(&strayed, DETAIL_CELLS * cell_m, cell_m);
    let strayed = strayed.zip_map(
        erodibility,
        |strayed, erodibility| {
            if erodibility > FIRM { strayed } else { 0.0 }
        },
    );
    *heights = heights.zip_map(&strayed, |height, strayed| height - strayed);
}
