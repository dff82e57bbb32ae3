//! Strewn copies: one layout at any resolution, in any window.

use proptest::prelude::*;
use terrain::shape::{Form, Layout, Overlap, Profile, Strew, StrewnCopy};
use terrain::{Extent, Frame, Grid, Run};

use crate::support::{assert_close, assert_same_bits, frame};

const EXTENT: Extent = Extent {
    width_m: 6000.0,
    depth_m: 4000.0,
};

fn strew(seed: u32, layout: Layout, overlap: Overlap, looks: usize) -> Strew {
    Strew {
        count: 150,
        layout,
        least_m: 80.0,
        greatest_m: 700.0,
        size_power: 2.0,
        bearing_deg: 20.0,
        turn: 1.0,
        slimness: 0.6,
        height_spread: 0.4,
        soft_edge: 0.3,
        overlap,
        looks,
        seed,
    }
}

fn dome(_: &StrewnCopy, u: f64, v: f64) -> f32 {
    Form::Dome.at(u as f32, v as f32, Profile::Smooth)
}

fn fill(strew: Strew, frame: &Frame) -> (Grid, Grid) {
    strew
        .fill(EXTENT, frame, 90.0, dome, Run::to_the_end())
        .expect("nobody cancels")
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(16))]

    #[test]
    fn a_window_has_the_bits_of_the_whole(
        seed in any::<u32>(), sum in any::<bool>(), jitter in prop_oneof![Just(-1.0), 0.0..1.0],
        (col, row) in (0..60_usize, 0..40_usize),
    ) {
        let layout = if jitter < 0.0 { Layout::Random } else { Layout::Grid { jitter } };
        let overlap = if sum { Overlap::Sum } else { Overlap::Highest };
        let strew = strew(seed, layout, overlap, 2);
        let whole = frame(96);
        let window = whole.window(col, row, 30, 20);
        let (heights, cover) = fill(strew, &whole);
        let (got, got_cover) = fill(strew, &window);
        assert_same_bits(&got, &heights.cropped(col, row, 30, 20));
        assert_same_bits(&got_cover, &cover.cropped(col, row, 30, 20));
        let (low, high) = got_cover.range();
        prop_assert!(low >= 0.0 && high <= 1.0);
    }
}

#[test]
fn there_are_as_many_copies_as_asked_for_and_of_the_sizes_asked_for() {
    let strew = strew(3, Layout::Random, Overlap::Highest, 1);
    let copies = strew.copies(EXTENT, &frame(64));
    assert_eq!(copies.len(), 150);
    assert!(
        copies
            .iter()
            .all(|copy| (80.0..=700.0).contains(&copy.size_m))
    );
    // Small ones are more common: the mean of a draw squared is a third.
    let mean = copies.iter().map(|copy| copy.size_m).sum::<f64>() / 150.0;
    assert!((200.0..370.0).contains(&mean), "mean size {mean} m");
}

/// The same layout at any resolution: many looks into each cell of a coarse
/// grid give what a fine grid gives, averaged.
#[test]
fn a_coarse_grid_sees_the_same_copies_as_a_fine_one() {
    let (coarse, fine) = (frame(60), frame(480));
    let (heights, _) = fill(strew(8, Layout::Random, Overlap::Sum, 8), &coarse);
    let (close, _) = fill(strew(8, Layout::Random, Overlap::Sum, 1), &fine);
    let averaged = terrain::grid::resample(&close, &fine, &coarse);
    assert_close(&heights, &averaged, 0.05);
}

#[test]
fn copies_that_do_not_keep_the_ground_stand_level() {
    let frame = frame(240);
    let strew = Strew {
        count: 1,
        least_m: 900.0,
        greatest_m: 900.0,
        height_spread: 0.0,
        turn: 0.0,
        slimness: 1.0,
        soft_edge: 0.1,
        ..strew(5, Layout::Grid { jitter: 0.0 }, Overlap::Highest, 1)
    };
    let slope = Grid::by_rows(frame.cols, frame.rows, |_, row| {
        for (c, value) in row.iter_mut().enumerate() {
            *value = frame.x_m(c) as f32;
        }
    });
    let plateau = |_: &StrewnCopy, _: f64, _: f64| 1.0;
    let ground = |copy: &StrewnCopy| copy.x_m as f32;
    let land = strew.stand(
        EXTENT,
        (slope, &frame),
        50.0,
        plateau,
        ground,
        Run::to_the_end(),
    );
    let (land, cover) = land.expect("nobody cancels");
    let (c, r) = (frame.cols / 2, frame.rows / 2);
    for dc in [-10_i64, 0, 10] {
        let at = (c as i64 + dc) as usize;
        assert_eq!(cover.at(at, r), 1.0);
        assert!(
            (land.at(at, r) - 3050.0).abs() < 0.01,
            "{} m",
            land.at(at, r)
        );
    }
    assert!(
        (land.at(2, 2) - frame.x_m(2) as f32).abs() < 1e-3,
        "elsewhere nothing changes"
    );
}
