//! Layers of noise, large forms first, finer and weaker on top.
//!
//! Octaves which the grid cannot carry fade out towards their mean, so that a
//! coarse grid shows the same land with less detail, not other detail. The lattice of
//! each octave is turned against the others and against the map: on lattices that are
//! all in line, crests and creases would follow the axes.

use super::carried::carried;
use super::hash::{hash, unit};
use super::lattice::{Age, CHUNK, Lanes, Places, Scale, Spots};
use super::layers::{Octave, Rule, Sum};
use super::{Basis, Character};
use crate::{Cancelled, Frame, Grid, Run};

/// Layered noise, a function of place.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct FractalNoise {
    /// What each octave is made of.
    pub basis: Basis,
    /// How octaves join.
    pub character: Character,
    /// Size of the largest forms, metres.
    pub feature_m: f64,
    /// How many layers; a fraction adds the last one in part.
    pub octaves: f64,
    /// How many times finer each layer is than the one before.
    pub lacunarity: f64,
    /// How strong each layer is, as a share of the one before.
    pub gain: f64,
    /// What is added to each layer of a multifractal before it is weighted.
    pub offset: f64,
    /// How strongly the slope of the layers so far weakens finer ones: 0 not
    /// at all. Steep flanks turn smooth, flats and crests keep their detail.
    pub slope_damping: f64,
    /// How many times longer forms are along `bearing_deg` than across.
    pub stretch: f64,
    /// Compass bearing along which forms are stretched.
    pub bearing_deg: f64,
    /// How far the noise has changed; each whole number is another noise.
    pub time: f64,
    /// Random seed.
    pub seed: u32,
}

impl Default for FractalNoise {
    fn default() -> Self {
        Self {
            basis: Basis::Gradient,
            character: Character::Fractal,
            feature_m: 1000.0,
            octaves: 8.0,
            lacunarity: 2.0,
            gain: 0.5,
            offset: 0.8,
            slope_damping: 0.0,
            stretch: 1.0,
            bearing_deg: 0.0,
            time: 0.0,
            seed: 1,
        }
    }
}

/// Finer layers change faster: the time of a layer is that of the first times
/// its fineness to this power.
const FINE_HASTE: f64 = 0.5;

/// Turns places into the noise's own directions: along and across.
#[derive(Clone, Copy)]
struct Turn {
    /// Row of the matrix that gives x, and the one that gives y.
    x: (f64, f64),
    y: (f64, f64),
}

impl Turn {
    #[inline(always)]
    fn apply(&self, x_m: f64, y_m: f64) -> (f64, f64) {
        (
            self.x.0 * x_m + self.x.1 * y_m,
            self.y.0 * x_m + self.y.1 * y_m,
        )
    }
}

/// Everything that is worked out once for a grid.
pub(super) struct Plan {
    octaves: Vec<Octave>,
    ages: Vec<Age>,
    rule: Rule,
    turn: Option<Turn>,
}

impl FractalNoise {
    fn octaves_at(&self, cell_m: f64) -> Vec<Octave> {
        let count = self.octaves.max(0.0).ceil() as usize;
        let part = |o: usize| (self.octaves - o as f64).clamp(0.0, 1.0);
        let amplitude = |o: usize| self.gain.powi(o as i32) * part(o);
        let total: f64 = (0..count).map(amplitude).sum();
        (0..count)
            .map(|o| {
                let fineness = self.lacunarity.powi(o as i32);
                let frequency = fineness / self.feature_m;
                let place = |axis| f64::from(unit(hash(o as i32, axis, self.seed)));
                let share = if total > 0.0 {
                    amplitude(o) / total
                } else {
                    0.0
                };
                let (sin, cos) = self.turn_of(o).sin_cos();
                let presence = carried(1.0 / (frequency * cell_m));
                Octave {
                    scale: Scale {
                        turned: (frequency * cos, frequency * sin),
                        shift: (place(0), place(1)),
                    },
                    seed: hash(o as i32, 2, self.seed),
                    time: self.time * fineness.powf(FINE_HASTE),
                    amplitude: amplitude(o) as f32,
                    share: share as f32,
                    presence,
                    steepness: presence * (share * fineness) as f32,
                    turn: (cos as f32, sin as f32),
                }
            })
            .collect()
    }

    /// The angle by which the lattice of an octave is turned, radians. A lattice of
    /// squares is the same after a quarter turn; of that each octave goes a golden part
    /// further than the one before, so that no two come near one another.
    fn turn_of(&self, octave: usize) -> f64 {
        const GOLDEN: f64 = 0.618_033_988_749_894_9;
        let first = f64::from(unit(hash(0, 4, self.seed)));
        (first + GOLDEN * octave as f64).fract() * std::f64::consts::FRAC_PI_2
    }

    pub(super) fn plan(&self, cell_m: f64) -> Plan {
        let octaves = self.octaves_at(cell_m);
        let ages = octaves.iter().map(|o| Age::new(o.seed, o.time)).collect();
        let (damping, offset) = (self.slope_damping, self.offset);
        Plan {
            rule: Rule::new(self.character, self.basis, offset, damping, &octaves),
            octaves,
            ages,
            turn: self.turn(),
        }
    }

    fn turn(&self) -> Option<Turn> {
        if self.stretch == 1.0 {
            return None;
        }
        // A stretch keeps the area of a form: longer along, narrower across.
        let (along, across) = (1.0 / self.stretch.sqrt(), self.stretch.sqrt());
        let (sin, cos) = self.bearing_deg.to_radians().sin_cos();
        // A bearing of 0° is north, so that y runs along it.
        Some(Turn {
            x: (cos * across, -sin * across),
            y: (sin * along, cos * along),
        })
    }

    /// The value at one place, as seen on a grid of cells of `cell_m`: the
    /// meaning that [`FractalNoise::fill`] equals bit for bit.
    pub fn at(&self, x_m: f64, y_m: f64, cell_m: f64) -> f32 {
        let plan = self.plan(cell_m);
        let (x_m, y_m) = match plan.turn {
            Some(turn) => turn.apply(x_m, y_m),
            None => (x_m, y_m),
        };
        let mut sum = Sum::EMPTY;
        for (o, (octave, age)) in plan.octaves.iter().zip(&plan.ages).enumerate() {
            let (x, y) = octave.scale.apply(x_m, y_m);
            let mut noise = 0.0;
            if octave.presence > 0.0 {
                let sample = self.basis.sample_at(x, y, *age);
                noise = match self.slope_damping > 0.0 {
                    true => {
                        plan.rule
                            .damped(octave, sample.value, (sample.dx, sample.dy), &mut sum)
                    }
                    false => sample.value,
                };
            }
            plan.rule
                .add(self.character, o == 0, octave, noise, &mut sum);
        }
        plan.rule.finish(sum.value)
    }

    /// The values on all cells of `frame`. Local: a window has the bits of
    /// the whole.
    ///
    /// # Errors
    /// [`Cancelled`] when `run` was asked to stop.
    pub fn fill(&self, frame: &Frame, run: Run) -> Result<Grid, Cancelled> {
        let plan = self.plan(frame.cell_m);
        self.scattered(&plan, frame, run, |c, r| (frame.x_m(c), frame.y_m(r)))
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
        let plan = self.plan(frame.cell_m);
        self.scattered(&plan, frame, run, |c, r| {
            (
                frame.x_m(c) + f64::from(east_m.at(c, r)),
                frame.y_m(r) + f64::from(north_m.at(c, r)),
            )
        })
    }

    /// The values at the places that `place(col, row)` gives, metres.
    pub(super) fn scattered(
        &self,
        plan: &Plan,
        frame: &Frame,
        run: Run,
        place: impl Fn(usize, usize) -> (f64, f64) + Sync,
    ) -> Result<Grid, Cancelled> {
        let damped = self.slope_damping > 0.0;
        let grid = Grid::by_rows(frame.cols, frame.rows, |r, row| {
            if run.check().is_err() {
                return;
            }
            let mut places = Places {
                x_m: [0.0; CHUNK],
                y_m: [0.0; CHUNK],
            };
            let mut spots = Spots::ZERO;
            let mut noise = [0.0; CHUNK];
            let (mut dx, mut dy) = ([0.0; CHUNK], [0.0; CHUNK]);
            for (k, out) in row.chunks_mut(CHUNK).enumerate() {
                let n = out.len();
                for i in 0..n {
                    (places.x_m[i], places.y_m[i]) = place(k * CHUNK + i, r);
                }
                if let Some(turn) = plan.turn {
                    for (x_m, y_m) in places.x_m.iter_mut().zip(&mut places.y_m) {
                        (*x_m, *y_m) = turn.apply(*x_m, *y_m);
                    }
                }
                let mut weight = [1.0; CHUNK];
                let mut slope = ([0.0; CHUNK], [0.0; CHUNK]);
                for (o, (octave, age)) in plan.octaves.iter().zip(&plan.ages).enumerate() {
                    if octave.presence > 0.0 {
                        self.basis.fall(&places, octave.scale, &mut spots);
                    }
                    if octave.presence == 0.0 {
                        noise.fill(0.0);
                    } else if damped {
                        let slopes = Some((&mut dx, &mut dy));
                        self.basis.fill(&spots, age, &mut noise, slopes);
                        let sum = (&mut slope.0, &mut slope.1);
                        damp_row(&plan.rule, octave, &mut noise, (&dx, &dy), sum);
                    } else {
                        self.basis.fill(&spots, age, &mut noise, None);
                    }
                    let weight = &mut weight[..n];
                    add_row(&plan.rule, o == 0, octave, &noise[..n], out, weight);
                }
                for value in out {
                    *value = plan.rule.finish(*value);
                }
            }
        });
        run.check()?;
        Ok(grid)
    }
}

#[multiversion::multiversion(targets = "simd")]
fn damp_row(
    rule: &Rule,
    octave: &Octave,
    noise: &mut Lanes,
    (dx, dy): (&Lanes, &Lanes),
    (sum_dx, sum_dy): (&mut Lanes, &mut Lanes),
) {
    for i in 0..CHUNK {
        let mut sum = Sum {
            dx: sum_dx[i],
            dy: sum_dy[i],
            ..Sum::EMPTY
        };
        noise[i] = rule.damped(octave, noise[i], (dx[i], dy[i]), &mut sum);
        (sum_dx[i], sum_dy[i]) = (sum.dx, sum.dy);
    }
}

#[multiversion::multiversion(targets = "simd")]
fn add_row(
    rule: &Rule,
    first: bool,
    octave: &Octave,
    noise: &[f32],
    out: &mut [f32],
    weight: &mut [f32],
) {
    /// One loop per character, so that the choice is made outside it.
    macro_rules! with {
        ($character:expr) => {
            for (&noise, (value, weight)) in noise.iter().zip(out.iter_mut().zip(weight)) {
                let mut sum = Sum {
                    value: *value,
                    weight: *weight,
                    ..Sum::EMPTY
                };
                rule.add($character, first, octave, noise, &mut sum);
                (*value, *weight) = (sum.value, sum.weight);
            }
        };
    }
    match rule.character {
        Character::Fractal => with!(Character::Fractal),
        Character::Billow => with!(Character::Billow),
        Character::Ridged => with!(Character::Ridged),
        Character::Hybrid => with!(Character::Hybrid),
        Character::Heterogeneous => with!(Character::Heterogeneous),
    }
}
