//! Whole landscapes to begin with: each of a kind of country, or an example of one job;
//! made from steps only.

use crate::document::Recipe;

/// A landscape to begin with.
#[derive(Clone, Copy, Debug)]
pub struct Preset {
    /// Its name in requests.
    pub key: &'static str,
    /// Its name on screen.
    pub title: &'static str,
    /// What kind of country it is, or what it shows.
    pub about: &'static str,
    /// Whether it is an example of one job, and not a whole piece of country.
    pub example: bool,
    json: &'static str,
}

impl Preset {
    /// The recipe.
    ///
    /// # Panics
    /// Never: a test reads every preset.
    pub fn recipe(&self) -> Recipe {
        Recipe::from_json(self.json).expect("presets are valid; a test reads each")
    }
}

/// All presets, in the order in which they are offered.
pub const PRESETS: [Preset; 19] = [
    Preset {
        key: "hollin-fjord",
        title: "Hollin Fjord",
        about: "A sea inlet between steep walls, with hanging valleys and a plateau with old snow.",
        example: false,
        json: include_str!("../../../demo/hollin-fjord.json"),
    },
    Preset {
        key: "alpine-range",
        title: "Alpine range",
        about: "A high range with its valleys, and a basin between that its rivers fill.",
        example: false,
        json: include_str!("../presets/alpine-range.json"),
    },
    Preset {
        key: "canyon-country",
        title: "Canyon country",
        about: "A plateau of hard and soft beds, cut by canyons with steps in their walls.",
        example: false,
        json: include_str!("../presets/canyon-country.json"),
    },
    Preset {
        key: "tilted-scarplands",
        title: "Tilted scarplands",
        about: "Tilted beds of rock: long gentle backs, abrupt steps, scree below.",
        example: false,
        json: include_str!("../presets/tilted-scarplands.json"),
    },
    Preset {
        key: "loess-badlands",
        title: "Loess badlands",
        about: "Soft layers, cut by branching gullies down to the plain.",
        example: false,
        json: include_str!("../presets/loess-badlands.json"),
    },
    Preset {
        key: "tower-karst",
        title: "Tower karst",
        about: "Steep limestone towers on a flooded plain.",
        example: false,
        json: include_str!("../presets/tower-karst.json"),
    },
    Preset {
        key: "drumlin-field",
        title: "Drumlin field",
        about: "Long low hills, all drawn out the way the ice went, with lakes between.",
        example: false,
        json: include_str!("../presets/drumlin-field.json"),
    },
    Preset {
        key: "crater-highlands",
        title: "Crater highlands",
        about: "Old craters of every size on rough high ground.",
        example: false,
        json: include_str!("../presets/crater-highlands.json"),
    },
    Preset {
        key: "example-mountain",
        title: "A mountain",
        about: "Noise, then ages: a summit with its ridges, valleys and fans, covered by slope, height and what rivers have laid down.",
        example: true,
        json: include_str!("../../../demo/examples/mountain.json"),
    },
    Preset {
        key: "example-island",
        title: "An island",
        about: "A sunk border, a spine that rises, and rivers that find the sea on all sides.",
        example: true,
        json: include_str!("../../../demo/examples/island.json"),
    },
    Preset {
        key: "example-radial-peak",
        title: "A peak with radial valleys",
        about: "A cone that rivers cut from its top on all sides.",
        example: true,
        json: include_str!("../../../demo/examples/radial-peak.json"),
    },
    Preset {
        key: "example-outcrops",
        title: "Outcrops",
        about: "Rolling hills; rocks stand out of them and are spared by what wears the rest.",
        example: true,
        json: include_str!("../../../demo/examples/outcrops.json"),
    },
    Preset {
        key: "example-stylised-peak",
        title: "A stylised peak",
        about: "Bold planes and benches, few colours: shape before nature.",
        example: true,
        json: include_str!("../../../demo/examples/stylised-peak.json"),
    },
    Preset {
        key: "example-canyon",
        title: "A canyon",
        about: "One river through level beds, with the steps that hard ones leave.",
        example: true,
        json: include_str!("../../../demo/examples/canyon.json"),
    },
    Preset {
        key: "example-drawn-canyon",
        title: "A drawn canyon",
        about: "A line drawn over a plateau: broad upper walls, beds that stand out as steps below, spires, mounds and scree.",
        example: true,
        json: include_str!("../../../demo/examples/drawn-canyon.json"),
    },
    Preset {
        key: "example-sculpted-bay",
        title: "A sculpted bay",
        about: "Strokes of the hand on a low coast: a bay dug, headlands raised and roughened, a point pushed out; ages go by over them, and a beach is made level.",
        example: true,
        json: include_str!("../../../demo/examples/sculpted-bay.json"),
    },
    Preset {
        key: "example-badlands",
        title: "Badlands",
        about: "Soft banded ground, cut by gullies that branch and branch again.",
        example: true,
        json: include_str!("../../../demo/examples/badlands.json"),
    },
    Preset {
        key: "example-snow-line",
        title: "A snow line",
        about: "Snow that lies, slides and melts on a range, and a ground that follows it.",
        example: true,
        json: include_str!("../../../demo/examples/snow-line.json"),
    },
    Preset {
        key: "example-deposit-detail",
        title: "Detail on deposits",
        about: "Rubble only where water has laid ground down, smooth where it has cut.",
        example: true,
        json: include_str!("../../../demo/examples/deposit-detail.json"),
    },
];
