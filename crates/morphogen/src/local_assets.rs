//! Imported files from a folder.

use std::collections::HashMap;
use std::fs;
use std::path::Path;
use std::sync::Arc;

use anyhow::Context;
use formats::{Limits, read_picture};
use recipe::grow::Image;
use recipe::{Assets, Recipe};

/// The files that one recipe needs.
pub struct LocalAssets(HashMap<String, Arc<Image>>);

impl LocalAssets {
    /// Reads what `recipe` names from `folder`.
    pub fn load(recipe: &Recipe, folder: &Path) -> anyhow::Result<Self> {
        let mut loaded = HashMap::new();
        for name in recipe.asset_names() {
            let path = folder.join(name);
            let bytes = fs::read(&path).with_context(|| path.display().to_string())?;
            let picture = read_picture(&bytes, Limits::default())
                .with_context(|| path.display().to_string())?;
            let image = Image::of(picture.channels, picture.units.white());
            loaded.insert(name.to_owned(), Arc::new(image));
        }
        Ok(Self(loaded))
    }
}

impl Assets for LocalAssets {
    fn image(&self, id: &str) -> Option<Arc<Image>> {
        self.0.get(id).cloned()
    }
}
