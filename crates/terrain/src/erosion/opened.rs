//! Hollows opened, so that water leaves the land.

use rayon::prelude::*;

use super::drainage::drain;
use super::ways_out::Ways;
use crate::grid::on_border;
use crate::{Cancelled, Grid, Run};

/// Pits between two looks at whether to stop.
const LOOK_EVERY: usize = 1 << 10;

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
    let mut open = cut;
    open.zip_in_place(&drainage.filled, |cut, filled| cut + fill * (filled - cut));
    let (cols, values) = (heights.cols(), open.values_mut());
    let was = heights.values();
    for &i in drainage.order.iter().rev() {
        let (i, to) = (i as usize, drainage.receivers[i as usize] as usize);
        if values[i] < was[i] || values[to] < was[to] {
            widen(values, cols, (i, to), values[i]);
        }
    }
    Ok(open)
}

/// Widens a cut from corner to corner to the lower of the two cells that lie between, down
/// to `level`; that one then drains to where the way goes on.
fn widen(values: &mut [f32], cols: usize, (from, to): (usize, usize), level: f32) {
    let corners = [
        from / cols * cols + to % cols,
        to / cols * cols + from % cols,
    ];
    if corners.contains(&to) || corners.contains(&from) {
        return;
    }
    let [a, b] = corners;
    let lower = if values[a] <= values[b] { a } else { b };
    values[lower] = values[lower].min(level);
}

/// Land whose hollows are all small, as what was [`opened`] and has moved a little since: from
/// each pit the way that climbs least is cut through to where the land is lower (Lindsay
/// 2016). Takes as long as there are pits, where [`opened`] takes as long as there are cells.
///
/// # Errors
/// [`Cancelled`] when `run` was asked to stop.
pub fn reopened(mut heights: Grid, sea_level_m: f32, run: Run) -> Result<Grid, Cancelled> {
    let (cols, rows) = (heights.cols(), heights.rows());
    let pits: Vec<usize> = pits_by_row(&heights, sea_level_m).concat();
    let leaves = |i: usize, height: f32| on_border(i, (cols, rows)) || height < sea_level_m;
    let values = heights.values_mut();
    let mut ways = Ways::over(cols, rows);
    // Level ground is gone over once and not from each of its cells.
    let mut drained = vec![false; cols * rows];
    for (k, &pit) in pits.iter().enumerate() {
        if k.is_multiple_of(LOOK_EVERY) {
            run.check()?;
        }
        let level = values[pit];
        let mut to = ways.out_of(pit, values, |i, height| {
            height < level || (height == level && drained[i]) || leaves(i, height)
        });
        for &i in ways.seen_level() {
            drained[i] |= values[i] == level;
        }
        while to != pit {
            let from = ways.before(to);
            let cuts = values[to] > level || values[from] > level;
            drained[to] = true;
            values[to] = values[to].min(level);
            if cuts {
                widen(values, cols, (from, to), level.min(values[from]));
            }
            to = from;
        }
    }
    Ok(heights)
}

/// The cells of each row that no neighbour is lower than, inside the land and above the sea.
fn pits_by_row(heights: &Grid, sea_level_m: f32) -> Vec<Vec<usize>> {
    let (cols, rows) = (heights.cols(), heights.rows());
    let inner = 1..rows.saturating_sub(1);
    let of_row = |r: usize| {
        let [above, here, below] = [r - 1, r, r + 1].map(|r| heights.row(r));
        let is_pit = |c: &usize| {
            let lowest = |row: &[f32]| row[c - 1].min(row[*c]).min(row[c + 1]);
            let around = lowest(above)
                .min(lowest(below))
                .min(here[c - 1])
                .min(here[c + 1]);
            here[*c] >= sea_level_m && around >= here[*c]
        };
        (1..cols.max(2) - 1)
            .filter(is_pit)
            .map(|c| r * cols + c)
            .collect()
    };
    inner.into_par_iter().map(of_row).collect()
}
