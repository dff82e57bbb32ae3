//! Noise that repeats seamlessly over the unit square.

use std::f32::consts::TAU;
use std::sync::LazyLock;

use crate::noise::{hash, unit};

/// Directions over the whole turn; so many that nobody sees that they are counted.
const DIRECTIONS: usize = 1 << DIRECTION_BITS;
const DIRECTION_BITS: u32 = 10;

/// Which way each direction points. A sine at each corner of each layer of each texel
/// would be most of the time that a material takes.
static COMPASS: LazyLock<[(f32, f32); DIRECTIONS]> = LazyLock::new(|| {
    std::array::from_fn(|k| {
        let (sin, cos) = (k as f32 / DIRECTIONS as f32 * TAU).sin_cos();
        (cos, sin)
    })
});

/// The lattice points that stand in for `i` and the one after it.
#[inline(always)]
fn wrapped(i: i32, period: i32) -> [i32; 2] {
    let first = i.rem_euclid(period);
    let second = first + 1;
    [first, if second == period { 0 } else { second }]
}

/// Smooth noise from −1 to 1 on a lattice of `period` by `period` points over
/// the unit square (gradient noise: Perlin 2002, with the lattice wrapped).
#[inline(always)]
pub(super) fn gradient(u: f32, v: f32, (across, up): (i32, i32), seed: u32) -> f32 {
    /// Brings the usual range near to −1 to 1.
    const FULL: f32 = 1.5;
    let compass = &*COMPASS;
    let (x, y) = (u * across as f32, v * up as f32);
    let (left, below) = (x.floor(), y.floor());
    let (fx, fy) = (x - left, y - below);
    let [columns, rows] = [wrapped(left as i32, across), wrapped(below as i32, up)];
    let corner = |dx: usize, dy: usize| {
        let bits = hash(columns[dx], rows[dy], seed);
        let (east, north) = compass[(bits >> (u32::BITS - DIRECTION_BITS)) as usize];
        east * (fx - dx as f32) + north * (fy - dy as f32)
    };
    let fade = |t: f32| t * t * t * (t * (t * 6.0 - 15.0) + 10.0);
    let (sx, sy) = (fade(fx), fade(fy));
    let low = corner(0, 0) + sx * (corner(1, 0) - corner(0, 0));
    let high = corner(0, 1) + sx * (corner(1, 1) - corner(0, 1));
    ((low + sy * (high - low)) * FULL).clamp(-1.0, 1.0)
}

/// Layers of [`gradient`], each twice as fine and `gain` as strong; about −1
/// to 1.
#[inline(always)]
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

#[inline(always)]
pub(super) fn cells(u: f32, v: f32, period: i32, seed: u32) -> Cell {
    let (x, y) = (u * period as f32, v * period as f32);
    let (ix, iy) = (x.floor() as i32, y.floor() as i32);
    // Squares of the distances until the end.
    let mut found = Cell {
        nearest: f32::INFINITY,
        second: f32::INFINITY,
        own: 0.0,
    };
    for dy in -1..=1 {
        let row = (iy + dy).rem_euclid(period);
        for dx in -1..=1 {
            let column = (ix + dx).rem_euclid(period);
            let place = |salt: u32| unit(hash(column, row, seed ^ salt));
            let px = (ix + dx) as f32 + 0.1 + 0.8 * place(1) - x;
            let py = (iy + dy) as f32 + 0.1 + 0.8 * place(2) - y;
            let away = px * px + py * py;
            if away < found.nearest {
                found.second = found.nearest;
                (found.nearest, found.own) = (away, place(3));
            } else {
                found.second = found.second.min(away);
            }
        }
    }
    Cell {
        nearest: found.nearest.sqrt(),
        second: found.second.sqrt(),
        own: found.own,
    }
}
