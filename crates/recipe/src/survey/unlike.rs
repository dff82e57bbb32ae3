//! Land that does not look like nature's.

use serde_json::json;
use terrain::Run;
use terrain::erosion::{Nature, nature};

use super::{Finding, Fix, Looked, percent};

/// What real elevation models stay below where no lakes are: folded hills have 5.5 % of
/// their cells in closed hollows and 16 % of their channels uphill, high mountains 2 and 3.
const HOLLOWS: f64 = 0.08;
const UPHILL: f64 = 0.2;
/// A hundredth of real land on cells of 10 m and more is steeper than 23 to 45 degrees;
/// of towers of limestone it may be 70.
const STEEP_DEG: f64 = 75.0;
/// The skewness of the Laplacian of real land is between -0.5 and 0.5, by and large.
const SKEW: f64 = 2.0;

pub(super) fn look(looked: &Looked) -> Vec<Finding> {
    let (path, steps) = looked.land();
    let sea = looked.recipe.sea_level_m as f32;
    let cell_m = looked.frame.cell_m;
    let Ok(found) = nature(looked.heights(), cell_m, sea, Run::to_the_end()) else {
        return Vec::new();
    };
    let lakes = steps
        .iter()
        .any(|step| step.on && step.operation.means_hollows());
    let Some((finding, why)) = said(&found, lakes) else {
        return Vec::new();
    };
    let fix = Fix {
        label: "Add long-term erosion on top".to_owned(),
        patch: vec![json!({ "op": "add", "path": format!("{path}/-"), "value": {
            "id": fresh_id(looked), "name": "Long-term erosion", "do": { "ages": {} },
        } })],
    };
    vec![Finding {
        rule: "unlike",
        step: None,
        finding,
        why,
        fix: Some(fix),
    }]
}

/// The first measure that is outside the range of real land, in words. Where `lakes` are
/// meant, hollows are.
fn said(found: &Nature, lakes: bool) -> Option<(String, &'static str)> {
    let (surface, uphill) = (&found.surface, found.channels.uphill);
    if surface.hollows > HOLLOWS && !lakes {
        let share = percent(surface.hollows);
        return Some((
            format!("{share} of the land lies in hollows that water cannot leave."),
            "Real land without lakes has next to none: rivers have opened or filled them.",
        ));
    }
    if uphill > UPHILL && !lakes {
        let share = percent(uphill);
        return Some((
            format!("{share} of the channels lead uphill."),
            "Real rivers run down all the way; here nothing has cut through what is between.",
        ));
    }
    if surface.slope_steep_deg > STEEP_DEG {
        let steep = surface.slope_steep_deg;
        return Some((
            format!("A hundredth of the land is steeper than {steep:.0}°."),
            "Real slopes give way: on cells of this size a hundredth is steeper than 45° at most.",
        ));
    }
    if surface.skew.abs() > SKEW {
        let skew = surface.skew;
        return Some((
            format!("The land bends far more one way than the other: a skew of {skew:.1}."),
            "Real crests are about as sharp as real valleys, from -0.5 to 0.5: look for spikes, cracks, creases and moats.",
        ));
    }
    None
}

/// An id that no step has.
fn fresh_id(looked: &Looked) -> String {
    let taken = |id: &str| looked.steps().any(|(_, step)| step.id == id);
    let mut ids = std::iter::once("ages".to_owned()).chain((2..).map(|k| format!("ages-{k}")));
    ids.find(|id| !taken(id)).expect("ids do not run out")
}
