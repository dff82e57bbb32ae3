//! The kinds of step, one file each.
//!
//! A file holds the parameters (their labels, units, ranges and hints come
//! from the struct and its comments) and the call into `terrain`. The list at
//! the end of this file names them all.

mod bias_gain;
mod blur;
mod clip;
mod crumble;
mod curve;
mod cut;
mod displace;
mod drift;
mod ease_foot;
mod example;
mod fall_off;
mod flatten;
mod ground_at_zero;
mod heightfield;
mod invert;
mod moves;
mod noise;
mod outcrop;
mod pattern;
mod primitive;
mod pull;
mod rescale;
mod river_beds;
mod rivers;
mod settle;
mod sharpen;
mod snow;
mod strew;
mod swirl;
mod take_in;
mod terraces;
mod tiles;
mod twirl;
mod warp;
mod water;

use std::sync::Arc;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use terrain::Grid;
use terrain::erosion::{Ledger, RiverLine};

pub use self::noise::{Noise, NoiseBasis, NoiseCellDistance, NoiseCellFeature, NoiseCharacter};
pub use bias_gain::BiasGain;
pub use blur::Blur;
pub use clip::Clip;
pub use crumble::{Crumble, CrumbleMaterial};
pub use curve::{Curve, CurvePoint};
pub use cut::{Cut, OutlinePoint};
pub use displace::{Displace, DisplaceDirection, DisplaceTexture};
pub use drift::Drift;
pub use ease_foot::EaseFoot;
pub use example::example;
pub use fall_off::{FallOff, FallOffOutline};
pub use flatten::Flatten;
pub use ground_at_zero::GroundAtZero;
pub use heightfield::{Heightfield, HeightfieldBeyond, HeightfieldFit};
pub use invert::Invert;
pub use outcrop::Outcrop;
pub use pattern::ImageSource;
pub use primitive::{Primitive, PrimitiveForm, PrimitiveProfile};
pub use pull::Pull;
pub use rescale::Rescale;
pub use river_beds::RiverBeds;
pub(crate) use river_beds::lines_of;
pub use rivers::{Rivers, RiversDirections};
pub use settle::Settle;
pub use sharpen::Sharpen;
pub use snow::Snow;
pub use strew::{Strew, StrewLayout, StrewOverlap, StrewStamp};
pub use swirl::Swirl;
pub use take_in::{TakeIn, TakeInField};
pub use terraces::{Terraces, TerracesBy};
pub use tiles::Tiles;
pub use twirl::Twirl;
pub use warp::Warp;
pub use water::Water;

use crate::document::{Combine, Mask, Trace};
use crate::grow::{GrowError, Site};

/// What a step made on the cells that were asked for.
pub struct Made {
    /// Metres, or a factor when the step multiplies.
    pub heights: Grid,
    /// By-products.
    pub traces: Vec<(Trace, Grid)>,
    /// The rivers of the land, from steps that find them.
    pub rivers: Option<Arc<Vec<RiverLine>>>,
    /// Where the ground went, for steps that move it.
    pub ledger: Option<Ledger>,
}

impl From<Grid> for Made {
    fn from(heights: Grid) -> Self {
        Self {
            heights,
            traces: Vec::new(),
            rivers: None,
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

    /// Whether it hands on the rivers of the land as lines.
    fn leaves_rivers(&self) -> bool {
        false
    }

    /// The strand that it takes in.
    fn takes_in(&self) -> Option<&str> {
        None
    }

    /// The trace of that strand that it takes in, when not its heights.
    fn takes_trace(&self) -> Option<Trace> {
        None
    }

    /// The asset that it reads.
    fn asset(&self) -> Option<&str> {
        None
    }

    /// The masks among its parameters.
    fn masks(&self) -> Vec<&Mask> {
        Vec::new()
    }

    /// Size of its largest forms in metres, its layers, and how many times
    /// finer each is, when it is made of layers.
    fn octaves(&self) -> Option<(f64, f64, f64)> {
        None
    }

    /// Whether it moves the surface, so that a hard-edged mask would show as
    /// blobs.
    fn displaces(&self) -> bool {
        false
    }

    /// Checks what types and ranges cannot.
    fn check(&self) -> Result<(), Unfit> {
        Ok(())
    }
}

/// What kinds of step are for, in the order of work.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Group {
    /// Making shape.
    Make,
    /// Detail on what is there.
    Detail,
    /// Borders of the land.
    Bound,
    /// Pushing places about.
    Move,
    /// Bending heights.
    Values,
    /// Wearing the land down.
    Erode,
}

impl Group {
    /// Its name in requests.
    pub fn name(self) -> &'static str {
        match self {
            Group::Make => "make",
            Group::Detail => "detail",
            Group::Bound => "bound",
            Group::Move => "move",
            Group::Values => "values",
            Group::Erode => "erode",
        }
    }
}

/// What a newcomer needs to know about a kind of step.
#[derive(Clone, Debug, Serialize)]
pub struct KindSheet {
    /// Its name in a recipe.
    pub kind: &'static str,
    /// Its name on screen.
    pub title: &'static str,
    /// What it is for.
    pub group: Group,
    /// By-products that it leaves.
    pub traces: &'static [Trace],
    /// What it usually does with what is there already.
    pub combine: Combine,
    /// Parameters to begin with.
    pub defaults: serde_json::Value,
    /// JSON Schema of the parameters; its description says what the kind is for.
    pub schema: serde_json::Value,
}

macro_rules! kinds {
    ($($name:ident($params:ty), $key:literal, $title:literal, $group:ident, $combine:ident;)*) => {
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

            /// Its name in a recipe.
            pub fn key(&self) -> &'static str {
                match self { $(Operation::$name(_) => $key,)* }
            }

            /// What the kind is for.
            pub fn group(&self) -> Group {
                match self { $(Operation::$name(_) => Group::$group,)* }
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
                group: Group::$group,
                traces: <$params>::default().traces(),
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

    /// How long it takes beside others, about: processes that go over the land
    /// many times take far longer than one look at each place.
    pub(crate) fn effort(&self) -> f32 {
        const MANY_TIMES: f32 = 25.0;
        match self.group() {
            Group::Erode => MANY_TIMES,
            _ => 1.0,
        }
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

    pub(crate) fn masks(&self) -> Vec<&Mask> {
        self.kind().masks()
    }

    pub(crate) fn leaves_rivers(&self) -> bool {
        self.kind().leaves_rivers()
    }

    pub(crate) fn takes_trace(&self) -> Option<Trace> {
        self.kind().takes_trace()
    }

    pub(crate) fn octaves(&self) -> Option<(f64, f64, f64)> {
        self.kind().octaves()
    }

    pub(crate) fn displaces(&self) -> bool {
        self.kind().displaces()
    }

    pub(crate) fn check(&self) -> Result<(), Unfit> {
        self.kind().check()
    }
}

kinds! {
    Noise(Noise), "noise", "Layered noise", Make, Add;
    Primitive(Primitive), "primitive", "Primitive", Make, Add;
    Heightfield(Heightfield), "heightfield", "Heightfield", Make, Replace;
    Tiles(Tiles), "tiles", "Tiles", Make, Add;
    TakeIn(TakeIn), "take_in", "Take in a strand", Make, Add;
    Strew(Strew), "strew", "Strewn copies", Detail, Replace;
    Displace(Displace), "displace", "Displacement", Detail, Replace;
    Outcrop(Outcrop), "outcrop", "Rock outcrops", Detail, Replace;
    FallOff(FallOff), "fall_off", "Edge fall-off", Bound, Replace;
    Cut(Cut), "cut", "Cut to an outline", Bound, Replace;
    Warp(Warp), "warp", "Warp", Move, Replace;
    Swirl(Swirl), "swirl", "Swirl", Move, Replace;
    Drift(Drift), "drift", "Drift", Move, Replace;
    Pull(Pull), "pull", "Pull to a point", Move, Replace;
    Twirl(Twirl), "twirl", "Twirl", Move, Replace;
    Rescale(Rescale), "rescale", "Rescale", Values, Replace;
    Clip(Clip), "clip", "Clip", Values, Replace;
    GroundAtZero(GroundAtZero), "ground_at_zero", "Lowest point to a level", Values, Replace;
    Invert(Invert), "invert", "Invert", Values, Replace;
    Curve(Curve), "curve", "Response curve", Values, Replace;
    BiasGain(BiasGain), "bias_gain", "Bias and gain", Values, Replace;
    Terraces(Terraces), "terraces", "Terraces", Values, Replace;
    EaseFoot(EaseFoot), "ease_foot", "Ease the foot", Values, Replace;
    Blur(Blur), "blur", "Blur", Values, Replace;
    Sharpen(Sharpen), "sharpen", "Sharpen", Values, Replace;
    Water(Water), "water", "Running water", Erode, Replace;
    Rivers(Rivers), "rivers", "River network", Erode, Replace;
    RiverBeds(RiverBeds), "river_beds", "River beds", Erode, Replace;
    Crumble(Crumble), "crumble", "Crumbling", Erode, Replace;
    Settle(Settle), "settle", "Settling sediment", Erode, Replace;
    Flatten(Flatten), "flatten", "Flatten the gentle", Erode, Replace;
    Snow(Snow), "snow", "Snow", Erode, Replace;
}
