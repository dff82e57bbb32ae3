//! Value noise: numbers at lattice points, blended in between (Perlin and
//! Hoffert 1989 call it a lattice of values; the blend is Perlin's of 2002).

use super::hash::{light_hash, unit};
use super::lattice::{Age, Sample, Spot, chunk_loops, fade, fade_slope};

#[inline(always)]
fn value<const MOVING: bool>(ix: i32, iy: i32, age: Age) -> f32 {
    let drawn = age.draw::<MOVING>(|seed| (unit(light_hash(ix, iy, seed)), 0.0));
    2.0 * drawn.0 - 1.0
}

#[inline(always)]
pub(super) fn sample<const MOVING: bool>(spot: Spot, age: Age) -> Sample {
    let Spot { ix, iy, fx, fy } = spot;
    let (ex, ny) = (ix.wrapping_add(1), iy.wrapping_add(1));
    let (a, b) = (value::<MOVING>(ix, iy, age), value::<MOVING>(ex, iy, age));
    let (c, d) = (value::<MOVING>(ix, ny, age), value::<MOVING>(ex, ny, age));
    let (u, v) = (fade(fx), fade(fy));
    let (west, east) = (blend(a, c, v), blend(b, d, v));
    Sample {
        value: blend(west, east, u),
        dx: fade_slope(fx) * (east - west),
        dy: fade_slope(fy) * blend(c - a, d - b, u),
    }
}

#[inline(always)]
fn blend(a: f32, b: f32, share: f32) -> f32 {
    a + share * (b - a)
}

chunk_loops!(sample);
