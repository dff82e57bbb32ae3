//! Strokes of the hand, as they are drawn: only what they change, and that as it will be.

use std::sync::Arc;
use std::time::Instant;

use recipe::grow::NoAssets;
use recipe::view::{Picture, Sketch, Sketchbook, View, picture};
use recipe::{Grower, Recipe};
use serde_json::{Value, json};
use terrain::Run;

use crate::support::demo;

const CELLS: usize = 256;

/// The demo with hand work after so many of its land's steps.
fn with_strokes(after: usize, strokes: Vec<Value>) -> Arc<Recipe> {
    let mut document = serde_json::to_value(demo()).expect("plain data");
    let strands = document["strands"].as_array_mut().expect("strands");
    let land = strands.iter_mut().find(|one| one["name"] == "land");
    let steps = land.expect("land")["steps"].as_array_mut().expect("steps");
    let at = after.min(steps.len());
    steps.insert(
        at,
        json!({ "id": "by-hand", "name": "By hand", "do": { "hand_work": { "strokes": strokes } } }),
    );
    Arc::new(Recipe::from_value(document).expect("it opens"))
}

fn stroke(deed: Value, points: &[[f64; 3]]) -> Value {
    json!({ "do": deed, "points": points, "size_m": 900, "strength": 1.0, "softness": 0.6 })
}

fn seen(grower: &Grower, recipe: &Recipe, cells: usize) -> Picture {
    let view = View::of_land(cells);
    picture(grower, recipe, &NoAssets, &view, Run::to_the_end()).expect("it grows")
}

fn sketched(book: &mut Sketchbook, grower: &Grower, recipe: &Arc<Recipe>, cells: usize) -> Sketch {
    let view = View::of_land(cells);
    let run = Run::to_the_end();
    let sketch = book.sketch(grower, recipe, &view, &NoAssets, run);
    sketch
        .expect("it grows")
        .expect("nothing but strokes differ")
}

/// Above all processes, a sketch has the heights that the whole picture will have, to the
/// bit, and nothing that a stroke changes lies outside; the ground of nearly all cells, for
/// where water runs is not looked at anew.
#[test]
fn a_sketch_is_the_part_of_the_picture_that_changes() {
    let grower = Grower::new(512 << 20);
    let before = with_strokes(usize::MAX, vec![]);
    let first = seen(&grower, &before, CELLS);
    let mut book = Sketchbook::of(before, View::of_land(CELLS), first);
    let mut strokes = Vec::new();
    for (deed, x_m) in [
        (json!({ "raise": { "by_m": 120 } }), 3000.0),
        (json!({ "weather": {} }), 4200.0),
        (json!({ "flatten": {} }), 6500.0),
        (json!({ "paint_back": {} }), 3600.0),
    ] {
        strokes.push(stroke(
            deed,
            &[[x_m, 3000.0, 1.0], [x_m + 900.0, 3900.0, 0.6]],
        ));
        let now = with_strokes(usize::MAX, strokes.clone());
        let Sketch::Part { part, waits } = sketched(&mut book, &grower, &now, CELLS) else {
            panic!("a stroke shows");
        };
        assert_eq!(waits, None);
        assert!(part.frame.cells() < CELLS * CELLS / 8, "{:?}", part.frame);
        let whole = seen(&grower, &now, CELLS);
        let (col, row) = whole.frame.offset_of(&part.frame).expect("a part");
        let (cols, rows) = (part.frame.cols, part.frame.rows);
        assert_eq!(part.heights, whole.heights.cropped(col, row, cols, rows));
        assert_eq!(part.sunlit, whole.sunlit.cropped(col, row, cols, rows));
        let (drawn, will_be) = (&part.ground, whole.ground.cropped(col, row, cols, rows));
        let pairs = drawn.values().iter().zip(will_be.values());
        let same = pairs.filter(|(drawn, will_be)| drawn == will_be).count();
        assert!(same * 100 > 95 * cols * rows, "{same} of {}", cols * rows);
        // What was sketched up to now is the whole land.
        assert_eq!(book.picture().heights, whole.heights);
        assert_eq!(book.picture().slope, whole.slope);
        assert_eq!(book.picture().bounds, whole.bounds);
        assert!(matches!(
            sketched(&mut book, &grower, &now, CELLS),
            Sketch::Nothing
        ));
    }
    // Undone: back to what was there.
    strokes.pop();
    let undone = with_strokes(usize::MAX, strokes);
    sketched(&mut book, &grower, &undone, CELLS);
    assert_eq!(
        book.picture().heights,
        seen(&grower, &undone, CELLS).heights
    );
}

/// Below erosion the strokes are laid on the land as it has left it, and it is said what
/// waits.
#[test]
fn a_process_above_waits_until_the_hand_rests() {
    let grower = Grower::new(512 << 20);
    let before = with_strokes(1, vec![]);
    let first = seen(&grower, &before, 128);
    let old = first.heights.clone();
    let mut book = Sketchbook::of(before, View::of_land(128), first);
    let deed = json!({ "raise": { "by_m": 100 } });
    let points = [[5000.0, 4000.0, 1.0], [5600.0, 4300.0, 1.0]];
    let now = with_strokes(1, vec![stroke(deed, &points)]);
    let Sketch::Part { waits, .. } = sketched(&mut book, &grower, &now, 128) else {
        panic!("a stroke shows");
    };
    assert!(waits.is_some());
    let change = book.picture().heights.zip_map(&old, |now, old| now - old);
    let (low, high) = change.range();
    assert!(low > -0.01 && (high - 100.0).abs() < 1.0, "{low} to {high}");
    // Another edit is no sketch.
    let mut other = Recipe::clone(&now);
    other.covers[0].name = "Other".to_owned();
    let view = View::of_land(128);
    let run = Run::to_the_end();
    let none = book.sketch(&grower, &Arc::new(other), &view, &NoAssets, run);
    assert!(none.expect("it grows").is_none());
}

/// A stroke costs as much after a thousand as after none, and what is drawn of the demo at
/// 512 cells is there soon; printed for docs/PERFORMANCE.md.
#[test]
fn a_stroke_costs_as_much_after_thousands() {
    let grower = Grower::new(1 << 30);
    let took = |earlier: usize| {
        let strokes = (0..earlier).map(|k| {
            let (x_m, y_m) = (
                600.0 + (k % 37) as f64 * 290.0,
                500.0 + (k / 37 % 24) as f64 * 280.0,
            );
            let points: Vec<[f64; 3]> = (0..12)
                .map(|i| [x_m + 20.0 * f64::from(i), y_m + 9.0 * f64::from(i), 0.5])
                .collect();
            let mut one = stroke(json!({ "raise": { "by_m": 3 } }), &points);
            one["size_m"] = json!(240);
            one
        });
        let mut strokes: Vec<Value> = strokes.collect();
        let before = with_strokes(usize::MAX, strokes.clone());
        let first = seen(&grower, &before, 512);
        let mut book = Sketchbook::of(before, View::of_land(512), first);
        let mut times = Vec::new();
        for k in 0..12 {
            let x_m = 3000.0 + 60.0 * f64::from(k);
            let deed = json!({ "raise": { "by_m": 60 } });
            let mut drawn = stroke(deed, &[[3000.0, 3000.0, 1.0], [x_m, 3600.0, 1.0]]);
            drawn["size_m"] = json!(600);
            strokes.truncate(earlier);
            strokes.push(drawn);
            let now = with_strokes(usize::MAX, strokes.clone());
            let since = Instant::now();
            sketched(&mut book, &grower, &now, 512);
            times.push(since.elapsed().as_secs_f64() * 1e3);
        }
        // The other tests take from all but the quickest.
        times.into_iter().fold(f64::INFINITY, f64::min)
    };
    let (few, many) = (took(4), took(2000));
    println!("a stroke on the demo at 512 cells: {few:.0} ms after 4, {many:.0} ms after 2000");
    assert!(many < 2.5 * few + 10.0, "{few} ms, then {many} ms");
}
