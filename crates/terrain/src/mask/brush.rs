//! Masks painted by hand.

use super::smooth;
use crate::{Frame, Grid};

/// One stroke of a round brush along a line.
#[derive(Clone, Debug, PartialEq)]
pub struct Brush {
    /// Its course: metres east, metres north, pressure from 0 to 1.
    pub points: Vec<[f64; 3]>,
    /// Radius of the brush, metres.
    pub radius_m: f64,
    /// How much a stroke adds where it is full, 0 to 1.
    pub strength: f64,
    /// Share of the radius over which it fades, 0 to 1.
    pub softness: f64,
    /// Takes away instead of adding.
    pub erase: bool,
}

/// What `strokes`, the oldest first, paint on the cells of `frame`, 0 to 1.
/// Each one covers what is left of the way to full, or to none: many soft
/// strokes build up slowly. A stroke that crosses itself does not build up
/// there. Local: a window has the bits of the whole.
pub fn painted(strokes: &[Brush], frame: &Frame) -> Grid {
    Grid::by_rows(frame.cols, frame.rows, |r, row| {
        let y_m = frame.y_m(r);
        let mut added = vec![0.0_f32; row.len()];
        for stroke in strokes {
            added.fill(0.0);
            if !stroke.touch_row(frame, y_m, &mut added) {
                continue;
            }
            for (value, added) in row.iter_mut().zip(&added) {
                *value = match stroke.erase {
                    true => *value * (1.0 - added),
                    false => *value + (1.0 - *value) * added,
                };
            }
        }
    })
}

impl Brush {
    /// How much the stroke covers of each cell of a row; whether any at all.
    fn touch_row(&self, frame: &Frame, y_m: f64, row: &mut [f32]) -> bool {
        let mut touched = false;
        let one = [self.points[0], self.points[0]];
        let pairs: &mut dyn Iterator<Item = &[[f64; 3]]> = match self.points.len() {
            1 => &mut std::iter::once(&one[..]),
            _ => &mut self.points.windows(2),
        };
        for pair in pairs {
            let ([ax, ay, _], [bx, by, _]) = (pair[0], pair[1]);
            if y_m < ay.min(by) - self.radius_m || y_m > ay.max(by) + self.radius_m {
                continue;
            }
            let first = frame.col_at(ax.min(bx) - self.radius_m).floor().max(0.0) as usize;
            let last = frame.col_at(ax.max(bx) + self.radius_m).ceil();
            let end = (last.max(-1.0) as i64 + 1).clamp(0, row.len() as i64) as usize;
            for (c, cell) in row.iter_mut().enumerate().take(end).skip(first) {
                let covers = self.covers(pair[0], pair[1], frame.x_m(c), y_m);
                touched |= covers > 0.0;
                *cell = cell.max(covers);
            }
        }
        touched
    }

    fn covers(&self, a: [f64; 3], b: [f64; 3], x_m: f64, y_m: f64) -> f32 {
        let (dx, dy) = (b[0] - a[0], b[1] - a[1]);
        let length2 = dx * dx + dy * dy;
        let along = (x_m - a[0]) * dx + (y_m - a[1]) * dy;
        let t = match length2 > 0.0 {
            true => (along / length2).clamp(0.0, 1.0),
            false => 0.0,
        };
        let away = (x_m - a[0] - t * dx).hypot(y_m - a[1] - t * dy);
        let pressure = a[2] + t * (b[2] - a[2]);
        let inside = (1.0 - away / self.radius_m) / self.softness.max(1e-6);
        smooth(inside as f32) * (self.strength * pressure) as f32
    }
}
