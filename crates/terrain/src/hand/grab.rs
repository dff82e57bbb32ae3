//! Land that is dragged along with the brush.

use super::Brush;
use crate::grid::Sampler;
use crate::line::{DVec2, LinePoint, Polyline};
use crate::{Frame, Grid};

/// Each place of the result comes from where the brush has dragged it from: the way of
/// the brush is gone back in short moves, of which each takes along what lies under it as
/// much as it covers. The land is read once, so that it does not blur however long the
/// way; moves are so short against the brush that the land does not fold.
pub(super) fn pushed(brush: &Brush, land: &Grid, frame: &Frame) -> Grid {
    /// Radii that a move is long, of a brush that fades over all of its radius.
    const MOVE: f64 = 0.15;
    let step_m = MOVE * brush.radius_m * brush.softness.max(0.2);
    let ways = brush.courses.iter();
    ways.fold(land.clone(), |land, course| {
        let way = evenly(course, step_m);
        let from = Sampler::new(&land, frame);
        Grid::by_rows(frame.cols, frame.rows, |r, row| {
            for (c, height) in row.iter_mut().enumerate() {
                let here = DVec2::new(frame.x_m(c), frame.y_m(r));
                let came_from = dragged_from(brush, &way, here);
                *height = match came_from == here {
                    true => land.at(c, r),
                    false => from.bicubic(came_from.x, came_from.y),
                };
            }
        })
    })
}

fn dragged_from(brush: &Brush, way: &[LinePoint], here: DVec2) -> DVec2 {
    way.windows(2).rev().fold(here, |place, ends| {
        let (from, to) = (ends[0], ends[1]);
        let taken = brush.dab(place.distance(to.at), to.value);
        place - f64::from(taken) * (to.at - from.at)
    })
}

/// The points of a course every `step_m`, and its end.
fn evenly(course: &Polyline, step_m: f64) -> Vec<LinePoint> {
    let mut points: Vec<_> = course.points.first().copied().into_iter().collect();
    let mut left_m = step_m;
    for [a, b] in course.segments() {
        let length_m = a.at.distance(b.at);
        let mut along_m = left_m;
        while along_m < length_m {
            let share = along_m / length_m;
            points.push(LinePoint {
                at: a.at.lerp(b.at, share),
                value: a.value + share * (b.value - a.value),
            });
            along_m += step_m;
        }
        left_m = along_m - length_m;
    }
    points.extend(course.points.last().filter(|_| course.points.len() > 1));
    points
}
