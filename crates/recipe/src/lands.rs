//! Lands to begin with: a kind of country on any piece of ground.

use serde_json::{Value, json};

use crate::combinations::{COMBINATIONS, COVER_COMBINATIONS, Combination};
use crate::document::{LandExtent, Recipe};
use crate::steps::kind_sheets;

/// A kind of country to begin with.
#[derive(Clone, Copy, Debug)]
pub struct Land {
    /// Its name in requests: that of the combination of steps that makes it, if one does.
    pub key: &'static str,
    /// The side of a piece that shows it well, metres.
    pub side_m: f64,
    /// The combinations of covers that lie on it.
    covers: &'static [&'static str],
}

/// All of them, in the order in which they are offered.
pub const LANDS: [Land; 13] = [
    land("flat", 8_000.0, &[]),
    land("noise", 12_000.0, &[]),
    land(
        "mountain-range",
        16_000.0,
        &["grass-and-rock", "scree-below-cliffs", "snow-line"],
    ),
    land("worn-highland", 12_000.0, &["grass-and-rock", "heath"]),
    land("island", 9_000.0, &["grass-and-rock"]),
    land("folded-hills", 16_000.0, &["grass-and-rock", "woods"]),
    land(
        "rolling-hills",
        10_000.0,
        &["grass-and-rock", "heath", "woods"],
    ),
    land("canyon-country", 12_000.0, &["red-beds"]),
    land("badlands", 4_000.0, &["red-beds"]),
    land("scarplands", 12_000.0, &["red-beds"]),
    land("cut-volcano", 10_000.0, &["grass-and-rock"]),
    land("karst", 6_000.0, &["grass-and-rock"]),
    land("cratered", 12_000.0, &["dust"]),
];

const fn land(key: &'static str, side_m: f64, covers: &'static [&'static str]) -> Land {
    Land {
        key,
        side_m,
        covers,
    }
}

impl Land {
    /// The combination of steps that makes it; none for the plainest two.
    fn made(&self) -> Option<&'static Combination> {
        COMBINATIONS.iter().find(|made| made.key == self.key)
    }

    /// Its name on screen.
    pub fn title(&self) -> &'static str {
        match self.made() {
            Some(made) => made.title,
            None if self.key == "flat" => "Level ground",
            None => "Plain noise",
        }
    }

    /// What it is like.
    pub fn about(&self) -> &'static str {
        match self.made() {
            Some(made) => made.about,
            None if self.key == "flat" => "Nothing yet, a little above the sea.",
            None => "Layered noise above the sea, for processes to begin on.",
        }
    }

    /// The recipe of this land on a piece of ground, called `name`.
    ///
    /// # Panics
    /// Never: a test makes every land.
    pub fn recipe(&self, name: &str, extent: LandExtent) -> Recipe {
        let mut document =
            serde_json::to_value(Recipe::flat(name, extent)).expect("recipes are plain data");
        let (steps, lifted_m) = self.steps(extent);
        document["strands"][0]["steps"] = steps;
        // A little lower than usual: gentle land shows its forms.
        document["sun"]["altitude_deg"] = json!(30);
        let covers = self.covers.iter().flat_map(|key| {
            let mut all = COVER_COMBINATIONS.iter();
            let found = all.find(|combination| combination.key == *key);
            let covers = found.expect("a test makes every land").document();
            covers.as_array().cloned().unwrap_or_default()
        });
        document["covers"] = covers.map(|cover| lifted(cover, lifted_m)).collect();
        Recipe::from_value(document).expect("lands are valid; a test makes each")
    }

    /// The steps, and by how much they lie higher than the combination that makes them.
    fn steps(&self, extent: LandExtent) -> (Value, f64) {
        /// How high level ground lies above the sea, metres.
        const ABOVE_M: f64 = 50.0;
        let longest_m = extent.width_m.max(extent.depth_m);
        match self.made() {
            Some(made) => above_the_sea(in_the_middle(made.document(), extent)),
            None if self.key == "flat" => (
                json!([{
                    "id": "ground", "name": "Ground", "combine": "add",
                    "do": { "noise": { "height_m": 0, "offset_m": ABOVE_M } },
                }]),
                0.0,
            ),
            // As high as a twentieth of the land's side, and all dry.
            None => (
                json!([{
                    "id": "noise", "name": "Layered noise", "combine": "add",
                    "do": { "noise": {
                        "feature_m": (longest_m / 2.0).round(),
                        "height_m": (longest_m / 20.0).round(),
                        "offset_m": (longest_m / 20.0 + ABOVE_M).round(),
                    } },
                }]),
                0.0,
            ),
        }
    }
}

/// The steps with what stands in no particular place in the middle of the land.
fn in_the_middle(mut steps: Value, extent: LandExtent) -> Value {
    let sheets = kind_sheets();
    let operations = steps.as_array_mut().into_iter().flatten();
    for operation in operations.filter_map(|step| step["do"].as_object_mut()) {
        for (kind, values) in operation {
            let Some(sheet) = sheets.iter().find(|sheet| sheet.kind == kind) else {
                continue;
            };
            let parameters = sheet.schema["properties"].as_object();
            for (name, parameter) in parameters.into_iter().flatten() {
                let middle_m = match parameter["x-place"].as_str() {
                    Some("x") => 0.5 * extent.width_m,
                    Some(_) => 0.5 * extent.depth_m,
                    None => continue,
                };
                if values[name] == sheet.defaults[name] {
                    values[name] = json!(middle_m);
                }
            }
        }
    }
    steps
}

/// The steps with what they begin with lifted, so that all of it is dry; and by how much.
fn above_the_sea(mut steps: Value) -> (Value, f64) {
    let first = steps[0]["do"].get_mut("noise");
    if let Some(noise) = first.and_then(Value::as_object_mut)
        && noise.get("basis").is_none_or(|basis| basis != "cellular")
    {
        let number = |key: &str| noise.get(key).and_then(Value::as_f64).unwrap_or(0.0);
        let (height, offset) = (number("height_m").abs(), number("offset_m"));
        let dry_m = offset.max(height);
        noise.insert("offset_m".to_owned(), json!(dry_m));
        return (steps, dry_m - offset);
    }
    (steps, 0.0)
}

/// A cover that begins and ends at heights, moved up with the land.
fn lifted(mut cover: Value, by_m: f64) -> Value {
    let terms = cover
        .pointer_mut("/mask/terms")
        .and_then(Value::as_array_mut);
    for term in terms
        .into_iter()
        .flatten()
        .filter(|term| term["of"] == "height")
    {
        for end in ["from", "to"] {
            if let Some(at) = term.get(end).and_then(Value::as_f64) {
                term[end] = json!(at + by_m);
            }
        }
    }
    cover
}
