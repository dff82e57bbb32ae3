//! Outlines, and the distance to them.

use glam::DVec2;

use super::nearest_on_segment;
use crate::{Cancelled, Frame, Grid, Run};

/// A closed outline through points, metres east and north.
#[derive(Clone, Debug, PartialEq)]
pub struct Polygon {
    points: Vec<DVec2>,
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
    pub fn through(points: Vec<DVec2>) -> Result<Self, TooFewPoints> {
        match points.len() {
            0..3 => Err(TooFewPoints(points.len())),
            _ => Ok(Self { points }),
        }
    }

    /// Its corners, in order.
    pub fn points(&self) -> &[DVec2] {
        &self.points
    }

    /// Distance to the outline, metres: above 0 inside, below 0 outside.
    /// Where the outline crosses itself, a place is inside when a ray from it
    /// crosses the outline an odd number of times.
    pub fn inside_m(&self, place: DVec2) -> f64 {
        let mut nearest2 = f64::INFINITY;
        let mut inside = false;
        let mut from = self.points[self.points.len() - 1];
        for &to in &self.points {
            nearest2 = nearest2.min(nearest_on_segment(from, to, place).distance2_m2);
            let (edge, away) = (to - from, place - from);
            let crosses = (from.y > place.y) != (to.y > place.y);
            if crosses && away.x < edge.x * away.y / edge.y {
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
                *out = self.inside_m(DVec2::new(frame.x_m(c), y_m)) as f32;
            }
        });
        run.check()?;
        Ok(grid)
    }
}
