//! Masks painted by hand.

use super::smooth;
use crate::line::{DVec2, LinePoint, Polyline, nearest_on_segment};
use crate::{Cancelled, Frame, Grid, Run};

/// One stroke of a round brush along a line.
#[derive(Clone, Debug, PartialEq)]
pub struct Brush {
    /// Its course; the values are the pressure, 0 to 1.
    pub course: Polyline,
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
///
/// # Errors
/// [`Cancelled`] when `run` was asked to stop.
pub fn painted(strokes: &[Brush], frame: &Frame, run: Run) -> Result<Grid, Cancelled> {
    let painted = Grid::by_rows(frame.cols, frame.rows, |r, row| {
        let y_m = frame.y_m(r);
        let mut added = vec![0.0_f32; row.len()];
        for stroke in strokes {
            // A row under thousands of long strokes is a long way.
            if run.check().is_err() {
                return;
            }
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
    });
    run.check()?;
    Ok(painted)
}

impl Brush {
    /// How much the stroke covers of each cell of a row; whether any at all.
    fn touch_row(&self, frame: &Frame, y_m: f64, row: &mut [f32]) -> bool {
        let mut touched = false;
        for [a, b] in self.course.segments() {
            let (low, high) = (a.at.min(b.at), a.at.max(b.at));
            if y_m < low.y - self.radius_m || y_m > high.y + self.radius_m {
                continue;
            }
            let first = frame.col_at(low.x - self.radius_m).floor().max(0.0) as usize;
            let last = frame.col_at(high.x + self.radius_m).ceil();
            let end = (last.max(-1.0) as i64 + 1).clamp(0, row.len() as i64) as usize;
            for (c, cell) in row.iter_mut().enumerate().take(end).skip(first) {
                let covers = self.covers([a, b], DVec2::new(frame.x_m(c), y_m));
                touched |= covers > 0.0;
                *cell = cell.max(covers);
            }
        }
        touched
    }

    fn covers(&self, [a, b]: [LinePoint; 2], place: DVec2) -> f32 {
        let on = nearest_on_segment(a.at, b.at, place);
        let away = on.distance2_m2.sqrt();
        let pressure = a.value + on.share * (b.value - a.value);
        let inside = (1.0 - away / self.radius_m) / self.softness.max(1e-6);
        smooth(inside as f32) * (self.strength * pressure) as f32
    }
}
