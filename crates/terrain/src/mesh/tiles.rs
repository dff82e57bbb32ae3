//! Land cut into tiles whose borders meet exactly.

use rayon::prelude::*;

use super::refined::Refinement;
use super::{Goal, Lattice, Mesh};
use crate::{Cancelled, Run};

/// One tile of a land.
#[derive(Clone, Debug)]
pub struct Tile {
    /// Its place among the others: columns from the west, rows from the north.
    pub at: (usize, usize),
    /// Its triangles; its border is that of its neighbours, vertex for vertex.
    pub mesh: Mesh,
    /// The part of the lattice that it was made of.
    pub of: Lattice,
}

/// Land in tiles of `side` cells, all of them within `goal`.
///
/// Borders are reduced first, each by its own heights alone (Douglas and Peucker 1973), so
/// that both neighbours have the same ones, at any size of tile and any number of threads.
/// Tiles are not closed.
///
/// # Errors
/// [`Cancelled`] when the run was asked to stop.
pub fn tiled(lattice: &Lattice, side: usize, goal: Goal, run: Run) -> Result<Vec<Tile>, Cancelled> {
    /// Borders of tiles take more triangles than land without them.
    const COARSER: f64 = 1.1;
    let mut error_m = goal.error_m;
    if goal.most_triangles < lattice.most_triangles() {
        let mut whole = Refinement::begin(lattice, true);
        whole.until(goal, run)?;
        error_m = error_m.max(whole.worst_m());
    }
    loop {
        let tiles = within(lattice, side, error_m, run)?;
        let triangles: usize = tiles.iter().map(|tile| tile.mesh.triangles.len()).sum();
        let least = tiles.iter().all(|tile| tile.mesh.triangles.len() <= 2);
        if triangles <= goal.most_triangles || least {
            return Ok(tiles);
        }
        error_m = error_m.max(f64::MIN_POSITIVE) * COARSER;
    }
}

/// Tiles no place of which is farther than `error_m` from the land.
fn within(lattice: &Lattice, side: usize, error_m: f64, run: Run) -> Result<Vec<Tile>, Cancelled> {
    let (across, down) = (cuts(lattice.cols(), side), cuts(lattice.rows(), side));
    let columns = across.len() - 1;
    let places: Vec<_> = (0..columns * (down.len() - 1))
        .map(|at| (at % columns, at / columns))
        .collect();
    let tile = |&(x, y): &(usize, usize)| {
        let of = lattice.part(across[x]..=across[x + 1], down[y]..=down[y + 1]);
        let mut refinement = Refinement::begin(&of, false);
        refinement.add_all(border(&of, error_m).into_iter());
        let goal = Goal {
            most_triangles: usize::MAX,
            error_m,
            closed: false,
        };
        refinement.until(goal, run.quietly())?;
        let mesh = refinement.mesh();
        Ok(Tile {
            at: (x, y),
            mesh,
            of,
        })
    };
    places.par_iter().map(tile).collect()
}

/// The lines along which it is cut, the edges of the land among them.
fn cuts(count: usize, side: usize) -> Vec<usize> {
    let last = count - 1;
    let mut cuts: Vec<usize> = (0..last).step_by(side.max(1)).collect();
    // A sliver at the end belongs to the tile before it.
    if cuts.len() > 1 && last - cuts[cuts.len() - 1] < side.div_ceil(8) {
        cuts.pop();
    }
    cuts.push(last);
    cuts
}

/// The places of the border that are kept, as columns and rows.
fn border(of: &Lattice, error_m: f64) -> Vec<(usize, usize)> {
    let (east, south) = (of.cols() - 1, of.rows() - 1);
    let mut kept = Vec::new();
    for row in [0, south] {
        let line: Vec<_> = (0..=east).map(|col| along(of, col, row, 0)).collect();
        kept.extend(reduced(&line, error_m).into_iter().map(|col| (col, row)));
    }
    for col in [0, east] {
        let line: Vec<_> = (0..=south).map(|row| along(of, col, row, 1)).collect();
        kept.extend(reduced(&line, error_m).into_iter().map(|row| (col, row)));
    }
    kept
}

/// Where a place lies along a line, and how high, metres.
fn along(of: &Lattice, col: usize, row: usize, axis: usize) -> [f64; 2] {
    let place = of.place(col, row);
    [place[axis], place[2]]
}

/// The points of a profile that are enough for it to be within `error_m` everywhere.
fn reduced(line: &[[f64; 2]], error_m: f64) -> Vec<usize> {
    let mut kept = vec![0, line.len() - 1];
    let mut spans = vec![(0, line.len() - 1)];
    while let Some((first, last)) = spans.pop() {
        let ([x0, z0], [x1, z1]) = (line[first], line[last]);
        let apart = |at: usize| {
            let [x, z] = line[at];
            (z0 + (z1 - z0) * (x - x0) / (x1 - x0) - z).abs()
        };
        let worst = (first + 1..last).max_by(|&a, &b| apart(a).total_cmp(&apart(b)));
        if let Some(worst) = worst.filter(|&at| apart(at) > error_m) {
            kept.push(worst);
            spans.extend([(first, worst), (worst, last)]);
        }
    }
    kept.sort_unstable();
    kept
}
