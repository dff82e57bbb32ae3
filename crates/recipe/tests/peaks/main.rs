//! What growing is said to take before it begins, beside what it takes. Alone in its
//! program, because memory is counted for all of it.

use peak_alloc::PeakAlloc;
use recipe::grow::{Budget, NoAssets};
use recipe::presets::PRESETS;
use recipe::steps::{example, kind_sheets};
use recipe::{Grower, Recipe};
use terrain::{Frame, Run};

#[global_allocator]
static MEMORY: PeakAlloc = PeakAlloc;

const DEMO: &str = include_str!("../../../../demo/hollin-fjord.json");
/// Cells along the longer side: enough for fields to outweigh all else.
const CELLS: usize = 512;

/// The least budget of memory within which this may be grown, bytes.
fn said(recipe: &Recipe, frame: &Frame) -> f64 {
    let allowed = |bytes: f64| {
        let budget = Budget {
            bytes,
            ..Budget::default()
        };
        Grower::within(budget, 0).takes(recipe, frame).is_ok()
    };
    let (mut low, mut high) = (0.0, 64e9);
    assert!(allowed(high), "it can be grown at all");
    while high - low > 1e4 {
        let middle = 0.5 * (low + high);
        match allowed(middle) {
            true => high = middle,
            false => low = middle,
        }
    }
    high
}

/// The most memory that growing the land and its ground took at once, bytes.
fn taken(recipe: &Recipe, frame: &Frame) -> f64 {
    // Nothing is kept: only what the work itself holds counts.
    let grower = Grower::new(0);
    MEMORY.reset_peak_usage();
    let before = MEMORY.current_usage();
    let run = Run::to_the_end();
    let land = grower
        .land(recipe, &NoAssets, frame, run)
        .expect("it grows");
    let ground = land.ground(recipe, run).expect("it has a ground");
    drop(ground);
    MEMORY.peak_usage() as f64 - before as f64
}

#[test]
fn what_is_said_is_what_is_taken() {
    recipe::grow::grow_shipped_materials();
    let mut recipes = vec![("demo".to_owned(), Recipe::from_json(DEMO).expect("valid"))];
    recipes.extend(PRESETS.iter().map(|p| (p.key.to_owned(), p.recipe())));
    let kinds = kind_sheets().into_iter();
    recipes.extend(kinds.filter_map(|sheet| Some((sheet.kind.to_owned(), example(sheet.kind)?))));
    let mut faults = Vec::new();
    for (name, recipe) in recipes {
        let frame = Frame::with_cells(recipe.extent.into(), CELLS);
        let (said, taken) = (said(&recipe, &frame), taken(&recipe, &frame));
        let share = taken / said;
        println!(
            "{name:20} said {:6.1} MB, taken {:6.1} MB: {share:.2}",
            said / 1e6,
            taken / 1e6
        );
        if !(0.5..=1.3).contains(&share) {
            faults.push(format!("{name}: {share:.2}"));
        }
    }
    assert!(
        faults.is_empty(),
        "taken, as a share of what was said: {faults:?}"
    );
}
