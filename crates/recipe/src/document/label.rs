//! What parameters are called when people read of them.

use serde_json::Value;

/// Endings of names that say a unit, and how it is written.
const UNITS: [(&str, &str); 10] = [
    ("_m_kyr", "m/kyr"),
    ("_mm_h", "mm/h"),
    ("_m2", "m²"),
    ("_m3", "m³"),
    ("_km", "km"),
    ("_kyr", "kyr"),
    ("_deg", "°"),
    ("_ha", "ha"),
    ("_m", "m"),
    ("_s", "s"),
];

fn ending(name: &str) -> (&str, &'static str) {
    let found = UNITS
        .iter()
        .find_map(|(end, unit)| Some((name.strip_suffix(end)?, *unit)));
    found.unwrap_or((name, ""))
}

/// “feature_m” as it stands before its field: “Feature”.
pub fn label_of(name: &str) -> String {
    let mut plain = ending(name).0.replace('_', " ");
    if let Some(first) = plain.get_mut(0..1) {
        first.make_ascii_uppercase();
    }
    plain
}

/// The unit that the name of a parameter says; empty for a share or a count.
pub fn unit_of(name: &str) -> &'static str {
    ending(name).1
}

/// A number as people write it: as short as it is exact to single precision, with its unit.
pub(crate) fn quantity(value: f64, unit: &str) -> String {
    let number = format!("{}", value as f32).replace('-', "−");
    match unit {
        "" => number,
        "°" => format!("{number}°"),
        _ => format!("{number} {unit}"),
    }
}

/// A schema of parameters with a title for each that has none.
pub(crate) fn labelled(mut schema: Value) -> Value {
    let parameters = schema.get_mut("properties").and_then(Value::as_object_mut);
    for (name, parameter) in parameters.into_iter().flatten() {
        if let Some(parameter) = parameter.as_object_mut() {
            parameter
                .entry("title")
                .or_insert_with(|| label_of(name).into());
        }
    }
    schema
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_are_said_with_their_units_apart() {
        for (name, label, unit) in [
            ("feature_m", "Feature", "m"),
            ("rain_mm_h", "Rain", "mm/h"),
            ("uplift_m_kyr", "Uplift", "m/kyr"),
            ("debris_m2", "Debris", "m²"),
            ("turn_deg", "Turn", "°"),
            ("wander_feature_m", "Wander feature", "m"),
            ("seed", "Seed", ""),
            ("slope_damping", "Slope damping", ""),
        ] {
            assert_eq!(
                (label_of(name).as_str(), unit_of(name)),
                (label, unit),
                "{name}"
            );
        }
        assert_eq!(quantity(-12.5, "m"), "−12.5 m");
        assert_eq!(quantity(f64::from(0.1_f32), ""), "0.1");
        assert_eq!(quantity(30.0, "°"), "30°");
    }
}
