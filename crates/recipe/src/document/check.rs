//! Does the document hang together?

use std::collections::BTreeSet;

use serde_json::Value;

use super::error::Place;
use super::{
    Knot, LAND, Mask, Product, Reading, Recipe, RecipeError, Step, declared, linear_colour, ordered,
};

use crate::steps::RIVERS;

/// What the steps of a strand so far leave behind for masks to read.
#[derive(Default)]
struct LeftBehind<'r> {
    products: BTreeSet<Product>,
    /// Names of masks.
    named: BTreeSet<&'r str>,
}

/// Checks all that the types cannot.
pub(super) fn check(recipe: &Recipe, document: &Value) -> Result<(), RecipeError> {
    declared::check(document)?;
    check_count(recipe)?;
    let place = |path: &[String]| Place::at(document, path);
    check_land(recipe, place)?;
    check_ids(recipe, place)?;
    check_strands(recipe, place)?;
    for (s, strand) in recipe.strands.iter().enumerate() {
        let mut left_behind = LeftBehind {
            named: recipe.masks.iter().map(|m| m.name.as_str()).collect(),
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
            left_behind.products.extend(step.operation.products());
        }
        if strand.name == LAND {
            check_named(recipe, &left_behind, place)?;
            check_covers(recipe, &left_behind, place)?;
        }
    }
    Ok(())
}

/// Steps of all strands together, so that every one of them can be grown while
/// somebody waits.
const MOST_STEPS: usize = 1_000;

fn check_count(recipe: &Recipe) -> Result<(), RecipeError> {
    let steps: usize = recipe.strands.iter().map(|s| s.steps.len()).sum();
    match steps <= MOST_STEPS {
        true => Ok(()),
        false => {
            let reason = format!("a recipe has at most {MOST_STEPS} steps in all its strands");
            let (at, value) = (Place::default(), steps.to_string());
            Err(RecipeError::unfit(at, "steps", &value, reason))
        }
    }
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
    if recipe
        .georeference
        .as_ref()
        .is_some_and(|at| !at.is_sound())
    {
        let reason = "its edges must be numbers, west before east and south before north";
        let path = vec!["georeference".to_owned()];
        let (what, value) = ("georeference", "not a place");
        return Err(RecipeError::unfit(
            place(&path),
            what,
            value,
            reason.to_owned(),
        ));
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

/// More strands than this never take in one another in a row.
const DEEPEST_STRANDS: usize = 32;
/// More named masks than this never refer to one another in a row.
const DEEPEST_MASKS: usize = 64;

/// A strand that is taken in must exist and must not take in itself.
fn check_strands(recipe: &Recipe, place: impl Fn(&[String]) -> Place) -> Result<(), RecipeError> {
    let names: Vec<&str> = recipe.strands.iter().map(|s| s.name.as_str()).collect();
    let at = |step: &Step| Place {
        owner: format!("step ‘{}’", step.name),
        ..place(&[])
    };
    for step in recipe.strands.iter().flat_map(|strand| &strand.steps) {
        if let Some(taken) = step.operation.takes_in() {
            if !names.contains(&taken) {
                let reason = "there is no such strand".to_owned();
                return Err(RecipeError::unfit(at(step), "strand", taken, reason));
            }
            check_taken_trace(recipe, step)?;
        }
    }
    let found = ordered(names.len(), DEEPEST_STRANDS, |s| {
        let taken = recipe.strands[s].steps.iter();
        let taken = taken.filter_map(|step| step.operation.takes_in());
        taken
            .filter_map(|name| names.iter().position(|n| *n == name))
            .collect()
    });
    let Err(knot) = found else {
        return Ok(());
    };
    let (path, reason) = match &knot {
        Knot::Ring(path) => (path, "it would take in itself"),
        Knot::Deep(path) => (path, "too many strands take in one another in a row"),
    };
    let shown: Vec<&str> = path.iter().take(LONGEST_PATH).map(|s| names[*s]).collect();
    let reason = format!("{reason}: {}", shown.join(" → "));
    // The step that closes the ring, or begins the row.
    let (from, to) = (&recipe.strands[path[0]], path.get(1).map(|s| names[*s]));
    let step = from
        .steps
        .iter()
        .find(|step| step.operation.takes_in() == to);
    let at = step.map_or_else(|| place(&[]), at);
    Err(RecipeError::unfit(
        at,
        "strand",
        to.unwrap_or(&from.name),
        reason,
    ))
}

/// A refusal names no more of a row than this.
const LONGEST_PATH: usize = 8;

/// A trace that is taken in must be left by a step of that strand.
fn check_taken_trace(recipe: &Recipe, step: &Step) -> Result<(), RecipeError> {
    let operation = &step.operation;
    let taken = operation.takes_in().and_then(|name| recipe.strand(name));
    let (Some(strand), Some(trace)) = (taken, operation.takes_product()) else {
        return Ok(());
    };
    let mut steps = strand.steps.iter();
    match steps.any(|step| step.operation.products().contains(&trace)) {
        true => Ok(()),
        false => {
            let at = Place {
                owner: format!("step ‘{}’", step.name),
                ..Place::default()
            };
            let reason = format!("no step of strand ‘{}’ leaves this product", strand.name);
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
    let mut names = BTreeSet::new();
    for (i, named) in recipe.masks.iter().enumerate() {
        let mut at = place(&["masks".to_owned(), i.to_string()]);
        at.owner = format!("mask ‘{}’", named.name);
        if named.name.is_empty() || !names.insert(&named.name) {
            let reason = "every named mask needs a name of its own".to_owned();
            return Err(RecipeError::unfit(at, "name", &named.name, reason));
        }
        check_mask(&named.mask, left_behind, at)?;
    }
    check_knots(recipe, place)
}

/// No named mask is made from itself, and none from a very long row of others.
fn check_knots(recipe: &Recipe, place: impl Fn(&[String]) -> Place) -> Result<(), RecipeError> {
    let masks = &recipe.masks;
    let index = |name: &str| masks.iter().position(|named| named.name == name);
    let found = ordered(masks.len(), DEEPEST_MASKS, |i| {
        let terms = masks[i].mask.terms.iter();
        terms
            .filter_map(|term| index(term.of.refers_to()?))
            .collect()
    });
    let (path, reason) = match &found {
        Ok(_) => return Ok(()),
        Err(Knot::Ring(path)) => (path, "it would be made from itself"),
        Err(Knot::Deep(path)) => (path, "too many masks refer to one another in a row"),
    };
    let name = &masks[path[0]].name;
    let mut at = place(&["masks".to_owned(), path[0].to_string()]);
    at.owner = format!("mask ‘{name}’");
    Err(RecipeError::unfit(at, "mask", name, reason.to_owned()))
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
        && !left_behind.named.contains(name)
    {
        let reason = "there is no mask of that name".to_owned();
        return Err(RecipeError::unfit(at, "mask", name, reason));
    }
    let (missing, reason) = match reading {
        Reading::Trace(trace) if !left_behind.products.contains(trace) => {
            (trace.name(), "needs an earlier step that leaves it")
        }
        Reading::River { .. } if !left_behind.products.contains(&RIVERS) => {
            ("river", "no step before this one finds rivers")
        }
        _ => return Ok(()),
    };
    Err(RecipeError::unfit(at, "of", missing, reason.to_owned()))
}
