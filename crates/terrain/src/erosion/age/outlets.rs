//! Where water leaves a country.

use crate::Grid;
use crate::grid::{on_border, sides};

/// The sides of a country that water may leave over.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
#[cfg_attr(
    feature = "serde",
    derive(serde::Serialize, serde::Deserialize, schemars::JsonSchema),
    serde(rename_all = "snake_case"),
    schemars(rename = "WaterLeaves")
)]
pub enum Side {
    /// Wherever the country is low.
    #[default]
    Anywhere,
    /// Over the low parts of the north side.
    North,
    /// Over the low parts of the east side.
    East,
    /// Over the low parts of the south side.
    South,
    /// Over the low parts of the west side.
    West,
    /// Into the sea alone, where there is one.
    Sea,
}

/// The cells that water leaves a country from. They keep their height.
pub struct Outlets {
    cells: Vec<bool>,
}

/// The share of the sides that is low enough for water to leave over.
const LOW_SHARE: f64 = 0.3;

impl Outlets {
    /// The lowest part of `side` of `heights`, and all of the border that lies under the
    /// sea: along the rest the country goes on as high as it is here, and what water
    /// there is stays inside. North is the first row.
    pub fn low_border(heights: &Grid, sea_level_m: f64, side: Side) -> Self {
        let size = (heights.cols(), heights.rows());
        let border = |i: usize| on_border(i, size);
        let values = heights.values();
        let sea = sea_level_m as f32;
        let sea_there = (0..values.len()).any(|i| border(i) && values[i] < sea);
        let chosen = |i: usize| {
            let [west, east, north, south] = sides(i, size);
            match side {
                Side::Anywhere => border(i),
                Side::Sea => border(i) && !sea_there,
                Side::West => west,
                Side::East => east,
                Side::North => north,
                Side::South => south,
            }
        };
        let mut along: Vec<f32> = (0..values.len())
            .filter(|&i| chosen(i))
            .map(|i| values[i])
            .collect();
        along.sort_by(f32::total_cmp);
        let low = match along.len() {
            0 => sea,
            count => along[((count - 1) as f64 * LOW_SHARE) as usize],
        };
        let leaves = |i: usize| border(i) && values[i] <= sea || chosen(i) && values[i] <= low;
        Self::at((0..values.len()).map(leaves).collect())
    }

    /// The cells `into` which water leaves, and all of the border that lies under the sea;
    /// the lowest part of the border where there is none of either.
    ///
    /// # Panics
    /// When there is not one for each cell.
    pub fn into(heights: &Grid, sea_level_m: f64, mut into: Vec<bool>) -> Self {
        let size = (heights.cols(), heights.rows());
        assert_eq!(into.len(), size.0 * size.1, "one for each cell");
        let sea = sea_level_m as f32;
        for (i, (into, &height)) in into.iter_mut().zip(heights.values()).enumerate() {
            *into |= on_border(i, size) && height < sea;
        }
        match into.contains(&true) {
            true => Self::at(into),
            false => Self::low_border(heights, sea_level_m, Side::Anywhere),
        }
    }

    /// All of the border of so many cells: for land around which nothing is known.
    pub fn whole_border(cols: usize, rows: usize) -> Self {
        let all = 0..cols * rows;
        Self::at(all.map(|i| on_border(i, (cols, rows))).collect())
    }

    /// These cells, row by row.
    pub fn at(cells: Vec<bool>) -> Self {
        Self { cells }
    }

    /// Whether each cell is one.
    pub fn cells(&self) -> &[bool] {
        &self.cells
    }
}
