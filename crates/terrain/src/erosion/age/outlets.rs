//! Where water leaves a country.

use crate::Grid;

/// The cells that water leaves a country from. They keep their height.
pub struct Outlets {
    cells: Vec<bool>,
}

/// The share of the border that is low enough for water to leave over.
const LOW_SHARE: f64 = 0.3;

impl Outlets {
    /// The lowest part of the border of `heights`, and all of it that lies under the
    /// sea: along the rest the country goes on as high as it is here, and what water
    /// there is stays inside.
    pub fn low_border(heights: &Grid, sea_level_m: f64) -> Self {
        let (cols, rows) = (heights.cols(), heights.rows());
        let border = |i: usize| {
            let (c, r) = (i % cols, i / cols);
            c == 0 || r == 0 || c + 1 == cols || r + 1 == rows
        };
        let values = heights.values();
        let mut around: Vec<f32> = (0..values.len())
            .filter(|&i| border(i))
            .map(|i| values[i])
            .collect();
        around.sort_by(f32::total_cmp);
        let low = around[((around.len() - 1) as f64 * LOW_SHARE) as usize].max(sea_level_m as f32);
        let cells = (0..values.len()).map(|i| border(i) && values[i] <= low);
        Self {
            cells: cells.collect(),
        }
    }

    /// Whether each cell is one.
    pub fn cells(&self) -> &[bool] {
        &self.cells
    }
}
