//! A material at every size from near to far.

use rayon::prelude::*;

use super::MaterialKind;
use super::kinds::grow_row;
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
    #[inline(always)]
    pub(in crate::ground) fn plus(self, other: Self) -> Self {
        Self {
            colour: self.colour.plus(other.colour),
            height: self.height + other.height,
            roughness: self.roughness + other.roughness,
        }
    }

    /// Times `factor`.
    #[inline(always)]
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
    /// Surface directions of the finest, where they do not follow from heights.
    normal: Option<Grid<[u8; 3]>>,
    /// How open the finest is to light, where that does not follow from heights.
    open: Option<Grid<u8>>,
}

impl Material {
    /// Memory that it takes, bytes.
    pub fn bytes(&self) -> usize {
        let levels = self.levels.iter().map(|level| size_of_val(level.values()));
        let normal = self.normal.as_ref().map_or(0, |n| size_of_val(n.values()));
        let open = self
            .open
            .as_ref()
            .map_or(0, |open| size_of_val(open.values()));
        levels.sum::<usize>() + normal + open
    }

    /// Grows a material with `side` texels along each side, a power of two.
    /// Deterministic.
    pub fn grown(kind: MaterialKind, side: usize) -> Self {
        assert!(side.is_power_of_two(), "sides are powers of two");
        let at = |r: usize| (r as f32 + 0.5) / side as f32;
        let mut finest = Grid::filled(side, side, Texel::default());
        finest
            .values_mut()
            .par_chunks_mut(side)
            .enumerate()
            .for_each(|(r, row)| grow_row(kind, at(r), row));
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

    pub(super) fn of(finest: Grid<Texel>) -> Self {
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
        Self {
            levels,
            normal: None,
            open: None,
        }
    }

    /// The same with maps that do not follow from its heights.
    pub(super) fn with_maps(self, normal: Option<Grid<[u8; 3]>>, open: Option<Grid<u8>>) -> Self {
        Self {
            normal,
            open,
            ..self
        }
    }

    /// Maps that do not follow from heights.
    pub(super) fn own_maps(&self) -> (Option<&Grid<[u8; 3]>>, Option<&Grid<u8>>) {
        (self.normal.as_ref(), self.open.as_ref())
    }

    /// The material with at most `side` texels along each side.
    pub(super) fn coarser(&self, side: usize) -> Self {
        let first = self.levels.iter().position(|level| level.cols() <= side);
        let first = first.unwrap_or(self.levels.len() - 1);
        Self {
            levels: self.levels[first..].to_vec(),
            normal: self.normal.as_ref().map(|map| skipped(map, first)),
            open: self.open.as_ref().map(|map| skipped(map, first)),
        }
    }

    /// The texture in full.
    pub fn texels(&self) -> &Grid<Texel> {
        &self.levels[0]
    }

    /// The mean of all texels.
    pub fn mean(&self) -> Texel {
        self.levels[self.levels.len() - 1].at(0, 0)
    }

    /// Whether it is one colour all over.
    pub(in crate::ground) fn is_plain(&self) -> bool {
        self.levels.len() == 1
    }

    /// The mean around (`u`, `v`), in repeats of the texture, over a square
    /// whose side is `size` repeats: trilinear between halves of the texture.
    pub fn around(&self, u: f64, v: f64, size: f64) -> Texel {
        let level = self.level(size);
        let (near, part) = (level.floor() as usize, level.fract() as f32);
        let fine = bilinear(&self.levels[near], u, v);
        match self.levels.get(near + 1) {
            Some(far) if part > 0.0 => fine
                .scaled(1.0 - part)
                .plus(bilinear(far, u, v).scaled(part)),
            _ => fine,
        }
    }

    /// How often the texture is halved until a texel is as large as a square
    /// whose side is `size` repeats.
    fn level(&self, size: f64) -> f64 {
        let texels = (size * self.levels[0].cols() as f64).max(1.0);
        texels.log2().min((self.levels.len() - 1) as f64)
    }

    /// The texture with texels about as large as a square whose side is `size`
    /// repeats.
    pub(in crate::ground) fn sharp(&self, size: f64) -> Sharp<'_> {
        Sharp(&self.levels[self.level(size).round() as usize])
    }
}

/// One halving of a texture.
#[derive(Clone, Copy, Debug)]
pub(in crate::ground) struct Sharp<'m>(&'m Grid<Texel>);

impl Sharp<'_> {
    /// What is at (`u`, `v`), in repeats of the texture.
    #[inline(always)]
    pub(in crate::ground) fn at(&self, u: f64, v: f64) -> Texel {
        bilinear(self.0, u, v)
    }
}

/// Every 2ᵏ-th value of a map.
fn skipped<T: Copy + Default + Send + Sync>(map: &Grid<T>, k: usize) -> Grid<T> {
    Grid::by_rows(map.cols() >> k, map.rows() >> k, |r, row| {
        for (c, value) in row.iter_mut().enumerate() {
            *value = map.at(c << k, r << k);
        }
    })
}

/// Between texels; beyond an edge the texture goes on at the other one. The
/// side of a texture is a power of two.
#[inline(always)]
fn bilinear(level: &Grid<Texel>, u: f64, v: f64) -> Texel {
    let side = level.cols();
    let (x, y) = (u * side as f64 - 0.5, v * side as f64 - 0.5);
    let (c, r) = (x.floor(), y.floor());
    let (s, t) = ((x - c) as f32, (y - r) as f32);
    let wrap = |i: i64| i as usize & (side - 1);
    let (c, r) = (c as i64, r as i64);
    let (c0, c1) = (wrap(c), wrap(c + 1));
    let (above, below) = (level.row(wrap(r)), level.row(wrap(r + 1)));
    let across = |row: &[Texel]| row[c0].scaled(1.0 - s).plus(row[c1].scaled(s));
    across(above).scaled(1.0 - t).plus(across(below).scaled(t))
}
