//! Imported heightfields from a folder.

use std::collections::HashMap;
use std::fs;
use std::path::Path;
use std::sync::Arc;

use anyhow::Context;
use formats::{Limits, read_heightfield};
use recipe::{Assets, Recipe};
use terrain::Grid;

/// The heightfields that one recipe needs.
pub struct LocalAssets(HashMap<String, Arc<Grid>>);

impl LocalAssets {
    /// Reads what `recipe` names from `folder`.
    pub fn load(recipe: &Recipe, folder: &Path) -> anyhow::Result<Self> {
        let mut loaded = HashMap::new();
        for name in recipe.asset_names() {
            let path = folder.join(name);
            let bytes = fs::read(&path).with_context(|| path.display().to_string())?;
            let heightfield = read_heightfield(&bytes, Limits::default())
                .with_context(|| path.display().to_string())?;
            loaded.insert(name.to_owned(), Arc::new(heightfield.values));
        }
        Ok(Self(loaded))
    }
}

impl Assets for LocalAssets {
    fn heightfield(&self, id: &str) -> Option<Arc<Grid>> {
        self.0.get(id).cloned()
    }
}
