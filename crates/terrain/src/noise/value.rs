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
    let (south, north) = (a + u * (b - a), c + u * (d - c));
    Sample {
        value: south + v * (north - south),
        dx: fade_slope(fx) * ((b - a) + v * ((d - c) - (b - a))),
        dy: fade_slope(fy) * (north - south),
    }
}

chunk_loops!(sample);
