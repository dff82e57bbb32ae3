//! Results that may be needed again, within a budget of bytes.

use std::sync::Arc;
use std::sync::atomic::{AtomicU64, Ordering};

use moka::policy::EvictionPolicy;
use moka::sync::Cache as Lru;
use terrain::erosion::Ledger;
use terrain::grid::Pyramid;

use super::key::Key;
use super::state::State;
use super::worked::OfGrid;

/// A result worth keeping.
#[derive(Clone)]
pub(crate) enum Kept {
    /// A strand after some steps.
    State(Arc<State>),
    /// One grid of a process that needs the whole land.
    OfGrid(Arc<OfGrid>),
    /// An image, ready to be read anywhere.
    Image(Arc<Pyramid>),
    /// What a step's mask lets through of a ledger.
    Ledger(Ledger),
}

impl Kept {
    fn bytes(&self) -> usize {
        match self {
            Kept::State(state) => state.bytes(),
            Kept::OfGrid(of_grid) => of_grid.bytes(),
            // A pyramid takes a third more than its image.
            Kept::Ledger(ledger) => size_of_val(ledger),
            Kept::Image(image) => size_of_val(image.image().values()) * 4 / 3,
        }
    }
}

/// How full the cache is and how often it helped.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct CacheUse {
    /// Bytes kept.
    pub bytes: usize,
    /// Most bytes that may be kept.
    pub budget: usize,
    /// Results found.
    pub hits: u64,
    /// Results that had to be grown.
    pub misses: u64,
}

/// Keeps what was used last, up to a budget.
pub(crate) struct Cache {
    kept: Lru<Key, Kept>,
    budget: usize,
    hits: AtomicU64,
    misses: AtomicU64,
}

/// What is kept is weighed in KiB, so that a weight of 32 bits holds any of it.
pub(super) const UNIT: usize = 1 << 10;

/// The weight of so many bytes.
pub(super) fn weight(bytes: usize) -> u32 {
    u32::try_from(bytes.div_ceil(UNIT)).unwrap_or(u32::MAX)
}

impl Cache {
    pub(crate) fn new(budget: usize) -> Self {
        let kept = Lru::builder()
            .max_capacity((budget / UNIT) as u64)
            .weigher(|_: &Key, kept: &Kept| weight(kept.bytes()))
            .eviction_policy(EvictionPolicy::lru())
            .build();
        Self {
            kept,
            budget,
            hits: AtomicU64::default(),
            misses: AtomicU64::default(),
        }
    }

    pub(crate) fn get(&self, key: Key) -> Option<Kept> {
        let found = self.kept.get(&key);
        let count = match found {
            Some(_) => &self.hits,
            None => &self.misses,
        };
        count.fetch_add(1, Ordering::Relaxed);
        found
    }

    pub(crate) fn put(&self, key: Key, kept: Kept) {
        // One giant must not push out everything else.
        if kept.bytes() > self.budget / 4 {
            return;
        }
        self.kept.insert(key, kept);
        // What is over the budget goes now, not some time later.
        self.kept.run_pending_tasks();
    }

    pub(crate) fn usage(&self) -> CacheUse {
        CacheUse {
            bytes: self.kept.weighted_size() as usize * UNIT,
            budget: self.budget,
            hits: self.hits.load(Ordering::Relaxed),
            misses: self.misses.load(Ordering::Relaxed),
        }
    }
}

#[cfg(test)]
mod tests {
    use terrain::{Extent, Frame};

    use super::*;

    fn state(cells: usize) -> Kept {
        let extent = Extent {
            width_m: 1e3,
            depth_m: 1e3,
        };
        Kept::State(Arc::new(State::bare(Frame::with_cells(extent, cells))))
    }

    fn key(n: u32) -> Key {
        Key::of_asset(&n.to_string())
    }

    #[test]
    fn never_more_than_the_budget_and_what_was_used_last_stays() {
        // 16 KiB each: four of them fit.
        let cache = Cache::new(64 << 10);
        for n in 0..4 {
            cache.put(key(n), state(64));
        }
        assert_eq!(cache.usage().bytes, 64 << 10);
        assert!(cache.get(key(0)).is_some());
        for n in 4..7 {
            cache.put(key(n), state(64));
            assert!(cache.usage().bytes <= 64 << 10);
        }
        let left: Vec<u32> = (0..7).filter(|&n| cache.get(key(n)).is_some()).collect();
        assert_eq!(left, [0, 4, 5, 6]);
        // Larger than a quarter of the budget: it would push out all others.
        cache.put(key(8), state(65));
        assert!(cache.get(key(8)).is_none());
        assert_eq!((cache.usage().hits, cache.usage().misses), (5, 4));
    }
}
