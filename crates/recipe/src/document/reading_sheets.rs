//! What an editor needs to know of readings.

use serde_json::{Value, json};

use super::{Product, Reading, labelled};
use crate::steps::RIVERS;

/// What an editor needs to know of a reading.
#[derive(Clone, Debug)]
pub struct ReadingSheet {
    /// Its name in a recipe; of a field that steps leave, that one's.
    pub reading: &'static str,
    /// Its name on screen.
    pub title: &'static str,
    /// The unit of its values; empty for a share or a count.
    pub unit: &'static str,
    /// Where its values usually lie, until the land itself says.
    pub usual: [f32; 2],
    /// Whether it goes from 0 to 1 as masks do, and is one without a range.
    pub is_share: bool,
    /// What a step before must have left for it to be read.
    pub needs: Option<Product>,
    /// The reading to begin with.
    pub begins: Value,
    /// JSON Schema of its parameters; none when it has none.
    pub schema: Option<Value>,
}

type Row = (&'static str, &'static str, &'static str, [f32; 2]);

/// Readings in the order in which they are offered: name, title, unit, usual range.
const ROWS: [Row; 23] = [
    ("height", "Height", "m", [-200.0, 2000.0]),
    ("slope", "Slope", "°", [0.0, 90.0]),
    ("facing", "Aspect", "°", [0.0, 180.0]),
    ("curvature", "Curvature", "/km", [-20.0, 20.0]),
    ("position", "Topographic position", "m", [-50.0, 50.0]),
    ("roughness", "Roughness", "m", [0.0, 30.0]),
    ("occlusion", "Occlusion", "", [0.0, 1.0]),
    ("sunlight", "Sunlight", "", [0.0, 1.0]),
    ("sun_day", "Sun over a day", "", [0.0, 1.0]),
    ("area", "Drainage area", "ha", [0.0, 50.0]),
    ("wetness", "Wetness", "", [2.0, 16.0]),
    ("water", "Distance to water", "m", [0.0, 1000.0]),
    ("water_depth", "Water depth", "m", [0.0, 100.0]),
    ("near", "Distance to a mask", "m", [0.0, 500.0]),
    ("named", "Named mask", "", [0.0, 1.0]),
    ("east", "Easting", "m", [0.0, 10_000.0]),
    ("north", "Northing", "m", [0.0, 10_000.0]),
    ("point", "Distance to a point", "m", [0.0, 3000.0]),
    ("line", "Distance to a line", "m", [0.0, 1000.0]),
    ("noise", "Noise", "", [-1.0, 1.0]),
    ("image", "Image", "", [0.0, 1.0]),
    ("painted", "Painted", "", [0.0, 1.0]),
    ("river", "Distance to a river", "m", [0.0, 500.0]),
];

/// What each reading with parameters begins with.
fn begins(reading: &str) -> Value {
    match reading {
        // Snow lies longest, and moss grows, on the shaded side.
        "facing" => json!({ "bearing_deg": 0 }),
        "curvature" => json!({ "bend": "mean", "scale_m": 40 }),
        "position" => json!({ "scale_m": 150 }),
        "roughness" => json!({ "scale_m": 50 }),
        "occlusion" => json!({ "reach_m": 400 }),
        "sunlight" => json!({ "bearing_deg": 180, "altitude_deg": 40 }),
        "sun_day" => json!({ "latitude_deg": 60, "day": 172 }),
        "near" | "named" => json!({ "mask": "" }),
        "point" => json!({ "x_m": 3000, "y_m": 3000 }),
        "line" => json!({ "points": [[1000, 1000], [4000, 3000]] }),
        "noise" => json!({ "feature_m": 500, "seed": 1 }),
        "image" => json!({ "asset": "" }),
        "painted" => json!({ "strokes": [] }),
        "river" => json!({ "least_order": 1 }),
        _ => Value::Null,
    }
}

/// All readings, then the fields that steps leave.
pub fn reading_sheets() -> Vec<ReadingSheet> {
    let schema = schemars::schema_for!(Reading).to_value();
    let of_land = ROWS.into_iter().map(|(reading, title, unit, usual)| {
        let begins = match begins(reading) {
            Value::Null => json!(reading),
            parameters => json!({ reading: parameters }),
        };
        ReadingSheet {
            reading,
            title,
            unit,
            usual,
            is_share: is_share(&begins),
            needs: (reading == "river").then_some(RIVERS),
            schema: parameters_of(&schema, reading),
            begins,
        }
    });
    let left = Product::fields().filter_map(|product| {
        let (declared, measure) = (product.declared(), product.field()?.measure);
        Some(ReadingSheet {
            reading: declared.name,
            title: declared.title,
            unit: measure.unit,
            usual: measure.usual,
            is_share: false,
            needs: Some(product),
            begins: json!({ "trace": declared.name }),
            schema: None,
        })
    });
    of_land.chain(left).collect()
}

fn is_share(begins: &Value) -> bool {
    let reading: Reading = serde_json::from_value(begins.clone()).expect("it is a reading");
    reading.is_share()
}

/// The part of the schema of readings that has the parameters of one, with what it
/// refers to.
fn parameters_of(schema: &Value, reading: &str) -> Option<Value> {
    let variants = schema["oneOf"].as_array()?;
    let mut found = variants
        .iter()
        .filter_map(|one| one["properties"].get(reading));
    let mut own = labelled(found.next()?.clone());
    own["$defs"] = schema["$defs"].clone();
    Some(own)
}

#[cfg(test)]
mod tests {
    use std::collections::BTreeSet;

    use super::*;

    /// Every reading that the schema knows has a sheet, and no other.
    #[test]
    fn there_is_a_sheet_for_every_reading() {
        let schema = schemars::schema_for!(Reading).to_value();
        let mut known = BTreeSet::new();
        for variant in schema["oneOf"].as_array().expect("variants") {
            let names = variant["enum"].as_array().into_iter().flatten();
            known.extend(names.chain(variant.get("const")).filter_map(|n| n.as_str()));
            let fields = variant["properties"].as_object();
            known.extend(fields.into_iter().flatten().map(|(name, _)| name.as_str()));
        }
        // Fields that steps leave have their own.
        known.remove("trace");
        let rows: BTreeSet<_> = ROWS.iter().map(|row| row.0).collect();
        assert_eq!(known, rows);
        for sheet in reading_sheets() {
            let begins = serde_json::from_value::<Reading>(sheet.begins.clone());
            assert!(begins.is_ok(), "{}: {begins:?}", sheet.reading);
            assert_eq!(
                sheet.schema.is_some(),
                sheet.begins.is_object() && sheet.begins.get("trace").is_none(),
                "{}",
                sheet.reading
            );
        }
    }
}
