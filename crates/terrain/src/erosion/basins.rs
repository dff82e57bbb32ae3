//! Hollows of the land, the passes between them, and how high each one fills.

use rayon::prelude::*;

use super::neighbours::NEIGHBOURS;
use super::radix_heap::{RadixHeap, height, sortable};

/// The part of the land that drains to one pit, or, as basin 0, straight to
/// an outlet.
pub(super) struct Basins {
    /// The basin of each cell.
    pub(super) of: Vec<u32>,
    /// How many there are, basin 0 included.
    pub(super) count: usize,
}

/// How a basin overflows.
#[derive(Clone, Copy)]
pub(super) struct Overflow {
    /// Height to which it fills, metres.
    pub(super) level: f32,
    /// The basin's cell at the pass, and the one beyond.
    pub(super) over: (u32, u32),
}

/// A place where two basins touch: the lower of two neighbours is under
/// water once this height is reached.
#[derive(Clone, Copy)]
struct Pass {
    height: f32,
    basins: (u32, u32),
    cells: (u32, u32),
}

impl Basins {
    /// Follows `receivers` down to where they end: a cell that is its own
    /// receiver is an outlet when `outlet` says so, else a pit.
    pub(super) fn of(receivers: &[u32], outlet: impl Fn(usize) -> bool) -> Self {
        const UNKNOWN: u32 = u32::MAX;
        let mut of = vec![UNKNOWN; receivers.len()];
        let mut count = 1;
        let mut way = Vec::new();
        for start in 0..of.len() {
            let mut here = start;
            while of[here] == UNKNOWN {
                way.push(here);
                let below = receivers[here] as usize;
                if below == here {
                    of[here] = match outlet(here) {
                        true => 0,
                        false => count,
                    };
                    count += u32::from(of[here] != 0);
                    break;
                }
                here = below;
            }
            let basin = of[here];
            for cell in way.drain(..) {
                of[cell] = basin;
            }
        }
        Self {
            of,
            count: count as usize,
        }
    }

    /// How each basin overflows; `None` for basin 0.
    ///
    /// Priority-Flood (Barnes, Lehman and Mulla 2014) from the outlets, over
    /// basins and not over cells: of all basins that touch what is reached,
    /// the one with the lowest pass is next.
    pub(super) fn overflows(&self, heights: &[f32], cols: usize) -> Vec<Option<Overflow>> {
        let mut overflows = vec![None; self.count];
        if self.count == 1 {
            return overflows;
        }
        let passes = self.passes(heights, cols);
        let at = by_basin(&passes, self.count);
        let mut reached = vec![false; self.count];
        let mut heap = RadixHeap::new();
        let mut basin = 0;
        let mut level = 0;
        loop {
            reached[basin] = true;
            for &pass in at.of(basin) {
                let (a, b) = passes[pass as usize].basins;
                if !(reached[a as usize] && reached[b as usize]) {
                    heap.push(sortable(passes[pass as usize].height).max(level), pass);
                }
            }
            // The lowest pass to somewhere new.
            let next = loop {
                let Some((key, pass)) = heap.pop() else {
                    return overflows;
                };
                let pass = &passes[pass as usize];
                let ((a, b), (i, j)) = (pass.basins, pass.cells);
                match (reached[a as usize], reached[b as usize]) {
                    (true, true) => {}
                    (true, false) => break (key, b, (j, i)),
                    (false, _) => break (key, a, (i, j)),
                }
            };
            let (key, new, over) = next;
            level = key;
            basin = new as usize;
            overflows[basin] = Some(Overflow {
                level: height(key),
                over,
            });
        }
    }

    /// The places where basins touch. Of the many between two basins at least
    /// the lowest is among them.
    fn passes(&self, heights: &[f32], cols: usize) -> Vec<Pass> {
        /// Rows gathered together, so that the result does not depend on
        /// threads.
        const ROWS: usize = 32;
        let rows = heights.len() / cols;
        let blocks: Vec<Vec<Pass>> = (0..rows.div_ceil(ROWS))
            .into_par_iter()
            .map(|block| {
                let mut lowest = Lowest::new();
                for r in block * ROWS..((block + 1) * ROWS).min(rows) {
                    self.passes_of_row(heights, cols, r, &mut lowest);
                }
                lowest.all()
            })
            .collect();
        blocks.concat()
    }

    fn passes_of_row(&self, heights: &[f32], cols: usize, r: usize, lowest: &mut Lowest) {
        let rows = heights.len() / cols;
        for c in 0..cols {
            let i = r * cols + c;
            let mut meet = |j: usize| {
                let (a, b) = (self.of[i], self.of[j]);
                if a != b {
                    lowest.add(Pass {
                        height: heights[i].max(heights[j]),
                        basins: (a, b),
                        cells: (i as u32, j as u32),
                    });
                }
            };
            if c + 1 < cols {
                meet(i + 1);
            }
            if r + 1 < rows {
                if c > 0 {
                    meet(i + cols - 1);
                }
                meet(i + cols);
                if c + 1 < cols {
                    meet(i + cols + 1);
                }
            }
        }
    }
}

/// Passes, of which repeated ones between the same two basins are mostly
/// weeded out: a table with one place for each of some pairs.
struct Lowest {
    table: Vec<Option<Pass>>,
    rest: Vec<Pass>,
}

impl Lowest {
    const PLACES: usize = 1 << 10;

    fn new() -> Self {
        Self {
            table: vec![None; Self::PLACES],
            rest: Vec::new(),
        }
    }

    fn add(&mut self, pass: Pass) {
        let (a, b) = pass.basins;
        let (low, high) = (a.min(b), a.max(b));
        // Fibonacci hashing (Knuth, TAOCP 3, 6.4).
        let hash = (low.wrapping_mul(0x9E37_79B9) ^ high).wrapping_mul(0x9E37_79B9);
        let place = &mut self.table[hash as usize >> (u32::BITS - Self::PLACES.ilog2())];
        match place {
            Some(known) if known.basins == (a, b) || known.basins == (b, a) => {
                if pass.height < known.height {
                    *known = pass;
                }
            }
            _ => self.rest.extend(place.replace(pass)),
        }
    }

    fn all(mut self) -> Vec<Pass> {
        self.rest.extend(self.table.into_iter().flatten());
        self.rest
    }
}

/// The passes of each basin, as indices.
struct ByBasin {
    starts: Vec<u32>,
    passes: Vec<u32>,
}

impl ByBasin {
    fn of(&self, basin: usize) -> &[u32] {
        &self.passes[self.starts[basin] as usize..self.starts[basin + 1] as usize]
    }
}

fn by_basin(passes: &[Pass], count: usize) -> ByBasin {
    let ends = |pass: &Pass| [pass.basins.0 as usize, pass.basins.1 as usize];
    let mut starts = vec![0_u32; count + 1];
    for basin in passes.iter().flat_map(ends) {
        starts[basin + 1] += 1;
    }
    for k in 0..count {
        starts[k + 1] += starts[k];
    }
    let mut next = starts.clone();
    let mut sorted = vec![0; 2 * passes.len()];
    for (k, pass) in passes.iter().enumerate() {
        for basin in ends(pass) {
            sorted[next[basin] as usize] = k as u32;
            next[basin] += 1;
        }
    }
    ByBasin {
        starts,
        passes: sorted,
    }
}

/// Turns the way from a basin's pit to its pass round, so that what arrives at
/// the pit goes on over the pass.
pub(super) fn turn_out(receivers: &mut [u32], (from, to): (u32, u32)) {
    let (mut here, mut towards) = (from, to);
    loop {
        let below = std::mem::replace(&mut receivers[here as usize], towards);
        if below == here {
            return;
        }
        (towards, here) = (here, below);
    }
}

/// All cells, each after its receiver: outlets in row-major order, each one
/// followed by all that drains to it.
pub(super) fn downstream_first(receivers: &[u32], cols: usize) -> Vec<u32> {
    let rows = receivers.len() / cols;
    // Which neighbours drain to each cell, a bit for each.
    let mut donors = vec![0_u8; receivers.len()];
    let by_rows = donors.par_chunks_mut(cols).enumerate();
    by_rows.for_each(|(r, row)| {
        let near = [r.checked_sub(1), Some(r), Some(r + 1).filter(|&r| r < rows)];
        let near = near.map(|r| r.map(|r| &receivers[r * cols..][..cols]));
        for (k, (dc, dr, _)) in NEIGHBOURS.into_iter().enumerate() {
            if let Some(there) = near[(dr + 1) as usize] {
                note_donors(there, dc, (r * cols) as u32, 1 << k, row);
            }
        }
    });
    let steps = NEIGHBOURS.map(|(dc, dr, _)| dr * cols as i64 + dc);
    let mut order = Vec::with_capacity(receivers.len());
    let mut waiting = Vec::new();
    for (i, &receiver) in receivers.iter().enumerate() {
        if receiver as usize != i {
            continue;
        }
        waiting.push(i as u32);
        while let Some(cell) = waiting.pop() {
            order.push(cell);
            let mut donors = donors[cell as usize];
            while donors != 0 {
                let k = donors.trailing_zeros() as usize;
                donors &= donors - 1;
                waiting.push((i64::from(cell) + steps[k]) as u32);
            }
        }
    }
    order
}

/// Notes with a `bit` which cells of a row, the first of which is called `first`, have a
/// donor `dc` columns on in the row of the receivers `there`.
#[multiversion::multiversion(targets = "simd")]
fn note_donors(there: &[u32], dc: i64, first: u32, bit: u8, donors: &mut [u8]) {
    let n = donors.len();
    let skipped = dc.unsigned_abs() as usize;
    // Cells whose neighbour would lie beyond the end of the row have none.
    let (from, there) = match dc < 0 {
        true => (skipped, &there[..n - skipped]),
        false => (0, &there[skipped..]),
    };
    let called = (first + from as u32)..;
    for ((donors, receiver), i) in donors[from..].iter_mut().zip(there).zip(called) {
        *donors |= if *receiver == i { bit } else { 0 };
    }
}
