//! The reference of all kinds of step, as a Markdown page made from the
//! schemas.

use std::fmt::Write;

use serde_json::Value;

use crate::steps::{Group, KindSheet, kind_sheets};

/// The page. Pictures are looked for beside it, as `<kind>.png`.
pub fn reference_page() -> String {
    let mut page = String::from(
        "# The kinds of step\n\n\
         StepOutput from the program by `morphogen reference`; do not edit by hand.\n\n\
         Every step also has an amount, a mask, a note, and a way to join what is below:\n\
         replace, add, subtract, multiply, highest and lowest (with a blend), average, screen,\n\
         overlay (with a height that counts as white), difference.\n",
    );
    for group in Group::ALL {
        let _ = write!(page, "\n## {}\n", group.title());
        for sheet in kind_sheets().iter().filter(|sheet| sheet.group == group) {
            describe(&mut page, sheet);
        }
    }
    page
}

fn describe(page: &mut String, sheet: &KindSheet) {
    let text = |value: &Value| value.as_str().unwrap_or_default().replace('\n', " ");
    let _ = write!(page, "\n### {} (`{}`)\n\n", sheet.title, sheet.kind);
    if crate::steps::example(sheet.kind).is_some() {
        let _ = write!(page, "![{}]({}.png)\n\n", sheet.title, sheet.kind);
    }
    let _ = write!(page, "{}\n\n", text(&sheet.schema["description"]));
    if !sheet.products.is_empty() {
        let names: Vec<_> = sheet
            .products
            .iter()
            .map(|product| product.name())
            .collect();
        let _ = write!(page, "Leaves: {}.\n\n", names.join(", "));
    }
    page.push_str("| parameter | range | at first | what it does |\n|---|---|---|---|\n");
    let parameters = sheet.schema["properties"].as_object();
    for (name, parameter) in parameters.into_iter().flatten() {
        let unit = parameter["x-unit"].as_str().map(|unit| format!(" {unit}"));
        let range = match (&parameter["minimum"], &parameter["maximum"]) {
            (Value::Null, _) | (_, Value::Null) => choices(sheet, parameter),
            (low, high) => format!("{low} to {high}{}", unit.unwrap_or_default()),
        };
        let at_first = match &sheet.defaults[name] {
            Value::String(text) => text.clone(),
            Value::Array(items) => format!("{} points", items.len()),
            other => other.to_string(),
        };
        let hint = text(&parameter["description"]);
        let _ = writeln!(page, "| `{name}` | {range} | {at_first} | {hint} |");
    }
}

/// The words that a parameter may be.
fn choices(sheet: &KindSheet, parameter: &Value) -> String {
    let reference = parameter["$ref"].as_str().unwrap_or_default();
    let target = sheet.schema.pointer(reference.trim_start_matches('#'));
    let words: Vec<&str> = target
        .and_then(|target| target["oneOf"].as_array())
        .into_iter()
        .flatten()
        .filter_map(|choice| choice["const"].as_str())
        .collect();
    match (words.is_empty(), parameter["type"].as_str()) {
        (false, _) => words.join(", "),
        (true, Some("boolean")) => "yes or no".to_owned(),
        (true, Some("integer")) => "a whole number".to_owned(),
        (true, _) => String::new(),
    }
}
