//! Floors of valleys: a river wanders from side to side and planes what it reaches, the
//! wider the more land drains through it (Langston and Tucker 2018).

use super::FIRM;
use super::carry::Step;
use super::grove::look_up;
use crate::erosion::neighbours::shifted;
use crate::{Cancelled, Grid, Run};

/// Floors widen with the drainage area to this power (Langston and Tucker 2018 gather 0.3 to
/// 0.5 from valleys in rock, from memory).
const WIDENS: f32 = 0.45;
/// Rivers that fall by more than this cut down faster than they wander (Montgomery and
/// Buffington 1997: beds are level across below some 0.03, steps and cascades above 0.065,
/// from memory).
const STEEP: f32 = 0.05;
/// Floors are as many times wider as the square root of what the rock gives, so that gorges
/// in hard rock follow basins in soft rock; so many times at most.
const WIDEST: f32 = 3.0;
/// A floor shows from so many cells on either side of its river on, and in full from the
/// second of them.
const SHOWS_CELLS: (f32, f32) = (0.75, 2.0);
/// The fall of a river is that over so many cells, and so many times the reach of its floor:
/// from cell to cell it is chance.
const FALL_OVER: (f32, f32) = (8.0, 5.0);
/// Fall of a floor towards its river, metres per metre.
const FALL: f32 = 0.015;
/// The foot of the valley's side is rounded over so many cells.
const FOOT_CELLS: f32 = 1.5;
/// A river takes off a bank in one step at most what is this share of a cell high: it needs
/// time for a spur, and cuts no moat into what a coarser grid has made.
const BANK: f32 = 0.4;

/// What is known of a place that a river may plane. Lengths in metres.
pub(super) struct Bank {
    /// How far it lies inside the floor, in cells.
    pub(super) inside_cells: f32,
    /// How high it stands above the one that it drains to, how far that is, and how high it
    /// could stand.
    pub(super) height: f32,
    pub(super) way: f32,
    pub(super) most_above: f32,
    /// See [`Ground::erodibility`](super::Ground::erodibility).
    pub(super) erodibility: f32,
    pub(super) cell: f32,
}

impl Bank {
    /// How high it may stand above the one that it drains to when the river has passed,
    /// metres.
    pub(super) fn planed(self) -> f32 {
        let share = (self.inside_cells / FOOT_CELLS).min(1.0);
        let rounded = share * share * (3.0 - 2.0 * share);
        let left = self.height - BANK * self.cell * self.erodibility.min(1.0);
        let floor = (FALL * self.way).max(left).min(self.most_above);
        self.most_above + rounded * (floor - self.most_above)
    }
}

impl Step<'_> {
    /// How far inside the floor of a river each cell lies, in cells; 0 elsewhere and on the
    /// river itself. None where no floor is as wide as the grid can show. `receivers` and
    /// `area` are in the order of work.
    pub(super) fn floors(
        &self,
        receivers: &[u32],
        area: &[f32],
        run: Run,
    ) -> Result<Option<Grid>, Cancelled> {
        let Some(rivers) = self.half_widths(receivers, area, run)? else {
            return Ok(None);
        };
        run.check()?;
        let mut inside = spread(&rivers);
        let beside = |inside: f32, river: f32| if inside > river { inside } else { 0.0 };
        inside.zip_in_place(&rivers, beside);
        Ok(Some(inside))
    }

    /// How far the floor of each river goes to either side of it, in cells; 0 beside rivers.
    fn half_widths(
        &self,
        receivers: &[u32],
        area: &[f32],
        run: Run,
    ) -> Result<Option<Grid>, Cancelled> {
        let (shows, in_full) = SHOWS_CELLS;
        let (over_cells, over_reach) = FALL_OVER;
        let cell = self.cell_m as f32;
        let cell_km2 = cell * cell * 1e-6;
        let half = 0.5 * self.law.floors_m as f32 / cell;
        let sea = self.law.sea_level_m as f32;
        // Below this no floor shows in any rock.
        let least_area = (shows / (half * WIDEST)).powf(1.0 / WIDENS) / cell_km2;
        let (heights, erodibility) = (self.heights.values(), self.ground.erodibility.values());
        // None is known where a river ends.
        let mut falls = vec![f32::NAN; receivers.len()];
        let mut rivers: Option<Grid> = None;
        for (k, &i) in self.drainage.order.iter().enumerate() {
            look_up(k, run)?;
            let (i, receiver) = (i as usize, receivers[k] as usize);
            if area[k] < least_area || receiver == k || erodibility[i] <= FIRM || heights[i] < sea {
                continue;
            }
            let below = self.drainage.receivers[i] as usize;
            let per_cell = self.nodes.between(i, below);
            let soft = erodibility[i].sqrt().min(WIDEST);
            let level = half * (area[k] * cell_km2).powf(WIDENS) * soft;
            let fall = (heights[i] - heights[below]).max(0.0) * per_cell / cell;
            let over = per_cell * over_cells.max(over_reach * level);
            falls[k] = match falls[receiver] {
                ends if ends.is_nan() => fall,
                below => below + (fall - below) / over.max(1.0),
            };
            let wanders = level / (1.0 + (falls[k] / STEEP).powi(2));
            let shown = ((wanders - shows) / (in_full - shows)).clamp(0.0, 1.0);
            if shown > 0.0 {
                let (cols, rows) = (self.heights.cols(), self.heights.rows());
                let rivers = rivers.get_or_insert_with(|| Grid::filled(cols, rows, 0.0));
                rivers.values_mut()[i] = wanders * shown;
            }
        }
        Ok(rivers)
    }
}

/// What of `rivers`, which go so many cells far, comes to each cell, less the way there: the
/// greatest, by a chamfer (Borgefors 1986), of which what goes north and what goes south are
/// found apart.
fn spread(rivers: &Grid) -> Grid {
    let cols = rivers.cols();
    let (mut south, mut north) = (rivers.clone(), rivers.clone());
    rayon::join(
        || pass(south.values_mut().chunks_mut(cols)),
        || pass(north.values_mut().rchunks_mut(cols)),
    );
    south.zip_in_place(&north, f32::max);
    south
}

/// One way over the rows, and both ways along each of them.
fn pass<'a>(rows: impl Iterator<Item = &'a mut [f32]>) {
    let mut before: Option<&mut [f32]> = None;
    for here in rows {
        if let Some(before) = before {
            from_row(before, here);
        }
        let mut comes = 0.0;
        for part in here.chunks_mut(TOGETHER) {
            comes = along(part, comes, |part, comes| part.iter_mut().fold(comes, on));
        }
        comes = 0.0;
        for part in here.rchunks_mut(TOGETHER) {
            comes = along(part, comes, |part, comes| {
                part.iter_mut().rev().fold(comes, on)
            });
        }
        before = Some(here);
    }
}

/// Cells that are passed over at once where nothing reaches: most of the land.
const TOGETHER: usize = 64;

/// What comes along a part of a row, one way or the other, where `comes` arrives: what goes on.
fn along(part: &mut [f32], comes: f32, spread: impl Fn(&mut [f32], f32) -> f32) -> f32 {
    let nothing = comes <= 1.0 && part.iter().all(|reach| *reach == 0.0);
    if nothing { 0.0 } else { spread(part, comes) }
}

/// One cell on.
fn on(comes: f32, reach: &mut f32) -> f32 {
    *reach = reach.max(comes - 1.0);
    *reach
}

/// What comes from the row beside.
#[multiversion::multiversion(targets = "simd")]
fn from_row(beside: &[f32], here: &mut [f32]) {
    use std::f32::consts::SQRT_2;
    let last = here.len() - 1;
    for c in [0, last] {
        let corners = beside[c.saturating_sub(1)].max(beside[(c + 1).min(last)]);
        here[c] = here[c].max(beside[c] - 1.0).max(corners - SQRT_2);
    }
    let n = last.saturating_sub(1);
    if n == 0 {
        return;
    }
    let [west, beside, east] = shifted(beside, n);
    for (c, reach) in here[1..n + 1].iter_mut().enumerate() {
        let corners = west[c].max(east[c]) - SQRT_2;
        *reach = reach.max(beside[c] - 1.0).max(corners);
    }
}
