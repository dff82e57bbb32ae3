//! Distance to a drawn outline.

use crate::{Cancelled, Frame, Grid, Run};

/// A closed outline through points, metres east and north.
#[derive(Clone, Debug, PartialEq)]
pub struct Polygon {
    points: Vec<(f64, f64)>,
}

/// Fewer than three points enclose nothing.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[error("an outline needs at least 3 points, got {0}")]
pub struct TooFewPoints(pub usize);

impl Polygon {
    /// The outline through `points`, closed from the last to the first.
    ///
    /// # Errors
    /// [`TooFewPoints`] when there are fewer than three.
    pub fn through(points: Vec<(f64, f64)>) -> Result<Self, TooFewPoints> {
        match points.len() {
            0..3 => Err(TooFewPoints(points.len())),
            _ => Ok(Self { points }),
        }
    }

    /// Distance to the outline, metres: above 0 inside, below 0 outside.
    /// Where the outline crosses itself, a place is inside when a ray from it
    /// crosses the outline an odd number of times.
    pub fn inside_m(&self, x_m: f64, y_m: f64) -> f64 {
        let mut nearest2 = f64::INFINITY;
        let mut inside = false;
        let mut from = self.points[self.points.len() - 1];
        for &to in &self.points {
            let (ex, ey) = (to.0 - from.0, to.1 - from.1);
            let (dx, dy) = (x_m - from.0, y_m - from.1);
            let length2 = ex * ex + ey * ey;
            let share = match length2 > 0.0 {
                true => ((dx * ex + dy * ey) / length2).clamp(0.0, 1.0),
                false => 0.0,
            };
            let (gx, gy) = (dx - share * ex, dy - share * ey);
            nearest2 = nearest2.min(gx * gx + gy * gy);
            let crosses = (from.1 > y_m) != (to.1 > y_m);
            if crosses && dx < ex * dy / ey {
                inside = !inside;
            }
            from = to;
        }
        let distance = nearest2.sqrt();
        if inside { distance } else { -distance }
    }

    /// [`Polygon::inside_m`] on all cells of `frame`. Local.
    ///
    /// # Errors
    /// [`Cancelled`] when `run` was asked to stop.
    pub fn fill(&self, frame: &Frame, run: Run) -> Result<Grid, Cancelled> {
        let grid = Grid::by_rows(frame.cols, frame.rows, |r, out| {
            if run.check().is_err() {
                return;
            }
            let y_m = frame.y_m(r);
            for (c, out) in out.iter_mut().enumerate() {
                *out = self.inside_m(frame.x_m(c), y_m) as f32;
            }
        });
        run.check()?;
        Ok(grid)
    }
}
