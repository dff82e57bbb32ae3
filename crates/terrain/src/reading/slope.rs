//! How steep the land is.

use super::horn::for_each_gradient;
use crate::Grid;

/// Slope in degrees, 0 level to 90 upright.
///
/// `heights` has an apron of one cell; the result does not. Local.
pub fn slope_deg(heights: &Grid, cell_m: f64) -> Grid {
    for_each_gradient(heights, cell_m, slope_row)
}

#[multiversion::multiversion(targets = "simd")]
fn slope_row(east: &[f32], north: &[f32], out: &mut [f32]) {
    for (out, (&e, &n)) in out.iter_mut().zip(east.iter().zip(north)) {
        *out = arctangent((e * e + n * n).sqrt()).to_degrees();
    }
}

/// Arctangent of a number from 0 up, within 10⁻⁷ rad. A polynomial, so that
/// it runs in SIMD lanes and has the same bits on every machine
/// (Abramowitz and Stegun 1964, 4.4.49).
#[allow(clippy::excessive_precision)] // the factors as published
#[inline(always)]
pub(super) fn arctangent(x: f32) -> f32 {
    let steep = x > 1.0;
    let t = if steep { 1.0 / x } else { x };
    let t2 = t * t;
    let mut sum = 0.002_866_225_7;
    for factor in [
        -0.016_165_736_7,
        0.042_909_613_8,
        -0.075_289_64,
        0.106_562_64,
        -0.142_088_99,
        0.199_935_51,
        -0.333_331_45,
        1.0,
    ] {
        sum = sum * t2 + factor;
    }
    let angle = t * sum;
    if steep {
        std::f32::consts::FRAC_PI_2 - angle
    } else {
        angle
    }
}

#[cfg(test)]
mod tests {
    use super::arctangent;

    #[test]
    fn arctangent_is_that_of_the_standard_library() {
        for i in 0..=200_000 {
            let x = (f64::from(i) * 1e-4).powi(2);
            let (got, expected) = (f64::from(arctangent(x as f32)), x.atan());
            assert!(
                (got - expected).abs() < 3e-7,
                "atan {x}: got {got}, expected {expected}"
            );
        }
    }
}
