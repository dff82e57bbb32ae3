//! The part of a picture that a stroke of the hand changes, at the speed of the hand.

use std::sync::Arc;

use terrain::grid::without_apron;
use terrain::picture::light;
use terrain::{Extent, Frame, Grid, Run};

use super::mask_place::mask_on;
use super::picture::Sight;
use super::trace_colours::STONE;
use super::{BLOCK, Picture, Shading, View};
use crate::document::{Recipe, Step};
use crate::grow::{Assets, GrowError, Grower, Land, Part};
use crate::steps::Operation;

/// The last picture that somebody was shown, and of what.
pub struct Sketchbook {
    recipe: Arc<Recipe>,
    view: View,
    picture: Picture,
}

/// What of the last picture changes.
pub enum Sketch {
    /// Nothing that could be seen.
    Nothing,
    /// A part of it.
    Part {
        /// What that looks like now. Its figures and covers are its own.
        part: Box<Picture>,
        /// A step above the strokes that is shown as it was before them: a process, which
        /// follows when the hand rests.
        waits: Option<String>,
    },
}

/// Around what a stroke changes this many cells are drawn anew at least: light and slopes
/// look at neighbours.
const AROUND: usize = 3;
/// And no more than so many, though masks may look farther.
const MOST_AROUND: usize = 24;
/// When more of the land changes than this share, a whole picture is as good.
const MOST: f64 = 0.5;

impl Sketchbook {
    /// Begins with a picture of `recipe`.
    pub fn of(recipe: Arc<Recipe>, view: View, picture: Picture) -> Self {
        Self {
            recipe,
            view,
            picture,
        }
    }

    /// The picture, with all that was sketched on it.
    pub fn picture(&self) -> &Picture {
        &self.picture
    }

    /// Sketches `recipe` on the picture; `None` when it differs from what is shown by more
    /// than the strokes of one step of hand work, or is looked at in another way. What is
    /// taken of the land as a whole stays as it was until the next picture: where water
    /// runs, and shadows and skies beyond the part.
    ///
    /// # Errors
    /// [`GrowError`] when stopped, or when an imported file is missing.
    pub fn sketch(
        &mut self,
        grower: &Grower,
        recipe: &Arc<Recipe>,
        view: &View,
        assets: &dyn Assets,
        run: Run,
    ) -> Result<Option<Sketch>, GrowError> {
        let of_traces = matches!(view.shading, Shading::Trace(_));
        if *view != self.view || view.solo.is_some() || of_traces {
            return Ok(None);
        }
        if *recipe == self.recipe {
            return Ok(Some(Sketch::Nothing));
        }
        let Some(step) = strokes_between(&self.recipe, recipe, &view.strand) else {
            return Ok(None);
        };
        let frame = self.picture.frame;
        let grow = |recipe, steps| {
            let strand = &view.strand;
            grower.part(recipe, Part { strand, steps }, assets, &frame, run)
        };
        let steps = &recipe.strand(&view.strand).expect("it was found").steps;
        let process = steps[step + 1..]
            .iter()
            .find(|above| above.on && is_process(above, recipe.extent.into(), &frame));
        let (land, wide);
        if process.is_none() {
            land = grow(recipe, usize::MAX)?.as_if(&self.picture.known);
            wide = land.heights_with_apron().clone();
        } else {
            // The strokes alone, on the land as the process has left it.
            land = grow(&self.recipe, usize::MAX)?.as_if(&self.picture.known);
            let (before, now) = (grow(&self.recipe, step + 1)?, grow(recipe, step + 1)?);
            let (before, now) = (before.heights_with_apron(), now.heights_with_apron());
            let change = now.zip_map(before, |now, before| now - before);
            let land = land.heights_with_apron();
            wide = land.zip_map(&change, |height, change| height + change);
        }
        let around = land.ground_margin().clamp(AROUND, MOST_AROUND);
        let heights = without_apron(&wide, Land::MARGIN);
        let Some(part) = differing(&self.picture.heights, &heights, &frame, around) else {
            self.keep(recipe, process);
            return Ok(Some(Sketch::Nothing));
        };
        if part.cells() as f64 > MOST * frame.cells() as f64 {
            return Ok(None);
        }
        let lighting = recipe.lighting();
        let (col, row) = frame.offset_of(&part).expect("a part of the picture");
        let light = light(&wide, frame.cell_m, lighting);
        let ground = land.ground_in(recipe, &part, run)?;
        let albedo = match view.shading {
            Shading::Relief => Grid::filled(part.cols, part.rows, STONE),
            _ => ground.albedo.clone(),
        };
        run.check()?;
        let mask = match &view.watched {
            None => None,
            Some(watched) => mask_on(grower, recipe, assets, &part, &watched.id, run)?,
        };
        let apron = 2 * Land::MARGIN;
        let sight = Sight {
            frame: part,
            wide: &wide.cropped(col, row, part.cols + apron, part.rows + apron),
            ground: &ground,
            albedo: &albedo,
            light: &light.cropped(col, row, part.cols, part.rows),
            lighting,
        };
        let part = Picture {
            mask,
            ..sight.picture()
        };
        self.picture.take_over(&part);
        self.keep(recipe, process);
        Ok(Some(Sketch::Part {
            part: Box::new(part),
            waits: process.map(|step| step.name.clone()),
        }))
    }

    /// What the next sketch goes on from: where a process waits, still the land that it has
    /// worked on.
    fn keep(&mut self, recipe: &Arc<Recipe>, process: Option<&Step>) {
        if process.is_none() {
            self.recipe = recipe.clone();
        }
    }
}

/// The step whose strokes are all that differs between two recipes, when there is one.
fn strokes_between(before: &Recipe, now: &Recipe, strand: &str) -> Option<usize> {
    let (of_before, of_now) = (&before.strand(strand)?.steps, &now.strand(strand)?.steps);
    let mut pairs = of_before.iter().zip(of_now);
    let step = pairs.position(|(before, now)| before != now)?;
    let Operation::HandWork(strokes) = &of_now[step].operation else {
        return None;
    };
    let mut with_them = before.clone();
    let strands = &mut with_them.strands;
    let strand = strands.iter_mut().find(|one| one.name == strand)?;
    match &mut strand.steps[step].operation {
        Operation::HandWork(before) => *before = strokes.clone(),
        _ => return None,
    }
    (with_them == *now).then_some(step)
}

/// Whether a step is worked over the land as a whole.
fn is_process(step: &Step, extent: Extent, frame: &Frame) -> bool {
    !step.operation.levels(frame.cell_m, extent).is_empty()
}

/// The whole blocks around all cells where two grids differ, and `around`.
fn differing(before: &Grid, now: &Grid, frame: &Frame, around: usize) -> Option<Frame> {
    let (mut low, mut high) = ([usize::MAX; 2], [0; 2]);
    for row in 0..frame.rows {
        let (was, is) = (before.row(row), now.row(row));
        let differs = |(was, is): (&f32, &f32)| was != is;
        let Some(first) = was.iter().zip(is).position(differs) else {
            continue;
        };
        let last = was.iter().zip(is).rposition(differs).unwrap_or(first);
        low = [low[0].min(first), low[1].min(row)];
        high = [high[0].max(last), high[1].max(row)];
    }
    if low[0] == usize::MAX {
        return None;
    }
    let first = |at: usize| at.saturating_sub(around) / BLOCK * BLOCK;
    let end = |at: usize, all: usize| (at + around + 1).next_multiple_of(BLOCK).min(all);
    let (col, row) = (first(low[0]), first(low[1]));
    let (col1, row1) = (end(high[0], frame.cols), end(high[1], frame.rows));
    Some(frame.window(col, row, col1 - col, row1 - row))
}
