//! Creep of soil, row by row.

use crate::erosion::neighbours::shifted;

/// Creep near the steepest slope that stands is so many times that of gentle slopes at
/// most; the law itself has no bound, and what is steeper slides anyway.
const FASTEST_CREEP: f32 = 2.0;
/// D·dt/dx² is stable up to a quarter in two dimensions, where creep is fastest too.
pub(super) const STABLE: f64 = 0.2 / FASTEST_CREEP as f64;

/// A row of cells and the rows on either side of it.
#[derive(Clone, Copy)]
pub(super) struct Slope<'a> {
    pub(super) heights: [&'a [f32]; 3],
    /// Tangents of the steepest slopes that stand.
    pub(super) critical_slope: [&'a [f32]; 3],
    /// Whether each cell of the row moves.
    pub(super) moves: &'a [bool],
}

/// One explicit step of diffusion of a row; beyond its ends lies what is at them.
#[multiversion::multiversion(targets = "simd")]
pub(super) fn creep_row(
    slope: Slope,
    (share, at_sea, sea): (f32, f32, f32),
    cell: f32,
    out: &mut [f32],
) {
    let (law, cols) = ((share, at_sea, sea, cell), out.len());
    let three = |of: &[f32], c: usize| [of[c.saturating_sub(1)], of[c], of[(c + 1).min(cols - 1)]];
    for c in [0, cols - 1] {
        let [heights, critical_slope] =
            [slope.heights, slope.critical_slope].map(|of| of.map(|row| three(row, c)));
        out[c] = crept(heights, critical_slope, slope.moves[c], law);
    }
    // Between the ends without a look at them, which lets several cells go at once.
    let n = cols.saturating_sub(2);
    if n == 0 {
        return;
    }
    let out = &mut out[1..n + 1];
    let [above, here, below] = slope.heights.map(|row| shifted(row, n));
    let [firm_above, firm, firm_below] = slope.critical_slope.map(|row| shifted(row, n));
    let moves = &slope.moves[1..n + 1];
    for c in 0..n {
        let at = |of: [&[f32]; 3]| [of[0][c], of[1][c], of[2][c]];
        let heights = [at(above), at(here), at(below)];
        let critical_slope = [at(firm_above), at(firm), at(firm_below)];
        out[c] = crept(heights, critical_slope, moves[c], law);
    }
}

/// The height of the middle one of nine cells after a step by the nine-point Laplacian, whose
/// error is the same in all directions (Patra and Karttunen 2006). Between two cells creep is
/// as many times faster as 1 − (S/S꜀)² is smaller than 1 (Roering et al. 1999): the same for
/// both, so that none is lost on the way.
#[inline(always)]
fn crept(
    [above, here, below]: [[f32; 3]; 3],
    [firm_above, firm, firm_below]: [[f32; 3]; 3],
    moves: bool,
    (share, at_sea, sea, cell): (f32, f32, f32, f32),
) -> f32 {
    /// Where creep is fastest.
    const STEEPEST: f32 = 1.0 - 1.0 / FASTEST_CREEP;
    /// Weights of the cells beside and at the corners, and their distances squared.
    const BESIDE: (f32, f32) = (2.0 / 3.0, 1.0);
    const CORNER: (f32, f32) = (1.0 / 6.0, 2.0);
    let height = here[1];
    let under = height < sea;
    let share = if under { at_sea } else { share };
    let share = if moves { share } else { 0.0 };
    let comes = |there: f32, critical_slope: f32, (weight, squared): (f32, f32)| {
        // Mud lies up to the shore, and does not climb it.
        let there = if under { there.min(sea) } else { there };
        let rise = there - height;
        let critical = 0.5 * (critical_slope + firm[1]) * cell;
        let steep = (rise * rise / (squared * critical * critical)).min(STEEPEST);
        weight * rise / (1.0 - steep)
    };
    let beside = comes(here[0], firm[0], BESIDE)
        + comes(here[2], firm[2], BESIDE)
        + comes(above[1], firm_above[1], BESIDE)
        + comes(below[1], firm_below[1], BESIDE);
    let corners = comes(above[0], firm_above[0], CORNER)
        + comes(above[2], firm_above[2], CORNER)
        + comes(below[0], firm_below[0], CORNER)
        + comes(below[2], firm_below[2], CORNER);
    height + share * (beside + corners)
}
