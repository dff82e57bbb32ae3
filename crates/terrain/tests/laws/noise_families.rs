//! The kinds of noise: bounds, means, slopes, and what others compute.

use noise::core::value::value_2d;
use noise::permutationtable::NoiseHasher;
use terrain::noise::{Basis, CellDistance, CellFeature, light_hash};

use crate::support::all_bases;

fn places() -> impl Iterator<Item = (f64, f64)> {
    (0..200_000).map(|i| (f64::from(i) * 0.613_7 - 900.0, f64::from(i % 887) * 0.771_3))
}

#[test]
fn every_kind_stays_between_minus_one_and_one_with_mean_zero() {
    for basis in all_bases() {
        let (mut sum, mut low, mut high) = (0.0, 1.0_f32, -1.0_f32);
        for (x, y) in places() {
            let value = basis.sample(x, y, 11, 0.0).value;
            assert!(
                (-1.0..=1.0).contains(&value),
                "{basis:?} at ({x}, {y}): {value}"
            );
            (low, high) = (low.min(value), high.max(value));
            sum += f64::from(value);
        }
        let mean = sum / places().count() as f64;
        assert!(mean.abs() < 0.01, "{basis:?}: mean {mean}");
        assert!(
            high - low > 1.0,
            "{basis:?}: range hardly used, {low} to {high}"
        );
    }
}

/// The slope that a kind states is that of its values.
#[test]
fn slopes_are_the_derivatives_of_the_values() {
    const STEP: f64 = 1e-3;
    for basis in all_bases() {
        let mut worst_share = 0.0;
        for (x, y) in places().step_by(97) {
            let at = |x, y| f64::from(basis.sample(x, y, 3, 0.25).value);
            let sample = basis.sample(x, y, 3, 0.25);
            let dx = (at(x + STEP, y) - at(x - STEP, y)) / (2.0 * STEP);
            let dy = (at(x, y + STEP) - at(x, y - STEP)) / (2.0 * STEP);
            let off = (dx - f64::from(sample.dx)).hypot(dy - f64::from(sample.dy));
            worst_share += f64::from(u8::from(off > 0.05));
        }
        // Cellular noise has creases, where there is no slope.
        let creases = worst_share / places().step_by(97).count() as f64;
        let allowed = if matches!(basis, Basis::Cellular { .. }) {
            0.03
        } else {
            0.0
        };
        assert!(
            creases <= allowed,
            "{basis:?}: wrong at {creases} of the places"
        );
    }
}

/// Our lattice values for the `noise` crate, in its 256 steps.
struct OurHash(u32);

impl NoiseHasher for OurHash {
    fn hash(&self, place: &[isize]) -> usize {
        (light_hash(place[0] as i32, place[1] as i32, self.0) >> 24) as usize
    }
}

/// Value noise of the `noise` crate (0.9), with our lattice values rounded to
/// its 256 steps: the same function but for that rounding.
#[test]
fn value_noise_is_that_of_the_noise_crate() {
    for (x, y) in places().step_by(31) {
        let theirs = value_2d([x, y].into(), &OurHash(77));
        let ours = f64::from(Basis::Value.sample(x, y, 77, 0.0).value);
        assert!(
            (theirs - ours).abs() < 0.01,
            "at ({x}, {y}): {ours}, they have {theirs}"
        );
    }
}

/// Distances by looking at five by five cells, the plain way: the oracle for
/// the search in three by three.
fn cell_distances(x: f64, y: f64, seed: u32, distance: CellDistance) -> (f64, f64) {
    let (cx, cy) = (x.floor(), y.floor());
    let mut found: Vec<f64> = Vec::new();
    for row in -2..=2 {
        for col in -2..=2 {
            let (ix, iy) = (cx as i32 + col, cy as i32 + row);
            let bits = light_hash(ix, iy, seed);
            let share = |bits: u32| 0.1 + 0.8 * f64::from(bits & 0xffff) / 65_536.0;
            let (dx, dy) = (
                x - f64::from(ix) - share(bits),
                y - f64::from(iy) - share(bits >> 16),
            );
            found.push(match distance {
                CellDistance::Straight => dx.hypot(dy),
                CellDistance::AlongAxes => dx.abs() + dy.abs(),
                CellDistance::LongerAxis => dx.abs().max(dy.abs()),
            });
        }
    }
    found.sort_by(f64::total_cmp);
    (found[0], found[1])
}

/// A nearest point outside three by three cells is missed, and that is rare.
#[test]
fn cellular_noise_is_the_distance_to_its_points() {
    for distance in [
        CellDistance::Straight,
        CellDistance::AlongAxes,
        CellDistance::LongerAxis,
    ] {
        // From two places the scale and shift of the output follow.
        let value = |x, y, feature| {
            let complement = false;
            let basis = Basis::Cellular {
                feature,
                distance,
                complement,
            };
            f64::from(basis.sample(x, y, 5, 0.0).value)
        };
        let pairs: Vec<(f64, f64)> = places()
            .step_by(23)
            .map(|(x, y)| {
                (
                    cell_distances(x, y, 5, distance).0,
                    value(x, y, CellFeature::Nearest),
                )
            })
            .collect();
        let (low, high) = (pairs[0], pairs[1]);
        let scale = (high.1 - low.1) / (high.0 - low.0);
        let off = pairs
            .iter()
            .filter(|(d, v)| (low.1 + scale * (d - low.0) - v).abs() > 2e-3 && *v < 0.999);
        let missed = off.count() as f64 / pairs.len() as f64;
        assert!(
            missed < 1e-3,
            "{distance:?}: {missed} of the places are off"
        );
    }
}

#[test]
fn time_goes_smoothly_from_one_noise_to_another() {
    for basis in all_bases() {
        for (x, y) in places().step_by(4001) {
            let at = |time: f64| basis.sample(x, y, 9, time).value;
            for k in 0..40 {
                let (before, after) = (f64::from(k) * 0.05, f64::from(k + 1) * 0.05);
                let jump = (at(after) - at(before)).abs();
                assert!(jump < 0.45, "{basis:?}: jumps by {jump} at time {before}");
            }
        }
        let apart = |time: f64| -> f64 {
            let off = |(x, y)| {
                f64::from(basis.sample(x, y, 9, time).value - basis.sample(x, y, 9, 0.0).value)
                    .abs()
            };
            places().step_by(401).map(off).sum()
        };
        assert_eq!(apart(0.0), 0.0);
        assert!(
            apart(1.0) > 10.0,
            "{basis:?}: another time is the same noise"
        );
    }
}
