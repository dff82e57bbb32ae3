//! Walks a strand from the wanted end back to what is known already.

use std::sync::Arc;

use terrain::{Frame, Run};

use super::cache::{Cache, Kept};
use super::key::Key;
use super::masked::mask_on;
use super::{Assets, CacheUse, GrowError, Land, Site, State};
use crate::document::{LAND, Recipe, Step, Strand};

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
    pub fn land(
        &self,
        recipe: &Recipe,
        assets: &dyn Assets,
        frame: &Frame,
        run: Run,
    ) -> Result<Land, GrowError> {
        let growth = Growth {
            cache: &self.cache,
            recipe,
            assets,
            run,
        };
        let strand = growth.strand(LAND)?;
        let state = growth.state(strand, strand.steps.len(), &frame.grown(Land::MARGIN))?;
        Ok(Land::new(state, *frame))
    }

    /// The land after each step, first one first, on at least the cells of
    /// `frame`; before the first step it is level at 0.
    ///
    /// # Errors
    /// As [`Grower::land`].
    pub fn stages(
        &self,
        recipe: &Recipe,
        assets: &dyn Assets,
        frame: &Frame,
        run: Run,
    ) -> Result<Vec<Arc<State>>, GrowError> {
        let growth = Growth {
            cache: &self.cache,
            recipe,
            assets,
            run,
        };
        let strand = growth.strand(LAND)?;
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
        let mask = step.mask.as_ref().map_or(0, |mask| mask.margin());
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
        let below = self.state(strand, k, &self.wide(step, frame))?;
        let state = Arc::new(self.grown(strand, k, &below, frame)?);
        self.cache.put(key, Kept::State(state.clone()));
        if strand.name == LAND {
            self.run.report((k + 1) as f32 / strand.steps.len() as f32);
        }
        Ok(state)
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
        let made = step
            .operation
            .grow(&Site::new(self, strand, k, below, frame))?;
        self.run.check()?;
        let mut state = below.cropped(frame);
        let amount = step.amount;
        let combine = step.combine;
        let join = move |share: f32| {
            move |old: f32, new: f32| old + share * (combine.apply(old, new) - old)
        };
        let joined = match &step.mask {
            None => state.heights.zip_map(&made.heights, join(amount)),
            Some(mask) => {
                let full = state.heights.zip_map(&made.heights, join(amount));
                let mask = mask_on(mask, below, frame, self.run)?;
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
        state
            .ledgers
            .extend(made.ledger.map(|ledger| (step.id.clone(), ledger)));
        Ok(state)
    }
}
