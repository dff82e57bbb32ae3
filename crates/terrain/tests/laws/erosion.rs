//! Erosion: the ledger closes, water at rest rests, threads agree.

use proptest::prelude::*;
use terrain::erosion::{Country, Ledger, Schedule, Storm, Washed, Water};
use terrain::grid::resample;
use terrain::{Cancel, Extent, Frame, Grid, Run};

use crate::support::{assert_same_bits, frame, hills, on_threads, quarter_turn};

fn rain_over(
    heights: &Grid,
    frame: Frame,
    iterations: usize,
    storm: Storm,
    country: Country,
) -> Washed {
    let mut water = Water::on(heights, None, frame.cell_m, storm, country);
    let run = water.run(iterations, Run::to_the_end());
    run.expect("nobody cancels");
    water.stop()
}

fn rain_on(heights: &Grid, frame: Frame, iterations: usize, storm: Storm) -> Washed {
    rain_over(heights, frame, iterations, storm, Country::default())
}

fn change(washed: &Washed) -> Grid {
    washed
        .deposit
        .zip_map(&washed.wear, |laid, worn| laid - worn)
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(16))]

    #[test]
    fn the_ledger_closes_whatever_the_weather(
        seed in any::<u32>(),
        height_m in 5.0..3000.0_f32,
        rain_m_s in 1e-6..1e-3_f64,
        capacity in 0.1..400.0_f64,
        (take, drop, coarse) in (0.01..1.0_f64, 0.01..1.0_f64, 0.0..1.0_f64),
        sea_level_m in -100.0..900.0_f64,
        cells in 24..90_usize,
    ) {
        let frame = frame(cells);
        let storm = Storm { rain_m_s, capacity, take, drop, coarse, sea_level_m, ..Storm::default() };
        let eroded = rain_on(&hills(&frame, height_m, seed), frame, 60, storm);
        prop_assert_eq!(eroded.ledger.check(), Ok(()), "{:?}", eroded.ledger);
        prop_assert!(change(&eroded).check_finite().is_ok());
        prop_assert!(eroded.wear.range().0 >= 0.0 && eroded.deposit.range().0 >= 0.0);
    }
}

#[test]
fn hills_do_wear_and_valleys_do_fill() {
    let frame = frame(128);
    let eroded = rain_on(&hills(&frame, 1200.0, 5), frame, 150, Storm::default());
    let area_m2 = frame.cell_area_m2() * frame.cells() as f64;
    let mean_wear_m = eroded.ledger.worn_m3 / area_m2;
    assert!(
        (0.5..100.0).contains(&mean_wear_m),
        "mean wear {mean_wear_m} m"
    );
    assert!(
        eroded.ledger.dropped_m3 > 0.2 * eroded.ledger.worn_m3,
        "{:?}",
        eroded.ledger
    );
}

#[test]
fn a_cascade_keeps_its_ledger_and_its_valleys() {
    let (coarse, fine) = (frame(64), frame(128));
    let storm = Storm::default();
    let first = rain_on(&hills(&coarse, 1200.0, 5), coarse, 100, storm);
    let finer = |grid: &Grid| resample(grid, &coarse, &fine).map(|v| v.max(0.0));
    let begun = Washed {
        wear: finer(&first.wear),
        deposit: finer(&first.deposit),
        flow: finer(&first.flow),
        depth: finer(&first.depth),
        suspended: finer(&first.suspended),
        ledger: Ledger::default(),
    };
    let (land, country) = (hills(&fine, 1200.0, 5), Country::default());
    let mut water = Water::on(&land, Some(begun), fine.cell_m, storm, country);
    water.run(40, Run::to_the_end()).expect("nobody cancels");
    let second = water.stop();
    assert_eq!(second.ledger.check(), Ok(()));
    assert!(second.wear.sum() * fine.cell_area_m2() > first.ledger.worn_m3);
    // The coarse cuts are still the main ones.
    let again = resample(&second.wear, &fine, &coarse);
    let correlation = correlation(again.values(), first.wear.values());
    assert!(
        correlation > 0.8,
        "correlation of wear between levels {correlation}"
    );
}

fn correlation(a: &[f32], b: &[f32]) -> f64 {
    let mean = |v: &[f32]| v.iter().map(|&v| f64::from(v)).sum::<f64>() / v.len() as f64;
    let (ma, mb) = (mean(a), mean(b));
    let (mut ab, mut aa, mut bb) = (0.0, 0.0, 0.0);
    for (&a, &b) in a.iter().zip(b) {
        let (a, b) = (f64::from(a) - ma, f64::from(b) - mb);
        (ab, aa, bb) = (ab + a * b, aa + a * a, bb + b * b);
    }
    ab / (aa * bb).sqrt()
}

#[test]
fn a_lake_at_rest_stays_at_rest() {
    // All land lies under the sea: nothing flows, nothing moves.
    let frame = frame(48);
    let storm = Storm {
        rain_m_s: 0.0,
        sea_level_m: 5000.0,
        ..Storm::default()
    };
    let eroded = rain_on(&hills(&frame, 900.0, 1), frame, 50, storm);
    assert_eq!(eroded.wear.range(), (0.0, 0.0));
    assert_eq!(eroded.deposit.range(), (0.0, 0.0));
}

#[test]
fn without_rain_nothing_happens() {
    let frame = frame(48);
    let storm = Storm {
        rain_m_s: 0.0,
        ..Storm::default()
    };
    let eroded = rain_on(&hills(&frame, 900.0, 1).map(|h| h + 10.0), frame, 50, storm);
    assert_eq!(eroded.ledger.worn_m3, 0.0);
}

#[test]
fn thread_counts_agree() {
    let frame = frame(100);
    let land = hills(&frame, 1500.0, 9);
    let one = on_threads(1, || rain_on(&land, frame, 80, Storm::default()));
    let many = on_threads(4, || rain_on(&land, frame, 80, Storm::default()));
    assert_same_bits(&many.wear, &one.wear);
    assert_same_bits(&many.deposit, &one.deposit);
    assert_eq!(many.ledger, one.ledger);
}

#[test]
fn a_run_that_is_cancelled_stops() {
    let cancel = Cancel::new();
    cancel.cancel();
    let frame = frame(64);
    let land = hills(&frame, 900.0, 1);
    let (storm, country) = (Storm::default(), Country::default());
    let mut water = Water::on(&land, None, frame.cell_m, storm, country);
    assert!(water.run(1_000_000, Run::until(&cancel)).is_err());
}

#[test]
fn a_preview_and_a_final_share_their_coarse_grids() {
    let schedule = Schedule {
        coarsest_cell_m: 93.75,
        iterations: 160,
    };
    let extent = Extent {
        width_m: 12_000.0,
        depth_m: 8_000.0,
    };
    let levels = |cell_m| schedule.levels(cell_m, extent);
    let (preview, full) = (levels(93.75), levels(23.4375));
    assert_eq!(full[..preview.len()], preview[..]);
    assert_eq!(
        full.iter().map(|l| l.cell_m).collect::<Vec<_>>(),
        [93.75, 46.875, 23.4375]
    );
    // A target coarser than the first grid still runs that one.
    assert_eq!(levels(400.0), preview);
    // Halves of the longer side, whatever was asked for.
    let about = Schedule {
        coarsest_cell_m: 110.0,
        ..schedule
    };
    assert_eq!(about.levels(23.4375, extent), full);
}

/// What is hard does not wear, and what is harder wears less.
#[test]
fn hard_ground_wears_less() {
    let frame = frame(96);
    let land = hills(&frame, 1200.0, 8);
    let worn = |hardness: f32| {
        let hardness = Grid::filled(frame.cols, frame.rows, hardness);
        let country = Country {
            hardness: Some(&hardness),
            rain: None,
        };
        rain_over(&land, frame, 120, Storm::default(), country)
            .ledger
            .worn_m3
    };
    let volumes = [0.0, 0.3, 0.6, 0.9, 1.0].map(worn);
    assert!(
        volumes.windows(2).all(|pair| pair[1] < pair[0]),
        "{volumes:?}"
    );
    assert_eq!(volumes[4], 0.0);
}

/// Where it does not rain nothing wears, but for water that runs in.
#[test]
fn rain_wears_where_it_falls() {
    let frame = frame(96);
    let land = hills(&frame, 1200.0, 8);
    let half = Grid::by_rows(frame.cols, frame.rows, |_, row| {
        let middle = row.len() / 2;
        row[..middle].fill(1.0);
    });
    let country = Country {
        hardness: None,
        rain: Some(&half),
    };
    let wear = rain_over(&land, frame, 120, Storm::default(), country).wear;
    let (wet, dry) = (0..frame.rows).fold((0.0, 0.0), |(wet, dry), r| {
        let side = |range: std::ops::Range<usize>| wear.row(r)[range].iter().sum::<f32>();
        (
            wet + side(0..frame.cols / 2),
            dry + side(frame.cols / 2..frame.cols),
        )
    });
    assert!(wet > 4.0 * dry, "{wet} in the rain, {dry} in the dry");
}

/// What is coarse comes to rest nearer to where it was worn: with all of it
/// fine more leaves the land. Nothing is left in the water.
#[test]
fn gravel_does_not_go_as_far_as_silt() {
    let frame = frame(96);
    let land = hills(&frame, 1200.0, 8);
    let gone = |coarse: f64| {
        let storm = Storm {
            coarse,
            ..Storm::default()
        };
        let ledger = rain_on(&land, frame, 150, storm).ledger;
        ledger.carried_off_m3 / ledger.worn_m3
    };
    let shares = [0.0, 0.25, 0.5, 1.0].map(gone);
    assert!(
        shares.windows(2).all(|pair| pair[1] < pair[0]),
        "shares that left: {shares:?}"
    );
}

/// A quarter turn of the land turns what erosion makes of it. Sums are taken
/// in another order then, and a bit more or less in a flow grows from step to
/// step: 4 mm where a hundred metres are moved in 60 steps.
#[test]
fn turned_land_erodes_turned() {
    let frame = frame(96);
    let land = hills(&frame, 1000.0, 12);
    let turned = quarter_turn(&land);
    let straight = change(&rain_on(&land, frame, 60, Storm::default()));
    let around = change(&rain_on(&turned, frame, 60, Storm::default()));
    let expected = quarter_turn(&straight);
    let worst = expected.zip_map(&around, |a, b| (a - b).abs()).range().1;
    let largest = straight.range().1.max(-straight.range().0);
    assert!(largest > 1.0, "erosion did something: {largest} m");
    assert!(worst <= 8e-3, "{worst} m of {largest} m");
}
