//! Drainage, crumbling, snow, settling: against theory, oracles and balance.

use proptest::prelude::*;
use terrain::erosion::{Crumbling, Level, Settling, Winter, crumble, drain, settle, snow};
use terrain::light::Sun;
use terrain::{Grid, Run};

use crate::support::{assert_same_bits, frame, hills, on_threads};

const RUN: Run = Run::to_the_end();

/// Filling by its definition: the lowest brim on the way to any outlet, found
/// by going over the grid until nothing changes (Planchon and Darboux 2002).
fn filled_slowly(heights: &Grid, sea: f32) -> Grid {
    let (cols, rows) = (heights.cols(), heights.rows());
    let outlet = |c: usize, r: usize| {
        c == 0 || r == 0 || c + 1 == cols || r + 1 == rows || heights.at(c, r) < sea
    };
    let mut filled = Grid::by_rows(cols, rows, |r, row| {
        for (c, value) in row.iter_mut().enumerate() {
            *value = if outlet(c, r) {
                heights.at(c, r)
            } else {
                f32::INFINITY
            };
        }
    });
    loop {
        let mut changed = false;
        for r in 1..rows - 1 {
            for c in 1..cols - 1 {
                let mut lowest = f32::INFINITY;
                for (dc, dr) in [
                    (0, 1),
                    (1, 0),
                    (1, 2),
                    (2, 1),
                    (0, 0),
                    (0, 2),
                    (2, 0),
                    (2, 2),
                ] {
                    lowest = lowest.min(filled.at(c + dc - 1, r + dr - 1));
                }
                let value = heights.at(c, r).max(lowest);
                if !outlet(c, r) && value < filled.at(c, r) {
                    filled.values_mut()[r * cols + c] = value;
                    changed = true;
                }
            }
        }
        if !changed {
            return filled;
        }
    }
}

fn bumpy(seed: u32) -> Grid {
    hills(&frame(72), 400.0, seed)
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(12))]

    #[test]
    fn filling_is_that_of_its_definition(seed in any::<u32>(), sea in 0.0_f32..250.0) {
        let land = bumpy(seed);
        let drainage = drain(&land, sea, RUN).expect("nobody cancels");
        assert_same_bits(&drainage.filled, &filled_slowly(&land, sea));
    }

    /// Every cell drains downhill, each one after its receiver, and all the
    /// land arrives at outlets.
    #[test]
    fn water_goes_down_and_all_of_it_arrives(seed in any::<u32>(), sea in 0.0_f32..250.0) {
        let land = bumpy(seed);
        let drainage = drain(&land, sea, RUN).expect("nobody cancels");
        let mut seen = vec![false; land.values().len()];
        for &i in &drainage.order {
            let receiver = drainage.receivers[i as usize];
            prop_assert!(receiver == i || seen[receiver as usize], "before its receiver");
            let (here, there) =
                (drainage.filled.values()[i as usize], drainage.filled.values()[receiver as usize]);
            prop_assert!(there <= here);
            seen[i as usize] = true;
        }
        prop_assert!(seen.iter().all(|&seen| seen));
        let total: f32 = drainage
            .area_cells()
            .iter()
            .zip(&drainage.receivers)
            .enumerate()
            .filter(|(i, (_, receiver))| *i == **receiver as usize)
            .map(|(_, (area, _))| *area)
            .sum();
        prop_assert_eq!(total, land.values().len() as f32);
        let spread: f32 = drainage
            .spread_area_cells(1.1)
            .iter()
            .zip(&drainage.receivers)
            .enumerate()
            .filter(|(i, (_, receiver))| *i == **receiver as usize)
            .map(|(_, (area, _))| *area)
            .sum();
        prop_assert!((spread / total - 1.0).abs() < 1e-3, "{spread} of {total}");
    }

    #[test]
    fn crumbling_ends_at_the_stable_angle_and_keeps_its_volume(
        seed in any::<u32>(), degrees in 20.0_f32..45.0, sharpness in 0.0_f32..1.0,
    ) {
        let land = hills(&frame(60), 900.0, seed);
        let talus = Grid::filled(land.cols(), land.rows(), degrees.to_radians().tan());
        let crumbling = Crumbling { talus: &talus, sharpness, cover: None };
        let level = Level { cell_m: 100.0, iterations: 6000 };
        let moved = crumble(&land, crumbling, level, RUN).expect("nobody cancels");
        prop_assert_eq!(moved.ledger.check(), Ok(()));
        let change = moved.deposit.zip_map(&moved.wear, |came, went| came - went);
        let after = land.zip_map(&change, |land, change| land + change);
        let steepest = (0..after.rows() - 1)
            .flat_map(|r| (0..after.cols() - 1).map(move |c| (c, r)))
            .map(|(c, r)| {
                let here = after.at(c, r);
                (here - after.at(c + 1, r)).abs().max((here - after.at(c, r + 1)).abs())
            })
            .fold(0.0, f32::max);
        let angle = (steepest / 100.0).atan().to_degrees();
        prop_assert!(angle <= degrees + 1.0, "{angle}° is left, {degrees}° are stable");
        prop_assert!((after.sum() / land.sum() - 1.0).abs() < 1e-6);
    }

    #[test]
    fn snow_balances_and_never_lies_below_nothing(
        seed in any::<u32>(), drift in 0.0..1.0, melt in 0.0..1.0, slip_deg in 25.0_f64..60.0,
    ) {
        let land = hills(&frame(64), 1200.0, seed);
        let winter = Winter {
            fall_m: 5.0, line_m: 500.0, line_soft_m: 300.0, slip: slip_deg.to_radians().tan(),
            drift, melt, sun: Sun { bearing_deg: 180.0, altitude_deg: 35.0 },
        };
        let level = Level { cell_m: 60.0, iterations: 60 };
        let lies = snow(&land, winter, level, RUN).expect("nobody cancels");
        prop_assert!(lies.depth.range().0 >= 0.0);
        prop_assert_eq!(lies.ledger.check(), Ok(()));
    }

    #[test]
    fn sediment_settles_in_hollows_alone_and_no_higher_than_the_brim(
        seed in any::<u32>(), fill in 0.0..1.0, smooth_m in prop_oneof![Just(0.0), 50.0..300.0],
    ) {
        let land = bumpy(seed);
        let settling = Settling { fill, most_m: 80.0, smooth_m, sea_level_m: -1e4 };
        let level = Level { cell_m: 83.0, iterations: 1 };
        let settled = settle(&land, settling, level, RUN).expect("nobody cancels");
        let brim = drain(&land, -1e4, RUN).expect("nobody cancels").filled;
        for ((land, laid), brim) in
            land.values().iter().zip(settled.deposit.values()).zip(brim.values())
        {
            prop_assert!(*laid >= 0.0 && land + laid <= brim + 1e-3);
        }
        prop_assert_eq!(settled.ledger.check(), Ok(()));
    }
}

#[test]
fn thread_counts_agree() {
    let land = hills(&frame(150), 900.0, 3);
    let talus = Grid::filled(land.cols(), land.rows(), 0.6);
    let moved = |threads| {
        on_threads(threads, || {
            let crumbling = Crumbling {
                talus: &talus,
                sharpness: 0.5,
                cover: None,
            };
            let level = Level {
                cell_m: 40.0,
                iterations: 40,
            };
            crumble(&land, crumbling, level, RUN)
                .expect("nobody cancels")
                .deposit
        })
    };
    assert_same_bits(&moved(3), &moved(1));
    let area = |threads| on_threads(threads, || drain(&land, 0.0, RUN).expect("runs").receivers);
    assert_eq!(area(3), area(1));
}

#[test]
fn strahler_orders_are_those_of_a_drawn_network() {
    // Two sources meet (order 2), a third joins (stays 2), two of order 2 meet
    // (order 3): Strahler's (1957) rule, on a valley drawn by hand.
    let art = [
        "9999999", "9899989", "9979799", "9996999", "9995999", "9994999", "9993999",
    ];
    let land = Grid::by_rows(7, 7, |r, row| {
        for (c, value) in row.iter_mut().enumerate() {
            *value = f32::from(art[r].as_bytes()[c] - b'0');
        }
    });
    let drainage = drain(&land, -1.0, RUN).expect("nobody cancels");
    let area = drainage.area_cells();
    let orders = drainage.strahler(&area, 2.0);
    let at = |c: usize, r: usize| orders[r * 7 + c];
    assert_eq!((at(2, 2), at(4, 2)), (1, 1));
    assert_eq!(at(3, 3), 2);
    assert_eq!(at(3, 5), 2);
}
