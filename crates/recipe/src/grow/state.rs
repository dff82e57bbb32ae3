//! A strand after some of its steps.

use std::collections::BTreeMap;
use std::sync::Arc;

use terrain::erosion::{Ledger, RiverLine};
use terrain::{Frame, Grid};

use crate::document::Trace;

/// A strand after some of its steps, on the cells of a frame.
#[derive(Clone, Debug)]
pub struct State {
    /// Where the fields stand.
    pub frame: Frame,
    /// Heights, metres.
    pub heights: Arc<Grid>,
    /// By-products of the steps so far, the newest of each.
    pub traces: BTreeMap<Trace, Arc<Grid>>,
    /// The rivers that a step found, as lines; the newest.
    pub rivers: Option<Arc<Vec<RiverLine>>>,
    /// Ledgers of the steps that move ground, by step id.
    pub ledgers: Vec<(String, Ledger)>,
}

impl State {
    /// Bare ground at height 0.
    pub(crate) fn bare(frame: Frame) -> Self {
        Self {
            frame,
            heights: Arc::new(Grid::filled(frame.cols, frame.rows, 0.0)),
            traces: BTreeMap::new(),
            rivers: None,
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
        let part = |grid: &Grid| Arc::new(grid.cropped(col, row, frame.cols, frame.rows));
        Self {
            frame: *frame,
            heights: part(&self.heights),
            traces: self
                .traces
                .iter()
                .map(|(&trace, grid)| (trace, part(grid)))
                .collect(),
            rivers: self.rivers.clone(),
            ledgers: self.ledgers.clone(),
        }
    }

    /// Memory of the fields, bytes.
    pub(crate) fn bytes(&self) -> usize {
        (1 + self.traces.len()) * self.frame.cells() * size_of::<f32>()
    }
}
