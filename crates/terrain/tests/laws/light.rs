//! Sun and sky past the land, on shapes whose shadows are known, and how textures are
//! broken up.

use proptest::prelude::*;
use terrain::Grid;
use terrain::ground::{faces, patches};
use terrain::light::{Sun, sight_margin, sky_seen, sunlight, suns_of_day};

use crate::support::assert_same_bits;

const CELL_M: f64 = 5.0;

/// A surface over metres east and north of the middle.
fn surface(cells: usize, height_m: impl Fn(f64, f64) -> f64 + Sync) -> Grid {
    let middle = (cells as f64 - 1.0) / 2.0;
    Grid::by_rows(cells, cells, |r, out| {
        for (c, out) in out.iter_mut().enumerate() {
            let (x, y) = ((c as f64 - middle) * CELL_M, (middle - r as f64) * CELL_M);
            *out = height_m(x, y) as f32;
        }
    })
}

/// The shadow of a cone on level ground: the triangle of two tangents from the shadow of
/// its tip, h / tan(altitude) away, and nothing beyond (elementary geometry).
#[test]
fn a_cone_throws_the_shadow_of_a_cone() {
    let (height, radius) = (300.0, 100.0);
    let cells = 301;
    for (bearing_deg, altitude_deg) in [(90.0, 30.0), (200.0, 40.0), (315.0, 55.0)] {
        let sun = Sun {
            bearing_deg,
            altitude_deg,
        };
        let land = surface(cells, |x, y| {
            (height * (1.0 - x.hypot(y) / radius)).max(0.0)
        });
        let lit = sunlight(&land, 1, 1e5, CELL_M, sun);
        let level = altitude_deg.to_radians().sin() as f32;
        let (east, north) = bearing_deg.to_radians().sin_cos();
        let tip = height / altitude_deg.to_radians().tan();
        let half_angle = (radius / tip).asin();
        let middle = (lit.cols() as f64 - 1.0) / 2.0;
        let (mut dark, mut bright) = (0, 0);
        for r in 0..lit.rows() {
            for c in 0..lit.cols() {
                let (x, y) = ((c as f64 - middle) * CELL_M, (middle - r as f64) * CELL_M);
                if x.hypot(y) < radius + 2.0 * CELL_M {
                    continue;
                }
                // Along the way the light goes, from the tip's shadow back, and across.
                let along = tip + (x * east + y * north);
                let across = (x * north - y * east).abs();
                let inside = half_angle.tan() * along - across;
                let behind = x * east + y * north < 0.0;
                let shown = lit.at(c, r);
                if behind && along > 0.0 && inside > 3.0 * CELL_M {
                    assert!(shown < 0.02, "{shown} in the shadow at {x}, {y}");
                    dark += 1;
                } else if inside < -3.0 * CELL_M || !behind {
                    assert!(
                        (shown - level).abs() < 1e-3,
                        "{shown} in the sun at {x}, {y}"
                    );
                    bright += 1;
                }
            }
        }
        assert!(
            dark > 100 && bright > 10_000,
            "{dark} dark, {bright} bright"
        );
    }
}

/// The tip of a cone sees what is above a horizon that falls away: all of the sky. Its
/// foot sees less the steeper it is. A funnel with a level bottom is shut in: its rim's
/// tangent is the same all around, and the share is cos² of that angle.
#[test]
fn cones_see_the_sky_as_far_as_they_are_steep() {
    for slope_deg in [15.0_f64, 35.0, 55.0] {
        let rise = slope_deg.to_radians().tan();
        let peak = surface(201, |x, y| -rise * x.hypot(y));
        assert_eq!(sky_seen(&peak, 0, 400.0, CELL_M).at(100, 100), 1.0);
        let (bottom, reach) = (25.0, 400.0);
        let funnel = surface(201, |x, y| rise * (x.hypot(y) - bottom).max(0.0));
        let seen = f64::from(sky_seen(&funnel, 0, reach, CELL_M).at(100, 100));
        let tangent = rise * (1.0 - bottom / reach);
        let expected = 1.0 / (1.0 + tangent * tangent);
        assert!(
            (seen - expected).abs() < 0.015,
            "{slope_deg}°: {seen}, expected {expected}"
        );
    }
}

/// Hours of daylight by Cooper's declination and the sunrise equation, cos h = −tan φ tan δ
/// (Duffie and Beckman, Solar Engineering of Thermal Processes, equation 1.6.11): as many
/// full hours as the sun is up, give or take the two that it rises and sets in.
#[test]
fn days_are_as_long_as_the_sunrise_equation_says() {
    for latitude_deg in [-60.0_f64, -35.0, 0.0, 20.0, 45.0, 62.0] {
        for day in [15, 81, 120, 172, 250, 330] {
            let turn = (360.0 * (284.0 + f64::from(day)) / 365.0).to_radians();
            let declination = (23.45 * turn.sin()).to_radians();
            let cosine = -latitude_deg.to_radians().tan() * declination.tan();
            let hours = 2.0 * cosine.clamp(-1.0, 1.0).acos().to_degrees() / 15.0;
            let counted = suns_of_day(latitude_deg, day).len() as f64;
            assert!(
                (counted - hours).abs() <= 1.0,
                "{counted} hours on day {day} at {latitude_deg}°, it should be {hours}"
            );
        }
    }
}

proptest! {
    /// Looking farther never shows more of the sky or of the sun; and whatever lies
    /// beyond the reach changes no bit.
    #[test]
    fn what_is_farther_away_only_hides(
        seed in 0..1000_u32, near_m in 20.0..80.0_f64, more_m in 10.0..80.0_f64,
        bearing_deg in 0.0..360.0_f64, altitude_deg in 5.0..80.0_f64,
    ) {
        let rough = |x: f64, y: f64| {
            let at = |k| terrain::noise::unit(terrain::noise::hash(x as i32, y as i32, seed + k));
            f64::from(40.0 * at(0) + 30.0 * at(1).powi(4))
        };
        let far_m = near_m + more_m;
        let margin = sight_margin(far_m, CELL_M);
        let cells = 2 * margin + 12;
        let land = surface(cells, rough);
        let sun = Sun { bearing_deg, altitude_deg };
        let sky = |reach_m| sky_seen(&land, margin, reach_m, CELL_M);
        let lit = |reach_m| sunlight(&land, margin, reach_m, CELL_M, sun);
        for (near, far) in [(sky(near_m), sky(far_m)), (lit(near_m), lit(far_m))] {
            for (near, far) in near.values().iter().zip(far.values()) {
                prop_assert!(far <= near && (0.0..=1.0).contains(far), "{} and {}", near, far);
            }
        }
        let less = land.cropped(4, 4, cells - 8, cells - 8);
        let narrow = margin - 4;
        if narrow >= sight_margin(near_m, CELL_M) {
            assert_same_bits(&sky_seen(&less, narrow, near_m, CELL_M), &sky(near_m));
            assert_same_bits(&sunlight(&less, narrow, near_m, CELL_M, sun), &lit(near_m));
        }
    }

    /// Three patches share a place, each from somewhere in the texture, and neighbouring
    /// places share theirs: nothing jumps.
    #[test]
    fn patches_share_a_place(u in -500.0..500.0_f64, v in -500.0..500.0_f64) {
        let here = patches(u, v);
        let sum: f32 = here.iter().map(|patch| patch.weight).sum();
        prop_assert!((sum - 1.0).abs() < 1e-4, "{:?}", here);
        for patch in here {
            prop_assert!((-1e-4..=1.0001).contains(&patch.weight));
            prop_assert!(patch.shift.iter().all(|shift| (0.0..1.0).contains(shift)));
        }
        let blend = |u, v| patches(u, v).iter().map(|p| f64::from(p.weight) * p.shift[0]).sum::<f64>();
        let step = 1e-4;
        prop_assert!((blend(u + step, v) - blend(u, v)).abs() < 10.0 * step);
        prop_assert!((blend(u, v + step) - blend(u, v)).abs() < 10.0 * step);
    }

    /// Gentle land is textured from above alone, a wall from its own side, and what is
    /// turned by a quarter is textured from the other side as much.
    #[test]
    fn faces_follow_the_slope(east in -4.0..4.0_f32, north in -4.0..4.0_f32) {
        let [a, b, top] = faces([east, north]);
        prop_assert_eq!(faces([north, east]), [b, a, top]);
        prop_assert_eq!(faces([-east, -north]), [a, b, top]);
        prop_assert!(a >= 0.0 && b >= 0.0 && a + b + top > 0.0);
        if east.hypot(north) < 0.29 {
            prop_assert_eq!([a, b, top], [0.0, 0.0, 1.0]);
        }
        if east.abs() > 3.0 && north.abs() < 1.0 {
            prop_assert!(a > 10.0 * (b + top));
        }
    }
}
