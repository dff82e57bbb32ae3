//! Measures of land: on surfaces whose answers are known.

use terrain::erosion::{Form, drain, nature, opened, reopened};
use terrain::noise::{Basis, FractalNoise};
use terrain::shape::mean_around;
use terrain::{Grid, Run};

use crate::support::{frame, hills};

const RUN: Run = Run::to_the_end();
const CELLS: usize = 101;
const CELL_M: f64 = 10.0;

/// A surface over columns and rows from the middle.
fn surface(of: impl Fn(f32, f32) -> f32 + Sync) -> Grid {
    let middle = (CELLS / 2) as f32;
    Grid::by_rows(CELLS, CELLS, |r, row| {
        for (c, height) in row.iter_mut().enumerate() {
            *height = of(c as f32 - middle, r as f32 - middle);
        }
    })
}

fn share(land: &Grid, form: Form) -> f64 {
    nature(land, CELL_M, -1e4, RUN)
        .expect("runs")
        .forms
        .share(form)
}

/// Each form where all of the land, or nearly all, must be of it (Jasiewicz and Stepinski
/// 2013, figure 2).
#[test]
fn plain_shapes_are_of_the_forms_that_they_are() {
    assert_eq!(share(&surface(|_, _| 3.0), Form::Flat), 1.0);
    assert_eq!(share(&surface(|x, y| 3.0 * x + y), Form::Slope), 1.0);
    // Within reach of the line in the middle a valley, farther out its sides.
    let valley = surface(|x, _| 4.0 * x.abs());
    let (valleys, slopes) = (share(&valley, Form::Valley), share(&valley, Form::Slope));
    assert!(valleys > 0.01 && slopes > 0.6, "{valleys}, {slopes}");
    let ridge = surface(|x, _| -4.0 * x.abs());
    assert_eq!(share(&ridge, Form::Ridge), valleys);
    assert_eq!(share(&ridge, Form::Valley), 0.0);
    let one = 1.0 / f64::from(77_u32 * 77);
    assert!((share(&surface(|x, y| -2.0 * x.hypot(y)), Form::Summit) - one).abs() < 1e-9);
    assert!((share(&surface(|x, y| 2.0 * x.hypot(y)), Form::Pit) - one).abs() < 1e-9);
}

/// A tilted plane drains all the way and has no border; a bowl does not drain.
#[test]
fn channels_of_a_plane_run_down_and_a_bowl_is_a_hollow() {
    let found = nature(&surface(|x, y| 3.0 * x + 0.5 * y), CELL_M, -1e4, RUN).expect("runs");
    assert_eq!((found.channels.uphill, found.surface.hollows), (0.0, 0.0));
    assert!(found.surface.border_apart < 1e-9, "{found:?}");
    let bowl = nature(&surface(|x, y| 0.1 * (x * x + y * y)), CELL_M, -1e4, RUN);
    let bowl = bowl.expect("runs");
    assert!(bowl.surface.hollows > 0.7, "{bowl:?}");
}

/// Of noise whose layers are each half as high and twice as fine, heights d apart differ
/// by d in the mean: H = 1, β = 4. At 0.7 it is H = 0.51, β = 3.03.
#[test]
fn the_spectrum_of_noise_is_that_of_its_layers() {
    for (gain, expected) in [(0.5_f64, 4.0), (0.7, 3.03)] {
        let noise = FractalNoise {
            basis: Basis::Simplex,
            feature_m: 20_000.0,
            octaves: 9.0,
            gain,
            ..FractalNoise::default()
        };
        let land = noise
            .fill(&frame(256), RUN)
            .expect("runs")
            .map(|v| 500.0 * v);
        let found = nature(&land, frame(256).cell_m, -1e4, RUN).expect("runs");
        let spectrum = found.spectrum.expect("land");
        assert!((spectrum - expected).abs() < 0.4, "gain {gain}: {spectrum}");
    }
}

/// Noise is full of hollows and of channels that lead uphill; opened, whichever way, it
/// has none, and nothing is moved that drained already.
#[test]
fn opened_land_has_no_hollows() {
    let land = hills(&frame(160), 600.0, 4);
    let cell_m = frame(160).cell_m;
    let was = nature(&land, cell_m, -1e4, RUN).expect("runs");
    assert!(
        was.surface.hollows > 0.1 && was.channels.uphill > 0.1,
        "{was:?}"
    );
    for fill in [0.0, 0.4, 1.0] {
        let open = opened(&land, fill, -1e4, RUN).expect("runs");
        let is = nature(&open, cell_m, -1e4, RUN).expect("runs");
        assert!(is.surface.hollows < 1e-3, "fill {fill}: {is:?}");
        assert!(is.channels.uphill < 1e-3, "fill {fill}: {is:?}");
        let again = opened(&open, fill, -1e4, RUN).expect("runs");
        let (low, high) = again.zip_map(&open, |a, b| a - b).range();
        assert!(
            low.abs().max(high) < 1e-3,
            "what is open stays: {low}, {high}"
        );
    }
    let filled = opened(&land, 1.0, -1e4, RUN).expect("runs");
    let brim = drain(&land, -1e4, RUN).expect("runs").filled;
    // But for corners that ways are widened over, filling alone is Priority-Flood's.
    let apart = filled.zip_map(&brim, |filled, brim| filled - brim);
    assert!(apart.range().1 < 1e-3, "nowhere higher");
    let same = apart
        .values()
        .iter()
        .filter(|apart| apart.abs() < 1e-3)
        .count();
    assert!(
        same as f64 > 0.95 * apart.values().len() as f64,
        "{same} cells"
    );
    let cut = opened(&land, 0.0, -1e4, RUN).expect("runs");
    assert!(cut.zip_map(&land, |cut, land| cut - land).range().1 <= 0.0);
}

/// What was opened and has moved a little is opened again where it has to be, and nowhere
/// else: from each cell there is a way down, as Priority-Flood (Barnes, Lehman and Mulla
/// 2014) finds it.
#[test]
fn what_was_opened_is_opened_again() {
    let land = hills(&frame(160), 600.0, 4);
    let open = opened(&land, 0.1, -1e4, RUN).expect("runs");
    let around = mean_around(&open);
    let moved = open.zip_map(&around, |height, around| 0.6 * height + 0.4 * around);
    let pits = |land: &Grid| {
        let brim = drain(land, -1e4, RUN).expect("runs").filled;
        let fill = brim.zip_map(land, |brim, height| brim - height);
        fill.values().iter().filter(|&&deep| deep > 0.0).count()
    };
    assert!(pits(&moved) > 20, "{} cells in hollows", pits(&moved));
    let again = reopened(moved.clone(), -1e4, RUN).expect("runs");
    assert_eq!(pits(&again), 0);
    let cut = again.zip_map(&moved, |again, moved| again - moved);
    assert!(cut.range().1 <= 0.0, "nothing is filled");
    let touched = cut.values().iter().filter(|&&cut| cut < 0.0).count();
    assert!(touched * 10 < cut.values().len(), "{touched} cells");
    assert_eq!(reopened(again.clone(), -1e4, RUN).expect("runs"), again);
}

/// Level ground is no hollow; basins with level floors, as low as one another, are each left
/// by a way. All take time by their cells, and not by the square of those.
#[test]
fn level_ground_is_opened_once() {
    let level = Grid::filled(700, 700, 12.0);
    assert_eq!(reopened(level.clone(), 0.0, RUN).expect("runs"), level);
    let basin = Grid::by_rows(700, 700, |r, row| {
        for (c, height) in row.iter_mut().enumerate() {
            let rim = r.min(c).min(699 - r).min(699 - c);
            *height = match rim {
                0..8 => 20.0 + rim as f32,
                _ if (340..360).contains(&c) => 24.0,
                _ => 12.0,
            };
        }
    });
    let open = reopened(basin.clone(), 0.0, RUN).expect("runs");
    let cut = open.zip_map(&basin, |open, basin| basin - open);
    let cells = cut.values().iter().filter(|&&cut| cut > 0.0).count();
    assert!((16..60).contains(&cells), "{cells} cells are cut");
    assert_eq!(drain(&open, 0.0, RUN).expect("runs").filled, open);
}

/// A river that runs east, with valleys that come down to it from the north at these columns.
fn comb(teeth: &[usize]) -> Grid {
    Grid::by_rows(600, 120, |r, row| {
        for (c, height) in row.iter_mut().enumerate() {
            let beside = teeth.iter().map(|tooth| tooth.abs_diff(c)).min();
            let beside = beside.expect("teeth") as f32;
            let up = (110.0 - r as f32).abs();
            *height = 3.0 * up + 2.0 * beside.min(up) - 0.5 * c as f32;
        }
    })
}

/// Side valleys at equal distances, and at those of a generator of random numbers.
#[test]
fn side_valleys_are_as_far_apart_as_they_were_put() {
    let even: Vec<usize> = (0..40).map(|k| 10 + 15 * k).collect();
    // Park and Miller (1988).
    let mut state = 1_u64;
    let mut chance: Vec<usize> = (0..60)
        .map(|_| {
            state = state * 16_807 % 2_147_483_647;
            5 + (state % 590) as usize
        })
        .collect();
    chance.sort_unstable();
    let spacing = |teeth: &[usize]| {
        let found = nature(&comb(teeth), 40.0, -1e4, RUN).expect("runs");
        found.channels.side_valleys.expect("there are enough")
    };
    let found = spacing(&even);
    assert!((found.mean_m / 600.0 - 1.0).abs() < 0.02, "{found:?}");
    assert!(found.spread < 0.05, "{found:?}");
    let found = spacing(&chance);
    assert!((0.5..1.2).contains(&found.spread), "{found:?}");
    // A plane has none.
    let plane = nature(&surface(|x, y| 3.0 * x + 0.5 * y), CELL_M, -1e4, RUN);
    assert_eq!(plane.expect("runs").channels.side_valleys, None);
}
