//! Does the document hang together?

use std::collections::BTreeSet;

use serde_json::Value;

use super::error::Place;
use super::{LAND, Mask, Reading, Recipe, RecipeError, Step, Trace, linear_colour, lookup, ranges};

/// What the steps of a strand so far leave behind for masks to read.
#[derive(Default)]
struct LeftBehind {
    traces: BTreeSet<Trace>,
    rivers: bool,
    /// Names of masks.
    named: Vec<String>,
}

/// Checks all that the types cannot.
pub(super) fn check(recipe: &Recipe, document: &Value) -> Result<(), RecipeError> {
    ranges::check(document)?;
    let place = |path: &[String]| Place::at(document, path);
    check_land(recipe, place)?;
    check_ids(recipe, place)?;
    check_strands(recipe, place)?;
    for (s, strand) in recipe.strands.iter().enumerate() {
        let mut left_behind = LeftBehind {
            named: recipe
                .masks
                .iter()
                .map(|named| named.name.clone())
                .collect(),
            ..LeftBehind::default()
        };
        for (k, step) in strand.steps.iter().enumerate() {
            let path = ["strands", &s.to_string(), "steps", &k.to_string()].map(str::to_owned);
            if let Some(mask) = &step.mask {
                check_mask(mask, &left_behind, place(&path))?;
            }
            for mask in step.operation.masks() {
                check_mask(mask, &left_behind, place(&path))?;
            }
            if let Err((parameter, value, reason)) = step.operation.check() {
                return Err(RecipeError::unfit(place(&path), parameter, &value, reason));
            }
            // A step that is off leaves a trace of nothing, so that switching
            // it off is no reason to refuse the masks that read it.
            left_behind.traces.extend(step.operation.traces());
            left_behind.rivers |= step.operation.leaves_rivers();
        }
        if strand.name == LAND {
            check_named(recipe, &left_behind, place)?;
            check_covers(recipe, &left_behind, place)?;
        }
    }
    Ok(())
}

fn check_land(recipe: &Recipe, place: impl Fn(&[String]) -> Place) -> Result<(), RecipeError> {
    let path = vec!["strands".to_owned()];
    let mut names = BTreeSet::new();
    for strand in &recipe.strands {
        if !names.insert(&strand.name) {
            let reason = "two strands must not have the same name".to_owned();
            return Err(RecipeError::unfit(
                place(&path),
                "name",
                &strand.name,
                reason,
            ));
        }
    }
    match recipe.strand(LAND) {
        Some(_) => Ok(()),
        None => {
            let reason = "one strand must be called ‘land’".to_owned();
            Err(RecipeError::unfit(
                place(&path),
                "strands",
                "without land",
                reason,
            ))
        }
    }
}

fn check_ids(recipe: &Recipe, place: impl Fn(&[String]) -> Place) -> Result<(), RecipeError> {
    let mut ids = BTreeSet::new();
    let steps = recipe
        .strands
        .iter()
        .flat_map(|strand| strand.steps.iter().map(|s| &s.id));
    let covers = recipe.covers.iter().map(|cover| &cover.id);
    let washes = recipe.finish.washes.iter().map(|wash| &wash.id);
    for id in steps.chain(covers).chain(washes) {
        if id.is_empty() || !ids.insert(id) {
            let reason = "every step, cover and wash needs an id of its own".to_owned();
            return Err(RecipeError::unfit(place(&[]), "id", id, reason));
        }
    }
    Ok(())
}

/// A strand that is taken in must exist and must not take in itself.
fn check_strands(recipe: &Recipe, place: impl Fn(&[String]) -> Place) -> Result<(), RecipeError> {
    fn visit(recipe: &Recipe, name: &str, path: &mut Vec<String>) -> Result<(), String> {
        let Some(strand) = recipe.strand(name) else {
            return Err("there is no such strand".to_owned());
        };
        if path.iter().any(|seen| seen == name) {
            return Err(format!(
                "it would take in itself: {} → {name}",
                path.join(" → ")
            ));
        }
        path.push(name.to_owned());
        for taken in strand
            .steps
            .iter()
            .filter_map(|step| step.operation.takes_in())
        {
            visit(recipe, taken, path)?;
        }
        path.pop();
        Ok(())
    }
    for strand in &recipe.strands {
        for step in &strand.steps {
            if let Some(taken) = step.operation.takes_in() {
                visit(recipe, taken, &mut vec![strand.name.clone()]).map_err(|reason| {
                    let mut at = place(&[]);
                    at.owner = format!("step ‘{}’", step.name);
                    RecipeError::unfit(at, "strand", taken, reason)
                })?;
                check_taken_trace(recipe, step)?;
            }
        }
    }
    Ok(())
}

/// A trace that is taken in must be left by a step of that strand.
fn check_taken_trace(recipe: &Recipe, step: &Step) -> Result<(), RecipeError> {
    let operation = &step.operation;
    let taken = operation.takes_in().and_then(|name| recipe.strand(name));
    let (Some(strand), Some(trace)) = (taken, operation.takes_trace()) else {
        return Ok(());
    };
    let mut steps = strand.steps.iter();
    match steps.any(|step| step.operation.traces().contains(&trace)) {
        true => Ok(()),
        false => {
            let at = Place {
                owner: format!("step ‘{}’", step.name),
                ..Place::default()
            };
            let reason = format!("no step of strand ‘{}’ leaves such a trace", strand.name);
            Err(RecipeError::unfit(at, "trace", trace.name(), reason))
        }
    }
}

/// Named masks have names of their own, and none is made from itself. A mask
/// that reads what only the land leaves is empty where that is missing.
fn check_named(
    recipe: &Recipe,
    left_behind: &LeftBehind,
    place: impl Fn(&[String]) -> Place,
) -> Result<(), RecipeError> {
    fn visit<'a>(recipe: &'a Recipe, name: &'a str, path: &mut Vec<&'a str>) -> bool {
        if path.contains(&name) {
            return false;
        }
        path.push(name);
        let mask = lookup(&recipe.masks, name);
        let terms = mask.iter().flat_map(|mask| &mask.terms);
        let sound = terms
            .filter_map(|term| term.of.refers_to())
            .all(|other| visit(recipe, other, path));
        path.pop();
        sound
    }
    let mut names = BTreeSet::new();
    for (i, named) in recipe.masks.iter().enumerate() {
        let mut at = place(&["masks".to_owned(), i.to_string()]);
        at.owner = format!("mask ‘{}’", named.name);
        if named.name.is_empty() || !names.insert(&named.name) {
            let reason = "every named mask needs a name of its own".to_owned();
            return Err(RecipeError::unfit(at, "name", &named.name, reason));
        }
        if !visit(recipe, &named.name, &mut Vec::new()) {
            let reason = "it would be made from itself".to_owned();
            return Err(RecipeError::unfit(at, "mask", &named.name, reason));
        }
        check_mask(&named.mask, left_behind, at)?;
    }
    Ok(())
}

fn check_covers(
    recipe: &Recipe,
    left_behind: &LeftBehind,
    place: impl Fn(&[String]) -> Place,
) -> Result<(), RecipeError> {
    for (i, cover) in recipe.covers.iter().enumerate() {
        let at = || place(&["covers".to_owned(), i.to_string()]);
        check_colour(&cover.colour, at())?;
        if let Some(mask) = &cover.mask {
            check_mask(mask, left_behind, at())?;
        }
        if let Some(gradient) = &cover.gradient {
            check_reading(&gradient.by, left_behind, at())?;
            for stop in &gradient.stops {
                check_colour(&stop.colour, at())?;
            }
            if gradient.from == gradient.to {
                let reason = "it must not be the same as ‘from’".to_owned();
                return Err(RecipeError::unfit(
                    at(),
                    "to",
                    &gradient.to.to_string(),
                    reason,
                ));
            }
        }
        if let Some(patches) = &cover.patches {
            check_colour(&patches.colour, at())?;
        }
    }
    for (i, wash) in recipe.finish.washes.iter().enumerate() {
        let path = ["finish", "washes", &i.to_string()].map(str::to_owned);
        let at = || Place {
            owner: format!("wash ‘{}’", wash.name),
            ..place(&path)
        };
        check_colour(&wash.colour, at())?;
        check_mask(&wash.mask, left_behind, at())?;
    }
    Ok(())
}

fn check_colour(written: &str, at: Place) -> Result<(), RecipeError> {
    match linear_colour(written) {
        Some(_) => Ok(()),
        None => {
            let reason = "a colour is written as #rrggbb".to_owned();
            Err(RecipeError::unfit(at, "colour", written, reason))
        }
    }
}

fn check_mask(mask: &Mask, left_behind: &LeftBehind, at: Place) -> Result<(), RecipeError> {
    for term in &mask.terms {
        if let (Some(from), Some(to)) = (term.from, term.to)
            && from > to
        {
            let reason = format!("it must not be above ‘to’, which is {to}");
            return Err(RecipeError::unfit(at, "from", &from.to_string(), reason));
        }
        check_reading(&term.of, left_behind, at.clone())?;
        if let Reading::Painted { strokes } = &term.of
            && strokes.iter().any(|stroke| stroke.points.is_empty())
        {
            let reason = "a stroke needs at least one point".to_owned();
            return Err(RecipeError::unfit(at, "points", "empty", reason));
        }
        let points: Vec<(f32, f32)> = term.curve.iter().map(|[x, y]| (*x, *y)).collect();
        if !points.is_empty()
            && let Err(error) = terrain::shape::Curve::through(&points)
        {
            return Err(RecipeError::unfit(
                at,
                "curve",
                &format!("{points:?}"),
                error.to_string(),
            ));
        }
    }
    Ok(())
}

/// What is read must be there.
fn check_reading(
    reading: &Reading,
    left_behind: &LeftBehind,
    at: Place,
) -> Result<(), RecipeError> {
    if let Some(name) = reading.refers_to()
        && !left_behind.named.iter().any(|known| known == name)
    {
        let reason = "there is no mask of that name".to_owned();
        return Err(RecipeError::unfit(at, "mask", name, reason));
    }
    let (missing, reason) = match reading {
        Reading::Trace(trace) if !left_behind.traces.contains(trace) => {
            (trace.name(), "no step before this one leaves such a trace")
        }
        Reading::River { .. } if !left_behind.rivers => {
            ("river", "no step before this one finds rivers")
        }
        _ => return Ok(()),
    };
    Err(RecipeError::unfit(at, "of", missing, reason.to_owned()))
}
