//! A strand after some of its steps.

use std::sync::Arc;

use terrain::erosion::Ledger;
use terrain::{Frame, Grid};

use super::{Field, Products};
use crate::document::Product;
use crate::steps::ROCK;

/// A strand after some of its steps, on the cells of a frame.
#[derive(Clone, Debug)]
pub struct State {
    /// Where the fields stand.
    pub frame: Frame,
    /// Heights, metres.
    pub heights: Arc<Grid>,
    /// What the steps so far have left beside them.
    pub products: Products,
    /// Ledgers of the steps that move ground, by step id.
    pub ledgers: Vec<(String, Ledger)>,
}

impl State {
    /// Bare ground at height 0.
    pub(crate) fn bare(frame: Frame) -> Self {
        Self {
            frame,
            heights: Arc::new(Grid::filled(frame.cols, frame.rows, 0.0)),
            products: Products::default(),
            ledgers: Vec::new(),
        }
    }

    /// The part of the state that stands on `frame`.
    ///
    /// # Panics
    /// When `frame` reaches beyond this state's.
    pub fn cropped(&self, frame: &Frame) -> Self {
        if self.frame == *frame {
            return self.clone();
        }
        let (col, row) = self
            .frame
            .offset_of(frame)
            .expect("a frame inside the state's");
        Self {
            frame: *frame,
            heights: Arc::new(self.heights.cropped(col, row, frame.cols, frame.rows)),
            products: self.products.cropped((col, row), frame),
            ledgers: self.ledgers.clone(),
        }
    }

    /// The heights that stand on `frame`, when it does not reach beyond this state's.
    pub(crate) fn heights_on(&self, frame: &Frame) -> Option<Arc<Grid>> {
        if self.frame == *frame {
            return Some(self.heights.clone());
        }
        let (col, row) = self.frame.offset_of(frame)?;
        let part = self.heights.cropped(col, row, frame.cols, frame.rows);
        Some(Arc::new(part))
    }

    /// A field that the steps so far have left; of beds of rock those that are at the surface.
    pub fn field(&self, product: Product) -> Option<Field> {
        match self.products.strata() {
            Some(strata) if product == ROCK => Some(strata.hard_at(&self.heights).into()),
            _ => self.products.field(product).cloned(),
        }
    }

    /// Memory that it takes, bytes.
    pub(crate) fn bytes(&self) -> usize {
        size_of_val(self.heights.values()) + self.products.bytes()
    }
}
