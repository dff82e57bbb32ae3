//! Readings against surfaces whose slope and aspect are known by formula.

use terrain::reading::{FLAT, aspect_deg, facing_deg, slope_deg};
use terrain::{Extent, Frame, Grid};

use crate::support::{assert_same_bits, frame, hills};

const HILL_M: f64 = 300.0;
const SPREAD_M: f64 = 900.0;

/// A Gaussian hill in the middle of a 6 km square, and its gradient.
fn gaussian(x_m: f64, y_m: f64) -> (f64, f64, f64) {
    let (dx, dy) = (x_m - 3000.0, y_m - 3000.0);
    let height = HILL_M * (-(dx * dx + dy * dy) / (2.0 * SPREAD_M * SPREAD_M)).exp();
    let fall = -height / (SPREAD_M * SPREAD_M);
    (height, fall * dx, fall * dy)
}

fn square(cells: usize) -> Frame {
    Frame::with_cells(
        Extent {
            width_m: 6000.0,
            depth_m: 6000.0,
        },
        cells,
    )
}

fn gaussian_hill(frame: &Frame) -> Grid {
    Grid::by_rows(frame.cols, frame.rows, |r, out| {
        for (c, out) in out.iter_mut().enumerate() {
            *out = gaussian(frame.x_m(c), frame.y_m(r)).0 as f32;
        }
    })
}

#[test]
fn the_slope_of_a_gaussian_hill_is_that_of_its_formula() {
    let frame = square(600);
    let slope = slope_deg(&gaussian_hill(&frame.grown(1)), frame.cell_m);
    for r in (0..600).step_by(7) {
        for c in (0..600).step_by(7) {
            let (_, gx, gy) = gaussian(frame.x_m(c), frame.y_m(r));
            let expected = gx.hypot(gy).atan().to_degrees();
            let got = f64::from(slope.at(c, r));
            // Second-order differences over 10 m of a hill 900 m wide.
            assert!(
                (got - expected).abs() < 0.01,
                "({c}, {r}): got {got}, expected {expected}"
            );
        }
    }
}

#[test]
fn a_hill_faces_away_from_its_top() {
    let frame = square(301);
    let aspect = aspect_deg(&gaussian_hill(&frame.grown(1)), frame.cell_m);
    for (c, r, expected) in [
        (150, 60, 0.0),
        (240, 150, 90.0),
        (150, 240, 180.0),
        (60, 150, 270.0),
        (200, 100, 45.0),
    ] {
        let got = f64::from(aspect.at(c, r));
        let apart = (got - expected + 540.0).rem_euclid(360.0) - 180.0;
        assert!(
            apart.abs() < 0.2,
            "({c}, {r}): got {got}, expected {expected}"
        );
    }
}

#[test]
fn level_ground_faces_nowhere() {
    let plain = Grid::filled(12, 9, 40.0);
    assert!(aspect_deg(&plain, 10.0).values().iter().all(|&v| v == FLAT));
    assert!(
        facing_deg(&plain, 10.0, 33.0)
            .values()
            .iter()
            .all(|&v| v == 90.0)
    );
    assert!(slope_deg(&plain, 10.0).values().iter().all(|&v| v == 0.0));
}

#[test]
fn readings_of_a_window_have_the_bits_of_the_whole() {
    let frame = frame(80);
    let land = hills(&frame.grown(1), 900.0, 3);
    let whole = slope_deg(&land, frame.cell_m);
    let part = slope_deg(&land.cropped(10, 7, 32, 22), frame.cell_m);
    assert_same_bits(&part, &whole.cropped(10, 7, 30, 20));
}
