//! Spectra: what theory says of layered noise, and no visible lattice.

use rustfft::FftPlanner;
use rustfft::num_complex::Complex;
use terrain::noise::{Basis, FractalNoise};
use terrain::{Extent, Frame, Grid, Run};

const SIDE: usize = 512;

/// Power at each frequency of a square grid, with a Hann window against the
/// jump at its border.
fn power(grid: &Grid) -> Vec<f64> {
    let window = |i: usize| {
        let t = i as f64 / (SIDE - 1) as f64;
        0.5 - 0.5 * (std::f64::consts::TAU * t).cos()
    };
    let mut values: Vec<Complex<f64>> = (0..SIDE * SIDE)
        .map(|i| {
            let (c, r) = (i % SIDE, i / SIDE);
            Complex::new(f64::from(grid.at(c, r)) * window(c) * window(r), 0.0)
        })
        .collect();
    let fft = FftPlanner::new().plan_fft_forward(SIDE);
    for _ in 0..2 {
        values.chunks_mut(SIDE).for_each(|row| fft.process(row));
        // Transposed, so that the second pass goes along the other axis.
        values = (0..SIDE * SIDE)
            .map(|i| values[(i % SIDE) * SIDE + i / SIDE])
            .collect();
    }
    values.iter().map(|v| v.norm_sqr()).collect()
}

fn frequency(i: usize) -> f64 {
    if i > SIDE / 2 {
        i as f64 - SIDE as f64
    } else {
        i as f64
    }
}

fn filled(noise: FractalNoise) -> Grid {
    let extent = Extent {
        width_m: SIDE as f64,
        depth_m: SIDE as f64,
    };
    let frame = Frame::covering(extent, 1.0);
    noise
        .fill(&frame, Run::to_the_end())
        .expect("nobody cancels")
}

/// Layered noise whose layers weaken by 2^−H an octave has a power spectrum
/// that falls as f^−(2H + 2) in two dimensions (Musgrave, in Ebert et al. 2003,
/// ch. 16; Peitgen and Saupe 1988). Fitted over the octaves between the largest
/// features and the band limit; tolerance a quarter.
#[test]
fn the_spectrum_falls_as_theory_says() {
    for h in [0.4, 0.7, 1.0] {
        let mut sums = vec![(0.0, 0); SIDE / 2];
        for seed in 0..4 {
            let noise = FractalNoise {
                feature_m: 128.0,
                octaves: 7.0,
                gain: 2f64.powf(-h),
                seed,
                ..FractalNoise::default()
            };
            for (i, power) in power(&filled(noise)).into_iter().enumerate() {
                let f = frequency(i % SIDE).hypot(frequency(i / SIDE)).round() as usize;
                if (1..SIDE / 2).contains(&f) {
                    sums[f] = (sums[f].0 + power, sums[f].1 + 1);
                }
            }
        }
        // From 8 waves on the grid to 64, where all layers are in full.
        let points: Vec<(f64, f64)> = (8..64)
            .map(|f| ((f as f64).ln(), (sums[f].0 / f64::from(sums[f].1)).ln()))
            .collect();
        let n = points.len() as f64;
        let (mx, my) = (
            points.iter().map(|p| p.0).sum::<f64>() / n,
            points.iter().map(|p| p.1).sum::<f64>() / n,
        );
        let slope = points.iter().map(|p| (p.0 - mx) * (p.1 - my)).sum::<f64>()
            / points.iter().map(|p| (p.0 - mx).powi(2)).sum::<f64>();
        let theory = -(2.0 * h + 2.0);
        assert!(
            (slope - theory).abs() < 0.25,
            "H {h}: slope {slope}, theory {theory}"
        );
    }
}

/// Power along the axes against power along the diagonals, at one distance
/// from the origin: 1 means that no direction of a lattice shows.
fn axis_against_diagonal(basis: Basis) -> f64 {
    let (mut axis, mut diagonal) = ((0.0, 0), (0.0, 0));
    for seed in 0..8 {
        let noise = FractalNoise {
            basis,
            feature_m: 16.0,
            octaves: 1.0,
            seed,
            ..FractalNoise::default()
        };
        for (i, power) in power(&filled(noise)).into_iter().enumerate() {
            let (u, v) = (frequency(i % SIDE), frequency(i / SIDE));
            // A ring around the noise's own frequency, 32 waves on the grid.
            if !(16.0..44.0).contains(&u.hypot(v)) {
                continue;
            }
            let angle = v.abs().atan2(u.abs()).to_degrees();
            if !(12.0..=78.0).contains(&angle) {
                axis = (axis.0 + power, axis.1 + 1);
            } else if (33.0..57.0).contains(&angle) {
                diagonal = (diagonal.0 + power, diagonal.1 + 1);
            }
        }
    }
    (axis.0 / f64::from(axis.1)) / (diagonal.0 / f64::from(diagonal.1))
}

#[test]
fn gradient_and_simplex_noise_have_no_visible_lattice() {
    for (basis, allowed) in [(Basis::Gradient, 1.35), (Basis::Simplex, 1.15)] {
        let ratio = axis_against_diagonal(basis);
        assert!(
            (1.0 / allowed..allowed).contains(&ratio),
            "{basis:?}: {ratio}"
        );
    }
}

/// Values spread evenly around zero: no skew, and no more than a few per cent
/// of the land at either end.
#[test]
fn the_histogram_is_even_and_has_no_spikes() {
    for basis in [Basis::Gradient, Basis::Simplex, Basis::Value] {
        let noise = FractalNoise {
            basis,
            feature_m: 24.0,
            octaves: 5.0,
            ..FractalNoise::default()
        };
        let grid = filled(noise);
        let n = grid.values().len() as f64;
        let moment = |p: i32| {
            grid.values()
                .iter()
                .map(|&v| f64::from(v).powi(p))
                .sum::<f64>()
                / n
        };
        let skew = moment(3) / moment(2).powf(1.5);
        assert!(skew.abs() < 0.12, "{basis:?}: skew {skew}");
        let mut bins = [0_u32; 40];
        for v in grid.values() {
            bins[((v + 1.0) * 20.0).clamp(0.0, 39.0) as usize] += 1;
        }
        let most = f64::from(*bins.iter().max().expect("bins")) / n;
        assert!(
            most < 0.16,
            "{basis:?}: {most} of all values in one of 40 bins"
        );
    }
}
