//! Water let loose: against the analytic solution for a dam that breaks.

use terrain::erosion::{Country, Storm, Washed, Water};
use terrain::{Grid, Run};

const GRAVITY_M_S2: f64 = 9.81;
const DEEP_M: f64 = 1.0;
const CELL_M: f64 = 1.0;
const COLS: usize = 1200;
const DAM: usize = 600;

/// A channel without friction, dry east of a dam that is gone at time 0.
/// Depths along it, and the time.
fn broken_dam(iterations: usize) -> (Vec<f64>, f64) {
    // Walls to both sides, three cells of water between them.
    let wall = |r: usize| r == 0 || r == 4;
    let level = Grid::by_rows(COLS, 5, |r, row| row.fill(if wall(r) { 10.0 } else { 0.0 }));
    let depth = Grid::by_rows(COLS, 5, |r, row| {
        row[..DAM].fill(if wall(r) { 0.0 } else { DEEP_M as f32 });
    });
    let storm = Storm {
        rain_m_s: 0.0,
        evaporation_s: 0.0,
        capacity: 0.0,
        friction: 0.0,
        deepest_m: 2.0,
        sea_level_m: -1e6,
        ..Storm::default()
    };
    let mut water = Water::on(
        &level,
        Some(Washed::still(depth)),
        CELL_M,
        storm,
        Country::default(),
    );
    let time_s = water.step_s() * iterations as f64;
    water
        .run(iterations, Run::to_the_end())
        .expect("nobody cancels");
    let depth = water.stop().depth;
    (
        depth.row(2).iter().map(|&depth| f64::from(depth)).collect(),
        time_s,
    )
}

/// Ritter (1892), "Die Fortpflanzung der Wasserwellen": with c² = g·h₀ the
/// fall in level runs into the reservoir at c, and 8/27·c·h₀ flows through the
/// dam site for as long as the reservoir lasts. Virtual pipes carry no
/// momentum along: what has left the dam is slower and deeper than Ritter's
/// tongue of water, whose tip runs at 2c. So the tip is held only not to
/// outrun his, and the flow through the dam to come within three tenths.
#[test]
fn a_dam_breaks_as_ritter_computed() {
    let (depth, time_s) = broken_dam(400);
    let wave_m = (GRAVITY_M_S2 * DEEP_M).sqrt() * time_s;

    let whole = depth.iter().sum::<f64>() * CELL_M;
    let before = DEEP_M * DAM as f64 * CELL_M;
    // The west end is open; its water is counted from the middle on.
    let half = DAM / 2;
    let kept = depth[half..].iter().sum::<f64>() / (DEEP_M * (DAM - half) as f64) - 1.0;
    assert!(
        kept.abs() <= 1e-6,
        "volume off by {kept:.1e}; {whole} of {before}"
    );

    let still = depth[half..]
        .iter()
        .position(|depth| *depth < 0.97 * DEEP_M);
    let falls_m = (DAM - half - still.expect("the level falls")) as f64 * CELL_M;
    assert!(
        (falls_m / wave_m - 1.0).abs() <= 0.04,
        "the level falls from {falls_m} m upstream on, Ritter: {wave_m} m"
    );

    let passed = depth[DAM..].iter().sum::<f64>() * CELL_M / (wave_m * DEEP_M);
    let ritter = 8.0 / 27.0;
    assert!(
        (passed / ritter - 1.0).abs() <= 0.3,
        "{passed} went through the dam, Ritter: {ritter}"
    );

    let tip = depth
        .iter()
        .rposition(|depth| *depth > 1e-3)
        .expect("water");
    let tip = (tip - DAM) as f64 * CELL_M / wave_m;
    assert!((0.5..2.0).contains(&tip), "the tip is at {tip} c");
}

/// Level water over uneven ground stays level, to a thousandth of a
/// millimetre, until the border is heard of.
#[test]
fn a_lake_over_uneven_ground_rests() {
    let cells = 120;
    let bed = Grid::by_rows(cells, cells, |r, row| {
        for (c, height) in row.iter_mut().enumerate() {
            *height = ((r * 7 + c * 13) % 17) as f32 * 0.1;
        }
    });
    let depth = bed.map(|height| 4.0 - height);
    let storm = Storm {
        rain_m_s: 0.0,
        evaporation_s: 0.0,
        sea_level_m: -1e6,
        ..Storm::default()
    };
    let mut water = Water::on(
        &bed,
        Some(Washed::still(depth.clone())),
        CELL_M,
        storm,
        Country::default(),
    );
    water.run(40, Run::to_the_end()).expect("nobody cancels");
    let after = water.stop();
    // Forty steps: the border is heard of at most forty cells inwards.
    let inner = |grid: &Grid| grid.cropped(45, 45, 30, 30);
    let apart = inner(&after.depth).zip_map(&inner(&depth), |a, b| (a - b).abs());
    assert!(apart.range().1 <= 1e-6, "{} m", apart.range().1);
    assert_eq!(inner(&after.wear).range(), (0.0, 0.0));
}
