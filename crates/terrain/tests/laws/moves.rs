//! Moves, blur, responses, terraces, outlines, images, displacement.

use proptest::prelude::*;
use terrain::grid::{Beyond, Pyramid, seamless};
use terrain::line::{DVec2, Polygon};
use terrain::shape::{
    Form, Move, PlacedImage, Placement, Primitive, Profile, Terraces, bias, blur_margin, blurred,
    displaced_along_normal, displacement_margin, ease_foot, gain, smooth_highest, smooth_lowest,
};
use terrain::{Frame, Grid, Run};

use crate::support::{assert_close, assert_same_bits, frame, hills};

fn any_move() -> impl Strategy<Value = Move> {
    let place = (500.0..5500.0, 500.0..3500.0);
    prop_oneof![
        (0.0..500.0, 0.0..360.0, 200.0..3000.0, any::<u32>()).prop_map(
            |(distance_m, bearing_deg, feature_m, seed)| Move::Drift {
                distance_m,
                bearing_deg,
                feature_m,
                octaves: 3.0,
                seed
            }
        ),
        (place.clone(), 300.0..2000.0, -1.0..1.0).prop_map(|(centre_m, radius_m, share)| {
            Move::Pull {
                centre_m,
                radius_m,
                share,
            }
        }),
        (place, 300.0..1500.0, -300.0..300.0).prop_map(|(centre_m, radius_m, angle_deg)| {
            Move::Twirl {
                centre_m,
                radius_m,
                angle_deg,
            }
        }),
        (0.0..600.0, 300.0..3000.0, any::<u32>()).prop_map(|(distance_m, feature_m, seed)| {
            Move::Swirl {
                distance_m,
                feature_m,
                octaves: 2.0,
                seed,
            }
        }),
    ]
}

fn moved(by: Move, frame: &Frame) -> Grid {
    let wide = frame.grown(by.margin(frame.cell_m));
    by.apply(&hills(&wide, 800.0, 3), &wide, frame, Run::to_the_end())
        .expect("nobody cancels")
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    #[test]
    fn a_move_of_a_window_has_the_bits_of_the_whole(
        by in any_move(), (col, row) in (0..50_usize, 0..30_usize),
    ) {
        let whole = frame(80);
        let window = whole.window(col, row, 21, 17);
        let expected = moved(by, &whole).cropped(col, row, 21, 17);
        assert_same_bits(&moved(by, &window), &expected);
    }

    #[test]
    fn terraces_rise_with_height_and_stay_within_a_step(
        step_m in 1.0_f32..300.0, sharpness in 0.0_f32..1.0, unevenness in 0.0_f32..1.0,
        seed in any::<u32>(), height in -2000.0_f32..2000.0, more in 0.0_f32..50.0,
    ) {
        let terraces = Terraces { step_m, sharpness, unevenness, seed };
        let (low, high) = (terraces.at(height), terraces.at(height + more));
        prop_assert!(high >= low - 1e-2, "{} m above {} m", low, high);
        prop_assert!((low - height).abs() <= 2.0 * step_m + 1e-2);
    }

    #[test]
    fn smooth_extremes_are_at_most_a_quarter_radius_off(
        a in -500.0_f32..500.0, b in -500.0_f32..500.0, radius in 0.0_f32..300.0,
    ) {
        let (low, high) = (smooth_lowest(a, b, radius), smooth_highest(a, b, radius));
        prop_assert!(low <= a.min(b) && low >= a.min(b) - 0.25 * radius - 1e-3);
        prop_assert!(high >= a.max(b) && high <= a.max(b) + 0.25 * radius + 1e-3);
        prop_assert_eq!(smooth_lowest(a, b, 0.0), a.min(b));
    }
}

/// A swirl has no sources or sinks: a field that is the same everywhere stays,
/// and a height that is a coordinate is moved by no more than the flow's way.
#[test]
fn a_swirl_moves_no_farther_than_it_says() {
    let frame = frame(120);
    let by = Move::Swirl {
        distance_m: 300.0,
        feature_m: 900.0,
        octaves: 2.0,
        seed: 4,
    };
    let wide = frame.grown(by.margin(frame.cell_m));
    let x = Grid::by_rows(wide.cols, wide.rows, |_, row| {
        for (c, value) in row.iter_mut().enumerate() {
            *value = wide.x_m(c) as f32;
        }
    });
    let moved = by
        .apply(&x, &wide, &frame, Run::to_the_end())
        .expect("nobody cancels");
    let farthest = (0..frame.rows)
        .flat_map(|r| (0..frame.cols).map(move |c| (c, r)))
        .map(|(c, r)| (f64::from(moved.at(c, r)) - frame.x_m(c)).abs())
        .fold(0.0, f64::max);
    assert!(
        (50.0..=300.5).contains(&farthest),
        "moved by up to {farthest} m"
    );
}

/// A Gaussian blurred by a Gaussian is a Gaussian whose variances add up.
#[test]
fn a_blurred_gaussian_is_wider_by_the_blur() {
    let frame = frame(300);
    let (own, blur) = (260.0, 150.0);
    let hill = |frame: &Frame, sigma: f64, height: f64| {
        Grid::by_rows(frame.cols, frame.rows, |r, row| {
            for (c, value) in row.iter_mut().enumerate() {
                let d2 = (frame.x_m(c) - 3000.0).powi(2) + (frame.y_m(r) - 2000.0).powi(2);
                *value = (height * (-0.5 * d2 / (sigma * sigma)).exp()) as f32;
            }
        })
    };
    let margin = blur_margin(blur, frame.cell_m);
    let got = blurred(&hill(&frame.grown(margin), own, 100.0), blur, frame.cell_m);
    let sigma = (own * own + blur * blur).sqrt();
    // Cut off at three standard deviations: within half a per cent.
    assert_close(
        &got,
        &hill(&frame, sigma, 100.0 * (own / sigma).powi(2)),
        0.5,
    );
    let still = blurred(&hills(&frame.grown(1), 800.0, 3), 0.01, frame.cell_m);
    assert_close(&still, &hills(&frame, 800.0, 3), 1e-3);
}

/// Schlick (1994), "Fast alternatives to Perlin's bias and gain functions":
/// the fixed points that the text names.
#[test]
fn bias_and_gain_have_schlicks_fixed_points() {
    for share in [0.1, 0.25, 0.5, 0.75, 0.9] {
        assert!((bias(0.5, share) - share).abs() < 1e-6);
        assert!(bias(0.0, share).abs() < 1e-6 && (bias(1.0, share) - 1.0).abs() < 1e-6);
        assert!((gain(0.5, share) - 0.5).abs() < 1e-6);
        assert!((gain(0.25, share) - 0.5 * share).abs() < 1e-6);
    }
    assert!((bias(0.3, 0.5) - 0.3).abs() < 1e-6, "½ changes nothing");
}

#[test]
fn an_eased_foot_leaves_level_and_joins_without_a_kink() {
    let (level, reach) = (100.0, 80.0);
    let slope =
        |h: f32| (ease_foot(h + 0.05, level, reach) - ease_foot(h - 0.05, level, reach)) / 0.1;
    assert!(slope(level + 0.1).abs() < 0.02);
    assert!((slope(level + reach) - 1.0).abs() < 0.02);
    assert_eq!(ease_foot(300.0, level, reach), 300.0);
    assert!(ease_foot(140.0, level, reach) < 140.0);
}

#[test]
fn distance_to_an_outline_is_that_to_its_nearest_edge() {
    let corners = [[1e3, 1e3], [3e3, 1e3], [3e3, 2e3], [1e3, 2e3]];
    let square = corners.map(DVec2::from_array).to_vec();
    let square = Polygon::through(square).expect("four points");
    for (x, y, expected) in [
        (2000.0, 1500.0, 500.0),
        (1100.0, 1500.0, 100.0),
        (2000.0, 2300.0, -300.0),
        // Beyond a corner: 3, 4, 5.
        (3300.0, 2400.0, -500.0),
    ] {
        let got = square.inside_m(DVec2::new(x, y));
        assert!(
            (got - expected).abs() < 1e-9,
            "at ({x}, {y}): {got}, expected {expected}"
        );
    }
    assert!(Polygon::through(vec![DVec2::ZERO, DVec2::ONE]).is_err());
}

/// Volumes of a cone, ⅓πr²h, and of half a ball, ⅔πr²h (Archimedes).
#[test]
fn cones_and_domes_have_their_volumes() {
    let frame = frame(600);
    let (radius, height) = (1500.0, 900.0);
    for (form, factor) in [(Form::Cone, 1.0 / 3.0), (Form::Dome, 2.0 / 3.0)] {
        let placement = Placement {
            x_m: 3000.0,
            y_m: 2000.0,
            width_m: 2.0 * radius,
            depth_m: 2.0 * radius,
            turn_deg: 30.0,
        };
        let shape = Primitive {
            form,
            profile: Profile::Straight,
            reversed: false,
            placement,
            repeat_m: None,
        };
        let filled = shape
            .fill(&frame, Run::to_the_end())
            .expect("nobody cancels");
        let volume = filled.sum() * height * frame.cell_area_m2();
        let expected = factor * std::f64::consts::PI * radius * radius * height;
        assert!(
            (volume / expected - 1.0).abs() < 2e-3,
            "{form:?}: {volume}, expected {expected}"
        );
    }
}

/// A plane moved along its normal is the same plane, farther by the distance
/// over the cosine of its slope.
#[test]
fn a_plane_is_displaced_along_its_normal() {
    let frame = frame(90);
    let (slope, distance) = (0.6_f64, 140.0_f64);
    let wide = frame.grown(displacement_margin(distance, frame.cell_m));
    let plane = |frame: &Frame, lift: f64| {
        Grid::by_rows(frame.cols, frame.rows, |_, row| {
            for (c, value) in row.iter_mut().enumerate() {
                *value = (slope * frame.x_m(c) + lift) as f32;
            }
        })
    };
    let by = Grid::filled(wide.cols, wide.rows, distance as f32);
    let run = Run::to_the_end();
    let got = displaced_along_normal(&plane(&wide, 0.0), &wide, &by, distance, &frame, run);
    let expected = plane(&frame, distance * (1.0 + slope * slope).sqrt());
    assert_close(&got.expect("nobody cancels"), &expected, 0.05);
}

#[test]
fn an_image_made_seamless_meets_itself() {
    let image = Grid::by_rows(80, 60, |r, row| {
        for (c, value) in row.iter_mut().enumerate() {
            *value = c as f32 + 2.0 * r as f32;
        }
    });
    let jump = |grid: &Grid| {
        let step = |r: usize| (grid.at(0, r) - grid.at(grid.cols() - 1, r)).abs();
        (0..grid.rows()).map(step).fold(0.0, f32::max)
    };
    let joined = seamless(&image, 0.25);
    assert!(jump(&image) > 70.0);
    assert!(jump(&joined) < 4.0, "a seam of {}", jump(&joined));
}

/// Repeating an image continues it; a coarse look at it is its mean.
#[test]
fn a_pyramid_repeats_and_averages() {
    let image = Grid::by_rows(64, 64, |r, row| {
        for (c, value) in row.iter_mut().enumerate() {
            *value = if (c / 2 + r / 2) % 2 == 0 { 10.0 } else { 30.0 };
        }
    });
    let pyramid = Pyramid::over(image);
    let near = pyramid.at(0.31, 0.62, 1.0, Beyond::Repeat);
    assert!((pyramid.at(2.31, -0.38, 1.0, Beyond::Repeat) - near).abs() < 1e-4);
    assert!((pyramid.at(0.31, 0.62, 16.0, Beyond::Repeat) - 20.0).abs() < 1e-3);
    let placed = PlacedImage {
        image: &pyramid,
        placement: Placement {
            x_m: 0.0,
            y_m: 0.0,
            width_m: 100.0,
            depth_m: 100.0,
            turn_deg: 0.0,
        },
        beyond: None,
    };
    assert_eq!(placed.at(60.0, 0.0, 1.0), None);
    assert!(placed.at(40.0, 0.0, 1.0).is_some());
}
