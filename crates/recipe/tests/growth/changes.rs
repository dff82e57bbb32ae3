//! What changed, in words.

use recipe::Recipe;
use recipe::changes::{changes, summary};
use serde_json::{Value, json};

use crate::support::demo;

/// A small landscape with everything in it that can change.
fn small() -> Value {
    json!({
        "version": 2, "name": "Corrie", "extent": { "width_m": 3000, "depth_m": 2000 },
        "strands": [
            { "name": "land", "steps": [
                { "id": "a", "name": "Massif", "do": { "noise": { "height_m": 900 } } },
                { "id": "b", "name": "Rivers", "do": { "rivers": {} } },
                { "id": "c", "name": "Scree", "do": { "crumble": { "talus_deg": 32 } },
                  "mask": { "terms": [{ "of": "slope", "from": 30, "soft_from": 5 }] } },
            ] },
        ],
        "covers": [{ "id": "snow", "name": "Snow", "colour": "#ffffff",
            "mask": { "terms": [{ "of": "height", "from": 900 }] } }],
    })
}

fn told(change: impl FnOnce(&mut Value)) -> Vec<String> {
    let before = Recipe::from_value(small()).expect("valid");
    let mut document = serde_json::to_value(&before).expect("plain data");
    change(&mut document);
    let after = Recipe::from_value(document).expect("valid");
    changes(&before, &after)
        .iter()
        .map(ToString::to_string)
        .collect()
}

fn set(pointer: &str, value: Value) -> Vec<String> {
    told(|document| {
        let (owner, key) = pointer.rsplit_once('/').expect("a place");
        document.pointer_mut(owner).expect("a place")[key] = value;
    })
}

#[test]
fn a_change_is_said_with_its_owner_its_label_and_both_values() {
    let steps = "/strands/0/steps";
    for (pointer, value, said) in [
        (
            "/covers/0/mask/terms/0/from",
            json!(1100),
            "Snow: mask, height, lower end from 900 to 1100 m",
        ),
        (
            &format!("{steps}/0/do/noise/height_m"),
            json!(1200),
            "Massif: height from 900 to 1200 m",
        ),
        (
            &format!("{steps}/0/do/noise/character"),
            json!("ridged"),
            "Massif: character from “fractal” to “ridged”",
        ),
        (
            &format!("{steps}/2/do/crumble/talus_deg"),
            json!(34.5),
            "Scree: talus from 32° to 34.5°",
        ),
        (
            &format!("{steps}/2/mask/blur_m"),
            json!(20),
            "Scree: mask, blur 20 m",
        ),
        (&format!("{steps}/1/on"), json!(false), "Rivers: off"),
        (
            &format!("{steps}/1/name"),
            json!("Becks"),
            "Becks: was called Rivers",
        ),
        (
            &format!("{steps}/1/amount"),
            json!(0.5),
            "Rivers: amount from 1 to 0.5",
        ),
        (
            &format!("{steps}/1/do"),
            json!({ "crumble": {} }),
            "Rivers: is thermal erosion now",
        ),
        (
            &format!("{steps}/2/mask"),
            Value::Null,
            "Scree: mask deleted",
        ),
        ("/sea_level_m", json!(-20), "Sea level from 0 to −20 m"),
        (
            "/extent/width_m",
            json!(4000),
            "Extent, width from 3000 to 4000 m",
        ),
        (
            "/sun/bearing_deg",
            json!(90),
            "Sun, bearing from 315° to 90°",
        ),
        ("/name", json!("Cwm"), "Name from “Corrie” to “Cwm”"),
        ("/note", json!("For act two"), "Note “For act two”"),
    ] {
        assert_eq!(set(pointer, value), [said], "{pointer}");
    }
}

#[test]
fn what_comes_goes_and_moves_is_known_by_its_id() {
    fn steps(document: &mut Value) -> &mut Vec<Value> {
        document["strands"][0]["steps"]
            .as_array_mut()
            .expect("steps")
    }
    assert_eq!(told(|land| steps(land).swap(0, 1)).len(), 1);
    assert_eq!(
        told(|land| {
            let step = steps(land).remove(0);
            steps(land).push(step);
        }),
        ["Massif: step moved"]
    );
    assert_eq!(
        told(|land| {
            steps(land).remove(1);
        }),
        ["Rivers: step deleted"]
    );
    let new = json!({ "id": "d", "name": "Warp", "do": { "warp": {} } });
    assert_eq!(
        told(|land| steps(land).insert(1, new)),
        ["Warp: step added"]
    );
    let term = json!({ "of": "slope", "to": 40 });
    assert_eq!(
        told(|land| {
            land["covers"][0]["mask"]["terms"]
                .as_array_mut()
                .expect("terms")
                .push(term);
        }),
        ["Snow: mask, slope added"]
    );
    assert_eq!(
        told(|land| land["strands"]
            .as_array_mut()
            .expect("strands")
            .push(json!({ "name": "piece", "steps": [] }))),
        ["Strand piece added"]
    );
}

#[test]
fn a_line_says_the_first_things_and_how_many_more() {
    let before = demo();
    assert_eq!(summary(&before, &before), None);
    let mut after = before.clone();
    after.sea_level_m = 12.0;
    assert_eq!(
        summary(&before, &after).as_deref(),
        Some("Sea level from 0 to 12 m")
    );
    after.name = "A".repeat(200);
    after.note = "b".repeat(5000);
    after.sun.bearing_deg = 17.0;
    let line = summary(&before, &after).expect("it changed");
    assert!(line.ends_with("; and 3 more"), "{line}");
    let flat = Recipe::flat("Flat", before.extent);
    assert!(summary(&before, &flat).expect("it changed").chars().count() <= 121);
    assert!(changes(&before, &flat).len() > before.covers.len());
}

#[test]
fn strokes_are_counted_and_the_newest_is_named() {
    let stroke = |deed: &str| json!({ "do": { deed: {} }, "points": [[900, 800, 1]], "size_m": 300, "strength": 1, "softness": 0.5 });
    let by_hand = |strokes: Vec<Value>| {
        let mut document = small();
        document["strands"][0]["steps"][0]["do"] = json!({ "hand_work": { "strokes": strokes } });
        Recipe::from_value(document).expect("valid")
    };
    let [none, one, three] = [
        by_hand(vec![]),
        by_hand(vec![stroke("smooth")]),
        by_hand(vec![stroke("smooth"), stroke("push"), stroke("paint_back")]),
    ];
    let said = |before, after| summary(before, after).expect("something");
    assert_eq!(said(&none, &one), "Massif: 1 stroke more, smooth");
    assert_eq!(said(&one, &three), "Massif: 2 strokes more, paint back");
    assert_eq!(said(&three, &none), "Massif: 3 strokes fewer");
}
