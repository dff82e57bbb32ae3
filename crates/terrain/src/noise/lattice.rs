//! What the kinds of lattice noise have in common: how a place falls into a
//! lattice, how noise changes over time, and loops over many places.

use super::hash::hash;
use crate::smooth::smooth;

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
            blend: smooth(t),
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

/// Places handled together: enough to fill SIMD lanes many times over, few
/// enough to stay in the nearest cache.
pub(super) const CHUNK: usize = 64;

/// One number for each place of a chunk. The size is fixed, so that loops over
/// it become SIMD code; a chunk that is not full is padded.
pub(super) type Lanes<T = f32> = [T; CHUNK];

/// Up to [`CHUNK`] places, metres.
pub(super) struct Places {
    pub(super) x_m: Lanes<f64>,
    pub(super) y_m: Lanes<f64>,
}

/// From metres to a lattice: cells per metre along the lattice's axes, which are turned
/// (frequency times cosine and sine), and a shift in cells.
#[derive(Clone, Copy, Debug)]
pub(super) struct Scale {
    pub(super) turned: (f64, f64),
    pub(super) shift: (f64, f64),
}

impl Scale {
    #[inline(always)]
    pub(super) fn apply(&self, x_m: f64, y_m: f64) -> (f64, f64) {
        let (along, across) = self.turned;
        (
            x_m * along + y_m * across + self.shift.0,
            y_m * along - x_m * across + self.shift.1,
        )
    }
}

/// Where a chunk of places falls, one array per coordinate.
pub(super) struct Spots {
    pub(super) ix: Lanes<i32>,
    pub(super) iy: Lanes<i32>,
    pub(super) fx: Lanes,
    pub(super) fy: Lanes,
}

impl Spots {
    pub(super) const ZERO: Self = Self {
        ix: [0; CHUNK],
        iy: [0; CHUNK],
        fx: [0.0; CHUNK],
        fy: [0.0; CHUNK],
    };
}

/// Slopes of a chunk, towards +x and +y.
pub(super) type Slopes<'a> = (&'a mut Lanes, &'a mut Lanes);

/// Writes the loops over a chunk for one kind of noise, given what is at a spot
/// (`$sample`), or for one lattice, given how a place falls (`@fall $spot`).
/// The compiler drops the slopes where nobody asks for them, so the values have
/// the same bits.
macro_rules! chunk_loops {
    ($sample:ident) => {
        /// Noise at a chunk of spots; the same bits as one by one.
        pub(super) fn fill(
            spots: &crate::noise::lattice::Spots,
            age: &crate::noise::lattice::Age,
            out: &mut crate::noise::lattice::Lanes,
            slopes: Option<crate::noise::lattice::Slopes>,
        ) {
            match (age.still().is_some(), slopes) {
                (true, None) => values_still(spots, age, out),
                (false, None) => values_moving(spots, age, out),
                (true, Some((dx, dy))) => slopes_still(spots, age, out, dx, dy),
                (false, Some((dx, dy))) => slopes_moving(spots, age, out, dx, dy),
            }
        }

        chunk_loops!(@values values_still, $sample, false);
        chunk_loops!(@values values_moving, $sample, true);
        chunk_loops!(@slopes slopes_still, $sample, false);
        chunk_loops!(@slopes slopes_moving, $sample, true);
    };
    (@fall $spot:ident) => {
        /// Where a chunk of places falls.
        #[multiversion::multiversion(targets(
            "x86_64+avx512f+avx512bw+avx512cd+avx512dq+avx512vl",
            "x86_64+avx2",
            "aarch64+neon"
        ))]
        pub(super) fn fall(
            places: &crate::noise::lattice::Places,
            scale: crate::noise::lattice::Scale,
            spots: &mut crate::noise::lattice::Spots,
        ) {
            for i in 0..crate::noise::lattice::CHUNK {
                let (x, y) = scale.apply(places.x_m[i], places.y_m[i]);
                let spot = $spot(x, y);
                spots.ix[i] = spot.ix;
                spots.iy[i] = spot.iy;
                spots.fx[i] = spot.fx;
                spots.fy[i] = spot.fy;
            }
        }

    };
    (@values $name:ident, $sample:ident, $moving:literal) => {
        #[multiversion::multiversion(targets(
            "x86_64+avx512f+avx512bw+avx512cd+avx512dq+avx512vl",
            "x86_64+avx2",
            "aarch64+neon"
        ))]
        fn $name(
            spots: &crate::noise::lattice::Spots,
            age: &crate::noise::lattice::Age,
            out: &mut crate::noise::lattice::Lanes,
        ) {
            let age = *age;
            for i in 0..crate::noise::lattice::CHUNK {
                let spot = crate::noise::lattice::Spot {
                    ix: spots.ix[i],
                    iy: spots.iy[i],
                    fx: spots.fx[i],
                    fy: spots.fy[i],
                };
                out[i] = $sample::<$moving>(spot, age).value;
            }
        }
    };
    (@slopes $name:ident, $sample:ident, $moving:literal) => {
        #[multiversion::multiversion(targets(
            "x86_64+avx512f+avx512bw+avx512cd+avx512dq+avx512vl",
            "x86_64+avx2",
            "aarch64+neon"
        ))]
        fn $name(
            spots: &crate::noise::lattice::Spots,
            age: &crate::noise::lattice::Age,
            out: &mut crate::noise::lattice::Lanes,
            dx: &mut crate::noise::lattice::Lanes,
            dy: &mut crate::noise::lattice::Lanes,
        ) {
            let age = *age;
            for i in 0..crate::noise::lattice::CHUNK {
                let spot = crate::noise::lattice::Spot {
                    ix: spots.ix[i],
                    iy: spots.iy[i],
                    fx: spots.fx[i],
                    fy: spots.fy[i],
                };
                let sample = $sample::<$moving>(spot, age);
                out[i] = sample.value;
                dx[i] = sample.dx;
                dy[i] = sample.dy;
            }
        }
    };
}
pub(super) use chunk_loops;

/// The whole number at or below a position, and what is left.
///
/// The conversion adds 1½·2⁵² so that the number stands in the low bits, which
/// runs in SIMD lanes where a cast does not; beyond ±2³¹ it wraps around.
#[inline(always)]
pub(super) fn split(position: f64) -> (i32, f32) {
    let cell = position.floor();
    (whole(cell), (position - cell) as f32)
}

/// A whole number as an integer, wrapping around; see [`split`].
#[inline(always)]
pub(super) fn whole(number: f64) -> i32 {
    const LOW_BITS: f64 = 6_755_399_441_055_744.0;
    (number + LOW_BITS).to_bits() as i32
}

chunk_loops!(@fall square_spot);

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
