//! The survey: each mistake is found, named and mended by its fix.

use recipe::grow::NoAssets;
use recipe::survey::{Finding, survey};
use recipe::{Grower, Recipe};
use serde_json::{Value, json};
use terrain::Run;

use crate::support::with_steps;

fn found(document: &Value) -> Vec<Finding> {
    let recipe = Recipe::from_value(document.clone()).expect("valid");
    let grower = Grower::new(1 << 28);
    survey(&grower, &recipe, &NoAssets, 512, Run::to_the_end()).expect("grows")
}

/// The rule finds something, and its fix takes care of it.
fn check(document: Value, rule: &str, step: Option<&str>) {
    let findings = found(&document);
    let finding = findings.iter().find(|finding| finding.rule == rule);
    let finding = finding.unwrap_or_else(|| panic!("{rule} was not found, only {findings:?}"));
    assert_eq!(finding.step.as_deref(), step);
    assert!(finding.why.len() > 20 && finding.finding.len() > 10);
    let fix = finding.fix.as_ref().expect("a way out");
    let mut mended = document;
    let patch: json_patch::Patch = serde_json::from_value(json!(fix.patch)).expect("a patch");
    json_patch::patch(&mut mended, &patch).expect("it fits");
    let left = found(&mended);
    assert!(
        left.iter().all(|finding| finding.rule != rule),
        "{rule} is still there: {left:?}"
    );
}

fn noise() -> Value {
    json!({ "noise": { "character": "ridged", "height_m": 900, "feature_m": 2500, "octaves": 6 } })
}

fn steps(list: &[(&str, Value)]) -> Value {
    let mut document = with_steps(list);
    for step in document["strands"][0]["steps"]
        .as_array_mut()
        .expect("steps")
        .iter_mut()
        .skip(1)
    {
        step["combine"] = json!("replace");
    }
    document
}

#[test]
fn tops_cut_off_flat() {
    let document = steps(&[
        ("Hills", noise()),
        ("Cut", json!({ "clip": { "high_m": 500 } })),
    ]);
    check(document, "clipped", Some("s1"));
}

#[test]
fn layers_finer_than_the_grid() {
    let fine = json!({ "noise": { "feature_m": 300, "octaves": 14 } });
    check(steps(&[("Fine", fine)]), "octaves", Some("s0"));
}

#[test]
fn a_fall_off_that_leaves_a_wall() {
    let document = steps(&[
        ("Hills", noise()),
        (
            "Sink",
            json!({ "fall_off": { "width_m": 400, "ragged_m": 900 } }),
        ),
        (
            "More",
            json!({ "noise": { "character": "billow", "height_m": 700 } }),
        ),
    ]);
    let mut document = document;
    document["strands"][0]["steps"][2]["combine"] = json!("add");
    check(document, "rim", Some("s1"));
}

#[test]
fn a_displacement_through_a_hard_mask() {
    let mut document = steps(&[("Hills", noise()), ("Rough", json!({ "displace": {} }))]);
    document["strands"][0]["steps"][1]["mask"] =
        json!({ "terms": [{ "of": "slope", "from": 20, "soft_from": 5 }] });
    check(document, "hard_mask", Some("s1"));
}

#[test]
fn a_strand_that_nothing_takes_in() {
    let mut document = steps(&[("Hills", noise())]);
    let strands = document["strands"].as_array_mut().expect("strands");
    strands.push(json!({ "name": "spare", "steps": [] }));
    check(document, "unused", None);
}

#[test]
fn a_step_without_effect() {
    let clip = json!({ "clip": { "low_m": -900, "high_m": 9000 } });
    check(
        steps(&[("Hills", noise()), ("Clip", clip)]),
        "idle",
        Some("s1"),
    );
}

/// Scree rests at 30 to 40 degrees (common practice): gentle hills do not crumble, and are told
/// at which angle some of them would.
#[test]
fn land_too_gentle_to_crumble() {
    let hills = |height_m| json!({ "noise": { "height_m": height_m, "feature_m": 2500 } });
    let crumbling = |height_m| {
        steps(&[
            ("Hills", hills(height_m)),
            ("Scree", json!({ "crumble": {} })),
        ])
    };
    let findings = found(&crumbling(200));
    assert!(
        findings.iter().all(|one| one.rule != "idle"),
        "{findings:?}"
    );
    check(crumbling(200), "gentle", Some("s1"));
    let steep = found(&crumbling(3000));
    assert!(steep.iter().all(|one| one.rule != "gentle"), "{steep:?}");
}

#[test]
fn a_coast_that_is_a_circle_or_a_line() {
    let dome = json!({ "primitive": {
        "form": "dome", "x_m": 3000, "y_m": 2000, "width_m": 3600, "depth_m": 3600,
        "height_m": 500 } });
    let sunk = json!({ "rescale": { "from_high_m": 500, "to_low_m": -100, "to_high_m": 400 } });
    let round = steps(&[("Dome", dome), ("Sink", sunk)]);
    let findings = found(&round);
    assert!(
        findings
            .iter()
            .any(|f| f.rule == "coast" && f.finding.contains("circle")),
        "{findings:?}"
    );
    let one_edge = json!({ "primitive": {
        "form": "linear_gradient", "height_m": 400, "x_m": 3000, "y_m": 2000, "width_m": 6000 } });
    let sunk = json!({ "rescale": { "from_high_m": 400, "to_low_m": -150, "to_high_m": 250 } });
    let line = steps(&[("Ramp", one_edge), ("Sink", sunk)]);
    let findings = found(&line);
    assert!(
        findings
            .iter()
            .any(|f| f.rule == "coast" && f.finding.contains("line")),
        "{findings:?}"
    );
    let island = steps(&[
        (
            "Plain",
            json!({ "noise": { "height_m": 5, "offset_m": 300 } }),
        ),
        (
            "Sink",
            json!({ "cut": {
            "points": (0..24).map(|i| {
                let angle = f64::from(i) * std::f64::consts::TAU / 24.0;
                json!({ "x_m": 3000.0 + 1500.0 * angle.cos(), "y_m": 2000.0 + 1500.0 * angle.sin() })
            }).collect::<Vec<_>>(),
            "width_m": 500, "ragged_m": 0, "level_m": -60 } }),
        ),
    ]);
    check(island, "coast", Some("s1"));
}

/// Bare noise is full of hollows, as no land without lakes is; once ages have gone by
/// over it, it is not.
#[test]
fn land_full_of_hollows_is_unlike_natures() {
    let plain = json!({ "noise": { "height_m": 900, "feature_m": 2500, "offset_m": 600 } });
    check(steps(&[("Hills", plain)]), "unlike", None);
}

/// Where lakes or craters are meant, hollows are no mistake.
#[test]
fn hollows_that_are_meant_are_no_mistake() {
    let plain = json!({ "noise": { "height_m": 900, "feature_m": 2500, "offset_m": 600 } });
    let lakes = json!({ "water": { "hollows": "keep", "duration": 3 } });
    let findings = found(&steps(&[("Hills", plain), ("Rain", lakes)]));
    assert!(
        findings
            .iter()
            .all(|f| f.rule != "unlike" || !f.finding.contains("hollows")),
        "{findings:?}"
    );
}

/// Every way out is an edit that can be made, and says what it does.
#[test]
fn every_fix_fits_the_recipe() {
    let mut seen = std::collections::BTreeSet::new();
    let mut sunk = steps(&[
        (
            "Fine",
            json!({ "noise": { "feature_m": 200, "octaves": 14, "height_m": 900 } }),
        ),
        ("Clip", json!({ "clip": { "low_m": -9000, "high_m": 300 } })),
        (
            "Same",
            json!({ "clip": { "low_m": -9000, "high_m": 9000 } }),
        ),
        ("Rough", json!({ "displace": {} })),
        (
            "Sink",
            json!({ "fall_off": { "width_m": 300, "ragged_m": 900 } }),
        ),
    ]);
    sunk["strands"][0]["steps"][3]["mask"] = json!({ "terms": [{ "of": "slope", "from": 20 }] });
    let strands = sunk["strands"].as_array_mut().expect("strands");
    strands.push(json!({ "name": "spare", "steps": [] }));
    for finding in found(&sunk) {
        let Some(fix) = finding.fix else { continue };
        assert!(fix.label.len() > 5, "{fix:?}");
        let mut mended = sunk.clone();
        let patch: json_patch::Patch = serde_json::from_value(json!(fix.patch)).expect("a patch");
        json_patch::patch(&mut mended, &patch).expect("it fits");
        assert!(mended != sunk, "{fix:?} changes nothing");
        Recipe::from_value(mended).unwrap_or_else(|error| panic!("{}: {error}", fix.label));
        seen.insert(finding.rule);
    }
    for rule in ["octaves", "idle", "hard_mask", "unused"] {
        assert!(seen.contains(rule), "{rule} was not found, only {seen:?}");
    }
}

#[test]
fn a_course_that_runs_uphill() {
    let course = json!({ "course": { "falls": false, "height_m": 60, "width_m": 200, "points": [
        { "x_m": 800, "y_m": 3500 }, { "x_m": 3000, "y_m": 1500 }, { "x_m": 5600, "y_m": 3000 },
    ] } });
    check(
        steps(&[("Hills", noise()), ("Course", course)]),
        "uphill",
        Some("s1"),
    );
}

#[test]
fn hand_work_that_a_later_step_hides() {
    let stroke = json!({ "do": { "raise": { "by_m": 90 } }, "points": [[3000, 2000, 1]],
        "size_m": 900, "strength": 1, "softness": 0.6 });
    let by_hand = json!({ "hand_work": { "strokes": [stroke] } });
    let document = steps(&[
        ("Hills", noise()),
        ("By hand", by_hand),
        ("Other hills", noise()),
    ]);
    check(document, "hidden", Some("s1"));
}

#[test]
fn strokes_finer_than_the_grid() {
    let stroke = |size_m: f64| {
        json!({ "do": { "raise": { "by_m": 9 } },
        "points": [[3000, 2000, 1]], "size_m": size_m, "strength": 1, "softness": 0.6 })
    };
    let by_hand = |size_m| json!({ "hand_work": { "strokes": [stroke(600.0), stroke(size_m)] } });
    let of = |size_m| found(&steps(&[("Hills", noise()), ("By hand", by_hand(size_m))]));
    let fine = |findings: &[Finding]| findings.iter().any(|one| one.rule == "fine-strokes");
    assert!(fine(&of(8.0)) && !fine(&of(80.0)));
}
