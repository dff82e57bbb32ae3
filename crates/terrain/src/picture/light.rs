//! Where the sun stands and what it reaches.

use crate::Grid;

/// The sun's place in the sky.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Sun {
    /// Compass bearing of the sun, degrees: 0 north, 90 east.
    pub bearing_deg: f64,
    /// Height above the horizon, degrees.
    pub altitude_deg: f64,
}

impl Sun {
    /// Unit vector towards the sun: east, north, up.
    pub fn direction(&self) -> [f32; 3] {
        let (bearing, altitude) = (
            self.bearing_deg.to_radians(),
            self.altitude_deg.to_radians(),
        );
        [
            (altitude.cos() * bearing.sin()) as f32,
            (altitude.cos() * bearing.cos()) as f32,
            altitude.sin() as f32,
        ]
    }
}

/// How much of the sun's disc each cell sees past the land, 0 to 1.
///
/// One sweep over the grid away from the sun carries the height of the shadow
/// along. `soft_m` is the height over which a shadow's edge fades, metres.
/// The edge is softened a little more with distance, by interpolation.
pub fn cast_shadow(heights: &Grid, cell_m: f64, sun: Sun, soft_m: f32) -> Grid {
    let (cols, rows) = (heights.cols(), heights.rows());
    let [east, north, up] = sun.direction();
    let level = east.hypot(north);
    if level < 1e-6 {
        return Grid::filled(cols, rows, 1.0);
    }
    // Sweep along the axis that the light crosses faster, a whole cell at a
    // time; `shift` is how far it moves along the other axis meanwhile.
    let across = east.abs() > north.abs();
    let (fast, slow) = if across {
        (east, -north)
    } else {
        (-north, east)
    };
    let shift = slow / fast;
    let step_m = cell_m as f32 * (1.0 + shift * shift).sqrt();
    let fall_m = step_m * up / level;
    let (lines, length) = if across { (cols, rows) } else { (rows, cols) };
    let at = |line: usize, i: usize| match across {
        true => heights.at(line, i),
        false => heights.at(i, line),
    };
    // Towards the sun lies the higher or the lower line number.
    let sunward: i64 = if fast > 0.0 { 1 } else { -1 };
    let mut shadow = vec![f32::NEG_INFINITY; length];
    let mut seen = vec![0.0_f32; cols * rows];
    for k in 0..lines {
        let line = if sunward > 0 { lines - 1 - k } else { k };
        let before = shadow.clone();
        for (i, shadow) in shadow.iter_mut().enumerate() {
            let place = i as f32 + shift * sunward as f32;
            let low = place.floor();
            let t = place - low;
            let from = |j: i64| match usize::try_from(j) {
                Ok(j) if j < length => before[j],
                _ => f32::NEG_INFINITY,
            };
            let (a, b) = (from(low as i64), from(low as i64 + 1));
            // An open side casts no shadow, not half of one.
            let carried = match a.is_finite() && b.is_finite() {
                true => a + t * (b - a) - fall_m,
                false => a.max(b) - fall_m,
            };
            let height = at(line, i);
            let cell = if across {
                i * cols + line
            } else {
                line * cols + i
            };
            seen[cell] = match carried.is_finite() {
                true => 1.0 - ((carried - height) / soft_m).clamp(0.0, 1.0),
                false => 1.0,
            };
            *shadow = carried.max(height);
        }
    }
    Grid::from_vec(cols, rows, seen).expect("one value a cell")
}
