//! What the tests share: comparing grids so that a failure says where.

use terrain::noise::{Basis, CellDistance, CellFeature, Character, FractalNoise};
use terrain::{Extent, Frame, Grid, Run};

/// Fails with the worst cell when two grids differ by more than `tolerance`.
pub fn assert_close(got: &Grid, expected: &Grid, tolerance: f32) {
    assert_eq!(
        (got.cols(), got.rows()),
        (expected.cols(), expected.rows()),
        "sizes differ"
    );
    let (mut worst, mut place) = (0.0_f32, 0);
    for (i, (a, b)) in got.values().iter().zip(expected.values()).enumerate() {
        let apart = (a - b).abs();
        if apart > worst || apart.is_nan() {
            (worst, place) = (apart, i);
        }
    }
    assert!(
        worst <= tolerance,
        "worst at column {}, row {}: got {}, expected {}, off by {worst}, allowed {tolerance}",
        place % got.cols(),
        place / got.cols(),
        got.values()[place],
        expected.values()[place],
    );
}

/// Fails when one bit differs.
pub fn assert_same_bits(got: &Grid, expected: &Grid) {
    assert_eq!(
        (got.cols(), got.rows()),
        (expected.cols(), expected.rows()),
        "sizes differ"
    );
    for (i, (a, b)) in got.values().iter().zip(expected.values()).enumerate() {
        assert!(
            a.to_bits() == b.to_bits(),
            "column {}, row {}: got {a:?}, expected {b:?}",
            i % got.cols(),
            i / got.cols(),
        );
    }
}

/// Runs `work` on a pool of `threads`.
pub fn on_threads<T: Send>(threads: usize, work: impl FnOnce() -> T + Send) -> T {
    rayon::ThreadPoolBuilder::new()
        .num_threads(threads)
        .build()
        .expect("pool")
        .install(work)
}

/// A frame over 6 km × 4 km with `cells` along the longer side.
pub fn frame(cells: usize) -> Frame {
    Frame::with_cells(
        Extent {
            width_m: 6000.0,
            depth_m: 4000.0,
        },
        cells,
    )
}

/// Mountains of about `height_m` for tests that need some land.
pub fn hills(frame: &Frame, height_m: f32, seed: u32) -> Grid {
    let noise = FractalNoise {
        character: Character::Ridged,
        feature_m: 2500.0,
        octaves: 7.0,
        lacunarity: 2.0,
        gain: 0.5,
        seed,
        ..FractalNoise::default()
    };
    let bare = noise
        .fill(frame, Run::to_the_end())
        .expect("nobody cancels");
    bare.map(|v| (v * 0.5 + 0.5) * height_m)
}

/// The grid a quarter turn to the right.
pub fn quarter_turn(grid: &Grid) -> Grid {
    let (cols, rows) = (grid.cols(), grid.rows());
    Grid::by_rows(rows, cols, |r, row| {
        for (c, value) in row.iter_mut().enumerate() {
            *value = grid.at(r, rows - 1 - c);
        }
    })
}

/// Every kind of noise.
pub fn all_bases() -> Vec<Basis> {
    use CellDistance::{AlongAxes, LongerAxis, Straight};
    use CellFeature::{Border, Nearest, Second};
    let cells = [Nearest, Second, Border]
        .into_iter()
        .flat_map(|feature| [Straight, AlongAxes, LongerAxis].map(|distance| (feature, distance)))
        .flat_map(|(feature, distance)| {
            [false, true].map(|complement| Basis::Cellular {
                feature,
                distance,
                complement,
            })
        });
    [Basis::Gradient, Basis::Value, Basis::Simplex]
        .into_iter()
        .chain(cells)
        .collect()
}
