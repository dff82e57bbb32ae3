//! What the tests share.

use std::collections::HashMap;
use std::sync::Arc;

use recipe::grow::Image;
use recipe::{Assets, Grower, Recipe};
use serde_json::{Value, json};
use terrain::{Frame, Grid, Run};

/// The demo, which ships with the program.
pub const DEMO: &str = include_str!("../../../../demo/hollin-fjord.json");

pub fn demo() -> Recipe {
    Recipe::from_json(DEMO).expect("the demo is valid")
}

/// A recipe with these steps, each given as its name and what it does.
pub fn with_steps(steps: &[(&str, Value)]) -> Value {
    let steps: Vec<Value> = steps
        .iter()
        .enumerate()
        .map(|(i, (name, operation))| {
            json!({ "id": format!("s{i}"), "name": name, "combine": "add", "do": operation })
        })
        .collect();
    json!({
        "version": 1,
        "name": "Test",
        "extent": { "width_m": 6000, "depth_m": 4000 },
        "strands": [{ "name": "land", "steps": steps }],
    })
}

pub struct TestAssets(pub HashMap<String, Arc<Image>>);

impl TestAssets {
    /// One heightfield, called `dem`.
    pub fn with_dem(grid: Grid) -> Self {
        let image = Image::of(vec![grid], None);
        Self(HashMap::from([("dem".to_owned(), Arc::new(image))]))
    }
}

impl Assets for TestAssets {
    fn image(&self, id: &str) -> Option<Arc<Image>> {
        self.0.get(id).cloned()
    }
}

/// An image of bumps, 0 to 255.
fn bumps() -> Grid {
    Grid::by_rows(48, 32, |r, row| {
        for (c, value) in row.iter_mut().enumerate() {
            *value = 127.5 * (1.0 + (c as f32 * 0.7).sin() * (r as f32 * 0.5).cos());
        }
    })
}

/// What generated steps read.
pub fn assets() -> TestAssets {
    TestAssets::with_dem(bumps())
}

/// Heights of `recipe` on `frame`, from a cold start.
pub fn grown(recipe: &Recipe, frame: &Frame) -> Grid {
    let grower = Grower::new(1 << 28);
    grower
        .land(recipe, &assets(), frame, Run::to_the_end())
        .expect("a checked recipe grows")
        .heights()
}

/// The frame of `recipe` with `cells` along its longer side.
pub fn frame(recipe: &Recipe, cells: usize) -> Frame {
    Frame::with_cells(recipe.extent.into(), cells)
}
