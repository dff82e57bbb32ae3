//! Light falls where it should.

use terrain::Grid;
use terrain::grid::without_apron;
use terrain::light::{SKY_REACH_M, Sun, sight_margin, sky_seen, sunlight};
use terrain::picture::{Lighting, hillshade, light, normal_map};

/// A wall 100 m high and one cell thick, from north to south.
fn wall(cols: usize, at: usize) -> Grid {
    Grid::by_rows(cols, 20, |_, out| out[at] = 100.0)
}

#[test]
fn a_wall_throws_a_shadow_as_long_as_the_suns_height_says() {
    for (bearing_deg, away) in [(90.0, -1_i64), (270.0, 1)] {
        // At 45° the shadow of 100 m is 100 m: ten cells of 10 m.
        let sun = Sun {
            bearing_deg,
            altitude_deg: 45.0,
        };
        let seen = sunlight(&wall(63, 31), 1, 300.0, 10.0, sun);
        for cells in 1..=9 {
            assert_eq!(
                seen.at((30 + away * cells) as usize, 10),
                0.0,
                "{cells} cells away"
            );
        }
        let level = 45.0_f32.to_radians().sin();
        assert!((seen.at((30 + away * 12) as usize, 10) - level).abs() < 1e-6);
        assert!(seen.at((30 - away) as usize, 10) > level, "the sunny side");
    }
}

/// What a place sees of the sky when nothing is known beyond the grid.
fn sky(heights: &Grid, cell_m: f64) -> Grid {
    sky_seen(heights, 0, SKY_REACH_M, cell_m)
}

/// Masks of light and the light in pictures and maps are one and the same, wherever
/// the land that both look at is.
#[test]
fn baked_light_is_what_masks_read() {
    let (cell_m, cells) = (10.0, 380);
    let land = hills(cells, cell_m);
    let sun = Sun {
        bearing_deg: 130.0,
        altitude_deg: 20.0,
    };
    let lighting = Lighting {
        sun,
        sea_level_m: -1e6,
    };
    let baked = light(&land, cell_m, lighting);
    let reach_m = SKY_REACH_M;
    let margin = sight_margin(reach_m, cell_m);
    let inside = |grid: &Grid| without_apron(grid, margin - 1);
    assert_eq!(sky_seen(&land, margin, reach_m, cell_m), inside(&baked.sky));
    assert_eq!(
        sunlight(&land, margin, reach_m, cell_m, sun),
        inside(&baked.sun)
    );
    let shaded = baked.sun.values().iter().filter(|&&v| v == 0.0).count();
    assert!(shaded > 100, "{shaded} cells in shadow");
}

#[test]
fn a_plain_sees_all_of_the_sky_and_a_pit_does_not() {
    let plain = Grid::filled(64, 64, 12.0);
    assert!(sky(&plain, 10.0).values().iter().all(|&v| v == 1.0));
    let mut pit = Grid::filled(65, 65, 0.0);
    pit.values_mut()[32 * 65 + 32] = -10.0;
    // Walls 10 m high all around a square of cells, so 10 m / cos φ away where one looks
    // by φ off an axis: the horizon's tangent is cos φ, at φ = 11.25° and 33.75°.
    let open = |phi: f32| 1.0 / (1.0 + phi.to_radians().cos().powi(2));
    let expected = (open(11.25) + open(33.75)) / 2.0;
    let seen = sky(&pit, 10.0).at(32, 32);
    assert!(
        (seen - expected).abs() < 1e-5,
        "got {seen}, expected {expected}"
    );
}

/// Hills of a kilometre, `cells` cells of `cell_m` along each side.
fn hills(cells: usize, cell_m: f64) -> Grid {
    Grid::by_rows(cells, cells, |r, out| {
        for (c, out) in out.iter_mut().enumerate() {
            let (x, y) = ((c as f64 + 0.5) * cell_m, (r as f64 + 0.5) * cell_m);
            let tau = std::f64::consts::TAU;
            *out = (220.0 * (tau * x / 1700.0).sin() * (tau * y / 1300.0).cos()) as f32;
        }
    })
}

/// In the middle of a valley between endless slopes of angle α the sky view is the
/// mean over all bearings of cos² of the horizon (Dozier and Frew 1990), which is
/// cos α; over sixteen bearings it is a little off.
#[test]
fn a_valley_sees_as_much_sky_as_its_slopes_leave() {
    for alpha_deg in [10.0_f64, 30.0, 50.0] {
        let rise = alpha_deg.to_radians().tan();
        let valley = Grid::by_rows(257, 257, |_, out| {
            for (c, out) in out.iter_mut().enumerate() {
                *out = (rise * 10.0 * (c as f64 - 128.0).abs()) as f32;
            }
        });
        let seen = f64::from(sky(&valley, 10.0).at(128, 128));
        let expected = alpha_deg.to_radians().cos();
        assert!(
            (seen - expected).abs() < 0.02,
            "{alpha_deg}°: {seen}, expected {expected}"
        );
    }
}

/// On smooth land the sky view is smooth: the halved grids that it is looked up on
/// do not show as blocks.
#[test]
fn smooth_land_has_no_steps_in_its_sky() {
    let seen = sky(&hills(256, 10.0), 10.0);
    // Away from the border, where the land ends.
    for r in 48..208 {
        for c in 48..207 {
            let step = (seen.at(c + 1, r) - seen.at(c, r)).abs();
            assert!(step < 0.012, "a step of {step} at {c}, {r}");
        }
    }
}

/// The same land on finer cells sees the same sky.
#[test]
fn the_sky_does_not_depend_on_the_grid() {
    let coarse = sky(&hills(192, 20.0), 20.0);
    let fine = sky(&hills(384, 10.0), 10.0);
    for r in 48..144 {
        for c in 48..144 {
            let four = [(0, 0), (1, 0), (0, 1), (1, 1)];
            let mean: f32 = four
                .iter()
                .map(|(dc, dr)| fine.at(2 * c + dc, 2 * r + dr) / 4.0)
                .sum();
            let off = (mean - coarse.at(c, r)).abs();
            assert!(off < 0.03, "{mean} and {} at {c}, {r}", coarse.at(c, r));
        }
    }
}

#[test]
fn a_slope_towards_the_sun_is_bright() {
    let rising_east = Grid::by_rows(9, 9, |_, out| {
        for (c, out) in out.iter_mut().enumerate() {
            *out = 10.0 * c as f32;
        }
    });
    let shade = |bearing_deg| {
        hillshade(
            &rising_east,
            10.0,
            Sun {
                bearing_deg,
                altitude_deg: 45.0,
            },
            1.0,
        )
        .at(3, 3)
    };
    assert_eq!((shade(270.0), shade(90.0)), (255, 1));
    // The normal leans west and up: (−√½, 0, √½) as bytes.
    assert_eq!(normal_map(&rising_east, 10.0).at(3, 3), [37, 128, 218]);
}
