//! A material laid over the land.

use super::{Colour, Material, Texel};
use crate::noise::{hash, unit};

/// How a material's texture lies.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Laying {
    /// Side of one repeat, metres.
    pub size_m: f64,
    /// Turned by this angle.
    pub turn_rad: f64,
    /// Broken up so that repeats do not show.
    pub broken_up: bool,
    /// Steep faces are textured from the side.
    pub from_the_side: bool,
}

/// A spot of the land's surface.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Spot {
    /// Metres east, north, up.
    pub place_m: [f64; 3],
    /// Rise per metre towards east and towards north.
    pub gradient: [f32; 2],
    /// Side of the square that is looked at, metres.
    pub cell_m: f64,
}

/// How sharply the sides are told apart: higher turns sooner from one to the
/// next.
const SIDES: i32 = 4;
/// Triangles of a broken-up texture to one repeat.
const TRIANGLES: f64 = 1.7;

impl Material {
    /// The mean of the material over a spot.
    pub fn laid(&self, laying: Laying, spot: Spot) -> Texel {
        let [x, y, z] = spot.place_m;
        let [east, north] = spot.gradient;
        // Beyond one repeat to a cell only the mean is left.
        if spot.cell_m >= laying.size_m {
            return self.mean();
        }
        let steep = east * east + north * north;
        /// From about 17° on the sides begin to show.
        const GENTLE: f32 = 0.09;
        if !laying.from_the_side || steep < GENTLE {
            return self.flat(laying, x, y, spot.cell_m);
        }
        let weights = [east.abs(), north.abs(), 1.0].map(|part| part.powi(SIDES));
        let sum: f32 = weights.iter().sum();
        let faces = [(y, z), (x, z), (x, y)];
        let mut texel = Texel::default();
        for (weight, (u, v)) in weights.iter().zip(faces) {
            let share = weight / sum;
            if share > 0.01 {
                texel = texel.plus(self.flat(laying, u, v, spot.cell_m).scaled(share));
            }
        }
        // What was left out is little, and must not darken.
        let kept: f32 = weights.iter().filter(|w| **w / sum > 0.01).sum();
        texel.scaled(sum / kept)
    }

    fn flat(&self, laying: Laying, x_m: f64, y_m: f64, cell_m: f64) -> Texel {
        let (sin, cos) = laying.turn_rad.sin_cos();
        let (u, v) = (
            (x_m * cos - y_m * sin) / laying.size_m,
            (x_m * sin + y_m * cos) / laying.size_m,
        );
        let size = cell_m / laying.size_m;
        match laying.broken_up {
            true => self.broken_up(u, v, size),
            false => self.around(u, v, size),
        }
    }

    /// Three patches of the texture, each from elsewhere in it, blended over a
    /// grid of triangles so that the variance is kept (Heitz and Neyret 2018,
    /// "High-Performance By-Example Noise using a Histogram-Preserving Blending
    /// Operator", section 3; without their histogram transform).
    fn broken_up(&self, u: f64, v: f64, size: f64) -> Texel {
        // Skewed so that squares become pairs of equal-sided triangles.
        let (su, sv) = (u * TRIANGLES, v * TRIANGLES);
        let (a, b) = (su - sv * 0.577_350_27, sv * 1.154_700_54);
        let (ia, ib) = (a.floor(), b.floor());
        let (fa, fb) = ((a - ia) as f32, (b - ib) as f32);
        let third = 1.0 - fa - fb;
        let corners = match third > 0.0 {
            true => [(0, 0, third), (0, 1, fb), (1, 0, fa)],
            false => [(1, 1, -third), (1, 0, 1.0 - fb), (0, 1, 1.0 - fa)],
        };
        let mean = self.mean();
        let (mut sum, mut squares) = (Texel::default(), 0.0);
        for (da, db, weight) in corners {
            let at = |salt| f64::from(unit(hash(ia as i32 + da, ib as i32 + db, salt)));
            let patch = self.around(u + at(1), v + at(2), size);
            sum = sum.plus(patch.scaled(weight));
            squares += weight * weight;
        }
        let apart = sum.plus(mean.scaled(-1.0));
        let texel = mean.plus(apart.scaled(1.0 / squares.sqrt()));
        Texel {
            colour: Colour {
                r: texel.colour.r.max(0.0),
                g: texel.colour.g.max(0.0),
                b: texel.colour.b.max(0.0),
            },
            ..texel
        }
    }
}
