//! Layers of gradient noise, large forms first, finer and weaker on top.
//!
//! The sum and the ridged form follow Musgrave, in Ebert et al., "Texturing
//! and Modeling: A Procedural Approach" (3rd ed. 2003, ch. 16). Ours differ in
//! that octaves which the grid cannot carry fade out towards their mean, so
//! that a coarse grid shows the same land with less detail, not other detail.

use super::gradient::{Columns, RowScratch, fill_row, fill_scattered, gradient_noise};
use super::hash::{hash, unit};
use crate::{Cancelled, Frame, Grid, Run};

/// What each octave looks like.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Character {
    /// Rolling: hills and hollows alike. From −1 to 1.
    Fractal,
    /// Sharp crests that carry finer crests, smooth valleys. From −1 to 1.
    Ridged,
    /// Rounded domes with sharp creases between. From −1 to 1.
    Billow,
}

/// Layered gradient noise, a function of place.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct FractalNoise {
    /// What each octave looks like.
    pub character: Character,
    /// Size of the largest forms, metres.
    pub feature_m: f64,
    /// How many layers; a fraction adds the last one in part.
    pub octaves: f64,
    /// How many times finer each layer is than the one before.
    pub lacunarity: f64,
    /// How strong each layer is, as a share of the one before.
    pub gain: f64,
    /// Which of the endless variants.
    pub seed: u32,
}

/// One layer, ready to be evaluated.
struct Octave {
    /// Lattice cells per metre.
    frequency: f64,
    /// Shift in lattice cells, so that the layers' lattices do not coincide.
    shift: (f64, f64),
    seed: u32,
    /// Amplitude as a share of the sum of all.
    share: f32,
    /// 1 where the grid carries the layer, 0 where it is too fine.
    presence: f32,
}

/// A layer is gone when its features are as small as 2 cells (Nyquist) and
/// in full from 4 cells on.
const FADE_CELLS: (f64, f64) = (2.0, 4.0);

/// Mean of |n| and of (1 − |n|)² over gradient noise n: what an octave that
/// is too fine for the grid fades to. Measured; held by a test.
const MEAN_ABS: f32 = 0.2500;
const MEAN_CREST: f32 = 0.5927;

/// How strongly a crest carries the next finer layer (Musgrave's "gain").
const CREST_CARRIES: f32 = 2.0;

/// Columns handled together, to keep the positions of one chunk in cache.
const CHUNK: usize = 256;

impl FractalNoise {
    fn octaves_at(&self, cell_m: f64) -> Vec<Octave> {
        let count = self.octaves.max(0.0).ceil() as usize;
        let part = |o: usize| (self.octaves - o as f64).clamp(0.0, 1.0);
        let amplitude = |o: usize| self.gain.powi(o as i32) * part(o);
        let total: f64 = (0..count).map(amplitude).sum();
        (0..count)
            .map(|o| {
                let frequency = self.lacunarity.powi(o as i32) / self.feature_m;
                let place = |axis| f64::from(unit(hash(o as i32, axis, self.seed)));
                Octave {
                    frequency,
                    shift: (place(0), place(1)),
                    seed: hash(o as i32, 2, self.seed),
                    share: if total > 0.0 {
                        (amplitude(o) / total) as f32
                    } else {
                        0.0
                    },
                    presence: presence(1.0 / (frequency * cell_m)),
                }
            })
            .collect()
    }

    /// The value at one place, as seen on a grid of cells of `cell_m`: the
    /// meaning that [`FractalNoise::fill`] equals bit for bit.
    pub fn at(&self, x_m: f64, y_m: f64, cell_m: f64) -> f32 {
        let (mut sum, mut weight) = (0.0, 1.0);
        for octave in self.octaves_at(cell_m) {
            let (x, y) = octave.place(x_m, y_m);
            let noise = match octave.presence > 0.0 {
                true => gradient_noise(x, y, octave.seed),
                false => 0.0,
            };
            add_layer(self.character, &octave, noise, &mut sum, &mut weight);
        }
        finish(self.character, sum)
    }

    /// The values on all cells of `frame`. Local: a window has the bits of
    /// the whole.
    ///
    /// # Errors
    /// [`Cancelled`] when `run` was asked to stop.
    pub fn fill(&self, frame: &Frame, run: Run) -> Result<Grid, Cancelled> {
        let octaves = self.octaves_at(frame.cell_m);
        let columns: Vec<Columns> = octaves
            .iter()
            .map(|o| Columns::new((0..frame.cols).map(|c| o.place(frame.x_m(c), 0.0).0)))
            .collect();
        self.by_rows(frame, run, |r, layer, scratch: &mut RowScratch, out| {
            let octave = &octaves[layer];
            let y = octave.place(0.0, frame.y_m(r)).1;
            fill_row(&columns[layer], y, octave.seed, scratch, out);
        })
    }

    /// The values at places pushed away from the cells of `frame`: east by
    /// `east_m` and north by `north_m` (metres, on `frame`).
    ///
    /// # Errors
    /// [`Cancelled`] when `run` was asked to stop.
    pub fn fill_warped(
        &self,
        frame: &Frame,
        east_m: &Grid,
        north_m: &Grid,
        run: Run,
    ) -> Result<Grid, Cancelled> {
        let octaves = self.octaves_at(frame.cell_m);
        self.by_rows(frame, run, |r, layer, _: &mut RowScratch, out| {
            let octave = &octaves[layer];
            let (mut xs, mut ys) = ([0.0; CHUNK], [0.0; CHUNK]);
            for (chunk, out) in out.chunks_mut(CHUNK).enumerate() {
                for i in 0..out.len() {
                    let c = chunk * CHUNK + i;
                    (xs[i], ys[i]) = octave.place(
                        frame.x_m(c) + f64::from(east_m.at(c, r)),
                        frame.y_m(r) + f64::from(north_m.at(c, r)),
                    );
                }
                fill_scattered(&xs[..out.len()], &ys[..out.len()], octave.seed, out);
            }
        })
    }

    /// Sums the layers row by row; `layer_row(row, layer, scratch, out)` gives
    /// the bare noise of one layer.
    fn by_rows(
        &self,
        frame: &Frame,
        run: Run,
        layer_row: impl Fn(usize, usize, &mut RowScratch, &mut [f32]) + Sync,
    ) -> Result<Grid, Cancelled> {
        run.check()?;
        let octaves = self.octaves_at(frame.cell_m);
        let grid = Grid::by_rows(frame.cols, frame.rows, |r, sum| {
            if run.check().is_err() {
                return;
            }
            let mut scratch = RowScratch::default();
            let mut noise = vec![0.0; sum.len()];
            let mut weight = vec![1.0; sum.len()];
            for (layer, octave) in octaves.iter().enumerate() {
                if octave.presence > 0.0 {
                    layer_row(r, layer, &mut scratch, &mut noise);
                }
                add_layer_row(self.character, octave, &noise, sum, &mut weight);
            }
            for sum in sum {
                *sum = finish(self.character, *sum);
            }
        });
        run.check()?;
        Ok(grid)
    }
}

impl Octave {
    #[inline(always)]
    fn place(&self, x_m: f64, y_m: f64) -> (f64, f64) {
        (
            x_m * self.frequency + self.shift.0,
            y_m * self.frequency + self.shift.1,
        )
    }
}

/// How much of a layer with features of `cells` cells the grid carries.
fn presence(cells: f64) -> f32 {
    let t = ((cells - FADE_CELLS.0) / (FADE_CELLS.1 - FADE_CELLS.0)).clamp(0.0, 1.0);
    (t * t * (3.0 - 2.0 * t)) as f32
}

#[inline(always)]
fn add_layer(character: Character, octave: &Octave, noise: f32, sum: &mut f32, weight: &mut f32) {
    let faded = |value: f32, mean: f32| mean + octave.presence * (value - mean);
    match character {
        Character::Fractal => *sum += octave.share * (octave.presence * noise),
        Character::Billow => *sum += octave.share * faded(noise.abs(), MEAN_ABS),
        Character::Ridged => {
            let crest = 1.0 - noise.abs();
            let signal = *weight * faded(crest * crest, MEAN_CREST);
            *sum += octave.share * signal;
            *weight = (CREST_CARRIES * signal).min(1.0);
        }
    }
}

#[multiversion::multiversion(targets = "simd")]
fn add_layer_row(
    character: Character,
    octave: &Octave,
    noise: &[f32],
    sum: &mut [f32],
    weight: &mut [f32],
) {
    let rows = noise.iter().zip(sum.iter_mut().zip(weight));
    match character {
        // One loop per character, so that the choice is made outside it.
        Character::Fractal => rows.for_each(|(&n, (s, w))| {
            add_layer(Character::Fractal, octave, n, s, w);
        }),
        Character::Billow => rows.for_each(|(&n, (s, w))| {
            add_layer(Character::Billow, octave, n, s, w);
        }),
        Character::Ridged => rows.for_each(|(&n, (s, w))| {
            add_layer(Character::Ridged, octave, n, s, w);
        }),
    }
}

#[inline(always)]
fn finish(character: Character, sum: f32) -> f32 {
    match character {
        Character::Fractal => sum,
        Character::Billow | Character::Ridged => 2.0 * sum - 1.0,
    }
}
