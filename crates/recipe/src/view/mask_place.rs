//! Masks by where they are in a recipe, and what their readings are like.

use terrain::{Frame, Grid, Run};

use super::Histogram;
use crate::document::{LAND, Mask, Recipe};
use crate::grow::{Assets, GrowError, Grower, Part};

/// A mask and the land that it is taken of.
#[derive(Clone, Debug, PartialEq)]
pub struct MaskPlace {
    /// The mask, or its first stages.
    pub mask: Mask,
    strand: String,
    steps: usize,
}

impl MaskPlace {
    /// The mask that `id` stands for: that of the step, cover or wash of this id, or
    /// the mask of this name after `mask:`. With `#k` behind it only its terms
    /// up to the one numbered k from 0 count, and nothing is done to them
    /// afterwards: a stage of the mask.
    pub fn of(recipe: &Recipe, id: &str) -> Option<Self> {
        // A name may have a # of its own.
        let whole = Self::owned_by(recipe, id);
        if whole.is_some() {
            return whole;
        }
        let (owner, stage) = id.rsplit_once('#')?;
        let last: usize = stage.parse().ok()?;
        let place = Self::owned_by(recipe, owner)?;
        let terms = place.mask.terms.into_iter().take(last.saturating_add(1));
        let mask = Mask::of(terms.collect());
        Some(Self { mask, ..place })
    }

    /// The whole mask of what `owner` stands for.
    fn owned_by(recipe: &Recipe, owner: &str) -> Option<Self> {
        let finished = |mask: Option<&Mask>| Self {
            mask: mask.cloned().unwrap_or_else(Mask::everywhere),
            strand: LAND.to_owned(),
            steps: usize::MAX,
        };
        let cover = recipe.covers.iter().find(|cover| cover.id == owner);
        let wash = recipe.finish.washes.iter().find(|wash| wash.id == owner);
        let named = recipe
            .masks
            .iter()
            .find(|named| owner.strip_prefix("mask:") == Some(named.name.as_str()));
        let place = match (cover, wash, named) {
            (Some(cover), _, _) => finished(cover.mask.as_ref()),
            (None, Some(wash), _) => finished(Some(&wash.mask)),
            (None, None, Some(named)) => finished(Some(&named.mask)),
            (None, None, None) => {
                let (strand, steps) = recipe.place_of(owner)?;
                Self {
                    strand: strand.name.clone(),
                    steps,
                    ..finished(strand.steps[steps].mask.as_ref())
                }
            }
        };
        Some(place)
    }

    /// The part of the recipe whose land the mask is taken of.
    pub fn part(&self) -> Part<'_> {
        Part {
            strand: &self.strand,
            steps: self.steps,
        }
    }
}

/// What one term of a mask reads, and how much of the land the mask takes.
#[derive(Clone, Debug, PartialEq)]
pub struct TermStudy {
    /// How often values of the reading occur.
    pub histogram: Histogram,
    /// Share of the land that the whole mask takes, 0 to 1.
    pub share: f64,
}

/// Looks at a term of a mask, on a grid of `cells` along the longer side;
/// `None` when there is no such mask or term.
///
/// # Errors
/// [`GrowError`] when stopped, or when an imported file is missing.
pub fn study_term(
    grower: &Grower,
    recipe: &Recipe,
    assets: &dyn Assets,
    (id, term): (&str, usize),
    cells: usize,
    run: Run,
) -> Result<Option<TermStudy>, GrowError> {
    let Some(place) = MaskPlace::of(recipe, id) else {
        return Ok(None);
    };
    let Some(reading) = place.mask.terms.get(term).map(|term| &term.of) else {
        return Ok(None);
    };
    let frame = Frame::with_cells(recipe.extent.into(), cells);
    let part = place.part();
    let values = grower.reading_of_part(recipe, part, reading, assets, &frame, run)?;
    let mask = grower.mask_of_part(recipe, part, &place.mask, assets, &frame, run)?;
    Ok(Some(TermStudy {
        histogram: Histogram::of(&values, ends(&values)),
        share: mask.sum() / frame.cells() as f64,
    }))
}

/// The mask that `id` stands for as [`MaskPlace::of`] reads it, from nothing (0) to full
/// (255), on a grid of `cells` along the longer side; `None` when there is no such mask.
///
/// # Errors
/// [`GrowError`] when stopped, or when an imported file is missing.
pub fn mask_picture(
    grower: &Grower,
    recipe: &Recipe,
    assets: &dyn Assets,
    id: &str,
    cells: usize,
    run: Run,
) -> Result<Option<Grid<u8>>, GrowError> {
    let frame = Frame::with_cells(recipe.extent.into(), cells);
    mask_on(grower, recipe, assets, &frame, id, run)
}

/// The same on a frame.
pub(super) fn mask_on(
    grower: &Grower,
    recipe: &Recipe,
    assets: &dyn Assets,
    frame: &Frame,
    id: &str,
    run: Run,
) -> Result<Option<Grid<u8>>, GrowError> {
    let Some(place) = MaskPlace::of(recipe, id) else {
        return Ok(None);
    };
    let part = place.part();
    let mask = grower.mask_of_part(recipe, part, &place.mask, assets, frame, run)?;
    Ok(Some(mask.map(|v| (v * 255.0).round() as u8)))
}

/// The ends of a histogram: without the outermost hundredth on either side,
/// where single cells would stretch it.
fn ends(values: &Grid) -> (f32, f32) {
    const OUTER: f64 = 0.01;
    let mut sorted: Vec<f32> = values.values().iter().copied().step_by(7).collect();
    sorted.sort_unstable_by(f32::total_cmp);
    let at = |share: f64| sorted[((sorted.len() - 1) as f64 * share).round() as usize];
    let (low, high) = (at(OUTER), at(1.0 - OUTER));
    match high > low {
        true => (low, high),
        false => (low - 0.5, low + 0.5),
    }
}
