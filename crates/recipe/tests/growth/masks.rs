//! Masks in recipes: every reading, in windows and at any resolution.

use recipe::document::Mask;
use recipe::grow::NoAssets;
use recipe::{Grower, Recipe};
use serde_json::{Value, json};
use terrain::{Grid, Run};

use crate::support::{TestAssets, frame, grown, with_steps};

fn recipe_with(mask: Value, masks: Value) -> Result<Recipe, recipe::RecipeError> {
    Recipe::from_value(json!({
        "version": 1, "name": "Test", "sea_level_m": 200,
        "extent": { "width_m": 6000, "depth_m": 4000 },
        "masks": masks,
        "strands": [{ "name": "land", "steps": [
            { "id": "base", "name": "Land", "combine": "add", "do": { "noise": {
                "character": "ridged", "height_m": 900, "feature_m": 2400, "octaves": 7, "seed": 3 } } },
            { "id": "rivers", "name": "Rivers", "do": { "rivers": { "scale_m": 200 } } },
            { "id": "raised", "name": "Raised", "combine": "add", "mask": mask, "do": {
                "primitive": { "form": "plateau", "height_m": 100, "width_m": 20_000, "depth_m": 20_000 } } },
        ] }],
        "covers": [{ "id": "ground", "name": "Ground", "colour": "#777777" }],
    }))
}

/// Every reading with a range that splits the land.
fn readings() -> Vec<Value> {
    vec![
        json!({ "of": "height", "from": 300 }),
        json!({ "of": "slope", "from": 15, "soft_from": 5 }),
        json!({ "of": { "facing": { "bearing_deg": 200 } }, "to": 90 }),
        json!({ "of": { "curvature": { "bend": "mean", "scale_m": 40 } }, "from": 0, "soft_from": 1 }),
        json!({ "of": { "curvature": { "bend": "profile", "scale_m": 0 } }, "from": 0 }),
        json!({ "of": { "curvature": { "bend": "plan", "scale_m": 90 } }, "from": 0 }),
        json!({ "of": { "position": { "scale_m": 150 } }, "from": 0 }),
        json!({ "of": { "roughness": { "scale_m": 60 } }, "from": 8 }),
        json!({ "of": { "occlusion": { "reach_m": 500 } }, "from": 0.05 }),
        json!({ "of": { "sunlight": { "bearing_deg": 220, "altitude_deg": 30 } }, "from": 0.5 }),
        json!({ "of": { "sun_day": { "latitude_deg": 60, "day": 80 } }, "from": 0.2 }),
        json!({ "of": "area", "from": 1 }),
        json!({ "of": "wetness", "from": 7 }),
        json!({ "of": "water", "to": 400, "soft_to": 200 }),
        json!({ "of": { "near": { "mask": "high" } }, "to": 300, "soft_to": 200 }),
        json!({ "of": "east", "from": 3000 }),
        json!({ "of": "north", "from": 2000 }),
        json!({ "of": { "point": { "x_m": 2000, "y_m": 2000 } }, "to": 1200 }),
        json!({ "of": { "line": { "points": [[1000, 500], [3000, 3000], [5500, 3200]] } }, "to": 500 }),
        json!({ "of": { "noise": { "feature_m": 600, "seed": 4 } }, "from": 0 }),
        json!({ "of": { "image": { "asset": "dem" } }, "from": 0.5 }),
        json!({ "of": { "painted": { "strokes": [
            { "points": [[1000, 1000, 1], [4000, 3000, 0.5]], "size_m": 900, "strength": 1, "softness": 0.5 },
        ] } } }),
        json!({ "of": { "named": { "mask": "high" } } }),
        json!({ "of": { "trace": "drainage" }, "from": 50_000 }),
        json!({ "of": { "river": { "least_order": 2 } }, "to": 300 }),
    ]
}

fn high() -> Value {
    json!([{ "name": "high", "mask": { "blur_m": 60, "terms": [
        { "of": "height", "from": 450 }, { "of": "slope", "to": 30, "soft_to": 10 },
    ] } }])
}

fn assert_same(got: &Grid, expected: &Grid, what: &Value) {
    let worst = got.zip_map(expected, |a, b| (a - b).abs()).range().1;
    let same = got
        .values()
        .iter()
        .zip(expected.values())
        .all(|(a, b)| a.to_bits() == b.to_bits());
    assert!(same, "{what}: up to {worst} apart");
}

/// Every reading takes part of the land and leaves part of it, and a window
/// has the bits of the whole, those that look at the whole land included.
#[test]
fn every_reading_makes_a_mask_with_the_same_bits_in_a_window() {
    for term in readings() {
        let mask = json!({ "terms": [term], "grow_m": 40, "blur_m": 30, "contrast": 1.5 });
        let recipe = recipe_with(mask, high()).unwrap_or_else(|error| panic!("{term}: {error}"));
        let whole = frame(&recipe, 96);
        let all = grown(&recipe, &whole);
        all.check_finite().expect("finite");
        let mut off = recipe.clone();
        off.strands[0].steps[2].on = false;
        let raised = all.zip_map(&grown(&off, &whole), |a, b| a - b);
        let share = raised.sum() / raised.values().len() as f64 / 100.0;
        assert!((0.005..0.995).contains(&share), "{term}: share {share}");
        let window = grown(&recipe, &whole.window(30, 20, 40, 30));
        assert_same(&window, &all.cropped(30, 20, 40, 30), &term);
    }
}

/// The mask of a cover is taken of the finished land: a reading of the whole
/// land has the bits of the whole in a window there too.
#[test]
fn covers_see_the_whole_land_from_a_window() {
    let mut recipe = recipe_with(json!({ "terms": [] }), high()).expect("valid");
    let terms: Vec<Value> = readings()
        .into_iter()
        .filter(|t| t["of"].is_string())
        .collect();
    let mask = json!({ "blur_m": 20, "terms": terms });
    recipe.covers[0].mask = serde_json::from_value(mask).expect("a mask");
    let grower = Grower::new(1 << 28);
    let assets = NoAssets;
    let share = |frame: &terrain::Frame| {
        let land = grower
            .land(&recipe, &assets, frame, Run::to_the_end())
            .expect("grows");
        let mask = recipe.covers[0].mask.as_ref().expect("a mask");
        land.mask(mask, Run::to_the_end()).expect("nobody cancels")
    };
    let whole = frame(&recipe, 96);
    let all = share(&whole);
    assert_eq!(
        share(&whole.window(10, 12, 50, 40)),
        all.cropped(10, 12, 50, 40)
    );
}

/// A term of no weight changes nothing, however it joins.
#[test]
fn a_term_without_weight_changes_nothing() {
    let frame_of = |recipe: &Recipe| frame(recipe, 64);
    let plain = recipe_with(
        json!({ "terms": [{ "of": "height", "from": 300 }] }),
        high(),
    );
    let plain = plain.expect("valid");
    let land = grown(&plain, &frame_of(&plain));
    for join in ["multiply", "add", "subtract", "highest", "lowest", "screen"] {
        let more = json!({ "terms": [
            { "of": "height", "from": 300 },
            { "of": "slope", "from": 20, "weight": 0, "join": join },
        ] });
        let more = recipe_with(more, high()).expect("valid");
        let apart = grown(&more, &frame_of(&more)).zip_map(&land, |a, b| (a - b).abs());
        assert!(apart.range().1 < 1e-3, "{join}");
    }
}

#[test]
fn faulty_masks_are_refused_in_words() {
    for (mask, masks, words) in [
        (
            json!({ "terms": [{ "of": { "named": { "mask": "gone" } } }] }),
            json!([]),
            "no mask of that name",
        ),
        (
            json!({ "terms": [] }),
            json!([
                { "name": "a", "mask": { "terms": [{ "of": { "named": { "mask": "b" } } }] } },
                { "name": "b", "mask": { "terms": [{ "of": { "near": { "mask": "a" } } }] } },
            ]),
            "made from itself",
        ),
        (
            json!({ "terms": [] }),
            json!([{ "name": "a", "mask": { "terms": [] } }, { "name": "a", "mask": { "terms": [] } }]),
            "name of its own",
        ),
        (
            json!({ "terms": [{ "of": "height", "curve": [[0.5, 0.1], [0.2, 0.3]] }] }),
            json!([]),
            "Curve",
        ),
        (
            json!({ "terms": [{ "of": { "painted": { "strokes": [
                { "points": [], "size_m": 10, "strength": 1, "softness": 0 }] } } }] }),
            json!([]),
            "Points is a list of 0: there must be at least 1",
        ),
        (
            json!({ "terms": [], "grow_m": 9000 }),
            json!([]),
            "Grow is 9000 m",
        ),
    ] {
        let error = recipe_with(mask, masks).expect_err(words).to_string();
        assert!(error.contains(words), "‘{error}’ does not say ‘{words}’");
    }
}

/// An edit of a named mask regrows every step that uses it.
#[test]
fn named_masks_are_part_of_what_a_step_depends_on() {
    let use_it = json!({ "terms": [{ "of": { "named": { "mask": "high" } } }] });
    let before = recipe_with(use_it, high()).expect("valid");
    let mut after = before.clone();
    after.masks[0].mask.terms[0].from = Some(200.0);
    let grower = Grower::new(1 << 28);
    let assets = NoAssets;
    let frame = frame(&before, 64);
    let heights = |recipe: &Recipe| {
        let land = grower
            .land(recipe, &assets, &frame, Run::to_the_end())
            .expect("grows");
        land.heights()
    };
    let (first, second) = (heights(&before), heights(&after));
    assert!(first != second);
    assert_eq!(heights(&before), first);
}

/// A mask may have a # in its name; what stands behind the last one is a stage only
/// where there is no mask of the whole name.
#[test]
fn masks_with_a_number_in_their_name_can_be_shown() {
    use recipe::view::MaskPlace;
    let named = |name: &str, terms: usize| {
        let terms = vec![json!({ "of": "slope" }); terms];
        json!({ "name": name, "mask": { "terms": terms } })
    };
    let masks = json!([named("rock #2", 5), named("rock", 4)]);
    let recipe = recipe_with(json!({ "terms": [] }), masks).expect("valid");
    let terms = |id: &str| Some(MaskPlace::of(&recipe, id)?.mask.terms.len());
    assert_eq!(terms("mask:rock #2"), Some(5), "the mask of that name");
    assert_eq!(terms("mask:rock #2#1"), Some(2), "its second stage");
    assert_eq!(terms("mask:rock#2"), Some(3), "the third stage of another");
    assert_eq!(terms("mask:rock #3"), None);
}

/// A fine checkerboard, half black and half white, is grey on coarse cells: none of
/// its cells is skipped.
#[test]
fn images_are_averaged_where_cells_are_larger_than_theirs() {
    let checkers = Grid::by_rows(1000, 1000, |r, row| {
        for (c, value) in row.iter_mut().enumerate() {
            *value = f32::from((r + c) % 2 == 0);
        }
    });
    let assets = TestAssets::with_dem(checkers);
    let document = with_steps(&[("Hills", json!({ "noise": {} }))]);
    let recipe = Recipe::from_value(document).expect("valid");
    let image = json!({ "terms": [{ "of": { "image": { "asset": "dem" } } }] });
    let mask: Mask = serde_json::from_value(image).expect("a mask");
    for cells in [48, 96, 250] {
        let grower = Grower::new(1 << 28);
        let land = grower.land(&recipe, &assets, &frame(&recipe, cells), Run::to_the_end());
        let taken = land.expect("it grows").mask(&mask, Run::to_the_end());
        let (low, high) = taken.expect("it is taken").range();
        assert!(
            (0.45..=0.55).contains(&low) && (0.45..=0.55).contains(&high),
            "{low} to {high} on {cells} cells"
        );
    }
}
