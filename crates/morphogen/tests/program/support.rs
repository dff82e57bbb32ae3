//! Running programs and reading what they wrote.

use std::path::{Path, PathBuf};
use std::process::{Command, Output};

use formats::{Limits, read_heightfield};
use terrain::Grid;

/// A file of the repository.
pub fn repository(path: &str) -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR"))
        .join("../..")
        .join(path)
}

/// Runs `morphogen` with `arguments`.
pub fn morphogen(arguments: &[&str]) -> Output {
    Command::new(env!("CARGO_BIN_EXE_morphogen"))
        .args(arguments)
        .output()
        .expect("it runs")
}

/// Runs a program that must succeed; what it printed.
pub fn run(program: &str, arguments: &[&str]) -> String {
    let output = Command::new(program)
        .args(arguments)
        .output()
        .unwrap_or_else(|error| panic!("{program}: {error}; ./check installs it"));
    let said = String::from_utf8_lossy(&output.stderr).into_owned();
    assert!(output.status.success(), "{program} {arguments:?}: {said}");
    String::from_utf8_lossy(&output.stdout).into_owned()
}

pub fn path(path: &Path) -> &str {
    path.to_str().expect("a plain path")
}

pub fn values(file: &Path) -> Grid {
    let bytes = std::fs::read(file).expect("the file is there");
    read_heightfield(&bytes, Limits::default())
        .expect("a heightfield")
        .values
}
