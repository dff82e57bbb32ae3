//! Rivers that cut again into what they have filled their valleys with.

use terrain::erosion::{AgeLaw, drain};
use terrain::{Frame, Grid};

use crate::fill::{self, RUN, filled, filled_at};
use crate::floors::{CELL_M, COLS, RIVER, ROWS, even, valley};

/// Fill that makes a floor far wider than the belts of its river.
const WHOLE: AgeLaw = AgeLaw {
    fill_m: 60.0,
    ..fill::LAW
};
const CUT: AgeLaw = AgeLaw {
    terraces: 0.4,
    ..WHOLE
};
/// Rows with a floor that wide.
const MIDDLE: std::ops::Range<usize> = 100..200;

/// Half the belt of the river, in cells.
fn half(row: usize) -> f64 {
    let km2 = (row * COLS) as f64 * CELL_M * CELL_M / 1e6;
    22.0 * km2.powf(0.4) / CELL_M
}

/// The bed goes down by the share that is asked for, less where its belt hardly shows on this
/// grid; what no bend reaches stays; nothing is cut deeper than the bed, and nothing is raised.
#[test]
fn a_river_cuts_its_share_and_leaves_the_rest() {
    let Cut { whole, cut } = anywhere(0);
    for r in MIDDLE {
        let share = 1.0 - cut.at(RIVER, r) / whole.at(RIVER, r);
        let shows = (half(r) / RISER - 0.5).clamp(0.0, 1.0);
        let expected = 0.4 * (shows * shows * (3.0 - 2.0 * shows)) as f32;
        assert!(
            (share - expected).abs() < 0.02,
            "{share} of the bed at row {r}, expected {expected}"
        );
        let deepest = whole.at(RIVER, r) - cut.at(RIVER, r);
        for c in 0..COLS {
            let by = whole.at(c, r) - cut.at(c, r);
            assert!(by >= 0.0 && by < 1.3 * deepest, "{by} m at {c}, {r}");
            // Of 4 km² the older belt is some 90 m to either side, its widest bends 200.
            if c.abs_diff(RIVER) as f64 * CELL_M > 220.0 {
                assert_eq!(by, 0.0, "at {c}, {r}");
            }
        }
    }
}

/// In cells, of today's belt.
const RISER: f64 = 1.5;

/// Half the belt of a river of so many km² is 22 m · A^0.4 wide; the older one, 2.4 times as
/// wide, has 0.45 of the depth. Half-way down a riser, which is some cells wide but no wider
/// than the belt, a belt is that much narrower.
#[test]
fn two_treads_are_as_wide_as_belts_of_bends() {
    // What bends take on one bank here they leave on another there.
    let places: Vec<_> = (0..16).map(|k| anywhere(1_000 * k)).collect();
    let ratio = |wide: f64, least: f32| {
        let found: usize = places.iter().map(|place| place.deeper_than(least)).sum();
        let reach = |r: usize| wide * half(r);
        let expected: f64 = MIDDLE
            .map(|r| 2.0 * reach(r) - reach(r).min(RISER * wide))
            .sum();
        found as f64 / (expected * places.len() as f64)
    };
    let [older, todays] = [(2.4, 0.225), (1.0, 0.725)].map(|(wide, least)| ratio(wide, least));
    assert!((todays - 1.0).abs() < 0.1, "{todays} of today's belt");
    // Where today's belt goes out and the older one in, it takes in what that has left.
    assert!((older - 1.16).abs() < 0.1, "{older} of the older belt");
}

/// A river's fill, whole and cut.
struct Cut {
    whole: Grid,
    cut: Grid,
}

/// The same valley so many cells to the east, where bends are others.
fn anywhere(col0: i64) -> Cut {
    let frame = Frame {
        north_m: 0.0,
        cell_m: CELL_M,
        col0,
        row0: 0,
        cols: COLS,
        rows: ROWS,
    };
    let laid = |law| filled_at(&frame, &valley(0.01), &even(1.0), law).1;
    let (whole, cut) = (laid(WHOLE), laid(CUT));
    Cut { whole, cut }
}

impl Cut {
    /// Cells that are cut by more than this share of what their river's bed is.
    fn deeper_than(&self, least: f32) -> usize {
        let by = |c: usize, r: usize| self.whole.at(c, r) - self.cut.at(c, r);
        let count = |r: usize| {
            let least = least * by(RIVER, r);
            (0..COLS).filter(|&c| by(c, r) > least).count()
        };
        MIDDLE.map(count).sum()
    }
}

/// A river that has cut into its fill still runs down all the way.
#[test]
fn cutting_leaves_no_hollow_worth_a_name() {
    let after = filled(&valley(0.01), &even(1.0), CUT).0;
    let hollows = drain(&after, CUT.sea_level_m as f32, RUN).expect("runs");
    let deepest = hollows.filled.zip_map(&after, |full, here| full - here);
    assert!(deepest.range().1 < 0.5, "{} m deep", deepest.range().1);
}
