//! What is done to a mask's values as such.

/// Values pushed apart or together around the middle, then raised or lowered;
/// 0 to 1. `contrast` 1 and `brightness` 0 change nothing.
#[inline(always)]
pub fn toned(value: f32, contrast: f32, brightness: f32) -> f32 {
    ((value - 0.5) * contrast + 0.5 + brightness).clamp(0.0, 1.0)
}

/// A soft edge torn by `noise` (−1 to 1): the surer the mask is, of itself or
/// of its absence, the less; 0 to 1.
#[inline(always)]
pub fn ragged(value: f32, noise: f32, amount: f32) -> f32 {
    let unsure = 4.0 * value * (1.0 - value);
    (value + amount * noise * unsure).clamp(0.0, 1.0)
}

/// A mask with holes where `noise` (−1 to 1) is low; `amount` 0 leaves it, 1
/// takes about half of it away.
#[inline(always)]
pub fn broken_up(value: f32, noise: f32, amount: f32) -> f32 {
    // From hole to whole within a fifth of the noise's range.
    let whole = super::smooth(noise * 5.0 + 0.5);
    value * (1.0 - amount * (1.0 - whole))
}
