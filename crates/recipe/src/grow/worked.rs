//! What a process that needs the whole land made, from coarse to fine.

use std::sync::Arc;

use terrain::erosion::Ledger;
use terrain::grid::resample;
use terrain::{Frame, Grid};

use super::Products;
use crate::steps::{DEPOSIT, WEAR};

/// What a process has made up to one of its grids.
#[derive(Clone, Debug)]
pub struct Worked {
    /// Where the fields stand.
    pub frame: Frame,
    /// Change of the land's height, metres.
    pub change: Grid,
    /// What else it has left.
    pub products: Products,
    /// Where the ground went, all grids up to this one together.
    pub ledger: Ledger,
}

impl Worked {
    /// The same, seen on other cells.
    pub(super) fn seen_on(worked: Arc<Self>, frame: &Frame) -> Self {
        let (from, ledger) = (worked.frame, worked.ledger);
        let change = resample(&worked.change, &from, frame);
        let products = match Arc::try_unwrap(worked) {
            Ok(own) => own.products,
            Err(shared) => shared.products.clone(),
        };
        Self {
            frame: *frame,
            change,
            products: products.seen_on(&from, frame),
            ledger,
        }
    }

    /// Takes off what is gone of the detail of `heights` that a coarser grid did not
    /// carry, of which it saw `smooth`: all of it where far more ground was moved than
    /// the detail is high, which is about `grain_m`. Sediment buries what is finer than it
    /// is thick, and a slope that was cut back by metres has lost what stood on it.
    pub(super) fn bury(&mut self, heights: &Grid, smooth: &Grid, grain_m: f64) {
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

/// Makes deposit less wear what the land has gained beyond what has risen: what finer
/// grids shift about is booked where it went.
pub fn balanced(change: &Grid, risen: Option<&Grid>, wear: &mut Grid, deposit: &mut Grid) {
    let mut missing = deposit.zip_map(wear, |laid, worn| laid - worn);
    missing.zip_in_place(change, |booked, change| change - booked);
    if let Some(risen) = risen {
        missing.zip_in_place(risen, |missing, risen| missing - risen);
    }
    deposit.zip_in_place(&missing, |laid, missing| laid + missing.max(0.0));
    wear.zip_in_place(&missing, |worn, missing| worn - missing.min(0.0));
}
