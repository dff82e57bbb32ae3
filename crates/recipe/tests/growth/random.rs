//! Recipes of random steps: they grow, finite, the same in any window.

use proptest::prelude::*;
use recipe::Recipe;
use serde_json::{Value, json};

use crate::support::{frame, grown, with_steps};

fn any_step() -> impl Strategy<Value = Value> {
    let noise = (30.0..9000.0, -900.0..900.0, 1.0..9.0, 0.0..800.0, 0..99_u32).prop_map(
        |(feature_m, height_m, octaves, warp_m, seed)| {
            json!({ "noise": {
                "character": (["fractal", "ridged", "billow"])[seed as usize % 3],
                "feature_m": feature_m, "height_m": height_m, "octaves": octaves,
                "warp_m": warp_m, "seed": seed,
            } })
        },
    );
    let warp = (0.0..900.0, 50.0..5000.0, 0..99_u32).prop_map(|(distance_m, feature_m, seed)| {
        json!({ "warp": { "distance_m": distance_m, "feature_m": feature_m, "seed": seed } })
    });
    let fall_off = (10.0..3000.0, 0.0..2000.0, 0..99_u32).prop_map(|(width_m, ragged_m, seed)| {
        json!({ "fall_off": { "width_m": width_m, "ragged_m": ragged_m, "seed": seed } })
    });
    let rescale = (-500.0..500.0, -900.0..900.0)
        .prop_map(|(low, high)| json!({ "rescale": { "to_low_m": low, "to_high_m": high } }));
    let water = (80.0..600.0, 1..30_u32, 0.0..3.0, 0.0..1.0).prop_map(
        |(scale_m, duration, strength, hardness)| {
            json!({ "water": {
                "scale_m": scale_m, "duration": duration, "strength": strength,
                "hardness": hardness,
            } })
        },
    );
    prop_oneof![3 => noise, 1 => warp, 1 => fall_off, 1 => rescale, 1 => water]
}

fn any_recipe() -> impl Strategy<Value = Recipe> {
    let combine = prop::sample::select(vec!["replace", "add", "subtract", "highest", "lowest"]);
    let mask = prop_oneof![
        2 => Just(None),
        1 => Just(Some(json!({ "terms": [{ "of": "slope", "from": 12, "soft_from": 6 }] }))),
        1 => Just(Some(json!({ "terms": [
            { "of": { "facing": { "bearing_deg": 40 } }, "to": 90, "soft_to": 30 },
            { "of": { "noise": { "feature_m": 300, "seed": 3 } }, "from": 0, "join": "screen" },
        ] }))),
    ];
    prop::collection::vec((any_step(), combine, mask, -1.0..1.5), 1..5).prop_map(|steps| {
        let bare: Vec<_> = steps
            .iter()
            .map(|(step, ..)| ("Step", step.clone()))
            .collect();
        let mut document = with_steps(&bare);
        for (i, (_, combine, mask, amount)) in steps.iter().enumerate() {
            let step = &mut document["strands"][0]["steps"][i];
            step["combine"] = json!(combine);
            step["amount"] = json!(amount);
            if let Some(mask) = mask {
                step["mask"] = mask.clone();
            }
        }
        Recipe::from_value(document).expect("valid by construction")
    })
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    #[test]
    fn random_recipes_grow_finite_and_the_same_in_any_window(
        recipe in any_recipe(),
        (col, row) in (0..60_usize, 0..35_usize),
    ) {
        let whole = frame(&recipe, 96);
        let all = grown(&recipe, &whole);
        prop_assert!(all.check_finite().is_ok());
        let (cols, rows) = (96 - col.max(40), 64 - row.max(30));
        let window = grown(&recipe, &whole.window(col, row, cols, rows));
        let expected = all.cropped(col, row, cols, rows);
        for (i, (a, b)) in window.values().iter().zip(expected.values()).enumerate() {
            prop_assert!(a.to_bits() == b.to_bits(), "cell {}: got {}, expected {}", i, a, b);
        }
    }
}
