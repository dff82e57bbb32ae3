//! Shapers: curves do not overshoot, edges sink, warps are local.

use proptest::prelude::*;
use terrain::shape::{Curve, CurveError, FallOff, Outline, Warp};
use terrain::{Extent, Run};

use crate::support::{assert_same_bits, frame, hills};

proptest! {
    #[test]
    fn a_curve_goes_through_its_points_and_stays_between_neighbours(
        steps in prop::collection::vec((0.01..5.0_f32, -10.0..10.0_f32), 2..9),
    ) {
        let mut x = 0.0;
        let points: Vec<(f32, f32)> =
            steps.iter().map(|&(step, y)| { x += step; (x, y) }).collect();
        let curve = Curve::through(&points).expect("rising points");
        for pair in points.windows(2) {
            prop_assert!((curve.at(pair[0].0) - pair[0].1).abs() < 1e-4);
            let (low, high) = (pair[0].1.min(pair[1].1), pair[0].1.max(pair[1].1));
            for i in 0..=20 {
                let y = curve.at(pair[0].0 + (pair[1].0 - pair[0].0) * i as f32 / 20.0);
                prop_assert!(y >= low - 1e-3 && y <= high + 1e-3, "{} not in {}..{}", y, low, high);
            }
        }
    }
}

#[test]
fn a_curve_says_what_is_wrong_with_its_points() {
    assert_eq!(Curve::through(&[(0.0, 1.0)]), Err(CurveError::TooFew(1)));
    assert_eq!(
        Curve::through(&[(0.0, 1.0), (0.0, 2.0)]),
        Err(CurveError::NotRising {
            index: 1,
            x: 0.0,
            before: 0.0
        })
    );
    assert_eq!(
        Curve::through(&[(0.0, f32::NAN), (1.0, 2.0)]),
        Err(CurveError::NotFinite { index: 0 })
    );
}

#[test]
fn the_land_is_gone_at_the_border_and_whole_inside() {
    let extent = Extent {
        width_m: 6000.0,
        depth_m: 4000.0,
    };
    let frame = frame(300);
    for outline in [Outline::Frame, Outline::Oval] {
        let fall_off = FallOff {
            outline,
            width_m: 600.0,
            ragged_m: 500.0,
            ragged_feature_m: 1500.0,
            seed: 3,
        };
        let left = fall_off
            .weight(extent, &frame, Run::to_the_end())
            .expect("not cancelled");
        let (cols, rows) = (left.cols(), left.rows());
        let border = (0..cols).flat_map(|c| [(c, 0), (c, rows - 1)]);
        for (c, r) in border.chain((0..rows).flat_map(|r| [(0, r), (cols - 1, r)])) {
            assert!(
                left.at(c, r) < 0.02,
                "{outline:?}: {} at ({c}, {r})",
                left.at(c, r)
            );
        }
        assert_eq!(left.at(cols / 2, rows / 2), 1.0);
    }
}

#[test]
fn a_plain_outline_would_be_straight_and_a_ragged_one_is_not() {
    let extent = Extent {
        width_m: 6000.0,
        depth_m: 4000.0,
    };
    let frame = frame(300);
    let coast = |ragged_m| {
        let fall_off = FallOff {
            outline: Outline::WestEast,
            width_m: 300.0,
            ragged_m,
            ragged_feature_m: 800.0,
            seed: 3,
        };
        let left = fall_off
            .weight(extent, &frame, Run::to_the_end())
            .expect("not cancelled");
        let first = |r: usize| left.row(r).iter().position(|&v| v > 0.5).expect("land");
        let columns: Vec<usize> = (0..left.rows()).map(first).collect();
        columns.iter().max().expect("rows") - columns.iter().min().expect("rows")
    };
    assert_eq!(coast(0.0), 0);
    assert!(
        coast(600.0) > 8,
        "the coast moves by {} cells only",
        coast(600.0)
    );
}

#[test]
fn a_warp_of_a_window_has_the_bits_of_the_whole() {
    let warp = Warp {
        distance_m: 130.0,
        feature_m: 900.0,
        octaves: 3.0,
        seed: 4,
    };
    let frame = frame(100);
    let wide = frame.grown(warp.margin(frame.cell_m));
    let land = hills(&wide, 800.0, 6);
    let run = Run::to_the_end();
    let whole = warp
        .apply(&land, &wide, &frame, run)
        .expect("not cancelled");
    let window = frame.window(11, 13, 40, 30);
    let near = window.grown(warp.margin(frame.cell_m));
    let (col, row) = wide.offset_of(&near).expect("inside");
    let part = land.cropped(col, row, near.cols, near.rows);
    let warped = warp
        .apply(&part, &near, &window, run)
        .expect("not cancelled");
    assert_same_bits(&warped, &whole.cropped(11, 13, 40, 30));
}
