//! The front end is embedded into the program, which cargo does not see by itself: the
//! program depends on what it embeds.

use std::fs;
use std::hash::{DefaultHasher, Hash, Hasher};
use std::path::Path;
use std::time::SystemTime;

fn main() {
    let folder = Path::new("../../web/dist");
    // A folder that is not there counts as changed each time.
    println!("cargo:rerun-if-changed={}", folder.display());
    println!("cargo:rerun-if-changed=migrations");
    let mut hasher = DefaultHasher::new();
    note(folder, &mut hasher);
    println!("cargo:rustc-env=MORPHOGEN_WEB={:x}", hasher.finish());
}

/// Notes every file: what it is called, how large it is and when it was written.
fn note(folder: &Path, hasher: &mut DefaultHasher) {
    let mut entries: Vec<_> = fs::read_dir(folder)
        .into_iter()
        .flatten()
        .filter_map(Result::ok)
        .map(|entry| entry.path())
        .collect();
    entries.sort();
    for path in entries {
        path.hash(hasher);
        if let Ok(about) = fs::metadata(&path) {
            let written = about.modified().unwrap_or(SystemTime::UNIX_EPOCH);
            (about.len(), written).hash(hasher);
        }
        if path.is_dir() {
            println!("cargo:rerun-if-changed={}", path.display());
            note(&path, hasher);
        }
    }
}
