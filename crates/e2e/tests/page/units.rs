//! Numbers as they are typed and shown.

use anyhow::{Result, ensure};
use serde_json::json;

use crate::support::random;

#[test]
fn numbers_are_read_as_they_are_typed() -> Result<()> {
    let cases = json!([
        ["12", "m", 12.0],
        [" -3.5 ", "m", -3.5],
        ["1.2km", "m", 1200.0],
        ["1,2 km", "m", 1200.0],
        // An international foot is 0.3048 m exactly (agreement of 1959).
        ["10 ft", "m", 3.048],
        ["25 cm", "m", 0.25],
        ["2e3", "m", 2000.0],
        ["45 deg", "°", 45.0],
        ["3 cm/h", "mm/h", 30.0],
        ["7", null, 7.0],
        ["abc", "m", null],
        ["", "m", null],
        ["12 kg", "m", null],
        ["1.2.3", "m", null],
        ["5 km", "°", null],
    ]);
    let body = "return input.map(([text, unit]) => parseQuantity(text, unit ?? undefined))";
    let read = e2e::ask(
        &[("parseQuantity", "controls/units.ts")],
        body,
        cases.clone(),
    )?;
    for (case, read) in cases
        .as_array()
        .into_iter()
        .flatten()
        .zip(read.as_array().into_iter().flatten())
    {
        let near = match (case[2].as_f64(), read.as_f64()) {
            (Some(a), Some(b)) => (a - b).abs() < 1e-9,
            (None, None) => true,
            _ => false,
        };
        ensure!(near, "{case} was read as {read}");
    }
    Ok(())
}

/// What is shown can be typed again, and is as near as its digits say.
#[test]
fn numbers_that_are_shown_can_be_typed_again() -> Result<()> {
    let values: Vec<f64> = (0..300)
        .map(|i| 10_f64.powf(8.0 * random(i, 0) - 3.0) * if i % 2 == 0 { 1.0 } else { -1.0 })
        .chain([0.0])
        .collect();
    let body = "return input.map((value) => {
        const shown = formatNumber(value);
        return [shown, parseQuantity(shown, 'm'), formatLength(value)];
    })";
    let imports = [
        ("formatNumber", "controls/units.ts"),
        ("formatLength", "controls/units.ts"),
        ("parseQuantity", "controls/units.ts"),
    ];
    let shown: Vec<(String, f64, String)> =
        serde_json::from_value(e2e::ask(&imports, body, json!(values))?)?;
    for (value, (text, again, length)) in values.into_iter().zip(shown) {
        let step = match value.abs() {
            size if size >= 100.0 => 1.0,
            size if size >= 10.0 => 0.1,
            size if size >= 1.0 => 0.01,
            _ => 0.001,
        };
        ensure!(
            (value - again).abs() <= 0.5001 * step,
            "{value} is shown as {text}"
        );
        let unit = if value.abs() >= 10_000.0 { " km" } else { " m" };
        ensure!(length.ends_with(unit), "{value} is {length}");
    }
    Ok(())
}
