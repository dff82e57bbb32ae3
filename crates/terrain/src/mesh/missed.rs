//! What a triangle misses of the land that it lies over, and which ones miss most.

use super::Lattice;
use super::within::{Plane, rows_within};

/// The place that a triangle misses most.
#[derive(Clone, Copy, Default)]
pub(super) struct Missed {
    /// How much, metres; more at a coast, 0 when there is none.
    pub(super) by: f64,
    col: u32,
    row: u32,
}

/// Less than this is rounding, metres.
const NOTHING_M: f64 = 1e-4;
/// A place that would be on the wrong side of the coast counts this many times.
const COAST: f64 = 4.0;

impl Missed {
    /// Its column and its row.
    pub(super) fn place(&self) -> (usize, usize) {
        (self.col as usize, self.row as usize)
    }

    /// Where it comes along a curve through all places that keeps neighbours together
    /// (Morton 1966).
    pub(super) fn along_z(&self) -> u64 {
        apart(self.col) | apart(self.row) << 1
    }
}

/// The bits of a number, a gap after each.
fn apart(number: u32) -> u64 {
    let mut bits = u64::from(number);
    for (shift, kept) in [
        (16, 0x0000_ffff_0000_ffff),
        (8, 0x00ff_00ff_00ff_00ff),
        (4, 0x0f0f_0f0f_0f0f_0f0f),
        (2, 0x3333_3333_3333_3333),
        (1, 0x5555_5555_5555_5555),
    ] {
        bits = (bits | bits << shift) & kept;
    }
    bits
}

/// What a triangle between these places of the lattice misses most; `border` says whether
/// that may be a place of the border.
pub(super) fn missed(lattice: &Lattice, corners: [(usize, usize); 3], border: bool) -> Missed {
    let mut most = Missed::default();
    if holds_nothing(corners) {
        return most;
    }
    let corners = corners.map(|(col, row)| lattice.place(col, row));
    let plane = Plane::through(corners);
    let inside = if border { 0 } else { 1 };
    let (cols, rows) = (lattice.cols() - inside, lattice.rows() - inside);
    let mut by = NOTHING_M;
    rows_within(lattice.axes(), corners, |row, columns| {
        if row < inside || row >= rows {
            return;
        }
        let heights = lattice.heights.row(row);
        let y_m = -lattice.south.at(row);
        let (first, end) = (columns.start.max(inside), columns.end.min(cols));
        for (col, height) in (first..end).zip(heights.get(first..end).unwrap_or_default()) {
            let height = f64::from(*height);
            let laid = plane.at(lattice.east.at(col), y_m);
            let mut apart = (laid - height).abs();
            if (laid > 0.0) != (height > 0.0) && apart > NOTHING_M {
                apart *= COAST;
            }
            if apart > by {
                by = apart;
                most = Missed {
                    by,
                    col: col as u32,
                    row: row as u32,
                };
            }
        }
    });
    most
}

/// Whether no place but its corners can lie in a triangle between these.
fn holds_nothing(corners: [(usize, usize); 3]) -> bool {
    let [(a, d), (b, e), (c, f)] = corners;
    let cols = a.max(b).max(c) - a.min(b).min(c);
    let rows = d.max(e).max(f) - d.min(e).min(f);
    cols <= 1 && rows <= 1
}

/// The triangles that miss something by more than `error_m`, at most so many, those that
/// miss most; the worst first, and of equal ones always the same.
pub(super) fn worst(missed: impl Iterator<Item = Missed>, error_m: f64, most: usize) -> Vec<usize> {
    let beyond = |&(_, by): &(usize, f64)| by > error_m.max(0.0);
    let missed = missed.map(|missed| missed.by).enumerate();
    let mut found: Vec<_> = missed.filter(beyond).collect();
    let worse = |a: &(usize, f64), b: &(usize, f64)| b.1.total_cmp(&a.1).then(a.0.cmp(&b.0));
    if found.len() > most && most > 0 {
        found.select_nth_unstable_by(most - 1, worse);
        found.truncate(most);
    }
    found.sort_unstable_by(worse);
    found.into_iter().map(|(triangle, _)| triangle).collect()
}
