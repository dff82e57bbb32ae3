//! Steps without effect.

use serde_json::json;

use super::{Finding, Looked, gentle, replace};

/// Less than this, nobody sees: root mean square of the change, metres.
const NOTHING_M: f64 = 1e-4;

pub(super) fn look(looked: &Looked) -> Vec<Finding> {
    let (path, steps) = looked.land();
    let mut findings = Vec::new();
    for (k, step) in steps.iter().enumerate().filter(|(_, step)| step.on) {
        let (before, after) = (&looked.stages[k], &looked.stages[k + 1]);
        let change = after.zip_map(before, |after, before| (after - before).powi(2));
        let rms_m = (change.sum() / looked.frame.cells() as f64).sqrt();
        // Of what could crumble and does not more is said.
        if rms_m >= NOTHING_M || gentle::crumbles_nowhere(looked, k, step).is_some() {
            continue;
        }
        findings.push(Finding {
            rule: "idle",
            step: Some(step.id.clone()),
            finding: "This step changes nothing.".to_owned(),
            why: "Its amount may be 0, its mask empty, or its range beyond the land's heights.",
            fix: replace("Switch it off", format!("{path}/{k}/on"), json!(false)),
        });
    }
    findings
}
