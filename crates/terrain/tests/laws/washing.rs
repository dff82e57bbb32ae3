//! Pigment carried downhill.

use proptest::prelude::*;
use terrain::erosion::drain;
use terrain::noise::FractalNoise;
use terrain::{Extent, Frame, Grid, Run};

fn hills(seed: u32) -> Grid {
    let extent = Extent {
        width_m: 900.0,
        depth_m: 700.0,
    };
    let noise = FractalNoise {
        feature_m: 300.0,
        seed,
        ..FractalNoise::default()
    };
    let frame = Frame::covering(extent, 10.0);
    let shape = noise.fill(&frame, Run::to_the_end()).expect("fills");
    shape.map(|v| 80.0 * v)
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    /// What is shed is laid or carried off: to the rounding of single floats.
    #[test]
    fn pigment_is_conserved(
        seed in any::<u32>(), distance in 0.5..200.0_f32, sea in -60.0..10.0_f32,
        shed in prop::collection::vec(prop_oneof![3 => Just(0.0_f32), 1 => 0.0..4.0_f32], 64),
    ) {
        let land = hills(seed);
        let source = Grid::by_rows(land.cols(), land.rows(), |r, row| {
            for (c, value) in row.iter_mut().enumerate() {
                *value = shed[(7 * r + c / 5) % shed.len()];
            }
        });
        let drainage = drain(&land, sea, Run::to_the_end()).expect("drains");
        let washed = drainage.wash(&source, distance);
        let (before, after) = (source.sum(), washed.laid.sum() + washed.carried_off);
        prop_assert!((after - before).abs() <= 1e-5 * before.max(1.0), "{before} → {after}");
        prop_assert!(washed.laid.values().iter().all(|v| *v >= 0.0));
    }
}

/// On an even slope the load below a line of pigment falls by e over the
/// distance asked for, straight down and nowhere else.
#[test]
fn pigment_thins_out_over_its_distance() {
    let (cols, rows) = (41, 121);
    let slope = Grid::by_rows(cols, rows, |r, row| row.fill(1000.0 - 2.0 * r as f32));
    let source = Grid::by_rows(cols, rows, |r, row| {
        if r == 10 {
            row[15..26].fill(1.0);
        }
    });
    let drainage = drain(&slope, -1e6, Run::to_the_end()).expect("drains");
    let washed = drainage.wash(&source, 20.0);
    let (near, far) = (washed.laid.at(20, 30), washed.laid.at(20, 50));
    assert!(near > 0.0);
    let ratio = near / far;
    assert!(
        (ratio - std::f32::consts::E).abs() < 0.01,
        "over 20 cells pigment fell by {ratio}, wanted e"
    );
    assert_eq!(washed.laid.at(5, 50), 0.0, "nothing beside its way");
    assert_eq!(washed.laid.at(20, 5), 0.0, "nothing above its source");
}
