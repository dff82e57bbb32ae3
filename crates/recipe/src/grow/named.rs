//! The recipe's named masks, and what follows from the masks that they refer to:
//! each looked at once, however often it is named.

use std::collections::HashMap;

use super::key::Key;
use crate::document::{Cells, Mask, NamedMask, Reading, Recipe, ordered};

/// The named masks of a recipe.
pub(crate) struct NamedMasks<'r> {
    masks: &'r [NamedMask],
    index: HashMap<&'r str, usize>,
    /// Each mask after all that it refers to.
    order: Vec<usize>,
    needs_whole: Vec<bool>,
    keys: Vec<Key>,
    /// How many terms in the recipe name each.
    named: Vec<usize>,
}

impl<'r> NamedMasks<'r> {
    pub(crate) fn of(recipe: &'r Recipe) -> Self {
        let masks = recipe.masks.as_slice();
        let names = masks.iter().map(|named| named.name.as_str());
        let index: HashMap<_, _> = names.zip(0..).collect();
        let referred = |mask: &Mask| -> Vec<usize> {
            let names = mask.terms.iter().filter_map(|term| term.of.refers_to());
            names.filter_map(|name| index.get(name).copied()).collect()
        };
        // A recipe that was checked has such an order.
        let order = ordered(masks.len(), usize::MAX, |i| referred(&masks[i].mask));
        let mut known = Self {
            masks,
            order: order.unwrap_or_default(),
            needs_whole: vec![false; masks.len()],
            keys: vec![Key::START; masks.len()],
            named: vec![0; masks.len()],
            index,
        };
        for at in known.order.clone() {
            known.needs_whole[at] = known.needs_whole(&masks[at].mask);
            known.keys[at] = known.key(&masks[at].mask);
        }
        for mask in recipe.all_masks() {
            for at in known.referred(mask).collect::<Vec<_>>() {
                known.named[at] += 1;
            }
        }
        known
    }

    /// The mask called `name`.
    pub(crate) fn get(&self, name: &str) -> Option<&'r Mask> {
        self.index.get(name).map(|&at| &self.masks[at].mask)
    }

    /// The masks that `mask` names, once for each time.
    pub(crate) fn referred<'m>(&'m self, mask: &'m Mask) -> impl Iterator<Item = usize> + 'm {
        let names = mask.terms.iter().filter_map(|term| term.of.refers_to());
        names.filter_map(|name| self.index.get(name).copied())
    }

    /// The number of the mask called `name`.
    pub(crate) fn number(&self, name: &str) -> Option<&usize> {
        self.index.get(name)
    }

    /// The mask with the number `at`.
    pub(crate) fn numbered(&self, at: usize) -> &'r Mask {
        &self.masks[at].mask
    }

    /// Whether more than one term of the recipe names this mask, so that what it
    /// says is worth keeping while others are taken.
    pub(crate) fn is_shared(&self, name: &str) -> bool {
        self.index.get(name).is_some_and(|&at| self.named[at] > 1)
    }

    /// Whether some reading in `mask`, or in a mask that it refers to, depends on
    /// the land as a whole.
    pub(crate) fn needs_whole(&self, mask: &Mask) -> bool {
        let mut terms = mask.terms.iter();
        terms.any(|term| self.reading_needs_whole(&term.of))
    }

    /// The same for one reading.
    pub(crate) fn reading_needs_whole(&self, reading: &Reading) -> bool {
        let other = reading.refers_to().and_then(|name| self.index.get(name));
        reading.needs_whole() || other.is_some_and(|&at| self.needs_whole[at])
    }

    /// Cells needed around the place where `mask` is taken, those of masks that it
    /// refers to included.
    pub(crate) fn margin(&self, mask: &Mask, on: Cells) -> usize {
        let named = self.margins(on, mask.refers());
        self.with_terms(mask, on, &named)
    }

    /// The same for one reading.
    pub(crate) fn reading_margin(&self, reading: &Reading, on: Cells) -> usize {
        let named = self.margins(on, reading.refers_to().is_some());
        self.of_reading(reading, on, &named)
    }

    /// The most that any mask of `masks` needs.
    pub(crate) fn widest<'m>(&self, masks: impl Iterator<Item = &'m Mask>, on: Cells) -> usize {
        let named = self.margins(on, true);
        let all = masks.map(|mask| self.with_terms(mask, on, &named));
        all.max().unwrap_or(0)
    }

    /// The most that any named mask needs.
    pub(crate) fn widest_named(&self, on: Cells) -> usize {
        self.margins(on, true).into_iter().max().unwrap_or(0)
    }

    /// What each named mask needs, if any of that is asked for.
    fn margins(&self, on: Cells, asked: bool) -> Vec<usize> {
        let mut known = vec![0; self.masks.len()];
        for &at in self.order.iter().filter(|_| asked) {
            known[at] = self.with_terms(&self.masks[at].mask, on, &known);
        }
        known
    }

    fn with_terms(&self, mask: &Mask, on: Cells, named: &[usize]) -> usize {
        let terms = mask.terms.iter();
        let terms = terms.map(|term| self.of_reading(&term.of, on, named));
        mask.margin_around(terms.max().unwrap_or(0), on)
    }

    fn of_reading(&self, reading: &Reading, on: Cells, named: &[usize]) -> usize {
        let other = match reading {
            Reading::Named { mask } => self.index.get(mask.as_str()),
            _ => None,
        };
        reading.margin(on).max(other.map_or(0, |&at| named[at]))
    }

    /// The name of all that `mask` says.
    pub(crate) fn key(&self, mask: &Mask) -> Key {
        let own = Key::START.with(mask);
        self.referred(mask)
            .fold(own, |key, at| key.with(&self.keys[at]))
    }
}
