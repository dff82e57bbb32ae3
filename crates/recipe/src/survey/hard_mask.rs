//! A displacement through a mask that was not blurred.

use serde_json::json;

use super::{Finding, Looked, replace};

/// A blur of this many cells hides a mask's edge.
const CELLS: f64 = 3.0;

pub(super) fn look(looked: &Looked) -> Vec<Finding> {
    looked
        .steps()
        .filter(|(_, step)| step.operation.displaces())
        .filter(|(_, step)| step.mask.as_ref().is_some_and(|mask| mask.is_hard()))
        .map(|(path, step)| {
            let blur_m = (CELLS * looked.cell_m).max(1.0).round();
            Finding {
                rule: "hard_mask",
                step: Some(step.id.clone()),
                finding: "The mask of this displacement is not blurred.".to_owned(),
                why: "A mask that follows every small form makes the ground bulk out in blobs.",
                fix: replace(
                    &format!("Blur it over {blur_m} m"),
                    format!("{path}/mask/blur_m"),
                    json!(blur_m),
                ),
            }
        })
        .collect()
}
