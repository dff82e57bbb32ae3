//! Floors that rivers make for themselves as they wander.

use terrain::erosion::{AgeLaw, Aging, FlowDirections, Ground, Outlets, Side};
use terrain::{Extent, Frame, Grid, Run};

const RUN: Run = Run::to_the_end();
pub const CELL_M: f64 = 20.0;
pub const COLS: usize = 64;
pub const ROWS: usize = 256;
/// The river runs down this column, to the south.
pub const RIVER: usize = 32;
/// Fall of the river, and of the valley's sides towards it.
const FALL: f32 = 0.004;
pub const SIDES: f32 = 0.3;
/// Rock that no river cuts to speak of: it can but wander.
pub const LAW: AgeLaw = AgeLaw {
    erodibility: 1e-12,
    area_exponent: 0.45,
    slope_exponent: 1.0,
    debris_m2: 0.0,
    directions: FlowDirections::Steepest,
    deposition: 0.0,
    floors_m: 200.0,
    fill_m: 0.0,
    terraces: 0.0,
    sea_takes: 0.0,
    diffusivity: 0.0,
    sea_level_m: -1e4,
};

/// A notch of one river, from the north border to the south.
pub fn valley(fall: f32) -> Grid {
    Grid::by_rows(COLS, ROWS, |r, row| {
        let along = fall * CELL_M as f32 * (ROWS - r) as f32;
        for (c, height) in row.iter_mut().enumerate() {
            *height = along + SIDES * CELL_M as f32 * c.abs_diff(RIVER) as f32;
        }
    })
}

/// What is left of `start` after some time, where the ground gives as `gives` says.
fn wandered(start: &Grid, gives: Grid, law: AgeLaw, steps: usize) -> Grid {
    let extent = Extent {
        width_m: CELL_M * COLS as f64,
        depth_m: CELL_M * ROWS as f64,
    };
    let none = Grid::filled(COLS, ROWS, 0.0);
    let stands = Grid::filled(COLS, ROWS, 10.0);
    let ground = Ground {
        uplift: &none,
        erodibility: &gives,
        critical_slope: &stands,
    };
    let outlets = Outlets::low_border(start, law.sea_level_m, Side::South);
    let mut aging = Aging::on(start.clone(), &Frame::with_cells(extent, ROWS), outlets);
    for _ in 0..steps {
        aging.step(ground, law, 1e5, RUN).expect("runs");
    }
    aging.heights
}

pub fn even(value: f32) -> Grid {
    Grid::filled(COLS, ROWS, value)
}

/// Metres across a row that lie within a gentle slope of its lowest place; its neighbours
/// count with it, since a river is not straight.
fn width_m(heights: &Grid, row: usize) -> f64 {
    const GENTLE: f32 = 0.04;
    let rows = row - 4..=row + 4;
    let level = |r: usize| {
        let lowest = heights.row(r).iter().copied().fold(f32::INFINITY, f32::min);
        let flat = |c: &usize| {
            let away = CELL_M as f32 * (c.abs_diff(RIVER) as f32 + 1.0);
            heights.at(*c, r) - lowest < GENTLE * away
        };
        (0..COLS).filter(flat).count()
    };
    rows.clone().map(level).sum::<usize>() as f64 / rows.count() as f64 * CELL_M
}

/// The land that drains through the river at `row`, km².
fn area_km2(row: usize) -> f64 {
    (row * COLS) as f64 * CELL_M * CELL_M / 1e6
}

/// A floor is as wide as is asked for where 1 km² drains, and goes with the 0.45th power of
/// the drainage area (Langston and Tucker 2018 gather 0.3 to 0.5, from memory).
#[test]
fn floors_widen_with_the_land_that_drains() {
    let floors = wandered(&valley(FALL), even(1.0), LAW, 24);
    let rows = [60, 120, 230];
    for row in rows {
        let expected = LAW.floors_m * area_km2(row).powf(0.45);
        let width = width_m(&floors, row);
        assert!(
            (width / expected - 1.0).abs() < 0.3,
            "{width} m at row {row}, expected {expected} m"
        );
    }
    let notch = wandered(
        &valley(FALL),
        even(1.0),
        AgeLaw {
            floors_m: 0.0,
            ..LAW
        },
        24,
    );
    assert!(
        rows.map(|row| width_m(&notch, row))
            .iter()
            .all(|m| *m < 50.0)
    );
}

/// Steep rivers cut down and do not wander (Montgomery and Buffington 1997, from memory), and
/// floors are narrower in rock that gives less.
#[test]
fn steep_rivers_and_hard_rock_have_narrow_floors() {
    let at = |fall: f32, gives: f32| width_m(&wandered(&valley(fall), even(gives), LAW, 40), 230);
    let gentle = at(FALL, 1.0);
    assert!(at(0.15, 1.0) < 0.4 * gentle, "a steep river");
    let hard = at(FALL, 0.25) / gentle;
    assert!(
        (0.35..0.65).contains(&hard),
        "{hard} of the width in hard rock"
    );
}

/// Firm ground stays to the bit, be it on a floor.
#[test]
fn a_rock_on_the_floor_stays() {
    let start = valley(FALL);
    let mut gives = even(1.0);
    for r in 200..206 {
        for c in 34..38 {
            gives.values_mut()[r * COLS + c] = 0.0;
        }
    }
    let after = wandered(&start, gives, LAW, 24);
    for r in 200..206 {
        for c in 34..38 {
            assert_eq!(after.at(c, r), start.at(c, r));
        }
    }
    assert!(
        after.at(36, 230) < start.at(36, 230) - 10.0,
        "the rest is planed"
    );
}

/// A hollow whose pass is cut in the same step fills to the water that is left in it, not
/// to where it stood before: else it would be a knob in the bed.
#[test]
fn a_hollow_in_the_bed_leaves_no_knob() {
    let mut start = valley(0.02);
    for r in 126..130 {
        for c in RIVER - 1..=RIVER + 1 {
            start.values_mut()[r * COLS + c] -= 3.0;
        }
    }
    let law = AgeLaw {
        erodibility: 5e-6,
        deposition: 0.35,
        floors_m: 0.0,
        ..LAW
    };
    let after = wandered(&start, even(1.0), law, 1);
    let bed = |r: usize| after.row(r).iter().copied().fold(f32::INFINITY, f32::min);
    assert!(bed(120) < start.at(RIVER, 120) - 5.0, "the bed is cut");
    for r in 126..130 {
        let above = after.at(RIVER, r) - bed(120);
        assert!(above < 1.0, "{above} m above the bed upstream, at {r}");
    }
}
