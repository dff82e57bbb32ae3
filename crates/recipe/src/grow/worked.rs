//! What a process that needs the whole land made, from coarse to fine.

use std::sync::Arc;

use serde::Serialize;
use terrain::erosion::{Ledger, Level};
use terrain::grid::resample;
use terrain::{Frame, Grid, Run};

use super::cache::Kept;
use super::key::Key;
use super::{GrowError, Products, Site};
use crate::document::{Mask, Product};
use crate::steps::{DEPOSIT, Kind, Made, WEAR};

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
}

impl Worked {
    /// Takes off what is gone of the detail of `heights` that a coarser grid did not
    /// carry, of which it saw `smooth`: all of it where far more ground was moved than
    /// the detail is high, which is about `grain_m`. Sediment buries what is finer than it
    /// is thick, and a slope that was cut back by metres has lost what stood on it.
    fn bury(&mut self, heights: &Grid, smooth: &Grid, grain_m: f64) {
        let grain = grain_m as f32;
        let mut moved = Grid::filled(heights.cols(), heights.rows(), 0.0);
        for product in [WEAR, DEPOSIT] {
            if let Some(field) = self.products.field(product) {
                moved = moved.zip_map(field, |sum, moved| sum + moved);
            }
        }
        let detail = heights.zip_map(smooth, |height, smooth| height - smooth);
        let gone = detail.zip_map(&moved, |detail, moved| {
            detail * (1.0 - grain / (grain + moved.max(0.0)))
        });
        self.change = self.change.zip_map(&gone, |change, gone| change - gone);
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

    /// A field that the coarser grids have left; none yet on the first.
    pub fn so_far(&self, product: Product) -> Grid {
        let coarse = self.coarse.as_ref();
        match coarse.and_then(|coarse| coarse.products.field(product)) {
            Some(field) => Grid::clone(field),
            None => Grid::filled(self.frame.cols, self.frame.rows, 0.0),
        }
    }

    /// The same, taken out.
    pub fn take(&mut self, product: Product) -> Grid {
        let coarse = self.coarse.as_mut();
        match coarse.and_then(|coarse| coarse.products.take_field(product)) {
            Some(field) => Arc::unwrap_or_clone(field),
            None => Grid::filled(self.frame.cols, self.frame.rows, 0.0),
        }
    }
}

/// Makes deposit less wear what the land has gained beyond what has risen: what finer
/// grids shift about is booked where it went.
pub fn balanced(change: &Grid, risen: Option<&Grid>, wear: &mut Grid, deposit: &mut Grid) {
    let booked = deposit.zip_map(wear, |laid, worn| laid - worn);
    let mut missing = change.zip_map(&booked, |change, booked| change - booked);
    if let Some(risen) = risen {
        missing = missing.zip_map(risen, |missing, risen| missing - risen);
    }
    *deposit = deposit.zip_map(&missing, |laid, missing| laid + missing.max(0.0));
    *wear = wear.zip_map(&missing, |worn, missing| worn - missing.min(0.0));
}

/// A process on its way from coarse grids to fine.
struct Cascade<'a> {
    levels: &'a [Level],
    /// How far beyond the land it goes, metres.
    beyond_m: f64,
    /// As of [`Kind::buries_m`].
    buries_m: Option<f64>,
    work: &'a dyn Fn(Stage) -> Result<Worked, GrowError>,
}

impl Site<'_> {
    /// Works through the levels of a kind, coarse ones first, each one remembered on
    /// its own, and lays the result on the land.
    pub(crate) fn cascade<K: Kind + Serialize>(
        &self,
        kind: &K,
        work: &dyn Fn(Stage) -> Result<Worked, GrowError>,
    ) -> Result<Made, GrowError> {
        let levels = kind.levels(self.frame().cell_m, self.extent());
        let grids = levels
            .iter()
            .map(|level| (level.cell_m.to_bits(), level.iterations));
        let keys = self.key().with(&"worked").with(kind).chain(grids);
        let cascade = Cascade {
            levels: &levels,
            beyond_m: kind.beyond_m(self.extent()),
            buries_m: kind.buries_m(),
            work,
        };
        let worked = self.worked(&keys, &cascade, levels.len(), self.run())?;
        let ledger = worked.ledger;
        let below = self.below_here();
        let here = self.finer(worked, cascade.buries_m, &below, self.frame())?;
        Ok(Made {
            heights: below.zip_map(&here.change, |height, change| height + change),
            products: here.products.only(kind.products()),
            ledger: Some(ledger),
        })
    }

    /// What the first `count` levels have made.
    fn worked(
        &self,
        keys: &[Key],
        cascade: &Cascade,
        count: usize,
        run: Run,
    ) -> Result<Arc<Worked>, GrowError> {
        let level = cascade.levels[count - 1];
        let key = keys[count - 1];
        if let Some(Kept::Worked(worked)) = self.kept(key) {
            return Ok(worked);
        }
        let coarse = match count {
            1 => None,
            _ => Some(self.worked(keys, cascade, count - 1, run.quietly())?),
        };
        let frame =
            Frame::covering(self.extent(), level.cell_m).grown(level.cells_in(cascade.beyond_m));
        let heights = self.below_on(&frame)?;
        let coarse = coarse
            .map(|coarse| self.finer(coarse, cascade.buries_m, &heights, &frame))
            .transpose()?;
        let stage = Stage {
            level,
            frame,
            heights,
            coarse,
            run,
        };
        let worked = Arc::new((cascade.work)(stage)?);
        self.keep(key, Kept::Worked(worked.clone()));
        Ok(worked)
    }

    /// What a grid has made, seen on the cells of `frame`, where the land below this step
    /// is `heights`; with the detail that it buries gone, when its kind buries any.
    fn finer(
        &self,
        worked: Arc<Worked>,
        buries_m: Option<f64>,
        heights: &Grid,
        frame: &Frame,
    ) -> Result<Worked, GrowError> {
        let from = worked.frame;
        let mut here = Worked::seen_on(worked, frame);
        // On its own cells it has seen all the detail that there is.
        if let Some(buries) = buries_m
            && !from.shares_lattice_with(frame)
        {
            let smooth = resample(&*self.below_on(&from)?, &from, frame);
            here.bury(heights, &smooth, buries * from.cell_m);
        }
        Ok(here)
    }

    /// The volume of `field`, whose cells stand on `frame`, on the land alone, m³: of a
    /// cell that overhangs it, only the part that lies on it.
    pub fn volume_m3(&self, field: &Grid, frame: &Frame) -> f64 {
        let extent = self.extent();
        let part = |centre_m: f64, longest_m: f64| {
            let (low, high) = (centre_m - 0.5 * frame.cell_m, centre_m + 0.5 * frame.cell_m);
            (high.min(longest_m) - low.max(0.0)).max(0.0)
        };
        let wide: Vec<f64> = (0..frame.cols)
            .map(|c| part(frame.x_m(c), extent.width_m))
            .collect();
        let rows = (0..frame.rows).map(|r| {
            let along = field.row(r).iter().zip(&wide);
            let row: f64 = along.map(|(&value, wide)| f64::from(value) * wide).sum();
            part(frame.y_m(r), extent.depth_m) * row
        });
        rows.sum()
    }

    /// Where ground went that was worn and laid down on `frame`, told from what became of
    /// the land: what was not laid down was carried off, what was not worn was brought in.
    pub fn account(&self, wear: &Grid, deposit: &Grid, frame: &Frame) -> Ledger {
        let [worn_m3, dropped_m3] = [wear, deposit].map(|field| self.volume_m3(field, frame));
        Ledger {
            worn_m3,
            dropped_m3,
            added_m3: (dropped_m3 - worn_m3).max(0.0),
            carried_off_m3: (worn_m3 - dropped_m3).max(0.0),
            ..Ledger::default()
        }
    }

    /// A mask taken of the land below this step, on any cells.
    pub fn mask_below(&self, mask: &Mask, frame: &Frame) -> Result<Grid, GrowError> {
        self.mask_of_below(mask, frame)
    }
}
