//! Two-dimensional gradient noise on a square lattice (Perlin 1985, with the
//! fade curve of Perlin 2002, "Improving Noise").
//!
//! We deviate from Perlin in two ways: gradients are unit vectors in any
//! direction, not a choice of a few, which makes the noise isotropic; and the
//! sum is taken first along y, then along x, which lets a whole row share the
//! work of a lattice cell (see `LatticeRow`). [`lattice_value`] is the one
//! canonical meaning; every faster path must equal it bit for bit.

use super::hash::hash;
use super::lattice::{Age, Sample, Spot, chunk_loops, fade, fade_slope, split};

/// Unit gradients reach √½ in the middle of a cell; this brings the noise to
/// the range from −1 to 1. A little under √2, because the gradients' length
/// may exceed 1 by the error of `quarter_sine`.
const TO_FULL_RANGE: f32 = 1.4139;

/// sin(90°·t) for t in [−1, 1], within 2·10⁻⁴ (odd minimax quintic).
#[inline(always)]
fn quarter_sine(t: f32) -> f32 {
    let t2 = t * t;
    t * (1.570_629_1 + t2 * (-0.643_268_6 + t2 * 0.072_711_3))
}

/// The gradient at a lattice point: a vector of length 1 in a direction drawn
/// evenly from the whole circle.
#[inline(always)]
fn gradient(ix: i32, iy: i32, seed: u32) -> (f32, f32) {
    direction(hash(ix, iy, seed))
}

/// A vector of length 1 in a direction drawn evenly from the whole circle.
#[inline(always)]
pub(super) fn direction(bits: u32) -> (f32, f32) {
    // The angle in quarter turns, −1 to 1, and which half of the circle.
    let t = (bits >> 8) as f32 * (1.0 / 8_388_608.0) - 1.0;
    let half = 1.0 - ((bits & 1) << 1) as f32;
    (half * quarter_sine(1.0 - t.abs()), quarter_sine(t))
}

/// One lattice column's share in a row: `slope` per unit of x, and `value` at
/// the lattice line itself.
#[inline(always)]
fn column(low: (f32, f32), high: (f32, f32), fy: f32, v: f32) -> (f32, f32) {
    let slope = low.0 + v * (high.0 - low.0);
    let (at_low, at_high) = (low.1 * fy, high.1 * (fy - 1.0));
    (slope, at_low + v * (at_high - at_low))
}

#[inline(always)]
fn between(west: (f32, f32), east: (f32, f32), fx: f32, u: f32) -> f32 {
    let at_west = west.0 * fx + west.1;
    let at_east = east.0 * (fx - 1.0) + east.1;
    at_west + u * (at_east - at_west)
}

/// Lattice noise for any choice of gradients: the canonical arithmetic.
///
/// (`ix`, `iy`) is the cell, (`fx`, `fy`) the place in it, 0 to 1, and
/// `gradient` gives the vector at a lattice point.
#[inline(always)]
pub fn lattice_value(
    (ix, iy): (i32, i32),
    (fx, fy): (f32, f32),
    gradient: impl Fn(i32, i32) -> (f32, f32),
) -> f32 {
    let v = fade(fy);
    let (ex, ny) = (ix.wrapping_add(1), iy.wrapping_add(1));
    let west = column(gradient(ix, iy), gradient(ix, ny), fy, v);
    let east = column(gradient(ex, iy), gradient(ex, ny), fy, v);
    between(west, east, fx, fade(fx))
}

/// Gradient noise at a lattice position, from −1 to 1, 0 at lattice points.
#[inline(always)]
pub fn gradient_noise(x: f64, y: f64, seed: u32) -> f32 {
    let ((ix, fx), (iy, fy)) = (split(x), split(y));
    TO_FULL_RANGE * lattice_value((ix, iy), (fx, fy), |ix, iy| gradient(ix, iy, seed))
}

/// Where the columns of a grid stand in one octave's lattice.
pub(super) struct Columns {
    pub(super) cells: Vec<i32>,
    fractions: Vec<f32>,
    pub(super) fades: Vec<f32>,
}

impl Columns {
    pub(super) fn new(positions: impl Iterator<Item = f64>) -> Self {
        let (cells, fractions): (Vec<i32>, Vec<f32>) = positions.map(split).unzip();
        let fades = fractions.iter().map(|&t| fade(t)).collect();
        Self {
            cells,
            fractions,
            fades,
        }
    }
}

/// Room for one row's work, kept between rows.
#[derive(Default)]
pub(super) struct RowScratch {
    lattice: Vec<(f32, f32)>,
    west: Vec<(f32, f32)>,
    east: Vec<(f32, f32)>,
}

/// Gradient noise along one row of constant `y`: bit for bit
/// [`gradient_noise`], but each lattice column is worked out once.
pub(super) fn fill_row(
    columns: &Columns,
    y: f64,
    seed: u32,
    scratch: &mut RowScratch,
    out: &mut [f32],
) {
    let (Some(&first), Some(&last)) = (columns.cells.first(), columns.cells.last()) else {
        return;
    };
    let (iy, fy) = split(y);
    let v = fade(fy);
    let ny = iy.wrapping_add(1);
    // Where the lattice is much finer than the grid, a column is rarely
    // shared; working them out ahead would cost more than it saves.
    let span = (last as i64 - first as i64) as usize + 2;
    scratch.west.clear();
    scratch.east.clear();
    if span <= out.len() + 2 {
        scratch.lattice.clear();
        scratch.lattice.extend((0..span).map(|k| {
            let ix = first.wrapping_add(k as i32);
            column(gradient(ix, iy, seed), gradient(ix, ny, seed), fy, v)
        }));
        let at = |ix: i32| ix.wrapping_sub(first) as usize;
        scratch
            .west
            .extend(columns.cells.iter().map(|&ix| scratch.lattice[at(ix)]));
        scratch
            .east
            .extend(columns.cells.iter().map(|&ix| scratch.lattice[at(ix) + 1]));
    } else {
        let line = |ix: i32| column(gradient(ix, iy, seed), gradient(ix, ny, seed), fy, v);
        scratch
            .west
            .extend(columns.cells.iter().map(|&ix| line(ix)));
        scratch
            .east
            .extend(columns.cells.iter().map(|&ix| line(ix.wrapping_add(1))));
    }
    blend_row(
        &scratch.west,
        &scratch.east,
        &columns.fractions,
        &columns.fades,
        out,
    );
}

#[multiversion::multiversion(targets = "simd")]
fn blend_row(
    west: &[(f32, f32)],
    east: &[(f32, f32)],
    fractions: &[f32],
    fades: &[f32],
    out: &mut [f32],
) {
    let lines = west.iter().zip(east);
    let places = fractions.iter().zip(fades);
    for (out, ((west, east), (&fx, &u))) in out.iter_mut().zip(lines.zip(places)) {
        *out = TO_FULL_RANGE * between(*west, *east, fx, u);
    }
}

/// Gradient noise with its slope: the value is bit for bit that of
/// [`gradient_noise`] while nothing moves.
#[inline(always)]
pub(super) fn sample<const MOVING: bool>(spot: Spot, age: Age) -> Sample {
    let Spot { ix, iy, fx, fy } = spot;
    let drawn = |ix, iy| age.draw::<MOVING>(|seed| gradient(ix, iy, seed));
    let (ex, ny) = (ix.wrapping_add(1), iy.wrapping_add(1));
    let (a, b) = (drawn(ix, iy), drawn(ix, ny));
    let (c, d) = (drawn(ex, iy), drawn(ex, ny));
    let (u, v) = (fade(fx), fade(fy));
    let (west, east) = (column(a, b, fy, v), column(c, d, fy, v));
    // Along y: what each lattice column changes by, then blended along x.
    let rise = |low: (f32, f32), high: (f32, f32)| {
        let turn = high.0 - low.0;
        let (at_low, at_high) = (low.1 * fy, high.1 * (fy - 1.0));
        let straight = low.1 + v * (high.1 - low.1) + fade_slope(fy) * (at_high - at_low);
        (fade_slope(fy) * turn, straight)
    };
    let (at_west, at_east) = (west.0 * fx + west.1, east.0 * (fx - 1.0) + east.1);
    Sample {
        value: TO_FULL_RANGE * between(west, east, fx, u),
        dx: TO_FULL_RANGE * (west.0 + u * (east.0 - west.0) + fade_slope(fx) * (at_east - at_west)),
        dy: TO_FULL_RANGE * between(rise(a, b), rise(c, d), fx, u),
    }
}

chunk_loops!(sample);
