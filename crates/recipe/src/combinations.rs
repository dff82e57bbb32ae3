//! Steps and covers that are often used together, ready to be laid in.

use serde_json::Value;

use crate::document::{Cover, Product, Reading, Step};

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

    /// What steps before it must have left.
    pub fn needs(&self) -> Vec<Product> {
        let mut left: Vec<Product> = Vec::new();
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
            left.extend(step.operation.products());
        }
        needs
    }
}

/// All combinations, in the order in which they are offered.
pub const COMBINATIONS: [Combination; 20] = [
    Combination {
        key: "mountain-range",
        title: "Range of mountains",
        about: "High ground that rises and is cut by branching valleys, with fans at its foot.",
        json: include_str!("../combinations/steps/mountain-range.json"),
    },
    Combination {
        key: "worn-highland",
        title: "Worn-down highland",
        about: "An old land: broad valleys, low rises, and a few hard hills left over.",
        json: include_str!("../combinations/steps/worn-highland.json"),
    },
    Combination {
        key: "folded-hills",
        title: "Folded hills",
        about: "Upturned rock, hard and soft in belts: long ridges, and valleys along and across them.",
        json: include_str!("../combinations/steps/folded-hills.json"),
    },
    Combination {
        key: "rolling-hills",
        title: "Rolling hills",
        about: "Wide rounded hills with gentle valleys between.",
        json: include_str!("../combinations/steps/rolling-hills.json"),
    },
    Combination {
        key: "badlands",
        title: "Badlands",
        about: "Soft ground, cut by gullies that branch and branch again.",
        json: include_str!("../combinations/steps/badlands.json"),
    },
    Combination {
        key: "cut-volcano",
        title: "Volcano cut by gullies",
        about: "A cone with valleys that run down from its top on all sides.",
        json: include_str!("../combinations/steps/cut-volcano.json"),
    },
    Combination {
        key: "island",
        title: "Island",
        about: "High ground that sinks into the sea on all sides, with valleys down to a broken coast.",
        json: include_str!("../combinations/steps/island.json"),
    },
    Combination {
        key: "canyon-country",
        title: "Canyon country",
        about: "A plateau of level beds, hard and soft in turn, cut by canyons with steps in their walls.",
        json: include_str!("../combinations/steps/canyon-country.json"),
    },
    Combination {
        key: "scarplands",
        title: "Scarplands",
        about: "Tilted beds worn down: long gentle backs, and steep scarps that all face one way.",
        json: include_str!("../combinations/steps/scarplands.json"),
    },
    Combination {
        key: "karst",
        title: "Karst towers",
        about: "Steep towers of limestone on a washed plain.",
        json: include_str!("../combinations/steps/karst.json"),
    },
    Combination {
        key: "cratered",
        title: "Cratered ground",
        about: "Craters of every size, the great ones worn, on rough high ground.",
        json: include_str!("../combinations/steps/cratered.json"),
    },
    Combination {
        key: "drawn-canyon",
        title: "Canyon along a course",
        about: "Broad upper walls and stepped ones below along a drawn line, closed at its head, with spires, mounds and scree on its floor.",
        json: include_str!("../combinations/steps/drawn-canyon.json"),
    },
    Combination {
        key: "gorge-through-ridge",
        title: "Gorge through a ridge",
        about: "A drawn ridge, and a river that has cut its way through it.",
        json: include_str!("../combinations/steps/gorge-through-ridge.json"),
    },
    Combination {
        key: "sea-stacks",
        title: "Coast with sea stacks",
        about: "A drawn line of cliffs: land on its left, on its right a shelf with stacks that the sea has left standing.",
        json: include_str!("../combinations/steps/sea-stacks.json"),
    },
    Combination {
        key: "drawn-ridges",
        title: "Peak with drawn ridges",
        about: "A single mountain whose ridges run where they are drawn, cut by valleys between.",
        json: include_str!("../combinations/steps/drawn-ridges.json"),
    },
    Combination {
        key: "fine-detail",
        title: "Fine detail where it belongs",
        about: "Small bumps on ground up to 25°, not in gullies and not on cliffs, then a little thermal erosion so that they sit in the land.",
        json: include_str!("../combinations/steps/fine-detail.json"),
    },
    Combination {
        key: "detail-on-deposits",
        title: "Rubble on deposits",
        about: "Rough ground where water has laid it down, smooth where it has cut. Needs erosion by water before it.",
        json: include_str!("../combinations/steps/detail-on-deposits.json"),
    },
    Combination {
        key: "scree",
        title: "Scree below cliffs",
        about: "Cliffs crumble to the angle at which rubble rests, and the scree settles at their foot.",
        json: include_str!("../combinations/steps/scree.json"),
    },
    Combination {
        key: "weathering",
        title: "Fine weathering around outcrops",
        about: "A second, finer rain for detail; outcrops keep their height. Needs rock outcrops before it.",
        json: include_str!("../combinations/steps/weathering.json"),
    },
    Combination {
        key: "valley-floors",
        title: "Valley floors",
        about: "Sediment settles in hollows, and what is gentle already becomes level.",
        json: include_str!("../combinations/steps/valley-floors.json"),
    },
];

/// Covers that are often used together.
#[derive(Clone, Copy, Debug)]
pub struct CoverCombination {
    /// Its name in requests.
    pub key: &'static str,
    /// Its name on screen.
    pub title: &'static str,
    /// What it is for.
    pub about: &'static str,
    json: &'static str,
}

impl CoverCombination {
    /// The covers, bottom first; their ids are unlike one another, but not yet
    /// unlike those of a recipe.
    ///
    /// # Panics
    /// Never: a test reads every combination.
    pub fn covers(&self) -> Vec<Cover> {
        serde_json::from_str(self.json).expect("combinations are valid; a test reads each")
    }

    /// The covers as they stand in a recipe.
    pub fn document(&self) -> Value {
        serde_json::to_value(self.covers()).expect("plain data")
    }
}

/// All combinations of covers, in the order in which they are offered.
pub const COVER_COMBINATIONS: [CoverCombination; 10] = [
    CoverCombination {
        key: "grass-and-rock",
        title: "Grass on gentle slopes, rock on steep ones",
        about: "Rock everywhere, grass where it is gentle, and thin turf between them to soften the change.",
        json: include_str!("../combinations/covers/grass-and-rock.json"),
    },
    CoverCombination {
        key: "woods",
        title: "Woods on slopes and in hollows",
        about: "Trees seen from afar, where it is neither level nor high above the land around, with a ragged edge.",
        json: include_str!("../combinations/covers/woods.json"),
    },
    CoverCombination {
        key: "heath",
        title: "Heath on the tops",
        about: "Brown scrub on whatever stands above the land around, down to where it is steep.",
        json: include_str!("../combinations/covers/heath.json"),
    },
    CoverCombination {
        key: "snow-line",
        title: "Snow line",
        about: "Snow above a height with a ragged edge, on faces that are not too steep to hold it.",
        json: include_str!("../combinations/covers/snow-line.json"),
    },
    CoverCombination {
        key: "scree-below-cliffs",
        title: "Scree below cliffs",
        about: "Loose stones at their angle of rest, low on a slope and below higher ground.",
        json: include_str!("../combinations/covers/scree-below-cliffs.json"),
    },
    CoverCombination {
        key: "silt-on-flats",
        title: "Silt on flats",
        about: "Fine mud where it is level and water gathers.",
        json: include_str!("../combinations/covers/silt-on-flats.json"),
    },
    CoverCombination {
        key: "moss",
        title: "Moss in damp shade",
        about: "Cushions in gullies and at the foot of walls, with a ragged edge.",
        json: include_str!("../combinations/covers/moss.json"),
    },
    CoverCombination {
        key: "under-water",
        title: "Another ground under water",
        about: "Sand below the sea, and below water that a step has left.",
        json: include_str!("../combinations/covers/under-water.json"),
    },
    CoverCombination {
        key: "red-beds",
        title: "Beds of dry country",
        about: "Sandstone with pale hard beds, debris below, dry scrub on the flats and sand in the washes. Needs ages or rivers before it.",
        json: include_str!("../combinations/covers/red-beds.json"),
    },
    CoverCombination {
        key: "dust",
        title: "Airless ground",
        about: "Grey rubble, dark dust where it is level, fresh rock where it is steep.",
        json: include_str!("../combinations/covers/dust.json"),
    },
];
