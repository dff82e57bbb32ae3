//! A fall-off that leaves a step at the border.

use serde_json::json;

use super::{Finding, Fix, Looked};
use crate::steps::Operation;
use terrain::shape::Outline;

/// A rim may stand this far from the level that the land sinks to, as a share
/// of the land's height.
const ALLOWED: f32 = 0.03;

pub(super) fn look(looked: &Looked) -> Vec<Finding> {
    let (path, steps) = looked.land();
    let is_fall_off = |operation: &Operation| matches!(operation, Operation::FallOff(_));
    let Some(at) = steps
        .iter()
        .rposition(|step| step.on && is_fall_off(&step.operation))
    else {
        return Vec::new();
    };
    let Operation::FallOff(fall_off) = &steps[at].operation else {
        return Vec::new();
    };
    let heights = looked.heights();
    let (low, high) = heights.range();
    let level = fall_off.level_m as f32;
    let (rows, cols) = (heights.rows(), heights.cols());
    let sides = |r: usize| [heights.at(0, r), heights.at(cols - 1, r)];
    let ends = |c: usize| [heights.at(c, 0), heights.at(c, rows - 1)];
    let rim: Vec<f32> = match fall_off.outline {
        Outline::WestEast => (0..rows).flat_map(sides).collect(),
        Outline::NorthSouth => (0..cols).flat_map(ends).collect(),
        Outline::Frame | Outline::Oval => (0..rows)
            .flat_map(sides)
            .chain((0..cols).flat_map(ends))
            .collect(),
    };
    // Under the sea nobody sees it.
    let sea = looked.recipe.sea_level_m as f32;
    if rim.iter().all(|height| *height < sea) && level < sea {
        return Vec::new();
    }
    let worst = rim.iter().map(|h| (h - level).abs()).fold(0.0, f32::max);
    if worst <= ALLOWED * (high - low).max(1.0) {
        return Vec::new();
    }
    let last = steps.len() - 1;
    let moved =
        json!({ "op": "move", "from": format!("{path}/{at}"), "path": format!("{path}/{last}") });
    let in_full = [
        json!({ "op": "add", "path": format!("{path}/{last}/amount"), "value": 1 }),
        json!({ "op": "add", "path": format!("{path}/{last}/combine"), "value": "replace" }),
    ];
    let bare = json!({ "op": "remove", "path": format!("{path}/{last}/mask") });
    let patch = std::iter::once(moved)
        .chain(in_full)
        .chain(steps[at].mask.is_some().then_some(bare))
        .collect();
    vec![Finding {
        rule: "rim",
        step: Some(steps[at].id.clone()),
        finding: format!("The border stands up to {worst:.0} m off the level of the fall-off."),
        why: "Steps after a fall-off raise the border again, and the land ends in a wall.",
        fix: Some(Fix {
            label: "Let it sink last, and in full".to_owned(),
            patch,
        }),
    }]
}
