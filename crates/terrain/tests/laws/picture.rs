//! Light falls where it should.

use terrain::Grid;
use terrain::picture::{Sun, cast_shadow, hillshade, normal_map, sky_view};

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
        let seen = cast_shadow(&wall(61, 30), 10.0, sun, 1.0);
        for cells in 1..=9 {
            assert_eq!(
                seen.at((30 + away * cells) as usize, 10),
                0.0,
                "{cells} cells away"
            );
        }
        assert_eq!(seen.at((30 + away * 12) as usize, 10), 1.0);
        assert_eq!(seen.at((30 - away) as usize, 10), 1.0, "the sunny side");
    }
}

#[test]
fn a_plain_sees_all_of_the_sky_and_a_pit_does_not() {
    let plain = Grid::filled(64, 64, 12.0);
    assert!(sky_view(&plain, 10.0).values().iter().all(|&v| v == 1.0));
    let mut pit = Grid::filled(65, 65, 0.0);
    pit.values_mut()[32 * 65 + 32] = -10.0;
    // Walls of 45° in the straight directions, 10 m over 14.1 m diagonally:
    // the mean of cos² is (½ + ⅔) / 2.
    let seen = sky_view(&pit, 10.0).at(32, 32);
    assert!((seen - 7.0 / 12.0).abs() < 1e-5, "got {seen}");
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
/// cos α; over eight bearings it is a little off.
#[test]
fn a_valley_sees_as_much_sky_as_its_slopes_leave() {
    for alpha_deg in [10.0_f64, 30.0, 50.0] {
        let rise = alpha_deg.to_radians().tan();
        let valley = Grid::by_rows(257, 257, |_, out| {
            for (c, out) in out.iter_mut().enumerate() {
                *out = (rise * 10.0 * (c as f64 - 128.0).abs()) as f32;
            }
        });
        let seen = f64::from(sky_view(&valley, 10.0).at(128, 128));
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
    let seen = sky_view(&hills(256, 10.0), 10.0);
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
    let coarse = sky_view(&hills(192, 20.0), 20.0);
    let fine = sky_view(&hills(384, 10.0), 10.0);
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
