//! Bending heights without a drawn curve.

/// Schlick's (1994) bias: bends [0, 1] up (share above ½) or down (below ½).
/// `bias(½, share)` is `share`.
pub fn bias(t: f32, share: f32) -> f32 {
    let share = share.clamp(1e-4, 1.0 - 1e-4);
    t / ((1.0 / share - 2.0) * (1.0 - t) + 1.0)
}

/// Schlick's (1994) gain: steepens the middle of [0, 1] (share below ½) or
/// flattens it (above ½).
pub fn gain(t: f32, share: f32) -> f32 {
    match t < 0.5 {
        true => 0.5 * bias(2.0 * t, share),
        false => 1.0 - 0.5 * bias(2.0 - 2.0 * t, share),
    }
}

/// The lower of two values, rounded off where they come within `radius` of
/// each other (polynomial smooth minimum: Quilez 2013); at most `radius` / 4
/// below both.
pub fn smooth_lowest(a: f32, b: f32, radius: f32) -> f32 {
    if radius <= 0.0 {
        return a.min(b);
    }
    let near = (radius - (a - b).abs()).max(0.0) / radius;
    a.min(b) - near * near * radius * 0.25
}

/// The higher of two values, rounded off as in [`smooth_lowest`].
pub fn smooth_highest(a: f32, b: f32, radius: f32) -> f32 {
    -smooth_lowest(-a, -b, radius)
}

/// Eases the foot of a shape: heights up to `reach` above `level` are lowered
/// along a parabola that leaves the level gently and joins the flank at
/// `level + reach` without a kink. Below the level all is `level`.
pub fn ease_foot(height: f32, level: f32, reach: f32) -> f32 {
    let above = height - level;
    if above <= 0.0 || reach <= 0.0 {
        return level + above.max(0.0);
    }
    // Hermite: slope 0 at the level, slope 1 at the reach.
    let t = (above / reach).min(1.0);
    match t < 1.0 {
        true => level + reach * t * t * (2.0 - t),
        false => height,
    }
}
