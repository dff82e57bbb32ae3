//! Two-dimensional gradient noise on a square lattice (Perlin 1985, with the
//! fade curve of Perlin 2002, "Improving Noise").
//!
//! We deviate from Perlin in that gradients are unit vectors in any direction, not a
//! choice of a few, which makes the noise isotropic. [`lattice_value`] is the one
//! canonical meaning; the loops over many places equal it bit for bit.

use super::hash::hash;
use super::lattice::{Age, Sample, Spot, chunk_loops, fade, fade_slope, split};

/// Unit gradients reach √½ in the middle of a cell; this brings the noise to
/// the range from −1 to 1. A little under √2, because the gradients' length
/// may exceed 1 by the error of `quarter_sine`.
const TO_FULL_RANGE: f32 = 1.4139;

/// sin(90°·t) for t in [−1, 1], within 2·10⁻⁴ (odd minimax quintic).
#[inline(always)]
fn quarter_sine(t: f32) -> f32 {
    let t2 = t * t;
    t * (1.570_629_1 + t2 * (-0.643_268_6 + t2 * 0.072_711_3))
}

/// The gradient at a lattice point: a vector of length 1 in a direction drawn
/// evenly from the whole circle.
#[inline(always)]
fn gradient(ix: i32, iy: i32, seed: u32) -> (f32, f32) {
    direction(hash(ix, iy, seed))
}

/// A vector of length 1 in a direction drawn evenly from the whole circle.
#[inline(always)]
pub(super) fn direction(bits: u32) -> (f32, f32) {
    // The angle in quarter turns, −1 to 1, and which half of the circle.
    let t = (bits >> 8) as f32 * (1.0 / 8_388_608.0) - 1.0;
    let half = 1.0 - ((bits & 1) << 1) as f32;
    (half * quarter_sine(1.0 - t.abs()), quarter_sine(t))
}

/// One lattice column's share in a row: `slope` per unit of x, and `value` at
/// the lattice line itself.
#[inline(always)]
fn column(low: (f32, f32), high: (f32, f32), fy: f32, v: f32) -> (f32, f32) {
    let slope = low.0 + v * (high.0 - low.0);
    let (at_low, at_high) = (low.1 * fy, high.1 * (fy - 1.0));
    (slope, at_low + v * (at_high - at_low))
}

#[inline(always)]
fn between(west: (f32, f32), east: (f32, f32), fx: f32, u: f32) -> f32 {
    let at_west = west.0 * fx + west.1;
    let at_east = east.0 * (fx - 1.0) + east.1;
    at_west + u * (at_east - at_west)
}

/// Lattice noise for any choice of gradients: the canonical arithmetic.
///
/// (`ix`, `iy`) is the cell, (`fx`, `fy`) the place in it, 0 to 1, and
/// `gradient` gives the vector at a lattice point.
#[inline(always)]
pub fn lattice_value(
    (ix, iy): (i32, i32),
    (fx, fy): (f32, f32),
    gradient: impl Fn(i32, i32) -> (f32, f32),
) -> f32 {
    let v = fade(fy);
    let (ex, ny) = (ix.wrapping_add(1), iy.wrapping_add(1));
    let west = column(gradient(ix, iy), gradient(ix, ny), fy, v);
    let east = column(gradient(ex, iy), gradient(ex, ny), fy, v);
    between(west, east, fx, fade(fx))
}

/// Gradient noise at a lattice position, from −1 to 1, 0 at lattice points.
#[inline(always)]
pub fn gradient_noise(x: f64, y: f64, seed: u32) -> f32 {
    let ((ix, fx), (iy, fy)) = (split(x), split(y));
    TO_FULL_RANGE * lattice_value((ix, iy), (fx, fy), |ix, iy| gradient(ix, iy, seed))
}

/// Gradient noise with its slope: the value is bit for bit that of
/// [`gradient_noise`] while nothing moves.
#[inline(always)]
pub(super) fn sample<const MOVING: bool>(spot: Spot, age: Age) -> Sample {
    let Spot { ix, iy, fx, fy } = spot;
    let drawn = |ix, iy| age.draw::<MOVING>(|seed| gradient(ix, iy, seed));
    let (ex, ny) = (ix.wrapping_add(1), iy.wrapping_add(1));
    let (a, b) = (drawn(ix, iy), drawn(ix, ny));
    let (c, d) = (drawn(ex, iy), drawn(ex, ny));
    let (u, v) = (fade(fx), fade(fy));
    let (west, east) = (column(a, b, fy, v), column(c, d, fy, v));
    // Along y: what each lattice column changes by, then blended along x.
    let rise = |low: (f32, f32), high: (f32, f32)| {
        let turn = high.0 - low.0;
        let (at_low, at_high) = (low.1 * fy, high.1 * (fy - 1.0));
        let straight = low.1 + v * (high.1 - low.1) + fade_slope(fy) * (at_high - at_low);
        (fade_slope(fy) * turn, straight)
    };
    let (at_west, at_east) = (west.0 * fx + west.1, east.0 * (fx - 1.0) + east.1);
    Sample {
        value: TO_FULL_RANGE * between(west, east, fx, u),
        dx: TO_FULL_RANGE * (west.0 + u * (east.0 - west.0) + fade_slope(fx) * (at_east - at_west)),
        dy: TO_FULL_RANGE * between(rise(a, b), rise(c, d), fx, u),
    }
}

chunk_loops!(sample);
