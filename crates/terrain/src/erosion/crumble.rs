//! Dry crumbling to a stable angle (Musgrave, Kolb and Mace 1989, section 3),
//! of bare ground or of a cover that lies on it.
//!
//! Each step, a cell that stands too steeply above its neighbours gives part of
//! the excess to them. What moves is counted at its source and where it lands,
//! so that what is worn is dropped. We deviate in that all cells move at once
//! (gather, not scatter), so that any number of threads gives the same bits, and
//! in that a cell may favour the steepest way.
//!
//! The border is closed: nothing leaves.

use rayon::prelude::*;

use super::{Ledger, Level};
use crate::{Cancelled, Grid, Run};

/// What moves, and how.
#[derive(Clone, Copy, Debug)]
pub struct Crumbling<'a> {
    /// Tangent of the stable angle in each cell.
    pub talus: &'a Grid,
    /// 0 spreads over all lower neighbours, 1 goes the steepest way: facets.
    pub sharpness: f32,
    /// Depth of a loose cover, metres, which alone can move; all ground can
    /// when absent. It is not part of the heights.
    pub cover: Option<&'a Grid>,
}

/// What moved on one grid.
#[derive(Clone, Debug, PartialEq)]
pub struct Crumbled {
    /// Taken away, metres: the scarp.
    pub wear: Grid,
    /// Laid down, metres: the debris.
    pub deposit: Grid,
    /// Where it went.
    pub ledger: Ledger,
}

/// Share of the greatest excess that moves in a step: more would slosh.
const SHARE: f32 = 0.22;
/// How much the cube of an excess weighs against the excess itself, per cell's
/// side squared, when a cell is fully sharp.
const CUBE: f32 = 8.0;
/// Nothing moves any more when no excess is above this share of a cell's side.
const STILL: f32 = 1e-4;
/// Steps between two looks at whether everything stands still.
const LOOK_EVERY: usize = 8;
/// Stands around the land, so high that nothing falls over it.
const WALL_M: f32 = 1e9;

/// Columns and rows from a cell to its neighbours, those to the left and right
/// first; the last four are diagonal.
const AROUND: [(usize, usize); 8] = [
    (1, 0),
    (1, 2),
    (0, 1),
    (2, 1),
    (0, 0),
    (0, 2),
    (2, 0),
    (2, 2),
];
/// The first diagonal neighbour.
const DIAGONAL: usize = 4;

/// A grid with one more cell on every side.
#[derive(Clone)]
struct Padded {
    wide: usize,
    values: Vec<f32>,
}

impl Padded {
    fn around(grid: &Grid, edge: f32) -> Self {
        let wide = grid.cols() + 2;
        let mut values = vec![edge; wide * (grid.rows() + 2)];
        for r in 0..grid.rows() {
            let start = (r + 1) * wide + 1;
            values[start..start + grid.cols()].copy_from_slice(grid.row(r));
        }
        Self { wide, values }
    }

    /// The rows above, at and below row `r` of the grid.
    fn rows(&self, r: usize) -> [&[f32]; 3] {
        [r, r + 1, r + 2].map(|row| &self.values[row * self.wide..(row + 1) * self.wide])
    }
}

/// The least fall to the sides that is not stable, metres; diagonals are longer.
enum Stable {
    /// One padded row that stands for all.
    Same(Vec<f32>),
    Each(Padded),
}

impl Stable {
    fn of(talus: &Grid, cell_m: f32) -> Self {
        let (low, high) = talus.range();
        match low == high {
            true => Self::Same(vec![low * cell_m; talus.cols() + 2]),
            false => Self::Each(Padded::around(&talus.map(|tangent| tangent * cell_m), 0.0)),
        }
    }

    fn rows(&self, r: usize) -> [&[f32]; 3] {
        match self {
            Stable::Same(row) => [row; 3],
            Stable::Each(padded) => padded.rows(r),
        }
    }
}

/// Lets what is loose on `heights` move on cells of `level.cell_m`, for at most
/// `level.iterations` steps; it stops early when everything stands still.
///
/// # Errors
/// [`Cancelled`] when `run` was asked to stop.
pub fn crumble(
    heights: &Grid,
    crumbling: Crumbling,
    level: Level,
    run: Run,
) -> Result<Crumbled, Cancelled> {
    let (cols, rows) = (heights.cols(), heights.rows());
    let mut wear = Grid::filled(cols, rows, 0.0_f32);
    let mut deposit = Grid::filled(cols, rows, 0.0_f32);
    let loose = crumbling.cover;
    let base = match loose {
        Some(cover) => heights.zip_map(cover, |ground, cover| ground + cover),
        None => heights.clone(),
    };
    let mut now = Padded::around(&base, WALL_M);
    let cell_m = level.cell_m as f32;
    let stable = Stable::of(crumbling.talus, cell_m);
    let mut rate = Padded::around(&Grid::filled(cols, rows, 0.0), 0.0);
    let weigh = Weigh {
        plain: 1.0 - crumbling.sharpness,
        cube: crumbling.sharpness * CUBE / (cell_m * cell_m),
    };
    let wide = now.wide;
    let inner = wide..wide * (rows + 1);
    let mut next = now.clone();
    let endless = vec![f32::INFINITY; cols];
    for step in 0..level.iterations {
        run.check()?;
        if step.is_multiple_of(LOOK_EVERY) {
            let rows = (0..rows).into_par_iter();
            let worst = rows.map(|r| worst_row(now.rows(r), stable.rows(r)[1]));
            if worst.reduce(|| 0.0, f32::max) <= STILL * cell_m {
                break;
            }
        }
        let laid = &deposit;
        rate.values[inner.clone()]
            .par_chunks_mut(wide)
            .zip(wear.values_mut().par_chunks_mut(cols.max(1)))
            .enumerate()
            .for_each(|(r, (rate, wear))| {
                let (heights, stable) = (now.rows(r), stable.rows(r)[1]);
                let rate = &mut rate[1..=cols];
                match loose {
                    None => give_row(heights, stable, weigh, &endless, rate, wear),
                    Some(cover) => {
                        let left: Vec<f32> = (cover.row(r).iter())
                            .zip(laid.row(r).iter().zip(wear.iter()))
                            .map(|(cover, (laid, worn))| (cover + (laid - worn)).max(0.0))
                            .collect();
                        give_row(heights, stable, weigh, &left, rate, wear);
                    }
                }
            });
        let (rates, worn) = (&rate, &wear);
        next.values[inner.clone()]
            .par_chunks_mut(wide)
            .zip(deposit.values_mut().par_chunks_mut(cols.max(1)))
            .enumerate()
            .for_each(|(r, (next, deposit))| {
                take_row(
                    now.rows(r),
                    stable.rows(r),
                    rates.rows(r),
                    weigh,
                    (base.row(r), worn.row(r)),
                    deposit,
                    &mut next[1..=cols],
                );
            });
        std::mem::swap(&mut now, &mut next);
        run.report((step + 1) as f32 / level.iterations as f32);
    }
    let area_m2 = level.cell_m * level.cell_m;
    let ledger = Ledger {
        worn_m3: wear.sum() * area_m2,
        dropped_m3: deposit.sum() * area_m2,
        ..Ledger::default()
    };
    Ok(Crumbled {
        wear,
        deposit,
        ledger,
    })
}

/// How an excess weighs when a cell shares out what it gives.
#[derive(Clone, Copy)]
struct Weigh {
    plain: f32,
    cube: f32,
}

impl Weigh {
    #[inline(always)]
    fn of(self, excess: f32) -> f32 {
        excess * (self.plain + self.cube * excess * excess)
    }
}

/// How far a cell stands above a neighbour more than is stable, metres.
#[inline(always)]
fn excess(from: f32, to: f32, stable: f32, k: usize) -> f32 {
    let stable = match k < DIAGONAL {
        true => stable,
        false => stable * std::f32::consts::SQRT_2,
    };
    (from - to - stable).max(0.0)
}

/// The eight neighbours of each cell of a row, each as a row of `n` of its own.
#[inline(always)]
fn around(rows: [&[f32]; 3], n: usize) -> [&[f32]; 8] {
    AROUND.map(|(row, col)| &rows[row][col..col + n])
}

/// What each cell of a row gives, no more than is `left` to give, into `wear`;
/// and how much that is for each unit of a neighbour's weight, into `rate`.
#[allow(clippy::needless_range_loop)] // slices in step, by cell and neighbour
#[multiversion::multiversion(targets = "simd")]
fn give_row(
    now: [&[f32]; 3],
    stable: &[f32],
    weigh: Weigh,
    left: &[f32],
    rate: &mut [f32],
    wear: &mut [f32],
) {
    let n = rate.len();
    let (here, there) = (&now[1][1..n + 1], around(now, n));
    let (stable, left, wear) = (&stable[1..n + 1], &left[..n], &mut wear[..n]);
    for i in 0..n {
        let (mut sum, mut most) = (0.0, 0.0_f32);
        for k in 0..8 {
            let excess = excess(here[i], there[k][i], stable[i], k);
            sum += weigh.of(excess);
            most = most.max(excess);
        }
        let gives = (SHARE * most).min(left[i]);
        wear[i] += gives;
        // What gives nothing has no sum to divide by.
        rate[i] = gives / sum.max(f32::MIN_POSITIVE);
    }
}

/// The greatest excess along one row.
fn worst_row(now: [&[f32]; 3], stable: &[f32]) -> f32 {
    let n = stable.len() - 2;
    let (here, there) = (&now[1][1..n + 1], around(now, n));
    let most = |i: usize| {
        let excesses = there.iter().enumerate();
        excesses.fold(0.0, |most: f32, (k, there)| {
            most.max(excess(here[i], there[i], stable[i + 1], k))
        })
    };
    (0..n).map(most).fold(0.0, f32::max)
}

/// What each cell of a row takes from its neighbours, into `deposit`; and the
/// heights after that.
#[allow(clippy::needless_range_loop)] // slices in step, by cell and neighbour
#[multiversion::multiversion(targets = "simd")]
fn take_row(
    now: [&[f32]; 3],
    stable: [&[f32]; 3],
    rate: [&[f32]; 3],
    weigh: Weigh,
    (base, wear): (&[f32], &[f32]),
    deposit: &mut [f32],
    next: &mut [f32],
) {
    let n = next.len();
    let (here, there) = (&now[1][1..n + 1], around(now, n));
    let (stable, rate) = (around(stable, n), around(rate, n));
    let (base, wear, deposit) = (&base[..n], &wear[..n], &mut deposit[..n]);
    for i in 0..n {
        let mut come = 0.0;
        for k in 0..8 {
            // A wall gives nothing: its rate is 0. Its height is kept small
            // enough for the product, or infinity times 0 would come.
            let from = there[k][i].min(WALL_M * 0.5);
            come += rate[k][i] * weigh.of(excess(from, here[i], stable[k][i], k));
        }
        deposit[i] += come;
        next[i] = base[i] + (deposit[i] - wear[i]);
    }
}
