//! A priority queue for keys that never fall below the last one taken.

/// A radix heap (Ahuja, Mehlhorn, Orlin and Tarjan 1990): pushing and popping
/// cost a few steps each, because keys only ever rise.
///
/// Entries with equal keys come out in an order that depends on nothing but
/// the calls made.
pub(super) struct RadixHeap {
    /// Bucket k holds keys whose highest bit that differs from `last` is k − 1.
    buckets: Vec<Vec<(u32, u32)>>,
    last: u32,
}

const BUCKETS: usize = 33;

impl RadixHeap {
    pub(super) fn new() -> Self {
        Self {
            buckets: vec![Vec::new(); BUCKETS],
            last: 0,
        }
    }

    fn bucket(&self, key: u32) -> usize {
        (u32::BITS - (key ^ self.last).leading_zeros()) as usize
    }

    /// Adds `value` under `key`, which must not be below the last one taken.
    pub(super) fn push(&mut self, key: u32, value: u32) {
        debug_assert!(key >= self.last, "keys only rise");
        let bucket = self.bucket(key);
        self.buckets[bucket].push((key, value));
    }

    /// Takes an entry with the lowest key.
    pub(super) fn pop(&mut self) -> Option<(u32, u32)> {
        if let Some(entry) = self.buckets[0].pop() {
            return Some(entry);
        }
        let first = (1..BUCKETS).find(|&b| !self.buckets[b].is_empty())?;
        let entries = std::mem::take(&mut self.buckets[first]);
        self.last = entries.iter().map(|(key, _)| *key).min()?;
        for &(key, value) in &entries {
            let bucket = self.bucket(key);
            self.buckets[bucket].push((key, value));
        }
        // The emptied bucket keeps its memory.
        self.buckets[first] = entries;
        self.buckets[first].clear();
        self.buckets[0].pop()
    }
}

/// Bits that sort as the number does.
pub(super) fn sortable(height: f32) -> u32 {
    let bits = height.to_bits();
    match bits >> 31 {
        0 => bits | 0x8000_0000,
        _ => !bits,
    }
}

/// The number whose [`sortable`] bits these are.
pub(super) fn height(sortable: u32) -> f32 {
    f32::from_bits(match sortable >> 31 {
        1 => sortable & 0x7fff_ffff,
        _ => !sortable,
    })
}

#[cfg(test)]
mod tests {
    use super::{RadixHeap, height, sortable};

    #[test]
    fn entries_come_out_in_order_while_keys_rise() {
        let mut heap = RadixHeap::new();
        let mut bits = 12_345_u32;
        let mut next = || {
            bits = bits.wrapping_mul(1_664_525).wrapping_add(1_013_904_223);
            bits >> 8
        };
        for i in 0..500 {
            heap.push(next(), i);
        }
        let (mut last, mut taken) = (0, 0);
        while let Some((key, _)) = heap.pop() {
            assert!(key >= last, "{key} after {last}");
            last = key;
            taken += 1;
            if taken < 400 && taken % 3 == 0 {
                heap.push(key + (next() & 0xfff), 0);
            }
        }
        assert_eq!(taken, 500 + 399 / 3);
    }

    #[test]
    fn bits_sort_as_numbers_do() {
        let heights = [-9000.5, -1.0, -1e-9, 0.0, 1e-9, 2.5, 8848.0];
        assert!(
            heights
                .windows(2)
                .all(|pair| sortable(pair[0]) < sortable(pair[1]))
        );
        assert!(heights.iter().all(|&h| height(sortable(h)) == h));
    }
}
