//! Heights cut off flat at the top.

use serde_json::{Value, json};

use super::{Finding, Looked, percent, replace};
use crate::steps::Operation;

/// A top is flat when this share of the land is within a centimetre of it.
const WORTH_SAYING: f64 = 0.005;
const SAME_M: f32 = 0.01;
/// Heights are left alone up to this share of the way to the cut.
const LEFT_ALONE: f32 = 0.5;

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
    // The last step of the land that cuts off at this height.
    let (path, steps) = looked.land();
    let cuts = steps.iter().enumerate().filter(|(_, step)| step.on);
    let mut cuts = cuts.filter_map(|(k, step)| match &step.operation {
        Operation::Clip(clip) if (clip.high_m as f32 - high).abs() < 1.0 => {
            let (low, highest) = looked.stages[k].range();
            let points = bent(low, high, highest);
            let bend = json!({ "curve": { "points": points } });
            let path = format!("{path}/{k}/do");
            Some((step, replace("Bend the tops instead", path, bend)))
        }
        Operation::Rescale(rescale) if rescale.clip => {
            let path = format!("{path}/{k}/do/rescale/clip");
            Some((step, replace("Do not cut off", path, json!(false))))
        }
        _ => None,
    });
    let (step, fix) = match cuts.next_back() {
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

/// A curve that brings `highest` down to `high` and leaves low ground alone.
fn bent(low: f32, high: f32, highest: f32) -> Value {
    let knee = (low + LEFT_ALONE * (high - low)).round();
    let point = |before: f32, after: f32| json!({ "before_m": before, "after_m": after });
    json!([
        point(low.floor() - 1.0, low.floor() - 1.0),
        point(knee, knee),
        point(highest.ceil().max(knee + 2.0), high),
    ])
}
