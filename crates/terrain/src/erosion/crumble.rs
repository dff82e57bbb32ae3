//! Dry crumbling to a stable angle, of bare ground or of a cover that lies on it.
//!
//! What stands more steeply than is stable flows straight down the slope until it does
//! not: diffusion that sets in at a critical slope, dh/dt = div(κ·∇h) with κ = 1 − S_c/S
//! where the slope S exceeds S_c and 0 elsewhere (the sandpile of Prigozhin 1996; the
//! idea of crumbling to an angle: Musgrave, Kolb and Mace 1989, section 3). The slope is
//! that of the surface, not of the way to one of eight neighbours, so that cones are
//! round and faces have the direction of the land and not that of the grid.
//!
//! Ground crosses the sides of cells, and what leaves one arrives in the next; all cells
//! move at once, so that any number of threads gives the same bits. The border is
//! closed: nothing leaves.

use rayon::prelude::*;

use super::{Ledger, Level};
use crate::{Cancelled, Grid, Run};

/// What moves, and how.
#[derive(Clone, Copy, Debug)]
pub struct Crumbling<'a> {
    /// Tangent of the stable angle in each cell.
    pub talus: &'a Grid,
    /// 1 for plane faces with edges between them; below, slopes somewhat gentler than
    /// what is stable move too, more slowly, and all edges are rounded.
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

/// κ·dt/dx²: an explicit step in two dimensions is stable up to a quarter.
const SHARE: f32 = 0.23;
/// Of slopes that are stable, these shares of the stable one begin to round when nothing
/// is sharp, and so readily against those that are not stable.
const ROUNDS_FROM: f32 = 0.35;
const ROUNDS: f32 = 0.06;
/// Nothing moves any more when no more than this share of a cell's side crosses any side
/// of a cell in a step.
const STILL: f32 = 2e-5;
/// Steps between two looks at whether everything stands still.
const LOOK_EVERY: usize = 8;

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
    let none = || Grid::filled(cols, rows, 0.0_f32);
    let cell_m = level.cell_m as f32;
    let loose = crumbling.cover;
    let mut now = match loose {
        Some(cover) => heights.zip_map(cover, |ground, cover| ground + cover),
        None => heights.clone(),
    };
    let pace = Pace {
        fall: cell_m,
        from: 1.0 - ROUNDS_FROM * (1.0 - crumbling.sharpness),
    };
    // What crosses the east and the south side of each cell in a step, and in all,
    // metres. Summed by side, what leaves one cell arrives in the next to the bit.
    let mut crosses = Sides::none(cols, rows);
    let mut crossed = Sides::none(cols, rows);
    let mut shares = loose.map(|_| none());
    for step in 0..level.iterations {
        run.check()?;
        let most = crosses.open(&now, crumbling.talus, pace);
        if step.is_multiple_of(LOOK_EVERY) && most <= STILL * cell_m {
            break;
        }
        if let (Some(cover), Some(shares)) = (loose, &mut shares) {
            crosses.ration(&crossed, cover, shares);
        }
        crossed.add(&crosses);
        let moved = &crosses;
        now.for_each_row(|r, row| moved.move_row(r, row));
        run.report((step + 1) as f32 / level.iterations as f32);
    }
    let change = Grid::by_rows(cols, rows, |r, row| crossed.move_row(r, row));
    let (wear, deposit) = (change.map(|c| (-c).max(0.0)), change.map(|c| c.max(0.0)));
    let area_m2 = level.cell_m * level.cell_m;
    let ledger = Ledger {
        worn_m3: wear.sum() * area_m2,
        dropped_m3: deposit.sum() * area_m2,
        gained_m3: change.sum() * area_m2,
        ..Ledger::default()
    };
    Ok(Crumbled {
        wear,
        deposit,
        ledger,
    })
}

/// What crosses the sides of cells, metres: the east and the south side of each.
struct Sides {
    east: Grid,
    south: Grid,
}

impl Sides {
    fn none(cols: usize, rows: usize) -> Self {
        let none = || Grid::filled(cols, rows, 0.0);
        Self {
            east: none(),
            south: none(),
        }
    }

    /// What crosses them on land of `now`; the most of it.
    fn open(&mut self, now: &Grid, talus: &Grid, pace: Pace) -> f32 {
        let (cols, rows) = (now.cols(), now.rows());
        (self.east.values_mut().par_chunks_mut(cols))
            .zip(self.south.values_mut().par_chunks_mut(cols))
            .enumerate()
            .map(|(r, (east, south))| {
                let below = (r + 1).min(rows - 1);
                let heights = [r.saturating_sub(1), r, below].map(|r| now.row(r));
                let stable = [r, below].map(|r| talus.row(r));
                across_row(heights, stable[0], pace, east);
                match below > r {
                    true => down_row([heights[1], heights[2]], stable, pace, south),
                    false => south.fill(0.0),
                }
                let most = |sides: &[f32]| sides.iter().fold(0.0, |a: f32, b| a.max(b.abs()));
                most(east).max(most(south))
            })
            .reduce(|| 0.0, f32::max)
    }

    /// What a cell has gained, metres.
    #[inline(always)]
    fn gained(&self, c: usize, r: usize) -> f32 {
        let west = if c > 0 { self.east.at(c - 1, r) } else { 0.0 };
        let north = if r > 0 { self.south.at(c, r - 1) } else { 0.0 };
        (west + north) - (self.east.at(c, r) + self.south.at(c, r))
    }

    /// Adds what each cell of a row has gained.
    fn move_row(&self, r: usize, row: &mut [f32]) {
        let north = (r > 0).then(|| self.south.row(r - 1));
        gain_row(self.east.row(r), north, self.south.row(r), row);
    }

    fn add(&mut self, more: &Self) {
        for (sum, more) in [(&mut self.east, &more.east), (&mut self.south, &more.south)] {
            sum.for_each_row(|r, row| {
                for (sum, more) in row.iter_mut().zip(more.row(r)) {
                    *sum += more;
                }
            });
        }
    }

    /// Takes from what crosses so much that no cell gives more than it has: of its `cover`,
    /// after what has `crossed` before. `shares` is room to work in.
    fn ration(&mut self, crossed: &Self, cover: &Grid, shares: &mut Grid) {
        let sides = &*self;
        shares.for_each_row(|r, row| {
            for (c, share) in row.iter_mut().enumerate() {
                let west = if c > 0 { -sides.east.at(c - 1, r) } else { 0.0 };
                let north = if r > 0 {
                    -sides.south.at(c, r - 1)
                } else {
                    0.0
                };
                let gives = [sides.east.at(c, r), sides.south.at(c, r), west, north];
                let gives: f32 = gives.iter().map(|gives| gives.max(0.0)).sum();
                let has = (cover.at(c, r) + crossed.gained(c, r)).max(0.0);
                *share = (has / gives.max(f32::MIN_POSITIVE)).min(1.0);
            }
        });
        let shares = &*shares;
        let (cols, rows) = (shares.cols(), shares.rows());
        let of = |moved: f32, from: f32, to: f32| moved * if moved > 0.0 { from } else { to };
        self.east.for_each_row(|r, row| {
            for (c, moved) in row.iter_mut().enumerate() {
                *moved = of(*moved, shares.at(c, r), shares.at((c + 1).min(cols - 1), r));
            }
        });
        self.south.for_each_row(|r, row| {
            for (c, moved) in row.iter_mut().enumerate() {
                *moved = of(*moved, shares.at(c, r), shares.at(c, (r + 1).min(rows - 1)));
            }
        });
    }
}

/// How readily slopes move.
#[derive(Clone, Copy)]
struct Pace {
    /// Fall over a cell of a slope of 1, metres.
    fall: f32,
    /// The share of the stable slope from which on it rounds.
    from: f32,
}

impl Pace {
    /// What moves along `fall` (metres from cell to cell) where the land falls by
    /// `square` as its square in all, and is stable up to `talus`.
    #[inline(always)]
    fn moves(self, fall: f32, square: f32, talus: f32) -> f32 {
        let slope = square.sqrt().max(f32::MIN_POSITIVE);
        let stable = talus * self.fall;
        let excess = (slope - stable).max(0.0);
        let rounds = (slope.min(stable) - self.from * stable).max(0.0);
        SHARE * fall * ((excess + ROUNDS * rounds) / slope)
    }
}

/// What crosses the east sides of a row.
#[multiversion::multiversion(targets = "simd")]
fn across_row([above, here, below]: [&[f32]; 3], talus: &[f32], pace: Pace, east: &mut [f32]) {
    let n = east.len() - 1;
    let (a0, a1) = (&above[..n], &above[1..n + 1]);
    let (h0, h1) = (&here[..n], &here[1..n + 1]);
    let (b0, b1) = (&below[..n], &below[1..n + 1]);
    let (t0, t1) = (&talus[..n], &talus[1..n + 1]);
    let out = &mut east[..n];
    for c in 0..n {
        let fall = h0[c] - h1[c];
        let along = 0.25 * ((a0[c] + a1[c]) - (b0[c] + b1[c]));
        let talus = 0.5 * (t0[c] + t1[c]);
        out[c] = pace.moves(fall, fall * fall + along * along, talus);
    }
    east[n] = 0.0;
}

/// What crosses the south sides of a row, of which `here` is the heights.
#[multiversion::multiversion(targets = "simd")]
fn down_row(
    [here, below]: [&[f32]; 2],
    [talus, talus_below]: [&[f32]; 2],
    pace: Pace,
    south: &mut [f32],
) {
    let n = south.len();
    let moves = |[west, east]: [f32; 2], [here, below]: [f32; 2], talus: f32| {
        let (fall, across) = (here - below, 0.25 * (west - east));
        pace.moves(fall, fall * fall + across * across, talus)
    };
    let last = n - 1;
    for (c, west, east) in [(0, 0, 1.min(last)), (last, last.saturating_sub(1), last)] {
        let beside = [west, east].map(|c| here[c] + below[c]);
        let talus = 0.5 * (talus[c] + talus_below[c]);
        south[c] = moves(beside, [here[c], below[c]], talus);
    }
    if n < 3 {
        return;
    }
    let m = n - 2;
    let (h0, h1, h2) = (&here[..m], &here[1..m + 1], &here[2..m + 2]);
    let (b0, b1, b2) = (&below[..m], &below[1..m + 1], &below[2..m + 2]);
    let (t0, t1) = (&talus[1..m + 1], &talus_below[1..m + 1]);
    let out = &mut south[1..m + 1];
    for c in 0..m {
        let beside = [h0[c] + b0[c], h2[c] + b2[c]];
        out[c] = moves(beside, [h1[c], b1[c]], 0.5 * (t0[c] + t1[c]));
    }
}

/// Adds what the cells of a row have gained over their sides.
#[multiversion::multiversion(targets = "simd")]
fn gain_row(east: &[f32], north: Option<&[f32]>, south: &[f32], row: &mut [f32]) {
    let n = row.len();
    let (east, south) = (&east[..n], &south[..n]);
    match north {
        Some(north) => {
            let north = &north[..n];
            row[0] += north[0] - (east[0] + south[0]);
            for c in 1..n {
                row[c] += (east[c - 1] + north[c]) - (east[c] + south[c]);
            }
        }
        None => {
            row[0] -= east[0] + south[0];
            for c in 1..n {
                row[c] += east[c - 1] - (east[c] + south[c]);
            }
        }
    }
}
