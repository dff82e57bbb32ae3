//! Work of the hand that does not show, and courses that water could not run along.

use serde_json::json;

use super::{Finding, Looked, replace};
use crate::document::{Combine, Step};
use crate::steps::{Group, Operation};

/// A brush narrower than so many cells leaves little of itself.
const LEAST_CELLS: f64 = 2.0;
/// Water may climb so far along a valley by hand before it is said, metres.
const CLIMBS_M: f64 = 8.0;

pub(super) fn look(looked: &Looked) -> Vec<Finding> {
    let fine = looked
        .steps()
        .filter_map(|(_, step)| fine_strokes(looked, step));
    let mut findings: Vec<Finding> = fine.collect();
    let (path, steps) = looked.land();
    for (k, step) in steps.iter().enumerate().filter(|(_, step)| step.on) {
        let hidden = matches!(step.operation.group(), Group::Hand)
            .then(|| steps[k + 1..].iter().position(covers_all))
            .flatten();
        if let Some(after) = hidden {
            let cover = &steps[k + 1 + after];
            findings.push(Finding {
                rule: "hidden",
                step: Some(step.id.clone()),
                finding: format!(
                    "“{}” above it covers all that was done by hand.",
                    cover.name
                ),
                why: "A step that replaces the land everywhere leaves nothing of what lies below.",
                fix: replace(
                    "Add it to the land",
                    format!("{path}/{}/combine", k + 1 + after),
                    json!(Combine::Add.name()),
                ),
            });
        }
        // One that falls all the way has been seen to.
        if let Operation::Course(course) = &step.operation
            && !course.falls
        {
            let climbs_m = course.climbs_m(&looked.stages[k + 1], &looked.frame);
            if climbs_m > CLIMBS_M {
                findings.push(Finding {
                    rule: "uphill",
                    step: Some(step.id.clone()),
                    finding: format!("Along its valley water would have to climb {climbs_m:.0} m."),
                    why: "A river that was drawn over a rise stands still there and makes a lake.",
                    fix: replace(
                        "Let it fall all the way",
                        format!("{path}/{k}/do/course/falls"),
                        json!(true),
                    ),
                });
            }
        }
    }
    findings
}

fn fine_strokes(looked: &Looked, step: &Step) -> Option<Finding> {
    let Operation::HandWork(work) = &step.operation else {
        return None;
    };
    let least_m = LEAST_CELLS * looked.cell_m;
    let fine = work.strokes.iter().filter(|stroke| stroke.size_m < least_m);
    let count = fine.count();
    (count > 0).then(|| Finding {
        rule: "fine-strokes",
        step: Some(step.id.clone()),
        finding: format!(
            "{count} of {} strokes are narrower than two cells of {:.3} m.",
            work.strokes.len(),
            looked.cell_m
        ),
        why: "They show in part at this resolution, and in full only on finer cells.",
        fix: None,
    })
}

/// Whether nothing of what lies below a step is left above it.
fn covers_all(step: &Step) -> bool {
    let makes = matches!(step.operation.group(), Group::Make);
    let whole = step.mask.is_none() && step.amount >= 1.0;
    step.on && makes && whole && step.combine == Combine::Replace
}
