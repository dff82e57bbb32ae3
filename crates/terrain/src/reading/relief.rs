//! How a place stands to what is around it.

use crate::Grid;
use crate::shape::{blur_margin, blurred};

/// Height above the mean of the eight cells around, metres (topographic
/// position index, Weiss 2001). `heights` has an apron of one cell. Local.
pub fn position_index_m(heights: &Grid) -> Grid {
    around(heights, |here, around| {
        here - around.iter().sum::<f32>() / 8.0
    })
}

/// Root of the summed squares of the differences to the eight cells around,
/// metres (terrain ruggedness index, Riley, DeGloria and Elliot 1999).
/// `heights` has an apron of one cell. Local.
pub fn ruggedness_m(heights: &Grid) -> Grid {
    around(heights, |here, around| {
        around
            .iter()
            .map(|there| (there - here) * (there - here))
            .sum::<f32>()
            .sqrt()
    })
}

/// The highest less the lowest of nine cells, metres (Wilson et al. 2007).
/// `heights` has an apron of one cell. Local.
pub fn range_of_nine_m(heights: &Grid) -> Grid {
    around(heights, |here, around| {
        let highest = around.iter().copied().fold(here, f32::max);
        let lowest = around.iter().copied().fold(here, f32::min);
        highest - lowest
    })
}

fn around(heights: &Grid, of: impl Fn(f32, [f32; 8]) -> f32 + Sync) -> Grid {
    let (cols, rows) = (heights.cols() - 2, heights.rows() - 2);
    Grid::by_rows(cols, rows, |r, out| {
        let [above, here, below] = [r, r + 1, r + 2].map(|r| heights.row(r));
        for (c, out) in out.iter_mut().enumerate() {
            let near = [
                above[c],
                above[c + 1],
                above[c + 2],
                here[c],
                here[c + 2],
                below[c],
                below[c + 1],
                below[c + 2],
            ];
            *out = of(here[c + 1], near);
        }
    })
}

/// Cells that [`position_m`] needs around the place.
pub fn position_margin(scale_m: f64, cell_m: f64) -> usize {
    blur_margin(scale_m, cell_m)
}

/// Height above the land as it is on the scale of `scale_m`, metres: above 0
/// on crests, below 0 in hollows. `wide` has the margin of
/// [`position_margin`]. Local.
pub fn position_m(wide: &Grid, scale_m: f64, cell_m: f64) -> Grid {
    let margin = position_margin(scale_m, cell_m);
    let level = blurred(wide, scale_m, cell_m);
    let here = crate::grid::without_apron(wide, margin);
    here.zip_map(&level, |height, level| height - level)
}

/// Cells that [`roughness_m`] needs around the place.
pub fn roughness_margin(scale_m: f64, cell_m: f64) -> usize {
    2 * blur_margin(scale_m, cell_m)
}

/// Standard deviation of heights from the land on the scale of `scale_m`,
/// metres. `wide` has the margin of [`roughness_margin`]. Local.
pub fn roughness_m(wide: &Grid, scale_m: f64, cell_m: f64) -> Grid {
    let position = position_m(wide, scale_m, cell_m);
    blurred(&position.map(|m| m * m), scale_m, cell_m).map(|square| square.max(0.0).sqrt())
}
