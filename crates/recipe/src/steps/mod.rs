//! The kinds of step, one file each.
//!
//! A file holds the parameters (their labels, units, ranges and hints come
//! from the struct and its comments) and the call into `terrain`. The list at
//! the end of this file names them all.

mod curve;
mod fall_off;
mod heightfield;
mod noise;
mod rescale;
mod take_in;
mod warp;
mod water;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::Grid;
use terrain::erosion::Ledger;

pub use self::noise::{Noise, NoiseCharacter};
pub use curve::{Curve, CurvePoint};
pub use fall_off::{FallOff, FallOffOutline};
pub use heightfield::Heightfield;
pub use rescale::Rescale;
pub use take_in::TakeIn;
pub use warp::Warp;
pub use water::Water;

use crate::document::{Combine, Trace};
use crate::grow::{GrowError, Site};

/// What a step made on the cells that were asked for.
pub struct Made {
    /// Metres, or a factor when the step multiplies.
    pub heights: Grid,
    /// By-products.
    pub traces: Vec<(Trace, Grid)>,
    /// Where the ground went, for steps that move it.
    pub ledger: Option<Ledger>,
}

impl From<Grid> for Made {
    fn from(heights: Grid) -> Self {
        Self {
            heights,
            traces: Vec::new(),
            ledger: None,
        }
    }
}

/// A parameter, its value, and what would be allowed.
pub(crate) type Unfit = (&'static str, String, String);

/// What every kind of step can do.
pub(crate) trait Kind {
    /// Cells of `cell_m` that it needs around the place that it makes.
    fn margin(&self, _cell_m: f64) -> usize {
        0
    }

    /// Makes its field on `site.frame()`.
    fn grow(&self, site: &Site) -> Result<Made, GrowError>;

    /// By-products that it leaves.
    fn traces(&self) -> &'static [Trace] {
        &[]
    }

    /// The strand that it takes in.
    fn takes_in(&self) -> Option<&str> {
        None
    }

    /// The asset that it reads.
    fn asset(&self) -> Option<&str> {
        None
    }

    /// Checks what types and ranges cannot.
    fn check(&self) -> Result<(), Unfit> {
        Ok(())
    }
}

/// What a newcomer needs to know about a kind of step.
#[derive(Clone, Debug, Serialize)]
pub struct KindSheet {
    /// Its name in a recipe.
    pub kind: &'static str,
    /// Its name on screen.
    pub title: &'static str,
    /// What it usually does with what is there already.
    pub combine: Combine,
    /// Parameters to begin with.
    pub defaults: serde_json::Value,
    /// JSON Schema of the parameters; its description says what the kind is for.
    pub schema: serde_json::Value,
}

macro_rules! kinds {
    ($($name:ident($params:ty), $key:literal, $title:literal, $combine:ident;)*) => {
        /// A kind of step with its parameters.
        #[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
        #[serde(rename_all = "snake_case")]
        pub enum Operation {
            $(#[doc = $title] $name($params),)*
        }

        impl Operation {
            fn kind(&self) -> &dyn Kind {
                match self { $(Operation::$name(params) => params,)* }
            }

            /// What the kind is called on screen.
            pub fn title(&self) -> &'static str {
                match self { $(Operation::$name(_) => $title,)* }
            }
        }

        /// All kinds, in the order in which they are offered.
        pub fn kind_sheets() -> Vec<KindSheet> {
            vec![$(KindSheet {
                kind: $key,
                title: $title,
                combine: Combine::$combine,
                defaults: serde_json::to_value(<$params>::default()).expect("plain data"),
                schema: schemars::schema_for!($params).to_value(),
            },)*]
        }
    };
}

impl Operation {
    pub(crate) fn margin(&self, cell_m: f64) -> usize {
        self.kind().margin(cell_m)
    }

    pub(crate) fn grow(&self, site: &Site) -> Result<Made, GrowError> {
        self.kind().grow(site)
    }

    /// By-products that it leaves.
    pub fn traces(&self) -> &'static [Trace] {
        self.kind().traces()
    }

    /// The strand that it takes in.
    pub fn takes_in(&self) -> Option<&str> {
        self.kind().takes_in()
    }

    /// The asset that it reads.
    pub fn asset(&self) -> Option<&str> {
        self.kind().asset()
    }

    pub(crate) fn check(&self) -> Result<(), Unfit> {
        self.kind().check()
    }
}

kinds! {
    Noise(Noise), "noise", "Layered noise", Add;
    FallOff(FallOff), "fall_off", "Edge fall-off", Replace;
    Warp(Warp), "warp", "Warp", Replace;
    Rescale(Rescale), "rescale", "Rescale", Replace;
    Curve(Curve), "curve", "Response curve", Replace;
    Water(Water), "water", "Running water", Replace;
    Heightfield(Heightfield), "heightfield", "Heightfield", Replace;
    TakeIn(TakeIn), "take_in", "Take in a strand", Add;
}
