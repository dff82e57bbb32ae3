//! How long an artist waits for the demo.

use divan::Bencher;
use recipe::document::LAND;
use recipe::grow::NoAssets;
use recipe::steps::Operation;
use recipe::view::{Sweep, View, picture, shape_only, sheet, variants};
use recipe::{Grower, Recipe};
use std::time::Duration;
use terrain::{Cancel, Frame, Run};

fn main() {
    divan::main();
}

const CACHE_BYTES: usize = 1 << 30;

fn demo() -> Recipe {
    let text = include_str!("../../../demo/hollin-fjord.json");
    Recipe::from_json(text).expect("the demo is a recipe")
}

fn look(grower: &Grower, recipe: &Recipe, cells: usize) {
    let run = Run::to_the_end();
    let picture = picture(grower, recipe, &NoAssets, &View::of_land(cells), run);
    divan::black_box(picture.expect("the demo grows"));
}

/// Everything from nothing.
#[divan::bench(args = [128, 512, 1024], sample_count = 3)]
fn whole_demo(bencher: Bencher, cells: usize) {
    let recipe = demo();
    bencher
        .with_inputs(|| Grower::new(CACHE_BYTES))
        .bench_refs(|grower| look(grower, &recipe, cells));
}

/// Ages on plain noise over 12 km, the noise in the cache.
#[divan::bench(args = [128, 512, 1024], sample_count = 5)]
fn ages_of_plain_noise(bencher: Bencher, cells: usize) {
    let grower = Grower::new(CACHE_BYTES);
    let document = serde_json::json!({
        "version": 1, "name": "Bench", "sea_level_m": -10_000,
        "extent": { "width_m": 12_000, "depth_m": 12_000 },
        "strands": [{ "name": "land", "steps": [
            { "id": "noise", "name": "Noise", "combine": "add", "do": { "noise": {
                "height_m": 1500, "feature_m": 5000 } } },
            { "id": "ages", "name": "Ages", "do": { "ages": {} } },
        ] }],
    });
    let mut recipe = Recipe::from_value(document).expect("a recipe");
    bencher.bench_local(|| {
        let step = &mut recipe.strands[0].steps[1];
        if let Operation::Ages(ages) = &mut step.operation {
            ages.sediment += 1e-3;
        }
        let frame = Frame::with_cells(recipe.extent.into(), cells);
        let land = grower.land(&recipe, &NoAssets, &frame, Run::to_the_end());
        divan::black_box(land.expect("it grows").heights());
    });
}

/// The demo with another value in its last noise step: what lies below is in
/// the cache, the erosion above it must run again.
#[divan::bench(args = [128, 512], sample_count = 10)]
fn edit_below_the_erosion(bencher: Bencher, cells: usize) {
    let grower = Grower::new(CACHE_BYTES);
    let mut recipe = demo();
    look(&grower, &recipe, cells);
    let mut height = 150.0;
    bencher.bench_local(|| {
        height += 1.0;
        let land = recipe.strands.iter_mut().find(|strand| strand.name == LAND);
        let steps = &mut land.expect("the land").steps;
        let last = steps
            .iter_mut()
            .rev()
            .find_map(|step| match &mut step.operation {
                Operation::Noise(noise) => Some(noise),
                _ => None,
            });
        last.expect("a noise step").height_m = height;
        look(&grower, &recipe, cells);
    });
}

/// The demo with another range in the mask of its topmost cover.
#[divan::bench(args = [128, 512], sample_count = 10)]
fn edit_of_the_ground(bencher: Bencher, cells: usize) {
    let grower = Grower::new(CACHE_BYTES);
    let mut recipe = demo();
    look(&grower, &recipe, cells);
    let mut from = 900.0;
    bencher.bench_local(|| {
        from += 1.0;
        let snow = recipe.covers.last_mut().expect("a cover");
        snow.mask.as_mut().expect("a mask").terms[0].from = Some(from);
        look(&grower, &recipe, cells);
    });
}

/// Sixteen seeds of the demo's shape steps at 128², from nothing.
#[divan::bench(sample_count = 5)]
fn sheet_of_16_seeds(bencher: Bencher) {
    let recipe = shape_only(&demo());
    let seeds = Sweep {
        step: "massif".to_owned(),
        parameter: "seed".to_owned(),
        values: (1..=16).map(|seed| serde_json::json!(seed)).collect(),
    };
    let made = variants(&recipe, &[seeds]).expect("seeds are allowed");
    let view = View::of_land(128);
    bencher
        .with_inputs(|| Grower::new(CACHE_BYTES))
        .bench_refs(|grower| sheet(grower, &made, &NoAssets, &view, Run::to_the_end()).map(drop));
}

/// How long growing goes on after it was asked to stop: the demo at 1024²,
/// asked at different times.
#[divan::bench(args = [50, 200, 400], sample_count = 5)]
fn stopping_after_ms(bencher: Bencher, wait_ms: u64) {
    let recipe = demo();
    bencher
        .with_inputs(|| {
            let cancel = Cancel::new();
            let (asked, recipe) = (cancel.clone(), recipe.clone());
            let growing = std::thread::spawn(move || {
                let frame = Frame::with_cells(recipe.extent.into(), 1024);
                let grower = Grower::new(CACHE_BYTES);
                let grown = grower.land(&recipe, &NoAssets, &frame, Run::until(&asked));
                divan::black_box(grown.is_err());
            });
            std::thread::sleep(Duration::from_millis(wait_ms));
            (cancel, growing)
        })
        .bench_values(|(cancel, growing)| {
            cancel.cancel();
            growing.join().expect("growing ends")
        });
}
