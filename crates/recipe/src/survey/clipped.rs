//! Heights cut off flat at the top.

use serde_json::json;

use super::{Finding, Looked, percent, replace};
use crate::steps::Operation;

/// A top is flat when this share of the land is within a centimetre of it.
const WORTH_SAYING: f64 = 0.005;
const SAME_M: f32 = 0.01;
/// What a softened cut is rounded off over, as a share of the land's height.
const SOFT: f64 = 0.1;

pub(super) fn look(looked: &Looked) -> Vec<Finding> {
    let heights = looked.heights();
    let (low, high) = heights.range();
    if high - low < 1.0 {
        return Vec::new();
    }
    let at_top = |v: &&f32| high - **v < SAME_M;
    let count = heights.values().iter().filter(at_top).count();
    let share = count as f64 / heights.values().len() as f64;
    if share < WORTH_SAYING {
        return Vec::new();
    }
    // The last step that cuts off at this height.
    let cuts = looked
        .steps()
        .filter_map(|(path, step)| match &step.operation {
            Operation::Clip(clip) if (clip.high_m as f32 - high).abs() < 1.0 => {
                let soft = (SOFT * f64::from(high - low)).round().max(1.0);
                let path = format!("{path}/do/clip/soft_m");
                Some((step, replace("Round the cut off", path, json!(soft))))
            }
            Operation::Rescale(rescale) if rescale.clip => {
                let path = format!("{path}/do/rescale/clip");
                Some((step, replace("Do not cut off", path, json!(false))))
            }
            _ => None,
        });
    let (step, fix) = match cuts.last() {
        Some((step, fix)) => (Some(step.id.clone()), fix),
        None => (None, None),
    };
    vec![Finding {
        rule: "clipped",
        step,
        finding: format!("{} of the land is flat at {high:.0} m.", percent(share)),
        why: "Tops that are cut off look like a table, and no later step brings them back.",
        fix,
    }]
}
