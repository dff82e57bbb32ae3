//! Noise: against Perlin's published reference, bounds, windows, resolution.

use proptest::prelude::*;
use terrain::noise::{Character, FractalNoise, gradient_noise, lattice_value};
use terrain::{Frame, Grid, Run};

use crate::support::{all_bases, assert_same_bits, frame, on_threads};

/// The first 256 entries of the permutation in Perlin's reference
/// implementation (Perlin 2002, "Improved Noise", from his published code).
const PERLIN_PERMUTATION: [u8; 256] = [
    151, 160, 137, 91, 90, 15, 131, 13, 201, 95, 96, 53, 194, 233, 7, 225, 140, 36, 103, 30, 69,
    142, 8, 99, 37, 240, 21, 10, 23, 190, 6, 148, 247, 120, 234, 75, 0, 26, 197, 62, 94, 252, 219,
    203, 117, 35, 11, 32, 57, 177, 33, 88, 237, 149, 56, 87, 174, 20, 125, 136, 171, 168, 68, 175,
    74, 165, 71, 134, 139, 48, 27, 166, 77, 146, 158, 231, 83, 111, 229, 122, 60, 211, 133, 230,
    220, 105, 92, 41, 55, 46, 245, 40, 244, 102, 143, 54, 65, 25, 63, 161, 1, 216, 80, 73, 209, 76,
    132, 187, 208, 89, 18, 169, 200, 196, 135, 130, 116, 188, 159, 86, 164, 100, 109, 198, 173,
    186, 3, 64, 52, 217, 226, 250, 124, 123, 5, 202, 38, 147, 118, 126, 255, 82, 85, 212, 207, 206,
    59, 227, 47, 16, 58, 17, 182, 189, 28, 42, 223, 183, 170, 213, 119, 248, 152, 2, 44, 154, 163,
    70, 221, 153, 101, 155, 167, 43, 172, 9, 129, 22, 39, 253, 19, 98, 108, 110, 79, 113, 224, 232,
    178, 185, 112, 104, 218, 246, 97, 228, 251, 34, 242, 193, 238, 210, 144, 12, 191, 179, 162,
    241, 81, 51, 145, 235, 249, 14, 239, 107, 49, 192, 214, 31, 181, 199, 106, 157, 184, 84, 204,
    176, 115, 121, 50, 45, 127, 4, 150, 254, 138, 236, 205, 93, 222, 114, 67, 29, 24, 72, 243, 141,
    128, 195, 78, 66, 215, 61, 156, 180,
];

fn permuted(i: i32) -> i32 {
    i32::from(PERLIN_PERMUTATION[(i & 255) as usize])
}

/// Perlin's reference noise (2002) at (x, y, 0), written as he published it.
fn perlin_reference(x: f64, y: f64) -> f64 {
    let fade = |t: f64| t * t * t * (t * (t * 6.0 - 15.0) + 10.0);
    let lerp = |t: f64, a: f64, b: f64| a + t * (b - a);
    let grad = |hash: i32, x: f64, y: f64, z: f64| {
        let h = hash & 15;
        let u = if h < 8 { x } else { y };
        let v = match h {
            0..4 => y,
            12 | 14 => x,
            _ => z,
        };
        (if h & 1 == 0 { u } else { -u }) + (if h & 2 == 0 { v } else { -v })
    };
    let (cx, cy) = (x.floor() as i32 & 255, y.floor() as i32 & 255);
    let (x, y, z) = (x - x.floor(), y - y.floor(), 0.0);
    let (u, v) = (fade(x), fade(y));
    let a = permuted(cx) + cy;
    let b = permuted(cx + 1) + cy;
    let (aa, ab) = (permuted(a), permuted(a + 1));
    let (ba, bb) = (permuted(b), permuted(b + 1));
    // In the plane z = 0 the upper four corners have no weight.
    lerp(
        v,
        lerp(
            u,
            grad(permuted(aa), x, y, z),
            grad(permuted(ba), x - 1.0, y, z),
        ),
        lerp(
            u,
            grad(permuted(ab), x, y - 1.0, z),
            grad(permuted(bb), x - 1.0, y - 1.0, z),
        ),
    )
}

/// Perlin's choice of gradient at a lattice point, as a vector in z = 0.
fn perlin_gradient(ix: i32, iy: i32) -> (f32, f32) {
    let h = permuted(permuted(permuted(ix) + iy)) & 15;
    let sign = |bit: i32| if h & bit == 0 { 1.0 } else { -1.0 };
    let (mut gx, mut gy) = (0.0, 0.0);
    if h < 8 {
        gx += sign(1)
    } else {
        gy += sign(1)
    }
    match h {
        0..4 => gy += sign(2),
        12 | 14 => gx += sign(2),
        _ => {}
    }
    (gx, gy)
}

#[test]
fn the_lattice_arithmetic_is_perlins() {
    for i in 0..4000 {
        let (x, y) = (
            f64::from(i) * 0.0617 + 0.01,
            f64::from(i % 71) * 0.3391 + 0.02,
        );
        let cell = (x.floor() as i32 & 255, y.floor() as i32 & 255);
        let place = ((x - x.floor()) as f32, (y - y.floor()) as f32);
        let got = f64::from(lattice_value(cell, place, perlin_gradient));
        let expected = perlin_reference(x, y);
        assert!(
            (got - expected).abs() < 2e-6,
            "at ({x}, {y}): got {got}, expected {expected}"
        );
    }
}

#[test]
fn noise_is_zero_at_lattice_points_and_bounded_between() {
    let (mut low, mut high) = (0.0_f32, 0.0_f32);
    for i in 0..400_000 {
        let (x, y) = (
            f64::from(i) * 0.137_31 - 20_000.0,
            f64::from(i % 997) * 0.719_3 - 300.0,
        );
        let value = gradient_noise(x, y, 5);
        (low, high) = (low.min(value), high.max(value));
    }
    assert!(
        (-1.0..=1.0).contains(&low) && (-1.0..=1.0).contains(&high),
        "{low} to {high}"
    );
    assert!(
        low < -0.8 && high > 0.8,
        "the range is hardly used: {low} to {high}"
    );
    for i in -50..50 {
        assert_eq!(gradient_noise(f64::from(i), f64::from(3 * i), 9), 0.0);
    }
}

/// For gradients of length 1 in any direction the variance follows from the
/// fade curve alone: each corner adds w²·d²/2, integrated over a cell.
#[test]
fn the_variance_is_that_of_theory() {
    let fade = |t: f64| t * t * t * (t * (t * 6.0 - 15.0) + 10.0);
    let n = 10_000;
    let integral = |power: i32| -> f64 {
        let at = |i| (f64::from(i) + 0.5) / f64::from(n);
        (0..n)
            .map(|i| (1.0 - fade(at(i))).powi(2) * at(i).powi(power))
            .sum::<f64>()
            / f64::from(n)
    };
    // Four corners, two axes, and ½·√2² = 1 for direction and full range.
    let expected = 8.0 * integral(2) * integral(0);
    let n = 400_000;
    let sum: f64 = (0..n)
        .map(|i| {
            let (x, y) = (f64::from(i) * 0.073_13, f64::from(i % 613) * 0.417_7);
            f64::from(gradient_noise(x, y, 3)).powi(2)
        })
        .sum();
    let got = sum / f64::from(n);
    assert!(
        (got / expected - 1.0).abs() < 0.03,
        "got {got}, expected {expected}"
    );
}

fn any_noise() -> impl Strategy<Value = FractalNoise> {
    let character = prop::sample::select(vec![
        Character::Fractal,
        Character::Ridged,
        Character::Billow,
        Character::Hybrid,
        Character::Heterogeneous,
    ]);
    let shape = (0.0..1.5, prop_oneof![Just(0.0), 0.1..3.0]);
    let change = prop_oneof![Just((1.0, 0.0, 0.0)), (0.3..4.0, -180.0..180.0, -3.0..3.0)];
    (
        (character, prop::sample::select(all_bases()), shape, change),
        20.0..20_000.0,
        0.2..9.0,
        1.5..3.0,
        0.2..0.9,
        any::<u32>(),
    )
        .prop_map(
            |((character, basis, shape, change), feature_m, octaves, lacunarity, gain, seed)| {
                FractalNoise {
                    basis,
                    character,
                    offset: shape.0,
                    slope_damping: shape.1,
                    stretch: change.0,
                    bearing_deg: change.1,
                    time: change.2,
                    feature_m,
                    octaves,
                    lacunarity,
                    gain,
                    seed,
                }
            },
        )
}

fn fill(noise: FractalNoise, frame: &Frame) -> Grid {
    noise
        .fill(frame, Run::to_the_end())
        .expect("nobody cancels")
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(40))]

    #[test]
    fn a_window_is_bit_for_bit_the_whole(
        noise in any_noise(),
        (col, row, cols, rows) in (0..50_usize, 0..30_usize, 1..40_usize, 1..30_usize),
    ) {
        let whole = frame(96);
        let window = whole.window(col, row, cols, rows);
        let expected = fill(noise, &whole).cropped(col, row, cols, rows);
        assert_same_bits(&fill(noise, &window), &expected);
    }

    #[test]
    fn rows_scattered_places_and_single_points_agree(noise in any_noise()) {
        let frame = frame(48).grown(3);
        let whole = fill(noise, &frame);
        let still = Grid::filled(frame.cols, frame.rows, 0.0);
        let scattered =
            noise.fill_warped(&frame, &still, &still, Run::to_the_end()).expect("not cancelled");
        assert_same_bits(&scattered, &whole);
        for (c, r) in [(0, 0), (17, 5), (frame.cols - 1, frame.rows - 1)] {
            let at = noise.at(frame.x_m(c), frame.y_m(r), frame.cell_m);
            prop_assert_eq!(at.to_bits(), whole.at(c, r).to_bits());
        }
    }

    #[test]
    fn layers_stay_between_minus_one_and_one(noise in any_noise()) {
        let (low, high) = fill(noise, &frame(80)).range();
        prop_assert!(low >= -1.000_01 && high <= 1.000_01, "{} to {}", low, high);
    }
}

#[test]
fn thread_counts_agree() {
    let noise = FractalNoise {
        character: Character::Ridged,
        feature_m: 1700.0,
        octaves: 8.0,
        lacunarity: 2.1,
        gain: 0.5,
        seed: 77,
        ..FractalNoise::default()
    };
    let one = on_threads(1, || fill(noise, &frame(200)));
    assert_same_bits(&on_threads(3, || fill(noise, &frame(200))), &one);
}

/// What a layer fades to when the grid is too coarse for it must be its mean,
/// or the land would shift up or down with the resolution.
#[test]
fn a_layer_too_fine_for_the_grid_leaves_its_mean() {
    let characters = [Character::Fractal, Character::Billow, Character::Ridged];
    let bases = all_bases().into_iter();
    for (basis, character) in bases.flat_map(|b| characters.map(|c| (b, c))) {
        let noise = FractalNoise {
            basis,
            character,
            feature_m: 40.0,
            octaves: 1.0,
            lacunarity: 2.0,
            gain: 0.5,
            seed: 4,
            ..FractalNoise::default()
        };
        let mean = |grid: Grid| grid.sum() / grid.values().len() as f64;
        let fine = mean(fill(noise, &frame(1500)));
        let coarse = mean(fill(noise, &frame(60)));
        assert!(
            (fine - coarse).abs() < 0.008,
            "{basis:?} {character:?}: {fine} against {coarse}"
        );
    }
}
