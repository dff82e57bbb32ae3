//! Results that may be needed again, within a budget of bytes.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

use terrain::grid::Pyramid;

use super::key::Key;
use super::state::State;
use super::worked::Worked;

/// A result worth keeping.
#[derive(Clone)]
pub(crate) enum Kept {
    /// A strand after some steps.
    State(Arc<State>),
    /// One level of a process that needs the whole land.
    Worked(Arc<Worked>),
    /// An image, ready to be read anywhere.
    Image(Arc<Pyramid>),
}

impl Kept {
    fn bytes(&self) -> usize {
        match self {
            Kept::State(state) => state.bytes(),
            Kept::Worked(worked) => {
                (1 + worked.traces.len()) * worked.frame.cells() * size_of::<f32>()
            }
            // A pyramid takes a third more than its image.
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
    inner: Mutex<Inner>,
}

struct Inner {
    kept: HashMap<Key, (Kept, u64)>,
    clock: u64,
    usage: CacheUse,
}

impl Cache {
    pub(crate) fn new(budget: usize) -> Self {
        let usage = CacheUse {
            budget,
            ..CacheUse::default()
        };
        Self {
            inner: Mutex::new(Inner {
                kept: HashMap::new(),
                clock: 0,
                usage,
            }),
        }
    }

    fn lock(&self) -> MutexGuard<'_, Inner> {
        // The cache is consistent between any two statements below; a panic
        // elsewhere must not take it along.
        self.inner.lock().unwrap_or_else(PoisonError::into_inner)
    }

    pub(crate) fn get(&self, key: Key) -> Option<Kept> {
        let mut inner = self.lock();
        inner.clock += 1;
        let now = inner.clock;
        let found = inner.kept.get_mut(&key).map(|(kept, used)| {
            *used = now;
            kept.clone()
        });
        match found {
            Some(_) => inner.usage.hits += 1,
            None => inner.usage.misses += 1,
        }
        found
    }

    pub(crate) fn put(&self, key: Key, kept: Kept) {
        let mut inner = self.lock();
        // One giant must not push out everything else.
        let size = kept.bytes();
        if size > inner.usage.budget / 4 {
            return;
        }
        inner.clock += 1;
        let now = inner.clock;
        if let Some((old, _)) = inner.kept.insert(key, (kept, now)) {
            inner.usage.bytes -= old.bytes();
        }
        inner.usage.bytes += size;
        while inner.usage.bytes > inner.usage.budget {
            let oldest = inner
                .kept
                .iter()
                .min_by_key(|(_, (_, used))| *used)
                .map(|(&key, _)| key);
            let Some((gone, _)) = oldest.and_then(|key| inner.kept.remove(&key)) else {
                break;
            };
            inner.usage.bytes -= gone.bytes();
        }
    }

    pub(crate) fn usage(&self) -> CacheUse {
        self.lock().usage
    }
}
