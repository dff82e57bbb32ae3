//! Rivers, crumbling, snow, settling: against theory, oracles and balance.

use proptest::prelude::*;
use terrain::erosion::{
    Crumbling, FlowDirections, Level, RiverLaw, Settling, Winter, crumble, drain, geomorphology,
    river_step, settle, snow,
};
use terrain::picture::Sun;
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

const LAW: RiverLaw = RiverLaw {
    erodibility: 2e-5,
    area_exponent: 0.5,
    slope_exponent: 1.0,
    diffusivity: 0.0,
    base_level_m: -1e4,
    directions: FlowDirections::Single,
};

/// In balance, S = (U/K)^(1/n) · A^(−m/n) at every cell (Whipple and Tucker
/// 1999): the fitted exponent and factor within two per cent.
#[test]
fn a_river_network_in_balance_has_the_slopes_of_theory() {
    let cell_m = 200.0;
    for (m, n) in [(0.5, 1.0), (0.4, 1.0), (0.6, 1.3)] {
        let frame = frame(96);
        let mut land = hills(&frame, 20.0, 5);
        let uplift = 1e-3_f32;
        let border =
            |c: usize, r: usize| c == 0 || r == 0 || c + 1 == frame.cols || r + 1 == frame.rows;
        let rise = Grid::by_rows(frame.cols, frame.rows, |r, row| {
            for (c, value) in row.iter_mut().enumerate() {
                *value = if border(c, r) { 0.0 } else { uplift };
            }
        });
        let law = RiverLaw {
            area_exponent: m,
            slope_exponent: n,
            ..LAW
        };
        let mut drainage = None;
        for _ in 0..400 {
            let step = river_step(&mut land, &rise, None, law, cell_m, 20_000.0, RUN);
            drainage = Some(step.expect("nobody cancels"));
        }
        let drainage = drainage.expect("some steps");
        let area = drainage.area_cells();
        let mut points = Vec::new();
        for (i, &receiver) in drainage.receivers.iter().enumerate() {
            let (c, r) = (i % frame.cols, i / frame.cols);
            let receiver = receiver as usize;
            if receiver == i || border(c, r) {
                continue;
            }
            let diagonal = c != receiver % frame.cols && r != receiver / frame.cols;
            let distance = cell_m * if diagonal { 2f64.sqrt() } else { 1.0 };
            let slope = f64::from(land.values()[i] - land.values()[receiver]) / distance;
            points.push(((f64::from(area[i]) * cell_m * cell_m).ln(), slope.ln()));
        }
        let count = points.len() as f64;
        let (mx, my) = (
            points.iter().map(|p| p.0).sum::<f64>() / count,
            points.iter().map(|p| p.1).sum::<f64>() / count,
        );
        let exponent = points.iter().map(|p| (p.0 - mx) * (p.1 - my)).sum::<f64>()
            / points.iter().map(|p| (p.0 - mx).powi(2)).sum::<f64>();
        let factor = (my - exponent * mx).exp();
        let theory = (f64::from(uplift) / law.erodibility).powf(1.0 / n);
        assert!(
            (exponent / (-m / n) - 1.0).abs() < 0.02,
            "m {m}, n {n}: exponent {exponent}"
        );
        assert!(
            (factor / theory - 1.0).abs() < 0.02,
            "m {m}, n {n}: {factor}, theory {theory}"
        );
    }
}

/// A single straight river with A = x + one cell: the profile in balance is the
/// sum of (U/K)·A^(−m) along it.
#[test]
fn a_single_river_has_the_profile_of_theory() {
    let (cols, cell_m) = (120, 100.0);
    // A valley one cell wide between walls that nothing cuts.
    let mut land = Grid::by_rows(cols, 3, |r, row| {
        for (c, value) in row.iter_mut().enumerate() {
            *value = if r == 1 { c as f32 * 0.01 } else { 5000.0 };
        }
    });
    let rise = Grid::by_rows(cols, 3, |r, row| {
        for (c, value) in row.iter_mut().enumerate() {
            *value = if r == 1 && c > 0 && c + 1 < cols {
                5e-4
            } else {
                0.0
            };
        }
    });
    // The far end is an outlet of its own; raise it out of reach.
    land.values_mut()[2 * cols - 1] = 5000.0;
    for _ in 0..600 {
        river_step(&mut land, &rise, None, LAW, cell_m, 20_000.0, RUN).expect("nobody cancels");
    }
    let mut expected = f64::from(land.at(0, 1));
    for c in 1..cols - 1 {
        // All cells from here to the head drain through.
        let area = (cols - 1 - c) as f64 * cell_m * cell_m;
        expected += cell_m * (5e-4 / LAW.erodibility) * area.powf(-LAW.area_exponent);
        let got = f64::from(land.at(c, 1));
        assert!(
            (got - expected).abs() < 0.02 * expected + 0.05,
            "cell {c}: {got}, theory {expected}"
        );
    }
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

/// Nature's laws on land that rivers have brought into balance: Hack (1957),
/// Horton (1945), Tucker and Whipple (2002), each in the range of its source.
#[test]
fn land_in_balance_obeys_the_laws_of_drainage_basins() {
    let frame = frame(256);
    let mut land = hills(&frame, 60.0, 11);
    let rise = Grid::by_rows(frame.cols, frame.rows, |r, row| {
        for (c, value) in row.iter_mut().enumerate() {
            let border = c == 0 || r == 0 || c + 1 == frame.cols || r + 1 == frame.rows;
            *value = if border { 0.0 } else { 5e-4 };
        }
    });
    let law = RiverLaw {
        area_exponent: 0.45,
        erodibility: 5e-6,
        ..LAW
    };
    for _ in 0..120 {
        river_step(&mut land, &rise, None, law, 100.0, 40_000.0, RUN).expect("nobody cancels");
    }
    let found = geomorphology(&land, 100.0, -1e4, RUN).expect("nobody cancels");
    let within = |value: Option<f64>, low: f64, high: f64| {
        value.is_some_and(|value| (low..=high).contains(&value))
    };
    assert!(within(found.hack, 0.5, 0.65), "{found:?}");
    assert!(within(found.bifurcation, 3.0, 5.0), "{found:?}");
    assert!(within(found.length, 1.5, 3.5), "{found:?}");
    assert!(within(found.concavity, 0.4, 0.7), "{found:?}");
    assert!((0.2..0.7).contains(&found.hypsometric), "{found:?}");
}
