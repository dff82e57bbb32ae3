//! Steps with random parameters, made from the schemas alone: a new kind of
//! step is tested as soon as it is in the list.

use proptest::prelude::*;
use recipe::steps::{KindSheet, kind_sheets};
use serde_json::{Value, json};

/// A parameter's schema with its reference followed.
fn resolved<'a>(sheet: &'a KindSheet, parameter: &'a Value) -> &'a Value {
    let reference = parameter["$ref"].as_str();
    let target = reference.and_then(|r| sheet.schema.pointer(r.trim_start_matches('#')));
    target.unwrap_or(parameter)
}

fn choices(schema: &Value) -> Option<Vec<Value>> {
    if let Some(list) = schema["oneOf"].as_array() {
        return Some(list.iter().map(|choice| choice["const"].clone()).collect());
    }
    schema["enum"].as_array().cloned()
}

/// From where values are drawn.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Reach {
    /// Where sliders go, and short rain.
    Sliders,
    /// All that the schema allows, its ends and its smallest values often.
    Schema,
}

impl Reach {
    fn bounds(self, schema: &Value) -> (f64, f64) {
        let slider = |i: usize| match self {
            Reach::Sliders => schema["x-slider"][i].as_f64(),
            Reach::Schema => None,
        };
        let most = match self {
            Reach::Sliders => 99.0,
            Reach::Schema => f64::from(u32::MAX),
        };
        let low = slider(0).or(schema["minimum"].as_f64()).unwrap_or(0.0);
        let high = slider(1).or(schema["maximum"].as_f64()).unwrap_or(most);
        (low, high)
    }

    fn number(self, (low, high): (f64, f64)) -> BoxedStrategy<f64> {
        match self {
            Reach::Sliders => (low..=high).boxed(),
            Reach::Schema => {
                // As many small values as large ones, on either side of zero.
                let power = (-6.0..1.0_f64).prop_map(|p| 10_f64.powf(p));
                let near_zero = (power, any::<bool>()).prop_map(move |(share, below)| {
                    let end = if below { low } else { high };
                    (end * share).clamp(low, high)
                });
                prop_oneof![
                    1 => Just(low),
                    1 => Just(high),
                    2 => low..=high,
                    4 => near_zero,
                ]
                .boxed()
            }
        }
    }
}

fn any_value(
    sheet: &KindSheet,
    name: &str,
    parameter: &Value,
    reach: Reach,
) -> BoxedStrategy<Value> {
    let schema = resolved(sheet, parameter);
    if let Some(choices) = choices(schema) {
        return prop::sample::select(choices).boxed();
    }
    let short = reach == Reach::Sliders;
    let number = reach.number(reach.bounds(parameter));
    match (schema["type"].as_str(), parameter["x-editor"].as_str()) {
        // Long rain is no other rain, and tests should be short.
        (Some("integer"), _) if short && name == "duration" => {
            (1..25_u32).prop_map(|v| json!(v)).boxed()
        }
        (Some("number"), _) if short && name == "scale_m" && sheet.kind == "water" => {
            (80.0..400.0).prop_map(|v| json!(v)).boxed()
        }
        (Some("number"), _) => number.prop_map(|v| json!(v)).boxed(),
        (Some("integer"), _) => number.prop_map(|v| json!(v as u32)).boxed(),
        (Some("boolean"), _) => any::<bool>().prop_map(|v| json!(v)).boxed(),
        (_, Some("asset")) => Just(json!("dem")).boxed(),
        (_, Some("strand")) => Just(json!("piece")).boxed(),
        _ => Just(sheet.defaults[name].clone()).boxed(),
    }
}

/// What a step of the kind does, with any parameters.
pub fn any_operation(sheet: KindSheet, reach: Reach) -> BoxedStrategy<Value> {
    let parameters = sheet.schema["properties"].as_object().expect("parameters");
    let values: Vec<BoxedStrategy<(String, Value)>> = parameters
        .iter()
        .map(|(name, parameter)| {
            let name = name.clone();
            let value = any_value(&sheet, &name, parameter, reach);
            value.prop_map(move |value| (name.clone(), value)).boxed()
        })
        .collect();
    let kind = sheet.kind;
    values
        .prop_map(move |values| {
            let values: serde_json::Map<String, Value> = values.into_iter().collect();
            json!({ kind: values })
        })
        .boxed()
}

/// Any step of any kind, and how it joins.
pub fn any_step() -> BoxedStrategy<Value> {
    let kinds = kind_sheets().into_iter();
    let kinds: Vec<_> = kinds
        .map(|sheet| any_operation(sheet, Reach::Sliders))
        .collect();
    let combine = prop::sample::select(vec![
        "replace",
        "add",
        "subtract",
        "highest",
        "lowest",
        "average",
        "screen",
        "overlay",
        "difference",
    ]);
    let mask = prop_oneof![
        2 => Just(None),
        1 => Just(Some(json!({ "terms": [{ "of": "slope", "from": 12, "soft_from": 6 }] }))),
        1 => Just(Some(json!({ "blur_m": 130, "terms": [
            { "of": { "facing": { "bearing_deg": 40 } }, "to": 90, "soft_to": 30 },
            { "of": { "noise": { "feature_m": 300, "seed": 3 } }, "from": 0, "join": "screen" },
        ] }))),
    ];
    let step = prop::strategy::Union::new(kinds);
    (step, combine, mask, -1.0..1.5, 0.0..300.0)
        .prop_map(|(operation, combine, mask, amount, blend_m)| {
            let mut step = json!({
                "name": "Step", "combine": combine, "amount": amount, "blend_m": blend_m,
                "do": operation,
            });
            if let Some(mask) = mask {
                step["mask"] = mask;
            }
            step
        })
        .boxed()
}
