//! The list of what was delivered: each file with its hash, size, unit and range.

use std::fs::File;
use std::io::{self, Read};
use std::path::Path;

use serde::Serialize;
use serde_json::{Value, json};
use sha2::{Digest, Sha256};

/// The name of the list's own file.
pub(crate) const MANIFEST: &str = "manifest.json";

/// Bytes read at a time.
const AT_A_TIME: usize = 1 << 18;

/// What is known of a file beside its bytes.
#[derive(Clone, Debug, Default, PartialEq, Serialize)]
pub(crate) struct Facts {
    #[serde(skip_serializing_if = "Option::is_none")]
    layer: Option<String>,
    #[serde(skip_serializing_if = "Option::is_none")]
    cols: Option<usize>,
    #[serde(skip_serializing_if = "Option::is_none")]
    rows: Option<usize>,
    #[serde(skip_serializing_if = "Option::is_none")]
    unit: Option<&'static str>,
    #[serde(skip_serializing_if = "Option::is_none")]
    range: Option<[f32; 2]>,
    #[serde(skip_serializing_if = "Option::is_none")]
    triangles: Option<usize>,
}

impl Facts {
    /// Of a map of a layer.
    pub(crate) fn map(layer: impl Into<String>) -> Self {
        Self {
            layer: Some(layer.into()),
            ..Self::default()
        }
    }

    /// So many columns and rows.
    pub(crate) fn of_size(mut self, (cols, rows): (usize, usize)) -> Self {
        (self.cols, self.rows) = (Some(cols), Some(rows));
        self
    }

    /// Of a mesh.
    pub(crate) fn mesh(triangles: usize) -> Self {
        Self {
            layer: Some("mesh".to_owned()),
            triangles: Some(triangles),
            ..Self::default()
        }
    }

    /// Its values are in this unit, as they are in the file or as its steps mean them.
    pub(crate) fn in_unit(mut self, unit: &'static str) -> Self {
        self.unit = Some(unit).filter(|unit| !unit.is_empty());
        self
    }

    /// Its values lie between these.
    pub(crate) fn between(mut self, (low, high): (f32, f32)) -> Self {
        self.range = Some([low, high]);
        self
    }
}

/// One file as the list has it.
pub(crate) fn listed(path: &Path, facts: Option<&Facts>) -> io::Result<Value> {
    let mut hash = Sha256::new();
    let mut file = File::open(path)?;
    let mut some = vec![0; AT_A_TIME];
    let mut bytes = 0;
    loop {
        match file.read(&mut some)? {
            0 => break,
            count => {
                hash.update(&some[..count]);
                bytes += count;
            }
        }
    }
    let digest = hash.finalize();
    let mut said = json!({
        "file": path.file_name().map(|name| name.to_string_lossy()),
        "bytes": bytes,
        "sha256": digest.iter().map(|byte| format!("{byte:02x}")).collect::<String>(),
    });
    if let (Some(said), Some(facts)) = (said.as_object_mut(), facts) {
        let facts = serde_json::to_value(facts).unwrap_or_default();
        said.extend(facts.as_object().cloned().unwrap_or_default());
    }
    Ok(said)
}
