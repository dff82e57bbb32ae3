//! Hollows opened, so that water leaves the land.

use super::drainage::drain;
use crate::{Cancelled, Grid, Run};

/// `heights` without closed hollows: each is filled by the share `fill` of the way from
/// where its rim would have to be cut to, up to its brim, and its rim is cut through down
/// to that (filling and breaching together: Lindsay 2016). 0 only cuts, 1 only fills. Water
/// leaves as for [`drain`].
///
/// Along each way down both the land cut through and the land filled fall or are level,
/// and so does what lies between them at one share. Cuts that go from corner to corner are
/// widened to a side, for water that crosses sides of cells alone.
///
/// # Errors
/// [`Cancelled`] when `run` was asked to stop.
pub fn opened(heights: &Grid, fill: f32, sea_level_m: f32, run: Run) -> Result<Grid, Cancelled> {
    let drainage = drain(heights, sea_level_m, run)?;
    let mut cut = heights.clone();
    let values = cut.values_mut();
    // Each cell before its receiver.
    for &i in drainage.order.iter().rev() {
        let (here, receiver) = (values[i as usize], drainage.receivers[i as usize] as usize);
        values[receiver] = values[receiver].min(here);
    }
    run.check()?;
    let mut open = cut.zip_map(&drainage.filled, |cut, filled| cut + fill * (filled - cut));
    let (cols, values) = (heights.cols(), open.values_mut());
    let was = heights.values();
    for &i in drainage.order.iter().rev() {
        let (i, to) = (i as usize, drainage.receivers[i as usize] as usize);
        let corners = [i / cols * cols + to % cols, to / cols * cols + i % cols];
        let straight = corners.contains(&to) || corners.contains(&i);
        if straight || !(values[i] < was[i] || values[to] < was[to]) {
            continue;
        }
        // The lower of the two that lie between; it then drains to where the way goes on.
        let [a, b] = corners;
        let lower = if values[a] <= values[b] { a } else { b };
        values[lower] = values[lower].min(values[i]);
    }
    Ok(open)
}
