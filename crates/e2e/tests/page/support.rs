//! Pictures as the page has them.

use serde_json::{Value, json};
use terrain::noise::{hash, unit};
use terrain::{Extent, Frame, Grid};

/// Cells of ten metres.
pub const CELL_M: f64 = 10.0;

pub fn frame(cols: usize, rows: usize) -> Frame {
    let extent = Extent {
        width_m: CELL_M * cols as f64,
        depth_m: CELL_M * rows as f64,
    };
    Frame::covering(extent, CELL_M)
}

/// Numbers from 0 to 1 that have nothing to do with one another.
pub fn random(i: usize, k: i32) -> f64 {
    f64::from(unit(hash(i as i32, k, 11)))
}

/// Heights as a function of the place.
pub fn land(frame: &Frame, height_m: impl Fn(f64, f64) -> f64 + Sync) -> Grid {
    Grid::by_rows(frame.cols, frame.rows, |r, out| {
        for (c, out) in out.iter_mut().enumerate() {
            *out = height_m(frame.x_m(c), frame.y_m(r)) as f32;
        }
    })
}

/// Heights that no neighbour foretells.
pub fn rough(frame: &Frame) -> Grid {
    Grid::by_rows(frame.cols, frame.rows, |r, out| {
        for (c, out) in out.iter_mut().enumerate() {
            *out = 300.0 * random(r * 1000 + c, 0) as f32;
        }
    })
}

/// A picture of `heights` with its sea, as the page has it.
pub fn picture(frame: &Frame, heights: &Grid, sea_level_m: f64) -> Value {
    let (low_m, high_m) = heights.range();
    let bounds: Vec<f32> = heights.ranges_of_blocks(8).values().as_flattened().to_vec();
    json!({
        "header": {
            "cols": frame.cols, "rows": frame.rows, "cell_m": frame.cell_m,
            "north_m": frame.north_m, "sea_level_m": sea_level_m,
            "low_m": low_m, "high_m": high_m, "block": 8,
        },
        "heights": heights.values(),
        "bounds": bounds,
    })
}
