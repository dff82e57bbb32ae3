//! What the page works out by itself when something is chosen: the sun of an hour, the values
//! of a sweep, crossings, keys.

use anyhow::{Result, ensure};
use serde_json::{Value, json};
use terrain::light::suns_of_day;

/// The sun of an hour is that of the core's masks of a sunny day.
#[test]
fn the_sun_of_an_hour_is_that_of_the_core() -> Result<()> {
    for (latitude_deg, day) in [
        (60.0, 172),
        (0.0, 80),
        (-35.0, 355),
        (48.5, 20),
        (75.0, 172),
    ] {
        let body = "return Array.from({ length: 24 }, (_, hour) =>
            sunAt(input.latitude, input.day, hour)).filter((sun) => sun !== null)";
        let input = json!({ "latitude": latitude_deg, "day": day });
        let found = e2e::ask(&[("sunAt", "land/sunTime.ts")], body, input)?;
        let suns = suns_of_day(latitude_deg, day);
        let found = found.as_array().expect("a list");
        ensure!(
            found.len() == suns.len(),
            "{latitude_deg}°: {} hours",
            found.len()
        );
        for (theirs, ours) in found.iter().zip(suns) {
            let value = |key: &str| theirs[key].as_f64().expect("a number");
            let turned = (value("bearing_deg") - ours.bearing_deg).rem_euclid(360.0);
            ensure!(turned.min(360.0 - turned) <= 0.051, "{theirs} and {ours:?}");
            let lowest = ours.altitude_deg.max(1.0);
            ensure!(
                (value("altitude_deg") - lowest).abs() <= 0.051,
                "{theirs} and {ours:?}"
            );
        }
    }
    Ok(())
}

/// A sweep goes around the value that there is, as its slider does, and stays within it.
#[test]
fn a_sweep_begins_with_a_range_that_is_of_use() -> Result<()> {
    let body = "return input.map(([entry, current]) => {
        const plan = planOf('p', entry, current, 5);
        return { ...plan, values: valuesOf(plan, false) };
    })";
    let log = json!({ "x-slider": [50, 12_000], "x-scale": "log" });
    let plain = json!({ "x-slider": [0, 1] });
    let input = json!([
        [log, 3000],
        [log, 100],
        [plain, 0.5],
        [plain, 7.0],
        [{}, null]
    ]);
    let imports = [("planOf", "sheet/sweep.ts"), ("valuesOf", "sheet/sweep.ts")];
    let plans = e2e::ask(&imports, body, input)?;
    let ends = |k: usize| [plans[k]["low"].as_f64(), plans[k]["high"].as_f64()].map(Option::unwrap);
    assert_eq!(ends(0), [1000.0, 9000.0]);
    assert_eq!(ends(1), [50.0, 300.0]);
    assert_eq!(ends(2), [0.25, 0.75]);
    // What is beyond the slider is varied over all of it.
    assert_eq!(ends(3), [0.0, 1.0]);
    assert_eq!(ends(4), [0.0, 1.0]);
    let values: Vec<f64> = serde_json::from_value(plans[0]["values"].clone())?;
    for pair in values.windows(2) {
        let times = pair[1] / pair[0];
        ensure!((times - 9.0_f64.powf(0.25)).abs() < 0.01, "{values:?}");
    }
    Ok(())
}

/// Children have each value from one parent or the other, or from between; steps that one
/// parent alone knows come from it or stay; and the same pair has the same children.
#[test]
fn children_have_everything_from_their_parents() -> Result<()> {
    let step = |id: &str, values: Value| json!({ "id": id, "name": id, "do": { "noise": values } });
    let recipe = json!({
        "strands": [{ "name": "land", "steps": [
            step("a", json!({ "height_m": 500, "seed": 1, "kind": "x" })),
            step("b", json!({ "height_m": 10, "seed": 5, "kind": "x" })),
        ] }], "covers": [],
    });
    let first = json!({ "id": 1, "picture": "", "steps": {
        "a": { "height_m": 400.0, "seed": 3, "kind": "x" }, "gone": { "height_m": 1 } } });
    let second = json!({ "id": 2, "picture": "", "steps": {
        "a": { "height_m": 900.0, "seed": 8, "kind": "y" },
        "b": { "height_m": 20.0, "seed": 5, "kind": "x" } } });
    let body = "return [0, 1].map(() => crossed(input.recipe, input.first, input.second, 24))";
    let input = json!({ "recipe": recipe, "first": first, "second": second });
    let families = e2e::ask(&[("crossed", "sheet/crossing.ts")], body, input)?;
    ensure!(
        families[0] == families[1],
        "the same pair has other children"
    );
    let children = families[0].as_array().expect("children");
    let (mut alike, mut between) = ([0, 0], 0);
    for child in children {
        let (a, b) = (&child["steps"]["a"], &child["steps"]["b"]);
        ensure!(child["steps"].get("gone").is_none(), "{child}");
        let height = a["height_m"].as_f64().expect("metres");
        ensure!((400.0..=900.0).contains(&height), "{height} m");
        alike[0] += i32::from(height == 400.0);
        alike[1] += i32::from(height == 900.0);
        between += i32::from(height > 400.0 && height < 900.0);
        ensure!(
            a["seed"] == 3 || a["seed"] == 8,
            "a seed is of one parent: {a}"
        );
        let other = b["height_m"].as_f64().expect("metres");
        ensure!((10.0..=20.0).contains(&other) && b["seed"] == 5, "{b}");
        ensure!(
            child["words"]
                .as_array()
                .is_some_and(|words| words.len() >= 3),
            "{child}"
        );
    }
    ensure!(
        alike[0] > 2 && alike[1] > 2 && between > 2,
        "{alike:?}, {between}"
    );
    Ok(())
}

/// Keys are known by what they write; where a layout writes no such letter, by their place.
#[test]
fn keys_are_meant_whatever_the_keyboard() -> Result<()> {
    // What is pressed, where, with which modifiers, and what it should be.
    let cases = json!([
        ["z", "KeyY", ["ctrl"], "mod+z", true],
        ["y", "KeyZ", ["ctrl"], "mod+z", false],
        ["я", "KeyZ", ["ctrl"], "mod+z", true],
        ["Z", "KeyZ", ["ctrl", "shift"], "mod+shift+z", true],
        ["Z", "KeyZ", ["ctrl", "shift"], "mod+z", false],
        ["v", "KeyV", [], "v", true],
        ["v", "KeyV", ["ctrl"], "v", false],
        ["v", "KeyV", ["alt"], "v", false],
        ["м", "KeyV", [], "v", true],
        ["&", "Digit1", [], "1", true],
        ["1", "Digit1", ["shift"], "1", true],
        ["2", "Digit2", [], "1", false],
        ["?", "Slash", ["shift"], "?", true],
        ["?", "Minus", ["shift"], "?", true],
        ["[", "Digit5", ["alt"], "[", true],
        ["Escape", "Escape", [], "escape", true],
        ["Home", "Home", [], "home", true],
        ["Home", "Home", ["shift"], "home", false],
    ]);
    let body = "return input.map(([key, code, held, keys]) => isKey({ key, code,
        ctrlKey: held.includes('ctrl'), metaKey: false, shiftKey: held.includes('shift'),
        altKey: held.includes('alt') }, keys))";
    let found = e2e::ask(&[("isKey", "studio/isKey.ts")], body, cases.clone())?;
    for (case, found) in cases
        .as_array()
        .expect("cases")
        .iter()
        .zip(found.as_array().expect("a list"))
    {
        ensure!(case[4] == *found, "{case}: {found}");
    }
    Ok(())
}
