//! The beds that the rock of a land lies in.

use terrain::erosion::Beds;
use terrain::{Frame, Grid};

use super::Field;

/// Beds of rock, at any depth: which of them is at the surface depends on how deep that has
/// been cut.
#[derive(Clone, Debug)]
pub struct Strata {
    /// Soft and hard ones in turn.
    pub beds: Beds,
    /// By how much each place lies above its bed's own level, metres: dip and folds.
    pub lies: Field,
}

impl Strata {
    /// How hard the rock is at `heights`, 0 to 1.
    pub fn hard_at(&self, heights: &Grid) -> Grid {
        self.beds.hard_on(heights, &self.lies.grid())
    }

    /// The same beds after a step that went only `amount` of the way from where they lay
    /// `before`, and of that what its `mask` says. Other beds are where they are.
    pub(super) fn after(self, before: &Self, amount: f32, mask: Option<&Grid>) -> Self {
        if self.beds != before.beds || (amount == 1.0 && mask.is_none()) {
            return self;
        }
        let was = before.lies.grid();
        let mut lies = self.lies.into_grid();
        lies.zip_in_place(&was, |is, was| amount * (is - was));
        if let Some(mask) = mask {
            lies.zip_in_place(mask, |moved, mask| moved * mask);
        }
        lies.zip_in_place(&was, |moved, was| was + moved);
        Self {
            beds: self.beds,
            lies: lies.into(),
        }
    }

    /// The same where the rock has risen, metres.
    pub fn raised(self, by: &Grid) -> Self {
        let mut lies = self.lies.into_grid();
        lies.zip_in_place(by, |lies, by| lies + by);
        Self {
            lies: lies.into(),
            ..self
        }
    }

    /// What of them lies under the cells of `frame`, which begin at `at` of their own.
    pub(super) fn cropped(&self, at: (usize, usize), frame: &Frame) -> Self {
        Self {
            beds: self.beds,
            lies: self.lies.cropped(at, frame),
        }
    }

    /// The same for the cells of `to`, where they lie under those of `from`.
    pub(super) fn seen_on(self, from: &Frame, to: &Frame) -> Self {
        const UNBOUNDED: [f32; 2] = [f32::NEG_INFINITY, f32::INFINITY];
        Self {
            beds: self.beds,
            lies: self.lies.seen_on(from, to, UNBOUNDED),
        }
    }

    /// Memory that they take, bytes.
    pub(super) fn bytes(&self) -> usize {
        self.lies.bytes()
    }
}
