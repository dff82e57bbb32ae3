//! Valid recipes come back as they were; others name their fault.

use proptest::prelude::*;
use recipe::document::Fault;
use recipe::{Recipe, recipe_schema};
use serde_json::{Value, json};

use crate::support::{demo, with_steps};

fn fault(document: Value) -> recipe::RecipeError {
    Recipe::from_value(document).expect_err("the recipe is not valid")
}

#[test]
fn a_recipe_comes_back_as_it_was() {
    let demo = demo();
    assert_eq!(Recipe::from_json(&demo.to_json()).expect("valid"), demo);
}

#[test]
fn a_number_out_of_range_names_step_parameter_value_and_range() {
    let error = fault(with_steps(&[
        ("Hills", json!({ "noise": {} })),
        ("Peaks", json!({ "noise": { "octaves": 40 } })),
    ]));
    assert_eq!(
        error.to_string(),
        "step ‘Peaks’: Octaves is 40; it can be 0.1 to 16"
    );
    assert_eq!(error.place.pointer, "/strands/0/steps/1/do/noise/octaves");
}

#[test]
fn a_wrong_type_names_step_and_parameter() {
    let error = fault(with_steps(&[(
        "Hills",
        json!({ "noise": { "seed": "seven" } }),
    )]));
    assert_eq!(error.place.pointer, "/strands/0/steps/0/do/noise/seed");
    let said = error.to_string();
    assert_eq!(
        said,
        "step ‘Hills’: Seed: “seven” does not fit; it must be a whole number, 0 or more"
    );
}

#[test]
fn unknown_parameters_and_kinds_are_refused() {
    let said = fault(with_steps(&[(
        "Hills",
        json!({ "noise": { "hight_m": 3 } }),
    )]))
    .to_string();
    assert!(
        said.contains("hight_m") && said.contains("height_m"),
        "{said}"
    );
    let said = fault(with_steps(&[("Magic", json!({ "magic": {} }))])).to_string();
    assert!(said.contains("magic") && said.contains("noise"), "{said}");
}

#[test]
fn a_trace_that_nobody_leaves_is_refused() {
    let mut document = with_steps(&[("Hills", json!({ "noise": {} }))]);
    document["strands"][0]["steps"][0]["mask"] =
        json!({ "terms": [{ "of": { "trace": "wear" }, "from": 1 }] });
    let said = fault(document).to_string();
    assert!(said.contains("‘Hills’") && said.contains("wear"), "{said}");
}

#[test]
fn a_strand_cannot_take_in_itself() {
    let mut document = with_steps(&[("In", json!({ "take_in": { "strand": "hills" } }))]);
    let inner = json!([{ "id": "x", "name": "Back", "do": { "take_in": { "strand": "land" } } }]);
    document["strands"]
        .as_array_mut()
        .expect("strands")
        .push(json!({ "name": "hills", "steps": inner }));
    let said = fault(document).to_string();
    assert!(said.contains("land → hills → land"), "{said}");
}

#[test]
fn every_step_has_an_id_of_its_own() {
    let mut document = with_steps(&[("A", json!({ "noise": {} })), ("B", json!({ "warp": {} }))]);
    document["strands"][0]["steps"][1]["id"] = json!("s0");
    assert!(fault(document).to_string().contains("an id of its own"));
}

#[test]
fn a_curve_must_go_from_left_to_right() {
    let points = json!([{ "before_m": 5, "after_m": 0 }, { "before_m": 5, "after_m": 9 }]);
    let said = fault(with_steps(&[(
        "Bend",
        json!({ "curve": { "points": points } }),
    )]))
    .to_string();
    assert!(
        said.contains("‘Bend’") && said.contains("to the right"),
        "{said}"
    );
}

#[test]
fn every_number_in_the_schema_of_a_step_has_a_unit_or_a_range() {
    for sheet in recipe::steps::kind_sheets() {
        let schema = &sheet.schema;
        assert!(
            schema["description"].is_string(),
            "{} says what it is for",
            sheet.kind
        );
        for (name, parameter) in schema["properties"].as_object().expect("parameters") {
            assert!(
                parameter["description"].is_string(),
                "{}.{name} has a hint",
                sheet.kind
            );
            if parameter["type"] == "number" {
                let bounded = parameter["minimum"].is_number() && parameter["maximum"].is_number();
                assert!(bounded, "{}.{name} has a range", sheet.kind);
            }
        }
    }
    assert_eq!(recipe_schema()["title"], "Recipe");
}

/// Any JSON value, small.
fn any_json() -> impl Strategy<Value = Value> {
    prop_oneof![
        Just(Value::Null),
        any::<bool>().prop_map(Value::from),
        (-1e6..1e6).prop_map(Value::from),
        any::<i32>().prop_map(Value::from),
        "[a-z_#0-9]{0,8}".prop_map(Value::from),
        Just(json!([])),
        Just(json!({})),
    ]
}

/// All places in a document.
fn pointers(value: &Value, at: &str, found: &mut Vec<String>) {
    found.push(at.to_owned());
    match value {
        Value::Array(items) => {
            for (i, item) in items.iter().enumerate() {
                pointers(item, &format!("{at}/{i}"), found);
            }
        }
        Value::Object(fields) => {
            for (name, field) in fields {
                pointers(field, &format!("{at}/{name}"), found);
            }
        }
        _ => {}
    }
}

proptest! {
    /// The demo with any one value replaced either is valid, or the refusal
    /// says something; nothing panics.
    #[test]
    fn any_document_is_valid_or_names_its_fault(
        which in any::<prop::sample::Index>(), value in any_json(),
    ) {
        let mut document = serde_json::to_value(demo()).expect("plain data");
        let mut places = Vec::new();
        pointers(&document, "", &mut places);
        *document.pointer_mut(which.get::<String>(&places)).expect("a place") = value;
        match Recipe::from_value(document) {
            Ok(recipe) => prop_assert!(recipe.strand("land").is_some()),
            Err(error) => {
                prop_assert!(!error.to_string().is_empty());
                let named = !matches!(&error.fault, Fault::NotJson(_));
                prop_assert!(named, "{}", error);
            }
        }
    }
}

/// What the schema says is what is taken: an editor that keeps to the published schema
/// (JSON Schema 2020-12, read here by an independent implementation) is never refused for a
/// type, a range or a name, and what is taken keeps to it.
#[test]
fn the_schema_and_the_program_agree() {
    use proptest::strategy::ValueTree;
    use proptest::test_runner::TestRunner;
    /// Documents, each with one value replaced.
    const TRIES: usize = 600;
    let schema = recipe_schema();
    let schema = jsonschema::validator_for(&schema).expect("a schema");
    let demo = serde_json::to_value(demo()).expect("plain data");
    assert!(schema.is_valid(&demo));
    let mut places = Vec::new();
    pointers(&demo, "", &mut places);
    let mut runner = TestRunner::deterministic();
    let values = (any::<prop::sample::Index>(), any_json());
    let (mut taken, mut refused) = (0, 0);
    for _ in 0..TRIES {
        let (which, value) = values.new_tree(&mut runner).expect("a value").current();
        let place = which.get::<String>(&places);
        let mut document = demo.clone();
        *document.pointer_mut(place).expect("a place") = value;
        match Recipe::from_value(document.clone()) {
            Ok(_) => {
                let errors: Vec<_> = schema
                    .iter_errors(&document)
                    .map(|e| e.to_string())
                    .collect();
                assert!(errors.is_empty(), "taken, but at {place}: {errors:?}");
                taken += 1;
            }
            // A name that nothing has, a curve that turns back: what no schema can say.
            Err(error) if schema.is_valid(&document) => {
                let said = error.to_string();
                let meaning = !matches!(error.fault, Fault::OutOfRange { .. } | Fault::NotJson(_));
                assert!(meaning, "the schema takes it, the program does not: {said}");
            }
            Err(_) => refused += 1,
        }
    }
    assert!(
        taken > 25 && refused > 200,
        "{taken} taken, {refused} refused"
    );
}
