//! What a process that needs the whole land made, from coarse to fine.

use std::sync::Arc;

use terrain::erosion::Account;
use terrain::grid::resample;
use terrain::{Frame, Grid};

use super::Products;
use crate::steps::{DEPOSIT, WEAR};

/// What a process has made up to one of its grids.
#[derive(Clone, Debug)]
pub struct ProcessOutput {
    /// Where the fields stand.
    pub frame: Frame,
    /// Change of the land's height, metres.
    pub change: Grid,
    /// What else it has left.
    pub products: Products,
    /// Where the ground went, all grids up to this one together.
    pub account: Account,
}

/// What one grid of a process has made, and of what.
#[derive(Clone, Debug)]
pub(crate) struct OfGrid {
    pub(crate) worked: ProcessOutput,
    /// The land below the step on the grid's cells, when its kind buries detail: to grow it
    /// once more could take longer than the step itself.
    pub(crate) below: Option<Arc<Grid>>,
}

impl OfGrid {
    /// What was made, seen on the cells of `frame`, where the land below the step is
    /// `heights`; with the detail gone that is buried where cells are finer, of grains of
    /// `buries_m` for each metre of a cell, if any is.
    pub(super) fn seen_on(
        of_grid: Arc<Self>,
        frame: &Frame,
        heights: &Grid,
        buries_m: Option<f64>,
    ) -> ProcessOutput {
        let (from, account) = (of_grid.worked.frame, of_grid.worked.account);
        // On its own cells it has seen all the detail that there is.
        let buries_m = buries_m.filter(|_| !from.shares_lattice_with(frame));
        let change = resample(&of_grid.worked.change, &from, frame);
        let (products, below) = match Arc::try_unwrap(of_grid) {
            Ok(own) => (own.worked.products, own.below),
            Err(shared) => (shared.worked.products.clone(), shared.below.clone()),
        };
        let mut here = ProcessOutput {
            frame: *frame,
            change,
            products: products.seen_on(&from, frame),
            account,
        };
        if let (Some(buries_m), Some(below)) = (buries_m, below) {
            let smooth = resample(&below, &from, frame);
            drop(below);
            here.bury(heights, &smooth, buries_m * from.cell_m);
        }
        here
    }

    /// Memory that it takes, bytes.
    pub(super) fn bytes(&self) -> usize {
        let grids = self.below.as_deref().into_iter();
        let grids = grids.chain(std::iter::once(&self.worked.change));
        let grids: usize = grids.map(|grid| size_of_val(grid.values())).sum();
        grids + self.worked.products.bytes()
    }
}

impl ProcessOutput {
    /// Takes off what is gone of the detail of `heights` that a coarser grid did not
    /// carry, of which it saw `smooth`: all of it where far more ground was moved than
    /// the detail is high, which is about `grain_m`. Sediment buries what is finer than it
    /// is thick, and a slope that was cut back by metres has lost what stood on it.
    fn bury(&mut self, heights: &Grid, smooth: &Grid, grain_m: f64) {
        let grain = grain_m as f32;
        let mut moved = Grid::filled(heights.cols(), heights.rows(), 0.0);
        for product in [WEAR, DEPOSIT] {
            if let Some(field) = self.products.field(product) {
                moved.zip_in_place(&field.grid(), |sum, moved| sum + moved);
            }
        }
        let mut gone = heights.zip_map(smooth, |height, smooth| height - smooth);
        gone.zip_in_place(&moved, |detail, moved| {
            detail * (1.0 - grain / (grain + moved.max(0.0)))
        });
        self.change
            .zip_in_place(&gone, |change, gone| change - gone);
    }
}

/// Makes deposit less wear what the land has gained beyond what has risen, place by place:
/// what finer grids shift about, and what is adjusted, is seen where it went. How much that is
/// in all, the [account](ProcessOutput::account) tells.
pub fn balanced(change: &Grid, risen: Option<&Grid>, wear: &mut Grid, deposit: &mut Grid) {
    let mut missing = deposit.zip_map(wear, |laid, worn| laid - worn);
    missing.zip_in_place(change, |booked, change| change - booked);
    if let Some(risen) = risen {
        missing.zip_in_place(risen, |missing, risen| missing - risen);
    }
    deposit.zip_in_place(&missing, |laid, missing| laid + missing.max(0.0));
    wear.zip_in_place(&missing, |worn, missing| worn - missing.min(0.0));
}
