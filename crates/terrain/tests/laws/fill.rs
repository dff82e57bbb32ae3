//! Valleys that rivers fill in the end.

use terrain::erosion::{AgeLaw, Aging, Ground, Outlets, Side, drain};
use terrain::{Extent, Frame, Grid, Run};

use crate::floors::{self, CELL_M, COLS, ROWS, SIDES, even, valley};

pub const RUN: Run = Run::to_the_end();
/// Rock that no river cuts to speak of, nor wanders in.
pub const LAW: AgeLaw = AgeLaw {
    floors_m: 0.0,
    fill_m: 20.0,
    ..floors::LAW
};

/// `start` with its valleys filled, and by how much each cell was raised, where the ground
/// gives as `gives` says.
pub fn filled(start: &Grid, gives: &Grid, law: AgeLaw) -> (Grid, Grid) {
    let extent = Extent {
        width_m: CELL_M * COLS as f64,
        depth_m: CELL_M * ROWS as f64,
    };
    filled_at(&Frame::with_cells(extent, ROWS), start, gives, law)
}

/// The same in some place of the world.
pub fn filled_at(frame: &Frame, start: &Grid, gives: &Grid, law: AgeLaw) -> (Grid, Grid) {
    let none = Grid::filled(COLS, ROWS, 0.0);
    let stands = Grid::filled(COLS, ROWS, 10.0);
    let ground = Ground {
        uplift: &none,
        erodibility: gives,
        critical_slope: &stands,
    };
    let outlets = Outlets::low_border(start, law.sea_level_m, Side::South);
    let mut aging = Aging::on(start.clone(), frame, outlets);
    aging.step(ground, law, 1.0, RUN).expect("runs");
    let before = aging.heights.clone();
    let laid = aging.fill_valleys(gives, law, RUN).expect("runs");
    let sum = before.zip_map(&laid, |before, laid| before + laid);
    let apart = sum.zip_map(&aging.heights, |sum, after| (sum - after).abs());
    assert!(apart.range().1 < 1e-3, "what was laid down is booked");
    (aging.heights, laid)
}

/// The fill that is asked for where so much land drains: less than 5 ha raise nothing.
fn depth_m(row: usize) -> f64 {
    let area_km2 = (row * COLS) as f64 * CELL_M * CELL_M / 1e6;
    LAW.fill_m * (area_km2.powf(0.3) - 0.05_f64.powf(0.3))
}

/// Beds rise with the 0.3rd power of the land that drains, and between the sides of a notch
/// that makes a floor as wide as the notch is at that height. Hills stand as they stood.
#[test]
fn a_notch_fills_to_the_height_of_its_bed() {
    let start = valley(0.02);
    let (after, laid) = filled(&start, &even(1.0), LAW);
    for row in [60, 100, 150] {
        let expected = depth_m(row);
        let deepest = laid.row(row).iter().copied().fold(0.0, f32::max);
        assert!(
            (f64::from(deepest) / expected - 1.0).abs() < 0.1,
            "{deepest} m laid at row {row}, expected {expected} m"
        );
        let wide_m = CELL_M * laid.row(row).iter().filter(|&&by| by > 0.05).count() as f64;
        // The sides of the fill rise by 2 %.
        let expected = 2.0 * expected / (f64::from(SIDES) - 0.02);
        assert!(
            (wide_m - expected).abs() < 2.0 * CELL_M,
            "{wide_m} m wide at row {row}, expected {expected} m"
        );
    }
    for c in [2, COLS - 3] {
        assert_eq!(after.row(150)[c], start.row(150)[c], "column {c}");
    }
}

/// From its outlet up a bed rises by no more than 1.5 % of the way; rivers as steep as debris
/// flows run carry on what comes; outlets stay.
#[test]
fn outlets_stay_and_steep_rivers_carry_on() {
    let laid = filled(&valley(0.004), &even(1.0), LAW).1;
    for above in [0, 4, 16] {
        let deepest = laid.row(ROWS - 1 - above);
        let deepest = deepest.iter().copied().fold(0.0, f32::max);
        // A river's way is a little longer than the valley.
        let most = 0.015 * CELL_M as f32 * 1.3 * above as f32;
        assert!(deepest <= most, "{deepest} m, {above} cells above");
    }
    let laid = filled(&valley(0.3), &even(1.0), LAW).1;
    let middle = (40..200).map(|r| laid.row(r).iter().copied().fold(0.0, f32::max));
    let deepest = middle.fold(0.0, f32::max);
    assert!(deepest < 0.5, "{deepest} m laid by a steep river");
}

/// What is firm and what lies under the sea stays as it is.
#[test]
fn firm_ground_and_the_sea_stay() {
    let start = valley(0.004);
    let gives = Grid::by_rows(COLS, ROWS, |r, row| {
        row.fill(if r < 100 { 0.0 } else { 1.0 });
    });
    let laid = filled(&start, &gives, LAW).1;
    let most = |rows: std::ops::Range<usize>| {
        let all = rows.flat_map(|r| laid.row(r).to_vec());
        all.fold(0.0, f32::max)
    };
    assert_eq!(most(0..100), 0.0);
    assert!(most(120..200) > 5.0, "{}", most(120..200));

    let law = AgeLaw {
        sea_level_m: 5.0,
        ..LAW
    };
    let (_, laid) = filled(&start, &even(1.0), law);
    let raised_at_sea = start
        .values()
        .iter()
        .zip(laid.values())
        .filter(|(height, by)| **height < 5.0 && **by > 0.0);
    assert_eq!(raised_at_sea.count(), 0);
}

/// Two rivers of different height bury the low divide between them: the fill of one runs down
/// into the other's, without a wall, and without a hollow worth a name.
#[test]
fn where_two_fills_meet_there_is_no_wall() {
    /// What is filled rises by 3 % towards a spill, 2 % beside a river, and a cell is smoothed.
    const STEEPEST: f32 = 0.05;
    let start = Grid::by_rows(COLS, ROWS, |r, row| {
        let along = 0.004 * CELL_M as f32 * (ROWS - r) as f32;
        for (c, height) in row.iter_mut().enumerate() {
            let to = |river: usize| c.abs_diff(river) as f32;
            let (low, high) = (0.6 * to(20), 4.0 + 0.6 * to(40));
            *height = along + low.min(high);
        }
    });
    let laid = filled(&start, &even(1.0), LAW).1;
    let after = start.zip_map(&laid, |before, by| before + by);
    let mut pairs = 0;
    for r in 60..180 {
        for c in 20..40 {
            if laid.at(c, r) > 0.0 && laid.at(c + 1, r) > 0.0 {
                let slope = (after.at(c, r) - after.at(c + 1, r)).abs() / CELL_M as f32;
                assert!(slope < STEEPEST, "{slope} at {c}, {r}");
                pairs += 1;
            }
        }
    }
    assert!(pairs > 1500, "{pairs} of 2400 lie in the fill");
    let hollows = drain(&after, LAW.sea_level_m as f32, RUN).expect("runs");
    let deepest = hollows.filled.zip_map(&after, |full, here| full - here);
    assert!(deepest.range().1 < 1.0, "{} m deep", deepest.range().1);
}
