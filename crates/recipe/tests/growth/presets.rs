//! The landscapes to begin with.

use recipe::grow::NoAssets;
use recipe::presets::PRESETS;
use recipe::steps::{example, kind_sheets};
use recipe::survey::survey;
use recipe::{Grower, Recipe};
use terrain::Run;
use terrain::erosion::{geomorphology, likeness};
use terrain::grid::resample;

use crate::growing::compare;
use crate::support::{frame, grown};

#[test]
fn every_preset_is_valid_and_says_what_it_is() {
    for preset in PRESETS {
        let recipe = preset.recipe();
        assert!(preset.example || recipe.name == preset.title);
        assert!(preset.about.len() > 20);
        let again = Recipe::from_json(&recipe.to_json()).expect("it comes back");
        assert_eq!(again, recipe);
        let files = recipe.strands.iter().flat_map(|s| &s.steps);
        assert!(
            files
                .filter_map(|step| step.operation.asset())
                .next()
                .is_none(),
            "{} is made from steps only",
            preset.key
        );
    }
}

/// A preview is the final land with less detail: the final one, averaged over
/// the preview's cells, is nearly the preview.
#[test]
fn every_preset_is_the_same_land_four_times_as_fine() {
    for preset in PRESETS {
        let recipe = preset.recipe();
        let cells = if preset.example { 256 } else { 512 };
        let (coarse, fine) = (frame(&recipe, cells), frame(&recipe, 4 * cells));
        let down = resample(&grown(&recipe, &fine), &fine, &coarse);
        let (correlation, rms_m) = compare(&grown(&recipe, &coarse), &down);
        println!(
            "{}: correlation {correlation:.5}, RMS {rms_m:.2} m",
            preset.key
        );
        // Examples are looked at on coarser cells, where more is too small for them.
        let least = if preset.example { 0.99 } else { 0.995 };
        assert!(
            correlation >= least,
            "{}: {correlation}, RMS {rms_m} m",
            preset.key
        );
    }
}

/// The laws of drainage basins. The bifurcation ratio (Horton 1945) of every
/// preset is as in nature, and so are the length ratio and the exponent of the length of
/// rivers: Hack (1957) has 0.6, Montgomery and Dietrich (1992) 0.49 for basins of every
/// size. But not in arms of the sea between mountains, whose rivers end before they have
/// met.
#[test]
fn the_presets_drain_as_land_does() {
    for preset in PRESETS.iter().filter(|preset| !preset.example) {
        let recipe = preset.recipe();
        let frame = frame(&recipe, 512);
        let sea = recipe.sea_level_m as f32;
        let found = geomorphology(
            &grown(&recipe, &frame),
            frame.cell_m,
            sea,
            Run::to_the_end(),
        );
        let found = found.expect("nobody cancels");
        let within = |value: Option<f64>, low: f64, high: f64| {
            value.is_some_and(|value| (low..=high).contains(&value))
        };
        assert!(
            within(found.bifurcation, 3.0, 5.0),
            "{}: {found:?}",
            preset.key
        );
        assert!(within(found.length, 1.5, 3.5), "{}: {found:?}", preset.key);
        if preset.key != "hollin-fjord" {
            assert!(within(found.hack, 0.47, 0.65), "{}: {found:?}", preset.key);
        }
    }
}

/// Land that ages have made is drained and shows no sign of the grid (real land that is
/// measured the same way has 0.02 to 0.04 and 0.01).
#[test]
fn aged_presets_are_drained_and_know_no_grid() {
    let whole = PRESETS.iter().filter(|preset| !preset.example);
    let aged = whole.filter(|preset| {
        let recipe = preset.recipe();
        let mut steps = recipe.strands.iter().flat_map(|strand| &strand.steps);
        steps.any(|step| step.operation.key() == "ages")
    });
    let mut count = 0;
    for preset in aged {
        let recipe = preset.recipe();
        let frame = frame(&recipe, 512);
        let land = grown(&recipe, &frame);
        let sea = recipe.sea_level_m as f32;
        let found = likeness(&land, frame.cell_m, sea, Run::to_the_end()).expect("runs");
        assert!(found.hollows < 0.03, "{}: {found:?}", preset.key);
        assert!(found.four_ways < 0.06, "{}: {found:?}", preset.key);
        assert!(found.eight_ways < 0.03, "{}: {found:?}", preset.key);
        count += 1;
    }
    assert!(count >= 5, "{count} presets let ages go by");
}

#[test]
fn the_survey_finds_nothing_in_the_presets() {
    for preset in PRESETS {
        let recipe = preset.recipe();
        let grower = Grower::new(1 << 28);
        let found = survey(&grower, &recipe, &NoAssets, 512, Run::to_the_end());
        let mut found = found.expect("grows");
        if preset.key == "example-stylised-peak" {
            // Nature is not what it is after.
            found.retain(|finding| finding.rule != "unlike");
        }
        assert_eq!(found, [], "{}", preset.key);
    }
}

#[test]
fn every_kind_but_the_imported_heightfield_has_an_example_that_shows_something() {
    for sheet in kind_sheets() {
        let Some(recipe) = example(sheet.kind) else {
            assert_eq!(sheet.kind, "heightfield");
            continue;
        };
        let grown = grown(&recipe, &frame(&recipe, 96));
        let (low, high) = grown.range();
        assert!(high - low > 10.0, "{}: {low} to {high} m", sheet.kind);
        let mut without = recipe.clone();
        if let Some(step) = without.strands[0].steps.last_mut() {
            step.on = false;
        }
        let without = self::grown(&without, &frame(&without, 96));
        assert!(without != grown, "{} changes nothing", sheet.kind);
    }
}

#[test]
fn the_reference_in_docs_is_current() {
    let kept = include_str!("../../../../docs/reference/README.md");
    assert!(kept == recipe::reference_page(), "renew it: ./renew");
}
