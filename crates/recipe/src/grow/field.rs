//! A field that a step has left.
//!
//! It stands on the cells that it was made on, and may be meant for finer ones: then it is
//! interpolated each time that somebody asks for it. Most fields nobody asks for, and fine
//! cells are many.

use std::sync::Arc;

use terrain::grid::resample;
use terrain::{Frame, Grid};

/// A field, a value for each cell.
#[derive(Clone, Debug)]
pub struct Field {
    made: Arc<Grid>,
    seen: Option<Seen>,
}

/// How a field is seen on other cells.
#[derive(Clone, Copy, Debug)]
struct Seen {
    /// The cells it was made on, and those it is meant for.
    from: Frame,
    on: Frame,
    /// What a value can be: cubic interpolation may swing beyond it.
    bounds: [f32; 2],
}

impl From<Grid> for Field {
    fn from(made: Grid) -> Self {
        Self {
            made: Arc::new(made),
            seen: None,
        }
    }
}

impl Field {
    /// Its values on the cells that it is meant for.
    pub fn grid(&self) -> Arc<Grid> {
        match &self.seen {
            None => self.made.clone(),
            Some(seen) => Arc::new(seen.values(&self.made)),
        }
    }

    /// The same, for one who changes them.
    pub fn into_grid(self) -> Grid {
        match self.seen {
            None => Arc::unwrap_or_clone(self.made),
            Some(seen) => seen.values(&self.made),
        }
    }

    /// What of it stands on the cells of `frame`, which begin at (`col`, `row`) of its own.
    pub(super) fn cropped(&self, (col, row): (usize, usize), frame: &Frame) -> Self {
        match self.seen {
            None => self.made.cropped(col, row, frame.cols, frame.rows).into(),
            Some(seen) => Self::later(self.made.clone(), Seen { on: *frame, ..seen }),
        }
    }

    /// The same for the cells of `to`, where it stands on those of `from`.
    pub(super) fn seen_on(self, from: &Frame, to: &Frame, bounds: [f32; 2]) -> Self {
        if from == to {
            return self;
        }
        let (from, on) = (*from, *to);
        Self::later(self.grid(), Seen { from, on, bounds })
    }

    /// What is `made`, as it is `seen`. Whichever has fewer cells is kept: a window must not
    /// hold on to the whole land.
    fn later(made: Arc<Grid>, seen: Seen) -> Self {
        match seen.on.cells() > made.values().len() {
            true => Self {
                made,
                seen: Some(seen),
            },
            false => seen.values(&made).into(),
        }
    }

    /// Memory that it takes, bytes.
    pub(super) fn bytes(&self) -> usize {
        size_of_val(self.made.values())
    }
}

impl Seen {
    fn values(&self, made: &Grid) -> Grid {
        let [low, high] = self.bounds;
        let mut values = resample(made, &self.from, &self.on);
        values.for_each_row(|_, row| {
            for value in row {
                *value = value.clamp(low, high);
            }
        });
        values
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    const LAND: Frame = Frame {
        cell_m: 8.0,
        col0: 0,
        row0: 0,
        cols: 40,
        rows: 30,
        north_m: 240.0,
    };

    fn made() -> Grid {
        Grid::by_rows(LAND.cols, LAND.rows, |r, row| {
            for (c, value) in row.iter_mut().enumerate() {
                *value = if (c / 5 + r / 7) % 2 == 0 { 0.0 } else { 3.0 };
            }
        })
    }

    fn seen_on(frame: &Frame) -> Field {
        Field::from(made()).seen_on(&LAND, frame, [0.0, f32::INFINITY])
    }

    #[test]
    fn what_is_seen_later_has_the_bits_of_what_is_seen_at_once() {
        let fine = Frame {
            cell_m: 2.0,
            cols: 160,
            rows: 120,
            ..LAND
        };
        let window = Frame {
            col0: 21,
            row0: 33,
            cols: 17,
            rows: 9,
            ..fine
        };
        let wide = fine.grown(2);
        let later = seen_on(&wide).cropped((2, 2), &fine);
        assert_eq!(*later.grid(), *seen_on(&fine).grid());
        let part = seen_on(&fine).cropped((21, 33), &window);
        assert_eq!(*part.grid(), *seen_on(&window).grid());
        let whole = seen_on(&fine).into_grid();
        assert_eq!(*part.grid(), whole.cropped(21, 33, 17, 9));
        let (low, high) = whole.range();
        assert!(
            low == 0.0 && high > 3.0,
            "nothing is below 0: {low}, {high}"
        );
    }

    #[test]
    fn the_fewer_cells_are_kept() {
        let of = |cols: usize, rows: usize, cell_m: f64| {
            let frame = Frame {
                cell_m,
                cols,
                rows,
                ..LAND
            };
            seen_on(&frame).bytes() / size_of::<f32>()
        };
        assert_eq!(of(160, 120, 2.0), 40 * 30, "a finer land");
        assert_eq!(of(12, 9, 2.0), 12 * 9, "a window of it");
        assert_eq!(of(20, 15, 16.0), 20 * 15, "a coarser land");
    }
}
