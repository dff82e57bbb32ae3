//! Walks a strand from the wanted end back to what is known already.

use std::sync::Arc;

use terrain::{Frame, Grid, Run};

use super::cache::{Cache, Kept};
use super::key::Key;
use super::masked::mask_on;
use super::readings::Beneath;
use super::{Assets, CacheUse, GrowError, Land, Site, State};
use crate::document::{Hollows, LAND, Mask, Reading, Recipe, Step, Strand, Term};
use crate::steps::Operation;

/// Grows recipes and remembers what it grew.
pub struct Grower {
    cache: Cache,
}

/// One recipe being grown.
#[derive(Clone, Copy)]
pub(crate) struct Growth<'a> {
    pub(crate) cache: &'a Cache,
    pub(crate) recipe: &'a Recipe,
    pub(crate) assets: &'a dyn Assets,
    pub(crate) run: Run<'a>,
}

impl Grower {
    /// Keeps results up to `budget` bytes.
    pub fn new(budget: usize) -> Self {
        Self {
            cache: Cache::new(budget),
        }
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
        let growth = self.growth(recipe, assets, run);
        let strand = growth.strand(part.strand)?;
        let steps = part.steps.min(strand.steps.len());
        // Enough around for all that the ground reads.
        let state = growth.state(strand, steps, &frame.grown(growth.ground_margin(frame)))?;
        let whole = match growth.ground_needs_whole() {
            true => Some(growth.whole(strand, steps, frame)?),
            false => None,
        };
        Ok(Land::new(growth, state, whole, *frame))
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
        let growth = self.growth(recipe, assets, run);
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
        let growth = self.growth(recipe, assets, run);
        let strand = growth.strand(part.strand)?;
        let steps = part.steps.min(strand.steps.len());
        let alone = Mask::of(vec![Term::of(reading.clone())]);
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
        let growth = self.growth(recipe, assets, run);
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
        assets: &'a dyn Assets,
        run: Run<'a>,
    ) -> Growth<'a> {
        Growth {
            cache: &self.cache,
            recipe,
            assets,
            run,
        }
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
    /// What masks see of `state`.
    pub(super) fn beneath<'s>(self, state: &'s State, whole: Option<Arc<State>>) -> Beneath<'s>
    where
        'a: 's,
    {
        Beneath {
            state,
            whole,
            extent: self.recipe.extent.into(),
            sea_level_m: self.recipe.sea_level_m as f32,
            named: &self.recipe.masks,
            assets: self.assets,
            run: self.run,
            taken: Arc::default(),
        }
    }
}

impl Growth<'_> {
    pub(crate) fn strand(&self, name: &str) -> Result<&Strand, GrowError> {
        self.recipe
            .strand(name)
            .ok_or_else(|| GrowError::NoStrand(name.to_owned()))
    }

    /// The frame on which `step` needs what is below it, for a result on
    /// `frame`. Margins are rounded up to powers of two, so that dragging a
    /// parameter that changes the margin seldom regrows what is below.
    fn wide(&self, step: &Step, frame: &Frame) -> Frame {
        if !step.on {
            return *frame;
        }
        let mask = step.mask.as_ref();
        let named = &self.recipe.masks;
        let mask = mask.map_or(0, |mask| mask.margin(frame.cell_m, named));
        match step.operation.margin(frame.cell_m).max(mask) {
            0 => *frame,
            margin => frame.grown(margin.next_power_of_two()),
        }
    }

    /// `strand` after its first `steps` steps, on the cells of `frame`.
    pub(crate) fn state(
        &self,
        strand: &Strand,
        steps: usize,
        frame: &Frame,
    ) -> Result<Arc<State>, GrowError> {
        self.run.check()?;
        // Steps at the end that are off change nothing, not even the key.
        let Some(k) = strand.steps[..steps].iter().rposition(|step| step.on) else {
            return Ok(Arc::new(State::bare(*frame)));
        };
        let key = Key::of_steps(self.recipe, strand, k + 1).on(frame);
        if let Some(Kept::State(state)) = self.cache.get(key) {
            return Ok(state);
        }
        let step = &strand.steps[k];
        let below = || self.state(strand, k, &self.wide(step, frame));
        let below = match &step.operation {
            // What is taken in does not depend on what is below: both at once.
            Operation::TakeIn(take_in) => {
                let taken = || self.taken(&take_in.strand, frame);
                let (below, taken) = rayon::join(below, taken);
                taken?;
                below?
            }
            _ => below()?,
        };
        let state = Arc::new(self.grown(strand, k, &below, frame)?);
        self.cache.put(key, Kept::State(state.clone()));
        if strand.name == LAND {
            self.run.report(progress(strand, k, 1.0));
        }
        Ok(state)
    }

    /// A mask taken of a strand after its first `steps` steps.
    pub(crate) fn mask(
        &self,
        strand: &Strand,
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
        strand: &Strand,
        steps: usize,
        mask: &Mask,
        frame: &Frame,
        look: impl FnOnce(&Beneath) -> Result<T, GrowError>,
    ) -> Result<T, GrowError> {
        let named = &self.recipe.masks;
        let wide = frame.grown(mask.margin(frame.cell_m, named));
        let state = self.state(strand, steps, &wide)?;
        let whole = match mask.needs_whole(named) {
            true => Some(self.whole(strand, steps, frame)?),
            false => None,
        };
        look(&self.beneath(&state, whole))
    }

    /// A strand on the whole land, on the lattice of `frame`, with the margin
    /// of every mask that is taken of the land as a whole.
    fn whole(&self, strand: &Strand, steps: usize, frame: &Frame) -> Result<Arc<State>, GrowError> {
        let whole = Frame::covering(self.recipe.extent.into(), frame.cell_m);
        let named = &self.recipe.masks;
        let masks = named.iter().map(|entry| &entry.mask);
        let washed = self.recipe.finish.washes.iter().map(|wash| &wash.mask);
        let margins = masks.chain(washed);
        let margins = margins.map(|mask| mask.margin(frame.cell_m, named));
        self.state(strand, steps, &whole.grown(margins.max().unwrap_or(0)))
    }

    /// Cells around `frame` that the ground's masks and colours read.
    pub(super) fn ground_margin(&self, frame: &Frame) -> usize {
        let (recipe, cell_m) = (self.recipe, frame.cell_m);
        let masks = recipe.ground_masks();
        let masks = masks.map(|mask| mask.margin(cell_m, &recipe.masks));
        let readings = recipe
            .ground_readings()
            .map(|r| r.margin_with(cell_m, &recipe.masks));
        let hollows = recipe.finish.hollows;
        let hollows =
            hollows.map(|Hollows { reach_m, .. }| Reading::Occlusion { reach_m }.margin(cell_m));
        let all = masks.chain(readings).chain(hollows);
        all.max().unwrap_or(0).max(Land::MARGIN)
    }

    /// Whether some part of the ground depends on the land as a whole.
    fn ground_needs_whole(&self) -> bool {
        let recipe = self.recipe;
        let named = &recipe.masks;
        recipe.ground_masks().any(|mask| mask.needs_whole(named))
            || recipe.ground_readings().any(|r| r.needs_whole_with(named))
            || recipe.finish.washes.iter().any(|wash| wash.on)
            || recipe.finish.shore.is_some()
    }

    /// Grows a strand that is taken in, into the cache.
    fn taken(&self, name: &str, frame: &Frame) -> Result<(), GrowError> {
        let strand = self.strand(name)?;
        self.state(strand, strand.steps.len(), frame).map(drop)
    }

    /// What step `k` makes of the state below it.
    fn grown(
        &self,
        strand: &Strand,
        k: usize,
        below: &State,
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
            ..*self
        };
        let site = Site::new(&quietly, strand, k, below, frame, run);
        let made = step.operation.grow(&site)?;
        self.run.check()?;
        let mut state = below.cropped(frame);
        let join =
            move |share: f32| move |old: f32, new: f32| old + share * (step.join(old, new) - old);
        let amount = step.amount;
        let joined = match &step.mask {
            None => state.heights.zip_map(&made.heights, join(amount)),
            Some(mask) => {
                let full = state.heights.zip_map(&made.heights, join(amount));
                let whole = match mask.needs_whole(&self.recipe.masks) {
                    true => Some(self.whole(strand, k, frame)?),
                    false => None,
                };
                let mask = mask_on(mask, &self.beneath(below, whole), frame)?;
                let change = full.zip_map(&state.heights, |full, old| full - old);
                let share = change.zip_map(&mask, |change, mask| change * mask);
                state.heights.zip_map(&share, |old, share| old + share)
            }
        };
        state.heights = Arc::new(joined);
        state.traces.extend(
            made.traces
                .into_iter()
                .map(|(trace, grid)| (trace, Arc::new(grid))),
        );
        state.rivers = made.rivers.or(state.rivers);
        state
            .ledgers
            .extend(made.ledger.map(|ledger| (step.id.clone(), ledger)));
        Ok(state)
    }
}
