//! Land that ages: laws of rivers, slopes and sediment, and no sign of the grid.

use terrain::erosion::{
    AgeLaw, Aging, FlowDirections, Ground, Outlets, Side, geomorphology, likeness,
};
use terrain::noise::{Basis, FractalNoise};
use terrain::{Extent, Frame, Grid, Run};

use crate::support::{assert_same_bits, on_threads};

const RUN: Run = Run::to_the_end();
const CELL_M: f64 = 100.0;
const CELLS: usize = 96;
/// Common rock, and no sea.
const LAW: AgeLaw = AgeLaw {
    erodibility: 5e-6,
    area_exponent: 0.45,
    slope_exponent: 1.0,
    debris_m2: 0.0,
    directions: FlowDirections::Steepest,
    deposition: 0.0,
    floors_m: 0.0,
    fill_m: 0.0,
    terraces: 0.0,
    sea_takes: 0.0,
    diffusivity: 0.0,
    sea_level_m: -1e4,
};
/// The same beside a sea that takes sediment.
const AT_SEA: AgeLaw = AgeLaw {
    sea_takes: 0.1,
    sea_level_m: 0.0,
    ..LAW
};
/// Metres per year.
const UPLIFT: f32 = 3e-4;

fn square(cells: usize) -> Frame {
    let side_m = CELL_M * cells as f64;
    Frame::with_cells(
        Extent {
            width_m: side_m,
            depth_m: side_m,
        },
        cells,
    )
}

fn even(value: f32) -> Grid {
    Grid::filled(CELLS, CELLS, value)
}

fn rough(frame: &Frame, seed: u32) -> Grid {
    let noise = FractalNoise {
        basis: Basis::Simplex,
        feature_m: 4000.0,
        seed,
        ..FractalNoise::default()
    };
    noise.fill(frame, RUN).expect("runs").map(|v| 200.0 * v)
}

/// What is the same everywhere, and gives.
struct Even {
    rises: Grid,
    gives: Grid,
    stands: Grid,
}

impl Even {
    fn rising(uplift: f32, stands: f32) -> Self {
        Self {
            rises: even(uplift),
            gives: even(1.0),
            stands: even(stands),
        }
    }

    /// Rises where `start` is above the sea.
    fn rising_ashore(start: &Grid) -> Self {
        Self {
            rises: start.map(|h| if h > 0.0 { UPLIFT } else { 0.0 }),
            ..Self::rising(0.0, 0.6)
        }
    }

    fn ground(&self) -> Ground<'_> {
        Ground {
            uplift: &self.rises,
            erodibility: &self.gives,
            critical_slope: &self.stands,
        }
    }
}

fn aged(start: Grid, even: &Even, law: AgeLaw, steps: usize, years: f64) -> Aging {
    let outlets = Outlets::low_border(&start, law.sea_level_m, Side::Anywhere);
    let mut aging = Aging::on(start, &square(CELLS), outlets);
    for _ in 0..steps {
        aging.step(even.ground(), law, years, RUN).expect("runs");
    }
    aging
}

/// In balance the slope of a river is (U/K)·A^−m (stream power law, Whipple and Tucker
/// 1999): the exponent read off the land is m.
#[test]
fn rivers_in_balance_have_the_concavity_of_the_law() {
    let even = Even::rising(UPLIFT, 10.0);
    let aging = aged(rough(&square(CELLS), 1), &even, LAW, 60, 2e5);
    let found = geomorphology(&aging.heights, CELL_M, -1e4, RUN).expect("runs");
    let concavity = found.concavity.expect("rivers");
    assert!((concavity - 0.45).abs() < 0.09, "concavity {concavity}");
}

/// In balance all that rises is cut: nowhere is anything left over.
#[test]
fn in_balance_as_much_is_lowered_as_rises() {
    let even = Even::rising(UPLIFT, 10.0);
    let aging = aged(rough(&square(CELLS), 2), &even, LAW, 200, 2e5);
    let moving = aging.lowered.values().iter().filter(|rate| **rate > 0.0);
    let close = moving
        .clone()
        .filter(|rate| (**rate / UPLIFT - 1.0).abs() < 0.05);
    let share = close.count() as f64 / moving.count() as f64;
    assert!(share > 0.95, "{share} of the land is in balance");
}

/// What was worn was laid down or carried off, told from the heights; with everything
/// at work at once.
#[test]
fn nothing_is_lost_of_what_was_worn() {
    let law = AgeLaw {
        deposition: 1.0,
        floors_m: 300.0,
        sea_takes: 0.1,
        diffusivity: 0.02,
        sea_level_m: 20.0,
        ..LAW
    };
    let start = rough(&square(CELLS), 3);
    let before = start.sum();
    // Sea does not rise, nor do the outlets.
    let mut even = Even::rising(0.0, 0.6);
    let outlets = Outlets::low_border(&start, law.sea_level_m, Side::Anywhere);
    let rises = start
        .values()
        .iter()
        .zip(outlets.cells())
        .map(
            |(&height, &outlet)| {
                if outlet || height < 20.0 { 0.0 } else { UPLIFT }
            },
        );
    even.rises = Grid::from_vec(CELLS, CELLS, rises.collect()).expect("one a cell");
    let years = 5e4;
    let aging = aged(start, &even, law, 10, years);
    let area = CELL_M * CELL_M;
    let risen = even.rises.sum() * years * 10.0 * area;
    let worn = aging.wear.sum() * area;
    let laid = aging.deposit.sum() * area;
    let grown = (aging.heights.sum() - before) * area;
    let scale = worn + laid + risen;
    assert!(
        (grown - (risen + laid - worn)).abs() < 1e-5 * scale,
        "grew by {grown}, rose {risen}, worn {worn}, laid {laid}"
    );
    assert!(
        (worn - laid - aging.carried_off_m3).abs() < 1e-5 * scale,
        "worn {worn}, laid {laid}, carried off {}",
        aging.carried_off_m3
    );
    assert!(
        laid > 0.05 * worn,
        "something was laid down: {laid} of {worn}"
    );
}

/// However fast it rises, no ground stands more steeply than its rock allows.
#[test]
fn slopes_give_way() {
    let stands = 0.5_f32;
    let even = Even::rising(20.0 * UPLIFT, stands);
    let aging = aged(rough(&square(CELLS), 4), &even, LAW, 40, 2e4);
    let found = likeness(&aging.heights, CELL_M, -1e4, RUN).expect("runs");
    let limit = f64::from(stands).atan().to_degrees();
    assert!(
        found.slope_steep_deg < limit + 4.0,
        "{found:?}, limit {limit}"
    );
    assert!(
        found.slope_mean_deg > 0.6 * limit,
        "it is steep land: {found:?}"
    );
}

/// Real land has a fourth and an eighth harmonic of the aspect of 0.01 to 0.04 (measured
/// on the elevation model that ships with the tests); a network on square cells alone
/// has 0.25.
#[test]
fn rivers_do_not_know_the_grid() {
    let even = Even::rising(UPLIFT, 10.0);
    let (mut four, mut eight) = (0.0, 0.0);
    const SEEDS: u32 = 4;
    for seed in 0..SEEDS {
        let aging = aged(rough(&square(CELLS), 10 + seed), &even, LAW, 40, 2e5);
        let found = likeness(&aging.heights, CELL_M, -1e4, RUN).expect("runs");
        four += found.four_ways / f64::from(SEEDS);
        eight += found.eight_ways / f64::from(SEEDS);
    }
    assert!(four < 0.04, "four directions {four}");
    assert!(eight < 0.03, "eight directions {eight}");
}

#[test]
fn firm_ground_stays_to_the_bit() {
    let start = rough(&square(CELLS), 5);
    let mut even = Even::rising(UPLIFT, 0.5);
    even.gives.for_each_row(|r, row| {
        if (40..50).contains(&r) {
            row[40..50].fill(0.0);
        }
    });
    let law = AgeLaw {
        deposition: 1.0,
        floors_m: 300.0,
        diffusivity: 0.05,
        ..LAW
    };
    let aging = aged(start.clone(), &even, law, 20, 1e5);
    let part = |grid: &Grid| grid.cropped(40, 40, 10, 10);
    assert_same_bits(&part(&aging.heights), &part(&start));
    let (moved, _) = aging.heights.zip_map(&start, |a, b| -(a - b).abs()).range();
    assert!(moved < -10.0, "the rest does not stay");
}

#[test]
fn any_number_of_threads_gives_the_same_bits() {
    let even = Even::rising(UPLIFT, 0.6);
    let law = AgeLaw {
        deposition: 0.7,
        floors_m: 300.0,
        diffusivity: 0.02,
        ..LAW
    };
    let on = |threads| {
        on_threads(threads, || {
            aged(rough(&square(CELLS), 6), &even, law, 8, 1e5).heights
        })
    };
    assert_same_bits(&on(1), &on(3));
}

/// The sea takes sediment, and stays sea away from the rivers' mouths.
#[test]
fn deltas_grow_into_the_sea_and_do_not_fill_it() {
    let frame = square(CELLS);
    let start = Grid::by_rows(CELLS, CELLS, |_, row| {
        for (c, height) in row.iter_mut().enumerate() {
            *height = 6.0 * (c as f32 - 40.0);
        }
    });
    let bumps = rough(&frame, 7);
    let start = start.zip_map(&bumps, |slope, bump| slope + 0.1 * bump);
    let even = Even::rising_ashore(&start);
    let aging = aged(start.clone(), &even, AT_SEA, 40, 1e5);
    let sea = |grid: &Grid| grid.values().iter().filter(|h| **h < 0.0).count() as f64;
    let left = sea(&aging.heights) / sea(&start);
    assert!((0.6..1.0).contains(&left), "{left} of the sea is left");
}

/// Round an island that sheds its rock on all sides the floor of the sea rises by as much
/// along the axes of the grid as between them, and smoothly: what rivers bring goes on in
/// plumes.
#[test]
fn the_sea_floor_does_not_know_the_grid() {
    let frame = square(CELLS);
    let middle = CELLS as f64 / 2.0;
    let away = |c: usize, r: usize| {
        let (x, y) = (c as f64 + 0.5 - middle, r as f64 + 0.5 - middle);
        (x.hypot(y), y.atan2(x))
    };
    let island = Grid::by_rows(CELLS, CELLS, |r, row| {
        for (c, height) in row.iter_mut().enumerate() {
            *height = (600.0 - 40.0 * away(c, r).0 as f32).max(-150.0);
        }
    });
    let start = island.zip_map(&rough(&frame, 9), |height, bump| match height > -150.0 {
        true => height + 0.3 * bump,
        false => height,
    });
    let even = Even::rising_ashore(&start);
    let aging = aged(start, &even, AT_SEA, 32, 1e5);
    // Sixteen sectors of a ring on the level floor, every other one along an axis or a
    // diagonal.
    let mut sectors = [(0.0, 0); 16];
    for r in 0..CELLS {
        for c in 0..CELLS {
            let (far, bearing) = away(c, r);
            if (22.0..34.0).contains(&far) {
                let sector = (bearing / std::f64::consts::TAU * 16.0)
                    .round()
                    .rem_euclid(16.0);
                let (sum, count) = &mut sectors[sector as usize];
                *sum += f64::from(aging.deposit.at(c, r));
                *count += 1;
            }
        }
    }
    let mean = |kind: usize| {
        let of_kind = sectors.iter().skip(kind).step_by(2);
        let (sum, count) = of_kind.fold((0.0, 0), |(a, n), (sum, count)| (a + sum, n + count));
        sum / f64::from(count)
    };
    let (along, between) = (mean(0), mean(1));
    assert!(between > 0.5, "{between} m were laid down");
    assert!(
        (along / between - 1.0).abs() < 0.25,
        "{along} m, {between} m"
    );
    let rough = |deposit: &Grid| {
        let mut steps = 0.0_f32;
        for r in 8..CELLS - 8 {
            for c in 8..CELLS - 8 {
                let near = deposit.at(c, r) - deposit.at(c + 1, r);
                if away(c, r).0 > 24.0 {
                    steps = steps.max(near.abs());
                }
            }
        }
        steps
    };
    let step = rough(&aging.deposit);
    assert!(
        f64::from(step) < 0.5 * between,
        "{step} m from cell to cell"
    );
}
