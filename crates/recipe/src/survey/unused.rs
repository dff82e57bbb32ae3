//! Strands that nothing takes in.

use serde_json::json;

use super::{Finding, Fix, Looked};
use crate::document::LAND;

pub(super) fn look(looked: &Looked) -> Vec<Finding> {
    let taken: Vec<&str> = looked
        .recipe
        .strands
        .iter()
        .flat_map(|strand| &strand.steps)
        .filter_map(|step| step.operation.takes_in())
        .collect();
    let strands = looked.recipe.strands.iter().enumerate();
    strands
        .filter(|(_, strand)| strand.name != LAND && !taken.contains(&strand.name.as_str()))
        .map(|(i, strand)| Finding {
            rule: "unused",
            step: None,
            finding: format!("Nothing takes in the strand ‘{}’.", strand.name),
            why: "It has no part in the land until a step takes it in.",
            fix: Some(Fix {
                label: "Remove the strand".to_owned(),
                patch: vec![json!({ "op": "remove", "path": format!("/strands/{i}") })],
            }),
        })
        .collect()
}
