//! Land too gentle for what crumbles.

use serde_json::json;
use terrain::reading::slope_deg;

use super::{Finding, Fix, Looked};
use crate::document::Step;
use crate::steps::Operation;

/// Less of the land than this, and nobody sees that it crumbles.
const HARDLY_ANY: f64 = 0.002;
/// The share of the land that does when the way out is taken.
const SOME: f64 = 0.1;
/// Whatever it is made of, ground that is less steep than this stands.
const LEAST_DEG: f32 = 3.0;

pub(super) fn look(looked: &Looked) -> Vec<Finding> {
    let (path, steps) = looked.land();
    let gentle = steps.iter().enumerate().filter_map(|(k, step)| {
        let (rests_deg, gives_deg) = crumbles_nowhere(looked, k, step)?;
        let to = format!("{path}/{k}/do/crumble");
        let patch = [
            ("material", json!("own_angle")),
            ("talus_deg", json!(gives_deg)),
        ];
        let patch = patch.map(|(name, value)| json!({ "op": "add", "path": format!("{to}/{name}"), "value": value }));
        Some(Finding {
            rule: "gentle",
            step: Some(step.id.clone()),
            finding: format!("Hardly any of the land is as steep as {rests_deg:.0}°."),
            why: "Only what is steeper than its stable angle crumbles; gentler land stays as it was.",
            fix: Some(Fix {
                label: format!("Let the steepest tenth crumble, at {gives_deg:.0}°"),
                patch: patch.into(),
            }),
        })
    });
    gentle.collect()
}

/// Of a step by which next to nothing crumbles: the angle at which what it is made of rests,
/// and the one at which some of the land would crumble.
pub(super) fn crumbles_nowhere(looked: &Looked, k: usize, step: &Step) -> Option<(f64, f64)> {
    let Operation::Crumble(crumble) = &step.operation else {
        return None;
    };
    if !step.on {
        return None;
    }
    let slopes = slope_deg(&looked.stages[k], looked.frame.cell_m);
    let mut slopes = slopes.values().to_vec();
    slopes.sort_unstable_by(f32::total_cmp);
    let steeper_than = |share: f64| slopes[((1.0 - share) * (slopes.len() - 1) as f64) as usize];
    let rests_deg = crumble.rests_deg();
    let gives_deg = steeper_than(SOME).floor();
    let nowhere = f64::from(steeper_than(HARDLY_ANY)) < rests_deg && gives_deg >= LEAST_DEG;
    nowhere.then_some((rests_deg, gives_deg.into()))
}
