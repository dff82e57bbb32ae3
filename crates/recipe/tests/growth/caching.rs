//! What is kept changes how long growth takes, never what comes of it.

use proptest::prelude::*;
use recipe::grow::NoAssets;
use recipe::{Grower, Recipe};
use serde_json::json;
use terrain::{Grid, Run};

use crate::support::{demo, frame, grown, with_steps};

/// An edit of the demo: which step, and by how much of it.
fn edit(recipe: &mut Recipe, step: usize, amount: f32, on: bool) {
    let steps = &mut recipe.strands[0].steps;
    let count = steps.len();
    steps[step % count].amount = amount;
    steps[(step / count) % count].on = on;
}

fn land(grower: &Grower, recipe: &Recipe, cells: usize) -> Grid {
    let land = grower.land(recipe, &NoAssets, &frame(recipe, cells), Run::to_the_end());
    land.expect("it grows").heights()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(4))]

    /// Edits in any order, on any cells, with memory for much, little or nothing: each
    /// time the land is, bit for bit, what it is from a cold start; and no more is kept
    /// than may be.
    #[test]
    fn what_is_kept_never_shows(
        edits in prop::collection::vec((0..100_usize, 0.2..1.0_f32, any::<bool>(), 0..3_usize), 3),
        budget in prop::sample::select(vec![0, 200 << 10, 3 << 20, 256 << 20]),
    ) {
        let grower = Grower::new(budget);
        let mut recipe = demo();
        for (step, amount, on, size) in edits {
            edit(&mut recipe, step, amount, on);
            let cells = [40, 64, 96][size];
            let kept = land(&grower, &recipe, cells);
            prop_assert_eq!(kept, grown(&recipe, &frame(&recipe, cells)));
            let used = grower.cache_use();
            prop_assert!(used.bytes <= used.budget, "{} of {}", used.bytes, used.budget);
        }
    }
}

/// Many grow at once from one cache, and each gets its own land.
#[test]
fn many_at_once_do_not_mix() {
    let grower = Grower::new(8 << 20);
    let variants: Vec<Recipe> = (0..6)
        .map(|k| {
            let mut recipe = demo();
            edit(&mut recipe, k, 0.5 + 0.08 * k as f32, k % 2 == 0);
            recipe
        })
        .collect();
    let lands: Vec<Grid> = std::thread::scope(|scope| {
        let growing: Vec<_> = variants
            .iter()
            .map(|recipe| scope.spawn(|| land(&grower, recipe, 64)))
            .collect();
        let grown = growing.into_iter().map(|thread| thread.join());
        grown.map(|land| land.expect("no panic")).collect()
    });
    for (recipe, land) in variants.iter().zip(lands) {
        assert_eq!(land, grown(recipe, &frame(recipe, 64)));
    }
}

/// A process that reads a mask by its name works anew when that mask changes, on every one
/// of its grids.
#[test]
fn what_named_masks_say_is_part_of_what_is_kept() {
    let land = |from: f64| {
        let rock = json!({ "terms": [{ "of": "slope", "from": from, "soft_from": 2 }] });
        let named = json!({ "terms": [{ "of": { "named": { "mask": "rock" } } }] });
        let mut document = with_steps(&[
            (
                "Hills",
                json!({ "noise": { "height_m": 900, "feature_m": 2500 } }),
            ),
            (
                "Rain",
                json!({ "water": { "scale_m": 200, "duration": 12, "hard": named } }),
            ),
        ]);
        document["masks"] = json!([{ "name": "rock", "mask": rock }]);
        document["strands"][0]["steps"][1]["combine"] = json!("replace");
        Recipe::from_value(document).expect("valid")
    };
    let grower = Grower::new(64 << 20);
    for from in [35.0, 2.0, 35.0, 12.0] {
        let recipe = land(from);
        let kept = self::land(&grower, &recipe, 64);
        assert_eq!(kept, grown(&recipe, &frame(&recipe, 64)), "from {from}°");
    }
}
