//! Landscapes to begin with, each of a kind of country, made from steps only.

use crate::document::Recipe;

/// A landscape to begin with.
#[derive(Clone, Copy, Debug)]
pub struct Preset {
    /// Its name in requests.
    pub key: &'static str,
    /// Its name on screen.
    pub title: &'static str,
    /// What kind of country it is.
    pub about: &'static str,
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
pub const PRESETS: [Preset; 7] = [
    Preset {
        key: "hollin-fjord",
        title: "Hollin Fjord",
        about: "A sea inlet between steep walls, with hanging valleys and a plateau with old snow.",
        json: include_str!("../../../demo/hollin-fjord.json"),
    },
    Preset {
        key: "alpine-range",
        title: "Alpine range",
        about: "A high range with its valleys, and a basin between that its rivers fill.",
        json: include_str!("../presets/alpine-range.json"),
    },
    Preset {
        key: "tower-karst",
        title: "Tower karst",
        about: "Steep limestone towers on a flooded plain.",
        json: include_str!("../presets/tower-karst.json"),
    },
    Preset {
        key: "loess-badlands",
        title: "Loess badlands",
        about: "Soft layers, cut by branching gullies down to the plain.",
        json: include_str!("../presets/loess-badlands.json"),
    },
    Preset {
        key: "drumlin-field",
        title: "Drumlin field",
        about: "Long low hills, all drawn out the way the ice went, with lakes between.",
        json: include_str!("../presets/drumlin-field.json"),
    },
    Preset {
        key: "tilted-scarplands",
        title: "Tilted scarplands",
        about: "Tilted beds of rock: long gentle backs, abrupt steps, scree below.",
        json: include_str!("../presets/tilted-scarplands.json"),
    },
    Preset {
        key: "crater-highlands",
        title: "Crater highlands",
        about: "Old craters of every size on rough high ground.",
        json: include_str!("../presets/crater-highlands.json"),
    },
];
