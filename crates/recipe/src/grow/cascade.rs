//! A process goes over the whole land, from coarse grids to fine.

use std::sync::Arc;

use serde::Serialize;
use terrain::erosion::{Account, Adjustment, Ledger, Level, Volume};
use terrain::{Extent, Frame, Grid, Run};

use super::books::{Books, Ground};
use super::cache::Kept;
use super::key::Key;
use super::worked::OfGrid;
use super::{Field, GrowError, ProcessOutput, Site};
use crate::document::{Mask, Product};
use crate::steps::{Kind, StepOutput};

/// One grid of a process before anything has happened there.
pub struct GridBelow<'a> {
    /// Where its cells stand.
    pub frame: Frame,
    /// The land below the step, on that grid.
    pub heights: Arc<Grid>,
    /// Whether to stop.
    pub run: Run<'a>,
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
    pub coarse: Option<ProcessOutput>,
    /// Whether to stop, and where to report progress.
    pub run: Run<'a>,
    extent: Extent,
}

impl Stage<'_> {
    /// The account of the coarser grids, ready to go on where the land is as high as it has
    /// `begun` on this one.
    pub fn open_books(&self, begun: &Grid) -> Books {
        let ground = Ground::of(&self.frame, self.extent);
        let at = ground.volume(begun);
        let account = match &self.coarse {
            None => Account::default(),
            Some(coarse) => {
                let mut account = coarse.account;
                let gained = at - ground.volume(&self.heights);
                account.adjust(Adjustment::FinerGrid, gained - account.gained);
                account.gained = Volume::default();
                account
            }
        };
        Books::open(ground, account, at)
    }

    /// The land with what the coarser grids changed, which is taken out.
    pub fn begin(&mut self) -> Grid {
        let Some(coarse) = &mut self.coarse else {
            return Grid::clone(&self.heights);
        };
        let mut begun = std::mem::replace(&mut coarse.change, Grid::filled(0, 0, 0.0));
        begun.zip_in_place(&self.heights, |change, height| height + change);
        begun
    }

    /// The same field, as it was left: on coarser cells until somebody asks for its values.
    pub fn left(&self, product: Product) -> Option<Field> {
        let coarse = self.coarse.as_ref()?;
        coarse.products.field(product).cloned()
    }

    /// A field that the coarser grids have left; none yet on the first.
    pub fn so_far(&self, product: Product) -> Grid {
        let coarse = self.coarse.as_ref();
        match coarse.and_then(|coarse| coarse.products.field(product)) {
            Some(field) => field.clone().into_grid(),
            None => Grid::filled(self.frame.cols, self.frame.rows, 0.0),
        }
    }

    /// The same, taken out.
    pub fn take(&mut self, product: Product) -> Grid {
        let coarse = self.coarse.as_mut();
        match coarse.and_then(|coarse| coarse.products.take_field(product)) {
            Some(field) => field.into_grid(),
            None => Grid::filled(self.frame.cols, self.frame.rows, 0.0),
        }
    }
}

/// Finds out of a grid what a process must know of it, whatever the coarser ones make.
type LookAt<'a, G> = &'a (dyn Fn(GridBelow) -> Result<G, GrowError> + Sync);
/// Works on a grid, of which that is known.
type WorkOn<'a, G> = &'a (dyn Fn(Stage, G) -> Result<ProcessOutput, GrowError> + Sync);

/// A process on its way from coarse grids to fine.
struct Cascade<'a, G> {
    levels: &'a [Level],
    /// How far beyond the land it goes, metres.
    beyond_m: f64,
    /// As of [`Kind::buries_m`].
    buries_m: Option<f64>,
    look: LookAt<'a, G>,
    work: WorkOn<'a, G>,
    /// Whether a grid can be looked at while the coarser ones are worked on. Not where
    /// processes lie below: both would wait for them, and each would do their work.
    at_once: bool,
}

impl Site<'_> {
    /// Works through the levels of a kind, coarse ones first, each one remembered on
    /// its own, and lays the result on the land.
    pub(crate) fn cascade<K: Kind + Serialize>(
        &self,
        kind: &K,
        work: &(dyn Fn(Stage) -> Result<ProcessOutput, GrowError> + Sync),
    ) -> Result<StepOutput, GrowError> {
        self.cascade_looking(kind, &|_| Ok(()), &|stage, ()| work(stage))
    }

    /// The same, where what must be known of a grid does not depend on coarser ones: on few
    /// cells steps of time cannot keep all threads busy, and meanwhile finer grids are looked
    /// at.
    pub(crate) fn cascade_looking<K: Kind + Serialize, G: Send>(
        &self,
        kind: &K,
        look: LookAt<G>,
        work: WorkOn<G>,
    ) -> Result<StepOutput, GrowError> {
        let levels = kind.levels(self.frame().cell_m, self.extent());
        let grids = levels
            .iter()
            .map(|level| (level.cell_m.to_bits(), level.iterations));
        let keys = self.key_of(kind)?.chain(grids);
        let cascade = Cascade {
            levels: &levels,
            beyond_m: kind.beyond_m(self.extent()),
            buries_m: kind.buries_m(),
            look,
            work,
            at_once: kind.takes_in().is_none() && !self.processed_below(),
        };
        let of_grid = self.of_grid(&keys, &cascade, levels.len(), self.run())?;
        let name = *keys.last().expect("a process has grids");
        let ledger = self.ledger(&of_grid, name)?;
        let below = self.below_here();
        let here = OfGrid::seen_on(of_grid, self.frame(), &below, cascade.buries_m);
        let mut heights = here.change;
        heights.zip_in_place(&below, |change, height| height + change);
        Ok(StepOutput {
            heights,
            products: here.products.only(kind.products()),
            ledger: Some(ledger),
        })
    }

    /// All that what a kind makes of the land below depends on: its parameters, the named
    /// masks that they refer to, and the strand that it takes in.
    fn key_of<K: Kind + Serialize>(&self, kind: &K) -> Result<Key, GrowError> {
        let own = self.key().with(&"worked").with(kind);
        let taken = kind.takes_in().map(|name| self.key_of_strand(name));
        let taken = taken.transpose()?;
        let of_mask = |mask: &Mask| self.key_of_mask(mask);
        Ok(own.and_named(kind.masks(), of_mask, taken.as_ref()))
    }

    /// What the first `count` grids have made.
    fn of_grid<G: Send>(
        &self,
        keys: &[Key],
        cascade: &Cascade<G>,
        count: usize,
        run: Run,
    ) -> Result<Arc<OfGrid>, GrowError> {
        let level = cascade.levels[count - 1];
        let key = keys[count - 1];
        if let Some(Kept::OfGrid(of_grid)) = self.kept(key) {
            return Ok(of_grid);
        }
        let coarse = || match count {
            1 => Ok(None),
            _ => {
                let coarse = self.of_grid(keys, cascade, count - 1, run.quietly());
                coarse.map(Some)
            }
        };
        let frame = level.frame(self.extent(), cascade.beyond_m);
        let look = || {
            let heights = self.below_on(&frame)?;
            let untouched = GridBelow {
                frame,
                heights: heights.clone(),
                run: run.quietly(),
            };
            Ok::<_, GrowError>((heights, (cascade.look)(untouched)?))
        };
        let (coarse, looked) = match cascade.at_once {
            true => rayon::join(coarse, look),
            false => (Ok(coarse()?), look()),
        };
        let (coarse, (heights, known)) = (coarse?, looked?);
        let below = cascade.buries_m.map(|_| heights.clone());
        let coarse =
            coarse.map(|coarse| OfGrid::seen_on(coarse, &frame, &heights, cascade.buries_m));
        let stage = Stage {
            extent: self.extent(),
            level,
            frame,
            heights,
            coarse,
            run,
        };
        let worked = (cascade.work)(stage, known)?;
        let of_grid = Arc::new(OfGrid { worked, below });
        self.keep(key, Kept::OfGrid(of_grid.clone()));
        Ok(of_grid)
    }

    /// Where the ground of the land went, on the finest grid of a process that goes by `name`:
    /// what the step's mask lets take effect of it. The same for any part of the land that is
    /// looked at.
    fn ledger(&self, of_grid: &OfGrid, name: Key) -> Result<Ledger, GrowError> {
        let (extent, worked) = (self.extent(), &of_grid.worked);
        let Some(mask) = self.mask() else {
            return Ok(worked.ledger(extent));
        };
        let key = name.with(&("ledger", mask));
        let key = key.and_named([mask], |mask| self.key_of_mask(mask), None);
        if let Some(Kept::Ledger(ledger)) = self.kept(key) {
            return Ok(ledger);
        }
        let land = Frame::covering(extent, worked.frame.cell_m);
        let taken = match self.mask_here() {
            Some(known) if *self.frame() == land => worked.let_by(known, &land, extent),
            _ => worked.let_by(&self.mask_below(mask, &land)?, &land, extent),
        };
        let ledger = worked.ledger(extent).masked(taken);
        self.keep(key, Kept::Ledger(ledger));
        Ok(ledger)
    }

    /// A mask taken of the land below this step, on any cells.
    pub fn mask_below(&self, mask: &Mask, frame: &Frame) -> Result<Grid, GrowError> {
        self.mask_of_below(mask, frame)
    }
}
