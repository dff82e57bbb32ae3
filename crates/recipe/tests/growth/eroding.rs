//! Erosion in recipes: what is spared is spared, rivers are handed on.

use recipe::combinations::COMBINATIONS;
use recipe::document::{LAND, Mask, Product};
use recipe::grow::{NoAssets, Part};
use recipe::lands::LANDS;
use recipe::steps::{DEPOSIT, WEAR};
use recipe::{Grower, Recipe};
use serde_json::{Value, json};
use terrain::erosion::{Form, Nature, likeness, nature};
use terrain::grid::with_apron;
use terrain::reading::slope_deg;
use terrain::{Frame, Grid, Run};

use crate::support::{frame, grown};

fn recipe(steps: Value) -> Recipe {
    let document = json!({
        "version": 1, "name": "Test", "sea_level_m": -10_000,
        "extent": { "width_m": 6000, "depth_m": 4000 },
        "strands": [{ "name": "land", "steps": steps }],
    });
    Recipe::from_value(document).expect("a valid recipe")
}

fn base() -> Value {
    json!({ "id": "base", "name": "Land", "combine": "add", "do": { "noise": {
        "character": "ridged", "height_m": 900, "feature_m": 2400, "octaves": 7, "seed": 3,
    } } })
}

fn left(recipe: &Recipe, name: &str, frame: &Frame) -> Grid {
    let grower = Grower::new(1 << 28);
    let land = grower.land(recipe, &NoAssets, frame, Run::to_the_end());
    let land = land.expect("it grows");
    let product = Product::named(name).expect("it is declared");
    land.product(product).expect("it was left")
}

/// An outcrop that a mask spares keeps its height within a millimetre, through
/// every process, while the land around it does not.
#[test]
fn a_spared_outcrop_keeps_its_height() {
    let outcrop = json!({ "id": "outcrop", "name": "Crags", "do": { "outcrop": {} } });
    // Full mask where the outcrop is full, so that the step's own share is 0.
    let around = json!({ "terms": [
        { "of": { "trace": "outcrop" }, "from": 0.01, "soft_from": 0.0, "invert": true },
    ] });
    for process in [
        json!({ "water": { "scale_m": 200, "duration": 60, "strength": 3 } }),
        json!({ "rivers": { "scale_m": 200 } }),
        json!({ "crumble": { "talus_deg": 20 } }),
        json!({ "snow": { "line_m": 0 } }),
        json!({ "settle": {} }),
    ] {
        let before = recipe(json!([base(), outcrop]));
        let eroded = recipe(json!([base(), outcrop, {
            "id": "erosion", "name": "Erosion", "mask": around, "do": process,
        }]));
        let frame = frame(&before, 128);
        let there = left(&before, "outcrop", &frame);
        let moved = grown(&before, &frame).zip_map(&grown(&eroded, &frame), |a, b| (a - b).abs());
        let (mut spared, mut elsewhere) = (0.0_f32, 0.0_f32);
        for (moved, there) in moved.values().iter().zip(there.values()) {
            match *there >= 0.01 {
                true => spared = spared.max(*moved),
                false => elsewhere = elsewhere.max(*moved),
            }
        }
        assert!(spared <= 1e-3, "{process}: the outcrop moved by {spared} m");
        assert!(
            elsewhere > 0.1,
            "{process}: nothing moved, {elsewhere} m at most"
        );
    }
}

/// A later step cuts along the rivers that an earlier one has found, and a
/// mask reads how far it is to them.
#[test]
fn rivers_are_handed_on() {
    let rivers = json!({ "id": "rivers", "name": "Rivers", "do": { "rivers": {
        "scale_m": 100, "source_m2": 200_000,
    } } });
    let beds = json!({ "id": "beds", "name": "Beds", "do": { "river_beds": {
        "width_m": 150, "depth_m": 30, "least_order": 2,
    } } });
    let before = recipe(json!([base(), rivers]));
    let after = recipe(json!([base(), rivers, beds]));
    let whole = frame(&before, 128);
    let cut = grown(&before, &whole).zip_map(&grown(&after, &whole), |a, b| a - b);
    assert!(
        cut.range().0 >= 0.0 && cut.range().1 > 5.0,
        "{:?}",
        cut.range()
    );
    // Only along lines: most of the land keeps its height.
    let touched = cut.values().iter().filter(|cut| **cut > 0.0).count();
    assert!(
        (1..cut.values().len() / 3).contains(&touched),
        "{touched} cells"
    );

    let near = |least_order: u8| {
        json!({ "id": "near", "name": "Near", "combine": "add", "mask": { "terms": [
            { "of": { "river": { "least_order": least_order } }, "to": 50.0 } ] },
            "do": { "primitive": { "form": "plateau", "height_m": 10, "width_m": 20_000, "depth_m": 20_000 } } })
    };
    let share = |least_order: u8| {
        let masked = recipe(json!([base(), rivers, near(least_order)]));
        let raised = grown(&masked, &whole).zip_map(&grown(&before, &whole), |a, b| a - b);
        raised
            .values()
            .iter()
            .filter(|raised| **raised > 0.0)
            .count()
    };
    let shares = [1, 2, 3].map(share);
    assert!(shares[0] > shares[1] && shares[1] > shares[2], "{shares:?}");
}

#[test]
fn a_river_mask_without_rivers_is_refused() {
    let document = json!({
        "version": 1, "name": "Test", "extent": { "width_m": 6000, "depth_m": 4000 },
        "strands": [{ "name": "land", "steps": [{
            "id": "s", "name": "Bumps", "combine": "add", "do": { "noise": {} },
            "mask": { "terms": [{ "of": { "river": { "least_order": 1 } }, "to": 50.0 }] },
        }] }],
    });
    let error = Recipe::from_value(document)
        .expect_err("there are no rivers")
        .to_string();
    assert!(
        error.contains("Bumps") && error.contains("finds rivers"),
        "{error}"
    );
}

/// Every combination can be laid on a land that has what it needs, changes it
/// somewhere, and leaves most of it where it was, but for those that make a land.
#[test]
fn combinations_lay_on_any_land() {
    let below = json!([
        base(),
        { "id": "outcrop", "name": "Crags", "do": { "outcrop": {} } },
        { "id": "rain", "name": "Rain", "do": { "water": { "scale_m": 100, "duration": 80 } } },
    ]);
    let before = recipe(below.clone());
    let frame = frame(&before, 160);
    let plain = grown(&before, &frame);
    for combination in COMBINATIONS {
        let mut steps = below.as_array().expect("steps").clone();
        for step in combination.document().as_array().expect("steps") {
            let mut step = step.clone();
            step["id"] = json!(format!("{}-{}", combination.key, step["id"]));
            steps.push(step);
        }
        let after = grown(&recipe(json!(steps)), &frame);
        let change = after.zip_map(&plain, |a, b| (a - b).abs());
        let most = change.range().1;
        let mean = change.sum() / change.values().len() as f64;
        assert!(most > 0.3, "{}: {most} m at most", combination.key);
        let makes_land = LANDS.iter().any(|land| land.key == combination.key);
        // What is drawn over the land moves more ground than detail does.
        let steps = combination.steps();
        let drawn = steps.iter().any(|step| step.operation.key() == "course");
        let leaves_most = mean < if drawn { 180.0 } else { 40.0 };
        assert_ne!(
            leaves_most, makes_land,
            "{}: {mean} m in the mean",
            combination.key
        );
        for product in combination.needs() {
            assert!(
                ["outcrop", "deposit"].contains(&product.name()),
                "{product:?}"
            );
        }
    }
}

/// Plain noise, 8 km of it, and one process.
fn noise_and(process: &Value) -> Recipe {
    let document = json!({
        "version": 1, "name": "Test", "sea_level_m": -10_000,
        "extent": { "width_m": 8000, "depth_m": 8000 },
        "strands": [{ "name": "land", "steps": [
            { "id": "noise", "name": "Noise", "combine": "add", "do": { "noise": {
                "height_m": 1000, "feature_m": 4000, "seed": 5 } } },
            { "id": "process", "name": "Process", "do": process },
        ] }],
    });
    Recipe::from_value(document).expect("a valid recipe")
}

/// What is measured of twelve kilometres of plain noise, and a process of today as it comes.
fn nature_of(process: &Value, seed: u32) -> Nature {
    let document = json!({
        "version": Recipe::VERSION, "name": "Test", "sea_level_m": -10_000,
        "extent": { "width_m": 12_000, "depth_m": 12_000 },
        "strands": [{ "name": "land", "steps": [
            { "id": "noise", "name": "Noise", "combine": "add", "do": { "noise": {
                "height_m": 637, "feature_m": 6000, "warp_m": 0, "seed": seed } } },
            { "id": "process", "name": "Process", "do": process },
        ] }],
    });
    let recipe = Recipe::from_value(document).expect("a valid recipe");
    let frame = frame(&recipe, 512);
    nature(
        &grown(&recipe, &frame),
        frame.cell_m,
        -1e4,
        Run::to_the_end(),
    )
    .expect("runs")
}

/// A river network as it comes is near to balance, whatever the noise: its rivers bend
/// as real ones do (Tucker and Whipple 2002), valleys are no sharper than crests, and the
/// border is like the middle.
#[test]
fn a_river_network_as_it_comes_is_like_land() {
    let seeds = [1, 3, 7];
    let all = seeds.map(|seed| nature_of(&json!({ "rivers": {} }), seed));
    let mean = |of: fn(&Nature) -> f64| all.iter().map(of).sum::<f64>() / all.len() as f64;
    let concavity = mean(|found| found.basins.concavity.expect("rivers"));
    assert!((0.35..0.65).contains(&concavity), "{concavity}: {all:?}");
    let (skew, apart) = (
        mean(|found| found.surface.skew),
        mean(|found| found.surface.border_apart),
    );
    assert!(skew.abs() < 0.5, "{skew}: {all:?}");
    assert!(apart < 0.1, "{apart}: {all:?}");
}

/// Running water as it comes cuts slopes into gullies, and leaves no walls: water that was
/// kept inside by a high border once filled the land along it, and was cut into fins.
#[test]
fn running_water_as_it_comes_gullies_slopes() {
    let bare = nature_of(&json!({ "water": { "gullies": 0 } }), 1);
    let gullied = nature_of(&json!({ "water": {} }), 1);
    let valleys = |found: &Nature| found.forms.share(Form::Valley) + found.forms.share(Form::Ridge);
    let (without, with) = (valleys(&bare), valleys(&gullied));
    assert!(with > 1.3 * without, "{with} against {without}");
    assert!(gullied.surface.skew.abs() < 0.6, "{gullied:?}");
    assert!(gullied.surface.hollows < 0.01, "{gullied:?}");
    assert!(gullied.surface.border_apart < 0.2, "{gullied:?}");
    let rough = |found: &Nature| found.spectrum.expect("land");
    assert!(rough(&gullied) < rough(&bare), "rougher: {gullied:?}");
}

fn only_noise(recipe: &Recipe) -> Recipe {
    let mut before = recipe.clone();
    before.strands[0].steps[1].on = false;
    before
}

/// What a ledger says is what an account of the heights says, on the cells of the
/// finest grid; and nothing is missing from it.
#[test]
fn ledgers_agree_with_the_heights() {
    for process in [
        json!({ "rivers": { "duration_kyr": 400 } }),
        json!({ "water": { "strength": 2 } }),
        json!({ "water": { "hollows": "keep" } }),
        json!({ "crumble": { "talus_deg": 22 } }),
        json!({ "settle": {} }),
    ] {
        let recipe = noise_and(&process);
        let frame = frame(&recipe, 256);
        let grower = Grower::new(1 << 28);
        let land = grower.land(&recipe, &NoAssets, &frame, Run::to_the_end());
        let land = land.expect("it grows");
        let ledgers = land.ledgers();
        let (_, ledger) = ledgers.iter().find(|(id, _)| id == "process").expect("one");
        ledger.check().expect("in balance");
        let before = grown(&only_noise(&recipe), &frame);
        let gained = (land.heights().sum() - before.sum()) * frame.cell_area_m2();
        let scale = ledger.risen_m3 + ledger.worn_m3 + ledger.dropped_m3;
        let error = (gained - ledger.by_transport_m3()).abs() / scale;
        assert!(error < 1e-5, "{process}: {error:.1e} of {scale} m³");
    }
}

/// What a process leaves is as much as it takes effect: nothing where its mask is 0, all
/// where it is 1, and half of all with half of its amount. Its ledger goes the same way.
#[test]
fn traces_and_ledgers_go_with_amount_and_mask() {
    let whole = noise_and(&json!({ "rivers": { "duration_kyr": 400 } }));
    let frame = frame(&whole, 128);
    let grower = Grower::new(1 << 28);
    let grow = |recipe: &Recipe| {
        let land = grower.land(recipe, &NoAssets, &frame, Run::to_the_end());
        let land = land.expect("it grows");
        let ledgers = land.ledgers();
        let (_, ledger) = *ledgers.iter().find(|(id, _)| id == "process").expect("one");
        let traces = [WEAR, DEPOSIT].map(|product| land.product(product).expect("left"));
        (land.heights(), traces, ledger)
    };
    let (_, all, ledger) = grow(&whole);

    let mut half = whole.clone();
    half.strands[0].steps[1].amount = 0.5;
    let (_, halves, of_half) = grow(&half);
    for (all, half) in all.iter().zip(&halves) {
        assert_eq!(*half, all.map(|value| 0.5 * value));
    }
    assert_eq!(of_half, ledger.scaled(0.5));

    let mut masked = whole.clone();
    let mask = json!({ "terms": [{ "of": "east", "from": 3000, "soft_from": 1500 }] });
    let mask: Mask = serde_json::from_value(mask).expect("a mask");
    let part = Part {
        strand: LAND,
        steps: 1,
    };
    let of_mask = grower.mask_of_part(&whole, part, &mask, &NoAssets, &frame, Run::to_the_end());
    let of_mask = of_mask.expect("it grows");
    assert_eq!(of_mask.range(), (0.0, 1.0), "none, all, and between");
    masked.strands[0].steps[1].mask = Some(mask);
    let (heights, shares, of_masked) = grow(&masked);
    for (all, share) in all.iter().zip(&shares) {
        assert_eq!(*share, all.zip_map(&of_mask, |all, mask| mask * all));
    }
    assert_eq!(of_masked.check(), Ok(()));
    let gained = (heights.sum() - grown(&only_noise(&whole), &frame).sum()) * frame.cell_area_m2();
    let error = (gained - of_masked.by_transport_m3()).abs() / of_masked.worn_m3;
    assert!(error < 1e-5, "{error:.1e} of {of_masked:?}");
    assert!(
        of_masked.carried_off_m3 < 0.8 * ledger.carried_off_m3,
        "{of_masked:?}"
    );

    // A window has the ledger of the whole.
    let window = Frame {
        col0: 40,
        row0: 20,
        cols: 16,
        rows: 16,
        ..frame
    };
    let part = grower.land(&masked, &NoAssets, &window, Run::to_the_end());
    assert_eq!(part.expect("it grows").ledgers()[0].1, of_masked);
}

/// Rivers have as much time and as much uplift on fine cells as on coarse ones.
#[test]
fn a_river_network_is_as_high_on_any_cells() {
    let recipe = noise_and(&json!({ "rivers": { "duration_kyr": 3000 } }));
    let means = [128, 256, 512].map(|cells| {
        let heights = grown(&recipe, &frame(&recipe, cells));
        heights.sum() / heights.values().len() as f64
    });
    let spread = means.iter().fold(0.0_f64, |most, mean| {
        most.max((mean / means[0] - 1.0).abs())
    });
    assert!(spread < 0.01, "mean heights {means:?}");
}

/// Running water has one time, which its grids share: finer ones add detail, and neither the
/// height of the land nor its low ground depends on the resolution.
#[test]
fn running_water_leaves_land_as_high_on_any_cells() {
    let recipe = noise_and(&json!({ "water": {} }));
    let lands = [128, 256, 512].map(|cells| grown(&recipe, &frame(&recipe, cells)));
    let mean = |heights: &Grid| heights.sum() / heights.values().len() as f64;
    let means = lands.each_ref().map(mean);
    let spread = means
        .iter()
        .fold(0.0_f64, |most, m| most.max((m - means[2]).abs()));
    assert!(spread < 1.0, "mean heights {means:?} m");
    // The lowest tenth of one is that of the other.
    let tenth = |heights: &Grid| {
        let mut values = heights.values().to_vec();
        values.sort_by(f32::total_cmp);
        let most = values[values.len() / 10];
        heights.map(|height| height <= most)
    };
    let (coarse, fine) = (tenth(&lands[1]), tenth(&lands[2]));
    let (mut both, mut low) = (0, 0);
    for r in 0..coarse.rows() {
        for c in 0..coarse.cols() {
            low += usize::from(coarse.at(c, r));
            both += usize::from(coarse.at(c, r) && fine.at(2 * c, 2 * r));
        }
    }
    let share = both as f64 / low as f64;
    assert!(share > 0.93, "{share} of the lowest tenth in common");
}

/// As they come, on noise full of hollows, running water and a river network leave land
/// that water can leave; where lakes are meant, they stay.
#[test]
fn what_water_has_worked_on_drains() {
    let hollows = |recipe: &Recipe| {
        let frame = frame(recipe, 256);
        let found = likeness(
            &grown(recipe, &frame),
            frame.cell_m,
            -1e4,
            Run::to_the_end(),
        );
        found.expect("nobody cancels").hollows
    };
    let water = noise_and(&json!({ "water": {} }));
    let was = hollows(&only_noise(&water));
    assert!(was > 0.1, "{was} of plain noise");
    for process in [json!({ "water": {} }), json!({ "rivers": {} })] {
        let left = hollows(&noise_and(&process));
        assert!(left < 0.03, "{process}: {left}");
    }
    let kept = hollows(&noise_and(&json!({ "water": { "hollows": "keep" } })));
    assert!(kept > 0.05, "lakes are left: {kept}");
}

/// Crumbling as it comes on steep land leaves next to nothing that is steeper than it
/// says, and what falls stays on the land.
#[test]
fn crumbling_ends() {
    let recipe = noise_and(&json!({ "crumble": {} }));
    let mut recipe = recipe;
    let noise = json!({ "noise": {
        "character": "ridged", "height_m": 3000, "feature_m": 3000, "seed": 5 } });
    recipe.strands[0].steps[0].operation = serde_json::from_value(noise).expect("a step");
    let frame = frame(&recipe, 512);
    let steep = |recipe: &Recipe| {
        let slopes = slope_deg(&with_apron(&grown(recipe, &frame)), frame.cell_m);
        let steep = slopes
            .values()
            .iter()
            .filter(|slope| **slope > 36.0)
            .count();
        steep as f64 / slopes.values().len() as f64
    };
    let (before, after) = (steep(&only_noise(&recipe)), steep(&recipe));
    assert!(before > 0.3, "{before} of the noise is steep");
    assert!(
        after < 0.03,
        "{after} is still steeper than 36°, {before} was"
    );
}
