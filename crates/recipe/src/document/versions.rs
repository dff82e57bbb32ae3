//! Versions of the format: a recipe of any earlier one opens for ever.
//!
//! A change of the format that older documents do not fit adds a function here,
//! which makes a document of one version one of the next, and a recipe of the older
//! version to the tests.

use serde_json::Value;

use super::error::Place;
use super::{Recipe, RecipeError};
use crate::steps::Noise;

/// Makes a document of one version one of the next.
type Step = fn(&mut Value);

/// From version 1 to 2, from 2 to 3 …
const STEPS: [Step; Recipe::VERSION as usize - 1] = [
    heights_of_noise,
    rock_without_belts,
    before_patches,
    wide_valleys,
    notches,
    bare_beds,
    without_terraces,
];

/// The settings of all steps of a kind.
fn settings<'d>(document: &'d mut Value, kind: &'d str) -> impl Iterator<Item = &'d mut Value> {
    let strands = document.get_mut("strands").and_then(Value::as_array_mut);
    let steps = strands.into_iter().flatten();
    let steps = steps.filter_map(|strand| strand.get_mut("steps")?.as_array_mut());
    let steps = steps.flatten();
    steps.filter_map(move |step| step.get_mut("do")?.get_mut(kind))
}

/// What steps did when nothing was said: of a kind, the settings with their values.
type Was = (&'static str, &'static [(&'static str, f64)]);

/// Says what was not said: the land stays as it was.
fn say(document: &mut Value, was: &[Was]) {
    for (kind, settings_were) in was {
        for step in settings(document, kind).filter_map(Value::as_object_mut) {
            for &(name, value) in *settings_were {
                step.entry(name).or_insert_with(|| value.into());
            }
        }
    }
}

/// Up to version 2 ages knew no belts of rock; from 3 on there are some.
fn rock_without_belts(document: &mut Value) {
    say(document, &[("ages", &[("belts", 0.0)])]);
}

/// Up to version 3 ages and rivers knew no patches of rock, rivers had less time in
/// rock that is harder, differs less and rises faster, and gullies were shallow.
fn before_patches(document: &mut Value) {
    const RIVERS: [(&str, f64); 6] = [
        ("patches", 0.0),
        ("duration_kyr", 1500.0),
        ("strength", 1.0),
        ("variety", 0.6),
        ("uplift_m_kyr", 0.6),
        ("steepest_deg", 38.0),
    ];
    let was: [Was; 3] = [
        ("ages", &[("patches", 0.0)]),
        ("rivers", &RIVERS),
        ("water", &[("gullies", 0.6)]),
    ];
    say(document, &was);
}

/// Up to version 4 small valleys were wider apart, patches of rock stood out more, and ages
/// laid down more of what they carried.
fn wide_valleys(document: &mut Value) {
    const AGES: [(&str, f64); 3] = [("patches", 0.65), ("spacing_m", 250.0), ("sediment", 0.7)];
    const RIVERS: [(&str, f64); 3] = [("patches", 0.65), ("creep", 0.02), ("strength", 1.75)];
    say(document, &[("ages", &AGES), ("rivers", &RIVERS)]);
}

/// Up to version 5 rivers made no floors for themselves.
fn notches(document: &mut Value) {
    const NONE: [(&str, f64); 1] = [("floors_m", 0.0)];
    say(document, &[("ages", &NONE), ("rivers", &NONE)]);
}

/// Up to version 6 rivers left their beds bare in the end.
fn bare_beds(document: &mut Value) {
    say(document, &[("ages", &[("fill_m", 0.0)])]);
}

/// Up to version 7 rivers did not cut into their fill again.
fn without_terraces(document: &mut Value) {
    say(document, &[("ages", &[("terraces", 0.0)])]);
}

/// In version 1 the height of noise was what was possible; from 2 on it is what is found, and
/// noise is warped a little.
/// The land stays as it was.
fn heights_of_noise(document: &mut Value) {
    /// What it was when nothing was said.
    const HEIGHT_M: f64 = 600.0;
    for noise in settings(document, "noise") {
        // Of all but cells it made no difference.
        if noise.get("basis").is_none_or(|basis| basis != "cellular")
            && let Some(complement) = noise.get_mut("complement")
        {
            *complement = false.into();
        }
        // What cannot be read is refused, in words, when all of it is read.
        let Ok(known) = serde_json::from_value::<Noise>(noise.clone()) else {
            continue;
        };
        let possible_m = noise.get("height_m").and_then(Value::as_f64);
        let half_m = 0.5 * possible_m.unwrap_or(HEIGHT_M);
        // It was not warped unless that was said.
        if noise.get("warp_m").is_none() {
            noise["warp_m"] = 0.into();
        }
        if let Some((height_m, offset_m)) = known.as_it_was(half_m) {
            noise["height_m"] = height_m.into();
            noise["offset_m"] = offset_m.into();
        }
    }
}

/// A document as the newest version has it.
///
/// # Errors
/// When it was written by a newer version of the program.
pub(super) fn brought_up(document: Value) -> Result<Value, RecipeError> {
    brought_up_by(&STEPS, document)
}

fn brought_up_by(steps: &[Step], mut document: Value) -> Result<Value, RecipeError> {
    let newest = steps.len() as u64 + 1;
    // Without a version it is refused, in words, when it is read.
    let Some(version) = document.get("version").and_then(Value::as_u64) else {
        return Ok(document);
    };
    if version > newest {
        let reason = format!(
            "it was written by a newer version of the program; this one reads up to {newest}"
        );
        let place = Place::at(&document, &["version"]);
        return Err(RecipeError::unfit(
            place,
            "version",
            &version.to_string(),
            reason,
        ));
    }
    let first = usize::try_from(version.saturating_sub(1)).unwrap_or(0);
    for (step, next) in steps.iter().zip(2_u64..).skip(first) {
        step(&mut document);
        document["version"] = next.into();
    }
    Ok(document)
}

#[cfg(test)]
mod tests {
    use serde_json::{Value, json};

    use super::{Step, brought_up_by};

    /// Two changes of a format that never was.
    const STEPS: [Step; 2] = [
        |document| document["names"] = json!([document["name"].take()]),
        |document| document["count"] = json!(document["names"].as_array().map_or(0, Vec::len)),
    ];

    #[test]
    fn each_version_goes_through_all_that_came_after() {
        let brought = |document: Value| brought_up_by(&STEPS, document).expect("it is known");
        let third = json!({ "version": 3, "name": null, "names": ["Tor"], "count": 1 });
        assert_eq!(brought(json!({ "version": 1, "name": "Tor" })), third);
        assert_eq!(
            brought(json!({ "version": 2, "name": null, "names": ["Tor"] })),
            third
        );
        assert_eq!(brought(third.clone()), third);
    }

    #[test]
    fn a_newer_version_says_so() {
        let newer = brought_up_by(&STEPS, json!({ "version": 4 })).expect_err("refused");
        assert!(
            newer.to_string().contains("newer version of the program"),
            "{newer}"
        );
    }
}
