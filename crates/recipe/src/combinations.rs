//! Steps that are often used together, ready to be laid in.

use serde_json::Value;

use crate::document::{Reading, Step, Trace};

/// Steps that are often used together.
#[derive(Clone, Copy, Debug)]
pub struct Combination {
    /// Its name in requests.
    pub key: &'static str,
    /// Its name on screen.
    pub title: &'static str,
    /// What it is for.
    pub about: &'static str,
    json: &'static str,
}

impl Combination {
    /// The steps; their ids are unlike one another, but not yet unlike those
    /// of a recipe.
    ///
    /// # Panics
    /// Never: a test reads every combination.
    pub fn steps(&self) -> Vec<Step> {
        serde_json::from_str(self.json).expect("combinations are valid; a test reads each")
    }

    /// The steps as they stand in a recipe.
    pub fn document(&self) -> Value {
        serde_json::to_value(self.steps()).expect("plain data")
    }

    /// Traces that steps before it must have left.
    pub fn needs(&self) -> Vec<Trace> {
        let mut left: Vec<Trace> = Vec::new();
        let mut needs = Vec::new();
        for step in self.steps() {
            let own = step.operation.masks();
            for mask in step.mask.iter().chain(own) {
                for term in &mask.terms {
                    if let Reading::Trace(trace) = term.of
                        && !left.contains(&trace)
                        && !needs.contains(&trace)
                    {
                        needs.push(trace);
                    }
                }
            }
            left.extend(step.operation.traces());
        }
        needs
    }
}

/// All combinations, in the order in which they are offered.
pub const COMBINATIONS: [Combination; 5] = [
    Combination {
        key: "fine-detail",
        title: "Fine detail where it belongs",
        about: "Small bumps on ground up to 25°, not in gullies and not on cliffs, then a little crumbling so that they sit in the land.",
        json: include_str!("../combinations/fine-detail.json"),
    },
    Combination {
        key: "detail-on-deposits",
        title: "Rubble on deposits",
        about: "Rough ground where water has laid it down, smooth where it has cut. Needs erosion by water before it.",
        json: include_str!("../combinations/detail-on-deposits.json"),
    },
    Combination {
        key: "scree",
        title: "Scree below cliffs",
        about: "Cliffs crumble to the angle at which rubble rests, and the scree settles at their foot.",
        json: include_str!("../combinations/scree.json"),
    },
    Combination {
        key: "weathering",
        title: "Finer weathering that spares outcrops",
        about: "A second, finer rain for detail; outcrops keep their height. Needs rock outcrops before it.",
        json: include_str!("../combinations/weathering.json"),
    },
    Combination {
        key: "valley-floors",
        title: "Valley floors",
        about: "Sediment settles in hollows, and what is gentle already becomes level.",
        json: include_str!("../combinations/valley-floors.json"),
    },
];
