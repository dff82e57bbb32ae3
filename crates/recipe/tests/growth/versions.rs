//! Documents of earlier versions, and what became of their meaning.

use recipe::Recipe;
use serde_json::{Value, json};
use terrain::noise::{Basis, CellDistance, CellFeature, Character, FractalNoise};
use terrain::{Grid, Run};

use crate::support::{frame, grown};

/// A land of one noise, in the format of `version`.
fn noise_land(version: u32, side_m: f64, noise: Value) -> Recipe {
    let document = json!({
        "version": version, "name": "Noise", "extent": { "width_m": side_m, "depth_m": side_m },
        "strands": [{ "name": "land", "steps": [{
            "id": "a", "name": "Hills", "combine": "add", "do": { "noise": noise },
        }] }],
    });
    Recipe::from_value(document).expect("it opens")
}

/// Heights of version 1: noise from −1 to 1 times half of the height, and for all but
/// rolling noise that half once more.
#[test]
fn noise_of_version_1_keeps_its_heights() {
    for (name, character, stands_m) in [
        ("fractal", Character::Fractal, 0.0),
        ("ridged", Character::Ridged, 450.0),
        ("billow", Character::Billow, 450.0),
    ] {
        let recipe = noise_land(
            1,
            4000.0,
            json!({
                "character": name, "height_m": 900, "offset_m": 70, "seed": 5,
            }),
        );
        assert_eq!(recipe.version, Recipe::VERSION);
        let frame = frame(&recipe, 96);
        let noise = FractalNoise {
            character,
            feature_m: 3000.0,
            offset: 0.7,
            seed: 5,
            ..FractalNoise::default()
        };
        let bare = noise
            .fill(&frame, Run::to_the_end())
            .expect("nobody stops it");
        for (was, is) in bare.values().iter().zip(grown(&recipe, &frame).values()) {
            let was = was * 450.0 + stands_m + 70.0;
            assert!((was - is).abs() < 0.01, "{name}: {was} m, now {is} m");
        }
    }
}

/// Ages of version 2 knew no belts of rock, and their land stays as it was; what is said of
/// belts is kept, whatever the version.
#[test]
fn ages_of_version_2_keep_their_rock() {
    let land = |version: u32, ages: Value| {
        let document = json!({
            "version": version, "name": "Hills", "sea_level_m": -500,
            "extent": { "width_m": 9000, "depth_m": 9000 },
            "strands": [{ "name": "land", "steps": [
                { "id": "a", "name": "Hills", "combine": "add", "do": { "noise": { "seed": 4 } } },
                { "id": "b", "name": "Ages", "do": { "ages": ages } },
            ] }],
        });
        let recipe = Recipe::from_value(document).expect("it opens");
        grown(&recipe, &frame(&recipe, 96))
    };
    let old = land(2, json!({ "hardness": 0.5 }));
    assert_eq!(old, land(3, json!({ "hardness": 0.5, "belts": 0 })));
    let new = land(3, json!({ "hardness": 0.5 }));
    assert_ne!(old, new);
    assert_eq!(new, land(2, json!({ "hardness": 0.5, "belts": 0.25 })));
}

/// What steps of versions 3 to 7 did when nothing was said they still do: rock without
/// patches and with bolder ones, shallow gullies, wide valleys, rivers with less time in
/// harder rock, valleys without floors, bare beds, fill without terraces.
#[test]
fn steps_of_earlier_versions_keep_their_land() {
    let land = |version: u32, operation: &Value| {
        let document = json!({
            "version": version, "name": "Hills", "sea_level_m": -500,
            "extent": { "width_m": 9000, "depth_m": 9000 },
            "strands": [{ "name": "land", "steps": [
                { "id": "a", "name": "Hills", "combine": "add", "do": { "noise": { "seed": 4 } } },
                { "id": "b", "name": "Process", "do": operation },
            ] }],
        });
        let recipe = Recipe::from_value(document).expect("it opens");
        grown(&recipe, &frame(&recipe, 256))
    };
    let ages = |patches: f64| {
        json!({ "ages": {
        "seed": 2, "patches": patches, "spacing_m": 250, "sediment": 0.7, "floors_m": 0,
        "fill_m": 0,
    } })
    };
    let rivers_of_3 = json!({ "rivers": {
        "patches": 0, "duration_kyr": 1500, "strength": 1, "variety": 0.6, "uplift_m_kyr": 0.6,
        "steepest_deg": 38, "creep": 0.02, "floors_m": 0, "seed": 2,
    } });
    let rivers_of_4 = json!({ "rivers": {
        "patches": 0.65, "strength": 1.75, "creep": 0.02, "floors_m": 0, "seed": 2,
    } });
    let notches_of_ages = json!({ "ages": { "floors_m": 0, "fill_m": 0, "seed": 2 } });
    let notches_of_rivers = json!({ "rivers": { "floors_m": 0, "seed": 2 } });
    let bare_beds = json!({ "ages": { "fill_m": 0, "seed": 2 } });
    let whole_fill = json!({ "ages": { "terraces": 0, "seed": 2 } });
    let water = json!({ "water": { "duration": 40, "gullies": 0.6 } });
    let [age, flow] = ["ages", "rivers"].map(|kind| json!({ kind: { "seed": 2 } }));
    let rain = json!({ "water": { "duration": 40 } });
    for (version, said, meant) in [
        (3, &age, ages(0.0)),
        (4, &age, ages(0.65)),
        (3, &flow, rivers_of_3),
        (4, &flow, rivers_of_4),
        (5, &age, notches_of_ages),
        (5, &flow, notches_of_rivers),
        (6, &age, bare_beds),
        (7, &age, whole_fill),
        (3, &rain, water),
    ] {
        let was = land(version, said);
        assert_eq!(was, land(Recipe::VERSION, &meant), "{version}: {said}");
        assert_ne!(was, land(Recipe::VERSION, said), "{version}: {said}");
        assert_eq!(was, land(version, &meant), "what is said is kept");
    }
}

/// The value below which `share` of a grid lies.
fn quantile(grid: &Grid, share: f64) -> f64 {
    let mut values = grid.values().to_vec();
    values.sort_unstable_by(f32::total_cmp);
    f64::from(values[(share * (values.len() - 1) as f64) as usize])
}

/// A land with some hundred of the largest forms, of every kind of noise: from its low
/// places to its high ones it is as high as was said, and it lies where was said.
#[test]
fn heights_are_what_was_said() {
    const HEIGHT_M: f64 = 600.0;
    let bases = ["gradient", "value", "simplex", "cellular"];
    let characters = ["fractal", "billow", "ridged", "hybrid", "heterogeneous"];
    for (basis, character) in bases.iter().flat_map(|b| characters.map(|c| (*b, c))) {
        for (gain, octaves) in [(0.5, 8.0), (0.3, 3.0), (0.75, 5.5)] {
            let recipe = noise_land(
                2,
                40_000.0,
                json!({
                    "basis": basis, "character": character, "height_m": HEIGHT_M, "offset_m": 100,
                    "feature_m": 2000, "gain": gain, "octaves": octaves, "seed": 23,
                }),
            );
            let land = grown(&recipe, &frame(&recipe, 400));
            let (low, high) = (quantile(&land, 0.01) - 100.0, quantile(&land, 0.99) - 100.0);
            let said = format!("{basis}, {character}, gain {gain}: {low:.0} to {high:.0} m");
            assert!((high - low - HEIGHT_M).abs() < 0.1 * HEIGHT_M, "{said}");
            let floor = if character == "fractal" {
                -0.5 * HEIGHT_M
            } else {
                0.0
            };
            assert!((low - floor).abs() < 0.06 * HEIGHT_M, "{said}");
        }
    }
}

/// The spread is that of the kind of noise: two in a hundred places lie outside, whatever
/// the variant.
#[test]
fn ninety_eight_in_a_hundred_places_lie_within_the_spread() {
    let cells = Basis::Cellular {
        feature: CellFeature::Nearest,
        distance: CellDistance::Straight,
        complement: false,
    };
    for (basis, seed) in [(Basis::Gradient, 9), (Basis::Simplex, 77), (cells, 4)] {
        let noise = FractalNoise {
            basis,
            seed,
            feature_m: 10.0,
            ..FractalNoise::default()
        };
        let (low, high) = noise.spread();
        let place = |i: usize| (i as f64 * 6.137, (i % 887) as f64 * 7.713);
        let values = (0..20_000).map(|i| noise.at(place(i).0, place(i).1, 0.0));
        let outside = values.filter(|&v| v < low || v > high).count();
        let share = outside as f64 / 20_000.0;
        assert!((0.01..0.03).contains(&share), "{basis:?}: {share} outside");
        assert_eq!(
            noise.spread(),
            FractalNoise {
                seed: 1,
                stretch: 3.0,
                ..noise
            }
            .spread()
        );
    }
}
