//! How a texture is laid so that its repeats do not show and steep land does not
//! stretch it. The page's shaders do the same with the same constants
//! ([`crate::picture::shared_constants`]); a browser test compares them.

use crate::noise::{hash, unit};

/// Triangles of a broken-up texture to one repeat.
pub(crate) const TRIANGLES: f64 = 1.7;
/// Skews squares so that they become pairs of equal-sided triangles: 1/√3 and 2/√3.
pub(crate) const SKEW_BACK: f64 = 0.577_350_27;
pub(crate) const SKEW_UP: f64 = 1.154_700_54;
/// How sharply the sides are told apart: higher turns sooner from one to the
/// next.
pub(crate) const SIDES: i32 = 4;
/// From about 17° on the sides begin to show: the square of the rise.
pub(crate) const GENTLE: f32 = 0.09;
/// A side that shows less than this is left out.
pub(crate) const LEAST_SHARE: f32 = 0.04;

/// A part of a texture that shows at a place.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Patch {
    /// How much of it shows; the three of a place sum to one.
    pub weight: f32,
    /// From how far off in the texture it is taken, in repeats.
    pub shift: [f64; 2],
}

/// The three patches that show at a place, given in repeats of the texture: each vertex
/// of a grid of triangles has one (Heitz and Neyret 2018, "High-Performance By-Example
/// Noise using a Histogram-Preserving Blending Operator", section 3).
#[inline(always)]
pub fn patches(u: f64, v: f64) -> [Patch; 3] {
    let (su, sv) = (u * TRIANGLES, v * TRIANGLES);
    let (a, b) = (su - sv * SKEW_BACK, sv * SKEW_UP);
    let (ia, ib) = (a.floor(), b.floor());
    let (fa, fb) = ((a - ia) as f32, (b - ib) as f32);
    let third = 1.0 - fa - fb;
    let corners = match third > 0.0 {
        true => [(0, 0, third), (0, 1, fb), (1, 0, fa)],
        false => [(1, 1, -third), (1, 0, 1.0 - fb), (0, 1, 1.0 - fa)],
    };
    corners.map(|(da, db, weight)| {
        let at = |salt| f64::from(unit(hash(ia as i32 + da, ib as i32 + db, salt)));
        Patch {
            weight,
            shift: [at(1), at(2)],
        }
    })
}

/// How much a texture shows from the east or west, from the north or south, and from
/// above, where land rises so much towards east and north. Not scaled to sum to one.
#[inline(always)]
pub fn faces([east, north]: [f32; 2]) -> [f32; 3] {
    if east * east + north * north < GENTLE {
        return [0.0, 0.0, 1.0];
    }
    let weights = [east.abs(), north.abs(), 1.0].map(|part| part.powi(SIDES));
    let least = LEAST_SHARE * weights.iter().sum::<f32>();
    weights.map(|weight| if weight > least { weight } else { 0.0 })
}
