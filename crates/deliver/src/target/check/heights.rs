//! Heights: between which values they lie, and in how fine steps.

use super::{Finding, Looked, Weight};
use crate::fields::FieldFormat;
use crate::{Layer, ValueRange};

/// The greatest half float.
const MOST_OF_HALF: f32 = 65_504.0;

impl Looked<'_> {
    /// One step of heights in 16 bits, metres.
    pub(super) fn step_m(&self) -> f32 {
        self.order.range.of_heights(self.heights.range()).step()
    }
}

/// Steps so high that level ground becomes terraces.
pub(super) fn coarse_steps(looked: &Looked) -> Option<Finding> {
    let allowed = looked.bounds.largest_step_m?;
    let step_m = looked.step_m();
    if !looked.has_steps() || step_m <= allowed {
        return None;
    }
    let fitting = ValueRange::Fit.of_heights(looked.heights.range()).step();
    let finding = format!(
        "16-bit heights go up in steps of {step_m:.3} m, the target asks for {allowed} m at most: \
         slopes would show bands."
    );
    Some(match fitting <= allowed {
        true => looked.found(
            ("steps", Weight::Wrong),
            finding,
            ("Fit the range to the land".to_owned(), |wish| {
                wish.range = ValueRange::Fit;
            }),
        ),
        false => looked.found(
            ("steps", Weight::Wrong),
            finding,
            ("Heights as floats".to_owned(), |wish| {
                wish.fields = FieldFormat::Tif;
                wish.layers.retain(|layer| layer != "height16");
                if !wish.layers.iter().any(|layer| layer == "height") {
                    wish.layers.push("height".to_owned());
                }
            }),
        ),
    })
}

/// Heights that the given range cuts off.
pub(super) fn cut_off(looked: &Looked) -> Option<Finding> {
    if !looked.has_steps() {
        return None;
    }
    let (low, high) = looked.heights.range();
    let steps = looked.order.range.of_heights((low, high));
    let beyond = steps.beyond(&looked.heights);
    if beyond == 0 {
        return None;
    }
    let share = 100.0 * beyond as f64 / looked.heights.values().len() as f64;
    // Hundreds are easy to remember, and leave room for finer cells.
    let black = 100.0 * ((low - 1.0) / 100.0).floor();
    let white = 100.0 * ((high + 1.0) / 100.0).ceil();
    Some(looked.found(
        ("range", Weight::Wrong),
        format!(
            "The land lies between {low:.0} and {high:.0} m; {share:.1} % of it is cut off by the \
             range from {} to {} m.",
            steps.black, steps.white
        ),
        (format!("{black:.0} to {white:.0} m"), |wish| {
            wish.range = ValueRange::Given { black, white };
        }),
    ))
}

/// Steps where the target asks for floats.
pub(super) fn in_steps(looked: &Looked) -> Option<Finding> {
    if !looked.bounds.floats || !looked.order.fields.in_steps() {
        return None;
    }
    Some(looked.found(
        ("floats", Weight::Wrong),
        format!(
            "Heights are written as {}; the target asks for floats.",
            looked.order.fields.title()
        ),
        ("OpenEXR, float32".to_owned(), |wish| {
            wish.fields = FieldFormat::Exr
        }),
    ))
}

/// Heights that half floats hold only in coarse steps, or not at all.
pub(super) fn beyond_halves(looked: &Looked) -> Option<Finding> {
    let (low, high) = looked.heights.range();
    let most = low.abs().max(high.abs());
    let height = looked.order.layers.contains(&Layer::Height);
    // Eleven binary digits: from 1,024 m up whole metres, below that halves.
    let step = (most.max(1.0).log2().floor() - 10.0).exp2();
    let fine = looked.bounds.largest_step_m.unwrap_or(0.5);
    if looked.order.fields != FieldFormat::ExrHalf
        || !height
        || (step <= fine && most < MOST_OF_HALF)
    {
        return None;
    }
    Some(looked.found(
        ("halves", Weight::Doubtful),
        format!(
            "Half floats hold heights near {most:.0} m in steps of {step} m: slopes would show bands."
        ),
        ("OpenEXR, float32".to_owned(), |wish| wish.fields = FieldFormat::Exr),
    ))
}
