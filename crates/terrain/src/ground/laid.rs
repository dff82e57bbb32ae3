//! A material laid over the land.

use super::material::Sharp;
use super::{Colour, Material, Texel};
use crate::mask::smooth;
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

impl Laying {
    /// How far a texture's height, 0 to 1, goes from the middle at most: a half as
    /// it is. Three patches blended so that the variance is kept swing farther, by
    /// one over the root of the summed squares of three equal weights.
    pub fn height_reach(&self) -> f32 {
        /// √3 − ½, where the texture's mean is at one end.
        const BROKEN_UP: f32 = 1.232_050_8;
        match self.broken_up {
            true => BROKEN_UP,
            false => 0.5,
        }
    }
}

/// A spot of the land's surface.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Spot {
    /// Metres east, north, up.
    pub place_m: [f64; 3],
    /// Rise per metre towards east and towards north.
    pub gradient: [f32; 2],
}

/// Spots along a row of cells.
#[derive(Clone, Copy, Debug)]
pub struct SpotRow<'a> {
    /// Metres east of each one.
    pub x_m: &'a [f64],
    /// Metres north of all of them.
    pub y_m: f64,
    /// Height of each one, metres.
    pub heights_m: &'a [f32],
    /// Rise per metre towards east and towards north of each one.
    pub gradients: &'a [[f32; 2]],
}

impl SpotRow<'_> {
    /// One of the spots.
    #[inline(always)]
    pub fn spot(&self, c: usize) -> Spot {
        Spot {
            place_m: [self.x_m[c], self.y_m, f64::from(self.heights_m[c])],
            gradient: self.gradients[c],
        }
    }
}

/// A material that lies over cells of one size.
#[derive(Clone, Copy, Debug)]
pub struct Laid<'m> {
    material: &'m Material,
    laying: Laying,
    turn: (f64, f64),
    texture: Sharp<'m>,
    mean: Texel,
    /// How much of what differs from the mean is left in a cell.
    contrast: f32,
}

/// How sharply the sides are told apart: higher turns sooner from one to the
/// next.
const SIDES: i32 = 4;
/// From about 17° on the sides begin to show: the square of the rise.
const GENTLE: f32 = 0.09;
/// A side that shows less than this is left out.
const LEAST_SHARE: f32 = 0.04;
/// Triangles of a broken-up texture to one repeat.
const TRIANGLES: f64 = 1.7;

/// What is left of a texture in cells of which `cells` make one repeat: all of
/// it, less and less, and from one cell on nothing. Few cells to a repeat would
/// show a weave of their own: how far a cell stands from the middle of a texel.
fn contrast(cells: f64) -> f32 {
    const NONE: f64 = 1.0;
    const ALL: f64 = 12.0;
    smooth(((cells - NONE) / (ALL - NONE)) as f32)
}

impl Material {
    /// The material laid over cells of `cell_m`.
    pub fn laid(&self, laying: Laying, cell_m: f64) -> Laid<'_> {
        Laid {
            material: self,
            laying,
            turn: laying.turn_rad.sin_cos(),
            texture: self.sharp(cell_m / laying.size_m),
            mean: self.mean(),
            contrast: contrast(laying.size_m / cell_m),
        }
    }
}

impl Laid<'_> {
    /// The same everywhere, if it is so.
    pub fn everywhere(&self) -> Option<Texel> {
        (self.contrast == 0.0 || self.material.is_plain()).then_some(self.mean)
    }

    /// The mean of the material over the cells of a row where it is `wanted`;
    /// elsewhere `out` keeps what it was.
    pub fn along(&self, row: SpotRow, wanted: &[bool], out: &mut [Texel]) {
        along(self, row, wanted, out);
    }

    /// The mean of the material over a cell.
    #[inline(always)]
    pub fn at(&self, spot: Spot) -> Texel {
        if self.contrast == 0.0 {
            return self.mean;
        }
        let apart = self.sharply(spot).plus(self.mean.scaled(-1.0));
        self.mean.plus(apart.scaled(self.contrast))
    }

    #[inline(always)]
    fn sharply(&self, spot: Spot) -> Texel {
        let [x, y, z] = spot.place_m;
        let [east, north] = spot.gradient;
        let steep = east * east + north * north;
        if !self.laying.from_the_side || steep < GENTLE {
            return self.flat(x, y);
        }
        let weights = [east.abs(), north.abs(), 1.0].map(|part| part.powi(SIDES));
        let least = LEAST_SHARE * weights.iter().sum::<f32>();
        let faces = [(y, z), (x, z), (x, y)];
        let (mut texel, mut kept) = (Texel::default(), 0.0);
        for (weight, (u, v)) in weights.into_iter().zip(faces) {
            if weight > least {
                texel = texel.plus(self.flat(u, v).scaled(weight));
                kept += weight;
            }
        }
        texel.scaled(1.0 / kept)
    }

    #[inline(always)]
    fn flat(&self, x_m: f64, y_m: f64) -> Texel {
        let (sin, cos) = self.turn;
        let (u, v) = (
            (x_m * cos - y_m * sin) / self.laying.size_m,
            (x_m * sin + y_m * cos) / self.laying.size_m,
        );
        match self.laying.broken_up {
            true => self.broken_up(u, v),
            false => self.texture.at(u, v),
        }
    }

    /// Three patches of the texture, each from elsewhere in it, blended over a
    /// grid of triangles so that the variance is kept (Heitz and Neyret 2018,
    /// "High-Performance By-Example Noise using a Histogram-Preserving Blending
    /// Operator", section 3; without their histogram transform).
    #[inline(always)]
    fn broken_up(&self, u: f64, v: f64) -> Texel {
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
        let mean = self.mean;
        let (mut sum, mut squares) = (Texel::default(), 0.0);
        for (da, db, weight) in corners {
            let at = |salt| f64::from(unit(hash(ia as i32 + da, ib as i32 + db, salt)));
            let patch = self.texture.at(u + at(1), v + at(2));
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

#[multiversion::multiversion(targets = "simd")]
fn along(laid: &Laid, row: SpotRow, wanted: &[bool], out: &mut [Texel]) {
    for (c, (texel, wanted)) in out.iter_mut().zip(wanted).enumerate() {
        if *wanted {
            *texel = laid.at(row.spot(c));
        }
    }
}
