//! Recipes of random steps of every kind: they grow, finite, the same in any
//! window and for any number of threads.

use proptest::prelude::*;
use recipe::grow::Budget;
use recipe::steps::kind_sheets;
use recipe::{GrowError, Grower, Recipe};
use serde_json::{Value, json};
use terrain::{Grid, Run};

use crate::generated::{Reach, any_operation, any_step};
use crate::support::{assets, frame, grown, with_steps};

/// A recipe with these steps on a strand of noise, and one to take in.
fn recipe_of(steps: Vec<Value>) -> Option<Recipe> {
    let base = json!({ "noise": {
        "character": "ridged", "height_m": 900, "feature_m": 2500, "offset_m": -150,
    } });
    let mut document = with_steps(&[("Base", base)]);
    let land = document["strands"][0]["steps"]
        .as_array_mut()
        .expect("steps");
    for (i, mut step) in steps.into_iter().enumerate() {
        step["id"] = json!(format!("r{i}"));
        land.push(step);
    }
    let piece = json!({ "name": "piece", "steps": [
        { "id": "p0", "name": "Dome", "combine": "add", "do": { "primitive": { "form": "dome" } } },
        { "id": "p1", "name": "Crags", "do": { "outcrop": {} } },
        { "id": "p2", "name": "Rocks", "do": { "strew": { "count": 40 } } },
        { "id": "p3", "name": "Rain", "do": { "water": { "scale_m": 200, "duration": 4 } } },
    ] });
    document["strands"]
        .as_array_mut()
        .expect("strands")
        .push(piece);
    // Random levels may stand the wrong way round, which is refused.
    Recipe::from_value(document).ok()
}

fn assert_same_bits(got: &Grid, expected: &Grid, what: &str) {
    for (i, (a, b)) in got.values().iter().zip(expected.values()).enumerate() {
        assert!(
            a.to_bits() == b.to_bits(),
            "{what}: column {}, row {}: got {a}, expected {b}",
            i % got.cols(),
            i / got.cols()
        );
    }
}

fn check(recipe: &Recipe, (col, row): (usize, usize)) {
    let whole = frame(recipe, 96);
    let all = grown(recipe, &whole);
    all.check_finite().expect("finite heights");
    let (cols, rows) = (96 - col.max(40), 64 - row.max(30));
    let window = grown(recipe, &whole.window(col, row, cols, rows));
    assert_same_bits(&window, &all.cropped(col, row, cols, rows), "a window");
    for cells in [7, 41] {
        let coarse = grown(recipe, &frame(recipe, cells));
        coarse.check_finite().expect("finite at any resolution");
    }
    let pool = rayon::ThreadPoolBuilder::new().num_threads(1).build();
    let alone = pool.expect("a pool").install(|| grown(recipe, &whole));
    assert_same_bits(&alone, &all, "one thread");
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    #[test]
    fn random_recipes_grow_finite_and_the_same_in_any_window(
        steps in prop::collection::vec(any_step(), 1..4),
        place in (0..60_usize, 0..35_usize),
    ) {
        if let Some(recipe) = recipe_of(steps) {
            check(&recipe, place);
        }
    }
}

/// Every kind on its own, so that none is left out by chance.
#[test]
fn every_kind_is_finite_and_the_same_in_any_window() {
    use proptest::strategy::ValueTree;
    use proptest::test_runner::TestRunner;
    let mut runner = TestRunner::deterministic();
    for sheet in kind_sheets() {
        let kind = sheet.kind;
        let operations = any_operation(sheet, Reach::Sliders);
        let mut grown = 0;
        for _ in 0..60 {
            let operation = operations.new_tree(&mut runner).expect("a value").current();
            let step = json!({ "name": kind, "do": operation });
            let Some(recipe) = recipe_of(vec![step]) else {
                continue;
            };
            check(&recipe, (13, 9));
            grown += 1;
            if grown == 4 {
                break;
            }
        }
        assert!(grown > 0, "no parameters of {kind} were valid");
    }
}

/// Whatever the schema allows grows finite, the same in a window and on one thread, or is
/// refused by name before anything is begun: no value brings it down.
#[test]
fn whatever_a_schema_allows_grows_or_is_refused_by_name() {
    use proptest::strategy::ValueTree;
    use proptest::test_runner::TestRunner;
    /// Recipes of each kind.
    const TRIES: usize = 24;
    let budget = Budget {
        bytes: 400e6,
        work: 20e6,
    };
    let (assets, mut runner) = (assets(), TestRunner::deterministic());
    let (mut grew, mut refused) = (0, 0);
    for sheet in kind_sheets() {
        let kind = sheet.kind;
        let operations = any_operation(sheet, Reach::Schema);
        let mut grew_here = 0;
        for _ in 0..TRIES {
            let operation = operations.new_tree(&mut runner).expect("a value").current();
            let step = json!({ "name": kind, "do": operation });
            let Some(recipe) = recipe_of(vec![step]) else {
                continue;
            };
            let whole = frame(&recipe, 48);
            let grower = Grower::within(budget, 1 << 26);
            let land = grower.land(&recipe, &assets, &whole, Run::to_the_end());
            match land {
                Ok(land) => {
                    let heights = land.heights();
                    let finite = heights.check_finite();
                    assert!(finite.is_ok(), "{finite:?}: {operation}");
                    let window = whole.window(9, 5, 30, 20);
                    let part = grower.land(&recipe, &assets, &window, Run::to_the_end());
                    let part = part.expect("a part costs no more").heights();
                    assert_same_bits(&part, &heights.cropped(9, 5, 30, 20), kind);
                    grew_here += 1;
                }
                Err(GrowError::TooCostly(told)) => {
                    assert_eq!(told.owner, format!("step ‘{kind}’"), "{operation}");
                    refused += 1;
                }
                Err(error) => panic!("{error}: {operation}"),
            }
        }
        assert!(grew_here > 0, "none of {kind} grew");
        grew += grew_here;
    }
    println!("{grew} grew, {refused} were refused");
    assert!(refused > 50, "{refused} were refused");
}
