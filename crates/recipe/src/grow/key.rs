//! Names for results: hashes of everything that they depend on.

use serde::Serialize;
use terrain::Frame;

use crate::document::{Mask, Recipe, Step};

/// The name of a result. Equal keys mean equal bits.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize)]
pub(crate) struct Key([u8; 32]);

impl Key {
    /// What depends on nothing.
    pub(crate) const START: Self = Self([0; 32]);

    /// A key of `part`, in addition to all that this one stands for.
    pub(crate) fn with(self, part: &impl Serialize) -> Self {
        let mut hasher = blake3::Hasher::new();
        hasher.update(&self.0);
        // Plain data with floats: serialising it cannot fail.
        hasher.update(&serde_json::to_vec(part).expect("plain data"));
        Self(*hasher.finalize().as_bytes())
    }

    /// Keys of what is made part by part on top of what this one stands for: after the
    /// first part, after the second … Each is hashed once, and the parts before the
    /// last keep theirs when it changes.
    pub(crate) fn chain<T: Serialize>(self, parts: impl IntoIterator<Item = T>) -> Vec<Self> {
        let keys = parts.into_iter().scan(self, |key, part| {
            *key = key.with(&part);
            Some(*key)
        });
        keys.collect()
    }

    /// A key of the same thing on the cells of `frame`.
    pub(crate) fn on(self, frame: &Frame) -> Self {
        self.with(&(
            (frame.north_m.to_bits(), frame.cell_m.to_bits()),
            (frame.col0, frame.row0, frame.cols, frame.rows),
        ))
    }

    /// An imported file; its name is a hash of what is in it.
    pub(crate) fn of_asset(id: &str) -> Self {
        Self::START.with(&("asset", id))
    }

    /// What every step of a recipe depends on.
    pub(crate) fn of_land(recipe: &Recipe) -> Self {
        Self::START.with(&("land", &recipe.extent, recipe.sea_level_m.to_bits()))
    }

    /// A key of what comes of `step` on top of what this one stands for; `of_mask`
    /// is the key of a mask that refers to others, `taken` that of the strand that it takes
    /// in. Names and notes of steps do not count.
    pub(crate) fn after(
        self,
        step: &Step,
        of_mask: impl Fn(&Mask) -> Key,
        taken: Option<&Key>,
    ) -> Self {
        let joined = (
            (&step.id, step.amount.to_bits(), step.combine),
            (step.blend_m.to_bits(), step.full_m.to_bits()),
        );
        let key = self.with(&joined).with(&step.mask).with(&step.operation);
        // What is named in masks; what they say themselves stands above.
        let masks_of_step = step.mask.iter().chain(step.operation.masks());
        key.and_named(masks_of_step, of_mask, taken)
    }

    /// This key, in addition with those of all that is meant by a name alone: what `masks`
    /// refer to, and the strand that is taken in.
    pub(crate) fn and_named<'m>(
        self,
        masks: impl IntoIterator<Item = &'m Mask>,
        of_mask: impl Fn(&Mask) -> Key,
        taken: Option<&Key>,
    ) -> Self {
        let named = masks.into_iter().filter(|mask| mask.refers());
        let key = named.fold(self, |key, mask| key.with(&of_mask(mask)));
        match taken {
            Some(taken) => key.with(taken),
            None => key,
        }
    }
}
