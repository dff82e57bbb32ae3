//! Where the cells of a map lie: in the land's own metres, or on earth.

use terrain::grid::Georeference;
use terrain::{Extent, Frame};

/// Where the cells of a map lie, in the unit of its coordinates.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Placed {
    /// The west edge of the first column.
    pub west: f64,
    /// The north edge of the first row.
    pub north: f64,
    /// From one column to the next, and from one row to the next.
    pub cell: [f64; 2],
}

impl Placed {
    /// Where the cells of `frame` lie: in the land's own metres, or on earth when it is
    /// known where a land of this extent lies there.
    pub fn of(frame: &Frame, on_earth: Option<(&Georeference, Extent)>) -> Self {
        let cell = frame.cell_m;
        let (west, north) = (frame.x_m(0) - 0.5 * cell, frame.y_m(0) + 0.5 * cell);
        let Some((place, extent)) = on_earth else {
            return Self {
                west,
                north,
                cell: [cell; 2],
            };
        };
        let x = (place.east - place.west) / extent.width_m;
        let y = (place.north - place.south) / extent.depth_m;
        Self {
            west: place.west + west * x,
            north: place.south + north * y,
            cell: [cell * x, cell * y],
        }
    }

    /// The part that begins at a column and a row of it.
    pub fn from(&self, col: usize, row: usize) -> Self {
        let [x, y] = self.cell;
        Self {
            west: self.west + col as f64 * x,
            north: self.north - row as f64 * y,
            ..*self
        }
    }

    /// A world file: six lines that say how columns and rows become coordinates, to lie
    /// beside a picture (common practice; the place is that of the middle of the first cell).
    pub fn world_file(&self) -> String {
        let [x, y] = self.cell;
        let (east, north) = (self.west + 0.5 * x, self.north - 0.5 * y);
        format!("{x}\n0\n0\n{}\n{east}\n{north}\n", -y)
    }
}
