//! A material at every size from near to far.

use rayon::prelude::*;

use super::MaterialKind;
use crate::Grid;
use crate::ground::Colour;

/// What a material is at one spot.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Texel {
    /// Colour in linear light.
    pub colour: Colour,
    /// Height, 0 lowest to 1 highest.
    pub height: f32,
    /// Roughness, 0 mirror to 1 chalk.
    pub roughness: f32,
}

impl Texel {
    /// The sum of two.
    pub(in crate::ground) fn plus(self, other: Self) -> Self {
        Self {
            colour: self.colour.plus(other.colour),
            height: self.height + other.height,
            roughness: self.roughness + other.roughness,
        }
    }

    /// Times `factor`.
    pub(in crate::ground) fn scaled(self, factor: f32) -> Self {
        Self {
            colour: self.colour.scaled(factor),
            height: self.height * factor,
            roughness: self.roughness * factor,
        }
    }
}

/// A tiling texture and its halves, down to its mean.
#[derive(Clone, Debug, PartialEq)]
pub struct Material {
    /// The finest first; each next one has half the side, the last one texel.
    levels: Vec<Grid<Texel>>,
}

impl Material {
    /// Grows a material with `side` texels along each side, a power of two.
    /// Deterministic.
    pub fn grown(kind: MaterialKind, side: usize) -> Self {
        assert!(side.is_power_of_two(), "sides are powers of two");
        let at = |i: usize| (i as f32 + 0.5) / side as f32;
        let mut finest = Grid::filled(side, side, Texel::default());
        finest
            .values_mut()
            .par_chunks_mut(side)
            .enumerate()
            .for_each(|(r, row)| {
                for (c, texel) in row.iter_mut().enumerate() {
                    *texel = kind.at(at(c), at(r));
                }
            });
        Self::of(finest)
    }

    /// A material of one colour.
    pub fn plain(colour: Colour, roughness: f32) -> Self {
        let texel = Texel {
            colour,
            height: 0.5,
            roughness,
        };
        Self::of(Grid::filled(1, 1, texel))
    }

    fn of(finest: Grid<Texel>) -> Self {
        let mut levels = vec![finest];
        while levels[levels.len() - 1].cols() > 1 {
            let last = &levels[levels.len() - 1];
            let half = last.cols() / 2;
            let mean = |c: usize, r: usize| {
                let four = [(0, 0), (1, 0), (0, 1), (1, 1)];
                let sum = four.iter().fold(Texel::default(), |sum, (dc, dr)| {
                    sum.plus(last.at(2 * c + dc, 2 * r + dr))
                });
                sum.scaled(0.25)
            };
            let values = (0..half * half).map(|i| mean(i % half, i / half));
            levels.push(Grid::from_vec(half, half, values.collect()).expect("one value a texel"));
        }
        Self { levels }
    }

    /// The texture in full.
    pub fn texels(&self) -> &Grid<Texel> {
        &self.levels[0]
    }

    /// The mean of all texels.
    pub fn mean(&self) -> Texel {
        self.levels[self.levels.len() - 1].at(0, 0)
    }

    /// The mean around (`u`, `v`), in repeats of the texture, over a square
    /// whose side is `size` repeats: trilinear between halves of the texture.
    pub fn around(&self, u: f64, v: f64, size: f64) -> Texel {
        let texels = (size * self.levels[0].cols() as f64).max(1.0);
        let level = texels.log2().min((self.levels.len() - 1) as f64);
        let (near, part) = (level.floor() as usize, level.fract() as f32);
        let fine = bilinear(&self.levels[near], u, v);
        match self.levels.get(near + 1) {
            Some(far) if part > 0.0 => fine
                .scaled(1.0 - part)
                .plus(bilinear(far, u, v).scaled(part)),
            _ => fine,
        }
    }
}

/// Between texels; beyond an edge the texture goes on at the other one.
fn bilinear(level: &Grid<Texel>, u: f64, v: f64) -> Texel {
    let side = level.cols();
    let (x, y) = (
        u.rem_euclid(1.0) * side as f64 - 0.5,
        v.rem_euclid(1.0) * side as f64 - 0.5,
    );
    let (c, r) = (x.floor(), y.floor());
    let (s, t) = ((x - c) as f32, (y - r) as f32);
    let wrap = |i: f64| (i as i64).rem_euclid(side as i64) as usize;
    let (c0, c1, r0, r1) = (wrap(c), wrap(c + 1.0), wrap(r), wrap(r + 1.0));
    let across = |r: usize| {
        level
            .at(c0, r)
            .scaled(1.0 - s)
            .plus(level.at(c1, r).scaled(s))
    };
    across(r0).scaled(1.0 - t).plus(across(r1).scaled(t))
}
