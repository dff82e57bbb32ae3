//! Rivers as lines.

use super::drainage::Drainage;
use crate::Frame;
use crate::line::{DVec2, LinePoint, Polyline};

/// Passes of the smoothing that hides the eight directions of the grid.
const SMOOTHED: usize = 2;

/// The rivers of a land whose drainage area is at least `least_m2`, as lines,
/// those nearest to the outlets first. `area` is in cells, as of
/// [`Drainage::area_cells`]; `frame` says where the cells stand.
///
/// Each one goes downstream from its source, or from where two meet, to where it meets
/// another of its order or a higher one, or leaves the land; its last point is the first
/// of what it flows into. Its rank is Strahler's (1957) order, the values are the land
/// that drains through, m².
///
/// Sources, meetings and mouths keep their places; the points between are
/// smoothed.
pub fn river_lines(
    drainage: &Drainage,
    area: &[f32],
    frame: &Frame,
    least_m2: f64,
) -> Vec<Polyline> {
    let cell_m2 = frame.cell_area_m2();
    let order = drainage.strahler(area, (least_m2 / cell_m2) as f32);
    // The cell that each river cell receives its river from, if it goes on.
    const NONE: u32 = u32::MAX;
    let mut upstream = vec![NONE; order.len()];
    let mut ends = Vec::new();
    for &i in &drainage.order {
        let receiver = drainage.receivers[i as usize];
        let order_here = order[i as usize];
        if order_here == 0 {
            continue;
        }
        let goes_on = receiver != i && order[receiver as usize] == order_here;
        // Of two that arrive with the same order neither goes on; the order
        // rises there.
        match goes_on {
            true => upstream[receiver as usize] = i,
            false => ends.push(i),
        }
    }
    let point = |i: u32| {
        let (col, row) = (i as usize % frame.cols, i as usize / frame.cols);
        LinePoint {
            at: DVec2::new(frame.x_m(col), frame.y_m(row)),
            value: f64::from(area[i as usize]) * cell_m2,
        }
    };
    let line = |end: u32| {
        let receiver = drainage.receivers[end as usize];
        let mut points = Vec::new();
        if receiver != end {
            points.push(point(receiver));
        }
        let mut here = end;
        while here != NONE {
            points.push(point(here));
            here = upstream[here as usize];
        }
        points.reverse();
        smooth(&mut points);
        Polyline {
            rank: order[end as usize],
            points,
        }
    };
    let lines = ends.into_iter().map(line);
    lines.filter(|line| line.points.len() > 1).collect()
}

/// A quarter of each neighbour, half of itself; the ends stay.
fn smooth(points: &mut [LinePoint]) {
    for _ in 0..SMOOTHED {
        let mut before = match points.first() {
            Some(first) => *first,
            None => return,
        };
        for k in 1..points.len().saturating_sub(1) {
            let (here, after) = (points[k], points[k + 1]);
            points[k].at = 0.25 * (before.at + after.at) + 0.5 * here.at;
            before = here;
        }
    }
}
