//! Frames nest, resampling keeps what it should.

use proptest::prelude::*;
use terrain::grid::{ApronBands, Sampler, halve, resample, with_apron};
use terrain::{Extent, Frame, Grid, GridError};

use crate::support::{assert_close, assert_same_bits, frame, hills};

fn plane(frame: &Frame) -> Grid {
    Grid::by_rows(frame.cols, frame.rows, |r, out| {
        for (c, out) in out.iter_mut().enumerate() {
            *out = (0.1 * frame.x_m(c) - 0.05 * frame.y_m(r)) as f32;
        }
    })
}

proptest! {
    #[test]
    fn frames_of_half_the_cell_nest(
        width_m in 100.0..20_000.0_f64, depth_m in 100.0..20_000.0_f64, cells in 16..300_usize,
    ) {
        let extent = Extent { width_m, depth_m };
        let coarse = Frame::with_cells(extent, cells);
        let fine = Frame::with_cells(extent, 2 * cells);
        prop_assert_eq!(fine.cols.div_ceil(2), coarse.cols);
        prop_assert_eq!(fine.rows.div_ceil(2), coarse.rows);
        prop_assert!((coarse.x_m(3) - 0.5 * (fine.x_m(6) + fine.x_m(7))).abs() < 1e-9 * width_m);
        prop_assert!(coarse.rows as f64 * coarse.cell_m >= depth_m * (1.0 - 1e-9));
    }
}

#[test]
fn a_plane_survives_resampling_both_ways() {
    let (fine, coarse) = (frame(96), frame(48));
    assert_close(
        &resample(&plane(&fine), &fine, &coarse),
        &plane(&coarse),
        2e-3,
    );
    let middle = |frame: &Frame, grid: &Grid| grid.cropped(6, 6, frame.cols - 12, frame.rows - 12);
    let finer = resample(&plane(&coarse), &coarse, &fine);
    assert_close(&middle(&fine, &finer), &middle(&fine, &plane(&fine)), 2e-3);
}

/// Blocks hold every value of theirs, and one cell at each end of what they say.
#[test]
fn blocks_say_how_low_and_high_they_are() {
    let land = hills(&frame(101), 900.0, 4);
    let blocks = land.ranges_of_blocks(8);
    assert_eq!(
        (blocks.cols(), blocks.rows()),
        (13, land.rows().div_ceil(8))
    );
    for r in 0..blocks.rows() {
        for c in 0..blocks.cols() {
            let cols = 8.min(land.cols() - 8 * c);
            let rows = 8.min(land.rows() - 8 * r);
            let (low, high) = land.cropped(8 * c, 8 * r, cols, rows).range();
            assert_eq!(blocks.at(c, r), [low, high]);
        }
    }
}

#[test]
fn averaging_to_half_is_halving() {
    let fine = frame(96);
    let land = hills(&fine, 900.0, 2);
    assert_close(&resample(&land, &fine, &frame(48)), &halve(&land), 1e-2);
}

#[test]
fn resampling_a_window_has_the_bits_of_the_whole() {
    let (coarse, fine) = (frame(50), frame(170));
    let land = hills(&coarse, 900.0, 8);
    let whole = resample(&land, &coarse, &fine);
    let window = fine.window(20, 31, 64, 40);
    assert_same_bits(
        &resample(&land, &coarse, &window),
        &whole.cropped(20, 31, 64, 40),
    );
}

#[test]
fn the_sampler_goes_through_the_cells() {
    let frame = frame(40);
    let land = hills(&frame, 500.0, 3);
    let sampler = Sampler::new(&land, &frame);
    for (c, r) in [(3, 4), (20, 10), (39, 25)] {
        let got = sampler.bicubic(frame.x_m(c), frame.y_m(r));
        assert!(
            (got - land.at(c, r)).abs() < 1e-2,
            "got {got}, expected {}",
            land.at(c, r)
        );
    }
}

#[test]
fn an_apron_goes_on_in_a_straight_line() {
    let frame = frame(30);
    let grown = plane(&frame.grown(1));
    assert_close(&with_apron(&plane(&frame)), &grown, 1e-2);
    let single = Grid::filled(1, 1, 7.0);
    assert_eq!(with_apron(&single), Grid::filled(3, 3, 7.0));
}

#[test]
fn grids_refuse_wrong_lengths_and_name_the_first_nan() {
    assert_eq!(
        Grid::from_vec(3, 2, vec![0.0_f32; 5]),
        Err(GridError::WrongLength {
            cols: 3,
            rows: 2,
            got: 5
        })
    );
    let mut values = vec![0.0; 6];
    values[4] = f32::NAN;
    let grid = Grid::from_vec(3, 2, values).expect("six values");
    assert_eq!(
        grid.check_finite(),
        Err(GridError::NotFinite {
            count: 1,
            total: 6,
            col: 1,
            row: 1
        })
    );
}

proptest! {
    /// Bands with an apron are parts of the grid with its apron, bit for bit, however many
    /// rows come at a time.
    #[test]
    fn bands_with_an_apron_are_parts_of_the_whole(
        (cols, rows) in (1..9_usize, 1..30_usize),
        values in prop::collection::vec(-100.0..100.0_f32, 270),
        at_a_time in 1..12_usize,
    ) {
        let grid = Grid::from_vec(cols, rows, values[..cols * rows].to_vec()).expect("fits");
        let whole = with_apron(&grid);
        let mut bands = ApronBands::of(cols);
        let mut done = 0;
        for first in (0..rows).step_by(at_a_time) {
            let end = (first + at_a_time).min(rows);
            let some = &grid.values()[first * cols..end * cols];
            if let Some(band) = bands.take(some, end == rows) {
                let count = band.rows() - 2;
                prop_assert_eq!(&band, &whole.cropped(0, done, cols + 2, count + 2));
                done += count;
            }
        }
        prop_assert_eq!(done, rows);
    }
}
