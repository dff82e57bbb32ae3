//! The kinds of noise that layers are made of.

use super::cellular::{self, CellDistance, CellFeature};
use super::lattice::{self, Age, Lanes, Places, Sample, Scale, Slopes, Spots, square_spot};
use super::{gradient, simplex, value};

/// One kind of noise: a function of place from −1 to 1 with mean 0.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Basis {
    /// Slopes on a lattice of squares: soft hills.
    #[default]
    Gradient,
    /// Heights on a lattice of squares: blunter, blotchy.
    Value,
    /// Slopes on a lattice of triangles: soft hills without preference for
    /// the axes.
    Simplex,
    /// Distances to strewn points.
    Cellular {
        /// Which distance.
        feature: CellFeature,
        /// How it is measured.
        distance: CellDistance,
        /// Turned upside down.
        complement: bool,
    },
}

impl Basis {
    /// Means of |n| and of (1 − |n|)² over the noise n: what octaves too fine
    /// for a grid fade to. Measured, and held by a test.
    pub(super) fn mean_fold_and_crest(self) -> (f32, f32) {
        use CellDistance::{AlongAxes, LongerAxis, Straight};
        use CellFeature::{Border, Nearest, Second};
        match self {
            Basis::Gradient => (0.2500, 0.5927),
            Basis::Value => (0.3787, 0.4474),
            Basis::Simplex => (0.4670, 0.3564),
            Basis::Cellular {
                feature, distance, ..
            } => match (feature, distance) {
                (Nearest, Straight) => (0.2119, 0.6428),
                (Nearest, AlongAxes) => (0.1906, 0.6731),
                (Nearest, LongerAxis) => (0.2222, 0.6289),
                (Second, Straight) => (0.1819, 0.6873),
                (Second, AlongAxes) => (0.1829, 0.6858),
                (Second, LongerAxis) => (0.1891, 0.6773),
                (Border, Straight) => (0.1855, 0.6795),
                (Border, AlongAxes) => (0.1790, 0.6891),
                (Border, LongerAxis) => (0.1855, 0.6794),
            },
        }
    }

    /// The noise and its slope at a place: the meaning that the loops over many
    /// places equal bit for bit. `time` 0 is the timeless noise.
    pub fn sample(self, x: f64, y: f64, seed: u32, time: f64) -> Sample {
        self.sample_at(x, y, Age::new(seed, time))
    }

    pub(super) fn sample_at(self, x: f64, y: f64, age: Age) -> Sample {
        let moving = age.still().is_none();
        match (self, moving) {
            (Basis::Gradient, false) => gradient::sample::<false>(square_spot(x, y), age),
            (Basis::Gradient, true) => gradient::sample::<true>(square_spot(x, y), age),
            (Basis::Value, false) => value::sample::<false>(square_spot(x, y), age),
            (Basis::Value, true) => value::sample::<true>(square_spot(x, y), age),
            (Basis::Simplex, false) => simplex::sample::<false>(simplex::spot(x, y), age),
            (Basis::Simplex, true) => simplex::sample::<true>(simplex::spot(x, y), age),
            (
                Basis::Cellular {
                    feature,
                    distance,
                    complement,
                },
                _,
            ) => {
                let sample = cellular::sample(feature, distance, square_spot(x, y), age);
                match complement {
                    true => Sample {
                        value: -sample.value,
                        dx: -sample.dx,
                        dy: -sample.dy,
                    },
                    false => sample,
                }
            }
        }
    }

    /// Whether the lattice is one of squares.
    fn is_square(self) -> bool {
        self != Basis::Simplex
    }

    /// Where a chunk of places falls.
    pub(super) fn fall(self, places: &Places, scale: Scale, spots: &mut Spots) {
        match self.is_square() {
            true => lattice::fall(places, scale, spots),
            false => simplex::fall(places, scale, spots),
        }
    }

    /// The noise, and its slopes if asked for, at a chunk of spots.
    pub(super) fn fill(self, spots: &Spots, age: &Age, out: &mut Lanes, slopes: Option<Slopes>) {
        match self {
            Basis::Gradient => gradient::fill(spots, age, out, slopes),
            Basis::Value => value::fill(spots, age, out, slopes),
            Basis::Simplex => simplex::fill(spots, age, out, slopes),
            Basis::Cellular {
                feature,
                distance,
                complement: false,
            } => cellular::fill((feature, distance), spots, age, out, slopes),
            Basis::Cellular {
                feature,
                distance,
                complement: true,
            } => {
                let negate = |values: &mut Lanes| values.iter_mut().for_each(|v| *v = -*v);
                match slopes {
                    None => cellular::fill((feature, distance), spots, age, out, None),
                    Some((dx, dy)) => {
                        let slopes = Some((&mut *dx, &mut *dy));
                        cellular::fill((feature, distance), spots, age, out, slopes);
                        negate(dx);
                        negate(dy);
                    }
                }
                negate(out);
            }
        }
    }
}
