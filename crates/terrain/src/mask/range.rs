//! A range of a reading, with soft ends.

use crate::smooth::smooth;

/// 1 between two ends, 0 away from them, soft in between.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Range {
    /// Full from here on; open when absent.
    pub from: Option<f32>,
    /// Full up to here; open when absent.
    pub to: Option<f32>,
    /// Over how much it rises to `from`, ending there.
    pub soft_from: f32,
    /// Over how much it fades after `to`.
    pub soft_to: f32,
}

impl Range {
    /// How much `value` is inside, 0 to 1.
    #[inline(always)]
    pub fn at(&self, value: f32) -> f32 {
        let low = self
            .from
            .map_or(1.0, |from| end(value - from, self.soft_from));
        let high = self.to.map_or(1.0, |to| end(to - value, self.soft_to));
        low.min(high)
    }
}

/// 1 from `inside` 0 on, 0 from −`soft` down.
#[inline(always)]
fn end(inside: f32, soft: f32) -> f32 {
    if soft > 0.0 {
        smooth(inside / soft + 1.0)
    } else if inside >= 0.0 {
        1.0
    } else {
        0.0
    }
}
