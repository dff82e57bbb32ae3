//! The step that lets ages go by, as it comes and as an artist directs it.

use recipe::grow::NoAssets;
use recipe::{Grower, Recipe};
use serde_json::{Value, json};
use terrain::erosion::{Ledger, geomorphology, likeness};
use terrain::{Frame, Grid, Run};

use crate::support::{frame, grown};

const RUN: Run = Run::to_the_end();

/// Plain noise, 10 km of it, and ages of it as they come but for `changed`.
fn noise_and_ages(changed: &Value) -> Recipe {
    let document = json!({
        "version": 1, "name": "Test", "sea_level_m": -10_000,
        "extent": { "width_m": 10_000, "depth_m": 10_000 },
        "strands": [{ "name": "land", "steps": [
            { "id": "noise", "name": "Noise", "combine": "add", "do": { "noise": {
                "height_m": 1500, "feature_m": 5000, "seed": 7 } } },
            { "id": "ages", "name": "Ages", "do": { "ages": changed } },
        ] }],
    });
    Recipe::from_value(document).expect("a valid recipe")
}

fn before(recipe: &Recipe) -> Recipe {
    let mut before = recipe.clone();
    before.strands[0].steps[1].on = false;
    before
}

/// The heights that a share of the land is below.
fn below(heights: &Grid, share: f64) -> f32 {
    let mut values = heights.values().to_vec();
    values.sort_by(f32::total_cmp);
    values[((values.len() - 1) as f64 * share) as usize]
}

fn relief(heights: &Grid) -> f32 {
    below(heights, 0.99) - below(heights, 0.05)
}

/// One step, as it comes, on plain noise: drained, no sign of the grid or the border,
/// with the laws of rivers (Hack 1957; Horton 1945; Tucker and Whipple 2002).
#[test]
fn as_it_comes_noise_becomes_land() {
    let recipe = noise_and_ages(&json!({}));
    let frame = frame(&recipe, 384);
    let (noise, land) = (grown(&before(&recipe), &frame), grown(&recipe, &frame));
    let measure = |land: &Grid| likeness(land, frame.cell_m, -1e4, RUN).expect("runs");
    let (was, is) = (measure(&noise), measure(&land));
    assert!(was.hollows > 0.1, "noise is full of hollows: {was:?}");
    assert!(is.hollows < 0.02, "{is:?}");
    assert!(is.four_ways < 0.06 && is.eight_ways < 0.03, "{is:?}");
    assert!((0.6..1.5).contains(&is.border), "{is:?}");
    let laws = geomorphology(&land, frame.cell_m, -1e4, RUN).expect("runs");
    let within = |value: Option<f64>, low: f64, high: f64| {
        value.is_some_and(|value| (low..=high).contains(&value))
    };
    assert!(within(laws.hack, 0.45, 0.65), "{laws:?}");
    assert!(within(laws.bifurcation, 3.0, 5.0), "{laws:?}");
    assert!(within(laws.concavity, 0.35, 0.75), "{laws:?}");
}

/// The land keeps its relief, or reaches what is asked for.
#[test]
fn relief_is_kept_or_reached() {
    let kept = noise_and_ages(&json!({}));
    let frame = frame(&kept, 128);
    let own = relief(&grown(&before(&kept), &frame));
    let aged = relief(&grown(&kept, &frame));
    assert!((0.7..1.4).contains(&(aged / own)), "{aged} m of {own} m");
    let high = noise_and_ages(&json!({ "relief_m": 1.5 * own, "hardness": 1 }));
    let higher = relief(&grown(&high, &frame));
    assert!(higher > 1.15 * aged, "{higher} m, {aged} m as it was");
}

/// What is old is lower than what is mature.
#[test]
fn old_land_is_worn_down() {
    let mature = noise_and_ages(&json!({}));
    let frame = frame(&mature, 128);
    let old = noise_and_ages(&json!({ "age": 2 }));
    let (mature, old) = (
        relief(&grown(&mature, &frame)),
        relief(&grown(&old, &frame)),
    );
    assert!(old < 0.7 * mature, "{old} m of {mature} m");
}

/// Narrow valleys make rougher land than wide ones.
#[test]
fn wide_valleys_make_smooth_hills() {
    let steepness = |spacing: f64| {
        let recipe = noise_and_ages(&json!({ "spacing_m": spacing }));
        let frame = frame(&recipe, 256);
        let land = grown(&recipe, &frame);
        likeness(&land, frame.cell_m, -1e4, RUN)
            .expect("runs")
            .slope_mean_deg
    };
    let (narrow, wide) = (steepness(100.0), steepness(1500.0));
    assert!(narrow > 1.2 * wide, "{narrow}°, {wide}°");
}

/// Ground where the mask is full stays within a millimetre, and the rest does not.
#[test]
fn firm_ground_stays() {
    let here = json!({ "terms": [{ "of": "east", "from": 4000, "to": 6000 }] });
    let recipe = noise_and_ages(&json!({ "hard": here }));
    let frame = frame(&recipe, 128);
    let moved = grown(&recipe, &frame)
        .zip_map(&grown(&before(&recipe), &frame), |after, before| {
            (after - before).abs()
        });
    let (mut firm, mut rest) = (0.0_f32, 0.0_f32);
    for r in 0..frame.rows {
        for c in 0..frame.cols {
            // Where a cell of the first grid lies across the edge the mask is not full.
            match frame.x_m(c) {
                x if (4500.0..5500.0).contains(&x) => firm = firm.max(moved.at(c, r)),
                x if !(3500.0..6500.0).contains(&x) => rest = rest.max(moved.at(c, r)),
                _ => {}
            }
        }
    }
    assert!(firm < 1e-3, "firm ground moved by {firm} m");
    assert!(rest > 50.0, "the rest moved by {rest} m at most");
}

/// A range rises where a mask says so.
#[test]
fn a_range_rises_where_it_is_drawn() {
    let east = json!({ "terms": [{ "of": "east", "from": 6000, "soft_from": 1000 }] });
    let recipe = noise_and_ages(&json!({ "rises": east, "relief_m": 1500 }));
    let frame = frame(&recipe, 128);
    let land = grown(&recipe, &frame);
    let half = |first: usize| land.cropped(first, 0, frame.cols / 2, frame.rows);
    let (west, east) = (relief(&half(0)), relief(&half(frame.cols / 2)));
    assert!(
        east > 1.5 * west,
        "{east} m in the east, {west} m in the west"
    );
}

/// The ledger against an account of the heights, on the cells of the finest grid.
#[test]
fn the_ledger_agrees_with_the_heights() {
    for changed in [
        json!({}),
        json!({ "age": 0.3 }),
        json!({ "age": 2, "sediment": 1.5 }),
    ] {
        let recipe = noise_and_ages(&changed);
        // Twice as fine as the first grid.
        let frame = Frame::covering(recipe.extent.into(), 10_000.0 / 128.0);
        let grower = Grower::new(1 << 28);
        let land = grower.land(&recipe, &NoAssets, &frame, RUN).expect("grows");
        let ledgers = land.ledgers();
        let ledger: Ledger = ledgers.iter().find(|(id, _)| id == "ages").expect("one").1;
        ledger.check().expect("in balance");
        let gained =
            (land.heights().sum() - grown(&before(&recipe), &frame).sum()) * frame.cell_area_m2();
        let scale = ledger.risen_m3 + ledger.worn_m3 + ledger.dropped_m3;
        let error = (gained - ledger.growth_m3()).abs() / scale;
        assert!(error < 1e-6, "{changed}: {error:.1e} of {scale} m³");
    }
}
