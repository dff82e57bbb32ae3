//! Noise that repeats seamlessly over the unit square.

use crate::noise::{hash, unit};

/// Which lattice point stands in for one beyond the edge.
fn wrapped(i: i32, period: i32) -> i32 {
    i.rem_euclid(period)
}

/// Smooth noise from −1 to 1 on a lattice of `period` by `period` points over
/// the unit square (gradient noise: Perlin 2002, with the lattice wrapped).
pub(super) fn gradient(u: f32, v: f32, (across, up): (i32, i32), seed: u32) -> f32 {
    /// Brings the usual range near to −1 to 1.
    const FULL: f32 = 1.5;
    let (x, y) = (u * across as f32, v * up as f32);
    let (ix, iy) = (x.floor() as i32, y.floor() as i32);
    let (fx, fy) = (x - ix as f32, y - iy as f32);
    let corner = |dx: i32, dy: i32| {
        let bits = hash(wrapped(ix + dx, across), wrapped(iy + dy, up), seed);
        let (sin, cos) = (unit(bits) * std::f32::consts::TAU).sin_cos();
        cos * (fx - dx as f32) + sin * (fy - dy as f32)
    };
    let fade = |t: f32| t * t * t * (t * (t * 6.0 - 15.0) + 10.0);
    let (sx, sy) = (fade(fx), fade(fy));
    let low = corner(0, 0) + sx * (corner(1, 0) - corner(0, 0));
    let high = corner(0, 1) + sx * (corner(1, 1) - corner(0, 1));
    ((low + sy * (high - low)) * FULL).clamp(-1.0, 1.0)
}

/// Layers of [`gradient`], each twice as fine and `gain` as strong; about −1
/// to 1.
pub(super) fn layers(
    u: f32,
    v: f32,
    period: (i32, i32),
    octaves: u32,
    gain: f32,
    seed: u32,
) -> f32 {
    let (mut sum, mut full, mut strength) = (0.0, 0.0, 1.0);
    for k in 0..octaves {
        let finer = (period.0 << k, period.1 << k);
        sum += strength * gradient(u, v, finer, seed.wrapping_add(k));
        full += strength;
        strength *= gain;
    }
    sum / full
}

/// The two nearest of points strewn over a wrapped lattice.
pub(super) struct Cell {
    /// Distance to the nearest, in lattice cells.
    pub(super) nearest: f32,
    /// Distance to the second.
    pub(super) second: f32,
    /// A number from 0 to 1 that is the nearest point's own.
    pub(super) own: f32,
}

pub(super) fn cells(u: f32, v: f32, period: i32, seed: u32) -> Cell {
    let (x, y) = (u * period as f32, v * period as f32);
    let (ix, iy) = (x.floor() as i32, y.floor() as i32);
    let mut found = Cell {
        nearest: f32::INFINITY,
        second: f32::INFINITY,
        own: 0.0,
    };
    for dy in -1..=1 {
        for dx in -1..=1 {
            let at = (wrapped(ix + dx, period), wrapped(iy + dy, period));
            let place = |salt: u32| unit(hash(at.0, at.1, seed ^ salt));
            let px = (ix + dx) as f32 + 0.1 + 0.8 * place(1);
            let py = (iy + dy) as f32 + 0.1 + 0.8 * place(2);
            let away = (px - x).hypot(py - y);
            if away < found.nearest {
                found.second = found.nearest;
                (found.nearest, found.own) = (away, place(3));
            } else {
                found.second = found.second.min(away);
            }
        }
    }
    found
}
