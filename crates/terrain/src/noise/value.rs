//! Value noise: numbers at lattice points, blended in between (Perlin and
//! Hoffert 1989 call it a lattice of values; the blend is Perlin's of 2002).

use super::gradient::Columns;
use super::hash::{light_hash, unit};
use super::lattice::{Age, Sample, Spot, chunk_loops, fade, fade_slope, split};

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
    // First along y, then along x: a row shares the work of a lattice column.
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

/// Value noise along one row of constant `y`, still in time: bit for bit
/// [`sample`], but each lattice column is worked out once.
pub(super) fn fill_row(
    columns: &Columns,
    y: f64,
    seed: u32,
    lines: &mut Vec<f32>,
    out: &mut [f32],
) {
    let (Some(&first), Some(&last)) = (columns.cells.first(), columns.cells.last()) else {
        return;
    };
    let (iy, fy) = split(y);
    let v = fade(fy);
    let ny = iy.wrapping_add(1);
    let drawn = |ix: i32, iy: i32| 2.0 * unit(light_hash(ix, iy, seed)) - 1.0;
    // A little beyond the row where the lattice is finer than the grid.
    let span = (i64::from(last) - i64::from(first)) as usize + 2;
    lines.clear();
    lines.extend((0..span).map(|k| {
        let ix = first.wrapping_add(k as i32);
        blend(drawn(ix, iy), drawn(ix, ny), v)
    }));
    let at = |ix: i32| ix.wrapping_sub(first) as usize;
    let places = columns.cells.iter().zip(&columns.fades);
    for (out, (&ix, &u)) in out.iter_mut().zip(places) {
        let k = at(ix);
        *out = blend(lines[k], lines[k + 1], u);
    }
}

chunk_loops!(sample);
