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
