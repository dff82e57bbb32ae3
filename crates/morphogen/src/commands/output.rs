//! Writing one file.

use std::fs::{self, File};
use std::io::BufWriter;
use std::path::Path;

use anyhow::Context;
use formats::WriteError;

/// The file appears under its name once it is complete.
pub fn write_file(
    path: &Path,
    fill: impl FnOnce(&mut BufWriter<File>) -> Result<(), WriteError>,
) -> anyhow::Result<()> {
    let partial = path.with_extension("partial");
    let file = File::create(&partial).with_context(|| path.display().to_string())?;
    let mut out = BufWriter::new(file);
    let written = fill(&mut out)
        .map_err(anyhow::Error::from)
        .and_then(|()| Ok(out.into_inner().map(drop)?))
        .and_then(|()| Ok(fs::rename(&partial, path)?));
    written
        .with_context(|| path.display().to_string())
        .inspect_err(|_| {
            let _ = fs::remove_file(&partial);
        })
}
