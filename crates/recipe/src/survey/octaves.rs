//! Layers of noise that no grid here can carry.

use serde_json::json;

use super::{Finding, Looked, replace};

/// A layer is carried from this many cells for its features on (Nyquist).
const LEAST_CELLS: f64 = 2.0;
/// One or two layers too many do no harm.
const TOO_MANY: f64 = 2.0;

pub(super) fn look(looked: &Looked) -> Vec<Finding> {
    let mut findings = Vec::new();
    for (path, step) in looked.steps() {
        let Some((feature_m, octaves, lacunarity)) = step.operation.octaves() else {
            continue;
        };
        // Layers until the features are two cells wide.
        let cells = feature_m / (LEAST_CELLS * looked.cell_m);
        let carried = (1.0 + cells.max(1.0).ln() / lacunarity.ln()).ceil();
        if octaves <= carried + TOO_MANY {
            continue;
        }
        let path = format!("{path}/do/{}/octaves", step.operation.key());
        findings.push(Finding {
            rule: "octaves",
            step: Some(step.id.clone()),
            finding: format!(
                "{:.0} of {octaves:.0} layers are finer than two cells of {:.3} m.",
                octaves - carried,
                looked.cell_m
            ),
            why: "Layers finer than the grid are left out; the same land at a higher \
                  resolution would turn rougher than what you see.",
            fix: replace(&format!("{carried} layers"), path, json!(carried)),
        });
    }
    findings
}
