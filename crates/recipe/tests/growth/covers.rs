//! Covers of materials: weights, windows, height blend.

use recipe::grow::NoAssets;
use recipe::{Grower, Recipe};
use serde_json::{Value, json};
use terrain::{Frame, Grid, Run};

use crate::support::{demo, frame};

fn recipe(covers: Value) -> Recipe {
    Recipe::from_value(json!({
        "version": 1, "name": "Test", "sea_level_m": -1000,
        "extent": { "width_m": 600, "depth_m": 400 },
        "strands": [{ "name": "land", "steps": [
            { "id": "base", "name": "Land", "combine": "add", "do": { "noise": {
                "height_m": 80, "feature_m": 300, "seed": 3 } } },
        ] }],
        "covers": covers,
    }))
    .expect("valid")
}

fn two(height_blend: f64) -> Recipe {
    recipe(json!([
        { "id": "rock", "name": "Rock", "colour": "#808080", "material": "granite" },
        { "id": "grass", "name": "Grass", "colour": "#508030", "material": "lush_grass",
          "height_blend": height_blend, "texture": { "size_m": 8, "tint": 0.5 },
          "mask": { "terms": [{ "of": "slope", "to": 14, "soft_to": 12 }] } },
    ]))
}

/// Shares of the second cover, and the colour as luminance.
fn grown(recipe: &Recipe, frame: &Frame) -> (Grid, Grid) {
    let grower = Grower::new(1 << 26);
    let land = grower
        .land(recipe, &NoAssets, frame, Run::to_the_end())
        .expect("grows");
    let ground = land
        .ground(recipe, Run::to_the_end())
        .expect("nobody cancels");
    ground.weights.check().expect("weights sum to one");
    let top = ground.weights.layers()[ground.weights.layers().len() - 1].clone();
    (top, ground.albedo.map(|colour| colour.luminance()))
}

#[test]
fn a_window_of_the_ground_has_the_bits_of_the_whole() {
    let recipe = two(0.5);
    let whole = frame(&recipe, 400);
    let (shares, colours) = grown(&recipe, &whole);
    let window = whole.window(37, 50, 90, 70);
    let (part, part_colours) = grown(&recipe, &window);
    assert_eq!(part, shares.cropped(37, 50, 90, 70));
    assert_eq!(part_colours, colours.cropped(37, 50, 90, 70));
}

/// Near by, height blending parts two grounds more sharply than fading does,
/// without taking much more or less of the land.
#[test]
fn height_blending_makes_edges_crisp() {
    let close =
        |recipe: &Recipe| Frame::with_cells(recipe.extent.into(), 3000).window(900, 700, 300, 300);
    let unsure = |shares: &Grid| {
        let between = shares
            .values()
            .iter()
            .filter(|share| (0.2..0.8).contains(*share));
        between.count() as f64 / shares.values().len() as f64
    };
    let (faded, crisp) = (two(0.0), two(0.3));
    let (soft, hard) = (
        grown(&faded, &close(&faded)).0,
        grown(&crisp, &close(&crisp)).0,
    );
    assert!(unsure(&soft) > 0.05, "{}", unsure(&soft));
    assert!(
        unsure(&hard) < 0.8 * unsure(&soft),
        "{} of {}",
        unsure(&hard),
        unsure(&soft)
    );
    let mean = |grid: &Grid| grid.sum() / grid.values().len() as f64;
    assert!(
        (mean(&soft) - mean(&hard)).abs() < 0.12,
        "{} and {}",
        mean(&soft),
        mean(&hard)
    );
}

/// From afar the ground has the mean colour that it has near by.
#[test]
fn the_colour_from_afar_is_the_mean_of_that_near_by() {
    let recipe = recipe(json!([
        { "id": "rock", "name": "Rock", "colour": "#808080", "material": "scree",
          "mottle": { "amount": 0, "feature_m": 100 } },
    ]));
    let mean = |cells: usize| {
        let colours = grown(&recipe, &frame(&recipe, cells)).1;
        colours.sum() / colours.values().len() as f64
    };
    let (far, near) = (mean(24), mean(1500));
    assert!((far / near - 1.0).abs() < 0.03, "{far}, {near}");
}

#[test]
fn opacity_and_blend_do_what_they_say() {
    let with = |change: Value| {
        let mut top = json!({ "id": "top", "name": "Top", "colour": "#ffffff",
            "mottle": { "amount": 0, "feature_m": 100 } });
        for (key, value) in change.as_object().expect("an object") {
            top[key] = value.clone();
        }
        let recipe = recipe(json!([
            { "id": "low", "name": "Low", "colour": "#404040", "mottle": { "amount": 0, "feature_m": 100 } },
            top,
        ]));
        grown(&recipe, &frame(&recipe, 16)).1.at(3, 3)
    };
    let low = with(json!({ "opacity": 0 }));
    assert!((with(json!({})) - 1.0).abs() < 1e-3);
    assert!((with(json!({ "opacity": 0.5 })) - (0.5 + 0.5 * low)).abs() < 1e-3);
    assert!(
        (with(json!({ "blend": "multiply" })) - low).abs() < 1e-3,
        "white multiplies to nothing"
    );
    assert!(
        (with(json!({ "blend": "screen" })) - 1.0).abs() < 1e-3,
        "white screens to white"
    );
}

/// The demo's covers all have materials, and each has a part of the land.
#[test]
fn the_demo_shows_all_of_its_materials() {
    let demo = demo();
    let grower = Grower::new(1 << 28);
    let frame = frame(&demo, 256);
    let land = grower
        .land(&demo, &NoAssets, &frame, Run::to_the_end())
        .expect("grows");
    let ground = land
        .ground(&demo, Run::to_the_end())
        .expect("nobody cancels");
    for (cover, share) in ground.covers.iter().zip(ground.weights.shares()) {
        assert!(
            cover.material.is_some() && share > 0.005,
            "{}: {share}",
            cover.name
        );
    }
}
