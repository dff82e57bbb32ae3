//! A small landscape that shows what a kind of step does.

use serde_json::json;

use super::{Group, kind_sheets};
use crate::document::Recipe;

/// Side of the example, metres; the defaults of all kinds are made for it.
const SIDE_M: f64 = 8000.0;

/// A recipe that shows what a kind of step does: on its own when it makes
/// shape, on a plain piece of land otherwise. `None` when there is no such
/// kind, or when it needs an imported file.
pub fn example(kind: &str) -> Option<Recipe> {
    let sheet = kind_sheets().into_iter().find(|sheet| sheet.kind == kind)?;
    let mut parameters = sheet.example?;
    let mut strands = Vec::new();
    if parameters["strand"].is_string() {
        parameters["strand"] = json!("piece");
        strands.push(json!({ "name": "piece", "steps": [
            { "id": "piece-1", "name": "Crater", "combine": "add", "do": { "primitive": {
                "form": "crater", "height_m": 500, "width_m": 6000, "depth_m": 6000 } } },
            { "id": "piece-2", "name": "Rubble", "combine": "add", "do": { "noise": {
                "character": "billow", "height_m": 100, "offset_m": 15, "feature_m": 900, "warp_m": 0 } } },
        ] }));
    }
    let mut steps = Vec::new();
    if sheet.group != Group::Make {
        steps.push(
            json!({ "id": "base", "name": "Land", "combine": "add", "do": { "noise": {
            "character": "ridged", "height_m": 930, "feature_m": 3600, "octaves": 7,
            "offset_m": 110, "warp_m": 0, "seed": 4 } } }),
        );
    }
    for &before in sheet.example_after {
        steps.push(json!({ "id": before, "name": before, "do": { before: {} } }));
    }
    steps.push(json!({
        "id": "shown", "name": sheet.title, "combine": sheet.combine.name(),
        "do": { kind: parameters },
    }));
    strands.insert(0, json!({ "name": "land", "steps": steps }));
    let document = json!({
        "version": Recipe::VERSION, "name": sheet.title, "sea_level_m": sheet.example_sea_m,
        "extent": { "width_m": SIDE_M, "depth_m": SIDE_M * 0.7 },
        "sun": { "bearing_deg": 315, "altitude_deg": 30 },
        "strands": strands,
        "covers": [{ "id": "stone", "name": "Stone", "colour": "#b5ada0" }],
    });
    Recipe::from_value(document).ok()
}
