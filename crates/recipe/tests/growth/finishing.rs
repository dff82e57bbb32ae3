//! Colours of covers, splat maps in, and what is done to the ground as a whole.

use std::collections::HashMap;
use std::sync::Arc;

use recipe::grow::{Ground, Image, NoAssets};
use recipe::{Assets, Grower, Recipe};
use serde_json::{Value, json};
use terrain::ground::Colour;
use terrain::{Frame, Grid, Run};

use crate::support::{TestAssets, demo, frame};

fn recipe(covers: Value, finish: Value) -> Result<Recipe, recipe::RecipeError> {
    Recipe::from_value(json!({
        "version": 1, "name": "Test", "sea_level_m": 0,
        "extent": { "width_m": 1200, "depth_m": 800 },
        "strands": [{ "name": "land", "steps": [
            { "id": "base", "name": "Land", "combine": "add", "do": { "noise": {
                "height_m": 160, "feature_m": 500, "seed": 3 } } },
        ] }],
        "covers": covers,
        "finish": finish,
    }))
}

fn with_ground<T>(
    recipe: &Recipe,
    assets: &dyn Assets,
    frame: &Frame,
    look: impl FnOnce(&Ground, &Grid) -> T,
) -> T {
    let grower = Grower::new(1 << 26);
    let run = Run::to_the_end();
    let land = grower.land(recipe, assets, frame, run).expect("grows");
    let ground = land.ground(recipe, run).expect("nobody cancels");
    ground.weights.check().expect("weights sum to one");
    look(&ground, &land.heights())
}

fn albedo(recipe: &Recipe, frame: &Frame) -> Grid<Colour> {
    with_ground(recipe, &NoAssets, frame, |ground, _| ground.albedo.clone())
}

/// All that reads the land as a whole or its surroundings.
fn finished() -> Recipe {
    let covers = json!([
        { "id": "rock", "name": "Rock", "colour": "#808080", "material": "slate", "displacement_m": 1.5, "texture": { "size_m": 150 } },
        { "id": "grass", "name": "Grass", "colour": "#508030", "material": "moss", "height_blend": 0.5,
          "gradient": { "by": "wetness", "from": 3, "to": 9,
            "stops": [{ "at": 0, "colour": "#c0a060" }, { "at": 1, "colour": "#306020" }],
            "broken": { "amount": 0.3, "feature_m": 80, "seed": 5 } },
          "patches": { "colour": "#703010", "amount": 0.6, "feature_m": 120, "seed": 2 },
          "texture": { "tint": 0.8 },
          "mask": { "terms": [{ "of": "slope", "to": 14, "soft_to": 12 }] } },
    ]);
    let finish = json!({
        "washes": [{ "id": "rust", "name": "Rust", "colour": "#a04010", "distance_m": 200, "amount": 0.9,
            "mask": { "terms": [{ "of": "height", "from": 40, "soft_from": 20 }], "blur_m": 15 } }],
        "hollows": { "amount": 0.7, "reach_m": 120 },
        "shore": { "amount": 0.8, "reach_m": 60 },
    });
    recipe(covers, finish).expect("valid")
}

#[test]
fn a_part_of_the_ground_has_the_bits_of_the_whole() {
    let recipe = finished();
    let whole = frame(&recipe, 240);
    let grower = Grower::new(1 << 26);
    let run = Run::to_the_end();
    let land = grower.land(&recipe, &NoAssets, &whole, run).expect("grows");
    let all = land.ground(&recipe, run).expect("nobody cancels");
    for (col, row, cols, rows) in [(0, 0, 240, 11), (31, 40, 77, 59), (0, 149, 240, 11)] {
        let window = whole.window(col, row, cols, rows);
        let part = land
            .ground_in(&recipe, &window, run)
            .expect("nobody cancels");
        assert_eq!(part.albedo, all.albedo.cropped(col, row, cols, rows));
        assert_eq!(part.roughness, all.roughness.cropped(col, row, cols, rows));
        assert_eq!(
            part.displacement,
            all.displacement.cropped(col, row, cols, rows)
        );
        for (part, all) in part.weights.layers().iter().zip(all.weights.layers()) {
            assert_eq!(*part, all.cropped(col, row, cols, rows));
        }
    }
    let displaced = all.displacement.range();
    assert!(displaced.0 < -0.2 && displaced.1 > 0.2, "{displaced:?}");
}

/// A wash colours what lies below its source and nothing above it.
#[test]
fn a_wash_colours_downhill() {
    let covers = json!([{ "id": "g", "name": "Grey", "colour": "#808080", "mottle": { "amount": 0, "feature_m": 10 } }]);
    let wash = json!({ "washes": [{ "id": "w", "name": "Melt", "colour": "#ffffff", "distance_m": 300, "amount": 1,
        "mask": { "terms": [{ "of": "height", "from": 30, "to": 50 }] } }] });
    let recipe = recipe(covers, wash).expect("valid");
    let over = frame(&recipe, 240);
    with_ground(&recipe, &NoAssets, &over, |ground, heights| {
        let (mut below, mut coloured) = (0, 0);
        for (colour, height) in ground.albedo.values().iter().zip(heights.values()) {
            // Grey 128 is 0.216 in linear light.
            let washed = colour.g > 0.23;
            if *height > 51.0 {
                assert!(!washed, "coloured at {height} m, above the source");
            }
            if (0.0..30.0).contains(height) {
                below += 1;
                coloured += u32::from(washed);
            }
        }
        assert!(
            coloured * 20 > below,
            "{coloured} of {below} cells below are coloured"
        );
    });
}

#[test]
fn shores_are_wet_and_hollows_dark() {
    let covers = json!([{ "id": "g", "name": "Grey", "colour": "#808080", "mottle": { "amount": 0, "feature_m": 10 } }]);
    let plain = recipe(covers.clone(), json!({})).expect("valid");
    let over = frame(&plain, 240);
    let dry = albedo(&plain, &over);
    let shore = json!({ "shore": { "amount": 1, "reach_m": 50 } });
    let shore = recipe(covers.clone(), shore).expect("valid");
    with_ground(&shore, &NoAssets, &over, |ground, heights| {
        let cells = ground.albedo.values().iter().zip(ground.roughness.values());
        for (((wet, rough), dry), height) in cells.zip(dry.values()).zip(heights.values()) {
            if *height < 0.0 {
                // Wet sand has about half of its dry reflectance (Lekner and Dorf 1988).
                assert!((wet.g / dry.g - 0.5).abs() < 0.01);
                assert!(*rough < 0.5, "water's edge is smooth, not {rough}");
            }
            if *height > 100.0 {
                assert_eq!(wet, dry, "high ground stays dry");
            }
        }
    });
    let hollows = json!({ "hollows": { "amount": 0.8, "reach_m": 200 } });
    let dark = albedo(&recipe(covers, hollows).expect("valid"), &over);
    let darker = dark
        .values()
        .iter()
        .zip(dry.values())
        .filter(|(a, b)| a.g < 0.97 * b.g);
    assert!(darker.count() > 1000);
    assert!(
        dark.values()
            .iter()
            .zip(dry.values())
            .all(|(a, b)| a.g <= b.g)
    );
}

#[test]
fn a_gradient_follows_its_reading() {
    let covers = json!([{ "id": "g", "name": "Bands", "colour": "#000000", "mottle": { "amount": 0, "feature_m": 10 },
        "gradient": { "by": "height", "from": -40, "to": 60, "stops": [
            { "at": 0, "colour": "#000000" }, { "at": 1, "colour": "#ffffff" }] } }]);
    let recipe = recipe(covers, json!({})).expect("valid");
    with_ground(
        &recipe,
        &NoAssets,
        &frame(&recipe, 120),
        |ground, heights| {
            for (colour, height) in ground.albedo.values().iter().zip(heights.values()) {
                let wanted = ((height + 40.0) / 100.0).clamp(0.0, 1.0);
                assert!(
                    (colour.r - wanted).abs() < 1e-5,
                    "{} at {height} m",
                    colour.r
                );
            }
        },
    );
}

/// Three covers of a picture's channels come out with the picture's weights.
#[test]
fn a_splat_map_comes_back_as_weights() {
    let (cols, rows) = (60, 40);
    let channel = |k: usize| {
        let at = move |c: usize, r: usize| {
            let red = ((c * 37 + r * 11) % 200) as u32;
            let green = ((c * 5 + r * 83) % (256 - red as usize)) as u32;
            [red, green, 255 - red - green][k] as f32
        };
        Arc::new(Grid::by_rows(cols, rows, |r, row| {
            for (c, value) in row.iter_mut().enumerate() {
                *value = at(c, r);
            }
        }))
    };
    let image = Image {
        channels: vec![channel(0), channel(1), channel(2)],
        white: Some(255.0),
    };
    let assets = TestAssets(HashMap::from([(
        "splat".to_owned(),
        Arc::new(image.clone()),
    )]));
    let cover = |k: usize| {
        json!({ "id": format!("c{k}"), "name": format!("Cover {k}"), "colour": "#808080",
            "mask": { "terms": [{ "of": { "image": { "asset": "splat", "channel": k, "of_rest": true } } }] } })
    };
    let recipe = recipe(json!([cover(0), cover(1), cover(2)]), json!({})).expect("valid");
    assert_eq!(
        recipe.asset_names().into_iter().collect::<Vec<_>>(),
        ["splat"]
    );
    with_ground(&recipe, &assets, &frame(&recipe, cols), |ground, _| {
        for (layer, wanted) in ground.weights.layers().iter().zip(&image.channels) {
            for (got, wanted) in layer.values().iter().zip(wanted.values()) {
                assert!(
                    (got - wanted / 255.0).abs() < 1e-5,
                    "{got}, wanted {wanted} / 255"
                );
            }
        }
    });
}

#[test]
fn imported_maps_are_a_material_and_missing_ones_are_named() {
    let covers = json!([{ "id": "g", "name": "Bricks", "colour": "#808080",
        "material": { "images": { "albedo": "red", "height": "red" } },
        "texture": { "size_m": 100 }, "mottle": { "amount": 0, "feature_m": 10 } }]);
    let recipe = recipe(covers, json!({})).expect("valid");
    let red = Grid::filled(64, 64, 255.0);
    let black = Arc::new(Grid::filled(64, 64, 0.0));
    let image = Image {
        channels: vec![Arc::new(red), black.clone(), black],
        white: Some(255.0),
    };
    let assets = TestAssets(HashMap::from([("red".to_owned(), Arc::new(image))]));
    let over = frame(&recipe, 60);
    with_ground(&recipe, &assets, &over, |ground, _| {
        let colour = ground.albedo.at(30, 20);
        assert!(
            (colour.r - 1.0).abs() < 1e-3 && colour.g.abs() < 1e-3,
            "{colour:?}"
        );
    });
    let grower = Grower::new(1 << 20);
    let run = Run::to_the_end();
    let other = recipe.to_json().replace("\"red\"", "\"gone\"");
    let other = Recipe::from_json(&other).expect("valid");
    let land = grower.land(&other, &NoAssets, &over, run).expect("grows");
    let refused = land.ground(&other, run).err().expect("a file is missing");
    assert!(refused.to_string().contains("gone"), "{refused}");
}

#[test]
fn colours_and_readings_are_checked() {
    let cover = |more: Value| {
        let mut cover = json!({ "id": "g", "name": "Heath", "colour": "#808080" });
        for (key, value) in more.as_object().expect("an object") {
            cover[key] = value.clone();
        }
        recipe(json!([cover]), json!({}))
            .expect_err("refused")
            .to_string()
    };
    let stops = json!([{ "at": 0, "colour": "#12" }]);
    let said = cover(json!({ "gradient": { "by": "height", "from": 0, "to": 1, "stops": stops } }));
    assert!(said.contains("colour") && said.contains("Heath"), "{said}");
    let stops = json!([{ "at": 0, "colour": "#123456" }]);
    let said = cover(json!({ "gradient": { "by": "height", "from": 3, "to": 3, "stops": stops } }));
    assert!(said.contains("‘from’"), "{said}");
    let said = cover(
        json!({ "gradient": { "by": { "trace": "wear" }, "from": 0, "to": 3, "stops": stops } }),
    );
    assert!(said.contains("needs an earlier step"), "{said}");
    let wash = json!({ "washes": [{ "id": "w", "name": "Melt", "colour": "white", "distance_m": 300, "amount": 1,
        "mask": { "terms": [] } }] });
    let said = recipe(json!([]), wash).expect_err("refused").to_string();
    assert!(said.contains("Melt") && said.contains("#rrggbb"), "{said}");
}

/// The demo's ground is as it was when nothing is done to it as a whole.
#[test]
fn a_recipe_without_finish_is_written_without_it() {
    let mut plain = demo();
    plain.finish = recipe::document::Finish::default();
    assert!(!plain.to_json().contains("\"finish\""));
}

/// Ready covers fit into a recipe, lie somewhere on the demo and not everywhere.
#[test]
fn ready_covers_lie_where_they_should() {
    for combination in recipe::combinations::COVER_COMBINATIONS {
        let mut with = demo();
        with.covers.extend(combination.covers());
        let mut ids = HashMap::new();
        for cover in &mut with.covers {
            let times = ids.entry(cover.id.clone()).or_insert(0);
            *times += 1;
            if *times > 1 {
                cover.id = format!("{}-{times}", cover.id);
            }
        }
        let with = Recipe::from_json(&with.to_json()).expect(combination.key);
        let over = frame(&with, 192);
        with_ground(&with, &NoAssets, &over, |ground, _| {
            let shares = ground.weights.shares();
            let share = shares[shares.len() - 1];
            assert!(
                (0.0005..0.7).contains(&share),
                "{} takes {share} of the land",
                combination.key
            );
        });
    }
}

/// Looking at one cover alone leaves its share of the land as its mask says.
#[test]
fn one_cover_alone_shows_all_of_its_mask() {
    let whole = demo();
    let alone = whole.with_only_cover("heath").expect("a cover of the demo");
    assert_eq!(alone.covers.len(), 2);
    let over = frame(&whole, 128);
    let share = |recipe: &Recipe, at: usize| {
        with_ground(recipe, &NoAssets, &over, |ground, _| {
            ground.weights.shares()[at]
        })
    };
    // Birch and snow lie on the heath and hide some of it.
    assert!(share(&alone, 1) > share(&whole, 2));
    assert!(whole.with_only_cover("nothing").is_none());
}
