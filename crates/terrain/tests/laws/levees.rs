//! Levees beside streams.

use terrain::Grid;
use terrain::erosion::levees;

const CELL_M: f64 = 5.0;
const SEA_M: f32 = -1e4;
/// The stream's column, and its discharge, m²/s.
const STREAM: usize = 100;
const FLOW: f32 = 1.0;

/// A plain that falls south by `fall`, metres per metre, with a stream down the middle.
fn plain(fall: f32) -> (Grid, Grid) {
    let heights = Grid::by_rows(201, 60, |r, row| row.fill(100.0 - fall * 5.0 * r as f32));
    let flow = Grid::by_rows(201, 60, |_, row| row[STREAM] = FLOW);
    (heights, flow)
}

/// Beside the stream a levee is as high as the full stream is deep, by Manning's (1891)
/// formula: depth = (q·n/√S)^0.6. It falls away by a degree or so, and ends.
#[test]
fn a_levee_is_as_high_as_the_stream_is_deep() {
    let fall = 0.002_f32;
    let (heights, flow) = plain(fall);
    let built = levees(&heights, &flow, CELL_M, SEA_M);
    let depth = (FLOW * 0.035 / fall.sqrt()).powf(0.6);
    let across = built.row(30);
    assert_eq!(across[STREAM], 0.0, "none in the stream");
    let beside = across[STREAM + 1];
    assert!((beside - depth).abs() < 0.15, "{beside} m beside {depth} m");
    for c in STREAM + 1..200 {
        assert!(across[c] >= across[c + 1], "it falls away: {across:?}");
        assert_eq!(across[c], across[2 * STREAM - c], "on both sides");
    }
    let wide = across.iter().filter(|&&built| built > 0.0).count() as f64 * CELL_M;
    assert!((30.0..200.0).contains(&wide), "{wide} m");
}

/// None on hillsides, none where the ground beside is higher, none under the sea, none where
/// there is no stream.
#[test]
fn only_floodplains_have_levees() {
    let none = |(heights, flow): (Grid, Grid), sea_m: f32| {
        levees(&heights, &flow, CELL_M, sea_m).range() == (0.0, 0.0)
    };
    assert!(none(plain(0.1), SEA_M), "a hillside");
    assert!(none(plain(0.002), 1000.0), "under the sea");
    let (plain_m, flow) = plain(0.002);
    let dry = flow.map(|flow| 0.1 * flow);
    assert!(none((plain_m.clone(), dry), SEA_M), "a trickle");
    let cut = plain_m.zip_map(&flow, |height, flow| height - 4.0 * flow);
    assert!(none((cut, flow), SEA_M), "a stream in a deep bed");
}

/// A flood goes over no wall: a stream on a table of rock builds nothing on the plain below.
#[test]
fn no_levee_lies_at_the_foot_of_a_wall() {
    let (plain_m, flow) = plain(0.002);
    const TABLE: std::ops::Range<usize> = STREAM - 4..STREAM + 5;
    let table = Grid::by_rows(201, 60, |r, row| {
        row.copy_from_slice(plain_m.row(r));
        row[TABLE].iter_mut().for_each(|height| *height += 50.0);
    });
    let built = levees(&table, &flow, CELL_M, SEA_M);
    let across = built.row(30);
    assert!(across[STREAM + 1] > 0.5, "on the table: {across:?}");
    let below = across[..TABLE.start].iter().chain(&across[TABLE.end..]);
    assert_eq!(below.copied().fold(0.0, f32::max), 0.0, "{across:?}");
}

/// A levee is as wide on fine cells as on coarse ones.
#[test]
fn levees_are_as_wide_on_any_cells() {
    let wide_m = |cell_m: f64| {
        let flow = Grid::by_rows(1201, 3, |_, row| row[600] = FLOW);
        let built = levees(&flow.map(|_| 100.0), &flow, cell_m, SEA_M);
        built.row(1).iter().filter(|&&built| built > 0.05).count() as f64 * cell_m
    };
    let (coarse, fine) = (wide_m(5.0), wide_m(0.5));
    assert!((fine - coarse).abs() <= 10.0, "{coarse} m, {fine} m");
}
