//! A folder being filled. A file appears under its name once it is complete.

use std::collections::HashMap;
use std::fs::{self, File};
use std::io::{self, BufWriter, Write};
use std::path::{Path, PathBuf};
use std::sync::Arc;

use formats::{PixelKind, PngRows, WriteError};

use crate::DeliverError;
use crate::manifest::{Facts, MANIFEST, listed};

/// A folder being filled.
pub(crate) struct Folder<'a> {
    dir: &'a Path,
    pub(crate) written: Vec<PathBuf>,
    facts: HashMap<String, Facts>,
}

impl<'a> Folder<'a> {
    /// The folder `dir`, which is made when it is not there.
    pub(crate) fn at(dir: &'a Path) -> Result<Self, DeliverError> {
        fs::create_dir_all(dir).map_err(|error| DeliverError::Write {
            path: dir.to_owned(),
            source: error.into(),
        })?;
        Ok(Self {
            dir,
            written: Vec::new(),
            facts: HashMap::new(),
        })
    }

    /// Says more of a file, for the list of all.
    pub(crate) fn note(&mut self, name: &str, facts: Facts) {
        self.facts.insert(name.to_owned(), facts);
    }

    /// Writes the list of all that was written, beside what is said of the whole.
    pub(crate) fn write_manifest(
        &mut self,
        mut said: serde_json::Value,
    ) -> Result<(), DeliverError> {
        let mut files = Vec::new();
        for path in &self.written {
            let name = path.file_name().unwrap_or_default().to_string_lossy();
            let file = listed(path, self.facts.get(&*name));
            files.push(file.map_err(|error| DeliverError::Write {
                path: path.clone(),
                source: error.into(),
            })?);
        }
        said["files"] = files.into();
        self.write_json(MANIFEST, &said)
    }

    /// Writes a file at one go.
    pub(crate) fn write(
        &mut self,
        name: &str,
        fill: impl FnOnce(&mut BufWriter<File>) -> Result<(), WriteError>,
    ) -> Result<(), DeliverError> {
        let partial = self.partial(name);
        let written = (|| {
            let mut out = BufWriter::new(File::create(&partial)?);
            fill(&mut out)?;
            out.into_inner()
                .map_err(io::IntoInnerError::into_error)?
                .sync_all()?;
            Ok(())
        })();
        self.settle(name, written)
    }

    pub(crate) fn write_json(
        &mut self,
        name: &str,
        value: &serde_json::Value,
    ) -> Result<(), DeliverError> {
        let text = serde_json::to_string_pretty(value).expect("plain data");
        self.write_text(name, &text)
    }

    pub(crate) fn write_text(&mut self, name: &str, text: &str) -> Result<(), DeliverError> {
        self.write(name, |out| Ok(out.write_all(text.as_bytes())?))
    }

    /// Begins a picture that is written row by row.
    pub(crate) fn begin_png(
        &mut self,
        name: String,
        kind: PixelKind,
        cols: usize,
        rows: usize,
    ) -> Result<OpenPng, DeliverError> {
        let begun = (|| {
            let file = Arc::new(File::create(self.partial(&name))?);
            let rows = PngRows::begin(file.clone(), kind, cols, rows)?;
            Ok((file, rows))
        })();
        match begun {
            Ok((file, rows)) => Ok(OpenPng {
                partial: self.partial(&name),
                name,
                file,
                rows: Some(rows),
            }),
            Err(error) => Err(self.give_up(&name, error)),
        }
    }

    /// Writes more rows of a picture.
    pub(crate) fn push(&mut self, png: &mut OpenPng, bytes: &[u8]) -> Result<(), DeliverError> {
        let rows = png.rows.as_mut().expect("open until it is finished");
        let pushed = rows.push(bytes);
        pushed.map_err(|error| self.give_up(&png.name, error))
    }

    /// Ends a picture, all of whose rows are written.
    pub(crate) fn finish_png(&mut self, mut png: OpenPng) -> Result<(), DeliverError> {
        let rows = png.rows.take().expect("open until it is finished");
        let finished = rows
            .finish()
            .and_then(|()| png.file.sync_all().map_err(WriteError::from));
        self.settle(&png.name, finished)
    }

    fn partial(&self, name: &str) -> PathBuf {
        self.dir.join(format!("{name}.partial"))
    }

    /// Gives a file its name, if it was written.
    fn settle(&mut self, name: &str, written: Result<(), WriteError>) -> Result<(), DeliverError> {
        let path = self.dir.join(name);
        if self.written.contains(&path) {
            let twice = io::Error::new(io::ErrorKind::AlreadyExists, "another file has this name");
            return Err(self.give_up(name, twice.into()));
        }
        let renamed = written.and_then(|()| Ok(fs::rename(self.partial(name), &path)?));
        renamed.map_err(|error| self.give_up(name, error))?;
        self.written.push(path);
        Ok(())
    }

    fn give_up(&self, name: &str, source: WriteError) -> DeliverError {
        // The complaint about the write matters, not one about tidying up.
        let _ = fs::remove_file(self.partial(name));
        DeliverError::Write {
            path: self.dir.join(name),
            source,
        }
    }
}

/// A picture that is being written. When it is dropped before it was finished,
/// nothing of it is left.
pub(crate) struct OpenPng {
    name: String,
    partial: PathBuf,
    file: Arc<File>,
    rows: Option<PngRows<Arc<File>>>,
}

impl Drop for OpenPng {
    fn drop(&mut self) {
        // Not there any more when it was finished.
        let _ = fs::remove_file(&self.partial);
    }
}
