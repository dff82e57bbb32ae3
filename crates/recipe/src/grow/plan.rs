//! What is worked out once before a recipe grows: names of results, and what
//! named masks need.

use std::collections::HashMap;

use super::key::Key;
use super::named::NamedMasks;
use crate::document::{Recipe, Step, Strand, ordered};

/// What is known of a recipe before it grows.
pub(crate) struct Plan<'r> {
    /// The recipe's named masks.
    pub(crate) masks: NamedMasks<'r>,
    index: HashMap<&'r str, usize>,
    /// For each strand, what its first steps depend on: none, one, two …
    keys: Vec<Vec<Key>>,
}

impl<'r> Plan<'r> {
    pub(crate) fn of(recipe: &'r Recipe) -> Self {
        let names = recipe.strands.iter().map(|strand| strand.name.as_str());
        let index: HashMap<_, _> = names.zip(0..).collect();
        let taken = |step: &Step| {
            let name = step.operation.takes_in()?;
            index.get(name).copied()
        };
        let strands = &recipe.strands;
        // A recipe that was checked has such an order.
        let order = ordered(strands.len(), usize::MAX, |s| {
            strands[s].steps.iter().filter_map(taken).collect()
        });
        let mut plan = Self {
            masks: NamedMasks::of(recipe),
            index: HashMap::new(),
            keys: vec![Vec::new(); strands.len()],
        };
        let start = Key::of_land(recipe);
        for at in order.unwrap_or_default() {
            let mut keys = vec![start];
            for step in &strands[at].steps {
                let before = *keys.last().expect("the start");
                let of_taken = taken(step).and_then(|s| plan.keys[s].last());
                keys.push(match step.on {
                    // Steps that are off are as good as gone.
                    false => before,
                    true => before.after(step, |mask| plan.masks.key(mask), of_taken),
                });
            }
            plan.keys[at] = keys;
        }
        plan.index = index;
        plan
    }

    /// What the first `steps` steps of `strand` depend on, wherever they grow.
    ///
    /// # Panics
    /// When the strand is not one of the recipe's.
    pub(crate) fn key(&self, strand: &Strand, steps: usize) -> Key {
        self.keys[self.index[strand.name.as_str()]][steps]
    }
}
