//! Gradient noise on a lattice of triangles, which has no preference for the
//! axes (after Perlin 2001; the arithmetic follows Gustavson 2005, "Simplex
//! noise demystified", with unit gradients in any direction).

use super::gradient::direction;
use super::hash::light_hash;
use super::lattice::{Age, Sample, Spot, chunk_loops, whole};

/// Skews the plane so that triangles become halves of squares: (√3 − 1) / 2.
const SKEW: f64 = 0.366_025_403_784_438_65;
/// And back: (3 − √3) / 6.
const UNSKEW: f32 = 0.211_324_87;
/// Square of the distance at which a corner's influence ends.
const REACH2: f32 = 0.5;
/// Brings the highest possible sum, halfway along a triangle's side where the
/// two corners give (½ − ⅙)⁴ · √(2/3)/2 each, to 1; a little under, because
/// the gradients' length may exceed 1 by the error of their sine.
const TO_FULL_RANGE: f32 = 99.18;

#[inline(always)]
pub(super) fn spot(x: f64, y: f64) -> Spot {
    let skewed = (x + y) * SKEW;
    let (cx, cy) = ((x + skewed).floor(), (y + skewed).floor());
    let back = (cx + cy) * f64::from(UNSKEW);
    Spot {
        ix: whole(cx),
        iy: whole(cy),
        fx: (x - (cx - back)) as f32,
        fy: (y - (cy - back)) as f32,
    }
}

#[inline(always)]
fn corner<const MOVING: bool>(ix: i32, iy: i32, dx: f32, dy: f32, age: Age) -> Sample {
    let (gx, gy) = age.draw::<MOVING>(|seed| direction(light_hash(ix, iy, seed)));
    let near = (REACH2 - dx * dx - dy * dy).max(0.0);
    let (near2, along) = (near * near, gx * dx + gy * dy);
    let near4 = near2 * near2;
    let pull = -8.0 * near2 * near * along;
    Sample {
        value: near4 * along,
        dx: near4 * gx + pull * dx,
        dy: near4 * gy + pull * dy,
    }
}

#[inline(always)]
pub(super) fn sample<const MOVING: bool>(spot: Spot, age: Age) -> Sample {
    let Spot { ix, iy, fx, fy } = spot;
    // Which of the two triangles of the square: its middle corner.
    let east = (fx > fy) as i32;
    let north = 1 - east;
    let a = corner::<MOVING>(ix, iy, fx, fy, age);
    let b = corner::<MOVING>(
        ix.wrapping_add(east),
        iy.wrapping_add(north),
        fx - east as f32 + UNSKEW,
        fy - north as f32 + UNSKEW,
        age,
    );
    let c = corner::<MOVING>(
        ix.wrapping_add(1),
        iy.wrapping_add(1),
        fx - 1.0 + 2.0 * UNSKEW,
        fy - 1.0 + 2.0 * UNSKEW,
        age,
    );
    Sample {
        value: TO_FULL_RANGE * (a.value + b.value + c.value),
        dx: TO_FULL_RANGE * (a.dx + b.dx + c.dx),
        dy: TO_FULL_RANGE * (a.dy + b.dy + c.dy),
    }
}

chunk_loops!(sample);
chunk_loops!(@fall spot);
