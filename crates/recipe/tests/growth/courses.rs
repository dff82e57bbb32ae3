//! Drawn courses on grown land: they fall, stand out, lie level, and say how far they are.

use recipe::grow::{NoAssets, Part};
use recipe::view::way_of_water;
use recipe::{Grower, Recipe};
use serde_json::{Value, json};
use terrain::erosion::drain;
use terrain::{Frame, Grid, Run};

use crate::support::{frame, grown};

const CELLS: usize = 320;

/// Hills, and a course over them.
fn with_course(course: &Value) -> Recipe {
    let document = json!({
        "version": 2, "name": "Courses", "sea_level_m": -2000,
        "extent": { "width_m": 8000, "depth_m": 5600 },
        "strands": [{ "name": "land", "steps": [
            { "id": "hills", "name": "Hills", "combine": "add", "do": { "noise": {
                "feature_m": 2500, "height_m": 400, "offset_m": 300, "seed": 9 } } },
            { "id": "course", "name": "Course", "do": { "course": course } },
        ] }],
    });
    Recipe::from_value(document).expect("it opens")
}

fn before_and_after(course: &Value) -> (Grid, Grid, Frame) {
    let recipe = with_course(course);
    let frame = frame(&recipe, CELLS);
    let mut bare = recipe.clone();
    bare.strands[0].steps[1].on = false;
    (grown(&bare, &frame), grown(&recipe, &frame), frame)
}

fn at(grid: &Grid, frame: &Frame, x_m: f64, y_m: f64) -> f32 {
    let (col, row) = (frame.col_at(x_m).round(), frame.row_at(y_m).round());
    grid.at(col as usize, row as usize)
}

/// Over hills and dales a valley falls from its first point to the border, whichever way
/// and however it wanders: the water of its head stays in it all the way, and its floor has
/// no hollow that a hand could be laid in.
#[test]
fn a_valley_falls_all_the_way() {
    for (section, wander) in [("flat", 0.0), ("u", 0.0), ("v", 0.7)] {
        let course = json!({
            "section": section, "wander": wander, "width_m": 300, "height_m": 120,
            "points": [
                { "x_m": 1500, "y_m": 4200 }, { "x_m": 3000, "y_m": 3100, "wide": 1.4 },
                { "x_m": 4600, "y_m": 3500, "high": 1.5 }, { "x_m": 6500, "y_m": 1800 },
            ],
        });
        let recipe = with_course(&course);
        let frame = frame(&recipe, CELLS);
        let land = grown(&recipe, &frame);
        let grower = Grower::new(64 << 20);
        let whole = Part {
            strand: "land",
            steps: usize::MAX,
        };
        let run = Run::to_the_end();
        let from = (CELLS, (1500.0, 4200.0));
        let way = way_of_water(&grower, &recipe, whole, &NoAssets, from, run);
        let way = way.expect("it grows").expect("it is on the land");
        let through = [[3000.0, 3100.0], [4600.0, 3500.0], [6500.0, 1800.0]];
        for [x_m, y_m] in through {
            let away = way.iter().map(|[x, y]| (x - x_m).hypot(y - y_m));
            let nearest = away.fold(f64::INFINITY, f64::min);
            assert!(
                nearest < 330.0,
                "{section}: water passes {nearest:.0} m from {x_m}, {y_m}"
            );
        }
        let drainage = drain(&land, -2000.0, run).expect("nobody stops it");
        let mut last = f32::INFINITY;
        for [x_m, y_m] in &way {
            let (here, filled) = (
                at(&land, &frame, *x_m, *y_m),
                at(&drainage.filled, &frame, *x_m, *y_m),
            );
            assert!(
                filled - here < 1.5,
                "{section}: a hollow of {} m",
                filled - here
            );
            assert!(here < last + 2.5, "{section}: up from {last} to {here} m");
            last = last.min(here);
        }
    }
}

/// A closed end stands as a wall; an open one goes on to the border.
#[test]
fn an_end_is_closed_or_open() {
    let points = json!([{ "x_m": 3000, "y_m": 2800 }, { "x_m": 7900, "y_m": 2800 }]);
    let course = |closed: bool| json!({ "points": points, "width_m": 400, "height_m": 150, "ragged_m": 0, "closed": closed });
    let (before, closed, frame) = before_and_after(&course(true));
    let (_, open, _) = before_and_after(&course(false));
    let cut =
        |land: &Grid, x_m: f64| at(&before, &frame, x_m, 2800.0) - at(land, &frame, x_m, 2800.0);
    assert!(cut(&closed, 3600.0) > 100.0 && cut(&open, 3600.0) > 100.0);
    assert_eq!(cut(&closed, 1200.0), 0.0);
    assert!(cut(&open, 1200.0) > 60.0, "{}", cut(&open, 1200.0));
}

/// What is left standing reaches up to where the land was, and no higher.
#[test]
fn islands_are_left_standing() {
    let course = |islands: f64| json!({ "width_m": 900, "height_m": 200, "islands": islands, "islands_m": 160, "seed": 3 });
    let (before, without, _) = before_and_after(&course(0.0));
    let (_, with, _) = before_and_after(&course(0.3));
    let risen = with.zip_map(&without, |with, without| with - without);
    let (low, high) = risen.range();
    assert!(low > -0.01 && high > 120.0, "{low} to {high}");
    let over = with
        .zip_map(&before, |with, before| with - before)
        .range()
        .1;
    assert!(over < 12.0, "{over} m above the land");
    let standing = risen.values().iter().filter(|&&risen| risen > 60.0).count();
    assert!(standing > 100, "{standing} cells");
}

/// A ridge is as high as was asked for, about; a way is level across and gentle along; a
/// shore sinks on its right and nowhere else.
#[test]
fn ridges_ways_and_shores() {
    let points = json!([{ "x_m": 800, "y_m": 2800 }, { "x_m": 7200, "y_m": 2800 }]);
    let (before, ridge, _) = before_and_after(
        &json!({ "makes": "ridge", "points": points, "width_m": 1600, "height_m": 300 }),
    );
    let raised = ridge.zip_map(&before, |after, before| after - before);
    let (low, high) = raised.range();
    assert!(
        low >= 0.0 && (200.0..520.0).contains(&high),
        "{low} to {high}"
    );

    let way =
        json!({ "makes": "way", "points": points, "width_m": 120, "ragged_m": 0, "walls_deg": 34 });
    let (_, way, frame) = before_and_after(&way);
    for x_m in [1500.0, 3000.0, 5200.0] {
        let across = [-40.0, 0.0, 40.0].map(|d| at(&way, &frame, x_m, 2800.0 + d));
        let (low, high) = (across[0].min(across[2]), across[0].max(across[2]));
        assert!(high - low < 0.5, "{across:?}");
    }

    let shore = json!({ "makes": "shore", "points": points, "width_m": 400, "height_m": 500, "ragged_m": 0 });
    let (before, shore, frame) = before_and_after(&shore);
    let sunk = |y_m: f64| at(&before, &frame, 4000.0, y_m) - at(&shore, &frame, 4000.0, y_m);
    assert_eq!(sunk(3400.0), 0.0);
    assert!((sunk(1800.0) - 500.0).abs() < 0.01, "{}", sunk(1800.0));
}

/// Walls are as steep as was asked for at each point: a bank twice as steep reaches half as
/// far.
#[test]
fn banks_are_as_steep_as_at_their_points() {
    let course = |steep: f64| {
        json!({ "makes": "way", "width_m": 100, "walls_deg": 20, "ragged_m": 0, "points": [
            { "x_m": 800, "y_m": 2800, "steep": steep }, { "x_m": 7200, "y_m": 2800, "steep": steep },
        ] })
    };
    let touched = |steep: f64| {
        let (before, after, _) = before_and_after(&course(steep));
        let cells = before.values().iter().zip(after.values());
        cells.filter(|(before, after)| before != after).count() as f64
    };
    let (gentle, steep) = (touched(1.0), touched(2.0));
    assert!(
        (0.35..0.75).contains(&(steep / gentle)),
        "{steep} of {gentle} cells"
    );
}

/// Other steps can read how far a place is from the course, and how far along.
#[test]
fn masks_read_how_far_a_course_is() {
    let points = json!([{ "x_m": 1000, "y_m": 2000 }, { "x_m": 7000, "y_m": 2000 }]);
    let mut document =
        serde_json::to_value(with_course(&json!({ "points": points, "height_m": 0 })))
            .expect("plain data");
    document["strands"][0]["steps"]
        .as_array_mut()
        .expect("steps")
        .push(json!({
            "id": "near", "name": "Near it", "combine": "add",
            "mask": { "terms": [
                { "of": { "trace": "from_course" }, "to": 500 },
                { "of": { "trace": "along_course" }, "from": 3000 },
            ] },
            "do": { "primitive": { "form": "plateau", "height_m": 100, "width_m": 60000, "depth_m": 60000 } },
        }));
    let recipe = Recipe::from_value(document).expect("it opens");
    let frame = frame(&recipe, CELLS);
    let land = grown(&recipe, &frame);
    let mut bare = recipe.clone();
    bare.strands[0].steps[2].on = false;
    let added = land.zip_map(&grown(&bare, &frame), |land, bare| land - bare);
    let added = |x_m: f64, y_m: f64| at(&added, &frame, x_m, y_m);
    // Full from the place that is 3,000 m along on, within 500 m.
    assert!((added(5000.0, 2300.0) - 100.0).abs() < 0.1);
    assert_eq!((added(2500.0, 2300.0), added(5000.0, 3200.0)), (0.0, 0.0));
}

/// A course through one place is none, and said so.
#[test]
fn a_course_needs_two_places() {
    let point = json!({ "x_m": 1000, "y_m": 2000 });
    let document = serde_json::to_value(with_course(&json!({}))).expect("plain data");
    let mut once = document.clone();
    once["strands"][0]["steps"][1]["do"]["course"]["points"] = json!([point, point]);
    let refused = Recipe::from_value(once).expect_err("one place").to_string();
    assert!(refused.contains("two places"), "{refused}");
}
