//! Growing: windows, resolutions, the cache, stopping, masks.

use recipe::grow::NoAssets;
use recipe::view::{View, bands, picture};
use recipe::{GrowError, Grower, Recipe};
use serde_json::json;
use terrain::grid::resample;
use terrain::{Cancel, Grid, Run};

use crate::support::{TestAssets, demo, frame, grown, with_steps};

/// Correlation and root mean square of the difference.
pub fn compare(a: &Grid, b: &Grid) -> (f64, f64) {
    assert_eq!((a.cols(), a.rows()), (b.cols(), b.rows()));
    let n = a.values().len() as f64;
    let pairs = || {
        a.values()
            .iter()
            .zip(b.values())
            .map(|(&a, &b)| (f64::from(a), f64::from(b)))
    };
    let (ma, mb) = (a.sum() / n, b.sum() / n);
    let (mut ab, mut aa, mut bb, mut dd) = (0.0, 0.0, 0.0, 0.0);
    for (x, y) in pairs() {
        ab += (x - ma) * (y - mb);
        aa += (x - ma).powi(2);
        bb += (y - mb).powi(2);
        dd += (x - y).powi(2);
    }
    (ab / (aa * bb).sqrt(), (dd / n).sqrt())
}

#[test]
fn a_preview_and_a_final_are_the_same_land() {
    let demo = demo();
    let (coarse, fine) = (frame(&demo, 512), frame(&demo, 2048));
    let down = resample(&grown(&demo, &fine), &fine, &coarse);
    let (correlation, rms_m) = compare(&grown(&demo, &coarse), &down);
    // Heights of the demo spread over 1,700 m.
    assert!(
        correlation >= 0.995 && rms_m < 25.0,
        "correlation {correlation}, RMS {rms_m} m"
    );
}

#[test]
fn a_window_of_the_demo_is_bit_for_bit_the_whole() {
    let demo = demo();
    let whole = frame(&demo, 192);
    let (col, row, cols, rows) = (50, 31, 70, 44);
    let part = grown(&demo, &whole.window(col, row, cols, rows));
    let expected = grown(&demo, &whole).cropped(col, row, cols, rows);
    let same = part
        .values()
        .iter()
        .zip(expected.values())
        .all(|(a, b)| a.to_bits() == b.to_bits());
    assert!(same, "worst difference {:?}", compare(&part, &expected));
}

#[test]
fn thread_counts_agree() {
    let demo = demo();
    let frame = frame(&demo, 160);
    let on = |threads| {
        let pool = rayon::ThreadPoolBuilder::new()
            .num_threads(threads)
            .build()
            .expect("pool");
        pool.install(|| grown(&demo, &frame))
    };
    assert_eq!(on(1), on(3));
}

#[test]
fn only_what_depends_on_an_edit_grows_anew() {
    let grower = Grower::new(1 << 28);
    let grow = |recipe: &Recipe| {
        let before = grower.cache_use().misses;
        grower
            .land(recipe, &NoAssets, &frame(recipe, 96), Run::to_the_end())
            .expect("grows");
        grower.cache_use().misses - before
    };
    let mut demo = demo();
    assert!(grow(&demo) > 0);
    assert_eq!(grow(&demo), 0, "nothing changed, nothing grows");
    demo.covers.clear();
    demo.name = "Another name".to_owned();
    demo.strands[0].steps[0].name = "Another name".to_owned();
    assert_eq!(grow(&demo), 0, "covers and names do not shape the land");
    let last = demo.strands[0].steps.len() - 1;
    demo.strands[0].steps[last].amount = 0.5;
    let changed = grow(&demo);
    // The land after the last step, and the erosion level, which knows its
    // parameters and not the amount and is found.
    assert_eq!(changed, 1, "one step changed");
}

#[test]
fn growing_stops_when_asked_and_reports_its_progress() {
    let demo = demo();
    let cancel = Cancel::new();
    cancel.cancel();
    let grower = Grower::new(1 << 28);
    let stopped = grower.land(&demo, &NoAssets, &frame(&demo, 512), Run::until(&cancel));
    assert!(matches!(stopped, Err(GrowError::Cancelled(_))));

    let seen = std::sync::Mutex::new(Vec::new());
    let report = |share| seen.lock().expect("no panic").push(share);
    let run = Run::to_the_end();
    Grower::new(1 << 28)
        .land(&demo, &NoAssets, &frame(&demo, 64), run.reporting(&report))
        .expect("grows");
    let seen = seen.into_inner().expect("no panic");
    assert_eq!(seen.last(), Some(&1.0), "{seen:?}");
}

#[test]
fn a_slope_mask_sees_the_land_at_its_step() {
    // A cliff in a plain: the masked step lifts what is steep, and only that.
    let mut document = with_steps(&[
        (
            "Hills",
            json!({ "noise": { "feature_m": 1500, "height_m": 900, "octaves": 3 } }),
        ),
        (
            "Lift",
            json!({ "rescale": { "to_low_m": 1000, "to_high_m": 2000 } }),
        ),
    ]);
    let steps = &mut document["strands"][0]["steps"];
    steps[1]["combine"] = json!("replace");
    steps[1]["mask"] = json!({ "terms": [{ "of": "slope", "from": 20 }] });
    let masked = Recipe::from_value(document).expect("valid");
    let mut bare = masked.clone();
    bare.strands[0].steps.pop();
    let frame = frame(&masked, 120);
    let (after, before) = (grown(&masked, &frame), grown(&bare, &frame));
    let wide = grown(&bare, &frame.grown(1));
    let slope = terrain::reading::slope_deg(&wide, frame.cell_m);
    for ((after, before), slope) in after
        .values()
        .iter()
        .zip(before.values())
        .zip(slope.values())
    {
        let expected = if *slope >= 20.0 {
            before + 1000.0
        } else {
            *before
        };
        assert!(
            (after - expected).abs() < 1e-2,
            "{after} at slope {slope}, not {expected}"
        );
    }
}

#[test]
fn steps_that_are_off_are_as_good_as_gone() {
    let mut demo = demo();
    let frame = frame(&demo, 64);
    let mut shorter = demo.clone();
    shorter.strands[0].steps.pop();
    demo.strands[0].steps.last_mut().expect("steps").on = false;
    assert_eq!(grown(&demo, &frame), grown(&shorter, &frame));
}

#[test]
fn a_strand_can_be_taken_in() {
    let mut document = with_steps(&[("In", json!({ "take_in": { "strand": "hills" } }))]);
    let inner = json!([{ "id": "x", "name": "Hills", "do": { "noise": {} } }]);
    let strands = document["strands"].as_array_mut().expect("strands");
    strands.push(json!({ "name": "hills", "steps": inner }));
    let through = Recipe::from_value(document).expect("valid");
    let direct = Recipe::from_value(with_steps(&[("Hills", json!({ "noise": {} }))]));
    let frame = frame(&through, 50);
    assert_eq!(
        grown(&through, &frame),
        grown(&direct.expect("valid"), &frame)
    );
}

#[test]
fn an_imported_plane_keeps_its_heights() {
    // Rises to the east by 2 a column; stretched over 6 km it is a plane.
    let plane = Grid::by_rows(60, 20, |_, out: &mut [f32]| {
        for (c, out) in out.iter_mut().enumerate() {
            *out = 2.0 * c as f32;
        }
    });
    let import = json!({ "heightfield": { "asset": "dem", "scale": 3, "lift_m": 10 } });
    let recipe = Recipe::from_value(with_steps(&[("Import", import)])).expect("valid");
    let frame = frame(&recipe, 240);
    let grower = Grower::new(1 << 26);
    let assets = TestAssets::with_dem(plane);
    let land = grower
        .land(&recipe, &assets, &frame, Run::to_the_end())
        .expect("grows");
    for c in (20..220).step_by(9) {
        let column = frame.x_m(c) / 100.0 - 0.5;
        let (got, expected) = (land.heights().at(c, 77), 10.0 + 3.0 * 2.0 * column as f32);
        assert!(
            (got - expected).abs() < 0.05,
            "column {c}: got {got}, expected {expected}"
        );
    }
    let grower = Grower::new(1 << 26);
    let missing = grower.land(
        &recipe,
        &NoAssets,
        &frame.window(0, 0, 9, 9),
        Run::default(),
    );
    let said = missing.err().expect("the file is missing").to_string();
    assert!(said.contains("‘Import’") && said.contains("dem"), "{said}");
}

#[test]
fn the_column_knows_how_much_each_step_changed() {
    let demo = demo();
    let grower = Grower::new(1 << 28);
    let bands = bands(&grower, &demo, &NoAssets, 64, Run::to_the_end()).expect("grows");
    assert_eq!(bands.len(), demo.strands[0].steps.len());
    assert!(
        bands.iter().all(|band| band.rms_m > 0.1),
        "every step of the demo does something"
    );
}

#[test]
fn the_ground_of_a_picture_adds_up() {
    let demo = demo();
    let grower = Grower::new(1 << 28);
    let assets = NoAssets;
    let shown = picture(
        &grower,
        &demo,
        &assets,
        &View::of_land(96),
        Run::to_the_end(),
    )
    .expect("grows");
    let total: f64 = shown.covers.iter().map(|cover| cover.share).sum();
    assert!((total - 1.0).abs() < 1e-6, "shares sum to {total}");
    assert_eq!(shown.colour.values().len(), shown.heights.values().len());
    let (_, ledger) = &shown.ledgers[0];
    assert_eq!(ledger.check(), Ok(()));
}
