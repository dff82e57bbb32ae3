//! The demo landscapes.

use std::path::Path;

use recipe::Recipe;

use crate::config::StartError;
use crate::documents::Documents;
use crate::store::Store;

/// Loads every recipe in `folder` into a database that has no landscape yet
/// and never had one.
pub(crate) async fn load_once(
    store: &Store,
    documents: &Documents,
    folder: &Path,
) -> Result<(), StartError> {
    if store.was_ever_used().await? {
        return Ok(());
    }
    let mut files = Vec::new();
    let mut entries = tokio::fs::read_dir(folder).await?;
    while let Some(entry) = entries.next_entry().await? {
        if entry
            .path()
            .extension()
            .is_some_and(|extension| extension == "json")
        {
            files.push(entry.path());
        }
    }
    files.sort();
    for file in files {
        let text = tokio::fs::read_to_string(&file).await?;
        let recipe = Recipe::from_json(&text)
            .map_err(|error| StartError::Demo(format!("{}: {error}", file.display())))?;
        let made = documents.create("Demo", recipe).await;
        made.map_err(|error| StartError::Demo(error.to_string()))?;
    }
    Ok(())
}
