//! What growing takes is told before it begins, and what does not fit is refused by
//! name, with the nearest value that does.

use std::time::{Duration, Instant};

use recipe::grow::{Budget, Excess, NoAssets, Part, TooCostly};
use recipe::{GrowError, Grower, Recipe, recipe_schema};
use serde_json::{Value, json};
use terrain::{Cancel, Frame, Run};

use crate::support::{frame, grown, with_steps};

const GIB: f64 = (1_u64 << 30) as f64;

fn refused(document: Value, cells: usize) -> TooCostly {
    let recipe = Recipe::from_value(document).expect("it is valid");
    let grower = Grower::within(Budget::default(), 1 << 20);
    let since = Instant::now();
    let land = grower.land(
        &recipe,
        &NoAssets,
        &frame(&recipe, cells),
        Run::to_the_end(),
    );
    let Err(GrowError::TooCostly(refused)) = land.map(|land| land.heights()) else {
        panic!("it was not refused");
    };
    assert!(
        since.elapsed() < Duration::from_secs(3),
        "told late: {:?}",
        since.elapsed()
    );
    *refused
}

fn noise() -> (&'static str, Value) {
    ("Hills", json!({ "noise": {} }))
}

/// The value that is named fits; a value a little nearer to the refused one does not.
fn assert_nearest(mut document: Value, refused: &TooCostly, cells: usize) {
    let fit = refused.parameter.clone().expect("a parameter");
    let fits = |document: &Value| {
        let recipe = Recipe::from_value(document.clone()).expect("valid");
        let grower = Grower::within(Budget::default(), 1 << 20);
        grower.takes(&recipe, &frame(&recipe, cells)).is_ok()
    };
    let place = |document: &mut Value, value: f64| {
        *document.pointer_mut(&fit.pointer).expect("there") = json!(value);
    };
    place(&mut document, fit.fits);
    assert!(fits(&document), "{refused}");
    place(&mut document, fit.fits + 0.2 * (fit.value - fit.fits));
    assert!(!fits(&document), "{refused} is not the nearest");
}

#[test]
fn grids_that_are_too_fine_name_their_scale() {
    for kind in ["water", "rivers", "crumble", "settle", "snow"] {
        let document = with_steps(&[noise(), ("Fine", json!({ kind: { "scale_m": 0.1 } }))]);
        let refused = refused(document.clone(), 128);
        assert_eq!(refused.owner, "step ‘Fine’", "{kind}");
        let parameter = refused.parameter.as_ref().expect("a parameter");
        assert_eq!(parameter.name, "scale_m", "{kind}: {refused}");
        assert_eq!(
            parameter.pointer,
            format!("/strands/0/steps/1/do/{kind}/scale_m")
        );
        assert_nearest(document, &refused, 128);
    }
}

#[test]
fn far_movements_name_how_far() {
    let tiny = |mut document: Value| {
        document["extent"] = json!({ "width_m": 1, "depth_m": 1 });
        document
    };
    for (kind, operation, parameter) in [
        (
            "warp",
            json!({ "warp": { "distance_m": 20_000 } }),
            "distance_m",
        ),
        (
            "displace",
            json!({ "displace": { "amount_m": 20_000 } }),
            "amount_m",
        ),
        (
            "strew",
            json!({ "strew": { "least_m": 1, "greatest_m": 100_000, "keep_ground": false } }),
            "greatest_m",
        ),
    ] {
        let document = tiny(with_steps(&[noise(), ("Far", operation)]));
        let refused = refused(document.clone(), 128);
        assert_eq!(refused.owner, "step ‘Far’", "{kind}");
        let named = refused.parameter.as_ref().map(|fit| fit.name.as_str());
        assert_eq!(named, Some(parameter), "{refused}");
        assert!(
            matches!(refused.excess, Excess::Bytes(bytes) if bytes > 4.0 * GIB),
            "{refused}"
        );
        assert_nearest(document, &refused, 128);
    }
}

/// Land that is grown only because a step looks far around is that step's to answer for.
#[test]
fn land_far_around_is_put_down_to_who_looks_there() {
    let hills = json!({ "noise": { "octaves": 16 } });
    let far = json!({
        "strew": { "least_m": 1, "greatest_m": 40_000, "count": 3, "keep_ground": false },
    });
    let mut document = with_steps(&[("Hills", hills), ("Far", far)]);
    let budget = Budget {
        bytes: GIB,
        work: 1e7,
    };
    let fits = |document: &Value| {
        let recipe = Recipe::from_value(document.clone()).expect("it is valid");
        Grower::within(budget, 1 << 20).takes(&recipe, &frame(&recipe, 48))
    };
    let refused = fits(&document).expect_err("too much land");
    assert_eq!(refused.owner, "step ‘Far’", "{refused}");
    let fit = refused.parameter.clone().expect("a parameter");
    assert_eq!(fit.name, "greatest_m", "{refused}");
    let mut place = |value: f64| {
        *document.pointer_mut(&fit.pointer).expect("there") = json!(value);
        fits(&document).is_ok()
    };
    assert!(place(fit.fits), "{refused}");
    assert!(!place(fit.fits + 0.2 * (fit.value - fit.fits)), "{refused}");
}

#[test]
fn what_takes_too_long_is_refused_as_well() {
    let long = json!({ "strew": { "count": 200_000, "least_m": 90_000, "greatest_m": 100_000 } });
    let document = with_steps(&[noise(), ("Everywhere", long)]);
    let refused = refused(document, 1024);
    assert!(matches!(refused.excess, Excess::Work(_)), "{refused}");
    assert!(refused.to_string().contains("hours"), "{refused}");
}

#[test]
fn where_no_parameter_helps_fewer_cells_do() {
    let recipe = Recipe::from_value(with_steps(&[noise()])).expect("valid");
    let little = Budget {
        bytes: 64e6,
        ..Budget::default()
    };
    let grower = Grower::within(little, 1 << 20);
    let refused = grower
        .takes(&recipe, &frame(&recipe, 8192))
        .expect_err("refused");
    let cells = refused.cells.expect("a number of cells");
    assert!(grower.takes(&recipe, &frame(&recipe, cells)).is_ok());
    assert!(
        grower
            .takes(&recipe, &frame(&recipe, cells * 11 / 10))
            .is_err()
    );
}

/// The demo and all presets fit in what anybody has, at the size one works at, and
/// as the largest export on a machine of 24 GiB; examples as one a quarter of it.
#[test]
fn what_ships_fits() {
    for preset in recipe::presets::PRESETS {
        let recipe = preset.recipe();
        let least = Grower::within(
            Budget {
                bytes: GIB,
                ..Budget::default()
            },
            0,
        );
        least
            .takes(&recipe, &frame(&recipe, 1024))
            .unwrap_or_else(|excess| panic!("{}, at work: {excess}", recipe.name));
        let quarter = Budget {
            bytes: 6.0 * GIB,
            ..Budget::default()
        };
        let largest = if preset.example { 8_192 } else { 16_384 };
        let export = Grower::within(quarter.of_export(), 0);
        export
            .takes(&recipe, &frame(&recipe, largest))
            .unwrap_or_else(|excess| panic!("{}, as an export: {excess}", recipe.name));
    }
}

/// Costs are told in time that is linear in the recipe: two to the thirtieth ways
/// through its masks, and a thousand steps.
#[test]
fn a_knot_of_masks_and_a_long_recipe_are_checked_and_grown_at_once() {
    let names = (0..30).map(|i| format!("m{i}"));
    let masks: Vec<Value> = names
        .map(|name| {
            let next = format!("m{}", name[1..].parse::<u32>().expect("n") + 1);
            let term = json!({ "of": { "named": { "mask": next } }, "join": "add" });
            json!({ "name": name, "mask": { "terms": [term, term], "blur_m": 5 } })
        })
        .chain([json!({ "name": "m30", "mask": { "terms": [{ "of": "slope" }] } })])
        .collect();
    let mut document = with_steps(&[noise(), ("Up", json!({ "noise": { "seed": 2 } }))]);
    document["masks"] = json!(masks);
    document["strands"][0]["steps"][1]["mask"] =
        json!({ "terms": [{ "of": { "named": { "mask": "m0" } } }] });
    let since = Instant::now();
    let recipe = Recipe::from_value(document).expect("valid");
    grown(&recipe, &frame(&recipe, 64))
        .check_finite()
        .expect("finite");
    assert!(
        since.elapsed() < Duration::from_secs(5),
        "{:?}",
        since.elapsed()
    );

    let steps: Vec<Value> = (0..500)
        .map(|i| {
            json!({ "id": format!("s{i}"), "name": "Hill", "combine": "add",
            "do": { "noise": { "seed": i, "octaves": 1 } } })
        })
        .collect();
    let mut long = with_steps(&[]);
    long["strands"][0]["steps"] = json!(steps);
    let since = Instant::now();
    let long = Recipe::from_value(long).expect("valid");
    grown(&long, &frame(&long, 64))
        .check_finite()
        .expect("finite");
    assert!(
        since.elapsed() < Duration::from_secs(10),
        "{:?}",
        since.elapsed()
    );
}

#[test]
fn too_many_of_anything_are_refused_in_words() {
    let many =
        |count: usize, one: &dyn Fn(usize) -> Value| -> Value { (0..count).map(one).collect() };
    let step = |i: usize| json!({ "id": format!("x{i}"), "name": "x", "do": { "invert": {} } });
    let cover = |i: usize| json!({ "id": format!("c{i}"), "name": "c", "colour": "#808080" });
    let mask = |i: usize| json!({ "name": format!("m{i}"), "mask": { "terms": [] } });
    for (pointer, value, words) in [
        ("/strands/0/steps", many(501, &step), "at most 500"),
        ("/covers", many(33, &cover), "at most 32"),
        ("/masks", many(257, &mask), "at most 256"),
    ] {
        let mut document = with_steps(&[noise()]);
        document["covers"] = json!([]);
        document["masks"] = json!([]);
        *document.pointer_mut(pointer).expect("there") = value;
        let said = Recipe::from_value(document)
            .expect_err("refused")
            .to_string();
        assert!(said.contains(words), "{said}");
    }
    let mut strands = with_steps(&[noise()]);
    for s in 0..3 {
        let steps = many(400, &|i| step(1000 * (s + 1) + i));
        let list = strands["strands"].as_array_mut().expect("strands");
        list.push(json!({ "name": format!("piece {s}"), "steps": steps }));
    }
    let said = Recipe::from_value(strands)
        .expect_err("refused")
        .to_string();
    assert!(said.contains("at most 1000 steps"), "{said}");
    let row: Vec<Value> = (0..40)
        .map(|i| {
            json!({ "name": format!("s{i}"), "steps": match i {
            39 => json!([]),
            _ => json!([{ "id": format!("i{i}"), "name": "In",
                "do": { "take_in": { "strand": format!("s{}", i + 1) } } }]),
        } })
        })
        .collect();
    let mut deep = with_steps(&[noise()]);
    deep["strands"].as_array_mut().expect("strands").extend(row);
    let said = Recipe::from_value(deep).expect_err("refused").to_string();
    assert!(said.contains("in a row"), "{said}");
}

/// What the schema does not bound cannot be enforced by it.
#[test]
fn every_number_text_and_list_of_a_recipe_is_bounded() {
    fn walk(schema: &Value, at: &str, unbounded: &mut Vec<String>) {
        let is = |wanted: &str| match &schema["type"] {
            Value::String(kind) => kind == wanted,
            Value::Array(kinds) => kinds.iter().any(|kind| kind == wanted),
            _ => false,
        };
        let has = |key: &str| !schema[key].is_null();
        let whole = schema["format"]
            .as_str()
            .is_some_and(|f| f.starts_with("uint"));
        let number = is("number") || (is("integer") && !whole);
        let named = has("enum") || has("const") || has("pattern");
        if (number && !(has("minimum") && has("maximum")))
            || (is("string") && !(named || has("maxLength")))
            || (is("array") && !has("maxItems"))
        {
            unbounded.push(at.to_owned());
        }
        match schema {
            Value::Object(fields) => {
                for (key, inner) in fields {
                    if !matches!(key.as_str(), "default" | "enum" | "const" | "examples")
                        && !key.starts_with("x-")
                    {
                        walk(inner, &format!("{at}/{key}"), unbounded);
                    }
                }
            }
            Value::Array(items) => {
                for (i, inner) in items.iter().enumerate() {
                    walk(inner, &format!("{at}/{i}"), unbounded);
                }
            }
            _ => {}
        }
    }
    let mut unbounded = Vec::new();
    walk(&recipe_schema(), "", &mut unbounded);
    assert!(unbounded.is_empty(), "{unbounded:#?}");
}

/// Painting under thousands of wide strokes stops when it is asked to.
#[test]
fn painting_can_be_stopped() {
    let points: Vec<Value> = (0..20_000).map(|i| json!([i % 6000, i / 4, 1.0])).collect();
    let stroke = json!({ "points": points, "size_m": 2_000, "strength": 1, "softness": 1 });
    let mut document = with_steps(&[noise(), ("Up", json!({ "noise": { "seed": 2 } }))]);
    document["strands"][0]["steps"][1]["mask"] =
        json!({ "terms": [{ "of": { "painted": { "strokes": vec![stroke; 5] } } }] });
    let recipe = Recipe::from_value(document).expect("valid");
    let cancel = Cancel::new();
    std::thread::scope(|scope| {
        let (cancel_there, recipe) = (&cancel, &recipe);
        let growing = scope.spawn(move || {
            let grower = Grower::within(Budget::default(), 1 << 20);
            let frame = Frame::with_cells(recipe.extent.into(), 512);
            let part = Part {
                strand: "land",
                steps: 2,
            };
            let run = Run::until(cancel_there);
            let stopped = grower.part(recipe, part, &NoAssets, &frame, run).map(drop);
            (stopped, Instant::now())
        });
        std::thread::sleep(Duration::from_millis(300));
        let asked = Instant::now();
        cancel.cancel();
        let (stopped, ended) = growing.join().expect("no panic");
        assert!(
            matches!(stopped, Err(GrowError::Cancelled(_))),
            "{stopped:?}"
        );
        let late = ended - asked;
        assert!(late < Duration::from_millis(100), "it went on for {late:?}");
    });
}

/// A wide blur is taken of coarser cells: as smooth as the plain one, the same in any
/// window, and no dearer for being wide.
#[test]
fn wide_blurs_are_as_good_as_narrow_ones() {
    let blurred = |radius_m: f64| {
        let steps = [
            noise(),
            ("Soft", json!({ "blur": { "radius_m": radius_m } })),
        ];
        let mut document = with_steps(&steps);
        document["strands"][0]["steps"][1]["combine"] = json!("replace");
        Recipe::from_value(document).expect("valid")
    };
    let recipe = blurred(400.0);
    // 400 m are 13.3 cells of 30 m, blurred as they are, and 53 cells of 7.5 m.
    let (coarse, fine) = (frame(&recipe, 200), frame(&recipe, 800));
    let plain = grown(&recipe, &coarse);
    let wide = grown(&recipe, &fine);
    let averaged = terrain::grid::resample(&wide, &fine, &coarse);
    let apart = averaged.zip_map(&plain, |a, b| (a - b).abs()).range().1;
    let (low, high) = plain.range();
    assert!(apart < 0.01 * (high - low), "{apart} m of {} m", high - low);
    let window = grown(&recipe, &fine.window(101, 53, 64, 48));
    let part = wide.cropped(101, 53, 64, 48);
    assert!(
        window
            .values()
            .iter()
            .zip(part.values())
            .all(|(a, b)| a.to_bits() == b.to_bits())
    );
    let farther = Instant::now();
    grown(&blurred(20_000.0), &fine)
        .check_finite()
        .expect("finite");
    assert!(
        farther.elapsed() < Duration::from_secs(5),
        "{:?}",
        farther.elapsed()
    );
}

/// Lands as small as a metre with masks that look far beyond them.
#[test]
fn margins_far_beyond_a_small_land_grow_finite() {
    for of in [
        json!({ "occlusion": { "reach_m": 5_000 } }),
        json!({ "sunlight": { "bearing_deg": 10, "altitude_deg": 5 } }),
        json!({ "sun_day": { "latitude_deg": 50, "day": 80 } }),
        json!({ "position": { "scale_m": 5_000 } }),
        json!({ "roughness": { "scale_m": 2_000 } }),
        json!({ "curvature": { "bend": "mean", "scale_m": 5_000 } }),
        json!("water"),
        json!("wetness"),
        json!({ "near": { "mask": "far" } }),
        json!({ "named": { "mask": "far" } }),
    ] {
        let mut document = with_steps(&[noise(), ("Up", json!({ "noise": { "seed": 3 } }))]);
        document["extent"] = json!({ "width_m": 3, "depth_m": 1 });
        document["masks"] = json!([{ "name": "far", "mask": {
            "terms": [{ "of": { "occlusion": { "reach_m": 900 } } }], "blur_m": 700, "grow_m": 2_000 } }]);
        let mask = json!({ "terms": [{ "of": of }], "blur_m": 300, "grow_m": -2_000 });
        document["strands"][0]["steps"][1]["mask"] = mask.clone();
        document["covers"] = json!([{ "id": "c", "name": "c", "colour": "#123456", "mask": mask }]);
        document["finish"] = json!({ "shore": { "amount": 1, "reach_m": 5_000 } });
        let recipe = Recipe::from_value(document).expect("valid");
        let grower = Grower::new(1 << 24);
        let land = grower.land(&recipe, &NoAssets, &frame(&recipe, 48), Run::to_the_end());
        let land = land.unwrap_or_else(|error| panic!("{of}: {error}"));
        land.heights().check_finite().expect("finite");
        land.ground(&recipe, Run::to_the_end()).expect("it is laid");
    }
}

/// A strand that ages take in is counted on their grids, and what is too much of it is
/// named; a plain one fits.
#[test]
fn what_ages_take_in_is_counted_too() {
    let document = |rise: Value| {
        let mut document =
            with_steps(&[noise(), ("Ages", json!({ "ages": { "strand": "rise" } }))]);
        document["strands"][0]["steps"][1]["combine"] = json!("replace");
        let strands = document["strands"].as_array_mut().expect("strands");
        strands.push(json!({ "name": "rise", "steps": [
            { "id": "r0", "name": "Ridge", "combine": "add", "do": { "primitive": { "form": "ridge" } } },
            { "id": "r1", "name": "Worn", "do": rise },
        ] }));
        document
    };
    let plain = document(json!({ "blur": { "radius_m": 200 } }));
    let recipe = Recipe::from_value(plain).expect("valid");
    let grower = Grower::within(Budget::default(), 1 << 20);
    let size = frame(&recipe, 128);
    grower.takes(&recipe, &size).expect("it fits");
    let land = grower.land(&recipe, &NoAssets, &size, Run::to_the_end());
    land.expect("it grows")
        .heights()
        .check_finite()
        .expect("finite");
    let refused = refused(document(json!({ "water": { "scale_m": 0.1 } })), 128);
    assert_eq!(refused.owner, "step ‘Worn’", "{refused}");
    let named = refused.parameter.as_ref().map(|fit| fit.name.as_str());
    assert_eq!(named, Some("scale_m"), "{refused}");
}
