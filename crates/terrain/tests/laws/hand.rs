//! Strokes of the hand: windows, volume, heights, and nothing of how a pointer was read.

use proptest::prelude::*;
use terrain::hand::{Brush, Deed, Level, Stroke, Strokes};
use terrain::line::{DVec2, LinePoint, Polyline};
use terrain::mask::Range;
use terrain::{Frame, Grid, Run};

use crate::support::{assert_close, assert_same_bits, frame, hills};

const EXTENT: terrain::Extent = terrain::Extent {
    width_m: 6000.0,
    depth_m: 4000.0,
};

fn way(points: &[(f64, f64, f64)]) -> Polyline {
    let points = points.iter().map(|&(x_m, y_m, pressure)| LinePoint {
        at: DVec2::new(x_m, y_m),
        value: pressure,
    });
    points.collect()
}

fn stroke(deed: Deed, points: &[(f64, f64, f64)], radius_m: f64) -> Stroke {
    Stroke {
        brush: Brush {
            courses: vec![way(points)],
            radius_m,
            strength: 1.0,
            softness: 0.6,
            pressed_wider: false,
            pressed_stronger: true,
            builds_up: false,
        },
        deed,
        only: None,
    }
}

fn strokes(strokes: Vec<Stroke>) -> Strokes {
    Strokes {
        strokes,
        extent: EXTENT,
    }
}

/// The land of `hills` on `frame` after all strokes, worked where they need it.
fn worked(strokes: &Strokes, frame: &Frame) -> Grid {
    let wide = strokes.needed(frame);
    let below = hills(&wide, 900.0, 5);
    let mut land = below.clone();
    for number in 0..strokes.strokes.len() {
        let done = strokes.work(number, &below, &mut land, &wide, Run::to_the_end());
        done.expect("nobody stops it");
    }
    let (col, row) = wide.offset_of(frame).expect("inside");
    land.cropped(col, row, frame.cols, frame.rows)
}

fn any_deed() -> impl Strategy<Value = Deed> {
    prop_oneof![
        (-90.0..90.0).prop_map(|by_m| Deed::Raise { by_m }),
        Just(Deed::Smooth),
        Just(Deed::Sharpen),
        Just(Deed::Flatten(Level::Began)),
        Just(Deed::Flatten(Level::Plane)),
        (0.0..200.0).prop_map(|height| Deed::Flatten(Level::Height(height))),
        (1.0..60.0, 50.0..900.0, any::<u32>()).prop_map(|(by_m, feature_m, seed)| Deed::Roughen {
            by_m,
            feature_m,
            seed
        }),
        Just(Deed::Weather),
        Just(Deed::Push),
        Just(Deed::PaintBack),
    ]
}

prop_compose! {
    fn any_stroke()(
        deed in any_deed(),
        points in prop::collection::vec((-900.0..6900.0, -900.0..4900.0, 0.0..=1.0), 1..5),
        radius_m in 4.0..900.0,
        (strength, softness) in (0.0..=1.0, 0.0..=1.0),
        (pressed_wider, pressed_stronger, builds_up) in any::<(bool, bool, bool)>(),
        only in prop::option::of((0.0_f32..80.0, 90.0_f32..300.0)),
    ) -> Stroke {
        Stroke {
            brush: Brush {
                courses: vec![way(&points)],
                radius_m, strength, softness, pressed_wider, pressed_stronger, builds_up,
            },
            deed,
            only: only.map(|(from, to)| Range {
                from: Some(from), to: Some(to), soft_from: 10.0, soft_to: 0.0,
            }),
        }
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    /// Any strokes in any order: a window has the bits of the whole.
    #[test]
    fn a_window_of_hand_work_has_the_bits_of_the_whole(
        all in prop::collection::vec(any_stroke(), 1..6),
        (col, row) in (0..60_usize, 0..40_usize),
    ) {
        let all = strokes(all);
        let whole = frame(96);
        let window = whole.window(col, row, 30, 22);
        let expected = worked(&all, &whole).cropped(col, row, 30, 22);
        prop_assert!(expected.check_finite().is_ok());
        assert_same_bits(&worked(&all, &window), &expected);
    }

    /// How often the pointer was asked where it is makes no difference beyond a
    /// two-hundredth of what the stroke does.
    #[test]
    fn how_the_way_was_cut_into_points_does_not_show(deed in any_deed(), builds_up in any::<bool>()) {
        let ends = [(900.0, 800.0, 0.3), (3300.0, 2900.0, 0.9), (5200.0, 1500.0, 0.6)];
        let fine: Vec<_> = ends.windows(2).flat_map(|pair| {
            let ((x0, y0, p0), (x1, y1, p1)) = (pair[0], pair[1]);
            (0..=17).map(move |i| {
                let t = f64::from(i) / 17.0;
                (x0 + t * (x1 - x0), y0 + t * (y1 - y0), p0 + t * (p1 - p0))
            })
        }).collect();
        let one = |points: &[(f64, f64, f64)]| {
            let mut one = stroke(deed, points, 420.0);
            one.brush.builds_up = builds_up;
            worked(&strokes(vec![one]), &frame(128))
        };
        let (coarse, fine, before) = (one(&ends), one(&fine), worked(&strokes(vec![]), &frame(128)));
        let done = coarse.zip_map(&before, |after, before| (after - before).abs()).range().1;
        assert_close(&fine, &coarse, (0.005 * done).max(2e-3));
    }
}

/// Whatever was done, painting back over all of it in full restores the land to the bit.
#[test]
fn painting_back_over_everything_restores_the_land() {
    let over_all = stroke(
        Deed::PaintBack,
        &[(-500.0, 2000.0, 1.0), (6500.0, 2000.0, 1.0)],
        9000.0,
    );
    let deeds = [
        Deed::Raise { by_m: 80.0 },
        Deed::Weather,
        Deed::Push,
        Deed::Sharpen,
    ];
    let mut all: Vec<_> = deeds
        .into_iter()
        .map(|deed| stroke(deed, &[(800.0, 900.0, 1.0), (4800.0, 3000.0, 0.7)], 700.0))
        .collect();
    all.push(Stroke {
        brush: Brush {
            softness: 0.1,
            ..over_all.brush.clone()
        },
        ..over_all
    });
    assert_same_bits(
        &worked(&strokes(all), &frame(128)),
        &hills(&frame(128), 900.0, 5),
    );
}

/// Smoothing, sharpening and weathering move ground about and make none: within a
/// millionth of what they move.
#[test]
fn as_much_ground_comes_as_goes() {
    for deed in [Deed::Smooth, Deed::Sharpen, Deed::Weather] {
        let one = stroke(deed, &[(1500.0, 1500.0, 1.0), (4200.0, 2600.0, 0.5)], 600.0);
        let after = worked(&strokes(vec![one]), &frame(256));
        let change = after.zip_map(&hills(&frame(256), 900.0, 5), |after, before| {
            after - before
        });
        let moved = change.map(f32::abs).sum();
        assert!(moved > 1000.0, "{deed:?} moved {moved}");
        assert!(
            change.sum().abs() < 1e-3 * moved,
            "{deed:?}: {} of {moved}",
            change.sum()
        );
    }
}

/// Flattened ground has the height that was asked for; a plane has one slope.
#[test]
fn flattening_reaches_its_height() {
    let on = |level| {
        let one = stroke(
            Deed::Flatten(level),
            &[(2500.0, 2000.0, 1.0), (3500.0, 2000.0, 1.0)],
            800.0,
        );
        worked(&strokes(vec![one]), &frame(240))
    };
    let under = |land: &Grid| land.cropped(102, 72, 36, 16);
    let given = under(&on(Level::Height(123.0)));
    assert_close(&given, &given.map(|_| 123.0), 1e-3);
    let began = under(&on(Level::Began));
    let (low, high) = began.range();
    assert!(high - low < 1e-3, "{low} to {high}");
    let before = hills(&frame(240), 900.0, 5).at(100, 80);
    assert!((low - before).abs() < 15.0, "{low} where it was {before}");
    let plane = under(&on(Level::Plane));
    for r in 1..plane.rows() - 1 {
        for c in 1..plane.cols() - 1 {
            let bent = plane.at(c - 1, r) + plane.at(c + 1, r) - 2.0 * plane.at(c, r);
            assert!(bent.abs() < 2e-3, "bent by {bent} at {c}, {r}");
        }
    }
}

/// Weathering leaves nothing steeper than ground can be (33°, common practice for loose
/// earth) where it works in full, but for what it still rounds.
#[test]
fn weathering_takes_the_steepness() {
    let steep = |land: &Grid| {
        let slope = terrain::reading::slope_deg(&land.cropped(40, 40, 80, 60), 6000.0 / 240.0);
        let steep = slope.values().iter().filter(|&&slope| slope > 36.0).count();
        steep as f64 / slope.values().len() as f64
    };
    let rough = Deed::Roughen {
        by_m: 900.0,
        feature_m: 900.0,
        seed: 4,
    };
    let over = [(300.0, 2000.0, 1.0), (5700.0, 2000.0, 1.0)];
    let rough = stroke(rough, &over, 2500.0);
    let weather = stroke(Deed::Weather, &over, 2500.0);
    let before = worked(&strokes(vec![rough.clone()]), &frame(240));
    let after = worked(&strokes(vec![rough, weather]), &frame(240));
    assert!(steep(&before) > 0.2, "{}", steep(&before));
    assert!(steep(&after) < 0.01, "{}", steep(&after));
}

/// A hill that is pushed is where the pointer has gone, as high as it was.
#[test]
fn pushed_land_goes_where_the_pointer_goes() {
    let frame = frame(300);
    let hill = Grid::by_rows(frame.cols, frame.rows, |r, row| {
        for (c, height) in row.iter_mut().enumerate() {
            let away = (frame.x_m(c) - 2000.0).hypot(frame.y_m(r) - 2000.0);
            *height = (100.0 * (-(away / 150.0).powi(2)).exp()) as f32;
        }
    });
    let mut push = stroke(
        Deed::Push,
        &[(2000.0, 2000.0, 1.0), (3300.0, 2600.0, 1.0)],
        900.0,
    );
    push.brush.softness = 0.5;
    let all = strokes(vec![push]);
    let mut land = hill.clone();
    all.work(0, &hill, &mut land, &frame, Run::to_the_end())
        .expect("not stopped");
    let top = |land: &Grid| {
        let tallest = land
            .values()
            .iter()
            .enumerate()
            .max_by(|a, b| a.1.total_cmp(b.1));
        let (at, &height) = tallest.expect("cells");
        (
            frame.x_m(at % frame.cols),
            frame.y_m(at / frame.cols),
            height,
        )
    };
    let (x, y, height) = top(&land);
    assert!(
        (x - 3300.0).abs() < 60.0 && (y - 2600.0).abs() < 60.0,
        "the top is at {x}, {y}"
    );
    assert!((height - 100.0).abs() < 3.0, "{height}");
    assert!(
        land.at(100, 100) < 20.0,
        "the hill was left behind: {}",
        land.at(100, 100)
    );
}

/// The same strokes on fine and on coarse cells are the same land.
#[test]
fn strokes_do_not_know_the_resolution() {
    let all = strokes(vec![
        stroke(
            Deed::Raise { by_m: 150.0 },
            &[(900.0, 900.0, 1.0), (4800.0, 2400.0, 0.6)],
            600.0,
        ),
        stroke(
            Deed::Smooth,
            &[(900.0, 3000.0, 1.0), (4800.0, 2400.0, 0.6)],
            500.0,
        ),
        stroke(
            Deed::Weather,
            &[(3900.0, 900.0, 1.0), (1800.0, 3400.0, 0.6)],
            600.0,
        ),
        stroke(Deed::Flatten(Level::Began), &[(3000.0, 2900.0, 1.0)], 500.0),
        stroke(
            Deed::Push,
            &[(2000.0, 2000.0, 1.0), (2600.0, 2300.0, 1.0)],
            600.0,
        ),
    ]);
    let (coarse, fine) = (worked(&all, &frame(128)), worked(&all, &frame(1024)));
    let halved = (0..3).fold(fine, |grid, _| terrain::grid::halve(&grid));
    let mean = |grid: &Grid| grid.sum() / grid.values().len() as f64;
    let (a, b) = (mean(&coarse), mean(&halved));
    let [mut ab, mut aa, mut bb] = [0.0_f64; 3];
    for (x, y) in coarse.values().iter().zip(halved.values()) {
        let (x, y) = (f64::from(*x) - a, f64::from(*y) - b);
        ab += x * y;
        aa += x * x;
        bb += y * y;
    }
    let alike = ab / (aa * bb).sqrt();
    assert!(alike > 0.999, "{alike}");
}

/// A brush that builds up does more the second time; one that does not has had enough of
/// a way that crosses itself.
#[test]
fn building_up_and_not() {
    let back_and_forth = [
        (1500.0, 2000.0, 1.0),
        (4500.0, 2000.0, 1.0),
        (1500.0, 2000.0, 1.0),
    ];
    let raised = |points: &[(f64, f64, f64)], builds_up| {
        let mut one = stroke(Deed::Raise { by_m: 100.0 }, points, 400.0);
        one.brush.builds_up = builds_up;
        let after = worked(&strokes(vec![one]), &frame(240));
        let change = after.zip_map(&hills(&frame(240), 900.0, 5), |after, before| {
            after - before
        });
        change.at(120, 80)
    };
    let once = &back_and_forth[..2];
    assert!((raised(once, false) - 100.0).abs() < 0.1);
    assert!((raised(&back_and_forth, false) - 100.0).abs() < 0.1);
    let built = raised(once, true);
    assert!((20.0..80.0).contains(&built), "{built}");
    assert!((raised(&back_and_forth, true) - 2.0 * built).abs() < 0.02 * built);
}
