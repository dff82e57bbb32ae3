//! Walks a strand from the wanted end back to what is known already.

use std::sync::Arc;

use terrain::grid::Pyramid;
use terrain::{Extent, Frame, Grid, Run};

use super::cache::{Cache, Kept};
use super::cost::{self, Budget, Expense, TooCostly, Wanted};
use super::key::Key;
use super::margins::{ground_margin, ground_needs_whole, margin_below, whole_margin};
use super::masked::mask_on;
use super::plan::Plan;
use super::products::Effect;
use super::readings::{Beneath, LookedAt};
use super::{Assets, CacheUse, GrowError, Land, Site, State};
use crate::document::{Cells, LAND, Mask, Reading, Recipe, Step, Strand, Term};

/// Grows recipes and remembers what it grew.
pub struct Grower {
    cache: Arc<Cache>,
    budget: Budget,
}

/// One recipe being grown.
#[derive(Clone)]
pub(crate) struct Growth<'a> {
    pub(crate) cache: &'a Cache,
    pub(crate) recipe: &'a Recipe,
    pub(crate) plan: Arc<Plan<'a>>,
    pub(crate) assets: &'a dyn Assets,
    pub(crate) run: Run<'a>,
}

impl Grower {
    /// Keeps results up to `kept` bytes, and grows what a usual budget allows.
    pub fn new(kept: usize) -> Self {
        Self::within(Budget::default(), kept)
    }

    /// Keeps results up to `kept` bytes, and refuses to grow what takes more than
    /// `budget`.
    pub fn within(budget: Budget, kept: usize) -> Self {
        Self {
            cache: Arc::new(Cache::new(kept)),
            budget,
        }
    }

    /// The same, with the results kept so far, within another budget.
    pub fn allowing(&self, budget: Budget) -> Self {
        Self {
            cache: self.cache.clone(),
            budget,
        }
    }

    /// What it may take.
    pub fn budget(&self) -> Budget {
        self.budget
    }

    /// What growing this would take, or that it would be refused, told without growing
    /// anything.
    ///
    /// # Errors
    /// [`TooCostly`].
    pub fn takes(&self, recipe: &Recipe, frame: &Frame) -> Result<Expense, Box<TooCostly>> {
        let (strand, steps) = (LAND, usize::MAX);
        let whole = Part { strand, steps };
        cost::check(recipe, self.budget, &Wanted::Ground(whole), frame)
    }

    /// How full the cache is and how often it helped.
    pub fn cache_use(&self) -> CacheUse {
        self.cache.usage()
    }

    /// Grows the land on the cells of `frame`, and one cell around it for the
    /// readings that look at neighbours.
    ///
    /// # Errors
    /// [`GrowError`] when stopped, or when an imported file is missing.
    pub fn land<'a>(
        &'a self,
        recipe: &'a Recipe,
        assets: &'a dyn Assets,
        frame: &Frame,
        run: Run<'a>,
    ) -> Result<Land<'a>, GrowError> {
        let (strand, steps) = (LAND, usize::MAX);
        self.part(recipe, Part { strand, steps }, assets, frame, run)
    }

    /// Grows another strand, or only its first steps, as if it were the land.
    ///
    /// # Errors
    /// As [`Grower::land`].
    pub fn part<'a>(
        &'a self,
        recipe: &'a Recipe,
        part: Part,
        assets: &'a dyn Assets,
        frame: &Frame,
        run: Run<'a>,
    ) -> Result<Land<'a>, GrowError> {
        let growth = self.growth(recipe, &Wanted::Ground(part), frame, assets, run)?;
        let strand = growth.strand(part.strand)?;
        let steps = part.steps.min(strand.steps.len());
        // Enough around for all that the ground reads.
        let state = growth.state(strand, steps, &frame.grown(growth.ground_margin(frame)))?;
        let whole = match growth.ground_needs_whole() {
            true => Some(growth.whole((strand, steps), &state, frame)?),
            false => None,
        };
        let looked_at = LookedAt {
            strand,
            steps,
            state,
            whole,
        };
        Ok(Land::new(growth, looked_at, *frame))
    }

    /// A mask taken of a part of a recipe.
    ///
    /// # Errors
    /// As [`Grower::land`].
    pub fn mask_of_part(
        &self,
        recipe: &Recipe,
        part: Part,
        mask: &Mask,
        assets: &dyn Assets,
        frame: &Frame,
        run: Run,
    ) -> Result<Grid, GrowError> {
        let growth = self.growth(recipe, &Wanted::Mask(part, mask), frame, assets, run)?;
        let strand = growth.strand(part.strand)?;
        let steps = part.steps.min(strand.steps.len());
        growth.mask(strand, steps, mask, frame)
    }

    /// A reading of a part of a recipe.
    ///
    /// # Errors
    /// As [`Grower::land`].
    pub fn reading_of_part(
        &self,
        recipe: &Recipe,
        part: Part,
        reading: &Reading,
        assets: &dyn Assets,
        frame: &Frame,
        run: Run,
    ) -> Result<Grid, GrowError> {
        let alone = Mask::of(vec![Term::of(reading.clone())]);
        let growth = self.growth(recipe, &Wanted::Mask(part, &alone), frame, assets, run)?;
        let strand = growth.strand(part.strand)?;
        let steps = part.steps.min(strand.steps.len());
        growth.looking(strand, steps, &alone, frame, |beneath| {
            beneath.reading(reading, frame)
        })
    }

    /// A strand after each of its steps, first one first, on at least the
    /// cells of `frame`; before the first step it is level at 0.
    ///
    /// # Errors
    /// As [`Grower::land`].
    pub fn stages(
        &self,
        recipe: &Recipe,
        strand: &str,
        assets: &dyn Assets,
        frame: &Frame,
        run: Run,
    ) -> Result<Vec<Arc<State>>, GrowError> {
        let steps = usize::MAX;
        let wanted = Wanted::Stages(Part { strand, steps });
        let growth = self.growth(recipe, &wanted, frame, assets, run)?;
        let strand = growth.strand(strand)?;
        // Each stage on the frame that the next one wants it on, so that the
        // cache has them all after one walk.
        let mut frame = frame.grown(Land::MARGIN);
        let mut frames = vec![frame];
        for step in strand.steps.iter().rev() {
            frame = growth.wide(step, &frame);
            frames.push(frame);
        }
        frames
            .iter()
            .rev()
            .enumerate()
            .map(|(k, frame)| growth.state(strand, k, frame))
            .collect()
    }

    fn growth<'a>(
        &'a self,
        recipe: &'a Recipe,
        wanted: &Wanted,
        frame: &Frame,
        assets: &'a dyn Assets,
        run: Run<'a>,
    ) -> Result<Growth<'a>, GrowError> {
        cost::check(recipe, self.budget, wanted, frame)?;
        Ok(Growth {
            cache: &self.cache,
            plan: Arc::new(Plan::of(recipe)),
            recipe,
            assets,
            run,
        })
    }
}

/// Which part of a recipe is grown.
#[derive(Clone, Copy, Debug)]
pub struct Part<'a> {
    /// The strand.
    pub strand: &'a str,
    /// How many of its steps; more than it has means all.
    pub steps: usize,
}

/// The share of a strand's work that is done when `share` of step `k` is.
fn progress(strand: &Strand, k: usize, share: f32) -> f32 {
    let effort = |step: &Step| match step.on {
        true => step.operation.effort(),
        false => 0.0,
    };
    let done: f32 = strand.steps[..k].iter().map(effort).sum();
    let all: f32 = strand.steps.iter().map(effort).sum();
    (done + share * effort(&strand.steps[k])) / all.max(1.0)
}

impl<'a> Growth<'a> {
    /// What masks see of a strand at `looked_at`.
    pub(super) fn beneath(&self, looked_at: LookedAt<'a>) -> Beneath<'a> {
        Beneath::of(self.clone(), looked_at)
    }

    pub(crate) fn strand(&self, name: &str) -> Result<&'a Strand, GrowError> {
        self.recipe
            .strand(name)
            .ok_or_else(|| GrowError::NoStrand(name.to_owned()))
    }

    /// The same recipe, grown with `run`.
    pub(super) fn running<'s>(&'s self, run: Run<'s>) -> Growth<'s> {
        Growth {
            run,
            ..self.clone()
        }
    }

    /// The cells of which masks are taken on `frame`.
    pub(super) fn cells(&self, frame: &Frame) -> Cells {
        Cells {
            cell_m: frame.cell_m,
            land_m: Extent::from(self.recipe.extent).longest_m(),
        }
    }

    /// The frame on which `step` needs what is below it, for a result on
    /// `frame`. A process whose finest grid has the same cells needs it in the country around
    /// the land too: it is grown once for both.
    fn wide(&self, step: &Step, frame: &Frame) -> Frame {
        let mask = step.mask.as_ref();
        let mask = mask.map_or(0, |mask| self.plan.masks.margin(mask, self.cells(frame)));
        let wide = frame.grown(margin_below(step, mask, frame.cell_m));
        let extent = self.recipe.extent.into();
        let whole = Frame::covering(extent, frame.cell_m);
        if !step.on || wide.offset_of(&whole).is_none() {
            return wide;
        }
        let finest = step.operation.levels(frame.cell_m, extent).pop();
        let finest = finest.map(|level| level.frame(extent, step.operation.beyond_m(extent)));
        match finest {
            Some(finest) if finest.shares_lattice_with(&wide) => wide.joined(&finest),
            _ => wide,
        }
    }

    /// `strand` after its first `steps` steps, on the cells of `frame`.
    pub(crate) fn state(
        &self,
        strand: &'a Strand,
        steps: usize,
        frame: &Frame,
    ) -> Result<Arc<State>, GrowError> {
        // From the wanted end down to what is known, and up again: as a loop, for
        // a strand may have many steps.
        let (mut end, mut frame) = (steps, *frame);
        let mut to_grow = Vec::new();
        let mut state = loop {
            self.run.check()?;
            // Steps that are off change nothing, not even the key.
            let Some(k) = strand.steps[..end].iter().rposition(|step| step.on) else {
                break Arc::new(State::bare(frame));
            };
            let key = self.plan.key(strand, k + 1).on(&frame);
            if let Some(Kept::State(state)) = self.cache.get(key) {
                break state;
            }
            let step = &strand.steps[k];
            to_grow.push((k, key, frame));
            let operation = &step.operation;
            let grids = || operation.levels(frame.cell_m, self.recipe.extent.into());
            if let Some(name) = operation.takes_in()
                && operation.takes_in_on().is_none()
                && grids().is_empty()
            {
                // What is taken in does not depend on what is below: both at once.
                let below = || self.state(strand, k, &self.wide(step, &frame));
                let taken = || self.taken(name, &frame);
                let (below, taken) = rayon::join(below, taken);
                taken?;
                break below?;
            }
            (end, frame) = (k, self.wide(step, &frame));
        };
        for (k, key, frame) in to_grow.into_iter().rev() {
            self.run.check()?;
            state = Arc::new(self.grown(strand, k, &state, &frame)?);
            self.cache.put(key, Kept::State(state.clone()));
            if strand.name == LAND {
                self.run.report(progress(strand, k, 1.0));
            }
        }
        Ok(state)
    }

    /// A mask taken of a strand after its first `steps` steps.
    pub(crate) fn mask(
        &self,
        strand: &'a Strand,
        steps: usize,
        mask: &Mask,
        frame: &Frame,
    ) -> Result<Grid, GrowError> {
        self.looking(strand, steps, mask, frame, |beneath| {
            mask_on(mask, beneath, frame)
        })
    }

    /// What `look` sees of a strand after its first `steps` steps, with as much
    /// around `frame` as `mask` needs.
    fn looking<T>(
        &self,
        strand: &'a Strand,
        steps: usize,
        mask: &Mask,
        frame: &Frame,
        look: impl FnOnce(&Beneath) -> Result<T, GrowError>,
    ) -> Result<T, GrowError> {
        let margin = self.plan.masks.margin(mask, self.cells(frame));
        let state = self.state(strand, steps, &frame.grown(margin))?;
        let looked_at = self.looked_at((strand, steps), state, mask, frame)?;
        look(&self.beneath(looked_at))
    }

    /// A strand after its first `steps` steps, of which `state` is what lies around `frame`,
    /// with what else `mask` needs of it.
    pub(super) fn looked_at(
        &self,
        (strand, steps): (&'a Strand, usize),
        state: Arc<State>,
        mask: &Mask,
        frame: &Frame,
    ) -> Result<LookedAt<'a>, GrowError> {
        let whole = match self.plan.masks.needs_whole(mask) {
            true => Some(self.whole((strand, steps), &state, frame)?),
            false => None,
        };
        Ok(LookedAt {
            strand,
            steps,
            state,
            whole,
        })
    }

    /// A strand after its first `steps` steps on the whole land, on the lattice of `frame`,
    /// with the margin of every mask that is taken of the land as a whole: part of what is
    /// `known` of it, or grown.
    fn whole(
        &self,
        (strand, steps): (&'a Strand, usize),
        known: &Arc<State>,
        frame: &Frame,
    ) -> Result<Arc<State>, GrowError> {
        let whole = Frame::covering(self.recipe.extent.into(), frame.cell_m);
        let margin = whole_margin(self.recipe, &self.plan.masks, self.cells(frame));
        let whole = whole.grown(margin);
        match known.frame.offset_of(&whole) {
            Some(_) if known.frame == whole => Ok(known.clone()),
            Some(_) => Ok(Arc::new(known.cropped(&whole))),
            None => self.state(strand, steps, &whole),
        }
    }

    /// Cells around `frame` that the ground's masks and colours read.
    pub(super) fn ground_margin(&self, frame: &Frame) -> usize {
        ground_margin(self.recipe, &self.plan.masks, self.cells(frame))
    }

    /// Whether some part of the ground depends on the land as a whole.
    fn ground_needs_whole(&self) -> bool {
        ground_needs_whole(self.recipe, &self.plan.masks)
    }

    /// An image at every coarseness, made once.
    pub(super) fn kept_image(
        &self,
        key: Key,
        make: impl FnOnce() -> Result<Grid, GrowError>,
    ) -> Result<Arc<Pyramid>, GrowError> {
        if let Some(Kept::Image(image)) = self.cache.get(key) {
            return Ok(image);
        }
        let image = Arc::new(Pyramid::over(make()?));
        self.cache.put(key, Kept::Image(image.clone()));
        Ok(image)
    }

    /// Grows a strand that is taken in, into the cache.
    fn taken(&self, name: &str, frame: &Frame) -> Result<(), GrowError> {
        let strand = self.strand(name)?;
        self.state(strand, strand.steps.len(), frame).map(drop)
    }

    /// What step `k` makes of the state below it.
    fn grown(
        &self,
        strand: &'a Strand,
        k: usize,
        below: &Arc<State>,
        frame: &Frame,
    ) -> Result<State, GrowError> {
        let step = &strand.steps[k];
        let within = |share| self.run.report(progress(strand, k, share));
        let run = match strand.name == LAND {
            true => self.run.reporting(&within),
            false => self.run.quietly(),
        };
        // What a step asks for of the land below it is part of its own work.
        let quietly = Growth {
            run: self.run.quietly(),
            ..self.clone()
        };
        // Before the step's own work: what a mask needs of the whole land may take much to
        // grow, while what the step has made waits.
        let mask = match &step.mask {
            Some(mask) => {
                let looked_at = self.looked_at((strand, k), below.clone(), mask, frame)?;
                Some(mask_on(mask, &self.beneath(looked_at), frame)?)
            }
            None => None,
        };
        let site = Site::new(&quietly, (strand, k), mask.as_ref(), below, frame, run);
        let made = step.operation.grow(&site)?;
        self.run.check()?;
        let mut state = below.cropped(frame);
        let mut joined = made.heights;
        joined.zip_in_place(&state.heights, |new, old| {
            old + step.amount * (step.join(old, new) - old)
        });
        if let Some(mask) = &mask {
            joined.zip_in_place(&state.heights, |full, old| full - old);
            joined.zip_in_place(mask, |change, mask| change * mask);
            joined.zip_in_place(&state.heights, |share, old| old + share);
        }
        state.heights = Arc::new(joined);
        let effect = Effect {
            amount: step.amount,
            mask: mask.as_ref(),
        };
        state.products.followed_by(made.products, effect);
        let ledger = made.ledger.map(|made| made.scaled(f64::from(step.amount)));
        (state.ledgers).extend(ledger.map(|ledger| (step.id.clone(), ledger)));
        Ok(state)
    }
}
