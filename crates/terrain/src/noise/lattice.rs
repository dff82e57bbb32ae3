//! What the kinds of lattice noise have in common: how a place falls into a
//! lattice, how noise changes over time, and loops over many places.

use super::hash::hash;

/// A place in a lattice: the cell, and where in it.
#[derive(Clone, Copy, Debug)]
pub(super) struct Spot {
    pub(super) ix: i32,
    pub(super) iy: i32,
    pub(super) fx: f32,
    pub(super) fy: f32,
}

/// Noise and its slope along the lattice axes, per lattice cell.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Sample {
    /// The value, −1 to 1.
    pub value: f32,
    /// Change of the value towards +x.
    pub dx: f32,
    /// Change of the value towards +y.
    pub dy: f32,
}

/// A moment in the life of a lattice. Each lattice point drifts from what it
/// drew at one whole moment to what it draws at the next.
#[derive(Clone, Copy, Debug)]
pub(super) struct Age {
    seed: u32,
    next: u32,
    blend: f32,
}

impl Age {
    /// The lattice of `seed` at `time`; at 0 it is the timeless one.
    pub(super) fn new(seed: u32, time: f64) -> Self {
        let moment = time.floor();
        let at = |moment: f64| match moment as i32 {
            0 => seed,
            moment => hash(moment, 3, seed),
        };
        let t = (time - moment) as f32;
        Self {
            seed: at(moment),
            next: at(moment + 1.0),
            blend: t * t * (3.0 - 2.0 * t),
        }
    }

    /// The seed, when nothing is on the move.
    pub(super) fn still(&self) -> Option<u32> {
        (self.blend == 0.0).then_some(self.seed)
    }

    /// What a lattice point draws now: `draw` gives a pair for a seed.
    #[inline(always)]
    pub(super) fn draw<const MOVING: bool>(&self, draw: impl Fn(u32) -> (f32, f32)) -> (f32, f32) {
        let now = draw(self.seed);
        if !MOVING {
            return now;
        }
        let next = draw(self.next);
        let mix = |a: f32, b: f32| a + self.blend * (b - a);
        (mix(now.0, next.0), mix(now.1, next.1))
    }
}

/// Places handled together, to stay in the nearest cache.
pub(super) const CHUNK: usize = 256;

/// Where up to [`CHUNK`] places fall, one array per coordinate.
pub(super) struct Spots {
    ix: [i32; CHUNK],
    iy: [i32; CHUNK],
    fx: [f32; CHUNK],
    fy: [f32; CHUNK],
}

impl Default for Spots {
    fn default() -> Self {
        Self {
            ix: [0; CHUNK],
            iy: [0; CHUNK],
            fx: [0.0; CHUNK],
            fy: [0.0; CHUNK],
        }
    }
}

impl Spots {
    #[inline(always)]
    pub(super) fn set(&mut self, i: usize, spot: Spot) {
        (self.ix[i], self.iy[i]) = (spot.ix, spot.iy);
        (self.fx[i], self.fy[i]) = (spot.fx, spot.fy);
    }

    #[inline(always)]
    pub(super) fn get(&self, i: usize) -> Spot {
        Spot {
            ix: self.ix[i],
            iy: self.iy[i],
            fx: self.fx[i],
            fy: self.fy[i],
        }
    }
}

/// Slopes of a chunk, towards +x and +y.
pub(super) type Slopes<'a> = (&'a mut [f32], &'a mut [f32]);

/// Writes the loops over a chunk of places for one kind of noise, given how a
/// place falls (`$spot`) and what is there (`$sample`). The compiler drops the
/// slopes where nobody asks for them, so the values have the same bits.
macro_rules! chunk_loops {
    ($spot:ident, $sample:ident) => {
        /// Noise at a chunk of places; the same bits as one by one.
        pub(super) fn fill(
            xs: &[f64],
            ys: &[f64],
            age: &crate::noise::lattice::Age,
            out: &mut [f32],
            slopes: Option<crate::noise::lattice::Slopes>,
        ) {
            let mut spots = crate::noise::lattice::Spots::default();
            fall(xs, ys, &mut spots);
            match (age.still().is_some(), slopes) {
                (true, None) => values_still(&spots, age, out),
                (false, None) => values_moving(&spots, age, out),
                (true, Some((dx, dy))) => slopes_still(&spots, age, out, dx, dy),
                (false, Some((dx, dy))) => slopes_moving(&spots, age, out, dx, dy),
            }
        }

        #[multiversion::multiversion(targets = "simd")]
        fn fall(xs: &[f64], ys: &[f64], spots: &mut crate::noise::lattice::Spots) {
            for (i, (&x, &y)) in xs.iter().zip(ys).enumerate().take(crate::noise::lattice::CHUNK) {
                spots.set(i, $spot(x, y));
            }
        }

        chunk_loops!(@values values_still, $sample, false);
        chunk_loops!(@values values_moving, $sample, true);
        chunk_loops!(@slopes slopes_still, $sample, false);
        chunk_loops!(@slopes slopes_moving, $sample, true);
    };
    (@values $name:ident, $sample:ident, $moving:literal) => {
        #[multiversion::multiversion(targets = "simd")]
        fn $name(
            spots: &crate::noise::lattice::Spots,
            age: &crate::noise::lattice::Age,
            out: &mut [f32],
        ) {
            let age = *age;
            for (i, out) in out.iter_mut().enumerate().take(crate::noise::lattice::CHUNK) {
                *out = $sample::<$moving>(spots.get(i), age).value;
            }
        }
    };
    (@slopes $name:ident, $sample:ident, $moving:literal) => {
        #[multiversion::multiversion(targets = "simd")]
        fn $name(
            spots: &crate::noise::lattice::Spots,
            age: &crate::noise::lattice::Age,
            out: &mut [f32],
            dx: &mut [f32],
            dy: &mut [f32],
        ) {
            let age = *age;
            let n = out.len().min(crate::noise::lattice::CHUNK);
            let (dx, dy) = (&mut dx[..n], &mut dy[..n]);
            for (i, out) in out[..n].iter_mut().enumerate() {
                let sample = $sample::<$moving>(spots.get(i), age);
                *out = sample.value;
                dx[i] = sample.dx;
                dy[i] = sample.dy;
            }
        }
    };
}
pub(super) use chunk_loops;

/// Splits a lattice position into its cell and the place in it.
#[inline(always)]
pub(super) fn split(position: f64) -> (i32, f32) {
    let cell = position.floor();
    (cell as i32, (position - cell) as f32)
}

/// How a place falls into a lattice of squares.
#[inline(always)]
pub(super) fn square_spot(x: f64, y: f64) -> Spot {
    let ((ix, fx), (iy, fy)) = (split(x), split(y));
    Spot { ix, iy, fx, fy }
}

/// Perlin's (2002) fade curve 6t⁵ − 15t⁴ + 10t³: flat to second order at 0, 1.
#[inline(always)]
pub(super) fn fade(t: f32) -> f32 {
    t * t * t * (t * (t * 6.0 - 15.0) + 10.0)
}

/// The slope of [`fade`].
#[inline(always)]
pub(super) fn fade_slope(t: f32) -> f32 {
    30.0 * t * t * (t * (t - 2.0) + 1.0)
}
