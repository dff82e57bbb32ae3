//! Kinds of country to begin with.

use recipe::Recipe;
use recipe::document::LandExtent;
use recipe::lands::LANDS;

use crate::support::{frame, grown};

/// On its own size, and on the smallest, the largest and the longest that anybody would
/// take.
#[test]
fn every_land_is_a_valid_recipe_of_any_size() {
    for land in LANDS {
        assert!(
            land.title().len() > 4 && land.about().len() > 20,
            "{}",
            land.key
        );
        for (width_m, depth_m) in [
            (land.side_m, land.side_m),
            (500.0, 500.0),
            (80_000.0, 40_000.0),
            (5_000.0, 7_000.0),
        ] {
            let recipe = land.recipe("Mine", LandExtent { width_m, depth_m });
            assert_eq!(recipe.name, "Mine");
            let again = Recipe::from_json(&recipe.to_json()).expect("it comes back");
            assert_eq!(again, recipe, "{}", land.key);
        }
    }
}

/// The volcano stands in the middle of the land, whatever its size.
#[test]
fn what_stands_in_no_particular_place_stands_in_the_middle() {
    let volcano = LANDS.iter().find(|land| land.key == "cut-volcano");
    let volcano = volcano.expect("it is offered");
    for (width_m, depth_m) in [(10_000.0, 10_000.0), (16_000.0, 9_000.0)] {
        let recipe = volcano.recipe("Mine", LandExtent { width_m, depth_m });
        let document: serde_json::Value = serde_json::from_str(&recipe.to_json()).expect("JSON");
        let cone = &document["strands"][0]["steps"][0]["do"]["primitive"];
        let at = |name: &str| cone[name].as_f64().expect("metres");
        assert_eq!([at("x_m"), at("y_m")], [0.5 * width_m, 0.5 * depth_m]);
    }
}

/// No land begins under water but the island, whose border does, and each but the level one
/// has some shape.
#[test]
fn every_land_begins_above_the_sea() {
    for land in LANDS {
        let extent = LandExtent {
            width_m: land.side_m,
            depth_m: land.side_m,
        };
        let recipe = land.recipe(land.title(), extent);
        let (low, high) = grown(&recipe, &frame(&recipe, 128)).range();
        assert_eq!(
            low > 0.0,
            land.key != "island",
            "{}: {low} m at its lowest",
            land.key
        );
        assert!(
            land.key == "flat" || high - low > 60.0,
            "{}: {low} to {high} m",
            land.key
        );
    }
}
