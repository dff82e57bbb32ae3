//! How often values occur.

use terrain::Grid;

/// Counts of values in ranges of equal width.
#[derive(Clone, Debug, PartialEq)]
pub struct Histogram {
    /// Lower end of the first range.
    pub low: f32,
    /// Upper end of the last range.
    pub high: f32,
    /// How many cells fall into each range.
    pub counts: Vec<u32>,
}

impl Histogram {
    /// Number of ranges.
    pub const BINS: usize = 64;

    /// The values of `grid` between `low` and `high`; values beyond count for
    /// the outermost ranges.
    pub fn of(grid: &Grid, (low, high): (f32, f32)) -> Self {
        let mut counts = vec![0; Self::BINS];
        let scale = Self::BINS as f32 / (high - low).max(f32::MIN_POSITIVE);
        for value in grid.values() {
            let bin = ((value - low) * scale).clamp(0.0, Self::BINS as f32 - 1.0);
            counts[bin as usize] += 1;
        }
        Self { low, high, counts }
    }
}
