//! How much memory the program takes from the machine.

use std::fs;
use std::process::{Command, Stdio};
use std::thread::sleep;
use std::time::Duration;

use serde_json::json;
use tempfile::TempDir;

use crate::support::path;

/// Cells along either side.
const CELLS: usize = 2048;
/// So many fields at most, the program included: water works on twelve, and a second copy of
/// what it moves, or blocks kept that are free, would be four and five more.
const FIELDS: f64 = 18.5;

/// The most memory that a process has had so far, bytes; `None` when it is gone.
fn most_of(process: u32) -> Option<f64> {
    let status = fs::read_to_string(format!("/proc/{process}/status")).ok()?;
    let most = status
        .lines()
        .find_map(|line| line.strip_prefix("VmHWM:"))?;
    let kib: f64 = most.trim().strip_suffix(" kB")?.parse().ok()?;
    Some(1024.0 * kib)
}

#[test]
fn water_takes_few_fields() {
    let folder = TempDir::new().expect("a folder");
    let recipe = folder.path().join("recipe.json");
    let document = json!({
        "version": 5, "name": "Test", "sea_level_m": -10_000,
        "extent": { "width_m": 12_000, "depth_m": 12_000 },
        "strands": [{ "name": "land", "steps": [
            { "id": "noise", "name": "Noise", "combine": "add",
              "do": { "noise": { "height_m": 600, "feature_m": 6000 } } },
            { "id": "water", "name": "Water",
              "do": { "water": { "hollows": "keep", "duration": 20 } } },
        ] }],
    });
    fs::write(&recipe, document.to_string()).expect("it is written");
    let mut grows = Command::new(env!("CARGO_BIN_EXE_morphogen"))
        .args(["grow", path(&recipe), "--cells", &CELLS.to_string()])
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
    let fields = most / (4 * CELLS * CELLS) as f64;
    println!("{fields:.1} fields");
    assert!(fields < FIELDS, "{fields:.1} fields, {most} bytes");
}
