//! Names for results: hashes of everything that they depend on.

use serde::Serialize;
use terrain::Frame;

use crate::document::{Recipe, Strand};

/// The name of a result. Equal keys mean equal bits.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub(crate) struct Key([u8; 32]);

impl Key {
    /// A key of `part`, in addition to all that this one stands for.
    pub(crate) fn with(self, part: &impl Serialize) -> Self {
        let mut hasher = blake3::Hasher::new();
        hasher.update(&self.0);
        // Plain data with floats: serialising it cannot fail.
        hasher.update(&serde_json::to_vec(part).expect("plain data"));
        Self(*hasher.finalize().as_bytes())
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
        Self([0; 32]).with(&("asset", id))
    }

    /// What the first `steps` steps of `strand` depend on, wherever they are
    /// grown. Names and notes of steps do not count; steps that are off are
    /// as good as gone.
    pub(crate) fn of_steps(recipe: &Recipe, strand: &Strand, steps: usize) -> Self {
        let extent = &recipe.extent;
        let start = Self([0; 32]).with(&("land", extent, recipe.sea_level_m.to_bits()));
        strand.steps[..steps]
            .iter()
            .filter(|step| step.on)
            .fold(start, |key, step| {
                let joined = (
                    (&step.id, step.amount.to_bits(), step.combine),
                    (step.blend_m.to_bits(), step.full_m.to_bits()),
                );
                let key = key.with(&joined).with(&step.mask).with(&step.operation);
                let mut masks = step.mask.iter().chain(step.operation.masks());
                let key = match masks.any(|mask| mask.refers()) {
                    true => key.with(&recipe.masks),
                    false => key,
                };
                match step
                    .operation
                    .takes_in()
                    .and_then(|name| recipe.strand(name))
                {
                    Some(taken) => key.with(&Self::of_steps(recipe, taken, taken.steps.len()).0),
                    None => key,
                }
            })
    }
}
