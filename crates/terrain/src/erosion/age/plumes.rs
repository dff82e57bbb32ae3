//! Plumes: what rivers bring to the sea goes on in the water and settles over a wide
//! stretch of its floor, not down the way that a river would take there.

use super::carry::ABOVE_SEA_M;
use crate::erosion::neighbours::shifted;
use crate::grid::on_border;
use crate::{Cancelled, Grid, Run};

/// Turns of spreading, each to the eight cells around.
const TURNS: usize = 24;
/// The share of what lies beside a cell that it takes up in a turn: with [`TURNS`] a
/// plume is some three cells wide, a few hundred metres on the first grid of a land of
/// 10 km (common practice: plumes of small rivers reach that far).
const SHARE: f32 = 0.2;
/// Weights of the cells beside and at the corners: the same in all directions (Patra and
/// Karttunen 2006).
const BESIDE: f32 = SHARE * 2.0 / 3.0;
const CORNER: f32 = SHARE / 6.0;

/// Spreads what a step has laid down on cells that move under the sea, where `lowered` is
/// below 0, over those around. What finds no room there floats off: metres summed over
/// cells.
///
/// # Errors
/// [`Cancelled`] when `run` was asked to stop.
pub(super) fn spread(
    lowered: &mut Grid,
    heights: &Grid,
    moves: &[bool],
    sea: f32,
    run: Run,
) -> Result<f64, Cancelled> {
    let (cols, rows) = (lowered.cols(), lowered.rows());
    // 1 where mud comes to, 0 elsewhere and along the border.
    let under = Grid::by_rows(cols, rows, |r, row| {
        for (c, under) in row.iter_mut().enumerate() {
            let place = r * cols + c;
            let at_sea = moves[place] && heights.at(c, r) < sea;
            *under = f32::from(u8::from(at_sea && !on_border(place, (cols, rows))));
        }
    });
    let mut laid = lowered.zip_map(&under, |lowered, under| under * (-lowered).max(0.0));
    if laid.range() == (0.0, 0.0) {
        return Ok(0.0);
    }
    *lowered = lowered.zip_map(&laid, |lowered, laid| lowered + laid);
    for _ in 0..TURNS {
        run.check()?;
        let before = laid.clone();
        laid.for_each_row(|r, row| {
            if 0 < r && r + 1 < rows {
                let near = [r - 1, r, r + 1];
                turn_row(near.map(|r| before.row(r)), near.map(|r| under.row(r)), row);
            }
        });
    }
    let mut floats_off = 0.0;
    let places = lowered.values_mut().iter_mut().zip(heights.values());
    for ((lowered, height), laid) in places.zip(laid.values()) {
        let stays = laid.min((sea + ABOVE_SEA_M - height).max(0.0));
        *lowered -= stays;
        floats_off += f64::from(laid - stays);
    }
    Ok(floats_off)
}

/// A turn of a row but its ends: as much goes from a cell to another as comes back for what
/// lies there, so that none is lost.
#[multiversion::multiversion(targets = "simd")]
fn turn_row(laid: [&[f32]; 3], under: [&[f32]; 3], out: &mut [f32]) {
    let n = out.len().saturating_sub(2);
    if n == 0 {
        return;
    }
    let laid = laid.map(|row| shifted(row, n));
    let under = under.map(|row| shifted(row, n));
    for (c, out) in out.iter_mut().skip(1).take(n).enumerate() {
        let here = laid[1][1][c];
        let comes = |r: usize, k: usize| under[r][k][c] * (laid[r][k][c] - here);
        let beside = comes(0, 1) + comes(2, 1) + comes(1, 0) + comes(1, 2);
        let corners = comes(0, 0) + comes(0, 2) + comes(2, 0) + comes(2, 2);
        *out = here + under[1][1][c] * (BESIDE * beside + CORNER * corners);
    }
}
