//! Writing one file, or to standard output.

use std::fs::{self, File};
use std::io::{self, BufWriter, Cursor, Seek, Write};
use std::path::Path;

use anyhow::{Context, ensure};
use formats::WriteError;

/// Where a file goes while it is written.
pub trait Sink: Write + Seek {}
impl<T: Write + Seek> Sink for T {}

/// Whether a path means standard input or output.
pub fn is_standard(path: &Path) -> bool {
    path == Path::new("-")
}

/// The file appears under its name once it is complete; - is standard output.
pub fn write_file(
    path: &Path,
    fill: impl FnOnce(&mut dyn Sink) -> Result<(), WriteError>,
) -> anyhow::Result<()> {
    if is_standard(path) {
        // Formats go back in what they write, and a pipe cannot.
        let mut whole = Cursor::new(Vec::new());
        fill(&mut whole)?;
        return say(whole.get_ref());
    }
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

/// Sends the one file called `name` of a folder to standard output.
pub fn send_file(folder: &Path, name: &str) -> anyhow::Result<()> {
    let path = folder.join(name);
    ensure!(path.exists(), "{name} was not written");
    let mut file = File::open(&path)?;
    let mut out = io::stdout().lock();
    io::copy(&mut file, &mut out).context("standard output")?;
    Ok(out.flush()?)
}

fn say(bytes: &[u8]) -> anyhow::Result<()> {
    let mut out = io::stdout().lock();
    out.write_all(bytes).context("standard output")?;
    Ok(out.flush()?)
}
