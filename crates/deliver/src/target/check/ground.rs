//! Layers: those that are missing, those that cannot be, and how many covers there are.

use recipe::Recipe;

use super::{Finding, Fix, Looked, Weight};
use crate::{Layer, Wish};

/// A wish that is not sound for this landscape: what the landscape does not have is left out.
pub(super) fn cannot_be(recipe: &Recipe, wish: &Wish, finding: String) -> Finding {
    let mut without = wish.clone();
    without
        .layers
        .retain(|name| Layer::named(name).is_some_and(|layer| layer.check(recipe).is_ok()));
    without
        .packed
        .retain(|packed| packed.resolved(recipe).is_ok());
    let mended = without != *wish && crate::Order::of(&without, recipe).is_ok();
    Finding {
        rule: "order",
        weight: Weight::Wrong,
        finding: format!("{finding}."),
        fix: mended.then(|| Fix {
            label: "Leave out what is not there".to_owned(),
            wish: without,
        }),
    }
}

/// What the target needs and nobody ordered.
pub(super) fn missing(looked: &Looked) -> Option<Finding> {
    let has = |name: &str| {
        let names = looked.order.layers.iter().map(Layer::name);
        let mut names = names.collect::<Vec<_>>().into_iter();
        names.any(|layer| layer == name || (name == "height" && layer == "height16"))
    };
    let needs = looked.bounds.needs.iter().filter(|name| !has(name));
    let needs: Vec<String> = needs.cloned().collect();
    if needs.is_empty() {
        return None;
    }
    let list = needs.join(", ");
    let here: Vec<String> = looked
        .order
        .layers
        .iter()
        .map(|l| l.name().into())
        .collect();
    Some(looked.found(
        ("parts", Weight::Wrong),
        format!("The target needs {list}, which will not be written."),
        (format!("Add {list}"), |wish| {
            wish.layers = here;
            wish.layers.extend(needs);
        }),
    ))
}

/// More covers than the target blends.
pub(super) fn too_many_covers(looked: &Looked) -> Option<Finding> {
    let most = looked.bounds.most_covers?;
    let on = looked.recipe.covers.iter().filter(|cover| cover.on).count();
    let written = [Layer::Weights, Layer::Covers]
        .iter()
        .any(|layer| looked.order.layers.contains(layer));
    if on <= most || !written {
        return None;
    }
    let less = format!(
        "{on} covers are on, the target blends {most}: switch {} of them off in the ground",
        on - most
    );
    let weights = ["weights", "covers"];
    // What the target needs cannot be left out.
    if looked
        .bounds
        .needs
        .iter()
        .any(|name| weights.contains(&name.as_str()))
    {
        return Some(Finding {
            rule: "covers",
            weight: Weight::Wrong,
            finding: format!("{less}."),
            fix: None,
        });
    }
    Some(looked.found(
        ("covers", Weight::Wrong),
        format!("{less}, or write which one is strongest instead of their weights."),
        ("Write the strongest cover".to_owned(), |wish| {
            wish.layers
                .retain(|layer| !weights.contains(&layer.as_str()));
            if !wish.layers.iter().any(|layer| layer == "id") {
                wish.layers.push("id".to_owned());
            }
        }),
    ))
}
