//! Rivers as lines.

use super::drainage::Drainage;
use crate::Frame;

/// A river from its source or from where two meet, to where it meets another
/// of its order or a higher one, or leaves the land.
#[derive(Clone, Debug, PartialEq)]
pub struct RiverLine {
    /// Strahler's (1957) order: 1 has no tributaries.
    pub order: u8,
    /// Its course, downstream; at least two points. The last one is the first
    /// of what it flows into.
    pub points: Vec<RiverPoint>,
}

/// A place on a river.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct RiverPoint {
    /// Metres east of the west edge.
    pub x_m: f64,
    /// Metres north of the south edge.
    pub y_m: f64,
    /// Land that drains through it, m².
    pub area_m2: f64,
}

/// Passes of the smoothing that hides the eight directions of the grid.
const SMOOTHED: usize = 2;

/// The rivers of a land whose drainage area is at least `least_m2`, as lines,
/// those nearest to the outlets first. `area` is in cells, as of
/// [`Drainage::area_cells`]; `frame` says where the cells stand.
///
/// Sources, meetings and mouths keep their places; the points between are
/// smoothed.
pub fn river_lines(
    drainage: &Drainage,
    area: &[f32],
    frame: &Frame,
    least_m2: f64,
) -> Vec<RiverLine> {
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
        RiverPoint {
            x_m: frame.x_m(col),
            y_m: frame.y_m(row),
            area_m2: f64::from(area[i as usize]) * cell_m2,
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
        RiverLine {
            order: order[end as usize],
            points,
        }
    };
    let lines = ends.into_iter().map(line);
    lines.filter(|line| line.points.len() > 1).collect()
}

/// A quarter of each neighbour, half of itself; the ends stay.
fn smooth(points: &mut [RiverPoint]) {
    for _ in 0..SMOOTHED {
        let mut before = match points.first() {
            Some(first) => *first,
            None => return,
        };
        for k in 1..points.len().saturating_sub(1) {
            let (here, after) = (points[k], points[k + 1]);
            points[k].x_m = 0.25 * (before.x_m + after.x_m) + 0.5 * here.x_m;
            points[k].y_m = 0.25 * (before.y_m + after.y_m) + 0.5 * here.y_m;
            before = here;
        }
    }
}
