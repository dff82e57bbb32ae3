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
            Some(seen) => Self {
                made: self.made.clone(),
                seen: Some(Seen { on: *frame, ..seen }),
            },
        }
    }

    /// The same for the cells of `to`, where it stands on those of `from`. Whichever has fewer
    /// cells is kept: a window must not hold on to the whole land.
    pub(super) fn seen_on(self, from: &Frame, to: &Frame, bounds: [f32; 2]) -> Self {
        if from == to {
            return self;
        }
        let (from, on) = (*from, *to);
        let (seen, made) = (Seen { from, on, bounds }, self.grid());
        match to.cells() > made.values().len() {
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
