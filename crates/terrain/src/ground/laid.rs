//! A material laid over the land.

use super::break_up::{Patch, faces, patches};
use super::material::Sharp;
use super::{Colour, Material, Texel};
use crate::smooth::smooth;

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
        if !self.laying.from_the_side {
            return self.flat(x, y);
        }
        let places = [(y, z), (x, z), (x, y)];
        let (mut texel, mut kept) = (Texel::default(), 0.0);
        for (weight, (u, v)) in faces(spot.gradient).into_iter().zip(places) {
            if weight > 0.0 {
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

    /// Three patches of the texture, blended so that the variance is kept (Heitz and
    /// Neyret 2018, without their histogram transform).
    #[inline(always)]
    fn broken_up(&self, u: f64, v: f64) -> Texel {
        let mean = self.mean;
        let (mut sum, mut squares) = (Texel::default(), 0.0);
        for Patch { weight, shift } in patches(u, v) {
            let patch = self.texture.at(u + shift[0], v + shift[1]);
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
