//! Beds of rock, one on the other.

use crate::Grid;
use crate::noise::{hash, unit};

/// Beds of rock: each pair of them a soft one below and a hard one above, both as thick
/// and as hard as chance will have it (common practice: limestone or sandstone over
/// shale). They lie where the caller says; this tells them by their level alone.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Beds {
    /// Thickness of a soft and a hard bed together, metres; above 0.
    pub thickness_m: f64,
    /// Random seed.
    pub seed: u32,
}

/// The share of a pair that its hard bed takes, least and most.
const HARD_SHARE: (f32, f32) = (0.25, 0.6);
/// How hard a hard bed is, least and most.
const HARD: (f32, f32) = (0.5, 1.0);
/// From one bed to the next hardness changes over this share of a pair.
const CHANGE: f32 = 0.18;

impl Beds {
    /// How hard the rock of each cell is at `heights`, metres, where beds lie `lies` above
    /// their own level.
    pub fn hard_on(&self, heights: &Grid, lies: &Grid) -> Grid {
        heights.zip_map(lies, |height, lies| self.hard_at(height - lies))
    }

    /// How hard the rock is at `level_m` above the lowest bed, in their own measure: 0
    /// soft, 1 the hardest.
    pub fn hard_at(&self, level_m: f32) -> f32 {
        let level = level_m / self.thickness_m as f32;
        let pair = level.floor();
        let chance = |what: u32| unit(hash(pair as i32, what as i32, self.seed));
        let between = |(least, most): (f32, f32), at: f32| least + (most - least) * at;
        let share = between(HARD_SHARE, chance(0));
        let hard = between(HARD, chance(1));
        // The hard bed lies on top; above it, the soft one of the next pair begins.
        let within = level - pair;
        let rises = ((within - (1.0 - share)) / CHANGE).clamp(0.0, 1.0);
        let falls = ((1.0 - within) / CHANGE).clamp(0.0, 1.0);
        hard * rises.min(falls)
    }
}
