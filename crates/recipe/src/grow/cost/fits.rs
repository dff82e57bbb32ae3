//! The nearest value that fits.

use serde_json::Value;
use terrain::Frame;

use super::walk::{Found, Owner, Walk};
use super::{Budget, Excess, Fit, Size, TooCostly, Wanted};
use crate::document::Recipe;

/// What goes beyond the budget, in words, and the least change that would not.
pub(super) fn explained(
    recipe: &Recipe,
    budget: Budget,
    wanted: &Wanted,
    frame: &Frame,
    found: Found,
) -> TooCostly {
    let (owner, pointer) = named(recipe, found.owner);
    let all_of_it = found.around || matches!(found.excess, Excess::Work(_));
    let fits = |changed: &Recipe| match all_of_it {
        // What it takes itself may be little, and work is that of all steps together.
        true => Walk::over(changed, budget, wanted, Size::of(frame)).is_ok(),
        false => Walk::of_owner_alone(changed, budget, found.owner, found.on).is_ok(),
    };
    let parameter = pointer.and_then(|at| nearest(recipe, &fits, &at));
    let cells = match parameter {
        Some(_) => None,
        None => fewer_cells(recipe, budget, wanted, frame),
    };
    TooCostly {
        owner,
        excess: found.excess,
        allowed: budget,
        parameter,
        cells,
    }
}

/// What an owner is called, and where it stands in the document.
fn named(recipe: &Recipe, owner: Owner) -> (String, Option<String>) {
    match owner {
        Owner::Step(s, k) => (
            format!("step ‘{}’", recipe.strands[s].steps[k].name),
            Some(format!("/strands/{s}/steps/{k}")),
        ),
        Owner::Mask(i) => (
            format!("mask ‘{}’", recipe.masks[i].name),
            Some(format!("/masks/{i}")),
        ),
        Owner::Cover(i) => (
            format!("cover ‘{}’", recipe.covers[i].name),
            Some(format!("/covers/{i}")),
        ),
        Owner::Wash(i) => (
            format!("wash ‘{}’", recipe.finish.washes[i].name),
            Some(format!("/finish/washes/{i}")),
        ),
        Owner::Land => ("the land".to_owned(), None),
    }
}

/// How far from its value a parameter is looked at: by powers of this …
const LEAP: f64 = 4.0;
/// … so many times.
const LEAPS: i32 = 24;
/// Halvings of the way between what fits and what does not.
const HALVINGS: u32 = 24;

/// The parameter of what is found that has to change least, and its nearest value
/// that fits.
fn nearest(recipe: &Recipe, allowed: &dyn Fn(&Recipe) -> bool, at: &str) -> Option<Fit> {
    let document = serde_json::to_value(recipe).ok()?;
    let mut numbers = Vec::new();
    numbers_in(document.pointer(at)?, at, &mut numbers);
    let fits = |pointer: &str, value: f64| {
        let changed = with(&document, pointer, value)?;
        Some(allowed(&changed))
    };
    let mut best: Option<(f64, Fit)> = None;
    for (pointer, value) in numbers {
        for direction in [1.0, -1.0] {
            let at = |power: f64| value * LEAP.powf(direction * power);
            // The first leap that fits; values that are not allowed end the search.
            let leap = (1..=LEAPS)
                .map(f64::from)
                .map_while(|power| Some((power, fits(&pointer, at(power))?)))
                .find(|(_, fits)| *fits);
            let Some((mut good, _)) = leap else { continue };
            let mut bad = good - 1.0;
            for _ in 0..HALVINGS {
                let middle = 0.5 * (good + bad);
                match fits(&pointer, at(middle)) {
                    Some(true) => good = middle,
                    _ => bad = middle,
                }
            }
            let nearer = best.as_ref().is_none_or(|(known, _)| good < *known);
            let rounded = rounded_away(at(good), direction);
            if nearer && fits(&pointer, rounded) == Some(true) {
                let name = pointer.rsplit('/').next().unwrap_or_default().to_owned();
                let pointer = pointer.clone();
                let fit = Fit {
                    name,
                    pointer,
                    value,
                    fits: rounded,
                };
                best = Some((good, fit));
            }
        }
    }
    best.map(|(_, fit)| fit)
}

/// Two figures are enough, and on the side that fits.
fn rounded_away(value: f64, direction: f64) -> f64 {
    let unit = 10_f64.powf(value.abs().log10().floor() - 1.0);
    let steps = value.abs() / unit;
    let steps = if direction > 0.0 {
        steps.ceil()
    } else {
        steps.floor()
    };
    let digits = (-unit.log10()).ceil().max(0.0) as usize;
    let text = format!("{:.digits$}", steps * unit);
    value.signum() * text.parse::<f64>().unwrap_or(value.abs())
}

/// All numbers of a part of a document but those of what was drawn by hand.
fn numbers_in(value: &Value, at: &str, found: &mut Vec<(String, f64)>) {
    match value {
        Value::Number(number) => {
            let value = number.as_f64().filter(|value| *value != 0.0);
            found.extend(value.map(|value| (at.to_owned(), value)));
        }
        Value::Object(fields) => {
            let drawn = |name: &str| matches!(name, "strokes" | "points" | "seed");
            for (name, field) in fields.iter().filter(|(name, _)| !drawn(name)) {
                let name = name.replace('~', "~0").replace('/', "~1");
                numbers_in(field, &format!("{at}/{name}"), found);
            }
        }
        Value::Array(items) => {
            for (i, item) in items.iter().enumerate() {
                numbers_in(item, &format!("{at}/{i}"), found);
            }
        }
        _ => {}
    }
}

/// The recipe with another value at one place, if that is allowed.
fn with(document: &Value, pointer: &str, value: f64) -> Option<Recipe> {
    let mut changed = document.clone();
    let place = changed.pointer_mut(pointer)?;
    *place = match place.is_f64() {
        true => value.into(),
        false => (value.round() as i64).into(),
    };
    Recipe::from_value(changed).ok()
}

/// The most cells along the longer side on which all of it fits.
fn fewer_cells(recipe: &Recipe, budget: Budget, wanted: &Wanted, frame: &Frame) -> Option<usize> {
    let extent = recipe.extent.into();
    let longer = frame.cols.max(frame.rows);
    let fits = |cells: usize| {
        let frame = Frame::with_cells(extent, cells);
        Walk::over(recipe, budget, wanted, Size::of(&frame)).is_ok()
    };
    let (mut good, mut bad) = (2, longer);
    if !fits(good) {
        return None;
    }
    while bad - good > good.div_ceil(50) {
        let middle = good.midpoint(bad);
        match fits(middle) {
            true => good = middle,
            false => bad = middle,
        }
    }
    Some(good)
}
