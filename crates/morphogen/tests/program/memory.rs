//! How much memory the program takes from the machine.

use std::fs;
use std::process::{Command, Stdio};
use std::thread::sleep;
use std::time::Duration;

use serde_json::{Value, json};
use tempfile::TempDir;

use crate::support::path;

/// The most memory that a process has had so far, bytes; `None` when it is gone.
fn most_of(process: u32) -> Option<f64> {
    let status = fs::read_to_string(format!("/proc/{process}/status")).ok()?;
    let most = status
        .lines()
        .find_map(|line| line.strip_prefix("VmHWM:"))?;
    let kib: f64 = most.trim().strip_suffix(" kB")?.parse().ok()?;
    Some(1024.0 * kib)
}

/// The most memory that the program takes to grow noise of 12 km with a step on it, bytes.
fn most_to_grow(step: &Value, cells: usize) -> f64 {
    let folder = TempDir::new().expect("a folder");
    let recipe = folder.path().join("recipe.json");
    let document = json!({
        "version": 5, "name": "Test", "sea_level_m": -10_000,
        "extent": { "width_m": 12_000, "depth_m": 12_000 },
        "strands": [{ "name": "land", "steps": [
            { "id": "noise", "name": "Noise", "combine": "add",
              "do": { "noise": { "height_m": 600, "feature_m": 6000 } } },
            { "id": "process", "name": "Process", "do": step },
        ] }],
    });
    fs::write(&recipe, document.to_string()).expect("it is written");
    let mut grows = Command::new(env!("CARGO_BIN_EXE_morphogen"))
        .args(["grow", path(&recipe), "--cells", &cells.to_string()])
        .args(["--cache", "16", "--only", "height"])
        .args(["--out", path(&folder.path().join("out"))])
        .stderr(Stdio::null())
        .spawn()
        .expect("it runs");
    let mut most = 0.0;
    let ended = loop {
        if let Some(ended) = grows.try_wait().expect("it is a child") {
            break ended;
        }
        most = most_of(grows.id()).unwrap_or(most);
        sleep(Duration::from_millis(20));
    };
    assert!(ended.success());
    most
}

/// Fields of a number for each cell that so many bytes are.
fn fields(bytes: f64, cells: usize) -> f64 {
    bytes / (4 * cells * cells) as f64
}

/// The program included. Water works on twelve; a second copy of what it moves, or blocks kept
/// that are free, would be four and five more.
#[test]
fn water_takes_few_fields() {
    const CELLS: usize = 2048;
    let water = json!({ "water": { "hollows": "keep", "duration": 20 } });
    let fields = fields(most_to_grow(&water, CELLS), CELLS);
    println!("{fields:.1} fields");
    assert!(fields < 18.5, "{fields:.1} fields");
}

/// The program included, which is nine fields of this size. Ages work on some twenty-six; where
/// the water went in the step before, what is known of each node of the whole land, and accounts
/// that nobody asks for, would be four, six and three more.
#[test]
fn ages_take_few_fields() {
    const CELLS: usize = 1024;
    /// The country around the land included.
    const WIDE: usize = CELLS + 2 * CELLS * 10 / 64;
    let fields = fields(most_to_grow(&json!({ "ages": {} }), CELLS), WIDE);
    println!("{fields:.1} fields");
    assert!(fields < 39.0, "{fields:.1} fields");
}
