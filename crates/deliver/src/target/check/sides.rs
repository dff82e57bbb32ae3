//! How many columns and rows there are.

use terrain::Frame;

use super::{Finding, Looked, Weight};
use crate::target::GridSides;

impl GridSides {
    fn has(self, side: usize) -> bool {
        match self {
            Self::PowerOfTwo => side.is_power_of_two(),
            Self::PowerOfTwoPlusOne => side > 2 && (side - 1).is_power_of_two(),
        }
    }

    /// The nearest side that it has, up to 16,384 cells.
    fn nearest(self, side: usize) -> usize {
        let all =
            (4..=14).map(|power| (1_usize << power) + usize::from(self == Self::PowerOfTwoPlusOne));
        all.filter(|side| *side <= 16_384)
            .min_by_key(|candidate| candidate.abs_diff(side))
            .expect("there are some")
    }

    fn in_words(self) -> &'static str {
        match self {
            Self::PowerOfTwo => "a power of two, such as 512 or 1024",
            Self::PowerOfTwoPlusOne => "a power of two and one, such as 513 or 1025",
        }
    }
}

/// Columns and rows of the largest file.
fn of_a_file(looked: &Looked) -> (usize, usize) {
    let side = looked.order.tile.unwrap_or(usize::MAX);
    (looked.frame.cols.min(side), looked.frame.rows.min(side))
}

/// More cells than the target takes.
pub(super) fn too_many(looked: &Looked) -> Option<Finding> {
    let most = looked.bounds.most_cells?;
    let (cols, rows) = of_a_file(looked);
    if cols.max(rows) <= most {
        return None;
    }
    let fits = most.max(2);
    Some(looked.found(
        ("cells", Weight::Wrong),
        format!(
            "A file has {cols} × {rows} cells, the target takes {most} along a side: take fewer, \
             or cut the land into tiles."
        ),
        (format!("{fits} cells"), |wish| wish.cells = fits),
    ))
}

/// Sides that the target does not know.
pub(super) fn not_a_grid(looked: &Looked) -> Option<Finding> {
    let grid = looked.bounds.grid?;
    let (cols, rows) = of_a_file(looked);
    // A land that is not square has one side that fits, or none.
    let wrong = match looked.bounds.square {
        true => !grid.has(cols) || !grid.has(rows),
        false => !grid.has(cols.max(rows)),
    };
    if !wrong {
        return None;
    }
    let nearest = grid.nearest(cols.max(rows));
    let cut = looked.order.tile.is_some();
    let finding = format!(
        "A file has {cols} × {rows} cells; the target takes sides of {}.",
        grid.in_words()
    );
    let repaired = if cut { looked.order.cells } else { nearest };
    let frame = Frame::with_cells(looked.recipe.extent.into(), repaired);
    if looked.bounds.square && frame.cols != frame.rows {
        // Only tiles can be square here: `not_square` says so.
        return None;
    }
    Some(match cut {
        true => looked.found(
            ("grid", Weight::Wrong),
            finding,
            (format!("Tiles of {nearest}"), |wish| {
                wish.tile = Some(nearest)
            }),
        ),
        false => looked.found(
            ("grid", Weight::Wrong),
            finding,
            (format!("{nearest} cells"), |wish| wish.cells = nearest),
        ),
    })
}

/// Sides that differ where the target takes squares.
pub(super) fn not_square(looked: &Looked) -> Option<Finding> {
    let (cols, rows) = of_a_file(looked);
    if !looked.bounds.square
        || cols == rows
            && looked.frame.cols.is_multiple_of(cols)
            && looked.frame.rows.is_multiple_of(rows)
    {
        return None;
    }
    let (whole_cols, whole_rows) = (looked.frame.cols, looked.frame.rows);
    let finding = format!(
        "The land has {whole_cols} × {whole_rows} cells; the target takes squares. Give it a \
         square extent, or cut it into square tiles."
    );
    // Tiles of a power of two that fit both ways.
    let common = whole_cols.trailing_zeros().min(whole_rows.trailing_zeros());
    let side = 1_usize << common;
    let fits = side >= 16
        && looked.bounds.grid != Some(GridSides::PowerOfTwoPlusOne)
        && looked.bounds.most_cells.is_none_or(|most| side <= most);
    Some(match fits {
        true => looked.found(
            ("square", Weight::Wrong),
            finding,
            (format!("Tiles of {side}"), |wish| wish.tile = Some(side)),
        ),
        false => Finding {
            rule: "square",
            weight: Weight::Wrong,
            finding,
            fix: None,
        },
    })
}

/// The last column or row reaches past the land.
pub(super) fn overhanging(looked: &Looked) -> Option<Finding> {
    /// As many cells away a better number is looked for.
    const AWAY: usize = 64;
    /// A centimetre of a cell is no overhang.
    const SLACK: f64 = 1e-6;
    let extent = looked.recipe.extent;
    let beyond = |cells: usize| {
        let frame = Frame::with_cells(extent.into(), cells);
        let east = frame.cols as f64 * frame.cell_m - extent.width_m;
        let south = frame.rows as f64 * frame.cell_m - extent.depth_m;
        (east.max(south), frame.cell_m)
    };
    let (over_m, cell_m) = beyond(looked.order.cells);
    if over_m <= SLACK * cell_m {
        return None;
    }
    let cells = looked.order.cells;
    let near = (1..=AWAY).flat_map(|away| [cells.checked_sub(away), Some(cells + away)]);
    let fits = near.flatten().find(|cells| {
        let known = looked.bounds.grid.is_none_or(|grid| grid.has(*cells));
        known && *cells >= 2 && *cells <= 16_384 && {
            let (over_m, cell_m) = beyond(*cells);
            over_m <= SLACK * cell_m
        }
    });
    let weight = match looked.bounds.whole_cells {
        true => Weight::Wrong,
        false => Weight::Doubtful,
    };
    let finding = format!(
        "Cells of {cell_m:.3} m do not divide the land: the last ones reach {over_m:.2} m past it."
    );
    Some(match fits {
        Some(fits) => looked.found(
            ("extent", weight),
            finding,
            (format!("{fits} cells"), |wish| wish.cells = fits),
        ),
        None => Finding {
            rule: "extent",
            weight,
            finding,
            fix: None,
        },
    })
}
