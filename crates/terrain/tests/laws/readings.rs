//! Readings against surfaces and shapes whose answers are known.

use proptest::prelude::*;
use terrain::erosion::drain;
use terrain::hand::Brush;
use terrain::light::{Sun, sight_margin, sky_seen, sunlight, suns_of_day};
use terrain::line::LinePoint;
use terrain::mask::{Coat, Combine, Range, grown, painted};
use terrain::reading::{
    Bend, curvature_per_km, distance_m, position_m, position_margin, roughness_m, roughness_margin,
};
use terrain::{Extent, Frame, Grid, Run};

use crate::support::{assert_close, frame, hills};

const CELLS: usize = 81;
const CELL_M: f64 = 2.0;

/// A surface over the place in metres, from the middle, east and north.
fn surface(cells: usize, of: impl Fn(f64, f64) -> f64 + Sync) -> Grid {
    let middle = (cells / 2) as f64;
    Grid::by_rows(cells, cells, |r, row| {
        for (c, height) in row.iter_mut().enumerate() {
            *height = of((c as f64 - middle) * CELL_M, (middle - r as f64) * CELL_M) as f32;
        }
    })
}

/// A sphere of radius R bends by 1/R everywhere and every way.
#[test]
fn a_sphere_bends_by_one_over_its_radius() {
    let radius = 1000.0_f64;
    let cap = surface(CELLS, |x, y| (radius * radius - x * x - y * y).sqrt());
    let mean = curvature_per_km(&cap, CELL_M, Bend::Mean);
    assert_close(&mean, &Grid::filled(CELLS - 2, CELLS - 2, 1.0), 0.08);
}

/// A ball bends by 1/R in all three ways, on its steep sides too.
#[test]
fn a_ball_bends_alike_every_way_however_steep_it_is() {
    let radius = 150.0_f64;
    let ball = surface(CELLS, |x, y| (radius * radius - x * x - y * y).sqrt());
    let expected = 1000.0 / radius;
    // Seen from the top, and on flanks of 22°, 32° and 45°.
    for (c, r) in [(39, 39), (67, 39), (12, 67), (76, 76)] {
        for bend in [Bend::Mean, Bend::Profile, Bend::Plan] {
            let got = f64::from(curvature_per_km(&ball, CELL_M, bend).at(c, r));
            let level = c == 39 && r == 39 && bend != Bend::Mean;
            let expected = if level { 0.0 } else { expected };
            assert!(
                (got - expected).abs() < 0.3,
                "{bend:?} at {c}, {r}: {got}, expected {expected}"
            );
        }
    }
}

/// On a circular cone's flank: no bend down the slope, and along the contour
/// sin β over the distance to the axis (Meusnier's theorem). On a parabola of one
/// direction the bend down the slope is that of the curve, z″/(1 + z′²)^1.5.
#[test]
fn cones_and_troughs_bend_as_they_should() {
    let tangent = 0.5;
    let cone = surface(CELLS, |x, y| 500.0 - tangent * x.hypot(y));
    let profile = curvature_per_km(&cone, CELL_M, Bend::Profile);
    let plan = curvature_per_km(&cone, CELL_M, Bend::Plan);
    for (c, r) in [(70, 40), (60, 65), (12, 20)] {
        let from_axis = |i: usize| (i as f64 + 1.0 - (CELLS / 2) as f64) * CELL_M;
        let distance = from_axis(c).hypot(from_axis(r));
        let expected = 1000.0 * tangent.atan().sin() / distance;
        assert!(
            profile.at(c, r).abs() < 0.15,
            "profile {}",
            profile.at(c, r)
        );
        let got = f64::from(plan.at(c, r));
        assert!(
            (got / expected - 1.0).abs() < 0.02,
            "plan {got}, expected {expected}"
        );
    }
    let trough = surface(CELLS, |x, _| 0.01 * x * x);
    let profile = curvature_per_km(&trough, CELL_M, Bend::Profile);
    let slope = 0.02 * (60.0 + 1.0 - (CELLS / 2) as f64) * CELL_M;
    let expected = -20.0 / (1.0 + slope * slope).powf(1.5);
    assert!(
        (f64::from(profile.at(60, 30)) - expected).abs() < 0.1,
        "{}",
        profile.at(60, 30)
    );
    let plan = curvature_per_km(&trough, CELL_M, Bend::Plan);
    assert!(plan.at(60, 30).abs() < 0.1);
}

/// A plain sees all of the sky. In an endless valley whose walls rise by α on
/// both sides the horizon stands at atan(tan α·|sin φ|) in bearing φ, and the
/// mean of its cos² over all bearings is cos α.
#[test]
fn sky_view_of_a_plain_and_of_a_valley() {
    let reach_m = 400.0;
    let margin = sight_margin(reach_m, CELL_M);
    let cells = 2 * margin + 9;
    let level = sky_seen(&surface(cells, |_, _| 7.0), margin, reach_m, CELL_M);
    assert_eq!(level.range(), (1.0, 1.0));
    for alpha_deg in [10.0_f64, 30.0, 50.0] {
        let rise = alpha_deg.to_radians().tan();
        let valley = surface(cells, |_, y| rise * y.abs());
        let seen = sky_seen(&valley, margin, reach_m, CELL_M).at(4, 4);
        let expected = alpha_deg.to_radians().cos() as f32;
        assert!(
            (seen - expected).abs() < 0.01,
            "{alpha_deg}°: {seen}, expected {expected}"
        );
    }
}

/// Level ground gets the sine of the sun's height (Lambert 1760), a face
/// turned straight to it all, and the shadow of a wall ends where a ray over
/// its top meets the ground.
#[test]
fn sunlight_falls_as_lambert_says() {
    let sun = Sun {
        bearing_deg: 90.0,
        altitude_deg: 30.0,
    };
    let reach_m = 200.0;
    let margin = sight_margin(reach_m, CELL_M);
    let cells = 2 * margin + 101;
    let level = sunlight(&surface(cells, |_, _| 0.0), margin, reach_m, CELL_M, sun);
    assert!((level.at(50, 50) - 0.5).abs() < 1e-5);
    let facing = surface(cells, |x, _| -(60.0_f64.to_radians().tan()) * x);
    let facing = sunlight(&facing, margin, reach_m, CELL_M, sun);
    assert!(
        (facing.at(50, 50) - 1.0).abs() < 1e-5,
        "{}",
        facing.at(50, 50)
    );
    // A wall of 30 m in the east: its shadow is 30 / tan 30° = 52 m long.
    let wall = surface(cells, |x, _| if x > 60.0 { 30.0 } else { 0.0 });
    let lit = sunlight(&wall, margin, reach_m, CELL_M, sun);
    let at = |x_m: f64| lit.at((50.0 + x_m / CELL_M) as usize, 50);
    assert!(at(16.0) < 0.05, "in the shadow: {}", at(16.0));
    assert!(at(0.0) > 0.45, "beyond it: {}", at(0.0));
}

/// The noon sun stands at 90° − latitude ± 23.45° at the solstices, and a day
/// at the equinox is half of the hours (common practice).
#[test]
fn the_sun_of_a_day() {
    let noon = |latitude, day| {
        let suns = suns_of_day(latitude, day);
        suns.iter().map(|sun| sun.altitude_deg).fold(0.0, f64::max)
    };
    assert!((noon(50.0, 172) - 63.45).abs() < 0.1);
    assert!((noon(50.0, 355) - 16.55).abs() < 0.1);
    assert!((11..=13).contains(&suns_of_day(35.0, 81).len()));
    let morning = suns_of_day(50.0, 172)[0];
    assert!(
        morning.bearing_deg < 90.0,
        "it rises in the north-east: {morning:?}"
    );
}

/// On a tilted plane water flows straight down, whatever the bearing, so that
/// each metre of contour drains as much as lies above it (Tarboton 1997):
/// D∞ follows a plane tilted at 22.5°, where D8 must err.
#[test]
fn water_follows_a_tilted_plane() {
    let (sin, cos) = 22.5_f64.to_radians().sin_cos();
    let plane = surface(CELLS, |x, y| 0.2 * (x * sin + y * cos));
    let drainage = drain(&plane, f32::NEG_INFINITY, Run::to_the_end()).expect("nobody cancels");
    let infinity = drainage.area_infinity_cells();
    let single = drainage.area_cells();
    // Along a row the same amount lies above each cell, away from the sides.
    let row = |area: &[f32]| {
        let cells = &area[60 * CELLS + 30..60 * CELLS + 50];
        let mean = cells.iter().sum::<f32>() / cells.len() as f32;
        cells
            .iter()
            .map(|a| (a / mean - 1.0).abs())
            .fold(0.0, f32::max)
    };
    assert!(row(&infinity) < 0.05, "{}", row(&infinity));
    let total: f32 = (0..infinity.len())
        .filter(|i| drainage.receivers[*i] as usize == *i)
        .map(|i| infinity[i])
        .sum();
    assert!(
        (total / infinity.len() as f32 - 1.0).abs() < 1e-3,
        "all of it leaves: {total}"
    );
    assert!(single.iter().sum::<f32>() > 0.0);
}

#[test]
fn position_and_roughness_know_crests_and_plains() {
    let scale_m = 20.0;
    let cells = 2 * roughness_margin(scale_m, CELL_M) + 41;
    let wave = surface(cells, |x, _| 10.0 * (x / 25.0).cos());
    let margin = position_margin(scale_m, CELL_M);
    let position = position_m(&wave, scale_m, CELL_M);
    let middle = cells / 2 - margin;
    // A Gaussian of σ takes exp(−σ²k²/2) of a wave of wave number k.
    let left = 10.0 * (1.0 - (-0.5 * (scale_m / 25.0_f64).powi(2)).exp());
    let got = f64::from(position.at(middle, middle));
    assert!((got - left).abs() < 0.1, "{got}, expected {left}");
    let rough = roughness_m(&wave, scale_m, CELL_M);
    let plain = roughness_m(&surface(cells, |x, _| 0.1 * x), scale_m, CELL_M);
    assert!(
        rough.range().0 > 1.0 && plain.range().1 < 0.01,
        "{:?}",
        plain.range()
    );
}

fn scattered(bits: u64, cols: usize, rows: usize) -> Grid {
    Grid::by_rows(cols, rows, |r, row| {
        for (c, value) in row.iter_mut().enumerate() {
            let mixed = (bits ^ (r as u64 * 7919 + c as u64)).wrapping_mul(0x9E37_79B9_7F4A_7C15);
            *value = f32::from((mixed >> 57) < 3);
        }
    })
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    /// By brute force: the least of all distances.
    #[test]
    fn distances_are_those_of_brute_force(bits in any::<u64>(), cols in 1..60_usize, rows in 1..60_usize) {
        let there = scattered(bits, cols, rows);
        let got = distance_m(&there, |v| v > 0.5, 3.0);
        let spots: Vec<(usize, usize)> = (0..rows)
            .flat_map(|r| (0..cols).map(move |c| (c, r)))
            .filter(|(c, r)| there.at(*c, *r) > 0.5)
            .collect();
        for r in 0..rows {
            for c in 0..cols {
                let apart = |(a, b): &(usize, usize)| {
                    let (dx, dy) = (*a as f32 - c as f32, *b as f32 - r as f32);
                    dx * dx + dy * dy
                };
                let least = spots.iter().map(apart).fold(f32::INFINITY, f32::min);
                prop_assert_eq!(got.at(c, r), least.sqrt() * 3.0);
            }
        }
    }

    /// Grown by brute force over the disc; shrinking is growing of what is not.
    #[test]
    fn masks_grow_over_a_disc(bits in any::<u64>(), by in 0.0..7.0_f64) {
        let mask = scattered(bits, 40, 30);
        let margin = by.floor() as usize;
        let got = grown(&mask, by, 1.0);
        for (c, r) in [(0, 0), (7, 3), (40 - 2 * margin - 1, 30 - 2 * margin - 1)] {
            let mut highest = 0.0_f32;
            for dr in 0..=2 * margin {
                for dc in 0..=2 * margin {
                    let apart = (dc as f64 - margin as f64).hypot(dr as f64 - margin as f64);
                    if apart <= by {
                        highest = highest.max(mask.at(c + dc, r + dr));
                    }
                }
            }
            prop_assert_eq!(got.at(c, r), highest);
        }
        let shrunk = grown(&mask.map(|v| 1.0 - v), -by, 1.0);
        prop_assert_eq!(shrunk, got.map(|v| 1.0 - v));
    }

    /// Masks stay masks; De Morgan holds for highest, lowest and inverting;
    /// joining with the neutral value changes nothing.
    #[test]
    fn the_algebra_of_masks(a in 0.0..=1.0_f32, b in 0.0..=1.0_f32) {
        use Combine::{Add, Highest, Lowest, Multiply, Screen, Subtract};
        for join in [Multiply, Add, Subtract, Highest, Lowest, Screen] {
            let value = join.apply(a, b);
            prop_assert!((0.0..=1.0).contains(&value), "{join:?} of {a} and {b} is {value}");
            prop_assert!((join.apply(a, join.neutral()) - a).abs() < 1e-6);
        }
        let not = |v: f32| 1.0 - v;
        prop_assert_eq!(not(Highest.apply(a, b)), Lowest.apply(not(a), not(b)));
        prop_assert!((not(Screen.apply(a, b)) - Multiply.apply(not(a), not(b))).abs() < 1e-6);
    }

    #[test]
    fn a_range_rises_and_falls_once(
        from in -50.0..50.0_f32, wide in 0.0..50.0_f32, soft in 0.0..20.0_f32, step in 0.1..5.0_f32,
    ) {
        let range = Range { from: Some(from), to: Some(from + wide), soft_from: soft, soft_to: soft };
        let values: Vec<f32> = (-60..60).map(|k| range.at(from + wide / 2.0 + k as f32 * step)).collect();
        let peak = values.iter().copied().fold(0.0, f32::max);
        let top = values.iter().position(|v| *v == peak).expect("a peak");
        prop_assert!(values[..=top].windows(2).all(|pair| pair[0] <= pair[1]));
        let last = values.iter().rposition(|v| *v == peak).expect("a peak");
        prop_assert!(values[last..].windows(2).all(|pair| pair[0] >= pair[1]));
    }
}

/// Strokes hold at any resolution and in any window, build up, and are erased.
#[test]
fn strokes_are_painted_in_metres() {
    let course =
        [(1000.0, 1000.0, 1.0), (3000.0, 2500.0, 0.6)].map(|(x_m, y_m, value)| LinePoint {
            value,
            ..LinePoint::plain(x_m, y_m)
        });
    let brush = |erase| Coat {
        brush: Brush {
            courses: vec![course.into_iter().collect()],
            radius_m: 300.0,
            strength: 0.5,
            softness: 0.5,
            pressed_wider: false,
            pressed_stronger: true,
            builds_up: false,
        },
        erase,
    };
    let (coarse, fine) = (frame(120), frame(480));
    let once = painted(&[brush(false)], &fine, Run::to_the_end()).expect("not stopped");
    assert!((once.range().1 - 0.5).abs() < 1e-3, "{:?}", once.range());
    let down = terrain::grid::resample(&once, &fine, &coarse);
    assert_close(
        &down,
        &painted(&[brush(false)], &coarse, Run::to_the_end()).expect("not stopped"),
        0.08,
    );
    let window = fine.window(60, 50, 100, 90);
    assert_eq!(
        painted(&[brush(false)], &window, Run::to_the_end()).expect("not stopped"),
        once.cropped(60, 50, 100, 90)
    );
    let twice =
        painted(&[brush(false), brush(false)], &fine, Run::to_the_end()).expect("not stopped");
    assert!(twice.range().1 > 0.74, "{:?}", twice.range());
    let erased =
        painted(&[brush(false), brush(true)], &fine, Run::to_the_end()).expect("not stopped");
    assert!(erased.sum() < 0.7 * once.sum());
}

/// Every local reading has the bits of the whole in a window.
#[test]
fn readings_of_a_window_are_those_of_the_whole() {
    let extent = Extent {
        width_m: 4000.0,
        depth_m: 4000.0,
    };
    let whole = Frame::with_cells(extent, 200);
    let land = hills(&whole, 700.0, 2);
    let cell_m = whole.cell_m;
    let sun = Sun {
        bearing_deg: 200.0,
        altitude_deg: 25.0,
    };
    type Read = Box<dyn Fn(&Grid) -> Grid>;
    let readings: [(usize, Read); 4] = [
        (
            sight_margin(600.0, cell_m),
            Box::new(move |g| sky_seen(g, sight_margin(600.0, cell_m), 600.0, cell_m)),
        ),
        (
            sight_margin(600.0, cell_m),
            Box::new(move |g| sunlight(g, sight_margin(600.0, cell_m), 600.0, cell_m, sun)),
        ),
        (
            position_margin(80.0, cell_m),
            Box::new(move |g| position_m(g, 80.0, cell_m)),
        ),
        (
            1,
            Box::new(move |g| curvature_per_km(g, cell_m, Bend::Mean)),
        ),
    ];
    for (margin, read) in readings {
        let all = read(&land);
        let part = read(&land.cropped(20, 30, 2 * margin + 40, 2 * margin + 30));
        assert_eq!(part, all.cropped(20, 30, 40, 30));
    }
}
