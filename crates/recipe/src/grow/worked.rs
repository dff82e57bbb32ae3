//! What a process that needs the whole land made, from coarse to fine.

use std::borrow::Borrow;
use std::sync::Arc;

use serde::Serialize;
use terrain::erosion::{Ledger, Level, RiverLine};
use terrain::grid::resample;
use terrain::{Frame, Grid, Run};

use super::cache::Kept;
use super::{GrowError, Site};
use crate::document::{Mask, Trace};
use crate::steps::Made;

/// What a process has made up to one of its grids.
#[derive(Clone, Debug)]
pub struct Worked {
    /// Where the fields stand.
    pub frame: Frame,
    /// Change of the land's height, metres.
    pub change: Grid,
    /// By-products.
    pub traces: Vec<(Trace, Grid)>,
    /// The rivers of the land, from a process that finds them.
    pub rivers: Option<Arc<Vec<RiverLine>>>,
    /// Where the ground went, all grids up to this one together.
    pub ledger: Ledger,
}

/// One grid of a process, ready to be worked on.
pub struct Stage<'a> {
    /// Which grid, and how many steps on it.
    pub level: Level,
    /// Where its cells stand.
    pub frame: Frame,
    /// The land below the step, on that grid.
    pub heights: Arc<Grid>,
    /// What the coarser grids made, already on this one.
    pub coarse: Option<Worked>,
    /// Whether to stop, and where to report progress.
    pub run: Run<'a>,
}

impl Worked {
    /// The same, seen on other cells. Large fields are not kept in the cache;
    /// each of them is let go as soon as it is seen.
    fn seen_on(worked: Arc<Self>, frame: &Frame) -> Self {
        match Arc::try_unwrap(worked) {
            Ok(mut own) => {
                let traces = std::mem::take(&mut own.traces);
                own.with_traces_on(frame, traces.into_iter())
            }
            Err(shared) => {
                let traces = shared.traces.iter();
                shared.with_traces_on(frame, traces.map(|(trace, grid)| (*trace, grid)))
            }
        }
    }

    fn with_traces_on<G: Borrow<Grid>>(
        &self,
        frame: &Frame,
        traces: impl Iterator<Item = (Trace, G)>,
    ) -> Self {
        let here = |grid: &Grid| resample(grid, &self.frame, frame);
        // By-products are amounts; cubic interpolation may swing below none.
        let amount = |grid: &Grid| here(grid).map(|value| value.max(0.0));
        Self {
            frame: *frame,
            change: here(&self.change),
            traces: traces
                .map(|(trace, grid)| (trace, amount(grid.borrow())))
                .collect(),
            rivers: self.rivers.clone(),
            ledger: self.ledger,
        }
    }

    /// A by-product, if it was left.
    pub fn trace(&self, wanted: Trace) -> Option<&Grid> {
        let mut traces = self.traces.iter();
        traces.find_map(|(trace, grid)| (*trace == wanted).then_some(grid))
    }
}

impl Stage<'_> {
    /// The land with what the coarser grids changed.
    pub fn begun(&self) -> Grid {
        match &self.coarse {
            Some(coarse) => self.heights.zip_map(&coarse.change, |h, change| h + change),
            None => Grid::clone(&self.heights),
        }
    }

    /// A by-product of the coarser grids; none yet on the first.
    pub fn so_far(&self, trace: Trace) -> Grid {
        let known = self.coarse.as_ref().and_then(|coarse| coarse.trace(trace));
        match known {
            Some(grid) => grid.clone(),
            None => Grid::filled(self.frame.cols, self.frame.rows, 0.0),
        }
    }

    /// A by-product of the coarser grids, taken out; none yet on the first.
    pub fn take(&mut self, trace: Trace) -> Grid {
        let coarse = self.coarse.iter_mut().flat_map(|coarse| &mut coarse.traces);
        let mut known = coarse.filter(|(known, _)| *known == trace);
        match known.next() {
            Some((_, grid)) => std::mem::replace(grid, Grid::filled(0, 0, 0.0)),
            None => Grid::filled(self.frame.cols, self.frame.rows, 0.0),
        }
    }

    /// The ledger of the coarser grids.
    pub fn ledger(&self) -> Ledger {
        self.coarse
            .as_ref()
            .map_or_else(Ledger::default, |c| c.ledger)
    }
}

impl Site<'_> {
    /// Works through `levels`, coarse ones first, each one remembered on its
    /// own, and lays the result on the land.
    pub fn cascade(
        &self,
        parameters: &impl Serialize,
        levels: &[Level],
        work: &dyn Fn(Stage) -> Result<Worked, GrowError>,
    ) -> Result<Made, GrowError> {
        let worked = self.worked(parameters, levels, work, self.run())?;
        let ledger = worked.ledger;
        let here = Worked::seen_on(worked, self.frame());
        Ok(Made {
            heights: self
                .below_here()
                .zip_map(&here.change, |height, change| height + change),
            traces: here.traces,
            rivers: here.rivers,
            ledger: Some(ledger),
        })
    }

    fn worked(
        &self,
        parameters: &impl Serialize,
        levels: &[Level],
        work: &dyn Fn(Stage) -> Result<Worked, GrowError>,
        run: Run,
    ) -> Result<Arc<Worked>, GrowError> {
        let (level, coarser) = levels.split_last().expect("at least one level");
        let grid = (level.cell_m.to_bits(), level.iterations);
        let key = self
            .key()
            .with(&("worked", levels.len(), grid))
            .with(parameters);
        if let Some(Kept::Worked(worked)) = self.kept(key) {
            return Ok(worked);
        }
        let coarse = match coarser.is_empty() {
            true => None,
            false => Some(self.worked(parameters, coarser, work, run.quietly())?),
        };
        let frame = Frame::covering(self.extent(), level.cell_m);
        let stage = Stage {
            level: *level,
            frame,
            heights: self.below_on(&frame)?,
            coarse: coarse.map(|coarse| Worked::seen_on(coarse, &frame)),
            run,
        };
        let worked = Arc::new(work(stage)?);
        self.keep(key, Kept::Worked(worked.clone()));
        Ok(worked)
    }

    /// A mask taken of the land below this step, on any cells.
    pub fn mask_below(&self, mask: &Mask, frame: &Frame) -> Result<Grid, GrowError> {
        self.mask_of_below(mask, frame)
    }
}
