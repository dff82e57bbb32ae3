//! How long an artist waits for the demo.

use divan::Bencher;
use recipe::document::LAND;
use recipe::grow::NoAssets;
use recipe::steps::Operation;
use recipe::view::{View, picture};
use recipe::{Grower, Recipe};
use terrain::Run;

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
