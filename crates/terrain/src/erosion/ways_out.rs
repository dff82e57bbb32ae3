//! Ways out of pits.

use std::collections::BinaryHeap;

use super::neighbours::NEIGHBOURS;
use super::radix_heap::sortable;

/// A search from a pit, upwards as little as can be.
pub(super) struct Ways {
    cols: usize,
    /// The lowest first, of those the earliest found: keys turned around.
    open: BinaryHeap<(u32, u32, usize)>,
    /// What each place that has been seen was found from.
    came_from: Vec<u32>,
    seen: Vec<usize>,
    /// So many of them had been seen before the search climbed.
    before_climbing: usize,
}

impl Ways {
    const UNSEEN: u32 = u32::MAX;

    /// For land of so many cells.
    pub(super) fn over(cols: usize, rows: usize) -> Self {
        Self {
            cols,
            open: BinaryHeap::new(),
            came_from: vec![Self::UNSEEN; cols * rows],
            seen: Vec::new(),
            before_climbing: 0,
        }
    }

    /// The first place that `is_out`, on the way from `pit` that climbs least.
    pub(super) fn out_of(
        &mut self,
        pit: usize,
        values: &[f32],
        is_out: impl Fn(usize, f32) -> bool,
    ) -> usize {
        self.open.clear();
        for i in self.seen.drain(..) {
            self.came_from[i] = Self::UNSEEN;
        }
        self.see(pit, pit, values);
        self.before_climbing = 1;
        let mut climbed = false;
        while let Some((_, _, at)) = self.open.pop() {
            climbed |= values[at] > values[pit];
            for (dc, dr, _) in NEIGHBOURS {
                // Whatever is searched from lies inside: the border is a way out.
                let next = (at as i64 + dr * self.cols as i64 + dc) as usize;
                if self.came_from[next] != Self::UNSEEN {
                    continue;
                }
                self.see(next, at, values);
                if !climbed {
                    self.before_climbing = self.seen.len();
                }
                if is_out(next, values[next]) {
                    return next;
                }
            }
        }
        pit
    }

    /// The place before `place` on the way that was found last.
    pub(super) fn before(&self, place: usize) -> usize {
        self.came_from[place] as usize
    }

    /// What was seen from the pit and the ground that is level with it.
    pub(super) fn seen_level(&self) -> &[usize] {
        &self.seen[..self.before_climbing]
    }

    fn see(&mut self, place: usize, from: usize, values: &[f32]) {
        let earliest = u32::MAX - self.seen.len() as u32;
        self.came_from[place] = from as u32;
        self.seen.push(place);
        self.open.push((!sortable(values[place]), earliest, place));
    }
}
