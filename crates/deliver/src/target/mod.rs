//! Targets: what another program takes, as a small document. It says what to wish for, and
//! the bounds that a wish is held against before anything is exported.

mod check;

use recipe::Recipe;
use recipe::document::LandExtent;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

pub use check::{CHECK_CELLS, Checked, Finding, Fix, Outlook, Weight, check};

use crate::{Order, Wish};

/// What another program takes.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Target {
    /// Its name.
    pub name: String,
    /// What it is for.
    #[serde(default)]
    pub about: String,
    /// What to begin with.
    #[serde(default)]
    #[schema(required = false)]
    pub wish: Wish,
    /// What a wish may be.
    #[serde(default)]
    #[schema(required = false)]
    pub bounds: Bounds,
}

/// What a wish may be for a target. What is absent is not asked for.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(default, deny_unknown_fields)]
pub struct Bounds {
    /// Most cells along the longer side of a file.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub most_cells: Option<usize>,
    /// Most cells along the longer side of textures of a mesh.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub most_texture_cells: Option<usize>,
    /// How many columns and rows a file may have.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub grid: Option<GridSides>,
    /// As many columns as rows.
    #[serde(skip_serializing_if = "is_false")]
    #[schema(required = false)]
    pub square: bool,
    /// Whole cells: none reaches past the land.
    #[serde(skip_serializing_if = "is_false")]
    #[schema(required = false)]
    pub whole_cells: bool,
    /// Most triangles of the finest mesh.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub most_triangles: Option<usize>,
    /// Meshes are closed bodies.
    #[serde(skip_serializing_if = "is_false")]
    #[schema(required = false)]
    pub closed: bool,
    /// Most covers of the ground.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub most_covers: Option<usize>,
    /// The highest step that heights of 16 bits may go up at once, metres.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub largest_step_m: Option<f32>,
    /// Heights as floats, not in steps.
    #[serde(skip_serializing_if = "is_false")]
    #[schema(required = false)]
    pub floats: bool,
    /// Layers that must be there; `height` may be `height16` too.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    #[schema(required = false)]
    pub needs: Vec<String>,
    /// Most of all files together, MiB.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub most_mib: Option<f64>,
}

fn is_false(value: &bool) -> bool {
    !value
}

/// How many columns and rows a file may have.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum GridSides {
    /// 256, 512, 1024 …
    PowerOfTwo,
    /// 257, 513, 1025 …
    PowerOfTwoPlusOne,
}

/// Longer names and texts are a mistake.
const MOST_LETTERS: usize = 200;
const MOST_ABOUT: usize = 2_000;

impl Target {
    /// Reads a target.
    ///
    /// # Errors
    /// What is wrong with it, and where.
    pub fn from_json(text: &str) -> Result<Self, String> {
        let target: Self = serde_json::from_str(text).map_err(|error| error.to_string())?;
        target.check()?;
        Ok(target)
    }

    /// Those that ship with the product.
    pub fn shipped() -> Vec<Self> {
        const SHIPPED: [&str; 6] = [
            include_str!("../../targets/web-page.json"),
            include_str!("../../targets/handheld-game.json"),
            include_str!("../../targets/game-engine-terrain.json"),
            include_str!("../../targets/film-renderer.json"),
            include_str!("../../targets/printer.json"),
            include_str!("../../targets/map.json"),
        ];
        let read = SHIPPED.iter().map(|text| Self::from_json(text));
        read.map(|target| target.expect("a target that ships is sound"))
            .collect()
    }

    /// Its name on the command line: small letters, - for what lies between words.
    pub fn key(&self) -> String {
        self.name.to_lowercase().replace(' ', "-")
    }

    /// What is wrong with it, in words.
    ///
    /// # Errors
    /// The name of the value, and what is allowed.
    pub fn check(&self) -> Result<(), String> {
        let name = self.name.trim();
        if name.is_empty() || name.len() > MOST_LETTERS {
            return Err(format!("name: it has 1 to {MOST_LETTERS} letters"));
        }
        if self.bounds.needs.len() > MOST_LETTERS {
            return Err(format!("needs: {MOST_LETTERS} layers at most"));
        }
        if self.about.len() > MOST_ABOUT {
            return Err(format!("about: it has {MOST_ABOUT} letters at most"));
        }
        let above_0 = [
            ("most_cells", self.bounds.most_cells.map(|most| most as f64)),
            (
                "most_triangles",
                self.bounds.most_triangles.map(|most| most as f64),
            ),
            (
                "most_covers",
                self.bounds.most_covers.map(|most| most as f64),
            ),
            ("largest_step_m", self.bounds.largest_step_m.map(f64::from)),
            ("most_mib", self.bounds.most_mib),
        ];
        for (name, value) in above_0 {
            if let Some(value) = value.filter(|value| !(value.is_finite() && *value > 0.0)) {
                return Err(format!("{name} is {value}, it must be above 0"));
            }
        }
        // Masks and fields are a landscape's; all else must be sound for any.
        let mut general = self.wish.clone();
        general
            .layers
            .retain(|name| crate::Layer::named(name).is_none_or(|layer| !layer.is_of_one()));
        general.packed.clear();
        let any = LandExtent {
            width_m: 1000.0,
            depth_m: 1000.0,
        };
        Order::of(&general, &Recipe::flat("any land", any)).map(drop)
    }
}
