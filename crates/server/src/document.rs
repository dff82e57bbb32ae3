//! A document as it is kept: the recipe, and its JSON without the long lists.

use std::sync::Arc;

use json_patch::{Patch, PatchOperation};
use recipe::{Recipe, RecipeError};
use serde_json::Value;

use crate::bulk::{Lists, filled, patch_apart, patch_filled, reaches_inside, taken_apart};
use crate::patching::difference;
use crate::store::{KeptList, Summary};

/// A recipe, and the document that it is.
#[derive(Debug)]
pub(crate) struct Document {
    pub(crate) recipe: Arc<Recipe>,
    /// The document with the names of long lists of points in their places.
    pub(crate) light: Value,
    /// These lists.
    pub(crate) lists: Lists,
    /// How long it is as text, all in all.
    pub(crate) bytes: usize,
}

impl Document {
    /// The document of `recipe`, which was put together by the program: it is read from what
    /// will be written, and what cannot be read is never stored.
    pub(crate) fn written(recipe: &Recipe) -> Result<Self, RecipeError> {
        Self::read(serde_json::to_value(recipe).expect("a recipe is plain data"))
    }

    /// The document that `whole` is, with all of its lists: read and checked here, once. What
    /// is written of a recipe that was read is read as the same recipe (a test of recipes
    /// holds that for all that a schema allows).
    pub(crate) fn read(whole: Value) -> Result<Self, RecipeError> {
        let recipe = Recipe::from_value(whole)?;
        let text = serde_json::to_string(&recipe).expect("a recipe is plain data");
        let value = serde_json::from_str(&text).expect("it was written just now");
        let mut lists = Lists::new();
        Ok(Self {
            recipe: Arc::new(recipe),
            light: taken_apart(value, &mut lists),
            lists,
            bytes: text.len(),
        })
    }

    /// All of it, lists and all.
    pub(crate) fn whole(&self) -> Value {
        filled(self.light.clone(), &self.lists).expect("it has its own lists")
    }

    /// As it is stored.
    pub(crate) fn text(&self) -> String {
        self.light.to_string()
    }

    /// Its lists but those that `others` has, as they are stored.
    pub(crate) fn lists_beside(&self, others: &Lists) -> Vec<KeptList> {
        let new = self
            .lists
            .iter()
            .filter(|(name, _)| !others.contains_key(*name));
        new.map(|(name, list)| KeptList {
            name: name.clone(),
            points: list.to_string(),
        })
        .collect()
    }

    /// The patch from `before` to this, both without their long lists: as it was given,
    /// with what makes the document as it is written out (`5` becomes `5.0`, and what is
    /// left out when it is as usual goes).
    pub(crate) fn patch_from(&self, before: &Self, given: Patch) -> Patch {
        let whole_way = || difference(&before.light, &self.light);
        if reaches_inside(&given) {
            return whole_way();
        }
        let mut patch = patch_apart(given, &mut Lists::new());
        // What was tested has held, and may not where lists were kept in their places.
        patch
            .0
            .retain(|operation| !matches!(operation, PatchOperation::Test(_)));
        let mut changed = before.light.clone();
        let fits = json_patch::patch(&mut changed, &patch).is_ok();
        // Lists that came and went within the patch are not kept.
        if !fits || patch_filled(patch.clone(), &self.lists).is_err() {
            return whole_way();
        }
        if changed != self.light {
            patch.0.extend(difference(&changed, &self.light).0);
        }
        patch
    }

    pub(crate) fn summary(&self) -> Summary<'_> {
        self.recipe.as_ref().into()
    }
}
