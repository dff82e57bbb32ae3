//! Looks from a place along a bearing, at land farther and farther away.

use crate::Grid;
use std::ops::Range;

/// Cells that looks within `reach_m` need around the place for a window to have the bits
/// of the whole.
pub fn sight_margin(reach_m: f64, cell_m: f64) -> usize {
    // One more for the second of the cells that a place lies between.
    (reach_m / cell_m).ceil() as usize + 1
}

/// Land at which one looks, between the two cells nearest to the line of sight.
pub(super) struct Look {
    /// The two cells, as columns and rows from here.
    cells: [(i64, i64); 2],
    /// How far it is from the first to the second, 0 to 1.
    turned: f32,
    /// How far away it is, metres.
    pub(super) distance_m: f64,
}

/// Looks within `reach_m` towards east and south (a direction of any length but
/// zero), at whole cells along the longer axis, between two along the other. Each is
/// as many times farther than the last as `farther` says, and a cell at least.
pub(super) fn looks(east: f64, south: f64, reach_m: f64, cell_m: f64, farther: f64) -> Vec<Look> {
    let longer = east.abs().max(south.abs());
    let level = east.hypot(south) / longer;
    let (east, south) = (east / longer, south / longer);
    let mut looks = Vec::new();
    let mut step = 1_i64;
    loop {
        let distance_m = step as f64 * level * cell_m;
        if distance_m > reach_m {
            return looks;
        }
        let (cols, rows) = (east * step as f64, south * step as f64);
        let (c, r) = (cols.floor() as i64, rows.floor() as i64);
        let (cells, turned) = match east.abs() >= south.abs() {
            true => {
                let cols = cols.round() as i64;
                ([(cols, r), (cols, r + 1)], rows - r as f64)
            }
            false => {
                let rows = rows.round() as i64;
                ([(c, rows), (c + 1, rows)], cols - c as f64)
            }
        };
        looks.push(Look {
            cells,
            turned: turned as f32,
            distance_m,
        });
        step = ((step as f64 * farther) as i64).max(step + 1);
    }
}

/// Land seen from a part of a row: the heights of the two cells of a look, side by
/// side with those of whoever looks.
pub(super) struct Seen<'g> {
    /// Columns of the result from which that land is seen.
    pub(super) from: Range<usize>,
    cells: [&'g [f32]; 2],
    turned: f32,
}

impl Look {
    /// What is seen from row `row` of the result, which `wide` surrounds with `margin`
    /// cells; nothing where that is beyond `wide`.
    pub(super) fn seen_from<'g>(
        &self,
        row: usize,
        wide: &'g Grid,
        margin: usize,
    ) -> Option<Seen<'g>> {
        let cols = (wide.cols() - 2 * margin) as i64;
        let (mut first, mut end) = (0, cols);
        for (away, _) in self.cells {
            let start = margin as i64 + away;
            first = first.max(-start);
            end = end.min(wide.cols() as i64 - start);
        }
        if first >= end {
            return None;
        }
        let part = |(cols, rows): (i64, i64)| {
            let row = usize::try_from((row + margin) as i64 + rows).ok()?;
            let start = (margin as i64 + cols + first) as usize;
            (row < wide.rows()).then(|| &wide.row(row)[start..start + (end - first) as usize])
        };
        Some(Seen {
            from: first as usize..end as usize,
            cells: [part(self.cells[0])?, part(self.cells[1])?],
            turned: self.turned,
        })
    }
}

impl Seen<'_> {
    /// Raises `highest` to how far that land stands above `here`, less `lowered`, times
    /// `scale`. All rows are as long as the result's.
    pub(super) fn raise(&self, highest: &mut [f32], here: &[f32], lowered: f32, scale: f32) {
        let (highest, here) = (&mut highest[self.from.clone()], &here[self.from.clone()]);
        raise(highest, here, self.cells, self.turned, lowered, scale);
    }
}

#[multiversion::multiversion(targets = "simd")]
fn raise(
    highest: &mut [f32],
    here: &[f32],
    [a, b]: [&[f32]; 2],
    turned: f32,
    lowered: f32,
    scale: f32,
) {
    let n = highest.len();
    let (here, a, b) = (&here[..n], &a[..n], &b[..n]);
    for i in 0..n {
        let there = a[i] + turned * (b[i] - a[i]);
        highest[i] = highest[i].max((there - here[i] - lowered) * scale);
    }
}
