//! The step that lets ages go by, as it comes and as an artist directs it.

use recipe::combinations::COMBINATIONS;
use recipe::grow::NoAssets;
use recipe::steps::{Ages, WEAR};
use recipe::{Grower, Recipe};
use serde_json::{Value, json};
use terrain::erosion::{Form, Ledger, geomorphology, likeness, nature};
use terrain::grid::with_apron;
use terrain::reading::slope_deg;
use terrain::shape::mean_around;
use terrain::{Frame, Grid, Run};

use crate::support::{frame, grown};

const RUN: Run = Run::to_the_end();

/// Plain noise, 10 km of it, and ages of it as they come but for `changed`.
fn noise_and_ages(changed: &Value) -> Recipe {
    // Noise is that of version 1, and ages those of today.
    let mut ages = serde_json::to_value(Ages::default()).expect("plain data");
    let changes = changed.as_object().expect("settings").clone();
    ages.as_object_mut().expect("settings").extend(changes);
    let document = json!({
        "version": 1, "name": "Test", "sea_level_m": -10_000,
        "extent": { "width_m": 10_000, "depth_m": 10_000 },
        "strands": [{ "name": "land", "steps": [
            { "id": "noise", "name": "Noise", "combine": "add", "do": { "noise": {
                "height_m": 1500, "feature_m": 5000, "seed": 7 } } },
            { "id": "ages", "name": "Ages", "do": { "ages": ages } },
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

/// One step, as it comes, on plain noise: drained, no sign of the grid or the border.
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
}

/// Laws of drainage basins, in the mean of three lands as docs/NATURE.md has them: of one
/// alone they stray by a few hundredths (Hack 1957; Horton 1945; Tucker and Whipple 2002).
#[test]
fn as_it_comes_basins_obey_their_laws() {
    let seeds = [1, 3, 7];
    let laws = seeds.map(|seed| {
        let mut document = serde_json::to_value(noise_and_ages(&json!({}))).expect("plain data");
        document["extent"] = json!({ "width_m": 12_000, "depth_m": 12_000 });
        let noise = &mut document["strands"][0]["steps"][0]["do"]["noise"];
        noise["seed"] = json!(seed);
        noise["height_m"] = json!(1600);
        let recipe = Recipe::from_value(document).expect("a valid recipe");
        let frame = frame(&recipe, 512);
        let land = grown(&recipe, &frame);
        geomorphology(&land, frame.cell_m, -1e4, RUN).expect("runs")
    });
    let mean = |of: fn(&terrain::erosion::Geomorphology) -> Option<f64>| {
        let values = laws.iter().map(|laws| of(laws).expect("rivers"));
        values.sum::<f64>() / laws.len() as f64
    };
    let (hack, bifurcation) = (mean(|laws| laws.hack), mean(|laws| laws.bifurcation));
    let concavity = mean(|laws| laws.concavity);
    assert!((0.47..=0.65).contains(&hack), "{hack}: {laws:?}");
    assert!(
        (3.0..=5.0).contains(&bifurcation),
        "{bifurcation}: {laws:?}"
    );
    assert!((0.35..=0.75).contains(&concavity), "{concavity}: {laws:?}");
}

/// In the mean of three lands Ages are, as they come, as near to real land as two real lands
/// are to each other (docs/NATURE.md: exponents of 0.53 and 0.57, skews of −0.1, spectra
/// that fall by 3.3 and 3.5); in patches of rock crests are the sharper, the bolder these are.
#[test]
fn as_they_come_basins_crests_and_roughness_are_near_to_nature() {
    let measured = |patches: f64| {
        let [mut hack, mut skew, mut rough] = [0.0; 3];
        let seeds = [1, 3, 7];
        for seed in seeds {
            let recipe = noise_and_ages(&json!({ "patches": patches, "seed": seed }));
            let frame = frame(&recipe, 384);
            let found = nature(&grown(&recipe, &frame), frame.cell_m, -1e4, RUN).expect("runs");
            hack += found.basins.hack.expect("rivers") / seeds.len() as f64;
            skew += found.surface.skew / seeds.len() as f64;
            rough += found.spectrum.expect("land") / seeds.len() as f64;
        }
        (hack, skew, rough)
    };
    let (plain, as_it_comes) = (measured(0.0), measured(Ages::default().patches));
    let (hack, skew, rough) = as_it_comes;
    assert!((0.48..0.65).contains(&hack), "{as_it_comes:?}");
    assert!(skew.abs() < 0.3, "{as_it_comes:?}");
    assert!(rough < 3.63, "{as_it_comes:?}");
    let bold = measured(1.0);
    assert!(bold.1 < plain.1 - 0.3, "{bold:?} against {plain:?}");
    assert!(bold.0 > plain.0, "{bold:?} against {plain:?}");
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

/// Rock that is the same everywhere gives way in smooth cones; its joints make chutes and
/// spurs on steep faces, down to cells that are small against the spacing of valleys.
#[test]
fn steep_faces_have_chutes() {
    let roughness = |variety: f64| {
        let changed = json!({ "variety": variety, "patches": 0, "belts": 0, "spacing_m": 300,
            "relief_m": 1500 });
        let mut recipe = noise_and_ages(&changed);
        (recipe.extent.width_m, recipe.extent.depth_m) = (5000.0, 5000.0);
        let frame = frame(&recipe, 512);
        let land = grown(&recipe, &frame);
        let slopes = slope_deg(&with_apron(&land), frame.cell_m);
        let steep = below(&slopes, 0.8);
        let differs = slopes.zip_map(&mean_around(&slopes), |slope, around| slope - around);
        let faces = differs.values().iter().zip(slopes.values());
        let faces: Vec<_> = faces.filter(|(_, slope)| **slope > steep).collect();
        let squares: f32 = faces.iter().map(|(differs, _)| differs.powi(2)).sum();
        (squares / faces.len() as f32).sqrt()
    };
    let (even, jointed) = (roughness(0.0), roughness(1.0));
    assert!(jointed > 1.6 * even, "{jointed}°, in even rock {even}°");
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
        let error = (gained - ledger.by_transport_m3()).abs() / scale;
        assert!(
            error < Ledger::TOLERANCE,
            "{changed}: {error:.1e} of {scale} m³"
        );
    }
}

/// What is an outlet keeps its height, and nothing rises or is worn there: along a course
/// into which all water leaves, uplift once counted and was booked as wear.
#[test]
fn nothing_is_worn_where_nothing_moves() {
    let course = json!({ "terms": [{ "of": "east", "from": 4500, "to": 5500 }] });
    let recipe = noise_and_ages(&json!({ "course": course, "relief_m": 900 }));
    let frame = Frame::covering(recipe.extent.into(), 10_000.0 / 64.0);
    let grower = Grower::new(1 << 28);
    let land = grower.land(&recipe, &NoAssets, &frame, RUN).expect("grows");
    let wear = land.product(WEAR).expect("left");
    let (before, after) = (grown(&before(&recipe), &frame), land.heights());
    let middle = frame.cols / 2;
    for r in 0..frame.rows {
        let moved = after.at(middle, r) - before.at(middle, r);
        let (worn, row) = (wear.at(middle, r), r);
        assert!(
            worn <= moved.abs() + 0.01,
            "{worn} m worn, {moved} m moved in row {row}"
        );
    }
}

/// Steps above a piece of land, with another strand beside it.
fn with_strand(steps: &Value, strand: &Value) -> Recipe {
    let mut document = serde_json::to_value(noise_and_ages(&json!({}))).expect("plain data");
    document["strands"][0]["steps"] = steps.clone();
    let strands = document["strands"].as_array_mut().expect("strands");
    strands.push(json!({ "name": "rise", "steps": strand }));
    Recipe::from_value(document).expect("a valid recipe")
}

/// A ridge drawn in another strand becomes a range: the land rises by its heights. When
/// the strand changes, so does the land, whatever is kept of it.
#[test]
fn a_ridge_in_another_strand_becomes_a_range() {
    let plain = json!({ "height_m": 120, "feature_m": 5000, "offset_m": 100, "seed": 7 });
    let ages = json!({ "strand": "rise", "relief_m": 1200, "variety": 0.3 });
    let steps = json!([
        { "id": "noise", "name": "Noise", "combine": "add", "do": { "noise": plain } },
        { "id": "ages", "name": "Ages", "do": { "ages": ages } },
    ]);
    let at = |x_m: f64| {
        let ridge = json!({ "form": "ridge", "x_m": x_m, "y_m": 5000, "width_m": 3500,
            "depth_m": 14_000, "height_m": 100 });
        let ridge = json!({ "id": "r", "name": "Ridge", "combine": "add",
            "do": { "primitive": ridge } });
        with_strand(&steps, &json!([ridge]))
    };
    let grower = Grower::new(1 << 28);
    for x_m in [2500.0, 7500.0] {
        let recipe = at(x_m);
        let frame = frame(&recipe, 128);
        let land = grower.land(&recipe, &NoAssets, &frame, RUN).expect("grows");
        let land = land.heights();
        assert_eq!(land, grown(&recipe, &frame), "as from a cold start");
        let strip = |middle_m: f64| {
            let first = ((middle_m - 1000.0) / frame.cell_m) as usize;
            let part = land.cropped(first, 0, (2000.0 / frame.cell_m) as usize, frame.rows);
            below(&part, 0.9)
        };
        let (on_it, off_it) = (strip(x_m), strip(10_000.0 - x_m));
        assert!(
            on_it > off_it + 250.0,
            "{on_it} m on the ridge at {x_m}, {off_it} m off it"
        );
    }
}

/// Water leaves into a drawn course, which stays as it is, and the border is no outlet:
/// the land falls towards the course from all sides.
#[test]
fn water_leaves_into_a_drawn_course() {
    let line = json!({ "line": { "points": [[2000, 1000], [5000, 5200], [8200, 9000]] } });
    let course = json!({ "terms": [{ "of": line, "to": 60 }] });
    let plain = noise_and_ages(&json!({ "course": course, "relief_m": 900, "variety": 0.2 }));
    let frame = frame(&plain, 256);
    let (was, is) = (grown(&before(&plain), &frame), grown(&plain, &frame));
    let away_m = |x: f64, y: f64| {
        let leg = |(ax, ay): (f64, f64), (bx, by): (f64, f64)| {
            let (dx, dy) = (bx - ax, by - ay);
            let t = (((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy)).clamp(0.0, 1.0);
            (x - ax - t * dx).hypot(y - ay - t * dy)
        };
        leg((2000.0, 1000.0), (5000.0, 5200.0)).min(leg((5000.0, 5200.0), (8200.0, 9000.0)))
    };
    let (mut near, mut far) = (Vec::new(), Vec::new());
    for r in 0..frame.rows {
        for c in 0..frame.cols {
            let away_m = away_m(frame.x_m(c), frame.y_m(r));
            if away_m < 400.0 {
                near.push(is.at(c, r) - was.at(c, r));
            } else if away_m > 2500.0 {
                far.push(is.at(c, r) - was.at(c, r));
            }
        }
    }
    let middle = |mut values: Vec<f32>| {
        values.sort_by(f32::total_cmp);
        values[values.len() / 2]
    };
    let (near, far) = (middle(near), middle(far));
    assert!(
        far > near + 50.0,
        "the country has risen by {far} m, along the course by {near} m"
    );
    let laws = likeness(&is, frame.cell_m, -1e4, RUN).expect("runs");
    // The course itself has the hollows that the noise had there.
    assert!(laws.hollows < 0.08, "{laws:?}");
}

/// Belts of upright rock strike at right angles to the dip: slopes face across them.
#[test]
fn belts_of_rock_make_ridges_along_one_line() {
    let steepness = |dips_to_deg: f64, belts: f64| {
        let recipe = noise_and_ages(&json!({ "belts": belts, "dips_to_deg": dips_to_deg }));
        let land = grown(&recipe, &frame(&recipe, 256));
        let (mut across, mut along) = (0.0, 0.0);
        for r in 1..land.rows() - 1 {
            for c in 1..land.cols() - 1 {
                across += f64::from((land.at(c + 1, r) - land.at(c - 1, r)).abs());
                along += f64::from((land.at(c, r + 1) - land.at(c, r - 1)).abs());
            }
        }
        across / along
    };
    // Towards the east: ridges from south to north, and slopes that face east and west.
    let (east, none, north) = (
        steepness(90.0, 1.0),
        steepness(90.0, 0.0),
        steepness(0.0, 1.0),
    );
    assert!(
        east > 1.2 * none && none > 1.2 * north,
        "{east}, {none}, {north}"
    );
}

/// Folded hills have the measures of the folded hills in docs/NATURE.md, which land without
/// belts of rock has not.
#[test]
fn folded_hills_are_like_real_ones() {
    let folded = COMBINATIONS.iter().find(|made| made.key == "folded-hills");
    let mut document = json!({
        "version": Recipe::VERSION, "name": "Hills",
        "extent": { "width_m": 16_000, "depth_m": 16_000 },
        "strands": [{ "name": "land", "steps": folded.expect("there").document() }],
    });
    let measured = |document: &Value| {
        let recipe = Recipe::from_value(document.clone()).expect("valid");
        let frame = frame(&recipe, 512);
        let found = nature(&grown(&recipe, &frame), frame.cell_m, 0.0, RUN).expect("runs");
        let ridges = found.forms.share(Form::Ridge) + found.forms.share(Form::Summit);
        let valleys = found.forms.share(Form::Valley) + found.forms.share(Form::Pit);
        (found, ridges + valleys)
    };
    let (found, forms) = measured(&document);
    let hack = found.basins.hack.expect("rivers");
    let rough = found.spectrum.expect("land");
    assert!((0.5..=0.65).contains(&hack), "{found:?}");
    assert!((3.2..=3.6).contains(&rough), "{found:?}");
    assert!(found.surface.skew.abs() < 0.5, "{found:?}");
    document["strands"][0]["steps"][1]["do"]["ages"]["belts"] = json!(0);
    let (without, fewer) = measured(&document);
    assert!(forms > 1.3 * fewer, "{forms} against {fewer}");
    assert!(hack > without.basins.hack.expect("rivers"), "{without:?}");
}

/// Ages of rock in beds, and what comes `after` them.
fn beds_and(after: &[Value]) -> Recipe {
    let ages = json!({ "beds": 1, "beds_m": 160, "relief_m": 1200 });
    let mut document = serde_json::to_value(noise_and_ages(&ages)).expect("plain data");
    let steps = document["strands"][0]["steps"].as_array_mut();
    steps.expect("steps").extend_from_slice(after);
    Recipe::from_value(document).expect("a valid recipe")
}

/// Heights, and how hard the rock at the surface is.
fn land_and_rock(recipe: &Recipe, frame: &Frame) -> (Grid, Grid) {
    let grower = Grower::new(1 << 28);
    let land = grower.land(recipe, &NoAssets, frame, RUN).expect("grows");
    let rock = recipe::document::Product::named("rock").expect("it is declared");
    (land.heights(), land.product(rock).expect("it was left"))
}

/// Land that is lowered comes to other beds, and raised again to the same ones.
#[test]
fn beds_go_on_below_the_surface() {
    let moved = |id: &str, by_m: f64| {
        json!({ "id": id, "name": id, "combine": "add",
            "do": { "noise": { "height_m": 0, "offset_m": by_m } } })
    };
    let recipe = beds_and(&[]);
    let frame = frame(&recipe, 128);
    let (_, rock) = land_and_rock(&recipe, &frame);
    let differs = |after: &[Value]| {
        let (_, now) = land_and_rock(&beds_and(after), &frame);
        let far = rock.zip_map(&now, |a, b| f32::from((a - b).abs() > 0.1));
        far.sum() / far.values().len() as f64
    };
    let (lowered, back) = (
        differs(&[moved("down", -60.0)]),
        differs(&[moved("down", -60.0), moved("up", 60.0)]),
    );
    assert!(
        lowered > 0.3,
        "{lowered} of the land has other rock 60 m below"
    );
    assert!(
        back < 1e-3,
        "{back} of the land has other rock where it was"
    );
}

/// A river network that cuts far below the surface that ages left comes to beds that lay under
/// it: its own walls stand in what is hard there, and neither what was hard at the old surface
/// tells where they are, nor do they when it takes no notice of beds.
#[test]
fn rivers_cut_down_to_other_beds() {
    let before = beds_and(&[]);
    let frame = frame(&before, 192);
    let (_, old) = land_and_rock(&before, &frame);
    let steeper = |rock: &Grid, heights: &Grid| {
        let slopes = slope_deg(&with_apron(heights), frame.cell_m);
        let (mut hard, mut soft) = ((0.0, 0.0), (0.0, 0.0));
        for (rock, slope) in rock.values().iter().zip(slopes.values()) {
            let side = if *rock > 0.6 { &mut hard } else { &mut soft };
            *side = (side.0 + f64::from(*slope), side.1 + 1.0);
        }
        (hard.0 / hard.1) / (soft.0 / soft.1)
    };
    let cut = |beds: u32| {
        let rivers = json!({ "duration_kyr": 800, "uplift_m_kyr": 0.4, "beds": beds });
        let rivers = json!({ "id": "after", "name": "After", "do": { "rivers": rivers } });
        land_and_rock(&beds_and(&[rivers]), &frame)
    };
    let ((heights, rock), (unseeing, under_it)) = (cut(1), cut(0));
    let now = steeper(&rock, &heights);
    let (then, unseen) = (steeper(&old, &heights), steeper(&under_it, &unseeing));
    println!("{now:.2} times as steep; by the old surface {then:.2}, unnoticed {unseen:.2}");
    assert!(now > 1.2, "hard rock is {now} times as steep as soft");
    let half = 0.5 + 0.5 * now;
    assert!(then < half && unseen < half, "{then}, {unseen}");
}

/// Beds rise with the rock only where, and as far as, the land does.
#[test]
fn beds_rise_as_far_as_the_land() {
    let before = beds_and(&[]);
    let frame = frame(&before, 96);
    let (_, old) = land_and_rock(&before, &frame);
    let rivers = json!({ "duration_kyr": 400, "uplift_m_kyr": 0.4, "beds": 1 });
    let risen = |amount: f32| {
        let rivers = json!({ "id": "after", "name": "After", "amount": amount,
            "do": { "rivers": rivers } });
        let (_, rock) = land_and_rock(&beds_and(&[rivers]), &frame);
        let far = old.zip_map(&rock, |a, b| f32::from((a - b).abs() > 0.1));
        far.sum() / far.values().len() as f64
    };
    let (not_at_all, in_full) = (risen(0.0), risen(1.0));
    assert!(not_at_all < 1e-3, "{not_at_all} of the land has other rock");
    assert!(in_full > 0.2, "{in_full} of the land has other rock");
}

/// Rivers that take no notice of beds raise them all the same: where nothing is cut and the
/// land has risen by what was said, within five metres, the rock at the surface is what it was
/// (beds that had stayed would be the same over six tenths of it, by chance).
#[test]
fn beds_rise_unnoticed_too() {
    let before = beds_and(&[]);
    let frame = frame(&before, 128);
    let (low, old) = land_and_rock(&before, &frame);
    let rivers = json!({
        "duration_kyr": 400, "uplift_m_kyr": 0.4, "variety": 0, "strength": 0, "creep": 0,
        "steepest_deg": 89, "beds": 0,
    });
    let rivers = json!({ "id": "after", "name": "After", "do": { "rivers": rivers } });
    let (high, now) = land_and_rock(&beds_and(&[rivers]), &frame);
    let risen = high.zip_map(&low, |after, before| after - before);
    let (mut same, mut all) = (0, 0);
    for ((old, now), risen) in old.values().iter().zip(now.values()).zip(risen.values()) {
        if (*risen - 160.0).abs() < 5.0 {
            all += 1;
            same += i32::from((old - now).abs() < 0.1);
        }
    }
    assert!(all > 6_000, "{all} cells have risen by 160 m");
    assert!(
        f64::from(same) > 0.9 * f64::from(all),
        "{same} of {all} have the rock that they had"
    );
}

/// The hard beds that ages leave are seen by what comes after: water and crumbling
/// lower them less against soft ones than where they take no notice.
#[test]
fn later_steps_see_the_beds_that_ages_have_left() {
    let spared_m = |kind: &str, parameters: Value| {
        let recipe =
            beds_and(&[json!({ "id": "after", "name": "After", "do": { kind: parameters } })]);
        let before = {
            let mut before = recipe.clone();
            before.strands[0].steps[2].on = false;
            before
        };
        let frame = frame(&recipe, 192);
        let (aged, rock) = land_and_rock(&before, &frame);
        let lowered = aged.zip_map(&grown(&recipe, &frame), |a, b| a - b);
        let (mut hard, mut soft) = ((0.0, 0.0), (0.0, 0.0));
        for (rock, lowered) in rock.values().iter().zip(lowered.values()) {
            let side = if *rock > 0.7 { &mut hard } else { &mut soft };
            *side = (side.0 + f64::from(*lowered), side.1 + 1.0);
        }
        assert!(hard.1 > 500.0 && soft.1 > 500.0, "{hard:?}, {soft:?}");
        soft.0 / soft.1 - hard.0 / hard.1
    };
    for (kind, seen, unseen) in [
        (
            "water",
            json!({ "duration": 60, "beds": 1 }),
            json!({ "duration": 60, "beds": 0 }),
        ),
        (
            "crumble",
            json!({ "talus_deg": 24, "duration": 40, "beds": 1 }),
            json!({ "talus_deg": 24, "duration": 40, "beds": 0 }),
        ),
    ] {
        let (seen, unseen) = (spared_m(kind, seen), spared_m(kind, unseen));
        assert!(
            seen > unseen + 0.3,
            "{kind}: hard beds are spared {seen} m, unnoticed {unseen} m"
        );
    }
}
