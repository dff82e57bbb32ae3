//! Places along one axis of a lattice: evenly apart but for the first and the last one.

/// Ascending places; those inside are evenly apart, the edges may be nearer.
#[derive(Clone, Debug)]
pub(super) struct Axis {
    at: Vec<f64>,
    /// Places for each metre.
    per_m: f64,
}

impl Axis {
    /// The axis with these places, of cells of `cell_m`.
    pub(super) fn of(at: Vec<f64>, cell_m: f64) -> Self {
        let per_m = 1.0 / cell_m;
        Self { at, per_m }
    }

    pub(super) fn count(&self) -> usize {
        self.at.len()
    }

    pub(super) fn at(&self, place: usize) -> f64 {
        self.at[place]
    }

    /// The first place that is not before `at`; their number when all are.
    pub(super) fn first_from(&self, at: f64) -> usize {
        // Near the right one at once: they are nearly even.
        let guess = ((at - self.at[0]) * self.per_m).max(0.0) as usize;
        let mut place = guess.min(self.at.len());
        while place > 0 && self.at[place - 1] >= at {
            place -= 1;
        }
        while place < self.at.len() && self.at[place] < at {
            place += 1;
        }
        place
    }

    /// A part of it.
    pub(super) fn part(&self, places: std::ops::RangeInclusive<usize>) -> Self {
        Self {
            at: self.at[places].to_vec(),
            per_m: self.per_m,
        }
    }
}
